"""Layers as they lie in a shape, and what belongs together of them."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from math import cos, radians, sin
from typing import Any

from glowreel.core.content import Seen
from glowreel.core.document import Item, Promo, Whole
from glowreel.core.formats import CANON, Format
from glowreel.core.layout import Box, Measure, common
from glowreel.core.properties import PROPERTIES, Curve
from glowreel.core.recipe.model import DrawWords, words_in
from glowreel.core.remembered import Remembered
from glowreel.core.timeline import Span, timeline

PLACED = ("pin", "place", "size", "wrap", "tall", "turn", "stretch")
"""What says where a layer lies, and how large it is; one of which any of these changes over time is not moved."""
WHERE = ("pin", "place")
"""What says where it lies; one that has these for a format alone is left there. Another size leaves that to the
rule."""
UNBROKEN = 64 * CANON
"""A line on which no word is broken."""
BACKDROP = 0.8
"""What covers this share of the frame is a ground for the others, and not arranged with them."""


@dataclass(frozen=True)
class Laid:
    """A layer where it lies at rest: the box around it, upright, in canonical units; the size of its smallest letters,
    0 where it says nothing; whether it is a logo of the brand; and how much of its longest word does not fit its line,
    so that it is broken."""

    item: Item
    box: Box
    letters: float = 0.0
    logo: bool = False
    broken: float = 0.0

    @property
    def worded(self) -> bool:
        return self.letters > 0


@dataclass
class Table:
    """Layers on a table: what is known of them while they are arranged. `boxes` keeps what was drawn already."""

    promo: Promo
    measure: Measure
    drawn: dict[tuple[str, str, str], Laid | None] = field(default_factory=dict)

    def laid(self, item: Item, format: Format, ruled: Mapping[str, Any] | None = None) -> Laid | None:
        """Where a layer lies in a format, with these values in place of its own; None where it is not seen."""
        key = (item.id, f"{format.id}:{format.wide}:{format.high}", repr(sorted((ruled or {}).items())))
        if key not in self.drawn:
            self.drawn[key] = (
                draw(self.promo, self.measure, item, format, ruled) if ruled
                else _remembered(self.promo, self.measure, item, format)
            )  # fmt: skip
        return self.drawn[key]


_lying: Remembered[Laid | None] = Remembered(4096)


def _remembered(promo: Promo, measure: Measure, item: Item, format: Format) -> Laid | None:
    """Where a layer lies as it is pinned: the layers of one state of a promo are mostly those of the next."""
    design, media = promo.designs.get(item.design or ""), promo.media.get(item.media or "")
    # Chapters and what goes by depend on the scenes.
    things = (item, design, media, promo.brand, measure, promo.scenes if design is not None else None)
    shape = (format.id, format.wide, format.high)
    return _lying.of(things, shape, lambda: draw(promo, measure, item, format, {}))


def draw(promo: Promo, measure: Measure, item: Item, format: Format, ruled: Mapping[str, Any]) -> Laid | None:
    """Where a layer lies when it is drawn with these values in place of its own."""
    seen = Seen(promo, item, format, item.into, measure, resting=True, ruled=ruled)
    if not seen("shown"):
        return None
    drawn = item.content.draws(seen)
    if drawn is None:
        return None
    said = [op for op in words_in(drawn.ops) if op.words.text.strip()]
    logo = item.media is not None and item.media in promo.brand.logos.values()
    broken = max((_broken(op, measure) for op in said), default=0.0) if "words" in item.content.traits else 0.0
    return Laid(item, turned(drawn.box, drawn.turn), min((op.size for op in said), default=0.0), logo, broken)


def _broken(op: DrawWords, measure: Measure) -> float:
    """How much of the longest word is wider than its line."""
    if op.words.arc:
        return 0.0
    alone = replace(op.words, text=max(op.words.text.split(), key=len), runs=(), box="")
    over = measure(alone, op.size, UNBROKEN)[0] - op.wrap
    return over / op.wrap if over > 1 else 0.0


def turned(box: Box, turn: float) -> Box:
    """The upright box around one that is turned about its middle by so many degrees, clockwise."""
    if not turn % 180:
        return box
    wide, high = abs(cos(radians(turn))), abs(sin(radians(turn)))
    width, height = box.width * wide + box.height * high, box.width * high + box.height * wide
    return Box(box.x + (box.width - width) / 2, box.y + (box.height - height) / 2, width, height)


def around(boxes: Iterable[Box]) -> Box:
    """The box around several; one at least."""
    found = list(boxes)
    left, top = min(box.x for box in found), min(box.y for box in found)
    right, low = max(box.x + box.width for box in found), max(box.y + box.height for box in found)
    return Box(left, top, right - left, low - top)


def seen_span(promo: Promo, item: Item) -> Span:
    """When a layer is on show, up to the promo's end."""
    index = timeline(promo)
    span = index.item_span(item)
    return Span(span.start, min(span.end, max(span.start, index.length)))


def arranges(promo: Promo, item: Item, format: Format) -> bool:
    """Whether the rule may move a layer in a format: not where it was placed by hand there, where its place changes
    over time, where it fills the frame, and where somebody said so."""
    row = PROPERTIES["by_rule"]
    if not row.of & item.content.traits or not item.read("by_rule", format.id):
        return False
    own = item.values_in.get(format.id, {})
    if any(name in own for name in WHERE):
        return False
    if any(isinstance(values.get(name), Curve) for values in (item.values, own) for name in PLACED):
        return False
    if "words" in item.content.traits and item.read("sheet", format.id):
        return False
    return not full(promo, item)


def full(promo: Promo, item: Item) -> bool:
    """Whether a layer is a design that takes the whole frame and is laid out by itself."""
    design = promo.designs.get(item.design or "")
    return design is not None and design.frame == "full"


def backs(laid: Laid, format: Format) -> bool:
    """Whether a layer is so large that it is a ground for the others."""
    wide, high = format.canon
    return not laid.worded and common(laid.box, Box(0, 0, wide, high)) >= BACKDROP * wide * high


def whole(item: Item) -> bool:
    return isinstance(item.anchor, Whole)


def smallest(format: Format) -> float:
    """The smallest letters that are legible in a format, canonical."""
    return format.least_letters * CANON
