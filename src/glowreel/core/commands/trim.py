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

from glowreel.core.anchors import after_beginning
from glowreel.core.commands.base import Command, Context, Outcome, called, in_seconds
from glowreel.core.commands.change import map_items, rebuild_scenes
from glowreel.core.commands.roles import Target
from glowreel.core.document import Clip, Free, Item, Promo, Tied, Whole
from glowreel.core.errors import Refusal
from glowreel.core.time import MAX_TICKS, TICKS_PER_SAMPLE, Length, ticks
from glowreel.core.timeline import timeline

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
        return clip.changed(length=length, into=clip.into + by)

    made = rebuild_scenes(promo, [(s, [trimmed_clip(c) for c in s.clips]) for s in promo.scenes])
    return after_beginning(made, moved_in)


def trim_items(promo: Promo, lengths: Mapping[str, int], edge: Side) -> Promo:
    """The promo with layers and sounds at lengths as near to the wanted ones as they can have, by the same edge."""
    index = timeline(promo)

    def change(old: Item) -> Item:
        if old.id not in lengths:
            return old
        span = index.item_span(old)
        length = fitted_item(promo, old, span.length, lengths[old.id], edge)
        start = span.start + (span.length - length if edge == "start" else 0)
        if start < 0:
            length, start = length + start, 0
        into = old.into + (span.length - length if edge == "start" else 0)
        anchor = old.anchor
        if isinstance(anchor, Whole) or (isinstance(anchor, Free) and edge == "start"):
            anchor = Free(at=start)
        elif isinstance(anchor, Tied) and edge == "start":
            anchor = index.tie_under(start)
        return old.changed(into=into, length=length, anchor=anchor)

    return map_items(promo, change)


def fitted_clip(promo: Promo, clip: Clip, wanted: int, edge: Side) -> int:
    """The length nearest to the wanted one that a clip can have. Ticks, whole frames."""
    rate = promo.rate
    wanted = max(rate.frame, rate.snap(wanted))
    media, source = promo.media.get(clip.media or ""), clip.source
    if media is None or source is None or not media.length:
        return min(wanted, rate.snap(MAX_STILL))
    if edge == "end":
        limit = source.longest(clip.into, media.length, MAX_STILL)
    else:
        more = source.earliest(clip.into, media.length, MAX_STILL)
        limit = clip.length + rate.frame_start(rate.frame_floor(more))
    return max(rate.frame, min(wanted, rate.frame_start(rate.frame_floor(limit))))


def roll_room(promo: Promo, before: Clip, behind: Clip) -> tuple[int, int]:
    """How far the cut between two neighbours can be moved: earliest (not above 0) and latest, in ticks."""
    together = before.length + behind.length
    earliest_cut = behind.length - fitted_clip(promo, behind, together, "start")
    latest_cut = fitted_clip(promo, before, together, "end") - before.length
    frame = promo.rate.frame
    return max(earliest_cut, frame - before.length), min(latest_cut, behind.length - frame)


def grid_of(promo: Promo, item: Item) -> int:
    """The length of the steps on which an item lies: a frame, or a sample."""
    return TICKS_PER_SAMPLE if item.content.fine else promo.rate.frame


def on_grid(promo: Promo, item: Item, at: int) -> int:
    """A time on the grid of an item: its sample, or the nearest frame."""
    return at // TICKS_PER_SAMPLE * TICKS_PER_SAMPLE if item.content.fine else promo.rate.snap(at)


def fitted_item(promo: Promo, item: Item, old: int, wanted: int, edge: Side) -> int:
    """The length nearest to the wanted one that an item can have. Ticks."""
    grid = grid_of(promo, item)
    wanted = max(grid, on_grid(promo, item, wanted))
    media, source = promo.media.get(item.media or ""), item.source
    if media is None or source is None or not media.length:
        return min(wanted, MAX_STILL)
    if edge == "end":
        limit = source.longest(item.into, media.length, MAX_TICKS)
    else:
        limit = old + source.earliest(item.into, media.length, MAX_TICKS)
    if limit < grid:
        raise Refusal("no-more", f"{media.name} has no more to show here.")
    return min(wanted, limit // grid * grid)
