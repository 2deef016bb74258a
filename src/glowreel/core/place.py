"""Where things sit in the frame, said in relations so that each format can be laid out by rule."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from glowreel.core.value import Fraction01, Offset, Value

Size = Annotated[float, Field(gt=0.005, le=8, allow_inf_nan=False)]


class Place(Value):
    """Which point of the item is pinned to which point of the frame.

    `item` and `frame` are points as fractions of width and height; `dx` and `dy` push the item from there, in fractions
    of the frame's short side, positive to the right and down. `size` is in the same unit: the letter size for words,
    the longer side for pictures. `wrap` is the width at which words break. `turn` is in degrees, clockwise.
    """

    item: tuple[Fraction01, Fraction01] = (0.5, 0.5)
    frame: tuple[Fraction01, Fraction01] = (0.5, 0.5)
    dx: Offset = 0.0
    dy: Offset = 0.0
    size: Size = 0.1
    wrap: Size = 1.2
    turn: float = Field(default=0.0, ge=-360, le=360, allow_inf_nan=False)


class Framing(Value):
    """How a main-track picture meets the frame: `fill` covers it and crops, `letterbox` shows all of it.

    `focus` is the point of the picture kept nearest to the middle when cropping; `zoom` enlarges from there.
    """

    fit: Literal["fill", "letterbox"] = "fill"
    focus: tuple[Fraction01, Fraction01] = (0.5, 0.5)
    zoom: float = Field(default=1.0, ge=1, le=8, allow_inf_nan=False)
