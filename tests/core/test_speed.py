"""Speed: exact source times, lengths that follow, sound that goes along."""

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from glowreel.core import commands as c
from glowreel.core.errors import Refusal
from glowreel.core.formats import SHIPPED
from glowreel.core.recipe.model import DrawPicture
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.recipe.sound import all_voices
from glowreel.core.source import Source
from glowreel.core.speed import Speed, SpeedPoint
from glowreel.core.timeline import timeline
from tests.core.build import S, Table, measure

curves = st.builds(
    Speed,
    points=st.lists(
        st.builds(SpeedPoint, at=st.integers(-20 * S, 20 * S), speed=st.integers(100, 16000) | st.just(0)),
        min_size=1, max_size=6,
    ).map(lambda points: tuple(sorted(points, key=lambda p: p.at))),
    backwards=st.booleans(),
)  # fmt: skip


@pytest.fixture
def table() -> Table:
    table = Table()
    table.do(c.InsertClips(media=("ridge", "field")))
    return table


def shown(table: Table, at: int) -> int:
    """Source time of the picture on show, in thirtieths."""
    ops = frame_recipe(table.promo, SHIPPED["wide"], at, measure).ops
    op = next(op for op in ops if isinstance(op, DrawPicture))
    return round(op.at * 30 / S)


def test_the_area_under_a_ramp_is_its_trapezium() -> None:
    ramp = Speed(points=(SpeedPoint(at=0, speed=1000), SpeedPoint(at=4 * S, speed=3000)))
    assert ramp.area(4 * S) == 8 * S
    assert ramp.area(2 * S) == Fraction(3 * S)
    assert ramp.area(6 * S) == 8 * S + 3 * 2 * S
    assert ramp.area(-S) == -S
    assert ramp.at(2 * S) == 2


@given(curves, st.integers(-15 * S, 15 * S), st.integers(0, 9 * S), st.integers(0, 9 * S))
def test_areas_add_up_exactly_and_never_shrink(curve: Speed, start: int, first: int, second: int) -> None:
    def area(a: int, b: int) -> Fraction:
        return curve.area(b) - curve.area(a)

    middle, end = start + first, start + first + second
    assert area(start, middle) + area(middle, end) == area(start, end)
    assert area(start, middle) >= 0


@given(curves, st.integers(0, 30 * S), st.integers(-10 * S, 10 * S))
def test_a_part_reaches_exactly_as_far_as_its_material(curve: Speed, at: int, into: int) -> None:
    media, most = 30 * S, 60 * S
    source = Source(media="ridge", at=at, speed=curve)
    length = source.longest(into, media, most)
    lead = source.earliest(into, media, most)
    start = source.exact(into)
    if not 0 <= start <= media:
        assert (length, lead) == (0, 0)
        return
    assert 0 <= source.exact(into + length) <= media
    assert 0 <= source.exact(into - lead) <= media
    for further in (length + 1, -lead - 1):
        there = source.exact(into + further)
        assert abs(further) > most or not 0 <= there <= media


def test_twice_as_fast_is_half_as_long_and_shows_every_second_frame(table: Table) -> None:
    clip = table.promo.clips[0].id
    title = table.do(c.AddWords(at=6 * S)).select[0]
    table.do(c.SetSpeed(item=clip, speed=2000))
    assert table.promo.clips[0].length == 5 * S
    assert [shown(table, n * S // 30) for n in range(4)] == [0, 2, 4, 6]
    index = timeline(table.promo)
    assert index.item_span(index.item[title]).start == 3 * S, "it stays on its picture"
    table.do(c.SetSpeed(item=clip, speed=1000))
    assert table.promo.clips[0].source.speed is None
    assert table.promo.clips[0].length == 10 * S


def test_backwards_shows_the_same_frames_the_other_way(table: Table) -> None:
    clip = table.promo.clips[0].id
    table.do(c.Trim(item=clip, length=2 * S))
    forwards = [shown(table, n * S // 30) for n in range(60)]
    table.do(c.SetSpeed(item=clip, backwards=True))
    assert [shown(table, n * S // 30) for n in range(60)] == forwards[::-1]
    table.do(c.SetSpeed(item=clip, backwards=False))
    assert table.promo.clips[0].source.speed is None
    assert [shown(table, n * S // 30) for n in range(60)] == forwards


def test_a_held_frame_stays_and_then_it_goes_on(table: Table) -> None:
    table.do(c.Freeze(at=3 * S, length=2 * S))
    assert [clip.length / S for clip in table.promo.clips] == [3, 2, 7, 6]
    assert {shown(table, at * S // 10) for at in range(30, 50)} == {90}
    assert shown(table, 5 * S) == 90
    assert shown(table, 6 * S) == 120
    assert len(all_voices(table.promo)) == 3, "a held frame is silent"
    with pytest.raises(Refusal, match="no footage here"):
        table.do(c.Freeze(at=90 * S))


def test_a_curve_lasts_as_long_as_its_material_and_ends_where_that_ends(table: Table) -> None:
    clip = table.promo.clips[0].id
    table.do(c.SetCurve(item=clip, points=((0, 1000), (1, 3000))))
    made = table.promo.clips[0]
    # Mean speed 2: ten seconds of material in five.
    assert made.length == 5 * S
    assert made.source.range(made.into, made.length) == (0, 10 * S)
    assert made.source.shown(made.into + 5 * S // 2) == 2.5 * S * 1.5
    table.do(c.SplitAt(item=clip, at=2 * S))
    first, second = table.promo.clips[:2]
    assert first.source.exact(first.into + 2 * S) == second.source.exact(second.into)
    table.do(c.SetSpeed(item=clip, backwards=True))
    turned = table.promo.clips[0]
    assert turned.source.range(turned.into, turned.length) == first.source.range(first.into, first.length)
    with pytest.raises(Refusal, match="at least one point"):
        table.do(c.SetCurve(item=clip))
    with pytest.raises(Refusal, match="along the length"):
        table.do(c.SetCurve(item=clip, points=((0, 20),)))


def test_a_fast_clip_is_trimmed_within_what_its_material_allows(table: Table) -> None:
    clip = table.promo.clips[0].id
    table.do(c.SetSpeed(item=clip, speed=4000))
    table.do(c.Trim(item=clip, edge="start", length=S))
    made = table.promo.clips[0]
    assert made.source.range(made.into, S) == (6 * S, 10 * S)
    table.do(c.Trim(item=clip, edge="end", length=9 * S))
    assert table.promo.clips[0].length == S
    table.do(c.Trim(item=clip, edge="start", length=9 * S))
    assert table.promo.clips[0].length == 5 * S // 2


def test_sound_follows_and_says_how(table: Table) -> None:
    clip = table.promo.clips[0].id
    table.do(c.SetSpeed(item=clip, speed=2000, pitch="follows"))
    voice = all_voices(table.promo)[0]
    assert (voice.length, voice.pitch) == (5 * 48000, False)
    assert voice.warp == ((0, 0.0, 2.0), (240000, 480000.0, 2.0))
    table.do(c.SetCurve(item=clip, points=((0, 1000), (0.5, 1000), (0.5, 3000))))
    voice = all_voices(table.promo)[0]
    assert [speed for _, _, speed in voice.warp] == [1, 1, 3, 3], "a jump has two knots"
    with pytest.raises(Refusal, match="same throughout"):
        table.do(c.SetSpeed(item=table.do(c.AddWords()).select[0], speed=2000))
