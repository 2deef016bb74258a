"""Taking time out.

```
RemoveRange  main     |--A--|==|=B=|--C--|      →  |--A--|C|      cut at both ends of the range and closed
             words    ...[===title====]...      →  ...[title]..   shortened by what lay in the range
             sound    --------voice--------     →  ----|----      cut in two and closed
CloseGap     layer    [a]......[b][c]           →  [a][b][c]
```
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any, Literal

from glowreel.core.anchors import at_time, map_anchored
from glowreel.core.commands.base import Command, Context, Outcome, in_seconds
from glowreel.core.commands.change import locked_track, map_items
from glowreel.core.commands.cutting import without_main
from glowreel.core.commands.roles import TrackId
from glowreel.core.commands.split import halves
from glowreel.core.document import Item, Promo, Track, Whole
from glowreel.core.errors import Missing, Refusal
from glowreel.core.time import Ticks
from glowreel.core.timeline import Span, Timeline, timeline


class RemoveRange(Command):
    """Removes a stretch of time through all tracks in one step. Each track gets shorter by exactly that stretch, but
    for what lasts for the whole promo, what is on locked tracks, and, with `music` set to `stays`, free sounds."""

    do: Literal["remove-range"] = "remove-range"
    start: Ticks
    end: Ticks
    music: Literal["cut", "stays"] = "cut"

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        index, rate = timeline(promo), promo.rate
        start, end = rate.snap(min(self.start, self.end)), rate.snap(max(self.start, self.end))
        end = min(end, max(index.length, start))
        if end <= start:
            raise Refusal("no-range", "The range is empty.", "Mark where it begins and where it ends.")
        made = without_range(promo, start, end, context, free_sound if self.music == "stays" else none)
        return Outcome(made, f"Removed {in_seconds(end - start)} from every track")


def none(item: Item) -> bool:
    return False


def free_sound(item: Item) -> bool:
    return item.content.fine and item.anchor.to == "time"


def free_music(item: Item) -> bool:
    return free_sound(item) and item.read("bus") in ("music", "ambience")


def without_range(
    promo: Promo, start: int, end: int, context: Context, left_alone: Callable[[Item], bool] = none
) -> Promo:
    """The promo without a stretch of time, both ends on the frame grid, but for what is left alone; see
    `RemoveRange`."""
    index = timeline(promo)

    def stays(item: Item) -> bool:
        return isinstance(item.anchor, Whole) or index.track_of[item.id].locked or left_alone(item)

    staying = {item.id for item in promo.items if stays(item)}
    made = _cut_items(promo, start, end, staying, context)

    def move(at: int) -> int:
        return at if at <= start else max(start, at - (end - start))

    # Places are taken before the main track changes: a tie to what goes would otherwise lose them.
    old = timeline(made)
    starts = {item.id: old.item_span(item).start for item in made.items}
    bare, _ = without_main(made, start, min(end, index.main_length), context) if index.main_length else (made, 0)
    ground = timeline(bare.changed(layers=(), sounds=(), notes=()))

    def follow(held: Any) -> Any:
        if not isinstance(held, Item):
            return at_time(ground, held, move(times[held.id]))
        if isinstance(held.anchor, Whole) or (held.id in staying and held.anchor.to == "time"):
            return held
        return at_time(ground, held, move(starts[held.id]))

    times = {note.id: old.start_of(note.anchor) for note in made.notes}
    times |= {cue.id: old.start_of(cue.anchor) for lane in made.captions for cue in lane.cues}
    return map_anchored(bare, follow)


def _cut_items(promo: Promo, start: int, end: int, staying: set[str], context: Context) -> Promo:
    """The promo with what lies between two times taken out of its items, the rest left where it is."""
    index = timeline(promo)

    def left(item: Item) -> list[Item]:
        span = index.item_span(item)
        if item.id in staying or not (span.start < end and start < span.end):
            return [item]
        # Music that is made to fit stays one piece, and fits what is left.
        fitted = item.source is not None and item.source.runs == "fitted"
        timed = not fitted and (index.material(item) is not None or not item.timeless)
        if timed and span.start < start and end < span.end:
            head, tail = halves(promo, item, end, context)
            return [head.changed(length=start - span.start), tail]
        if span.start >= start and end < span.end:
            # It begins later in its own time; where it is anchored is put right afterwards.
            by = end - span.start
            return [item.changed(length=span.length - by, into=item.into + by)]
        length = span.length - (min(end, span.end) - max(start, span.start))
        return [item.changed(length=length)] if length > 0 else []

    def through(tracks: tuple[Track, ...]) -> tuple[Track, ...]:
        return tuple(t.changed(items=tuple(part for i in t.items for part in left(i))) for t in tracks)

    return promo.changed(layers=through(promo.layers), sounds=through(promo.sounds))


def find_track(promo: Promo, track_id: str) -> Track:
    """A track of layers or sounds, or `Missing`."""
    for track in (*promo.layers, *promo.sounds):
        if track.id == track_id:
            return track
    raise Missing("gone", "That track is no longer in the promo.", "Reload to see where things are now.")


def close_up(promo: Promo, gaps: Mapping[str, Sequence[Span]]) -> Promo:
    """The promo with stretches of its tracks, by identifier, taken out: what starts later moves up by their lengths."""
    index = timeline(promo)

    def follow(item: Item) -> Item:
        stretches = gaps.get(index.track_of[item.id].id, ())
        start = index.item_span(item).start
        by = sum(gap.length for gap in stretches if gap.end <= start)
        return at_time(index, item, start - by) if by else item

    return map_items(promo, follow)


class CloseGap(Command):
    """Closes the gap at a time of a track, or, without a time, all its gaps but the one before its first item."""

    do: Literal["close-gap"] = "close-gap"
    track: TrackId
    at: Ticks | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        track = find_track(promo, self.track)
        if track.locked:
            raise locked_track(track)
        gaps = self._gaps(timeline(promo), track)
        if not gaps:
            raise Refusal("no-gap", "There is no gap to close here.")
        sentence = "Closed a gap" if len(gaps) == 1 else f"Closed {len(gaps)} gaps"
        return Outcome(close_up(promo, {track.id: gaps}), sentence)

    def _gaps(self, index: Timeline, track: Track) -> list[Span]:
        spans = sorted((index.item_span(item) for item in track.items), key=lambda span: span.start)
        befores = [Span(0, 0), *spans]
        gaps = [Span(before.end, span.start) for before, span in zip(befores, spans, strict=False)]
        if self.at is None:
            return [gap for gap in gaps if gap.length > 0 and gap.start > 0]
        return [gap for gap in gaps if self.at in gap]
