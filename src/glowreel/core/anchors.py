"""How what holds to a clip or a time follows through every edit, written once: for layers, sounds, notes and cues.

```
split     |----A----|  [t] at 6 s of A      →  |--A--|--A'-|   [t] at 2 s of A'
join      the same the other way
begun     A's start trimmed by 2 s          →  [t] stays on the picture it was on
retimed   A twice as fast                   →  [t] on the same share of A
placed    the main track was rebuilt        →  [t] tied again where it started in the promo
mended    its clip is gone                  →  tied to what took its place, or free
```
Anchors are values; nothing here changes a clip.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import cached_property
from typing import Any, TypeVar

from glowreel.core.captions.model import Cue
from glowreel.core.document import Free, Item, Note, Promo, Tied, Track, Whole
from glowreel.core.timeline import Timeline, timeline

Anchored = TypeVar("Anchored", Item, Note, Cue)
"""What has an anchor."""


def _through(tracks: tuple[Track, ...], change: Callable[[Item], Item]) -> tuple[Track, ...]:
    result = []
    for track in tracks:
        items = tuple(change(item) for item in track.items)
        same = all(new is old for new, old in zip(items, track.items, strict=True))
        result.append(track if same else track.changed(items=items))
    return tuple(result)


def map_anchored(promo: Promo, change: Callable[[Any], Any]) -> Promo:
    """The promo with everything that holds to a clip or a time passed through `change`: items, notes and cues."""
    layers, sounds = _through(promo.layers, change), _through(promo.sounds, change)
    notes = tuple(change(note) for note in promo.notes)
    changes: dict[str, Any] = {"layers": layers, "sounds": sounds, "notes": notes}
    if any(lane.cues for lane in promo.captions):
        changes["captions"] = tuple(
            lane.changed(cues=tuple(change(cue) for cue in lane.cues)) if lane.cues else lane for lane in promo.captions
        )
    return promo.changed(**changes)


def tied_to(promo: Promo, change: Callable[[Tied], Tied | None]) -> Promo:
    """The promo with every tie passed through `change`; None leaves it."""

    def follow(held: Anchored) -> Anchored:
        made = change(held.anchor) if isinstance(held.anchor, Tied) else None
        return held if made is None or made == held.anchor else held.changed(anchor=made)

    return map_anchored(promo, follow)


def after_split(promo: Promo, clip: str, head: int, second: str) -> Promo:
    """What is tied beyond the cut holds to the second part."""

    def change(tie: Tied) -> Tied | None:
        return Tied(clip=second, offset=tie.offset - head) if tie.clip == clip and tie.offset >= head else None

    return tied_to(promo, change)


def after_join(promo: Promo, gone: str, into: str, head: int) -> Promo:
    """What is tied to the second part holds to the first, which is `head` long before it."""
    return tied_to(promo, lambda tie: Tied(clip=into, offset=tie.offset + head) if tie.clip == gone else None)


def after_beginning(promo: Promo, later: Mapping[str, int]) -> Promo:
    """Clips begin so many ticks later in their material: what is tied stays on the picture it was on."""
    if not any(later.values()):
        return promo

    def change(tie: Tied) -> Tied | None:
        by = later.get(tie.clip, 0)
        return tie.changed(offset=max(0, tie.offset - by)) if by else None

    return tied_to(promo, change)


def after_retiming(promo: Promo, clip: str, old: int, new: int) -> Promo:
    """A clip lasts another length: what is tied is on the same share of it; with one speed the same picture."""

    def change(tie: Tied) -> Tied | None:
        if tie.clip != clip:
            return None
        offset = promo.rate.snap(tie.offset * new // old)
        return tie.changed(offset=min(offset, new - promo.rate.frame))

    return tied_to(promo, change)


def at_time(index: Timeline, held: Anchored, at: int) -> Anchored:
    """The same at another time: tied to what lies under it there if it was tied, free if it was free."""
    if isinstance(held.anchor, Whole):
        return held
    if isinstance(held.anchor, Free):
        return held if held.anchor.at == at else held.changed(anchor=Free(at=at))
    anchor = index.tie_under(at)
    return held if anchor == held.anchor else held.changed(anchor=anchor)


def keep_times(promo: Promo, before: Promo) -> Promo:
    """The promo, whose main track was rebuilt, with what was tied in `before` tied again where it started then."""
    old, index = timeline(before), timeline(promo.changed(layers=(), sounds=(), notes=()))
    # By identifier: splitting may have tied them to clips that the promo before did not have.
    starts = {item.id: old.item_span(item).start for item in before.items}
    starts |= {note.id: old.start_of(note.anchor) for note in before.notes}
    starts |= {cue.id: old.start_of(cue.anchor) for lane in before.captions for cue in lane.cues}

    def again(held: Anchored) -> Anchored:
        return at_time(index, held, starts[held.id]) if isinstance(held.anchor, Tied) and held.id in starts else held

    return map_anchored(promo, again)


def mended(promo: Promo, before: Promo) -> Promo:
    """The promo with every tie holding: to a clip that is there, before its end."""
    lengths = {clip.id: clip.length for clip in promo.clips}
    frame = promo.rate.frame
    ground = _Ground(promo, before, lengths)

    def mend(held: Anchored) -> Anchored:
        anchor = held.anchor
        if not isinstance(anchor, Tied):
            return held
        if anchor.clip in lengths:
            length = lengths[anchor.clip]
            last = max(0, length - frame)
            return held if anchor.offset < length else held.changed(anchor=anchor.changed(offset=last))
        return held.changed(anchor=ground.index.tie_under(ground.place_of.get(anchor.clip, ground.index.main_length)))

    return map_anchored(promo, mend)


class _Ground:
    """The main track by itself, while what is tied to it cannot be indexed yet. Worked out only where it is needed."""

    def __init__(self, promo: Promo, before: Promo, lengths: dict[str, int]) -> None:
        self._promo, self._before, self._lengths = promo, before, lengths

    @cached_property
    def index(self) -> Timeline:
        return timeline(self._promo.changed(layers=(), sounds=(), notes=()))

    @cached_property
    def place_of(self) -> dict[str, int]:
        """Where each earlier clip would be now: after what used to stand before it and still does."""
        found, start = {}, 0
        for clip in self._before.clips:
            found[clip.id] = start
            start += self._lengths.get(clip.id, 0)
        return found
