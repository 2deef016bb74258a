"""Which steps of a history stay: all of late, then ever fewer the longer ago they were made; what is named or used
stays for good."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

DAY = timedelta(days=1)
SPANS: tuple[tuple[timedelta, timedelta], ...] = (
    (30 * DAY, timedelta(minutes=10)),
    (365 * DAY, DAY),
    (timedelta.max, 7 * DAY),
)
"""Of steps up to so old, the last of so long a stretch stays."""
ALL_OF = 7 * DAY
"""Younger than that, every step stays."""


@dataclass(frozen=True)
class Step:
    """A step: its number, that of the one it was made from, and when."""

    id: int
    parent: int | None
    at: datetime


def thinned(steps: Sequence[Step], stays: Collection[int], now: datetime, most: int) -> set[int]:
    """The steps that go: by the rule, and the oldest of what is left beyond `most`. Those of `stays` never do, and do
    not count."""
    last: dict[tuple[int, int], int] = {}
    kept = set(stays)
    for step in steps:
        age = now - step.at
        if age < ALL_OF:
            kept.add(step.id)
            continue
        place = next(n for n, (up_to, _) in enumerate(SPANS) if age < up_to)
        stretch = int(step.at.timestamp() // SPANS[place][1].total_seconds())
        last[place, stretch] = max(step.id, last.get((place, stretch), 0))
    kept |= set(last.values())
    free = sorted((step.id for step in steps if step.id in kept and step.id not in stays), reverse=True)
    kept -= set(free[most:])
    return {step.id for step in steps} - kept


def parents(steps: Sequence[Step], gone: Collection[int]) -> dict[int, int | None]:
    """From which step those that stay come now, where theirs goes: the nearest before it that stays. Undo goes on over
    what is gone."""
    made_from = {step.id: step.parent for step in steps}

    def nearest(step: int | None) -> int | None:
        while step is not None and step in gone:
            step = made_from.get(step)
        return step

    return {step.id: nearest(step.parent) for step in steps if step.id not in gone and step.parent in gone}
