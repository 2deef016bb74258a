"""Values over time: points in a part's own time, with a way of getting from one to the next.

```
value   ●───straight───●        ●·····in·····●        ●───hold───╷
        at 0 s         at 2 s                                    ●
```
Before the first point and after the last the value stays. A curve belongs to the part's own time and not to where the
part begins or ends, so that splitting, trimming and joining change nothing of it.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable
from functools import cached_property
from typing import Any

from pydantic import Field, field_validator

from glowreel.core.easing import EASINGS, eased, own_curve
from glowreel.core.speed import Moment
from glowreel.core.value import Value

MAX_POINTS = 200


class Point(Value):
    """At `at` ticks of the part's own time it has this value, and goes on to the next point by `ease`."""

    at: Moment
    value: Any
    ease: str = "straight"

    @field_validator("ease")
    @classmethod
    def _known(cls, ease: str) -> str:
        if ease not in EASINGS and own_curve(ease) is None:
            raise ValueError(f"“{ease}” is no easing; there are {', '.join(EASINGS)}, or a curve of four numbers")
        return ease


class Curve(Value):
    """Points in the order of time, no two at the same moment."""

    points: tuple[Point, ...] = Field(min_length=1, max_length=MAX_POINTS)

    @field_validator("points")
    @classmethod
    def _in_order(cls, points: tuple[Point, ...]) -> tuple[Point, ...]:
        if any(a.at >= b.at for a, b in zip(points, points[1:], strict=False)):
            raise ValueError("the points of a curve come in order, each at a moment of its own")
        return points

    @cached_property
    def moments(self) -> tuple[int, ...]:
        return tuple(point.at for point in self.points)

    def at(self, moment: int, mix: Callable[[Any, Any, float], Any]) -> Any:
        """The value at a moment of the part's own time; `mix` says what lies between two values."""
        spot = bisect_right(self.moments, moment) - 1
        if spot < 0:
            return self.points[0].value
        here = self.points[spot]
        if spot + 1 == len(self.points) or moment == here.at:
            return here.value
        ahead = self.points[spot + 1]
        share = eased(here.ease, (moment - here.at) / (ahead.at - here.at))
        return mix(here.value, ahead.value, share) if share else here.value

    def with_point(self, point: Point) -> Curve:
        """The same with a point put in, in place of one at that moment."""
        others = [known for known in self.points if known.at != point.at]
        return Curve(points=tuple(sorted((*others, point), key=lambda known: known.at)))

    def without(self, moment: int) -> Curve | None:
        """The same without the point at a moment; None where it was the last one."""
        rest = tuple(point for point in self.points if point.at != moment)
        return Curve(points=rest) if rest else None
