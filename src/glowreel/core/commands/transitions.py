"""Transitions on the cuts of the main track, between layers, and at both ends of the promo. They never change its
length.

```
SetTransition      |--A--|--B--|   crossfade 0.8 s   →  |--A-><-B--|     half of it on either side of the cut
SetAllTransitions  the same on every cut
RemoveTransition   |--A-><-B--|                      →  |--A--|--B--|
PushOver           a layer to where it lies over its neighbour on the track   →  they meet in the middle of what was
                                                                               common, with a transition as long
SetEdge            |--A--|   opens with iris 1 s     →  <-A--|
```
Lengths are ticks, held to whole frames. Refused: a cut after the last clip, layers that do not follow one another, an
edge without clips.
"""

from __future__ import annotations

from typing import Literal

from glowreel.core.commands.base import Command, Context, Outcome, called, in_seconds
from glowreel.core.commands.change import replace_item, side_of
from glowreel.core.commands.roles import Target
from glowreel.core.commands.trim import trim_items
from glowreel.core.document import Edge, Free, Item, Part, Promo, Tied, Transition, Whole
from glowreel.core.errors import Missing, Refusal
from glowreel.core.time import Length, Ticks, ticks
from glowreel.core.timeline import Span, timeline
from glowreel.core.vocabulary import TransitionKind


def spoken(kind: str) -> str:
    """A kind of transition as people say it: `push-left` is “push left”, `dip-black` “dip to black”."""
    return kind.replace("dip-", "dip to ").replace("-", " ")


def _whole_frames(promo: Promo, length: int) -> int:
    """The length of a transition: the same number of whole frames on either side of the cut, at least one."""
    return 2 * max(promo.rate.frame, promo.rate.snap(length // 2))


class SetTransition(Command):
    """Puts a transition on the cut after a clip, or on the cut nearest to `at`; or changes the one there. Without a
    kind the cut is hard."""

    do: Literal["set-transition"] = "set-transition"
    after: Target | None = None
    at: Ticks | None = None
    kind: TransitionKind | None = "crossfade"
    length: Length = ticks(0.8)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        index = timeline(promo)
        if self.after in index.item:
            return self._layers(promo, index.item[self.after], context)
        clip = index.find_clip(self.after) if self.after is not None else None
        if len(promo.clips) < 2 or clip is promo.clips[-1]:
            raise Refusal("no-cut", "There is no cut after the last clip.", "Add another clip first.")
        if clip is None:
            at = self.at or 0
            clip = min(promo.clips[:-1], key=lambda c: abs(index.clip_span[c.id].end - at))
        return self._put(promo, clip, clip.name, context)

    def _layers(self, promo: Promo, item: Item, context: Context) -> Outcome:
        if timeline(promo).neighbour(item) is None or side_of(item) != "layers":
            raise Refusal("no-cut", "Nothing follows it at once on its track.", "Push another layer up to it first.")
        return self._put(promo, item, called(promo, item), context)

    def _put(self, promo: Promo, part: Part, name: str, context: Context) -> Outcome:
        length = _whole_frames(promo, self.length)
        if self.kind is None:
            return Outcome(_without(promo, part.id), f"A hard cut after {name}", (part.id,))
        made = with_transition(promo, part.id, self.kind, length, context)
        return Outcome(made, f"Set a {spoken(self.kind)} of {in_seconds(length)} after {name}", (part.id,))


def _without(promo: Promo, after: str) -> Promo:
    return promo.changed(transitions=tuple(t for t in promo.transitions if t.after != after))


def with_transition(promo: Promo, after: str, kind: str, length: int, context: Context) -> Promo:
    """The promo with a transition after a part, in the place of the one there."""
    old = next((t for t in promo.transitions if t.after == after), None)
    new = Transition(id=old.id if old else context.new_id("x"), after=after, kind=kind, length=length)
    return promo.changed(transitions=(*(t for t in promo.transitions if t is not old), new))


class PushOver(Command):
    """Pushes a layer so far over its neighbour that a transition between them lasts as long as both were there.

    Each gives up half of what was common and keeps it as the material that the transition shows. `at` is where the
    layer would begin. Refused where it would cover its neighbour, or lie over two of them.
    """

    do: Literal["push-over"] = "push-over"
    item: Target
    at: Ticks
    kind: TransitionKind = "crossfade"

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        index = timeline(promo)
        item = index.find_item(self.item)
        if isinstance(item.anchor, Whole) or side_of(item) != "layers":
            raise Refusal("no-layer", "Only layers with a beginning and an end pass into one another.")
        length = index.item_span(item).length
        at = promo.rate.snap(self.at)
        wanted = Span(at, at + length)
        others = [i for i in index.track_of[item.id].items if i.id != item.id and index.item_span(i).meets(wanted)]
        if len(others) != 1:
            raise Refusal("no-neighbour", "It must lie over one neighbour on its track.", "Push it a little less far.")
        other, span = others[0], index.item_span(others[0])
        if not (span.start < wanted.start < span.end < wanted.end or wanted.start < span.start < wanted.end < span.end):
            raise Refusal("covered", "One of them would cover the other.", "Push it a little less far.")
        first, second = (other, item) if span.start < wanted.start else (item, other)
        common = min(span.end, wanted.end) - max(span.start, wanted.start)
        half = max(promo.rate.frame, promo.rate.snap(common // 2))
        cut = max(span.start, wanted.start) + half
        moved = item.changed(anchor=index.tie_under(at) if isinstance(item.anchor, Tied) else Free(at=at))
        promo = replace_item(promo, item.id, lambda _: moved)
        promo = trim_items(promo, {first.id: cut - timeline(promo).item_span(timeline(promo).item[first.id]).start},
                           "end")  # fmt: skip
        end = timeline(promo).item_span(timeline(promo).item[second.id]).end
        promo = trim_items(promo, {second.id: end - cut}, "start")
        promo = with_transition(promo, first.id, self.kind, 2 * half, context)
        sentence = f"Pushed {called(promo, item)} over {called(promo, other)}: a {spoken(self.kind)}"
        return Outcome(promo, sentence, (item.id,), frozenset({item.id}))


class SetAllTransitions(Command):
    """Puts the same transition on every cut of the main track."""

    do: Literal["set-all-transitions"] = "set-all-transitions"
    kind: TransitionKind
    length: Length = ticks(0.8)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        if len(promo.clips) < 2:
            raise Refusal("no-cut", "There are no cuts yet.", "Add another clip first.")
        length = _whole_frames(promo, self.length)
        old = {t.after: t.id for t in promo.transitions}
        made = tuple(
            Transition(id=old.get(clip.id) or context.new_id("x"), after=clip.id, kind=self.kind, length=length)
            for clip in promo.clips[:-1]
        )
        return Outcome(promo.changed(transitions=made), f"Set a {spoken(self.kind)} on {len(made)} cuts")


class RemoveTransition(Command):
    """Makes a cut hard again."""

    do: Literal["remove-transition"] = "remove-transition"
    after: Target

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        rest = tuple(t for t in promo.transitions if t.after != self.after)
        if len(rest) == len(promo.transitions):
            raise Missing("gone", "There is no transition on that cut any more.")
        return Outcome(promo.changed(transitions=rest), "Removed a transition", (self.after,))


class SetEdge(Command):
    """How the picture comes at the promo's start or goes at its end; without a kind, at once."""

    do: Literal["set-edge"] = "set-edge"
    edge: Literal["start", "end"]
    kind: TransitionKind | None = None
    length: Length = ticks(1)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        if not promo.clips:
            raise Refusal("no-clips", "There is no picture yet to come or go.", "Add a clip first.")
        length = max(promo.rate.frame, promo.rate.snap(self.length))
        edge = None if self.kind is None else Edge(kind=self.kind, length=length)
        made = promo.changed(**{"opens" if self.edge == "start" else "closes": edge})
        what = f"a {spoken(self.kind)} of {in_seconds(length)}" if self.kind else "nothing"
        return Outcome(made, f"The promo {'opens' if self.edge == 'start' else 'closes'} with {what}")
