"""Layers in front of the main track: words and pictures, where they lie in time and in the frame.

```
AddWords     main  |--A--|--B--|   at 4 s    →  ......[words]...     tied to the clip under its start
AddPicture   the same with a photo, logo or footage; whole: from the first frame to the last
MoveItem     ..[title].....        at 6 s    →  ......[title].       tied to what lies under it there
TieItem      tied to a clip   ⇄   free at its time   ⇄   over the whole promo
PlaceItem    a box left by a gesture         →  pinned to the nearest corner, edge or middle
AdjustPlace  size 13 %  →  20 %, spot (1, 0) →  pinned to the top right of the safe area
ResetPlace   a place for this format alone   →  the rule for all formats again
SetMotion    comes by rising in 0.5 s, goes by fading in 0.3 s
```
Times and lengths are ticks, on the frame grid; places are fractions of the frame's short side. Refused: sounds where a
picture is needed, starts of what lasts for the whole promo, ties where there is no clip.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome, called, with_media
from glowreel.core.commands.change import map_items, put_item, replace_clip, replace_item
from glowreel.core.commands.rate import with_first_rate
from glowreel.core.commands.roles import FormatId, MediaId, Target, TrackId
from glowreel.core.document import Anchor, Free, Item, Motion, Picture, Promo, Tied, Whole
from glowreel.core.errors import Refusal
from glowreel.core.formats import Format
from glowreel.core.layout import Box, in_safe_area, pinned
from glowreel.core.place import Place
from glowreel.core.time import TICKS_PER_SAMPLE, Length, Ticks, ticks
from glowreel.core.timeline import timeline
from glowreel.core.value import Fraction01
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
    track: TrackId | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
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
        return Outcome(promo, f"Added the words {called(promo, item)}", (item.id,), frozenset({item.id}))


class AddPicture(Command):
    """Puts a photo, logo or footage in front of the main track; `whole` makes it last from start to end."""

    do: Literal["add-picture"] = "add-picture"
    media: MediaId
    at: Ticks = 0
    track: TrackId | None = None
    whole: bool = False

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        media = context.find(self.media)
        if media.kind == "sound":
            raise Refusal("no-picture", f"{media.name} has no picture.", "Drop it on a sound track.")
        promo, notice = with_first_rate(promo, [media])
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
        sentence = f"Added {media.name} as a layer"
        return Outcome(promo, sentence, (item.id,), frozenset({item.id}), notice)


class MoveItem(Command):
    """Gives a layer or sound another start, and another track on request (`new` for one of its own).

    A tied item ties itself to the clip under its new start. Where something lies already, it gets another track.
    """

    do: Literal["move-item"] = "move-item"
    item: Target
    at: Ticks
    track: TrackId | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        index = timeline(promo)
        item = index.find_item(self.item)
        if isinstance(item.anchor, Whole):
            if self.track is None:
                raise Refusal("whole", "This lasts for the whole promo and cannot start elsewhere.", "Trim it first.")
            anchor: Anchor = item.anchor
        else:
            grid = TICKS_PER_SAMPLE
            at = self.at // grid * grid if item.content.kind == "sound" else promo.rate.snap(self.at)
            anchor = index.tie_under(at) if isinstance(item.anchor, Tied) else Free(at=at)
        moved = item.changed(anchor=anchor)
        home = self.track or index.track_of[item.id].id
        if home == index.track_of[item.id].id:
            promo = replace_item(promo, item.id, lambda _: moved)
        else:
            promo = map_items(promo, lambda i: None if i.id == item.id else i)
            promo = put_item(promo, moved, None if home == "new" else home, context.new_id)
        return Outcome(promo, f"Moved {called(promo, item)}", (item.id,), frozenset({item.id}))


class TieItem(Command):
    """Ties an item to the clip under its start, or frees it to stay at its time, or stretches it over the whole."""

    do: Literal["tie-item"] = "tie-item"
    item: Target
    to: Literal["clip", "time", "whole"]

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
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
        return Outcome(promo, f"{verb} {called(promo, item)}", (item.id,), frozenset({item.id}))


def _format_of(promo: Promo, format_id: str) -> Format:
    found = next((f for f in promo.formats if f.id == format_id), None)
    if found is None:
        raise Refusal("gone", "That format is no longer in the promo.", "Choose another one.")
    return found


def _placed(promo: Promo, item: Item, format: Format, place: Place, only: bool) -> Outcome:
    """An item at a place: in this format alone where it has one of its own there already, or gets one."""
    if only or format.id in item.place_in:
        changed = item.changed(place_in={**item.place_in, format.id: place})
    else:
        changed = item.changed(place=place)
    where = f" in {format.name}" if only else ""
    made = replace_item(promo, item.id, lambda _: changed)
    return Outcome(made, f"Placed {called(promo, item)}{where}", (item.id,))


Far = Annotated[float, Field(ge=-8, le=8, allow_inf_nan=False)]


class PlaceItem(Command):
    """Puts an item where a gesture left it: its box, in fractions of the frame's short side, in one format.

    The rule then pins it to the nearest corner, edge or middle, so that the other formats follow. With `only`, they
    do not: the place becomes this format's own.
    """

    do: Literal["place-item"] = "place-item"
    item: Target
    format: FormatId
    x: Far
    y: Far
    width: float = Field(gt=0, le=16, allow_inf_nan=False)
    height: float = Field(gt=0, le=16, allow_inf_nan=False)
    size: float | None = Field(default=None, gt=0.005, le=8, allow_inf_nan=False)
    wrap: float | None = Field(default=None, gt=0.005, le=8, allow_inf_nan=False)
    turn: float | None = Field(default=None, ge=-360, le=360, allow_inf_nan=False)
    only: bool = False

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        item = timeline(promo).find_item(self.item)
        format = _format_of(promo, self.format)
        old = item.place_in.get(format.id, item.place)
        place = pinned(Box(self.x, self.y, self.width, self.height), format, old)
        extra = {"size": self.size, "wrap": self.wrap, "turn": self.turn}
        place = place.changed(**{k: v for k, v in extra.items() if v is not None})
        return _placed(promo, item, format, place, self.only)


class AdjustPlace(Command):
    """Changes numbers of an item's place in one format, or in all of them; fields left out stay as they are.

    `spot` pins it to one of nine points of the safe area: (0, 0) is the top left, (0.5, 0.5) the middle. It grows and
    turns from where it is pinned.
    """

    do: Literal["adjust-place"] = "adjust-place"
    item: Target
    format: FormatId
    only: bool = False
    size: float | None = Field(default=None, gt=0.005, le=8, allow_inf_nan=False)
    wrap: float | None = Field(default=None, gt=0.005, le=8, allow_inf_nan=False)
    turn: float | None = Field(default=None, ge=-360, le=360, allow_inf_nan=False)
    dx: Far | None = None
    dy: Far | None = None
    spot: tuple[Fraction01, Fraction01] | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        item = timeline(promo).find_item(self.item)
        format = _format_of(promo, self.format)
        old = item.place_in.get(format.id, item.place)
        numbers = self.model_dump(include={"size", "wrap", "turn", "dx", "dy"}, exclude_none=True)
        if self.spot is not None:
            dx, dy = in_safe_area(format, self.spot)
            numbers |= {"item": self.spot, "frame": self.spot, "dx": dx, "dy": dy}
        return _placed(promo, item, format, old.changed(**numbers), self.only)


class ResetPlace(Command):
    """Drops a format's own place for an item, or framing for a clip, so that it follows the others again."""

    do: Literal["reset-place"] = "reset-place"
    item: Target
    format: FormatId

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        index = timeline(promo)
        if self.item in index.clip:
            clip = index.clip[self.item]
            ways = {key: framing for key, framing in clip.framing_in.items() if key != self.format}
            made = replace_clip(promo, clip.id, lambda c: c.changed(framing_in=ways))
            return Outcome(made, f"{clip.name} follows the other formats again", (clip.id,))
        item = index.find_item(self.item)
        rest = {key: place for key, place in item.place_in.items() if key != self.format}
        promo = replace_item(promo, item.id, lambda i: i.changed(place_in=rest))
        return Outcome(promo, f"{called(promo, item)} follows the other formats again", (item.id,))


class SetMotion(Command):
    """How a layer comes and goes, and how see-through it is."""

    do: Literal["set-motion"] = "set-motion"
    item: Target
    arrives: Motion | None = None
    arrive_length: Ticks | None = None
    leaves: Motion | None = None
    leave_length: Ticks | None = None
    opacity: float | None = Field(default=None, ge=0, le=1)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        item = timeline(promo).find_item(self.item)
        changes = self.model_dump(exclude={"do", "item"}, exclude_none=True)
        for motion, length in (("arrives", "arrive_length"), ("leaves", "leave_length")):
            if changes.get(motion, "none") != "none" and not getattr(item, length) and length not in changes:
                changes[length] = promo.rate.snap(ticks(0.5))
        promo = replace_item(promo, item.id, lambda i: i.changed(**changes))
        return Outcome(promo, f"Set how {called(promo, item)} moves", (item.id,))
