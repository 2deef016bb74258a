"""The shapes a promo is published in."""

from __future__ import annotations

import re
from fractions import Fraction
from typing import Annotated, Literal

from pydantic import Field, model_validator

from glowreel.core.errors import Refusal
from glowreel.core.value import Id, Value

CANON = 1080
"""Short side, in canonical units, in which every layout is worked out; drawing at another size only scales it."""

WIDEST = 4
"""How many times as long as short a format may be: more would ask for frames no memory holds."""

LONGEST, MOST_FORMATS = 8192, 12
"""How long a side of a shape may be said to be, in pixels; and how many formats a promo may have."""

Inset = Annotated[float, Field(ge=0, le=0.45, allow_inf_nan=False)]

RESOLUTIONS = (480, 720, 1080, 2160)


Shape = Literal["wide", "square", "tall"]


def shape_of(wide: float, high: float) -> Shape:
    """What a frame of a ratio is for whoever arranges things in it: nearly square ones count as square."""
    ratio = wide / high
    return "wide" if ratio > 1.2 else "tall" if ratio < 0.84 else "square"


LEAST_LETTERS: dict[Shape, float] = {"tall": 0.034, "square": 0.03, "wide": 0.026}
"""The smallest letters, of the frame's short side, that are read on a phone, by how tall the frame is."""


class Format(Value):
    """One shape of a promo. `wide` and `high` are the aspect ratio; `safe` insets are fractions of the frame
    (left, top, right, bottom) inside which words stay clear of what channels lay over the picture; `channel` is the
    one that it is for, if any."""

    id: Id
    name: str = Field(min_length=1, max_length=40)
    wide: int = Field(gt=0, le=LONGEST)
    high: int = Field(gt=0, le=LONGEST)
    safe: tuple[Inset, Inset, Inset, Inset] = (0.05, 0.05, 0.05, 0.05)
    channel: str = Field(default="", max_length=40)

    @classmethod
    def usual_safe(cls) -> tuple[float, float, float, float]:
        """The safe area of a shape that nothing is known of."""
        return (0.05, 0.05, 0.05, 0.05)

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
    def least_letters(self) -> float:
        """The smallest letters that are read in it on a phone, of its short side."""
        return LEAST_LETTERS[shape_of(self.wide, self.high)]

    @property
    def ratio(self) -> str:
        """Its shape as people say it."""
        return said_ratio(self.wide, self.high)

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


USES: dict[str, str] = {
    "wide": "for screens on a desk or a wall, and film sites",
    "square": "for feeds, where it takes as much room as a picture",
    "tall": "for telephones held upright, from edge to edge",
    "portrait": "for feeds, a little taller than square",
    "classic": "for slides and older screens",
    "cinema": "for banners and very wide screens",
}
"""What each shape is for, in a few words."""


def read_shape(text: str) -> tuple[int, int]:
    """A shape as people type it: a ratio (`4:5`, `1.91:1`) or pixels (`1200 x 628`); in its smallest whole numbers.
    Raises `Refusal` in a sentence."""
    found = re.fullmatch(r"\s*(\d{1,5}(?:[.,]\d{1,3})?)\s*[x×:/]\s*(\d{1,5}(?:[.,]\d{1,3})?)\s*(?:px)?\s*", text)
    sides = [Fraction(side.replace(",", ".")) for side in found.groups()] if found else []
    if not sides or not all(sides):
        raise Refusal("bad-shape", "That is no shape.", "Type a ratio such as 4:5, or pixels such as 1200 x 628.")
    ratio = sides[0] / sides[1]
    whole = ratio if max(ratio.numerator, ratio.denominator) <= LONGEST else ratio.limit_denominator(1000)
    if max(whole.numerator, whole.denominator) > LONGEST or whole == 0:
        raise Refusal("bad-shape", f"A side has at most {LONGEST} pixels.", "Type another shape, such as 4:5.")
    return whole.numerator, whole.denominator


def named_shape(wide: int, high: int) -> str:
    """What a shape of one's own is called: that of a shipped one, or its ratio."""
    same = next((format.name for format in SHIPPED.values() if (format.wide, format.high) == (wide, high)), "")
    return same or said_ratio(wide, high)


def said_ratio(wide: int, high: int) -> str:
    """A shape as people say it: in small whole numbers, or how many times as wide as high."""
    return f"{wide}:{high}" if max(wide, high) <= 40 else f"{wide / high:.2f}:1"


def shipped(format_id: str) -> Format:
    """The shipped format of that name, or a refusal that lists them."""
    if format_id not in SHIPPED:
        raise Refusal("no-format", f"There is no format called “{format_id}”.", f"Choose from {', '.join(SHIPPED)}.")
    return SHIPPED[format_id]
