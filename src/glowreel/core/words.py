"""Words on the picture and the fonts that are shipped for them."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, field_validator

from glowreel.core.value import Colour, Fraction01, Value

FONTS: dict[str, tuple[int, ...]] = {
    "Bricolage Grotesque": (400, 600, 800),
    "Instrument Sans": (400, 600, 700),
    "Fraunces": (400, 600, 900),
    "Archivo Black": (400,),
    "Caveat": (400, 700),
    "Space Mono": (400, 700),
}
"""Shipped families and their weights; the first is the default."""

MAX_LETTERS = 600


class Words(Value):
    """A title or any other words. `box` is drawn behind them when a colour is given."""

    kind: Literal["words"] = "words"
    text: str = Field(max_length=MAX_LETTERS)
    font: str = next(iter(FONTS))
    weight: int = Field(default=800, ge=100, le=900)
    colour: Colour = "#FFFFFF"
    align: Literal["left", "centre", "right"] = "left"
    line: float = Field(default=1.08, ge=0.7, le=3, allow_inf_nan=False)
    box: Colour | None = None
    box_opacity: Fraction01 = 1.0
    shadow: Fraction01 = 0.0

    @field_validator("font")
    @classmethod
    def _shipped(cls, font: str) -> str:
        if font not in FONTS:
            raise ValueError(f"“{font}” is not one of the fonts here")
        return font

    @field_validator("text")
    @classmethod
    def _printable(cls, text: str) -> str:
        return "".join(ch for ch in text.replace("\r\n", "\n").replace("\r", "\n") if ch == "\n" or ord(ch) >= 32)
