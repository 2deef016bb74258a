"""Colours that go with pictures, worked out from the pictures' own, in the polar form of OKLab, where equal turns of
hue look alike."""

from __future__ import annotations

import math
from dataclasses import dataclass

from glowreel.core.colour import from_oklab, to_oklab

APART = 0.11
"""How far apart, in OKLab, two of the pictures' colours are at least when both are offered."""
VIVID = 0.03
"""The chroma from which on a colour has a hue that others can be found from."""


@dataclass(frozen=True)
class Matching:
    """A colour that goes with pictures, and why."""

    label: str
    colour: str


def _polar(colour: str) -> tuple[float, float, float]:
    lightness, across, down = to_oklab(colour)
    return lightness, math.hypot(across, down), math.atan2(down, across)


HUES: tuple[tuple[str, float], ...] = (
    ("red", 37), ("orange", 80), ("yellow", 115), ("green", 170), ("blue", 290), ("violet", 330), ("pink", 375),
)  # fmt: skip
"""What hues are called, each up to an angle of OKLab in degrees; red begins again at 15."""


def hue_of(colour: str) -> str:
    """What the hue of a colour is called; nothing for one that has none."""
    _, chroma, hue = _polar(colour)
    angle = (math.degrees(hue) - 15) % 360 + 15
    return next(name for name, end in HUES if angle < end) if chroma >= VIVID else ""


def _from_polar(lightness: float, chroma: float, hue: float) -> str:
    return from_oklab((lightness, chroma * math.cos(hue), chroma * math.sin(hue)))


def distance(first: str, second: str) -> float:
    """How different two colours look: their distance in OKLab."""
    return math.dist(to_oklab(first), to_oklab(second))


def main_colours(palette: list[tuple[str, float]], most: int = 4) -> list[str]:
    """The colours of pictures that count: of those with their shares, the ones that cover much or are vivid, each
    clearly different from those before."""

    def counts(entry: tuple[str, float]) -> float:
        return entry[1] * (0.25 + min(1.0, _polar(entry[0])[1] / 0.15))

    found: list[str] = []
    for colour, _ in sorted(palette, key=counts, reverse=True):
        if len(found) < most and all(distance(colour, other) >= APART for other in found):
            found.append(colour)
    return found


def matching(palette: list[tuple[str, float]]) -> list[Matching]:
    """What goes with pictures of these colours: their own, the one opposite the first that has a hue, its neighbours
    and thirds, and a light and a dark one of its hue. Nothing where there are no pictures."""
    own = main_colours(palette)
    found = [Matching(f"Picture {n + 1}", colour) for n, colour in enumerate(own)]
    lead = next((colour for colour in own if _polar(colour)[1] >= VIVID), None)
    if lead is not None:
        lightness, chroma, hue = _polar(lead)
        chroma, middle = max(chroma, 0.08), min(0.8, max(0.45, lightness))
        for label, turn in (
            ("Opposite", 180), ("Warmer", -30), ("Cooler", 30), ("Third 1", 120),
            ("Third 2", -120),
        ):  # fmt: skip
            found.append(Matching(label, _from_polar(middle, chroma, hue + math.radians(turn))))
    if own:
        _, chroma, hue = _polar(lead or own[0])
        found.append(Matching("Light", _from_polar(0.95, min(chroma, 0.03), hue)))
        found.append(Matching("Dark", _from_polar(0.24, min(chroma, 0.05), hue)))
    return found
