"""Details of slots: what of a part whoever uses the template is asked for, and within which limits."""

from __future__ import annotations

from collections.abc import Iterable

from glowreel.core.commands.slots import fillable
from glowreel.core.document import Part, Promo
from glowreel.core.slots import SLOT_KINDS
from glowreel.core.template.build import kind_of_field
from glowreel.web.editor.details.control import Control


def slot_controls(promo: Promo, part: Part) -> Iterable[Control]:
    """A press for each thing that can be asked for; what is asked for already, with its label and limits."""
    there = {slot.of: slot for slot in promo.slots if slot.part == part.id}
    for of, holds, label in fillable(promo, part):
        key, slot = of.replace(".", "-"), there.get(of)
        if slot is None:
            name = of.rsplit(".", 1)[-1]
            kind = kind_of_field(name, "text" if holds == "words" else "picture") if holds != "sound" else "sound"
            ask = {"do": "mark-slot", "item": part.id, "of": of, "kind": kind, "label": label}
            yield Control(f"q-{key}", "", "press", f"Ask for {label.lower()}", ask, find="slot template fill")
            continue
        told = {"do": "mark-slot", "item": part.id, **slot.model_dump(include={"of", "kind", "label", "hint", "most",
                "least", "optional"})}  # fmt: skip
        kinds = tuple((kind, kind.capitalize()) for kind, row in SLOT_KINDS.items() if row.holds == holds)
        yield Control(f"q-{key}-label", "Asks for", "line", slot.label, told, "label", find="slot template fill")
        yield Control(f"q-{key}-kind", "Kind", "choice", slot.kind, told, "kind", choices=kinds)
        yield Control(f"q-{key}-hint", "Hint", "line", slot.hint, told, "hint", empty=True)
        if holds == "words":
            yield Control(f"q-{key}-most", "Letters", "number", float(slot.most), told, "most", sent="number", high=600,
                          hint="0: as many as they like")  # fmt: skip
        yield Control(f"q-{key}-free", "May be left", "flag", slot.optional, told, "optional")
        gone = {"do": "unmark-slot", "slot": slot.id}
        yield Control(f"q-{key}-off", "", "press", f"Do not ask for {label.lower()}", gone)
