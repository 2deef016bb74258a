"""Changing how long something lasts by one of its ends.

```
Trim
main track   |--A--|---B---|--C--|   B's end to 2   →  |--A--|-B-|--C--|      the track closes up
layer        ..[--title--]..         start inwards  →  ....[title]..         the other end stays
```
Clamped to one frame at the least and to what the media holds; sounds may be finer than a frame. What is tied to a clip
stays on the picture it was on when the clip's start is trimmed.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from glowreel.core.commands.base import Command, Context, Outcome, called, in_seconds
from glowreel.core.commands.change import Anchored, map_anchored, map_items, rebuild_scenes
from glowreel.core.commands.roles import Target
from glowreel.core.document import Clip, Free, Item, Picture, Promo, Sound, Tied, Whole
from glowreel.core.errors import Refusal
from glowreel.core.speed import earliest, longest, trimmed
from glowreel.core.time import MAX_TICKS, TICKS_PER_SAMPLE, Length, Rate, ticks
from glowreel.core.timeline import timeline
from glowreel.core.words import Words

Side = Literal["start", "end"]

MAX_STILL = ticks(600)
"""A photo, filler or title lasts at most ten minutes."""


class Trim(Command):
    """Gives a clip, layer or sound a new length by moving its start or its end."""

    do: Literal["trim"] = "trim"
    item: Target
    edge: Side = "end"
    length: Length

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        if self.item in timeline(promo).clip:
            return self._clip(promo)
        return self._item(promo)

    def _clip(self, promo: Promo) -> Outcome:
        clip = timeline(promo).find_clip(self.item)
        length = fitted_clip(promo, clip, self.length, self.edge)
        promo = trim_clip(promo, clip, length, self.edge)
        return Outcome(promo, f"Trimmed {clip.name or 'a clip'} to {in_seconds(length)}", select=(clip.id,))

    def _item(self, promo: Promo) -> Outcome:
        item = timeline(promo).find_item(self.item)
        made = trim_items(promo, {item.id: self.length}, self.edge)
        sentence = f"Trimmed {called(promo, item)} to {in_seconds(timeline(made).item[item.id].length)}"
        return Outcome(made, sentence, select=(item.id,), touched=frozenset({item.id}))


def shifted(part: Clip | Picture | Sound, by: int) -> dict[str, object]:
    """The fields that change when a part of timed media begins `by` ticks later."""
    source_in, speed = trimmed(part.source_in, part.speed, by)
    return {"source_in": source_in, "speed": speed}


def trim_clip(promo: Promo, clip: Clip, length: int, edge: Side) -> Promo:
    """The promo with a clip at a length that it can have. Ties stay on the picture they were on."""
    return trim_clips(promo, {clip.id: length}, edge)


def trim_clips(promo: Promo, lengths: Mapping[str, int], edge: Side) -> Promo:
    """The promo with clips at lengths that they can have, by the same edge. Ties stay on the picture they were on."""
    moved_in: dict[str, int] = {}

    def trimmed_clip(clip: Clip) -> Clip:
        if clip.id not in lengths:
            return clip
        length = lengths[clip.id]
        by = clip.length - length if edge == "start" else 0
        moved_in[clip.id] = by
        media = promo.media.get(clip.media or "")
        further = shifted(clip, by) if by and media is not None and media.length else {}
        return clip.changed(length=length, **further)

    def follow(held: Anchored) -> Anchored:
        by = moved_in.get(held.anchor.clip, 0) if isinstance(held.anchor, Tied) else 0
        if by and isinstance(held.anchor, Tied):
            return held.changed(anchor=held.anchor.changed(offset=max(0, held.anchor.offset - by)))
        return held

    made = rebuild_scenes(promo, [(s, [trimmed_clip(c) for c in s.clips]) for s in promo.scenes])
    return map_anchored(made, follow) if any(moved_in.values()) else made


def trim_items(promo: Promo, lengths: Mapping[str, int], edge: Side) -> Promo:
    """The promo with layers and sounds at lengths as near to the wanted ones as they can have, by the same edge."""
    index = timeline(promo)

    def change(old: Item) -> Item:
        if old.id not in lengths:
            return old
        span = index.item_span(old)
        rate = promo.rate if old.content.kind != "sound" else None
        length = fitted_item(promo, old, span.length, lengths[old.id], edge, rate)
        start = span.start + (span.length - length if edge == "start" else 0)
        if start < 0:
            length, start = length + start, 0
        content = old.content
        if not isinstance(content, Words) and edge == "start" and promo.media[content.media].length:
            content = content.changed(**shifted(content, span.length - length))
        anchor = old.anchor
        if isinstance(anchor, Whole) or (isinstance(anchor, Free) and edge == "start"):
            anchor = Free(at=start)
        elif isinstance(anchor, Tied) and edge == "start":
            anchor = index.tie_under(start)
        return old.changed(content=content, length=length, anchor=anchor)

    return map_items(promo, change)


def fitted_clip(promo: Promo, clip: Clip, wanted: int, edge: Side) -> int:
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


def roll_room(promo: Promo, before: Clip, behind: Clip) -> tuple[int, int]:
    """How far the cut between two neighbours can be moved: earliest (not above 0) and latest, in ticks."""
    together = before.length + behind.length
    earliest_cut = behind.length - fitted_clip(promo, behind, together, "start")
    latest_cut = fitted_clip(promo, before, together, "end") - before.length
    frame = promo.rate.frame
    return max(earliest_cut, frame - before.length), min(latest_cut, behind.length - frame)


def fitted_item(promo: Promo, item: Item, old: int, wanted: int, edge: Side, rate: Rate | None) -> int:
    """The length nearest to the wanted one that an item can have. Ticks."""
    grid = rate.frame if rate else TICKS_PER_SAMPLE
    wanted = max(grid, rate.snap(wanted) if rate else wanted // grid * grid)
    if isinstance(item.content, Words):
        return min(wanted, MAX_STILL)
    part, media = item.content, promo.media[item.content.media]
    if not media.length:
        return min(wanted, MAX_STILL)
    if edge == "end":
        limit = longest(part.source_in, part.speed, media.length, MAX_TICKS)
    else:
        limit = old + earliest(part.source_in, part.speed, media.length, MAX_TICKS)
    if limit < grid:
        raise Refusal("no-more", f"{media.name} has no more to show here.")
    return min(wanted, limit // grid * grid)
