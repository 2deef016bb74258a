"""Transitions on the cuts of the main track. They never change its length."""

from __future__ import annotations

from typing import Literal

from glowreel.core.commands.base import Command, Context, Edit, in_seconds
from glowreel.core.document import Promo, Transition, TransitionKind
from glowreel.core.errors import Missing, Refusal
from glowreel.core.time import Length, ticks
from glowreel.core.timeline import timeline
from glowreel.core.value import Id


class SetTransition(Command):
    """Puts a transition on the cut after a clip, or changes the one there."""

    do: Literal["set-transition"] = "set-transition"
    after: Id
    kind: TransitionKind = "crossfade"
    length: Length = ticks(0.8)

    def edit(self, promo: Promo, context: Context) -> Edit:
        clip = timeline(promo).find_clip(self.after)
        if promo.clips[-1].id == clip.id:
            raise Refusal("no-cut", "There is no cut after the last clip.", "Add another clip first.")
        half = max(promo.rate.frame, promo.rate.snap(self.length // 2))
        old = next((t for t in promo.transitions if t.after == self.after), None)
        new = Transition(id=old.id if old else context.new_id("x"), after=self.after, kind=self.kind, length=2 * half)
        promo = promo.changed(transitions=(*(t for t in promo.transitions if t is not old), new))
        return Edit(promo, f"Set a {self.kind} of {in_seconds(2 * half)} after {clip.name}", (clip.id,))


class RemoveTransition(Command):
    """Makes a cut hard again."""

    do: Literal["remove-transition"] = "remove-transition"
    after: Id

    def edit(self, promo: Promo, context: Context) -> Edit:
        rest = tuple(t for t in promo.transitions if t.after != self.after)
        if len(rest) == len(promo.transitions):
            raise Missing("gone", "There is no transition on that cut any more.")
        return Edit(promo.changed(transitions=rest), "Removed a transition", (self.after,))
