"""The thing that a photo is of, cut out by a model that finds what stands out, and by what was painted to stay or to
go.

The model sees the photo at 320 by 320. Where something was painted, the whole is decided anew between what the model
and the strokes say for sure (GrabCut; Rother, Kolmogorov and Blake, 2004); then the edge is fitted to the picture's.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import cache
from pathlib import Path
from typing import Any

import cv2
import numpy as np

from glowreel.core.errors import BadMedia
from glowreel.engine.footage import Pixels
from glowreel.engine.mattes import Shares, guided
from glowreel.engine.photo import load_photo
from glowreel.engine.svg import draw_svg, is_svg

THINGS = Path(__file__).parent / "models" / "things.onnx"
"""Finds what stands out in a picture (Apache 2.0; see its licence beside it); its numbers are kept with 16 bits."""
SIDE = 320
WORKING = 640
"""The short side of the matte, in pixels."""
MEAN, SPREAD = np.array([0.485, 0.456, 0.406], np.float32), np.array([0.229, 0.224, 0.225], np.float32)
"""Of the pictures that the model has learned from: red, green, blue."""
CLEAR, SURE = 0.15, 0.85
ROUNDS = 3


@cache
def _model() -> Any:
    import onnxruntime  # When it is needed: most processes never look for things, and it is large.

    options = onnxruntime.SessionOptions()
    options.log_severity_level = 3
    return onnxruntime.InferenceSession(str(THINGS), options, providers=["CPUExecutionProvider"])


def prepare() -> None:
    """Reads the model in, so that the first picture does not wait for it."""
    _model()


def found_in(pixels: Pixels) -> Shares:
    """How surely each pixel of a BGR picture belongs to the thing that it is of, at the size of the picture."""
    small = cv2.resize(pixels, (SIDE, SIDE), interpolation=cv2.INTER_AREA)[:, :, ::-1].astype(np.float32)
    small = (small / max(1.0, float(small.max())) - MEAN) / SPREAD
    model = _model()
    said: Any = model.run(None, {model.get_inputs()[0].name: np.ascontiguousarray(small.transpose(2, 0, 1)[None])})[0][
        0, 0
    ]
    low, high = float(said.min()), float(said.max())
    shares = (said - low) / max(1e-6, high - low)
    made: Shares = np.asarray(cv2.resize(shares, pixels.shape[1::-1], interpolation=cv2.INTER_LINEAR))
    return made


def _painted(strokes: Any, shape: tuple[int, int]) -> Pixels:
    """Where strokes keep (1) and take away (2), the later over the earlier ones."""
    high, wide = shape
    where: Pixels = np.zeros(shape, np.uint8)
    for keeps, width, points in strokes:
        line = np.rint(np.array(points) * (wide, high)).astype(np.int32)
        thick = max(1, round(width * min(shape)))
        mark = 1 if keeps else 2
        cv2.polylines(where, [line.reshape(-1, 1, 2)], False, mark, thick, cv2.LINE_8)
        for x, y in line[[0, -1]]:
            cv2.circle(where, (int(x), int(y)), max(1, thick // 2), mark, -1)
    return where


def refined(pixels: Pixels, shares: Shares, strokes: Any) -> Shares:
    """What is kept, decided anew with what was painted."""
    where = _painted(strokes, shares.shape)
    mask: Pixels = np.where(shares > 0.5, cv2.GC_PR_FGD, cv2.GC_PR_BGD).astype(np.uint8)
    mask[shares > 0.95], mask[shares < 0.03] = cv2.GC_FGD, cv2.GC_BGD
    # Around what was painted nothing is sure any more, so that it spreads as far as the picture says.
    near = cv2.dilate(
        (where > 0).astype(np.uint8), np.ones((3, 3), np.uint8), iterations=max(8, min(shares.shape) // 12)
    )
    mask[(near > 0) & (mask == cv2.GC_FGD)] = cv2.GC_PR_FGD
    mask[(near > 0) & (mask == cv2.GC_BGD)] = cv2.GC_PR_BGD
    mask[where == 1], mask[where == 2] = cv2.GC_FGD, cv2.GC_BGD
    if not (np.isin(mask, (cv2.GC_FGD, cv2.GC_PR_FGD)).any() and np.isin(mask, (cv2.GC_BGD, cv2.GC_PR_BGD)).any()):
        return np.where(where == 1, 1.0, np.where(where == 2, 0.0, shares)).astype(np.float32)
    cv2.setRNGSeed(7)
    models = np.zeros((1, 65)), np.zeros((1, 65))
    cv2.grabCut(np.ascontiguousarray(pixels), mask, None, *models, ROUNDS, cv2.GC_INIT_WITH_MASK)
    kept = np.isin(mask, (cv2.GC_FGD, cv2.GC_PR_FGD)).astype(np.float32)
    # Far from what was painted, the model's soft edges stay.
    share = cv2.GaussianBlur((near > 0).astype(np.float32), (0, 0), 6)
    made: Shares = (kept * share + shares * (1 - share)).astype(np.float32)
    made[where == 1], made[where == 2] = 1.0, 0.0
    return made


def make_things(
    original: Path, settings: Mapping[str, Any], out: Path, tell: Callable[[float], None]
) -> dict[str, Any]:
    """Makes the matte of a photo, a grey PNG. Answers with how much of it is kept, as a share."""
    whole = draw_svg(original, 1024) if is_svg(original) else load_photo(original)
    scale = min(1.0, WORKING / max(1, min(whole.shape[:2])))
    size = max(2, round(whole.shape[1] * scale)), max(2, round(whole.shape[0] * scale))
    pixels = np.ascontiguousarray(cv2.resize(whole, size, interpolation=cv2.INTER_AREA)[:, :, :3])
    tell(0.1)
    shares = found_in(pixels)
    tell(0.7)
    if settings.get("cut_strokes"):
        shares = refined(pixels, shares, settings["cut_strokes"])
    tell(0.9)
    grey: Any = cv2.cvtColor(pixels, cv2.COLOR_BGR2GRAY)
    fine = guided(grey.astype(np.float32) / 255, shares, max(2, min(size) // 80), 4e-4)
    matte = np.rint(np.clip((fine - CLEAR) / (SURE - CLEAR), 0, 1) * 255).astype(np.uint8)
    done, data = cv2.imencode(".png", matte)
    if not done:
        raise BadMedia("unreadable", f"{original.name} could not be cut out.")
    out.write_bytes(data.tobytes())
    return {"share": round(float(matte.mean()) / 255, 4)}
