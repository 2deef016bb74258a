"""Promos as templates, and promos made from them.

```
SetFacts   a story of one morning, 4 slots   →  the same, found under “Stories”, exactly 14 s
Renew      made from version 3, two slots filled   →  version 5, with the same two slots filled
```
"""

from __future__ import annotations

from typing import Any, Literal

from glowreel.core.commands.base import Command, Context, Outcome, with_media
from glowreel.core.commands.change import map_parts
from glowreel.core.commands.cutting import replaced
from glowreel.core.commands.remove import without_parts
from glowreel.core.commands.setting import with_words
from glowreel.core.document import Promo
from glowreel.core.errors import Refusal
from glowreel.core.slots import FILLS, SLOT_KINDS, SOURCE, Slot
from glowreel.core.source import Source
from glowreel.core.template.facts import Facts
from glowreel.core.timeline import timeline


class SetFacts(Command):
    """Says of the promo, as a template, what it is for; with the rule `exact`, how long it must be."""

    do: Literal["set-facts"] = "set-facts"
    facts: Facts

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        facts = self.facts
        if facts.rule == "exact" and not facts.length:
            facts = facts.changed(length=timeline(promo).length)
        return Outcome(promo.changed(facts=facts), "Said what the template is for")


class Renew(Command):
    """Takes a newer state of the template that the promo was made from, filled as the promo was. Its name, brand and
    formats stay, and scenes that were left out stay out. For the program alone: it carries a whole promo."""

    do: Literal["renew"] = "renew"
    template: Promo
    version: int

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        origin = promo.origin
        if origin is None:
            raise Refusal("no-template", "This promo was not made from a template.")
        made = self.template.changed(
            id=promo.id, name=promo.name, brand=promo.brand, formats=promo.formats,
            origin=origin.changed(version=self.version, scenes={s.id: s.id for s in self.template.scenes}),
        )  # fmt: skip
        there = {scene.id for scene in promo.scenes}
        left_out = [scene for scene in made.scenes if scene.id in origin.scenes and scene.id not in there]
        for scene in left_out:
            made = without_parts(made, [clip.id for clip in scene.clips]).promo
        lost = []
        filled = {slot.id: slot for slot in promo.slots if slot.filled}
        for slot in made.slots:
            if slot.id in filled:
                try:
                    made = _filled_alike(made, slot, promo, filled[slot.id])
                except Refusal:
                    lost.append(slot.label)
        notice = f"What was filled in here has no place any more: {', '.join(lost)}." if lost else ""
        return Outcome(made, f"Took the newest state of “{origin.name}”", notice=notice)


def held(promo: Promo, slot: Slot) -> Any:
    """What stands in a slot: words, or a source; None where it is empty."""
    part = timeline(promo).find_part(slot.part)
    if SLOT_KINDS[slot.kind].holds == "words":
        return part.read(slot.of)
    return part.source if slot.of == SOURCE else part.fills.get(slot.of.removeprefix(FILLS))


def _filled_alike(made: Promo, slot: Slot, promo: Promo, old: Slot) -> Promo:
    """The promo with a slot of it holding what another promo's slot holds."""
    part, said = timeline(made).find_part(slot.part), held(promo, old)
    if SLOT_KINDS[slot.kind].holds == "words":
        text = str(said or "")
        if slot.most and len(text) > slot.most:
            raise Refusal("too-long", "There is less room for it now.")
        made = with_words(made, part, slot.of, text)
    elif isinstance(said, Source):
        media = promo.media[said.media]
        if slot.of == SOURCE:
            made = replaced(made, part, media, timeline(promo).find_part(old.part).begins, "hold")
        else:
            fills = {**part.fills, slot.of.removeprefix(FILLS): said}
            made = map_parts(with_media(made, media), {part.id}, lambda now: now.changed(fills=fills))
    slots = tuple(other.changed(filled=True) if other.id == slot.id else other for other in made.slots)
    return made.changed(slots=slots)
