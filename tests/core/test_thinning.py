"""Which steps of a history stay."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

from hypothesis import given
from hypothesis import strategies as st

from glowreel.core.thinning import ALL_OF, DAY, Step, parents, thinned

NOW = datetime(2026, 12, 1, 12, tzinfo=UTC)
MINUTE = timedelta(minutes=1)


def history(*ages: timedelta) -> list[Step]:
    """Steps that were made so long ago, each from the one before."""
    return [Step(n, n - 1 if n > 1 else None, NOW - age) for n, age in enumerate(ages, 1)]


def test_all_of_late_stays_and_of_long_ago_the_last_of_each_stretch() -> None:
    old = [20 * DAY - n * MINUTE for n in range(30)]
    steps = history(*(400 * DAY - n * DAY for n in range(14)), *old, *(n * MINUTE for n in range(50, 0, -1)))
    gone = thinned(steps, (), NOW, 5000)
    left = [step for step in steps if step.id not in gone]
    assert sum(NOW - step.at < ALL_OF for step in left) == 50
    assert 3 <= sum(19 * DAY < NOW - step.at < 21 * DAY for step in left) <= 4, "one of ten minutes"
    assert 2 <= sum(NOW - step.at > 380 * DAY for step in left) <= 3, "one of a week"


def test_what_is_named_or_used_stays_and_undo_goes_over_what_is_gone() -> None:
    steps = history(*(60 * DAY - n * MINUTE for n in range(10)), MINUTE)
    gone = thinned(steps, {3}, NOW, 5000)
    assert gone == {1, 2, 4, 5, 6, 7, 8, 9}
    assert parents(steps, gone) == {3: None, 10: 3}


@given(
    ages=st.lists(st.integers(0, 900 * 24 * 60), min_size=1, max_size=80),
    stays=st.sets(st.integers(1, 80), max_size=10),
    most=st.integers(1, 60),
)
def test_the_rule_never_drops_what_stays_keeps_the_bound_and_does_nothing_twice(
    ages: list[int], stays: set[int], most: int
) -> None:
    steps = history(*(MINUTE * age for age in sorted(ages, reverse=True)))
    gone = thinned(steps, stays, NOW, most)
    left = [step for step in steps if step.id not in gone]
    assert not gone & stays
    assert len(left) <= most + len(stays & {step.id for step in steps})
    assert thinned(left, stays, NOW, most) == set()
    numbers = {step.id for step in left}
    for step, parent in parents(steps, gone).items():
        assert step in numbers
        assert parent is None or parent in numbers
