"""The shapes a promo is published in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from glowreel.core.errors import Refusal
from glowreel.core.value import Id, Value

CANON = 1080
"""Short side, in canonical units, in which every layout is worked out; drawing at another size only scales it."""

WIDEST = 4
"""How many times as long as short a format may be: more would ask for frames no memory holds."""

Inset = Annotated[float, Field(ge=0, le=0.45, allow_inf_nan=False)]

RESOLUTIONS = (480, 720, 1080, 2160)


Shape = Literal["wide", "square", "tall"]


def shape_of(wide: float, high: float) -> Shape:
    """What a frame of a ratio is for whoever arranges things in it: nearly square ones count as square."""
    ratio = wide / high
    return "wide" if ratio > 1.2 else "tall" if ratio < 0.84 else "square"


class Format(Value):
    """One shape of a promo. `wide` and `high` are the aspect ratio; `safe` insets are fractions of the frame
    (left, top, right, bottom) inside which words stay clear of what channels lay over the picture."""

    id: Id
    name: str = Field(min_length=1, max_length=40)
    wide: int = Field(gt=0, le=100)
    high: int = Field(gt=0, le=100)
    safe: tuple[Inset, Inset, Inset, Inset] = (0.05, 0.05, 0.05, 0.05)

    @model_validator(mode="after")
    def _no_ribbon(self) -> Format:
        if max(self.wide, self.high) > WIDEST * min(self.wide, self.high):
            raise ValueError(f"a format is at most {WIDEST} times as long as it is short")
        return self

    def size(self, short_side: int) -> tuple[int, int]:
        """Width and height in pixels for a short side, both even, as 4:2:0 video needs."""
        short = max(2, short_side - short_side % 2)
        if self.wide >= self.high:
            return round(short * self.wide / self.high / 2) * 2, short
        return short, round(short * self.high / self.wide / 2) * 2

    @property
    def canon(self) -> tuple[float, float]:
        """Width and height in canonical units."""
        scale = CANON / min(self.wide, self.high)
        return self.wide * scale, self.high * scale


SHIPPED: dict[str, Format] = {
    row.id: row
    for row in (
        Format(id="wide", name="Wide", wide=16, high=9),
        Format(id="square", name="Square", wide=1, high=1),
        Format(id="tall", name="Tall", wide=9, high=16, safe=(0.05, 0.09, 0.05, 0.14)),
        Format(id="portrait", name="Portrait", wide=4, high=5),
        Format(id="classic", name="Classic", wide=4, high=3),
        Format(id="cinema", name="Cinema", wide=21, high=9),
    )
}
FIRST_CHOICE = ("wide", "square", "tall")


def shipped(format_id: str) -> Format:
    """The shipped format of that name, or a refusal that lists them."""
    if format_id not in SHIPPED:
        raise Refusal("no-format", f"There is no format called “{format_id}”.", f"Choose from {', '.join(SHIPPED)}.")
    return SHIPPED[format_id]
