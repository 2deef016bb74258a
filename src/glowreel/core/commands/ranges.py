"""Taking time out.

```
RemoveRange  main     |--A--|==|=B=|--C--|      →  |--A--|C|      cut at both ends of the range and closed
             words    ...[===title====]...      →  ...[title]..   shortened by what lay in the range
             sound    --------voice--------     →  ----|----      cut in two and closed
CloseGap     layer    [a]......[b][c]           →  [a][b][c]
```
"""

from __future__ import annotations

from typing import Literal

from glowreel.core.commands.base import Command, Context, Edit, in_seconds
from glowreel.core.commands.change import anchored, locked_track, map_items
from glowreel.core.commands.cutting import without_main
from glowreel.core.commands.split import split_item
from glowreel.core.commands.trim import shifted
from glowreel.core.document import Item, Picture, Promo, Sound, Track, Whole
from glowreel.core.errors import Missing, Refusal
from glowreel.core.time import Ticks
from glowreel.core.timeline import timeline
from glowreel.core.value import Id


class RemoveRange(Command):
    """Removes a stretch of time through all tracks in one step. Each track gets shorter by exactly that stretch, but
    for what lasts for the whole promo, what is on locked tracks, and, with `music` set to `stays`, free sounds."""

    do: Literal["remove-range"] = "remove-range"
    start: Ticks
    end: Ticks
    music: Literal["cut", "stays"] = "cut"

    def edit(self, promo: Promo, context: Context) -> Edit:
        index, rate = timeline(promo), promo.rate
        start, end = rate.snap(min(self.start, self.end)), rate.snap(max(self.start, self.end))
        end = min(end, max(index.length, start))
        if end <= start:
            raise Refusal("no-range", "The range is empty.", "Mark where it begins and where it ends.")

        def stays(item: Item) -> bool:
            free_sound = item.content.kind == "sound" and item.anchor.to == "time"
            whole = isinstance(item.anchor, Whole)
            return whole or index.track_of[item.id].locked or (self.music == "stays" and free_sound)

        staying = {item.id for item in promo.items if stays(item)}
        made = _cut_items(promo, start, end, staying, context)

        def move(at: int) -> int:
            return at if at <= start else max(start, at - (end - start))

        # Places are taken before the main track changes: a tie to what goes would otherwise lose them.
        old = timeline(made)
        starts = {item.id: old.item_span(item).start for item in made.items}
        bare, _ = without_main(made, start, min(end, index.main_length), context) if index.main_length else (made, 0)
        ground = timeline(bare.changed(layers=(), sounds=(), notes=()))

        def follow(item: Item) -> Item:
            if isinstance(item.anchor, Whole) or (item.id in staying and item.anchor.to == "time"):
                return item
            return anchored(ground, item, move(starts[item.id]))

        notes = tuple(anchored(ground, note, move(old.start_of(note.anchor))) for note in made.notes)
        made = map_items(bare, follow).changed(notes=notes)
        return Edit(made, f"Removed {in_seconds(end - start)} from every track")


def _cut_items(promo: Promo, start: int, end: int, staying: set[str], context: Context) -> Promo:
    """The promo with what lies between two times taken out of its items, the rest left where it is."""
    for item in promo.items:
        index = timeline(promo)
        span = index.item_span(item)
        if item.id in staying or not (span.start < end and start < span.end):
            continue
        part = item.content
        timed = isinstance(part, Picture | Sound) and promo.media[part.media].length > 0
        if timed and span.start < start and end < span.end:
            promo, _ = split_item(promo, item, end, context)
            promo = _resized(promo, item, start - span.start)
        elif timed and span.start >= start and end < span.end:
            promo = _from(promo, item, end - span.start)
        else:
            promo = _resized(promo, item, span.length - (min(end, span.end) - max(start, span.start)))
    return promo


def _resized(promo: Promo, item: Item, length: int) -> Promo:
    def change(other: Item) -> Item | None:
        if other.id != item.id:
            return other
        return other.changed(length=length) if length > 0 else None

    return map_items(promo, change)


def _from(promo: Promo, item: Item, by: int) -> Promo:
    """Takes `by` ticks off an item's start; it stays anchored where it was."""

    def change(other: Item) -> Item:
        if other.id != item.id or not isinstance(other.content, Picture | Sound):
            return other
        return other.changed(length=other.length - by, content=other.content.changed(**shifted(other.content, by)))

    return map_items(promo, change)


def find_track(promo: Promo, track_id: str) -> Track:
    """A track of layers or sounds, or `Missing`."""
    for track in (*promo.layers, *promo.sounds):
        if track.id == track_id:
            return track
    raise Missing("gone", "That track is no longer in the promo.", "Reload to see where things are now.")


def close_up(promo: Promo, track_id: str, start: int, end: int) -> Promo:
    """The promo with what starts at or after `end` on a track moved to the left by `end - start`."""
    index = timeline(promo)
    later = {i.id for i in find_track(promo, track_id).items if index.item_span(i).start >= end}

    def follow(item: Item) -> Item:
        return anchored(index, item, index.item_span(item).start - (end - start)) if item.id in later else item

    return map_items(promo, follow)


class CloseGap(Command):
    """Closes the gap at a time of a track, or, without a time, all its gaps but the one before its first item."""

    do: Literal["close-gap"] = "close-gap"
    track: Id
    at: Ticks | None = None

    def edit(self, promo: Promo, context: Context) -> Edit:
        track = find_track(promo, self.track)
        if track.locked:
            raise locked_track(track)
        gaps = 0
        made = promo
        for spot in range(len(track.items)):
            index = timeline(made)
            items = find_track(made, self.track).items
            start = index.item_span(items[spot - 1]).end if spot else 0
            end = index.item_span(items[spot]).start
            if end > start and (start <= self.at < end if self.at is not None else spot > 0):
                made = close_up(made, self.track, start, end)
                gaps += 1
                if self.at is not None:
                    break
        if not gaps:
            raise Refusal("no-gap", "There is no gap to close here.")
        return Edit(made, "Closed a gap" if gaps == 1 else f"Closed {gaps} gaps")
