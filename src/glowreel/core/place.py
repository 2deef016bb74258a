"""Where things sit in the frame, said in relations so that each format can be laid out by rule."""

from __future__ import annotations

from dataclasses import dataclass

Pair = tuple[float, float]


@dataclass(frozen=True, slots=True)
class Place:
    """Which point of an item is held to the same point of the frame.

    `pin` is that point, as shares of width and height; `push` moves the item from there, in fractions of the frame's
    short side, positive to the right and down. `size` is in the same unit: the letter size for words, the longer side
    for pictures. `wrap` is the width at which words break. `turn` is in degrees, clockwise.
    """

    pin: Pair = (0.5, 0.5)
    push: Pair = (0.0, 0.0)
    size: float = 0.1
    wrap: float = 0.92
    turn: float = 0.0


@dataclass(frozen=True, slots=True)
class Framing:
    """How a main-track picture meets the frame: `fill` covers it and crops, `letterbox` shows all of it.

    `focus` is the point of the picture kept nearest to the middle when cropping; `zoom` enlarges from there.
    """

    fit: str = "fill"
    focus: Pair = (0.5, 0.5)
    zoom: float = 1.0
