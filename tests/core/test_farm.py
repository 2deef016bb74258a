"""Whose turn it is among pieces, and what many workers would do with them."""

from __future__ import annotations

from collections import Counter

from hypothesis import given
from hypothesis import strategies as st

from glowreel.core.farm import Waiting, simulate, turn

START = 0.2

PIECES = st.lists(
    st.builds(
        Waiting, st.sampled_from(("north", "south", "west")), st.integers(0, 4), st.integers(0, 20), st.floats(0.1, 9)
    ),
    min_size=1,
    max_size=40,
)


def export(team: str, at: int, count: int, seconds: float = 1.0) -> list[Waiting]:
    return [Waiting(team, at, number, seconds) for number in range(count)]


def test_a_team_with_less_in_hand_comes_first_then_the_oldest_export_then_the_first_piece() -> None:
    waiting = [*export("north", 1, 3), *export("south", 2, 2), *export("north", 0, 1)]
    assert turn(waiting, Counter()) == Waiting("north", 0, 0, 1.0)
    assert turn(waiting, Counter(north=1)) == Waiting("south", 2, 0, 1.0)
    assert turn(waiting[:3], Counter(north=9)) == Waiting("north", 1, 0, 1.0)


def test_a_small_export_does_not_wait_for_a_large_one_of_another_team() -> None:
    done = simulate([*export("large", 0, 100), *export("small", 1, 2)], 4).done
    assert done[1] < done[0] / 5


@given(pieces=PIECES, workers=st.integers(1, 60), join=st.floats(0, 3))
def test_no_farm_is_faster_than_its_work_and_more_workers_never_idle_at_the_start(
    pieces: list[Waiting], workers: int, join: float
) -> None:
    exports = len({piece.export for piece in pieces})
    whole = sum(piece.seconds + START for piece in pieces) + exports * join
    ran = simulate(pieces, workers, join, START)
    assert set(ran.done) == {piece.export for piece in pieces}
    assert ran.seconds >= whole / workers - 1e-6
    longest = max(piece.seconds for piece in pieces) + START
    assert ran.seconds <= whole / workers + longest + exports * join + 1e-6
    assert 0 < ran.efficiency <= 1 + 1e-9
    assert abs(simulate(pieces, 1, join, START).seconds - whole) < 1e-6
