"""Roles of a brand from how a page uses its colours: each with a reason."""

from __future__ import annotations

from collections.abc import Mapping

from glowreel.core.brand_colours import DARK, LIGHT, READABLE, Proposed
from glowreel.core.colour import contrast_of, mixed, to_oklab

VIVID = 0.07
"""The chroma from which a colour is one that draws the eye (OKLab)."""


def _chroma(colour: str) -> float:
    _, across, down = to_oklab(colour)
    return float((across**2 + down**2) ** 0.5)


def roles_of_page(colours: Mapping[str, float], seen: Mapping[str, float], ground: str, ink: str) -> list[Proposed]:
    """Roles from the colours of a page by the weight of their use, those of what is meant to be seen, and those of the
    page itself and its words. Nothing where the page has no colours."""
    if not colours:
        return []
    used = sorted(colours, key=lambda colour: -colours[colour])
    meant = sorted(seen, key=lambda colour: (-(_chroma(colour) > VIVID), -seen[colour]))
    vivid = [colour for colour in [*meant, *sorted(used, key=_chroma, reverse=True)] if _chroma(colour) > VIVID]
    accent = vivid[0] if vivid else used[0]
    second = next((colour for colour in sorted(used, key=_chroma, reverse=True)
                   if colour != accent and _chroma(colour) > VIVID), mixed(accent, DARK, 0.35))  # fmt: skip
    deep = [colour for colour in used if contrast_of(colour, LIGHT) >= READABLE and colour not in (accent, ink)]
    base = deep[0] if deep else mixed(accent, DARK, 0.6)
    paper = ground if ground and contrast_of(ground, DARK) >= READABLE else mixed(accent, LIGHT, 0.9)
    dark = ink if ink and contrast_of(ink, paper) >= READABLE else mixed(base, DARK, 0.55)
    return [
        Proposed("accent", accent, "what its buttons have" if accent in seen else "its most vivid colour"),
        Proposed("second", second, "its next most vivid colour" if second in colours else "the accent, darker"),
        Proposed("ground", base, "the dark colour that covers most of it" if base in colours else "the accent, darker"),
        Proposed("ink", LIGHT, f"white is read on the ground: {contrast_of(base, LIGHT):.1f} to 1"),
        Proposed("paper", paper, "the ground of the page" if paper == ground else "a hint of the accent in white"),
        Proposed("dark", dark, "the words of the page" if dark == ink else "the ground, darker"),
    ]
