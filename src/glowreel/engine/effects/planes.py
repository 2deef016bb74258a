"""Effects done in the planes of a film, without taking it to RGB and back: what changes tone and colour of footage that
fills the frame is nearly free so. Each does what the effect of its name does to pixels.

Planes are yuv420p in limited range (BT.709): luma 16 to 235, chroma 16 to 240 around 128, half as wide and high.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import lru_cache
from typing import Any

import cv2
import numpy as np

from glowreel.core.time import TICKS_PER_SECOND
from glowreel.engine.drawing import part
from glowreel.engine.effects.film import GRAINS, TILE, grain_tile, vignette_plane, wash_plane
from glowreel.engine.effects.grade import grade_planes
from glowreel.engine.footage import Pixels

Planes = tuple[Pixels, Pixels, Pixels]
Planar = Callable[[Planes, Mapping[str, Any], float], None]


@part()
def graded(planes: Planes, values: Mapping[str, Any], scale: float) -> None:
    """Tone and colour, in place."""
    grade_planes(*planes, tuple(values.items()))


@lru_cache(maxsize=4)
def _grains(shape: tuple[int, int], scale: float, amount: float) -> tuple[Pixels, Pixels]:
    """What is added to luma and what is taken from it, in a sheet larger than the frame by a tile either way."""
    high, wide = shape[0] + TILE, shape[1] + TILE
    tile = grain_tile(round(scale, 3)) * np.float32(20 * amount * min(1.0, 2 * scale) * 219 / 255)
    whole = np.rint(np.tile(tile, (-(-high // TILE), -(-wide // TILE)))[:high, :wide])
    return np.clip(whole, 0, 255).astype(np.uint8), np.clip(-whole, 0, 255).astype(np.uint8)


@part()
def grained(planes: Planes, values: Mapping[str, Any], scale: float) -> None:
    """Grain in luma, in place; the same grains at the same moments as in pixels."""
    luma = planes[0]
    more, less = _grains(luma.shape[:2], scale, values["amount"])
    step = int(values["at"]) * GRAINS // TICKS_PER_SECOND
    # A tile rolled by an offset is the sheet looked at from the rest of a tile on.
    x, y = -(step * 7919) % TILE, -(step * 104729) % TILE
    high, wide = luma.shape[:2]
    seen = np.s_[y : y + high, x : x + wide]
    np.copyto(luma, cv2.subtract(cv2.add(luma, more[seen]), less[seen]))


@lru_cache(maxsize=8)
def _darkening(kind: str, shape: tuple[int, int], key: tuple[Any, ...]) -> tuple[Pixels, Pixels, Pixels, Pixels]:
    """For luma and for chroma: the factors in bytes, and what is added so that black and grey stay where they are."""
    high, wide = shape
    box = (0.0, 0.0, float(wide), float(high))
    left = vignette_plane(shape, box, *key) if kind == "vignette" else wash_plane(shape, box, *key)
    half: Any = cv2.resize(left, (wide // 2, high // 2), interpolation=cv2.INTER_AREA)

    def offset(factors: Any, around: int) -> Pixels:
        return np.rint(around * (1 - factors.astype(np.float32) / 255)).astype(np.uint8)

    return left, offset(left, 16), half, offset(half, 128)


def _darkened(kind: str, planes: Planes, key: tuple[Any, ...]) -> None:
    left, black, half, grey = _darkening(kind, planes[0].shape[:2], key)
    np.copyto(planes[0], cv2.add(cv2.multiply(planes[0], left, scale=1 / 255), black))
    for plane in planes[1:]:
        np.copyto(plane, cv2.add(cv2.multiply(plane, half, scale=1 / 255), grey))


@part()
def vignetted(planes: Planes, values: Mapping[str, Any], scale: float) -> None:
    """Darker towards the corners, in place."""
    _darkened("vignette", planes, (values["amount"],))


@part()
def washed(planes: Planes, values: Mapping[str, Any], scale: float) -> None:
    """Darker from one side, in place."""
    _darkened("wash", planes, (values["amount"], values["side"]))


PLANAR: dict[str, Planar] = {"grade": graded, "grain": grained, "vignette": vignetted, "wash": washed}
"""By the names of effects: those that can be done in planes."""
