"""Values over time: points in a part's own time, with a way of getting from one to the next.

```
value   ●───straight───●        ●·····in·····●        ●───hold───╷
        at 0 s         at 2 s                                    ●
```
Before the first point and after the last the value stays. A curve belongs to the part's own time and not to where the
part begins or ends, so that splitting, trimming and joining change nothing of it.
"""

from __future__ import annotations

import math
import re
from bisect import bisect_right
from collections.abc import Callable
from functools import cached_property
from typing import Any

from pydantic import Field, field_validator

from glowreel.core.speed import Moment
from glowreel.core.value import Value

MAX_POINTS = 200

EASINGS: dict[str, tuple[str, Callable[[float], float]]] = {
    "straight": ("evenly", lambda share: share),
    "in": ("starts slowly", lambda share: share**3),
    "out": ("ends slowly", lambda share: 1 - (1 - share) ** 3),
    "both": ("slow at both ends", lambda share: share * share * (3 - 2 * share)),
    "spring": ("springs beyond and back", lambda share: 1 - math.exp(-6 * share) * math.cos(9 * share) * (1 - share)),
    "hold": ("stays until the next point", lambda share: 0.0),
}
"""How a value gets from a point to the next: what it is called, and the share of the way for a share of the time."""


OWN = re.compile(r"(0|1|0?\.\d{1,4}) (-?\d(?:\.\d{1,4})?) (0|1|0?\.\d{1,4}) (-?\d(?:\.\d{1,4})?)")
"""A curve of one's own: the two middle points of a cubic Bézier, as in CSS Easing Functions: `0.3 0 0.2 1`."""
BISECTIONS = 24


def _own(ease: str) -> tuple[float, float, float, float] | None:
    found = OWN.fullmatch(ease)
    if found is None:
        return None
    first, up, second, down = map(float, found.groups())
    return first, up, second, down


def eased(ease: str, share: float) -> float:
    """The share of the way for a share of the time, by the name of an easing or by a curve of one's own."""
    known = EASINGS.get(ease)
    if known is not None:
        return known[1](share)
    own = _own(ease)
    return share if own is None else _bezier(*own, share)


def _bezier(x1: float, y1: float, x2: float, y2: float, share: float) -> float:
    """The height of a cubic Bézier from (0, 0) to (1, 1) where it is as far across as the share."""

    def along(first: float, second: float, at: float) -> float:
        return 3 * (1 - at) ** 2 * at * first + 3 * (1 - at) * at**2 * second + at**3

    low, high = 0.0, 1.0
    for _ in range(BISECTIONS):
        middle = (low + high) / 2
        low, high = (middle, high) if along(x1, x2, middle) < share else (low, middle)
    return along(y1, y2, (low + high) / 2)


class Point(Value):
    """At `at` ticks of the part's own time it has this value, and goes on to the next point by `ease`."""

    at: Moment
    value: Any
    ease: str = "straight"

    @field_validator("ease")
    @classmethod
    def _known(cls, ease: str) -> str:
        if ease not in EASINGS and _own(ease) is None:
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
