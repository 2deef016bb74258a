"""What is said of counts is no more than they hold."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from glowreel.core.odds import ENOUGH, better, enough, share

COUNTS = st.integers(0, 5000).flatmap(lambda of: st.tuples(st.integers(0, of), st.just(of)))


def test_a_share_lies_where_the_literature_has_it() -> None:
    found = share(10, 100)
    assert (round(found.low, 4), round(found.high, 4)) == (0.0552, 0.1744), "Wilson, 95 of 100"
    assert (share(0, 0).low, share(0, 0).high) == (0.0, 1.0)
    assert share(7, 5).share == 1.0


@given(COUNTS)
def test_the_interval_holds_the_share_and_narrows_as_more_is_seen(counts: tuple[int, int]) -> None:
    times, of = counts
    found = share(times, of)
    assert 0 <= found.low <= found.share <= found.high <= 1
    if of:
        more = share(4 * times, 4 * of)
        assert more.high - more.low < found.high - found.low


@given(st.lists(COUNTS, min_size=2, max_size=4))
def test_one_is_better_only_where_its_worst_is_above_all_others(counts: list[tuple[int, int]]) -> None:
    shares = [share(*one) for one in counts]
    best = better(shares)
    if min(of for _, of in counts) < ENOUGH:
        assert not enough(shares)
        assert best is None
    if best is not None:
        assert all(shares[best].low > one.high for at, one in enumerate(shares) if at != best)


def test_a_clear_difference_is_seen_and_a_small_one_is_not() -> None:
    assert better([share(40, 100), share(5, 100)]) == 0
    assert better([share(22, 100), share(18, 100)]) is None
    assert better([share(29, 29), share(0, 500)]) is None, "one was not seen often enough"
