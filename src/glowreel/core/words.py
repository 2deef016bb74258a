"""Words as they are drawn, and the fonts that are shipped for them."""

from __future__ import annotations

from dataclasses import dataclass

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


@dataclass(frozen=True, slots=True)
class Words:
    """Words with everything about their letters decided. `box` is drawn behind them when a colour is given."""

    text: str
    font: str = next(iter(FONTS))
    weight: int = 800
    colour: str = "#FFFFFF"
    align: str = "left"
    line: float = 1.08
    box: str = ""
    box_opacity: float = 1.0
    shadow: float = 0.0
