"""Music that lasts as long as it is wanted to: whole bars are left out or heard again.

```
piece      |1 |2 |3 |4 |5 |6 |7 |8 |        bars, as they were found
shorter    |1 |2 |3 |     6 |7 |8 |         from the end of bar 3 to the beginning of bar 6: one joint
longer     |1 |2 |3 |4 |5 |  3 |4 |5 |6 |7 |8 |
```
It always begins with the piece's first bar and ends with its last ones. Where to join is looked for among the joints
that were found to sound alike (`engine.beats`): each has a cost, and the way through the bars that costs least is
taken, by dynamic programming over so many bars. What then is missing to the very sample is made up by running the whole
a hair faster or slower, its pitch kept; of a short piece the last chord rings on a little less, or ends a breath early.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

ENDING = 2
"""So many bars at the end are always heard, as they are."""
MOST_STRETCH = 0.045
"""The whole is run faster or slower by at most this share."""
STRETCH_COST = 12.0
"""What it costs to run it faster or slower, for a whole (a joint that is hardly heard costs about 0.1)."""
JOINT_COST = 0.25
"""What every joint costs besides how unlike it is, so that there are few."""
MOST_BARS = 600
RING, SILENCE = 33_600, 28_800
"""Samples that the last chord rings on at least, and that may be silent behind it."""

Joint = tuple[int, int, float]


@dataclass(frozen=True, slots=True)
class Fit:
    """The stretches of the piece to be heard one after another, in samples of it, and how fast they run. `joined`
    is False where the piece allows no joint: then it is heard as it is, and fades."""

    stretches: tuple[tuple[int, int], ...]
    rate: float
    joined: bool


def fit(facts: Mapping[str, Any] | None, wanted: int, total: int) -> Fit:
    """How a piece of `total` samples lasts `wanted` samples, with what `engine.beats` found of it."""
    if facts is None or not facts.get("bars") or wanted <= 0:
        return Fit(((0, min(total, wanted)),), 1.0, False)
    joints = tuple((int(a), int(b), float(cost)) for a, b, cost in facts.get("joints", ()))
    edges = (*(int(bar) for bar in facts["bars"]), int(facts["end"]))
    return _fit(edges, joints, wanted, total)


@lru_cache(maxsize=64)
def _fit(edges: tuple[int, ...], joints: tuple[Joint, ...], wanted: int, total: int) -> Fit:
    bars = len(edges) - 1
    # What comes before the first bar, and what rings on after the last, is heard as well.
    around = edges[0] + total - edges[-1]
    typical = (edges[-1] - edges[0]) / max(1, bars)
    aim = round((wanted - around) / typical) if typical else 0
    found: list[tuple[float, Fit]] = []
    for count in range(max(ENDING + 1, aim - 2), min(MOST_BARS, aim + 2) + 1):
        way = _way(bars, joints, count)
        if way is None:
            continue
        cost, order = way
        stretches = _stretches(order, edges, total)
        lasts = sum(b - a for a, b in stretches)
        # What running it faster or slower cannot make up is taken from what rings on, or left silent behind it.
        rate = min(1 + MOST_STRETCH, max(1 - MOST_STRETCH, lasts / wanted))
        over = lasts - round(wanted * rate)
        if -SILENCE <= over <= max(0, total - edges[-1] - RING):
            (first, last) = stretches[-1]
            made = (*stretches[:-1], (first, last - max(0, over)))
            price = cost + abs(rate - 1) * STRETCH_COST + abs(over) / RING
            found.append((price, Fit(made, rate, True)))
    if not found:
        return Fit(((0, min(total, wanted)),), 1.0, False)
    return min(found, key=lambda one: one[0])[1]


def _way(bars: int, joints: Sequence[Joint], count: int) -> tuple[float, tuple[int, ...]] | None:
    """The cheapest way of `count` bars from the first to the last, by the joints there are; None where there is
    none."""
    if count == bars:
        return 0.0, tuple(range(bars))
    into: dict[int, list[tuple[int, float]]] = {}
    for before, after, cost in joints:
        # The ending is reached from outside it, and never left.
        if after != before + 1 and before < bars - ENDING and after <= bars - ENDING and before < bars and after > 0:
            into.setdefault(after, []).append((before, cost + JOINT_COST))
    endless = float("inf")
    costs = [endless] * bars
    costs[0] = 0.0
    came: list[list[int]] = []
    for _ in range(count - 1):
        step, back = [endless] * bars, [-1] * bars
        for bar in range(bars):
            best, origin = (costs[bar - 1], bar - 1) if bar else (endless, -1)
            for before, cost in into.get(bar, ()):
                if costs[before] + cost < best:
                    best, origin = costs[before] + cost, before
            step[bar], back[bar] = best, origin
        costs = step
        came.append(back)
    if costs[bars - 1] == endless:
        return None
    order = [bars - 1]
    for back in reversed(came):
        order.append(back[order[-1]])
    return costs[bars - 1], tuple(reversed(order))


def _stretches(order: Sequence[int], edges: Sequence[int], total: int) -> tuple[tuple[int, int], ...]:
    """Runs of bars that follow each other in the piece, as stretches of samples."""
    found: list[list[int]] = []
    for place, bar in enumerate(order):
        if place and bar == order[place - 1] + 1:
            found[-1][1] = edges[bar + 1]
        else:
            found.append([edges[bar], edges[bar + 1]])
    found[0][0], found[-1][1] = 0, total
    return tuple((a, b) for a, b in found)
