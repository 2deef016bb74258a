"""The material of a part that runs: which file, from where, how fast.

A part has a time of its own; it begins `into` that time and lasts its length. Where the material runs by itself, its
time is `at` later; with a speed, it is along the curve (see `core.speed`). Said once, for clips, layers and sounds.
"""

from __future__ import annotations

from fractions import Fraction
from typing import Annotated, Literal

from pydantic import Field

from glowreel.core.speed import Moment, Speed
from glowreel.core.value import Id, Value

Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]
Spot = tuple[Share, Share]
"""A point of a picture in shares of its width and height."""


class Source(Value):
    """`at` is the time of the material where the part's own time is 0. Where it fills a place that crops it, `focus` is
    the point of it that stays nearest to the middle; with `cut`, only the thing in a photo is seen there. Sound may run
    otherwise than `once`: `round` and round, or `fitted`, so that it lasts as long as it is wanted to, by whole bars
    that are left out or heard again (see `core.fitting`); then it never ends."""

    media: Id
    at: Moment = 0
    speed: Speed | None = None
    focus: Spot = (0.5, 0.5)
    cut: bool = False
    runs: Literal["once", "round", "fitted"] = "once"

    def exact(self, moment: int) -> Fraction:
        """Time of the material at a moment of the part's own time. May lie outside the material."""
        if self.speed is None:
            return Fraction(self.at + moment)
        area = self.speed.area(moment)
        return self.at - area if self.speed.backwards else self.at + area

    def shown(self, moment: int) -> int:
        """Tick of the material that is on show: going backwards, the one just before the exact time."""
        if self.speed is None:
            return self.at + moment
        exact = self.exact(moment)
        return exact.__floor__() if not self.speed.backwards else exact.__ceil__() - 1

    def range(self, into: int, length: int) -> tuple[int, int]:
        """First and last tick of the material that a stretch of the part's own time uses, rounded outwards."""
        if self.speed is None:
            return self.at + into, self.at + into + length
        ends = sorted((self.exact(into), self.exact(into + length)))
        return ends[0].__floor__(), ends[1].__ceil__()

    def longest(self, into: int, media_length: int, most: int) -> int:
        """How long a part may last, from its start, until the material is used up; at most `most`. Ticks."""
        if self.runs != "once":
            return most
        if self.speed is None:
            return max(0, min(most, media_length - self.at - into))
        return self._reach(into, media_length, most, 1)

    def earliest(self, into: int, media_length: int, most: int) -> int:
        """How far a part's start may be moved outwards until the material is used up; at most `most`. Ticks."""
        if self.runs != "once":
            return most
        if self.speed is None:
            return max(0, min(most, self.at + into))
        return self._reach(into, media_length, most, -1)

    def _reach(self, into: int, media_length: int, most: int, way: int) -> int:
        """The largest u ≤ most for which the material, u ticks on (or back), still lies in it. By halving: exact."""

        def inside(u: int) -> bool:
            return 0 <= self.exact(into + way * u) <= media_length

        if not inside(0):
            return 0
        low, high = 0, most
        if inside(high):
            return high
        while high - low > 1:
            middle = (low + high) // 2
            low, high = (middle, high) if inside(middle) else (low, middle)
        return low

    @property
    def held(self) -> bool:
        """Whether one moment of it is shown throughout."""
        return self.speed is not None and self.speed.constant == 0

    def beginning(self, at: int, into: int) -> Source:
        """The same with the time of the material `at` where the part begins, `into` its own time; run by itself."""
        return Source(media=self.media, at=at - into)
