"""What differs in one format from all others, listed for people."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from glowreel.core.arrangement import ruled
from glowreel.core.commands.base import called
from glowreel.core.content.values import FIELD
from glowreel.core.document import Part, Promo
from glowreel.core.formats import Format
from glowreel.core.layout import Measure
from glowreel.core.properties import PROPERTIES
from glowreel.core.timeline import timeline

LONGEST = 60
"""How many letters of a value are shown."""


@dataclass(frozen=True)
class Change:
    """One property of a part that a format has for itself: what it is called, and what it says here and elsewhere."""

    name: str
    label: str
    here: str
    usual: str


@dataclass(frozen=True)
class Differing:
    """A part that differs in a format, when it begins, and in what."""

    part: str
    called: str
    at: int
    changes: Sequence[Change]


def own_changes(promo: Promo, format: Format) -> list[Differing]:
    """The parts that differ in a format by what somebody set, in the order in which they are on show."""
    index, found = timeline(promo), []
    for part in (*promo.clips, *promo.items):
        own = part.values_in.get(format.id, {})
        if own:
            span = index.clip_span.get(part.id) or index.item_span(index.find_item(part.id))
            changes = [_change(part, name, own) for name in own]
            found.append(Differing(part.id, called(promo, part), span.start, changes))
    return sorted(found, key=lambda one: one.at)


def _change(part: Part, name: str, own: Mapping[str, Any]) -> Change:
    if name in PROPERTIES:
        row = PROPERTIES[name]
        return Change(name, row.label, _short(row.say(own[name])), _short(row.say(part.set_to(name))))
    label = name.removeprefix(FIELD).replace("_", " ").capitalize()
    return Change(name, label, _short(str(own[name])), _short(str(part.set_to(name) or "as designed")))


def _short(text: str) -> str:
    return text if len(text) <= LONGEST else f"{text[: LONGEST - 1]}…"


def moved_by_rule(promo: Promo, format: Format, measure: Measure) -> list[str]:
    """What the parts are called that the rule lays out anew in a format."""
    rules = ruled(promo, format, measure)
    return [called(promo, item) for track in promo.layers for item in track.items if rules.of(item)]
