"""What the illustrated valley is painted with: shared pieces, Hollowmere's mark and the colours of its balloons."""

from __future__ import annotations

from typing import Any

import skia

from glowreel.outside.art.pieces import (
    CLAY,
    CREAM,
    DUSK,
    EMBER,
    GLOW,
    INK,
    MOSS,
    PLUM,
    STRAW,
    TIDE,
    balloon,
    basket,
    envelope,
    fill,
    mist,
    rgb,
    ridge,
    sky,
    stars,
    sun,
    trees,
)

__all__ = [
    "CLAY",
    "CREAM",
    "DUSK",
    "EMBER",
    "GLOW",
    "INK",
    "MOSS",
    "PLUM",
    "STRAW",
    "TIDE",
    "balloon",
    "basket",
    "fill",
    "mist",
    "rgb",
    "ridge",
    "sky",
    "stars",
    "sun",
    "trees",
]


def mark(canvas: Any, x: float, y: float, size: float, colour: str = GLOW, foot: str = CREAM) -> None:
    """Hollowmere's mark: a small balloon without panels, crown at (x, y)."""
    canvas.save()
    canvas.translate(x, y)
    canvas.drawPath(envelope(size), fill(colour))
    canvas.drawRoundRect(
        skia.Rect.MakeXYWH(-size * 0.15, size * 1.22, size * 0.3, size * 0.16), size * 0.05, size * 0.05, fill(foot)
    )
    canvas.restore()


BLUE_ONE = (CREAM, DUSK, TIDE)
RED_ONE = (CREAM, EMBER, GLOW)
GOLD_ONE = (GLOW, PLUM, CREAM)
GREEN_ONE = (CREAM, MOSS, STRAW)
EMBER_ONE = (GLOW, EMBER, CREAM)
