"""What can honestly be said of counts: how sure a share is, and whether one of several is better than the others."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt

SURE = 1.96
"""Standard deviations to either side within which a share lies 95 times of 100."""
ENOUGH = 30
"""So often each has to be seen before anything is said of which is better."""


@dataclass(frozen=True)
class Share:
    """How often something happened of how often it could have, with the shares `low` to `high` between which it would
    lie 95 times of 100 if it went on like that."""

    times: int
    of: int
    low: float
    high: float

    @property
    def share(self) -> float:
        return self.times / self.of if self.of else 0.0


def share(times: int, of: int) -> Share:
    """The share with its interval after Wilson (1927), which holds for small counts as well. `times` beyond `of`, which
    a page that is left early can count, are taken as `of`."""
    times = min(times, of)
    if of <= 0:
        return Share(0, 0, 0.0, 1.0)
    found, spread = times / of, SURE * SURE / of
    middle = (found + spread / 2) / (1 + spread)
    width = SURE * sqrt(found * (1 - found) / of + spread / (4 * of)) / (1 + spread)
    return Share(times, of, max(0.0, min(middle - width, found)), min(1.0, max(middle + width, found)))


def better(shares: Sequence[Share]) -> int | None:
    """Which of several does better for sure: all have been seen often enough, and its interval lies above all others.
    Nothing where that cannot be said."""
    if len(shares) < 2 or not enough(shares):
        return None
    best = max(range(len(shares)), key=lambda at: shares[at].low)
    others = [one for at, one in enumerate(shares) if at != best]
    return best if all(shares[best].low > other.high for other in others) else None


def enough(shares: Sequence[Share]) -> bool:
    """Whether all have been seen often enough for something to be said."""
    return bool(shares) and min(one.of for one in shares) >= ENOUGH
