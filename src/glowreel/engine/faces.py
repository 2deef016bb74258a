"""Faces in a frame, by a small model (`models/faces.tflite`, Apache-2.0): a grid of 48 by 48 spots, each of which says
whether a face is there and how it lies."""

from __future__ import annotations

import threading
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

from glowreel.core.layout import Box
from glowreel.engine.footage import Pixels

MODEL = Path(__file__).parent / "models" / "faces.tflite"
SIDE, SPOTS = 192, 48
SURE = 0.6
"""From which score on a spot counts as a face."""
SAME = 0.3
"""How much two boxes have in common, of both together, when they are the same face."""
SMALL = 0.24
"""Faces that are smaller than this share of the short side are looked for in squares of the frame as well."""
_lock = threading.Lock()
_loaded: list[Any] = []


def _model() -> Any:
    if not _loaded:
        from ai_edge_litert.interpreter import Interpreter  # Loads slowly, and only who looks for faces needs it.

        model = Interpreter(str(MODEL), num_threads=1)
        model.allocate_tensors()
        _loaded.append(model)
    return _loaded[0]


def _grid() -> npt.NDArray[np.float64]:
    spots = (np.arange(SPOTS) + 0.5) / SPOTS
    return np.stack(np.meshgrid(spots, spots), axis=-1).reshape(-1, 2)


_GRID = _grid()


def _looked(square: Pixels) -> tuple[npt.NDArray[np.float64], npt.NDArray[np.float64]]:
    """Boxes (left, top, width, height, as shares of the square) and scores, for every spot that is sure."""
    small = cv2.resize(square[:, :, 2::-1], (SIDE, SIDE), interpolation=cv2.INTER_AREA)
    with _lock:
        model = _model()
        model.set_tensor(model.get_input_details()[0]["index"], small[None].astype(np.float32) / 127.5 - 1)
        model.invoke()
        told = {int(out["shape"][-1]): model.get_tensor(out["index"])[0] for out in model.get_output_details()}
    scores = 1 / (1 + np.exp(-np.clip(told[1][:, 0].astype(np.float64), -80, 80)))
    sure = scores > SURE
    raw = told[16][sure].astype(np.float64) / SIDE
    sizes = raw[:, 2:4]
    return np.hstack([_GRID[sure] + raw[:, :2] - sizes / 2, sizes]), scores[sure]


def faces_in(pixels: Pixels, *, closely: bool = True) -> list[Box]:
    """The faces in a frame of BGRA pixels, as boxes in its pixels, the surest first; `closely` looks for small ones
    too, which takes four times as long."""
    high, wide = pixels.shape[:2]
    short, long = min(high, wide), max(high, wide)
    whole = np.zeros((long, long, 4), np.uint8)
    top, left = (long - high) // 2, (long - wide) // 2
    whole[top : top + high, left : left + wide] = pixels
    found: list[npt.NDArray[np.float64]] = []
    scores: list[npt.NDArray[np.float64]] = []
    views = [(whole, left, top, long)]
    if closely and long > 1.2 * short:
        steps = [0, (long - short) // 2, long - short]
        views += [(pixels[:, at : at + short] if wide > high else pixels[at : at + short],
                   -at if wide > high else 0, 0 if wide > high else -at, short) for at in steps]  # fmt: skip
    for square, dx, dy, side in views:
        boxes, score = _looked(square)
        boxes = boxes * side - np.array([dx, dy, 0, 0])
        if side < long:
            # Squares of it are for what is small in the whole.
            small = boxes[:, 2] < SMALL * short
            boxes, score = boxes[small], score[small]
        found.append(boxes)
        scores.append(score)
    every, sure = np.vstack(found), np.concatenate(scores)
    kept = cv2.dnn.NMSBoxes(every.tolist(), sure.tolist(), SURE, SAME) if len(every) else ()
    return [Box(*(float(value) for value in every[n])) for n in np.asarray(kept, np.int64).ravel()]
