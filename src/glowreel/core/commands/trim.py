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
from glowreel.core.commands.change import Held, map_held, replace_clip, replace_item
from glowreel.core.document import Clip, Free, Item, Picture, Promo, Sound, Tied, Whole
from glowreel.core.errors import Refusal
from glowreel.core.speed import earliest, longest, trimmed
from glowreel.core.time import MAX_TICKS, TICKS_PER_SAMPLE, Length, Rate, ticks
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
        length = fitted_clip(promo, clip, self.length, self.edge)
        promo = trim_clip(promo, clip, length, self.edge)
        return Edit(promo, f"Trimmed {clip.name or 'a clip'} to {in_seconds(length)}", select=(clip.id,))

    def _item(self, promo: Promo) -> Edit:
        index = timeline(promo)
        item = index.find_item(self.item)
        span = index.item_span(item)
        rate = promo.rate if item.content.kind != "sound" else None
        length = _fitted_item(promo, item, span.length, self.length, self.edge, rate)
        start = span.start + (span.length - length if self.edge == "start" else 0)
        if start < 0:
            length, start = length + start, 0

        def change(old: Item) -> Item:
            content = old.content
            if not isinstance(content, Words) and self.edge == "start" and promo.media[content.media].length:
                content = content.changed(**shifted(content, span.length - length))
            anchor = old.anchor
            if isinstance(anchor, Whole) or (isinstance(anchor, Free) and self.edge == "start"):
                anchor = Free(at=start)
            elif isinstance(anchor, Tied) and self.edge == "start":
                anchor = index.tie_under(start)
            return old.changed(content=content, length=length, anchor=anchor)

        words = f"Trimmed {called(promo, item)} to {in_seconds(length)}"
        return Edit(replace_item(promo, item.id, change), words, select=(item.id,), touched=frozenset({item.id}))


def shifted(part: Clip | Picture | Sound, by: int) -> dict[str, object]:
    """The fields that change when a part of timed media begins `by` ticks later."""
    source_in, speed = trimmed(part.source_in, part.speed, by)
    return {"source_in": source_in, "speed": speed}


def trim_clip(promo: Promo, clip: Clip, length: int, edge: str) -> Promo:
    """The promo with a clip at a length that it can have. Ties stay on the picture they were on."""
    moved_in = clip.length - length if edge == "start" else 0
    media = promo.media.get(clip.media or "")
    changes: dict[str, object] = {"length": length}
    if moved_in and media is not None and media.length:
        changes |= shifted(clip, moved_in)
    promo = replace_clip(promo, clip.id, lambda c: c.changed(**changes))

    def follow(held: Held) -> Held:
        if moved_in and isinstance(held.anchor, Tied) and held.anchor.clip == clip.id:
            return held.changed(anchor=held.anchor.changed(offset=max(0, held.anchor.offset - moved_in)))
        return held

    return map_held(promo, follow)


def fitted_clip(promo: Promo, clip: Clip, wanted: int, edge: str) -> int:
    """The length nearest to the wanted one that a clip can have. Ticks, whole frames."""
    rate = promo.rate
    wanted = max(rate.frame, rate.snap(wanted))
    media = promo.media.get(clip.media or "")
    if media is None or not media.length:
        return min(wanted, rate.snap(MAX_STILL))
    if edge == "end":
        limit = longest(clip.source_in, clip.speed, media.length, MAX_STILL)
    else:
        more = earliest(clip.source_in, clip.speed, media.length, MAX_STILL)
        limit = clip.length + rate.frame_start(rate.frame_floor(more))
    return max(rate.frame, min(wanted, rate.frame_start(rate.frame_floor(limit))))


def _fitted_item(promo: Promo, item: Item, old: int, wanted: int, edge: str, rate: Rate | None) -> int:
    """The length nearest to the wanted one that an item can have. Ticks."""
    unit = rate.frame if rate else TICKS_PER_SAMPLE
    wanted = max(unit, rate.snap(wanted) if rate else wanted // unit * unit)
    if isinstance(item.content, Words):
        return min(wanted, MAX_STILL)
    part, media = item.content, promo.media[item.content.media]
    if not media.length:
        return min(wanted, MAX_STILL)
    if edge == "end":
        limit = longest(part.source_in, part.speed, media.length, MAX_TICKS)
    else:
        limit = old + earliest(part.source_in, part.speed, media.length, MAX_TICKS)
    if limit < unit:
        raise Refusal("no-more", f"{media.name} has no more to show here.")
    return min(wanted, limit // unit * unit)
