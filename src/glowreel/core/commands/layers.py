"""Layers in front of the main track: words and pictures, and where they lie in time.

```
AddWords     main  |--A--|--B--|   at 4 s    →  ......[words]...     tied to the clip under its start
AddPicture   the same with a photo, logo or footage; whole: from the first frame to the last
MoveItem     ..[title].....        at 6 s    →  ......[title].       tied to what lies under it there
TieItem      tied to a clip   ⇄   free at its time   ⇄   over the whole promo
```
Times and lengths are ticks, on the frame grid. Refused: sounds where a picture is needed, starts of what lasts for the
whole promo, ties where there is no clip.
"""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome, called, with_media
from glowreel.core.commands.change import map_items, put_item, replace_item
from glowreel.core.commands.rate import with_first_rate
from glowreel.core.commands.roles import MediaId, Target, TrackId
from glowreel.core.commands.styles import style_values
from glowreel.core.commands.trim import on_grid
from glowreel.core.document import Anchor, Free, Item, Promo, Tied, Whole
from glowreel.core.errors import Refusal
from glowreel.core.source import Source
from glowreel.core.time import Length, Ticks, ticks
from glowreel.core.timeline import timeline
from glowreel.core.watermark import placed
from glowreel.core.words import MAX_LETTERS

TITLE = {"pin": (0.0, 1.0), "place": (0.09, -0.12), "arrives": "rise", "leaves": "fade"}
PICTURE = {"pin": (1.0, 0.0), "place": (-0.07, 0.07)}
"""How new layers stand."""
FIRST_STYLE = "heading"
"""The text style in which new words of a brand begin."""


def start_anchor(promo: Promo, at: int) -> Anchor:
    """Where a new layer begins: on the frame at `at`, tied to the clip under it; before the end, so that it is seen."""
    index = timeline(promo)
    at = promo.rate.frame_start(promo.rate.frame_floor(at))
    if index.main_length and at >= index.main_length:
        at = max(0, index.main_length - promo.rate.snap(ticks(3)))
    return index.tie_under(at)


def _first_look(promo: Promo) -> dict[str, Any]:
    """How new words look: as headings of the promo's brand, coming and going in its manner, where it has one."""
    if promo.brand.origin is None:
        return dict(TITLE)
    manner = {"arrives": promo.brand.manner.arrives, "leaves": promo.brand.manner.leaves}
    ways = {name: way for name, way in manner.items() if way}
    return {**TITLE, **style_values(promo, FIRST_STYLE), "style": FIRST_STYLE, **ways}


class AddWords(Command):
    """Puts a title at a time, tied to the clip under it, in the manner of the promo's brand."""

    do: Literal["add-words"] = "add-words"
    text: str = Field(default="Your words", max_length=MAX_LETTERS)
    at: Ticks = 0
    length: Length = ticks(3)
    track: TrackId | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        rate = promo.rate
        ways = {"arrive_length": rate.snap(ticks(0.5)), "leave_length": rate.snap(ticks(0.3))}
        item = Item(
            id=context.new_id("i"), kind="words", anchor=start_anchor(promo, self.at),
            length=max(rate.frame, rate.snap(self.length)), values={**_first_look(promo), **ways, "text": self.text},
        )  # fmt: skip
        promo = put_item(promo, item, self.track, context.new_id)
        return Outcome(promo, f"Added the words {called(promo, item)}", (item.id,), frozenset({item.id}))


class AddPicture(Command):
    """Puts a photo, logo or footage in front of the main track; `whole` makes it last from start to end. A logo of the
    promo's brand goes to the brand's corner, as large as it is there, and lasts from start to end."""

    do: Literal["add-picture"] = "add-picture"
    media: MediaId
    at: Ticks = 0
    track: TrackId | None = None
    whole: bool = False

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        media = context.find(self.media)
        if not media.pictured:
            raise Refusal("no-picture", f"{media.name} has no picture.", "Choose footage or a photo.")
        promo, notice = with_first_rate(promo, [media])
        promo = with_media(promo, media)
        rate = promo.rate
        length = (
            rate.snap(ticks(3)) if media.still else max(rate.frame, rate.frame_start(rate.frame_floor(media.length)))
        )
        logo = media.id in promo.brand.logos.values()
        anchor: Anchor = Whole() if self.whole or logo else start_anchor(promo, self.at)
        item = Item(
            id=context.new_id("i"), kind="picture", anchor=anchor, length=length, source=Source(media=media.id),
            values=placed(promo.brand.watermark, media) if logo else PICTURE,
        )  # fmt: skip
        promo = put_item(promo, item, self.track, context.new_id)
        if logo:
            notice = "The logo lasts the whole promo, in the brand’s corner. Drag or trim it to have it otherwise."
        sentence = f"Put {media.name} into the brand’s corner" if logo else f"Added {media.name} as a layer"
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
            at = on_grid(promo, item, self.at)
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
