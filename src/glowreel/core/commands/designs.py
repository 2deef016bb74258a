"""Designs: putting one on, and filling the pictures in it. What other fields say is set by `Set`, as `field.<name>`.

```
AddDesign    at 4 s        →  ......[design].......      its description goes into the promo, so that it is complete
SwitchDesign “Up at dawn” →  [Up at dawn]              words, or a design, in another design: they say the same
FillPicture  [▨][▨]  left  →  [photo][▨]                 without material: the cell is empty again
```
Refused: designs there are not, fields that hold no picture, sounds where a picture is needed.
"""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome, called, with_media
from glowreel.core.commands.change import map_parts, put_item
from glowreel.core.commands.layers import start_anchor
from glowreel.core.commands.roles import MediaId, Reference, Target, TrackId
from glowreel.core.commands.setting import reason
from glowreel.core.design import Design
from glowreel.core.document import Item, Part, Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.media import Media
from glowreel.core.setting import row_of
from glowreel.core.source import Source, Spot
from glowreel.core.time import Ticks, ticks
from glowreel.core.timeline import timeline

STANDS = {"pin": (0.0, 1.0), "place": (0.09, -0.12)}
"""Where a new design that does not fill the frame stands."""


class AddDesign(Command):
    """Puts a design at a time, tied to the clip under it, as long as it says; `fields` are what its fields say. With
    `like`, it says what those words or that design say."""

    do: Literal["add-design"] = "add-design"
    design: str = Field(max_length=40)
    at: Ticks = 0
    track: TrackId | None = None
    fields: dict[str, str] = Field(default={}, max_length=30)
    like: Reference | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        design = context.designs.get(self.design) or promo.designs.get(self.design)
        if design is None:
            raise Missing("no-design", f"There is no design called “{self.design}”.", "Choose another one.")
        values: dict[str, Any] = {} if design.frame == "full" else dict(STANDS)
        try:
            for name, said in self.fields.items():
                row = design.row(name)
                if row is None:
                    raise Refusal("no-field", f"{design.name} has no field called “{name}”.", "Leave it out.")
                values[f"field.{name}"] = row.check(said)
        except ValueError as error:
            raise Refusal("bad-value", f"That cannot be: {reason(error)}.", "Choose another value.") from error
        if self.like is not None:
            values = {**said_by(promo, timeline(promo).find_part(self.like), design), **values}
        values = with_samples(design, values)
        item = Item(
            id=context.new_id("i"), kind="design", name=design.name, design=design.id,
            anchor=start_anchor(promo, self.at), values=values,
            length=max(promo.rate.frame, promo.rate.snap(ticks(design.length))),
        )  # fmt: skip
        known = promo.changed(designs={**promo.designs, design.id: promo.designs.get(design.id, design)})
        made = put_item(known, item, self.track, context.new_id)
        return Outcome(made, f"Put on the design {design.name}", (item.id,), frozenset({item.id}))


def with_samples(design: Design, values: dict[str, Any]) -> dict[str, Any]:
    """What stands in a design until it is filled is kept with the part, so that it is found and can be changed."""
    return {**{row.name: row.default for row in design.rows()}, **values}


def said_by(promo: Promo, part: Part, design: Design) -> dict[str, Any]:
    """What words or another design say, for the fields of a design: in their order, each no longer than it may be.
    Where there is less to be said than there are fields, the others say nothing; colours are as the design has them."""
    old = promo.designs.get(part.design or "")
    if old is not None:
        lines = [str(part.read(f"field.{name}") or "") for name, field in old.fields.items() if field.kind == "text"]
    elif "words" in part.content.traits:
        lines = str(part.read("text")).split("\n")
    else:
        return {}
    lines = [line.strip() for line in lines if line.strip()]
    fields = [(name, field) for name, field in design.fields.items() if field.kind == "text"]
    if not lines or not fields:
        return {}
    if len(lines) > len(fields):
        lines = [*lines[: len(fields) - 1], " ".join(lines[len(fields) - 1 :])]
    return {
        f"field.{name}": (lines[n] if n < len(lines) else "")[: field.most] for n, (name, field) in enumerate(fields)
    }


KEPT = frozenset({"pin", "place", "turn", "opacity", "shown", "blend"})
"""What a thing keeps of its own when it becomes a design."""


class SwitchDesign(Command):
    """Gives words, or a design, another design: what they say, where they stand and how long they last stays."""

    do: Literal["switch-design"] = "switch-design"
    item: Target
    design: str = Field(max_length=40)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        design = context.designs.get(self.design) or promo.designs.get(self.design)
        if design is None:
            raise Missing("no-design", f"There is no design called “{self.design}”.", "Choose another one.")
        part = timeline(promo).find_item(self.item)
        if not part.content.traits & {"words", "design"}:
            raise Refusal("no-words", f"{called(promo, part)} says nothing that a design could say.", "Choose words.")
        free = design.frame == "full"
        kept = {name: value for name, value in part.values.items() if name in KEPT and not free}
        values = with_samples(design, {**kept, **said_by(promo, part, design)})
        own = {
            format: {name: value for name, value in given.items() if name in KEPT and not free}
            for format, given in part.values_in.items()
        }
        pictures = [name for name, field in design.fields.items() if field.kind == "picture"]
        fills = dict(zip(pictures, part.fills.values(), strict=False))
        known = promo.changed(designs={**promo.designs, design.id: promo.designs.get(design.id, design)})
        made = map_parts(known, {part.id}, lambda old: old.changed(
            kind="design", name=design.name, design=design.id, values=values, values_in=own, fills=fills,
        ))  # fmt: skip
        return Outcome(made, f"Gave {called(promo, part)} the design {design.name}", (part.id,), frozenset({part.id}))


class FillPicture(Command):
    """Puts material in a picture of a design, in the mask of something or behind it, from `source_in` on; without
    material, the place is empty again."""

    do: Literal["fill-picture"] = "fill-picture"
    item: Target
    name: str = Field(max_length=40)
    media: MediaId | None = None
    source_in: Ticks = 0
    focus: Spot = (0.5, 0.5)
    cut: bool = False

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        part = timeline(promo).find_part(self.item)
        label = _place(promo, part, self.name)
        if self.media is None:
            fills = {name: fill for name, fill in part.fills.items() if name != self.name}
            made = map_parts(promo, {part.id}, lambda old: old.changed(fills=fills))
            return Outcome(made, f"Emptied {label} of {called(promo, part)}", (part.id,))
        media = context.find(self.media)
        made = filled_picture(promo, part, self.name, media, self.source_in, self.focus, self.cut)
        return Outcome(made, f"Put {media.name} in {label} of {called(promo, part)}", (part.id,))


BESIDES = {"mask": "the mask", "ground": "what lies behind", "filter": "the look", "letters_of": "its letters"}
"""Files that a part may hold besides its own, by the property that shows them, and how they are spoken of."""


def _place(promo: Promo, part: Part, name: str) -> str:
    """How a place for a picture is spoken of; a refusal where a part has none of that name."""
    if name in BESIDES and row_of(part, name) is not None:
        return BESIDES[name]
    design = promo.designs.get(part.design or "")
    field = design.fields.get(name) if design is not None else None
    if field is None or field.kind != "picture":
        raise Refusal("no-field", f"{called(promo, part)} has no place for a picture called “{name}”.")
    return field.label.lower()


def filled_picture(
    promo: Promo, part: Part, name: str, media: Media, source_in: int, focus: Spot = (0.5, 0.5), cut: bool = False
) -> Promo:
    """The promo with material in a picture that a part holds, from a time of it on, cropped about a point of it; with
    `cut`, only the thing in a photo."""
    _place(promo, part, name)
    if name == "filter":
        if media.kind != "look":
            raise Refusal("no-look", f"{media.name} is no table of colours.", "Choose a .cube file.")
        look = Source(media=media.id)
        return map_parts(
            with_media(promo, media), {part.id},
            lambda old: old.having(filter="file").changed(fills={**old.fills, name: look}),
        )  # fmt: skip
    if not media.pictured:
        raise Refusal("no-picture", f"{media.name} has no picture.", "Choose footage or a photo.")
    at = min(source_in, max(0, media.length - 1)) - part.into
    source = Source(media=media.id, at=at, focus=focus, cut=cut)
    known = with_media(promo, media)
    return map_parts(known, {part.id}, lambda old: old.changed(fills={**old.fills, name: source}))
