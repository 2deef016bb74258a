"""Which colour of a logo is for what: roles found by contrast and area."""

from __future__ import annotations

from dataclasses import dataclass

from glowreel.core.colour import contrast_of, mixed, to_oklab
from glowreel.core.matching import main_colours
from glowreel.core.value import Colour

LIGHT, DARK = "#FFFFFF", "#16130F"
READABLE = 4.5
"""The contrast that words need (WCAG 2.2, AA)."""


@dataclass(frozen=True)
class Proposed:
    """A colour for a role, and why."""

    role: str
    colour: Colour
    reason: str


def _chroma(colour: str) -> float:
    _, across, down = to_oklab(colour)
    return float((across**2 + down**2) ** 0.5)


def proposed_roles(palette: list[tuple[str, float]]) -> list[Proposed]:
    """Roles from the colours of a logo with their shares: its most vivid colour is what should be seen first, the next
    the second accent; the darkest of them, made darker until words in white can be read on it, is the ground, and a
    hint of the accent in white the light ground. Nothing where there are no colours."""
    own = main_colours(palette, 6)
    if not own:
        return []
    vivid = sorted(own, key=_chroma, reverse=True)
    accent = vivid[0]
    second = next((colour for colour in vivid[1:] if _chroma(colour) > 0.05), mixed(accent, DARK, 0.35))
    ground = min(own, key=lambda colour: to_oklab(colour)[0])
    reason = "the darkest colour of the logo"
    while contrast_of(ground, LIGHT) < READABLE:
        ground, reason = (
            mixed(ground, DARK, 0.2),
            "the darkest colour of the logo, darker so that white words can be read",
        )
    return [
        Proposed("accent", accent, "the most vivid colour of the logo"),
        Proposed("second", second, "the next most vivid one" if second in own else "the accent, darker"),
        Proposed("ground", ground, reason),
        Proposed("ink", LIGHT, f"white is read on the ground: {contrast_of(ground, LIGHT):.1f} to 1"),
        Proposed("paper", mixed(accent, LIGHT, 0.9), "a hint of the accent in white"),
        Proposed("dark", mixed(ground, DARK, 0.55), "the ground, darker, for words on the light ground"),
    ]
