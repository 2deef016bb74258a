"""Holding shaky footage still: how the camera moved, found once; and each frame moved back by that when it is drawn.

How one frame lies on the next is found from points that are followed (Lucas and Kanade, 1981) and a movement that most
of them agree on: moved, turned and scaled. The path of all frames is smoothed; what it differs from the smooth one is
taken back. Lengths are shares of the short side.
"""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

from glowreel.core.errors import BadMedia
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.engine.drawing import part
from glowreel.engine.footage import TURNS, Pixels, plane_pixels
from glowreel.engine.reading import Pictures, open_media

Path5 = npt.NDArray[np.float32]
"""A row for each frame: its time in seconds, by how much it is moved right and down, turned (radians), scaled (natural
logarithm). The first row says in its first number how much all are enlarged, so that no edge is seen."""
WORKING = 270
POINTS = 220
SURE = 12
"""So many points must agree; else a cut is taken to be there, and nothing to follow."""
CALM = 0.7
"""The deviation of the smoothing Gaussian, in seconds."""
MOST = 0.14
"""By how much it is enlarged at the most, to either side; what would need more is held back only so far."""


def _movement(before: Pixels, now: Pixels) -> tuple[float, float, float, float]:
    """How a small grey picture lies on the one before: moved (pixels), turned, scaled; nothing where it cannot be
    told."""
    corners: Any = cv2.goodFeaturesToTrack(before, POINTS, 0.01, 12)
    if corners is None or len(corners) < SURE:
        return 0.0, 0.0, 0.0, 0.0
    there: Any
    there, found, _ = cv2.calcOpticalFlowPyrLK(before, now, corners, None)
    kept = found.ravel() == 1
    if int(kept.sum()) < SURE:
        return 0.0, 0.0, 0.0, 0.0
    matrix, agree = cv2.estimateAffinePartial2D(corners[kept], there[kept], ransacReprojThreshold=1.5)
    if matrix is None or int(agree.sum()) < max(SURE, 0.3 * int(kept.sum())):
        return 0.0, 0.0, 0.0, 0.0
    middle = np.array([before.shape[1] / 2, before.shape[0] / 2, 1.0])
    moved = matrix @ middle - middle[:2]
    turn, scale = np.arctan2(matrix[1, 0], matrix[0, 0]), np.log(np.hypot(matrix[0, 0], matrix[1, 0]))
    return float(moved[0]), float(moved[1]), float(turn), float(scale)


def smoothed(path: npt.NDArray[np.float64], deviation: float) -> npt.NDArray[np.float64]:
    """Columns smoothed by a Gaussian of that deviation in rows; at both ends as if it went on as it is there."""
    reach = max(1, int(3 * deviation))
    weights = np.exp(-0.5 * (np.arange(-reach, reach + 1) / max(1e-6, deviation)) ** 2)
    padded = np.pad(path, ((reach, reach), (0, 0)), mode="edge")
    columns = [np.convolve(column, weights / weights.sum(), "valid") for column in padded.T]
    return np.stack(columns, axis=1)


def corrections(times: list[float], steps: list[tuple[float, float, float, float]], ratio: float) -> Path5:
    """What each frame is moved by, from the movements between frames (shares of the short side); `ratio` is long side
    over short side."""
    path = np.cumsum(np.array(steps, np.float64), axis=0)
    rate = (len(times) - 1) / max(1e-6, times[-1] - times[0]) if len(times) > 1 else 30.0
    back = smoothed(path, CALM * rate) - path
    # How far any edge is pulled in, as a share of its side: by moving, by turning and by becoming smaller.
    pulled = np.maximum(np.abs(back[:, 0]) / ratio, np.abs(back[:, 1])) * 2 + np.abs(np.sin(back[:, 2])) * ratio
    pulled = pulled + np.maximum(0, -back[:, 3])
    back *= np.minimum(1.0, MOST * 2 / np.maximum(1e-9, pulled))[:, None]
    enlarged = 1 + min(MOST * 2, float(pulled.max(initial=0.0)))
    rows = np.concatenate([np.array(times)[:, None], back], axis=1)
    made: Path5 = np.concatenate([[[enlarged, 0, 0, 0, 0]], rows]).astype(np.float32)
    return made


def make_steady(original: Path, out: Path, tell: Callable[[float], None]) -> dict[str, Any]:
    """Follows the camera through footage. Answers with how much it is enlarged when all of that is taken back."""
    with open_media(original) as source:
        stream = source.streams.video[0]
        length = float((stream.duration or 0) * (stream.time_base or 0)) or float(source.duration or 0) / 1_000_000
        before: Pixels | None = None
        times: list[float] = []
        steps: list[tuple[float, float, float, float]] = []
        ratio = 1.0
        for frame in Pictures(source, stream, 0):
            turn = int(getattr(frame, "rotation", 0) or 0) % 360
            scale = WORKING / max(1, min(frame.width, frame.height))
            size = max(16, round(frame.width * scale)), max(16, round(frame.height * scale))
            pixels = plane_pixels(frame.reformat(*size, "bgra"))
            if turn in TURNS:
                pixels = np.asarray(cv2.rotate(pixels, TURNS[turn]))
            grey: Any = cv2.cvtColor(pixels, cv2.COLOR_BGRA2GRAY)
            across, down, turned, grown = _movement(before, grey) if before is not None else (0.0, 0.0, 0.0, 0.0)
            short = min(grey.shape)
            steps.append((across / short, down / short, turned, grown))
            ratio = max(grey.shape) / short
            at = float(frame.pts * (frame.time_base or stream.time_base or 0))
            times.append(at if not times else max(times[0] + 1e-3, at))
            before = grey
            tell(min(1.0, (at - times[0]) / length) if length else 0.5)
    if not times:
        raise BadMedia("broken", f"{original.name} has no picture that can be decoded.")
    made = corrections([at - times[0] for at in times], steps, ratio)
    with out.open("wb") as file:
        np.save(file, made)
    return {"enlarged": round(float(made[0, 0]), 4)}


# ---- when it is drawn ----


@part()
def steadied(pixels: Pixels, path: Path5, at: int, amount: float) -> Pixels:
    """A frame at a time of its source, in ticks, moved back by a share of what the path says, and enlarged for it."""
    seconds = at / TICKS_PER_SECOND
    rows = path[1:]
    place = int(np.clip(np.searchsorted(rows[:, 0], seconds + 0.002, "right") - 1, 0, len(rows) - 1))
    _, across, down, turn, grown = (float(value) for value in rows[place])
    high, wide = pixels.shape[:2]
    short = min(high, wide)
    scale = (1 + (float(path[0, 0]) - 1) * amount) * float(np.exp(grown * amount))
    matrix = cv2.getRotationMatrix2D((wide / 2, high / 2), -np.degrees(turn * amount), scale)
    matrix[:, 2] += np.array([across, down]) * short * amount
    return np.asarray(cv2.warpAffine(pixels, matrix, (wide, high), flags=cv2.INTER_LINEAR,
                                     borderMode=cv2.BORDER_REPLICATE))  # fmt: skip
