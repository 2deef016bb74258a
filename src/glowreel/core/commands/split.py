"""Cutting things in two, and making two neighbours one again.

```
SplitAt    |----A----|  at t  →  |--A--|--A'-|    A' goes on in the media where A stops; what is tied further on
                                                  moves over to A'; the transition after A is now after A'
Join       |--A--|--A'-|      →  |----A----|      exactly what was there before the split
```
Nothing looks or sounds different after a split: what arrives does so in the first part, what leaves in the second.
A split at an end is refused, as is joining what does not continue.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any, Literal

from glowreel.core.anchors import after_join, after_split
from glowreel.core.commands.base import Command, Context, Outcome, called
from glowreel.core.commands.change import map_items, rebuild_scenes
from glowreel.core.commands.roles import Target
from glowreel.core.commands.trim import grid_of, on_grid
from glowreel.core.document import Clip, Free, Item, Part, Promo, Track, Transition, Whole
from glowreel.core.errors import Refusal
from glowreel.core.properties import PROPERTIES
from glowreel.core.setting import at_end
from glowreel.core.time import Ticks
from glowreel.core.timeline import timeline


class SplitAt(Command):
    """Cuts an item in two at a time, or, without one, everything that lies there on any track.

    What lasts for the whole promo, music that is made to fit, and what is on a locked track, is left alone when
    everything is cut.
    """

    do: Literal["split-at"] = "split-at"
    at: Ticks
    item: Target | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        index = timeline(promo)
        if self.item is not None:
            if self.item in index.clip:
                promo, made = split_clip(promo, self.item, self.at, context)
                return Outcome(promo, f"Split {index.clip[self.item].name}", (made,))
            item = index.find_item(self.item)
            promo, made = split_items(promo, [item], self.at, context)
            return Outcome(promo, f"Split {called(promo, item)}", (made,))
        chosen = []
        for item in promo.items:
            span = index.item_span(item)
            grid = grid_of(promo, item)
            if index.track_of[item.id].locked or (item.source is not None and item.source.runs == "fitted"):
                continue
            if not isinstance(item.anchor, Whole) and span.start + grid <= self.at <= span.end - grid:
                chosen.append(item)
        promo, _ = split_items(promo, chosen, self.at, context)
        count = len(chosen)
        clip = index.clip_at(self.at)
        if clip is not None:
            start = index.clip_span[clip.id].start
            if promo.rate.snap(self.at) not in (start, start + clip.length):
                promo, _ = split_clip(promo, clip.id, self.at, context)
                count += 1
        if not count:
            raise Refusal("nothing-here", "There is nothing to split here.", "Move the playhead over a clip.")
        return Outcome(promo, f"Split {count} items")


class Join(Command):
    """Makes a clip, layer or sound one with the one after it, where that goes on exactly as it stops."""

    do: Literal["join"] = "join"
    item: Target

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        index = timeline(promo)
        if self.item in index.clip:
            return _join_clips(promo, index.clip[self.item])
        item = index.find_item(self.item)
        track = index.track_of[item.id]
        end = index.item_span(item).end
        behind = next((other for other in track.items if index.item_span(other).start == end and other != item), None)
        if behind is None or not continues(promo, item, behind) or any(t.after == item.id for t in promo.transitions):
            raise _no_join()
        promo = promo.changed(transitions=_moved_on(promo, {behind.id: item.id}))
        joined = item.changed(length=item.length + behind.length, **with_end_of(item, behind))
        promo = map_items(promo, lambda i: None if i.id == behind.id else joined if i.id == item.id else i)
        return Outcome(promo, f"Joined {called(promo, joined)}", (item.id,))


def _no_join() -> Refusal:
    return Refusal("no-join", "The next one does not go on where this one stops.", "Only what was split can be joined.")


def _ends() -> Refusal:
    return Refusal("at-end", "There is nothing to split off here.", "Move the playhead between its ends.")


def cut_main(promo: Promo, at: int, context: Context) -> Promo:
    """The promo with a cut on its main track at `at`, on the frame grid; as it was where there is one already."""
    index = timeline(promo)
    clip = index.clip_at(at)
    if clip is None or index.clip_span[clip.id].start == at:
        return promo
    return split_clip(promo, clip.id, at, context)[0]


def split_clip(promo: Promo, clip_id: str, at: int, context: Context) -> tuple[Promo, str]:
    """The promo with a main-track clip in two, and the second part's identifier."""
    index = timeline(promo)
    clip = index.clip[clip_id]
    head = promo.rate.snap(at) - index.clip_span[clip_id].start
    if not 0 < head < clip.length:
        raise _ends()
    first = clip.changed(length=head)
    second = clip.changed(id=context.new_id("c"), length=clip.length - head, into=clip.into + head)
    runs = [
        (scene, [part for c in scene.clips for part in ((first, second) if c.id == clip_id else (c,))])
        for scene in promo.scenes
    ]

    transitions = _moved_on(promo, {clip_id: second.id})
    # The clips first: the items are then tied to one that is there.
    promo = after_split(rebuild_scenes(promo, runs), clip_id, head, second.id).changed(transitions=transitions)
    return promo, second.id


def _join_clips(promo: Promo, clip: Clip) -> Outcome:
    scene = timeline(promo).scene_of[clip.id]
    spot = next(n for n, c in enumerate(scene.clips) if c.id == clip.id)
    behind = scene.clips[spot + 1] if spot + 1 < len(scene.clips) else None
    if behind is None or any(t.after == clip.id for t in promo.transitions):
        raise _no_join()
    if not continues(promo, clip, behind):
        raise _no_join()
    joined = clip.changed(length=clip.length + behind.length)

    promo = after_join(promo, behind.id, clip.id, clip.length)
    transitions = _moved_on(promo, {behind.id: clip.id})
    runs = [(s, [joined if c.id == clip.id else c for c in s.clips if c.id != behind.id]) for s in promo.scenes]
    return Outcome(rebuild_scenes(promo, runs).changed(transitions=transitions), f"Joined {clip.name}", (clip.id,))


def halves(promo: Promo, item: Item, at: int, context: Context) -> tuple[Item, Item]:
    """A layer or sound in two at a time; the second part has a fresh identifier."""
    index = timeline(promo)
    span = index.item_span(item)
    if isinstance(item.anchor, Whole):
        raise Refusal("whole", "This lasts for the whole promo.", "Let it hold to a time or a clip, then split it.")
    at = on_grid(promo, item, at)
    head = at - span.start
    if not 0 < head < span.length:
        raise _ends()
    anchor = Free(at=at) if isinstance(item.anchor, Free) else index.tie_under(at)
    first = at_end(item.changed(length=head), start=True, end=False)
    second = item.changed(id=context.new_id("i"), anchor=anchor, length=span.length - head, into=item.into + head)
    return first, at_end(second, start=False, end=True)


def _moved_on(promo: Promo, to: dict[str, str]) -> tuple[Transition, ...]:
    """The transitions after some parts, after others instead."""
    return tuple(t.changed(after=to[t.after]) if t.after in to else t for t in promo.transitions)


def split_items(promo: Promo, items: Iterable[Item], at: int, context: Context) -> tuple[Promo, str]:
    """The promo with layers and sounds in two on their tracks, and the last second part's identifier."""
    if any(item.source is not None and item.source.runs == "fitted" for item in items):
        raise Refusal("fitted", "Music that is made to fit is one piece.", "Let it run once, then split it.")
    parts = {item.id: halves(promo, item, at, context) for item in items}

    def through(tracks: tuple[Track, ...]) -> tuple[Track, ...]:
        return tuple(
            t.changed(items=tuple(part for i in t.items for part in parts.get(i.id, (i,))))
            if any(i.id in parts for i in t.items)
            else t
            for t in tracks
        )

    made = promo.changed(
        layers=through(promo.layers), sounds=through(promo.sounds),
        transitions=_moved_on(promo, {key: second.id for key, (_, second) in parts.items()}),
    )  # fmt: skip
    return made, next(reversed(parts.values()))[1].id if parts else ""


def with_end_of(part: Part, behind: Part) -> dict[str, Any]:
    """What is set of a part whose end is another's, in all formats and in single ones: what belongs to the end is as it
    is there."""
    ends = {row.name for row in PROPERTIES.values() if row.end == "end"}

    def joined(own: Mapping[str, Any], others: Mapping[str, Any]) -> dict[str, Any]:
        kept = {name: value for name, value in own.items() if name not in ends}
        return kept | {name: value for name, value in others.items() if name in ends}

    keys = {*part.values_in, *behind.values_in}
    single = {key: joined(part.values_in.get(key, {}), behind.values_in.get(key, {})) for key in keys}
    return {"values": joined(part.values, behind.values), "values_in": single}


def continues(promo: Promo, part: Part, behind: Part) -> bool:
    """Whether one part is exactly what the other would go on as, after a split; fields unknown here count too."""
    # Where nothing depends on its own time, it does not matter how far into it the second begins.
    still = part.timeless and behind.timeless and timeline(promo).material(part) is None
    if not still and behind.into != part.into + part.length:
        return False
    if at_end(part, start=True, end=False) != part or at_end(behind, start=False, end=True) != behind:
        return False
    # Anchors may differ: where there is no clip under it, the second part of what was tied is free.
    same = {"id": part.id, "length": part.length, "into": part.into}
    if isinstance(part, Item):
        same["anchor"] = part.anchor
    plain = at_end(part, start=False, end=False)
    return at_end(behind.changed(**same), start=False, end=False) == plain
