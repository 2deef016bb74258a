"""How well letters stand out from what is drawn right beside them (WCAG 2.2, 1.4.3), at their worst spot."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

from glowreel.core.recipe.model import Composite, DrawWords, FrameRecipe, Op
from glowreel.engine.footage import Pixels

Floats = npt.NDArray[np.float64]
RING = 0.012
"""How far beyond letters one looks, in fractions of the short side: as far as an eye takes in with them."""
WORST = 0.12
"""The share of the spots that may be worse than what is told: single pixels do not make a word unreadable."""
CELL = 0.06
"""How large a spot is, of the short side."""


def letters_only(op: Op) -> Op | None:
    """An operation with nothing left of it but white letters, where they are."""
    if isinstance(op, DrawWords):
        runs = tuple(replace(run, colour="", mark="") for run in op.words.runs)
        bare = replace(op.words, colour="#FFFFFF", second="", box="", shadow=0.0, shades=(), outline=0.0, under="none",
                       runs=runs)  # fmt: skip
        # The box has room around the letters: what is left of them lies where they lay.
        pad = (op.words.pad[0] * op.size, op.words.pad[1] * op.size) if op.words.box else (0.0, 0.0)
        box = replace(op.box, x=op.box.x + pad[0], y=op.box.y + pad[1])
        return replace(op, words=bare, box=box, wrap=op.wrap - 2 * pad[0], opacity=1.0, plays=())
    if isinstance(op, Composite) and op.blend in ("normal", "keep"):
        inner = tuple(made for child in op.ops if (made := letters_only(child)) is not None)
        return replace(op, ops=inner, effects=(), masks=(), opacity=1.0, blur=0.0, blend="normal") if inner else None
    return None


def letters_recipe(recipe: FrameRecipe, ops: tuple[Op, ...]) -> FrameRecipe:
    """The letters of some operations alone, in a frame as large as another."""
    return FrameRecipe(recipe.width, recipe.height, tuple(made for op in ops if (made := letters_only(op)) is not None))


def luminance(pixels: Pixels) -> Floats:
    """Relative luminance of opaque BGRA pixels (WCAG 2.2, from sRGB as IEC 61966-2-1 has it)."""
    value = pixels[:, :, :3].astype(np.float64) / 255
    linear = np.where(value <= 0.04045, value / 12.92, ((value + 0.055) / 1.055) ** 2.4)
    return np.asarray(linear @ np.array([0.0722, 0.7152, 0.2126]))


def contrast(shown: Pixels, letters: Pixels) -> float | None:
    """The ratio, 1 to 21, with which letters stand out where they do so least; None where none are seen. `shown` is the
    frame, `letters` the letters alone."""
    light, inside = luminance(shown), letters[:, :, 3] > 200
    if not inside.any():
        return None
    short = min(shown.shape[:2])
    reach = max(2, round(RING * short))
    near = cv2.dilate((letters[:, :, 3] > 24).astype(np.uint8), np.ones((2 * reach + 1, 2 * reach + 1), np.uint8))
    beside = (near > 0) & (letters[:, :, 3] < 24)
    ratios: list[float] = []
    cell = max(4, round(CELL * short))
    rows, columns = np.flatnonzero(inside.any(axis=1)), np.flatnonzero(inside.any(axis=0))
    for top in range(int(rows[0]), int(rows[-1]) + 1, cell):
        for left in range(int(columns[0]), int(columns[-1]) + 1, cell):
            spot = np.s_[top : top + cell, left : left + cell]
            own, ground = light[spot][inside[spot]], light[spot][beside[spot]]
            if len(own) < 3 or len(ground) < 3:
                continue
            ratios.append(_ratio(float(np.median(own)), ground))
    return float(np.quantile(ratios, WORST)) if ratios else None


def _ratio(own: float, ground: Any) -> float:
    """Between a letter and what lies beside it: half of which is at least so far from it."""
    each = np.maximum(own + 0.05, ground + 0.05) / np.minimum(own + 0.05, ground + 0.05)
    return float(np.median(each))
