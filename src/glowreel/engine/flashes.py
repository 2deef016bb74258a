"""Flashes: how often the picture goes from dark to light and back within a second.

By the rule of WCAG 2.2 (2.3.1): a flash is a pair of opposing changes of the relative luminance by a tenth or more of
the most there is, the darker of both below 0.8, over at least a quarter of the picture; more than three within a second
can bring on a seizure.
"""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

from glowreel.engine.footage import Pixels

Light = npt.NDArray[np.float32]
SIZE = (32, 18)
"""Into so many fields a picture is divided, across and down."""
CHANGE, DARK = 0.1, 0.8
WIDE = 0.25
"""The share of the picture over which it has to change together."""


def light_of(pixels: Pixels) -> Light:
    """The relative luminance of BGRA pixels, in fields."""
    value = pixels[:, :, :3].astype(np.float32) / 255
    linear = np.where(value <= 0.04045, value / 12.92, ((value + 0.055) / 1.055) ** 2.4)
    light = linear @ np.array([0.0722, 0.7152, 0.2126], np.float32)
    small: Any = cv2.resize(light.astype(np.float32), SIZE, interpolation=cv2.INTER_AREA)
    made: Light = small
    return made


def turns(fields: Light) -> list[tuple[int, int]]:
    """Where fields of shape (frames, …) turn together: frame, and 1 for lighter or -1 for darker. Small steps one after
    another in the same direction count as one change."""
    flat = fields.reshape(len(fields), -1)
    found: list[tuple[int, int]] = []
    low = high = flat[0]
    for n in range(1, len(flat)):
        now = flat[n]
        low, high = np.minimum(low, now), np.maximum(high, now)
        up = (now - low >= CHANGE) & (low < DARK)
        down = (high - now >= CHANGE) & (now < DARK)
        for way, many in ((1, up), (-1, down)):
            if many.mean() >= WIDE and (not found or found[-1][1] != way):
                found.append((n, way))
                low = high = now
                break
            if many.mean() >= WIDE:
                # It goes on in the same direction: what it is now is what it turns from.
                low, high = (low, now) if way < 0 else (now, high)
    return found


def worst_second(fields: Light, rate: float) -> tuple[int, int]:
    """The frame at which the second with most flashes begins, and how many there are: two turns are a flash."""
    at = [frame for frame, _ in turns(fields)]
    best = (0, 0)
    for n, first in enumerate(at):
        count = sum(frame - first < rate for frame in at[n:]) // 2
        best = max(best, (count, -first))
    return -best[1], best[0]
