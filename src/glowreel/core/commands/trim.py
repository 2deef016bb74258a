"""Changing how long something lasts by one of its ends.

```
main track   |--A--|---B---|--C--|   B's end to 2   →  |--A--|-B-|--C--|      the track closes up
layer        ..[--title--]..         start inwards  →  ....[title]..         the other end stays
```
Clamped to one frame at the least and to what the media holds; sounds may be finer than a frame. What is tied to a clip
stays on the picture it was on when the clip's start is trimmed.
"""

from __future__ import annotations

from typing import Literal

from glowreel.core.commands.base import Command, Context, Edit, called, in_seconds
from glowreel.core.commands.change import map_items, replace_clip, replace_item
from glowreel.core.document import Clip, Free, Item, Promo, Tied, Whole
from glowreel.core.errors import Refusal
from glowreel.core.time import TICKS_PER_SAMPLE, Length, Rate, ticks
from glowreel.core.timeline import timeline
from glowreel.core.value import Id
from glowreel.core.words import Words

MAX_STILL = ticks(600)
"""A photo, filler or title lasts at most ten minutes."""


class Trim(Command):
    """Gives a clip, layer or sound a new length by moving its start or its end."""

    do: Literal["trim"] = "trim"
    item: Id
    edge: Literal["start", "end"] = "end"
    length: Length

    def edit(self, promo: Promo, context: Context) -> Edit:
        if self.item in timeline(promo).clip:
            return self._clip(promo)
        return self._item(promo)

    def _clip(self, promo: Promo) -> Edit:
        clip = timeline(promo).find_clip(self.item)
        length, shift = _fitted(promo, clip, self.length, self.edge)
        promo = replace_clip(promo, clip.id, lambda c: c.changed(length=length, source_in=c.source_in + shift))
        moved_in = clip.length - length if self.edge == "start" else 0

        def follow(item: Item) -> Item:
            if moved_in and isinstance(item.anchor, Tied) and item.anchor.clip == clip.id:
                return item.changed(anchor=item.anchor.changed(offset=max(0, item.anchor.offset - moved_in)))
            return item

        promo = map_items(promo, follow)
        return Edit(promo, f"Trimmed {clip.name or 'a clip'} to {in_seconds(length)}", select=(clip.id,))

    def _item(self, promo: Promo) -> Edit:
        index = timeline(promo)
        item = index.find_item(self.item)
        span = index.item_span(item)
        rate = promo.rate if item.content.kind != "sound" else None
        length, shift = _fitted_item(promo, item, span.length, self.length, self.edge, rate)
        start = span.start + (span.length - length if self.edge == "start" else 0)
        if start < 0:
            length, start = length + start, 0

        def change(old: Item) -> Item:
            content = old.content
            if not isinstance(content, Words) and shift:
                content = content.changed(source_in=content.source_in + shift)
            anchor = old.anchor
            if isinstance(anchor, Whole) or (isinstance(anchor, Free) and self.edge == "start"):
                anchor = Free(at=start)
            elif isinstance(anchor, Tied) and self.edge == "start":
                anchor = index.tie_under(start)
            return old.changed(content=content, length=length, anchor=anchor)

        words = f"Trimmed {called(promo, item)} to {in_seconds(length)}"
        return Edit(replace_item(promo, item.id, change), words, select=(item.id,), touched=frozenset({item.id}))


def _fitted(promo: Promo, clip: Clip, wanted: int, edge: str) -> tuple[int, int]:
    """The length a clip can have, and how far its source start shifts. Ticks."""
    rate = promo.rate
    wanted = max(rate.frame, rate.snap(wanted))
    media = promo.media.get(clip.media or "")
    if media is None or media.still:
        return min(wanted, rate.snap(MAX_STILL)), 0
    if edge == "end":
        limit = rate.frame_start(rate.frame_floor(media.length - clip.source_in))
        return max(rate.frame, min(wanted, limit)), 0
    limit = clip.length + rate.frame_start(rate.frame_floor(clip.source_in))
    length = min(wanted, limit)
    return length, clip.length - length


def _fitted_item(promo: Promo, item: Item, old: int, wanted: int, edge: str, rate: Rate | None) -> tuple[int, int]:
    """The length an item can have, and how far its source start shifts. Ticks."""
    unit = rate.frame if rate else TICKS_PER_SAMPLE
    wanted = max(unit, rate.snap(wanted) if rate else wanted // unit * unit)
    if isinstance(item.content, Words):
        return min(wanted, MAX_STILL), 0
    media = promo.media[item.content.media]
    if not media.length:
        return min(wanted, MAX_STILL), 0
    source_in = item.content.source_in
    limit = media.length - source_in if edge == "end" else old + source_in
    if limit < unit:
        raise Refusal("no-more", f"{media.name} has no more to show here.")
    length = min(wanted, limit // unit * unit)
    return length, (old - length if edge == "start" else 0)
