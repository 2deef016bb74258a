"""Where the subject of a picture is, and which part of the picture is shown so that it stays in view.

What was found of a file is kept with its facts: for each shot, the path of what it is of, and of a second one where
there is one. A frame that shows less than the whole picture has its middle on that path.

```
shot 1   first  ····•─────•········      positions in shares of the picture, by time
         second        ····•────•··      a second person, where there is one
cut
shot 2   first  •                        it stands still: one point
```
"""

from __future__ import annotations

from bisect import bisect_right
from functools import cached_property
from typing import Annotated

from pydantic import Field

from glowreel.core.time import Ticks
from glowreel.core.value import Value

Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]
Point = tuple[Ticks, Share, Share]
"""When in the source, and where: across and down, in shares of the picture."""
MOST_POINTS, MOST_SHOTS = 400, 200
ROOM = 0.16
"""How much wider than from middle to middle a view must be, in shares of the picture, to hold two."""


class Shot(Value):
    """What is seen from `at` on until the next shot: the path of its subject, and of a second one."""

    at: Ticks = 0
    first: Annotated[tuple[Point, ...], Field(max_length=MOST_POINTS)] = ()
    second: Annotated[tuple[Point, ...], Field(max_length=MOST_POINTS)] = ()

    @cached_property
    def apart(self) -> tuple[float, float]:
        """How far the two are from one another at the most: across and down."""
        times = {point[0] for point in (*self.first, *self.second)}
        places = [(along(self.first, at), along(self.second, at)) for at in times]
        across, down = (max(abs(one[side] - other[side]) for one, other in places) for side in (0, 1))
        return across, down

    @cached_property
    def middle(self) -> tuple[float, float]:
        """Where the subject mostly is."""
        across, down = (sorted(point[side] for point in self.first)[len(self.first) // 2] for side in (1, 2))
        return across, down


class Subject(Value):
    """What was found of a file: its shots in order. None where nothing stands out."""

    shots: Annotated[tuple[Shot, ...], Field(max_length=MOST_SHOTS)] = ()

    def shot_at(self, at: int) -> Shot | None:
        """The shot on show at a time of the source."""
        place = bisect_right(self.shots, at, key=lambda shot: shot.at) - 1
        return self.shots[max(0, place)] if self.shots else None


def along(points: tuple[Point, ...], at: int) -> tuple[float, float]:
    """Where a path is at a time: between its points as a smooth curve (cubic Hermite with the slopes of Catmull and
    Rom), before and behind them as at its ends. Raises `IndexError` for no path."""
    place = bisect_right(points, at, key=lambda point: point[0])
    if place == 0 or place == len(points):
        _, across, down = points[min(place, len(points) - 1)]
        return across, down
    before, behind = points[place - 1], points[place]
    span = behind[0] - before[0]
    share = (at - before[0]) / span
    earlier, later = points[max(0, place - 2)], points[min(len(points) - 1, place + 1)]
    moved = []
    for side in (1, 2):
        begins = (behind[side] - earlier[side]) / max(1, behind[0] - earlier[0]) * span
        ends = (later[side] - before[side]) / max(1, later[0] - before[0]) * span
        two, three = share * share, share * share * share
        value = (
            (2 * three - 3 * two + 1) * before[side] + (three - 2 * two + share) * begins
            + (3 * two - 2 * three) * behind[side] + (three - two) * ends
        )  # fmt: skip
        moved.append(min(1.0, max(0.0, value)))
    return moved[0], moved[1]


FOLLOWS: dict[str, str] = {
    "subject": "what it is of stays in view; two, where both have room",
    "first": "the one in front stays in view, even where two would have room",
    "both": "both stay in view as well as they can",
    "still": "the view stands still where the subject mostly is",
    "none": "the middle stays in view",
}
"""How a view follows a picture's subject."""
FOLLOW_LABELS: dict[str, str] = {
    "subject": "Its subject", "first": "The first of two", "both": "Both of two", "still": "Its subject, held still",
    "none": "The middle",
}  # fmt: skip


def focus_of(subject: Subject, at: int, views: tuple[float, float], how: str = "subject") -> tuple[float, float] | None:
    """The point of a picture that is kept nearest to the middle of a view at a time of the source; `views` is how much
    of its width and height the view shows. None where nothing is known, or nothing is to be followed."""
    shot = subject.shot_at(at)
    if shot is None or not shot.first or how == "none":
        return None
    if how == "still":
        return shot.middle
    first = along(shot.first, at)
    if not shot.second or how == "first":
        return first
    if how == "subject" and any(far + ROOM > view for far, view in zip(shot.apart, views, strict=True)):
        return first
    second = along(shot.second, at)
    return (first[0] + second[0]) / 2, (first[1] + second[1]) / 2
