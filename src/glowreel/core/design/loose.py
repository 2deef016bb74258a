"""The boxes of a design one by one, with where each lies when all of them have come."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from glowreel.core.design.model import Box, Comes, Design
from glowreel.core.design.resolve import Filled, Laid, laid_out, places, says_nothing
from glowreel.core.layout import Box as Rect


@dataclass(frozen=True)
class Leaf:
    """A box that draws something by itself: where it lies upright, how far it is turned about its middle, how it comes,
    how much of it is seen, and what it does meanwhile. Of words, also what they say, and how large they are set and at
    which width they break, in canonical units."""

    box: Box
    rect: Rect
    turn: float = 0.0
    comes: Comes | None = None
    opacity: float = 1.0
    stays: str = "none"
    text: str = ""
    size: float = 0.0
    wrap: float = 0.0

    @property
    def key(self) -> tuple[str, str, str]:
        """What it is, so that it is found again in another arrangement."""
        return self.box.kind, self.box.field or "", self.box.text


def leaves(design: Design, filled: Filled) -> tuple[tuple[float, float], list[Leaf]]:
    """The size that a design takes, and its boxes from back to front, from its top left corner."""
    laid = laid_out(design, filled)
    whole = Rect(0.0, 0.0, laid.width, laid.height)
    return (laid.width, laid.height), _inside(laid, whole, filled, Leaf(laid.box, whole))


def _inside(laid: Laid, rect: Rect, filled: Filled, above: Leaf) -> list[Leaf]:
    box = laid.box
    here = Leaf(
        box, rect, above.turn + box.turn, box.comes or above.comes, above.opacity * box.opacity,
        box.stays if box.stays != "none" else above.stays,
    )  # fmt: skip
    found: list[Leaf] = []
    if laid.words is not None:
        width, height = filled.measure(laid.words, laid.size, laid.wrap)
        aside = {"left": 0.0, "centre": (rect.width - width) / 2, "right": rect.width - width}[box.align]
        lies = Rect(rect.x + aside, rect.y, width, height)
        found.append(replace(here, rect=lies, text=laid.words.text, size=laid.size, wrap=laid.wrap))
    elif box.kind not in ("words", "stack", "grid"):
        found.append(here)
    for child, place in zip(laid.children, places(laid, rect, filled), strict=True):
        if says_nothing(child):
            continue
        inner = _inside(child, place, filled, replace(here, turn=above.turn))
        middle = rect.x + rect.width / 2, rect.y + rect.height / 2
        found += [_turned(leaf, box.turn, middle) for leaf in inner] if box.turn else inner
    return found


def _turned(leaf: Leaf, turn: float, about: tuple[float, float]) -> Leaf:
    """A box that is turned about a point along with the one that it lies in."""
    angle, rect = math.radians(turn), leaf.rect
    across, down = rect.x + rect.width / 2 - about[0], rect.y + rect.height / 2 - about[1]
    x = about[0] + across * math.cos(angle) - down * math.sin(angle) - rect.width / 2
    y = about[1] + across * math.sin(angle) + down * math.cos(angle) - rect.height / 2
    return replace(leaf, rect=replace(rect, x=x, y=y), turn=leaf.turn + turn)
