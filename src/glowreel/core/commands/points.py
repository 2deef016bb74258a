"""Values over time: the points of a curve, in the part's own time, named by where they lie in the promo.

```
AddPoint     opacity 100 %           at 1 s      →  ●  at 1 s (100 %)      it can change now
             ●───────────            at 3 s      →  ●───────●              as it is there
MovePoint    ●───────●               3 s to 4 s  →  ●──────────●           or ●───────●──●, where it is copied
SetPoint     ●───────●               its value, or how it goes on to the next
RemovePoint  ●───────●               at 3 s      →  ●                      the last one leaves its value for good
```
Times are ticks of the promo. Points keep to the material: trimming, splitting and joining change nothing of them.
Refused: what does not change over time, points that are not there, more than a curve may have.
"""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome, called
from glowreel.core.commands.change import map_parts
from glowreel.core.commands.roles import FormatId, Target
from glowreel.core.commands.setting import assigned, format_of, moment_of, place_for, reason
from glowreel.core.document import Part, Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.properties import Curve, Point, Property
from glowreel.core.properties.curve import MAX_POINTS
from glowreel.core.setting import row_of, set_to, value_at, with_value
from glowreel.core.time import Ticks, clock
from glowreel.core.timeline import timeline

Name = Field(min_length=1, max_length=100)


class _Of:
    """The property of a part that a command is about, and where its values are."""

    def __init__(self, promo: Promo, key: str, name: str, format_id: str | None, only: bool = False) -> None:
        self.promo = promo
        self.part: Part = timeline(promo).find_part(key)
        row = row_of(self.part, name)
        who = called(promo, self.part)
        if row is None:
            raise Refusal("no-property", f"{who} has no property of that name.", "Select something else.")
        if not row.over_time:
            raise Refusal("not-over-time", f"{row.label} of {who} does not change over time.")
        if format_id is not None:
            format_of(promo, format_id)
        self.row: Property = row
        self.name = name
        self.where = place_for(self.part, row, name, format_id, only)
        self.value = set_to(self.part, name, self.where or "")
        self.says = f"{row.label.lower()} of {who}"

    @property
    def curve(self) -> Curve:
        if not isinstance(self.value, Curve):
            raise Missing("gone", "That has no points any more.", "Add one first.")
        return self.value

    def moment(self, at: int) -> int:
        found = moment_of(self.promo, self.part, at)
        assert found is not None
        return found

    def point(self, at: int) -> Point:
        """The point at a time, to the frame."""
        moment = self.moment(at)
        found = min(self.curve.points, key=lambda point: abs(point.at - moment))
        if abs(found.at - moment) > self.promo.rate.frame // 2:
            raise Missing("gone", "There is no point there any more.", "Undo may bring it back.")
        return found

    def outcome(self, value: Any, sentence: str) -> Outcome:
        made = map_parts(self.promo, {self.part.id}, lambda part: with_value(part, self.name, value, self.where))
        return Outcome(made, sentence, (self.part.id,))


class AddPoint(Command):
    """Lets a property change over time: puts a point at a time, with the value that it has there, or another one."""

    do: Literal["add-point"] = "add-point"
    item: Target
    name: str = Name
    at: Ticks
    value: Any = None
    ease: str = "straight"
    format: FormatId | None = None
    only: bool = False

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        of = _Of(promo, self.item, self.name, self.format, self.only)
        moment = of.moment(self.at)
        here = value_at(of.part, self.name, of.where or self.format or "", moment)
        if isinstance(of.value, Curve) and len(of.value.points) >= MAX_POINTS:
            raise Refusal("too-many", f"A property has at most {MAX_POINTS} points.", "Remove one first.")
        try:
            point = Point(at=moment, value=here, ease=self.ease)
        except ValueError as error:
            raise Refusal("bad-value", f"That cannot be: {reason(error)}.") from error
        curve = of.value.with_point(point) if isinstance(of.value, Curve) else Curve(points=(point,))
        part = with_value(of.part, self.name, curve, of.where)
        if self.value is not None:
            part = assigned(part, of.row, self.name, self.value, of.where, moment)
        made = map_parts(promo, {part.id}, lambda _: part)
        return Outcome(made, f"Put a point of {of.says} at {clock(self.at)}", (part.id,))


class SetPoint(Command):
    """Gives a point another value, or another way of getting to the next one."""

    do: Literal["set-point"] = "set-point"
    item: Target
    name: str = Name
    at: Ticks
    value: Any = None
    ease: str | None = None
    format: FormatId | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        of = _Of(promo, self.item, self.name, self.format)
        old = of.point(self.at)
        try:
            point = old.changed(ease=self.ease) if self.ease is not None else old
            if self.value is not None:
                point = point.changed(value=of.row.values.check(of.row, self.value))
        except ValueError as error:
            raise Refusal("bad-value", f"That cannot be: {reason(error)}.", "Choose another value.") from error
        return of.outcome(of.curve.with_point(point), f"Changed a point of {of.says}")


class MovePoint(Command):
    """Moves a point to another time, as far as the points beside it, and to another value on request; or puts a copy
    of it there."""

    do: Literal["move-point"] = "move-point"
    item: Target
    name: str = Name
    at: Ticks
    to: Ticks
    value: Any = None
    copy_it: bool = False
    format: FormatId | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        of = _Of(promo, self.item, self.name, self.format)
        old = of.point(self.at)
        if self.value is not None:
            try:
                old = old.changed(value=of.row.values.check(of.row, self.value))
            except ValueError as error:
                raise Refusal("bad-value", f"That cannot be: {reason(error)}.", "Choose another value.") from error
        if self.copy_it:
            if len(of.curve.points) >= MAX_POINTS:
                raise Refusal("too-many", f"A property has at most {MAX_POINTS} points.", "Remove one first.")
            copied = of.curve.with_point(old.changed(at=of.moment(self.to)))
            return of.outcome(copied, f"Copied a point of {of.says}")
        frame = promo.rate.frame
        before = [point.at for point in of.curve.points if point.at < old.at]
        after = [point.at for point in of.curve.points if point.at > old.at]
        low, high = (before[-1] + frame if before else old.at), (after[0] - frame if after else old.at)
        wanted = of.moment(self.to)
        moment = wanted if not before and not after else min(
            max(wanted, low if before else wanted), high if after else wanted
        )  # fmt: skip
        rest = of.curve.without(old.at)
        point = old.changed(at=moment)
        curve = rest.with_point(point) if rest is not None else Curve(points=(point,))
        return of.outcome(curve, f"Moved a point of {of.says}")


class RemovePoint(Command):
    """Takes a point away. The last one leaves its value, and the property changes no more."""

    do: Literal["remove-point"] = "remove-point"
    item: Target
    name: str = Name
    at: Ticks
    format: FormatId | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        of = _Of(promo, self.item, self.name, self.format)
        old = of.point(self.at)
        rest = of.curve.without(old.at)
        return of.outcome(old.value if rest is None else rest, f"Removed a point of {of.says}")
