"""Footage of which a frame shows a part, or that it shows at another size, plane by plane.

A tall frame of wide footage is a part of it, enlarged. Drawing that takes every frame to RGB and back; its planes can
be cut and resized as they are. Between whole pixels a part is moved by mixing neighbours, so that a view that goes
along slowly does not tremble.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import av
import cv2
import numpy as np

from glowreel.core.layout import Box
from glowreel.engine.footage import Pixels
from glowreel.engine.overlay import planes_of

SAME = 0.001
"""Sizes that differ by a smaller share are the same."""
LEAST_SHIFT = 1 / 32
"""Shifts by smaller parts of a pixel are not seen."""
SITED = 0.25
"""How far left of the middle of two samples of brightness one of colour lies, in its own pixels (ITU-R BT.709)."""


def covers(box: Box, width: int, height: int) -> bool:
    """Whether a box, in pixels, covers a frame."""
    near = 0.6
    across = box.x <= near and box.x + box.width >= width - near
    return across and box.y <= near and box.y + box.height >= height - near


def reframed(frame: Any, box: Box, width: int, height: int) -> Any:
    """A yuv420p frame of a size that shows what is seen of another one when that lies in `box`, in pixels."""
    made = av.VideoFrame(width, height, "yuv420p")
    across, down = box.width / frame.width, box.height / frame.height
    for number, (target, source) in enumerate(zip(planes_of(made), planes_of(frame), strict=True)):
        small = 2 if number else 1
        rows = _seen(source.shape[0], target.shape[0], down, box.y / small)
        # Samples of colour stand at the left one of two of brightness, and move with it when that is enlarged.
        left = box.x / small - (SITED * (across - 1) if number else 0.0)
        columns = _seen(source.shape[1], target.shape[1], across, left)
        part = source[rows.first : rows.end, columns.first : columns.end]
        if rows.scaled or columns.scaled:
            how = cv2.INTER_AREA if max(across, down) < 1 else cv2.INTER_CUBIC
            part = np.asarray(cv2.resize(np.ascontiguousarray(part), (columns.size, rows.size), interpolation=how))
        target[:] = _moved(_moved(part, rows, target.shape[0], 0), columns, target.shape[1], 1)
    return made


@dataclass(frozen=True)
class _Seen:
    """What is seen of one axis of a plane: samples from `first` to before `end`, at `size` samples of the target, and
    how far into these it begins."""

    first: int
    end: int
    size: int
    begins: float
    scaled: bool


def _seen(count: int, length: int, scale: float, start: float) -> _Seen:
    """What is seen of `count` samples in `length` ones when the first begins at `start`, so many times as large."""
    wanted = min(count, math.ceil(length / scale) + 3)
    first = min(max(0, math.floor(-start / scale) - 1), count - wanted)
    scaled = abs(scale - 1) > SAME
    size = max(1, round(wanted * scale)) if scaled else wanted
    return _Seen(first, first + wanted, size, max(0.0, -(start + first * scale)), scaled)


def _moved(part: Pixels, seen: _Seen, length: int, axis: int) -> Pixels:
    """So many rows (axis 0) or columns (1) of a part from where it is seen, between two of them where that is; the last
    one is held where there are no more."""
    whole = math.floor(seen.begins)
    shift = seen.begins - whole
    if shift < LEAST_SHIFT or shift > 1 - LEAST_SHIFT:
        whole, shift = whole + round(shift), 0.0
    whole = min(whole, part.shape[axis] - 1)
    lacking = whole + length + 1 - part.shape[axis]
    if lacking > 0:
        low, right = (lacking, 0) if axis == 0 else (0, lacking)
        part = np.asarray(cv2.copyMakeBorder(part, 0, low, 0, right, cv2.BORDER_REPLICATE))
    if axis == 0:
        here, after = part[whole : whole + length], part[whole + 1 : whole + length + 1]
    else:
        here, after = part[:, whole : whole + length], part[:, whole + 1 : whole + length + 1]
    return np.asarray(cv2.addWeighted(here, 1 - shift, after, shift, 0)) if shift else here
