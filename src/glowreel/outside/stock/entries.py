"""What a catalogue says of its entries, and what it is asked."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

Kind = Literal["footage", "photo", "illustration", "music", "effect"]
Shape = Literal["wide", "tall", "square", "sound"]

KINDS: dict[str, str] = {
    "footage": "Footage", "photo": "Photos", "illustration": "Illustrations", "music": "Music", "effect": "Effects",
}  # fmt: skip
SHAPES: dict[str, str] = {"wide": "Wide", "tall": "Tall", "square": "Square"}
LENGTHS: dict[str, tuple[str, float, float]] = {
    "short": ("Up to 3 s", 0.0, 3.0), "middle": ("3 to 20 s", 3.0, 20.0), "long": ("Over 20 s", 20.0, 1e9),
}  # fmt: skip
LICENCES: dict[str, str] = {"free": "Free", "paid": "Paid"}
COLOURS: dict[str, str] = {
    "red": "#D8402F", "orange": "#F08A2C", "yellow": "#F2C33D", "green": "#5E9E4F", "teal": "#3C9A92",
    "blue": "#3F76B5", "purple": "#6F4C9B", "pink": "#E0739A", "brown": "#8A5A38", "black": "#20202A",
    "grey": "#93979E", "white": "#F5F2EA",
}  # fmt: skip
"""The colours that can be asked for."""

PAGE = 48


class Entry(BaseModel):
    """Something in a catalogue. Sizes in pixels, lengths in seconds, `price` in the catalogue's credits, 0 for free."""

    model_config = ConfigDict(frozen=True)

    id: str = Field(max_length=60)
    kind: Kind
    name: str = Field(max_length=120)
    words: str = Field(default="", max_length=400)
    mood: str = Field(default="", max_length=40)
    shape: Shape
    width: int = Field(default=0, ge=0, le=16384)
    height: int = Field(default=0, ge=0, le=16384)
    seconds: float = Field(default=0.0, ge=0, le=7200)
    colours: tuple[str, ...] = ()
    price: int = Field(default=0, ge=0, le=100000)
    licence: str = Field(default="", max_length=80)
    credit: str = Field(default="", max_length=200)

    @property
    def sounds(self) -> bool:
        return self.kind in ("music", "effect")


class Query(BaseModel):
    """What is asked of a catalogue: words, and what an entry must be; nothing where that is of no matter."""

    model_config = ConfigDict(frozen=True)

    words: str = Field(default="", max_length=200)
    kind: str = ""
    shape: str = ""
    length: str = ""
    colour: str = ""
    mood: str = ""
    licence: str = ""
    after: int = Field(default=0, ge=0, le=100000)


class Found(BaseModel):
    """A part of what there is, best first, how much there is in all, and the moods that can be asked for."""

    model_config = ConfigDict(frozen=True)

    entries: tuple[Entry, ...] = ()
    total: int = 0
    moods: tuple[str, ...] = ()
