"""Transitions on the cuts of the main track, and at both ends of the promo. They never change its length.

```
SetTransition      |--A--|--B--|   crossfade 0.8 s   →  |--A-><-B--|     half of it on either side of the cut
SetAllTransitions  the same on every cut
RemoveTransition   |--A-><-B--|                      →  |--A--|--B--|
SetEdge            |--A--|   opens with iris 1 s     →  <-A--|
```
Lengths are ticks, held to whole frames. Refused: a cut after the last clip, an edge without clips.
"""

from __future__ import annotations

from typing import Literal

from glowreel.core.commands.base import Command, Context, Outcome, in_seconds
from glowreel.core.commands.roles import Target
from glowreel.core.document import Edge, Promo, Transition
from glowreel.core.errors import Missing, Refusal
from glowreel.core.time import Length, Ticks, ticks
from glowreel.core.timeline import timeline
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
        clip = index.find_clip(self.after) if self.after is not None else None
        if len(promo.clips) < 2 or clip is promo.clips[-1]:
            raise Refusal("no-cut", "There is no cut after the last clip.", "Add another clip first.")
        if clip is None:
            at = self.at or 0
            clip = min(promo.clips[:-1], key=lambda c: abs(index.clip_span[c.id].end - at))
        length = _whole_frames(promo, self.length)
        old = next((t for t in promo.transitions if t.after == clip.id), None)
        if self.kind is None:
            rest = tuple(t for t in promo.transitions if t is not old)
            return Outcome(promo.changed(transitions=rest), f"A hard cut after {clip.name}", (clip.id,))
        new = Transition(id=old.id if old else context.new_id("x"), after=clip.id, kind=self.kind, length=length)
        promo = promo.changed(transitions=(*(t for t in promo.transitions if t is not old), new))
        return Outcome(promo, f"Set a {spoken(self.kind)} of {in_seconds(length)} after {clip.name}", (clip.id,))


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
