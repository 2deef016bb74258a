"""Where in a picture something disturbs least: no faces, little detail, even light."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

from glowreel.core.layout import Box
from glowreel.engine.footage import Pixels

Floats = npt.NDArray[np.float32]
STEP = 0.015
"""How far apart places are tried, of the short side."""
FACE, TAKEN = 40.0, 400.0
"""How much a face, and what stands there already, count against a place, beside detail between 0 and 1."""
AROUND = 0.35
"""How much larger than a face is what must stay free around it."""
FAR = 0.05
"""How much a place costs that lies a short side away from where something is: it goes no farther than it must."""
EDGE = 0.02
"""How much a place costs that touches the edge of the safe area."""


def busy(pixels: Pixels) -> Floats:
    """How much there is to be seen at each pixel of a BGRA frame, 0 to 1: edges of light and of colour, spread a
    little."""
    soft: Any = cv2.GaussianBlur(pixels[:, :, :3].astype(np.float32) / 255, (0, 0), 1.2)
    lab: Any = cv2.cvtColor(soft, cv2.COLOR_BGR2Lab)
    across, down = (cv2.Sobel(lab, cv2.CV_32F, *way, ksize=3) for way in ((1, 0), (0, 1)))
    edges = np.sqrt((across**2 + down**2).sum(axis=2))
    spread: Any = cv2.GaussianBlur(edges, (0, 0), max(1.0, 0.012 * min(pixels.shape[:2])))
    made: Floats = np.clip(spread / 90, 0, 1).astype(np.float32)
    return made


def costs(frames: Sequence[Pixels], faces: Sequence[Box], taken: Sequence[Box]) -> Floats:
    """What each pixel costs that is covered: the busiest of some frames, faces with room around them, and what stands
    there already. Boxes are in pixels."""
    cost: Floats = np.max([busy(frame) for frame in frames], axis=0)
    high, wide = cost.shape
    for boxes, price, around in ((faces, FACE, AROUND), (taken, TAKEN, 0.0)):
        for box in boxes:
            dx, dy = box.width * around, box.height * around
            rows = slice(max(0, int(box.y - dy)), min(high, int(np.ceil(box.y + box.height + dy))))
            columns = slice(max(0, int(box.x - dx)), min(wide, int(np.ceil(box.x + box.width + dx))))
            cost[rows, columns] = np.maximum(cost[rows, columns], price)
    return cost


def calmest(cost: Floats, size: tuple[float, float], room: Box, now: tuple[float, float]) -> tuple[float, float]:
    """The left top corner, in pixels, where a box of a size covers what costs least, inside a room; of places that are
    alike, the one nearest to where it is. Where it does not fit into the room, it lies in its middle."""
    high, wide = cost.shape
    short = min(high, wide)
    width, height = min(size[0], room.width, wide), min(size[1], room.height, high)
    sums: Any = cv2.integral(cost, sdepth=cv2.CV_64F)
    step = max(1.0, STEP * short)
    best, found = np.inf, (room.x + (room.width - size[0]) / 2, room.y + (room.height - size[1]) / 2)
    for y in np.arange(room.y, room.y + room.height - height + 1e-6, step):
        for x in np.arange(room.x, room.x + room.width - width + 1e-6, step):
            left, top = round(x), round(y)
            right, low = min(wide, round(x + width)), min(high, round(y + height))
            area = max(1, (right - left) * (low - top))
            mean = (sums[low, right] - sums[top, right] - sums[low, left] + sums[top, left]) / area
            far = np.hypot(x - now[0], y - now[1]) / short
            edges = min(x - room.x, room.x + room.width - x - width, y - room.y, room.y + room.height - y - height)
            price = mean + FAR * far + (EDGE if edges < step else 0.0)
            if price < best:
                best, found = price, (float(x), float(y))
    return found
