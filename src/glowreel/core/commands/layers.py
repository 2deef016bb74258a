"""Layers in front of the main track: words and pictures, where they lie in time and in the frame."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Edit, called, with_media
from glowreel.core.commands.change import map_items, put_item, replace_item
from glowreel.core.document import Anchor, Free, Item, Motion, Picture, Promo, Tied, Whole
from glowreel.core.errors import Refusal
from glowreel.core.layout import Box, pinned
from glowreel.core.place import Place
from glowreel.core.time import TICKS_PER_SAMPLE, Length, Ticks, ticks
from glowreel.core.timeline import timeline
from glowreel.core.value import Id
from glowreel.core.words import MAX_LETTERS, Words

TITLE_PLACE = Place(item=(0.0, 1.0), frame=(0.0, 1.0), dx=0.09, dy=-0.12, size=0.13, wrap=0.92)
PICTURE_PLACE = Place(item=(1.0, 0.0), frame=(1.0, 0.0), dx=-0.07, dy=0.07, size=0.4)


def start_anchor(promo: Promo, at: int) -> Anchor:
    """Where a new layer begins: on the frame at `at`, tied to the clip under it; before the end, so that it is seen."""
    index = timeline(promo)
    at = promo.rate.frame_start(promo.rate.frame_floor(at))
    if index.main_length and at >= index.main_length:
        at = max(0, index.main_length - promo.rate.snap(ticks(3)))
    return index.tie_under(at)


class AddWords(Command):
    """Puts a title at a time, tied to the clip under it."""

    do: Literal["add-words"] = "add-words"
    text: str = Field(default="Your words", max_length=MAX_LETTERS)
    at: Ticks = 0
    length: Length = ticks(3)
    track: Id | None = None

    def edit(self, promo: Promo, context: Context) -> Edit:
        item = Item(
            id=context.new_id("i"),
            anchor=start_anchor(promo, self.at),
            length=max(promo.rate.frame, promo.rate.snap(self.length)),
            content=Words(text=self.text),
            place=TITLE_PLACE,
            arrives="rise",
            arrive_length=promo.rate.snap(ticks(0.5)),
            leaves="fade",
            leave_length=promo.rate.snap(ticks(0.3)),
        )
        promo = put_item(promo, item, self.track, context.new_id)
        return Edit(promo, f"Added the words {called(promo, item)}", (item.id,), frozenset({item.id}))


class AddPicture(Command):
    """Puts a photo, logo or footage in front of the main track; `whole` makes it last from start to end."""

    do: Literal["add-picture"] = "add-picture"
    media: Id
    at: Ticks = 0
    track: Id | None = None
    whole: bool = False

    def edit(self, promo: Promo, context: Context) -> Edit:
        media = context.find(self.media)
        if media.kind == "sound":
            raise Refusal("no-picture", f"{media.name} has no picture.", "Drop it on a sound track.")
        promo = with_media(promo, media)
        rate = promo.rate
        length = (
            rate.snap(ticks(3)) if media.still else max(rate.frame, rate.frame_start(rate.frame_floor(media.length)))
        )
        anchor: Anchor = Whole() if self.whole else start_anchor(promo, self.at)
        item = Item(
            id=context.new_id("i"), anchor=anchor, length=length, content=Picture(media=media.id), place=PICTURE_PLACE
        )
        promo = put_item(promo, item, self.track, context.new_id)
        return Edit(promo, f"Added {media.name} as a layer", (item.id,), frozenset({item.id}))


class MoveItem(Command):
    """Gives a layer or sound another start, and another track on request (`new` for one of its own).

    A tied item ties itself to the clip under its new start. Where something lies already, it gets another track.
    """

    do: Literal["move-item"] = "move-item"
    item: Id
    at: Ticks
    track: Id | None = None

    def edit(self, promo: Promo, context: Context) -> Edit:
        index = timeline(promo)
        item = index.find_item(self.item)
        if isinstance(item.anchor, Whole):
            if self.track is None:
                raise Refusal("whole", "This lasts for the whole promo and cannot start elsewhere.", "Trim it first.")
            anchor: Anchor = item.anchor
        else:
            unit = TICKS_PER_SAMPLE
            at = self.at // unit * unit if item.content.kind == "sound" else promo.rate.snap(self.at)
            anchor = index.tie_under(at) if isinstance(item.anchor, Tied) else Free(at=at)
        moved = item.changed(anchor=anchor)
        home = self.track or index.track_of[item.id].id
        if home == index.track_of[item.id].id:
            promo = replace_item(promo, item.id, lambda _: moved)
        else:
            promo = map_items(promo, lambda i: None if i.id == item.id else i)
            promo = put_item(promo, moved, None if home == "new" else home, context.new_id)
        return Edit(promo, f"Moved {called(promo, item)}", (item.id,), frozenset({item.id}))


class TieItem(Command):
    """Ties an item to the clip under its start, or frees it to stay at its time, or stretches it over the whole."""

    do: Literal["tie-item"] = "tie-item"
    item: Id
    to: Literal["clip", "time", "whole"]

    def edit(self, promo: Promo, context: Context) -> Edit:
        index = timeline(promo)
        item = index.find_item(self.item)
        span = index.item_span(item)
        anchor: Anchor = Whole()
        if self.to == "clip":
            anchor = index.tie_under(span.start)
            if isinstance(anchor, Free):
                raise Refusal("nothing-under", "There is no clip under its start to tie it to.", "Move it first.")
        elif self.to == "time":
            anchor = Free(at=span.start)
        verb = {"clip": "Tied", "time": "Freed", "whole": "Stretched"}[self.to]
        changed = item.changed(anchor=anchor, length=span.length)
        promo = replace_item(promo, item.id, lambda _: changed)
        return Edit(promo, f"{verb} {called(promo, item)}", (item.id,), frozenset({item.id}))


Far = Annotated[float, Field(ge=-8, le=8, allow_inf_nan=False)]


class PlaceItem(Command):
    """Puts an item where a gesture left it: its box, in fractions of the frame's short side, in one format.

    The rule then pins it to the nearest corner, edge or middle, so that the other formats follow. With `only`, they
    do not: the place becomes this format's own.
    """

    do: Literal["place-item"] = "place-item"
    item: Id
    format: Id
    x: Far
    y: Far
    width: float = Field(gt=0, le=16, allow_inf_nan=False)
    height: float = Field(gt=0, le=16, allow_inf_nan=False)
    size: float | None = Field(default=None, gt=0.005, le=8, allow_inf_nan=False)
    wrap: float | None = Field(default=None, gt=0.005, le=8, allow_inf_nan=False)
    turn: float | None = Field(default=None, ge=-360, le=360, allow_inf_nan=False)
    only: bool = False

    def edit(self, promo: Promo, context: Context) -> Edit:
        item = timeline(promo).find_item(self.item)
        shape = next((f for f in promo.formats if f.id == self.format), None)
        if shape is None:
            raise Refusal("gone", "That format is no longer in the promo.", "Choose another one.")
        old = item.place_in.get(shape.id, item.place)
        place = pinned(Box(self.x, self.y, self.width, self.height), shape, old)
        extra = {"size": self.size, "wrap": self.wrap, "turn": self.turn}
        place = place.changed(**{k: v for k, v in extra.items() if v is not None})
        if self.only or shape.id in item.place_in:
            changed = item.changed(place_in={**item.place_in, shape.id: place})
        else:
            changed = item.changed(place=place)
        promo = replace_item(promo, item.id, lambda _: changed)
        where = f" in {shape.name}" if self.only else ""
        return Edit(promo, f"Placed {called(promo, item)}{where}", (item.id,))


class ResetPlace(Command):
    """Drops a format's own place for an item, so that it follows the others again."""

    do: Literal["reset-place"] = "reset-place"
    item: Id
    format: Id

    def edit(self, promo: Promo, context: Context) -> Edit:
        item = timeline(promo).find_item(self.item)
        rest = {key: place for key, place in item.place_in.items() if key != self.format}
        promo = replace_item(promo, item.id, lambda i: i.changed(place_in=rest))
        return Edit(promo, f"{called(promo, item)} follows the other formats again", (item.id,))


class SetMotion(Command):
    """How a layer comes and goes, and how see-through it is."""

    do: Literal["set-motion"] = "set-motion"
    item: Id
    arrives: Motion | None = None
    arrive_length: Ticks | None = None
    leaves: Motion | None = None
    leave_length: Ticks | None = None
    opacity: float | None = Field(default=None, ge=0, le=1)

    def edit(self, promo: Promo, context: Context) -> Edit:
        item = timeline(promo).find_item(self.item)
        changes = self.model_dump(exclude={"do", "item"}, exclude_none=True)
        for motion, length in (("arrives", "arrive_length"), ("leaves", "leave_length")):
            if changes.get(motion, "none") != "none" and not getattr(item, length) and length not in changes:
                changes[length] = promo.rate.snap(ticks(0.5))
        promo = replace_item(promo, item.id, lambda i: i.changed(**changes))
        return Edit(promo, f"Set how {called(promo, item)} moves", (item.id,))
