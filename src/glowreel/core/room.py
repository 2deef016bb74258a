"""Room on a track."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterable

from glowreel.core.timeline import Span


class Room:
    """The stretches that are taken on one track, in order, so that room is found by halving."""

    def __init__(self, spans: Iterable[Span] = ()) -> None:
        taken = sorted((span.start, span.end) for span in spans)
        self._starts = [start for start, _ in taken]
        self._ends = [end for _, end in taken]

    def free(self, span: Span) -> bool:
        spot = bisect_right(self._starts, span.start)
        before = spot == 0 or self._ends[spot - 1] <= span.start
        return before and (spot == len(self._starts) or span.end <= self._starts[spot])

    def take(self, span: Span) -> None:
        spot = bisect_right(self._starts, span.start)
        self._starts.insert(spot, span.start)
        self._ends.insert(spot, span.end)
