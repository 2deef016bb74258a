"""Moments of a promo that are found again after edits."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from glowreel.core import commands as c
from glowreel.core.commands import Command
from glowreel.core.document import Promo
from glowreel.core.errors import Refusal
from glowreel.core.moments import find_moment, moment_at
from glowreel.core.timeline import timeline
from tests.core.build import S, Table


def laid() -> Table:
    """ridge 0–10, field 10–16, basket 16–20."""
    table = Table()
    table.do(c.InsertClips(media=("ridge", "field", "basket")))
    return table


def shown(promo: Promo, at: int) -> tuple[str | None, int]:
    """The material on show at a time, and which tick of it."""
    index = timeline(promo)
    clip = index.clip_at(at)
    assert clip is not None
    assert clip.source is not None
    return clip.media, clip.source.shown(clip.into + at - index.clip_span[clip.id].start)


def test_a_moment_goes_with_its_clip_and_with_the_half_that_shows_it() -> None:
    table = laid()
    moment = moment_at(table.promo, 12 * S)
    ridge, field, _ = (clip.id for clip in table.promo.clips)
    table.do(c.RemoveRange(start=2 * S, end=5 * S))
    assert find_moment(table.promo, moment) == find_moment(table.promo, moment_at(table.promo, 9 * S))
    table.do(c.SplitAt(at=8 * S))
    assert find_moment(table.promo, moment).at == 9 * S, "in the second half, which has another name"
    table.do(c.MoveClips(clips=(table.promo.clips[-1].id,), before=ridge))
    found = find_moment(table.promo, moment)
    assert found.there
    assert shown(table.promo, found.at) == (moment.media, moment.shown)
    table.do(c.Remove(items=(field,)))
    assert find_moment(table.promo, moment).there, "what was split off still shows it"


def test_a_place_that_was_cut_out_is_gone_and_told_by_what_is_nearest() -> None:
    table = laid()
    moment = moment_at(table.promo, 12 * S)
    table.do(c.RemoveRange(start=11 * S, end=13 * S))
    found = find_moment(table.promo, moment)
    assert not found.there
    assert abs(found.at - 11 * S) < S // 10
    late = moment_at(table.promo, 17 * S)
    table.do(c.Remove(items=(table.promo.clips[-1].id,)))
    found = find_moment(table.promo, late)
    assert (found.there, found.at) == (False, timeline(table.promo).length - 1)


def test_a_moment_in_what_has_no_material_goes_with_it() -> None:
    table = Table()
    table.do(c.InsertFiller(length=4 * S))
    moment = moment_at(table.promo, 3 * S)
    table.do(c.InsertClips(media=("ridge",), before=table.promo.clips[0].id))
    assert find_moment(table.promo, moment).at == 13 * S
    assert moment_at(Table().promo, 5 * S).clip is None, "an empty promo has moments too"


EDITS = st.one_of(
    st.builds(c.SplitAt, at=st.integers(0, 20).map(lambda n: n * S)),
    st.builds(
        c.RemoveRange, start=st.integers(0, 9).map(lambda n: n * S), end=st.integers(10, 19).map(lambda n: n * S)
    ),
    st.tuples(st.integers(0, 9), st.sampled_from((500, 1000, 2000)), st.booleans()),
    st.integers(0, 9),
)


@given(at=st.integers(0, 20 * S - 1), edits=st.lists(EDITS, max_size=6))
def test_where_a_moment_is_found_what_was_on_show_is_on_show(at: int, edits: list[object]) -> None:
    table = laid()
    moment = moment_at(table.promo, at)
    for edit in edits:
        clips = table.promo.clips
        if not clips:
            break
        if isinstance(edit, int):
            edit = c.MoveClips(clips=(clips[edit % len(clips)].id,))
        elif isinstance(edit, tuple):
            edit = c.SetSpeed(item=clips[edit[0] % len(clips)].id, speed=edit[1], backwards=edit[2])
        assert isinstance(edit, Command)
        try:
            table.do(edit)
        except Refusal:
            continue
    found = find_moment(table.promo, moment)
    assert 0 <= found.at < max(1, timeline(table.promo).length)
    if found.there:
        media, tick = shown(table.promo, found.at)
        assert media == moment.media
        assert abs(tick - (moment.shown or 0)) <= S // 10
