"""How fast a source runs: constant, backwards, held, or along a curve. Exact: all of it is whole-number arithmetic.

Speed is given at points of a part's own time and runs straight from one to the next, so that the source time is

    S(u) = at + A(u),   A(u) = ∫₀ᵘ v(t) dt

which is a polynomial of second degree between two points (trapezium rule, exact for a straight line). A part begins
`into` that time, and trimming or splitting it changes nothing but that and its length: rounding never builds up.
"""

from __future__ import annotations

from fractions import Fraction
from functools import lru_cache
from typing import Annotated, Literal

from pydantic import Field, field_validator

from glowreel.core.time import MAX_TICKS
from glowreel.core.value import Value

UNIT = 1000
"""Speeds are thousandths: 1000 is as recorded."""
SLOWEST, FASTEST = 100, 16_000
MAX_POINTS = 24

Moment = Annotated[int, Field(ge=-8 * MAX_TICKS, le=8 * MAX_TICKS)]


class SpeedPoint(Value):
    """At `at` ticks of the part's own time it runs at `speed` thousandths; 0 holds the frame."""

    at: Moment = 0
    speed: int = Field(ge=0, le=FASTEST)

    @field_validator("speed")
    @classmethod
    def _not_too_slow(cls, speed: int) -> int:
        if 0 < speed < SLOWEST:
            raise ValueError("speed goes from 0.1× to 16×")
        return speed


class Speed(Value):
    """See the module. Before the first point and after the last the speed stays. Sound keeps its pitch or not."""

    points: tuple[SpeedPoint, ...] = Field(min_length=1, max_length=MAX_POINTS)
    backwards: bool = False
    pitch: Literal["kept", "follows"] = "kept"

    @field_validator("points")
    @classmethod
    def _in_order(cls, points: tuple[SpeedPoint, ...]) -> tuple[SpeedPoint, ...]:
        if any(a.at > b.at for a, b in zip(points, points[1:], strict=False)):
            raise ValueError("the points of a speed curve come in order")
        return points

    @property
    def constant(self) -> int | None:
        """The one speed, in thousandths, where it is the same throughout."""
        speeds = {point.speed for point in self.points}
        return speeds.pop() if len(speeds) == 1 else None

    def area(self, u: int) -> Fraction:
        """A(u) in ticks of source, exact."""
        return _primitive(self.points, u) - _primitive(self.points, 0)

    def at(self, u: int) -> Fraction:
        """Speed at a moment, as a factor."""
        points = self.points
        if u <= points[0].at:
            return Fraction(points[0].speed, UNIT)
        for a, b in zip(points, points[1:], strict=False):
            if a.at <= u < b.at:
                return Fraction(a.speed * (b.at - u) + b.speed * (u - a.at), UNIT * (b.at - a.at))
        return Fraction(points[-1].speed, UNIT)

    def before(self, u: int) -> Fraction:
        """Speed just before a moment: another than at it where the curve jumps."""
        points = self.points
        if u > points[-1].at:
            return Fraction(points[-1].speed, UNIT)
        for a, b in zip(points, points[1:], strict=False):
            if a.at < u <= b.at:
                return Fraction(a.speed * (b.at - u) + b.speed * (u - a.at), UNIT * (b.at - a.at))
        return Fraction(points[0].speed, UNIT)


@lru_cache(maxsize=20_000)
def _primitive(points: tuple[SpeedPoint, ...], u: int) -> Fraction:
    """∫ v from the first point to u."""
    first = points[0]
    if u <= first.at:
        return Fraction(first.speed * (u - first.at), UNIT)
    total = Fraction(0)
    for a, b in zip(points, points[1:], strict=False):
        if u < b.at:
            into = u - a.at
            bend = Fraction((b.speed - a.speed) * into**2, 2 * UNIT * (b.at - a.at))
            return total + Fraction(a.speed * into, UNIT) + bend
        total += Fraction((a.speed + b.speed) * (b.at - a.at), 2 * UNIT)
    return total + Fraction(points[-1].speed * (u - points[-1].at), UNIT)


def constant(speed: int, *, backwards: bool = False, pitch: Literal["kept", "follows"] = "kept") -> Speed | None:
    """One speed throughout; None where that is how the source runs by itself."""
    if speed == UNIT and not backwards:
        return None
    return Speed(points=(SpeedPoint(speed=speed),), backwards=backwards, pitch=pitch)


Preset = Literal["steady", "ease-in", "ease-out", "ease-both", "rush", "linger"]


def preset(name: Preset, length: int) -> tuple[SpeedPoint, ...]:
    """The points of a ready-made curve over a length in ticks."""
    half, third = length // 2, length // 3
    shapes: dict[str, tuple[tuple[int, int], ...]] = {
        "steady": ((0, 1000),),
        "ease-in": ((0, 300), (half, 1000), (length, 1000)),
        "ease-out": ((0, 1000), (half, 1000), (length, 300)),
        "ease-both": ((0, 300), (third, 1150), (length - third, 1150), (length, 300)),
        "rush": ((0, 1000), (third, 1000), (half, 4000), (length - third, 1000), (length, 1000)),
        "linger": ((0, 1200), (third, 1200), (half, 250), (length - third, 1200), (length, 1200)),
    }
    return tuple(SpeedPoint(at=at, speed=speed) for at, speed in shapes[name])
