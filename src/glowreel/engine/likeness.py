"""How alike two pictures look: where which colours lie, how much there is of each, and which way edges run.

A picture is described by numbers once, from any small copy of it; the nearer two descriptions are, the more alike.
"""

from __future__ import annotations

from collections.abc import Sequence

import cv2
import numpy as np
import numpy.typing as npt

Description = npt.NDArray[np.float32]
SIDE, GRID, EDGES, WAYS, BINS = 64, 8, 4, 6, 6
SIZE = GRID * GRID * 3 + BINS * BINS + EDGES * EDGES * WAYS
"""How many numbers describe a picture."""
LAYOUT, AMOUNT, OUTLINE = 1.0, 1.4, 0.9
"""How much each of the three counts."""


def describe(pixels: npt.NDArray[np.uint8]) -> Description:
    """A picture, BGR of any size, as `SIZE` numbers."""
    small = cv2.resize(pixels[..., :3], (SIDE, SIDE), interpolation=cv2.INTER_AREA).astype(np.float32) / 255
    lab = cv2.cvtColor(small, cv2.COLOR_BGR2LAB) / np.array([100, 110, 110], np.float32)
    step = SIDE // GRID
    layout = lab.reshape(GRID, step, GRID, step, 3).mean(axis=(1, 3)).reshape(-1)
    across, down = ((lab[..., part] + 1) / 2 * (BINS - 1e-3) for part in (1, 2))
    cells = across.clip(0, BINS - 1).astype(int) * BINS + down.clip(0, BINS - 1).astype(int)
    amount = np.bincount(cells.ravel(), minlength=BINS * BINS) / (SIDE * SIDE)
    outline = _outline(lab[..., 0]) * (OUTLINE / (EDGES * EDGES))
    parts = [layout * (LAYOUT / layout.size), np.sqrt(amount) * (AMOUNT / BINS), outline]
    return np.concatenate(parts).astype(np.float32)


def _outline(light: npt.NDArray[np.float32]) -> npt.NDArray[np.float32]:
    """How strongly edges run each of some ways, in each part of the picture; all of them together are 1 in a part."""
    right, down = cv2.Sobel(light, cv2.CV_32F, 1, 0), cv2.Sobel(light, cv2.CV_32F, 0, 1)
    strength = np.hypot(right, down)
    way = (np.arctan2(down, right) % np.pi / np.pi * WAYS).astype(int).clip(0, WAYS - 1)
    side = SIDE // EDGES
    place = np.arange(SIDE) // side
    cells = (place[:, None] * EDGES + place[None, :]) * WAYS + way
    found = np.bincount(cells.ravel(), strength.ravel(), EDGES * EDGES * WAYS).reshape(-1, WAYS)
    return np.asarray(found / (found.sum(axis=1, keepdims=True) + 4), np.float32).reshape(-1)


def apart(one: Description, others: Sequence[Description]) -> Description:
    """How far some pictures are from one, each 0 for the same."""
    if not others:
        return np.zeros(0, np.float32)
    return np.asarray(np.abs(np.stack(others) - one).sum(axis=1), np.float32)
