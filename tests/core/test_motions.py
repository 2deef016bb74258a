"""How layers come, stay and go, as recipes say it."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from glowreel.core import commands as c
from glowreel.core.commands import AddPicture, InsertClips
from glowreel.core.easing import eased
from glowreel.core.errors import Refusal
from glowreel.core.formats import SHIPPED
from glowreel.core.layout import Box
from glowreel.core.properties import EASINGS, Curve, Point
from glowreel.core.recipe.model import Composite, DrawPicture, Fill
from glowreel.core.recipe.motions import MOVING, STAYING, moved, stayed
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.time import ticks
from glowreel.core.timeline import timeline
from glowreel.core.vocabulary import MOTIONS, STAYS
from tests.core.build import S, Table, measure, sets

FRAME = (1920.0, 1080.0)
BOX = Box(860, 440, 200, 200)
THING = Fill("#FFFFFF")


def test_there_are_enough_and_all_are_drawn() -> None:
    assert {name.partition("-")[0] for name in MOTIONS} == set(MOVING)
    assert set(STAYS) == set(STAYING)
    assert len(MOTIONS) - 1 >= 16
    assert len(STAYS) - 1 >= 8


@pytest.mark.parametrize("motion", [name for name in MOTIONS if name not in ("none", "fade", "rise")])
@pytest.mark.parametrize("leaving", [False, True])
def test_a_motion_begins_unseen_and_ends_as_the_thing_itself(motion: str, leaving: bool) -> None:
    assert moved(THING, BOX, motion, 1.0, FRAME, leaving=leaving) is THING
    begun = moved(THING, BOX, motion, 0.0, FRAME, leaving=leaving)
    assert isinstance(begun, Composite)
    window = begun.window
    gone = [
        begun.opacity == 0, begun.scale <= 0.02, begun.wide <= 0.01, begun.high <= 0.01,
        window is not None and (window.width < 1 or window.height < 1),
        BOX.x + begun.dx >= FRAME[0] or BOX.x + BOX.width + begun.dx <= 0,
        BOX.y + begun.dy >= FRAME[1] or BOX.y + BOX.height + begun.dy <= 0,
    ]  # fmt: skip
    assert any(gone), begun


@given(st.sampled_from(list(MOTIONS)), st.floats(-0.2, 1.3), st.booleans(), st.floats(0, 3))
def test_whatever_swings_beyond_can_be_drawn(motion: str, there: float, leaving: bool, strength: float) -> None:
    op = moved(THING, BOX, motion, there, FRAME, leaving=leaving, strength=strength)
    if isinstance(op, Composite):
        assert 0 <= op.opacity <= 1
        assert op.scale > 0
        assert op.wide > 0
        assert op.high > 0
        assert op.blur >= 0


@pytest.mark.parametrize("motion", [name for name in STAYS if name != "none"])
def test_what_moves_meanwhile_begins_at_rest_and_is_as_strong_as_said(motion: str) -> None:
    plain = Composite((THING,), about=stayed(THING, BOX, motion, 0.0, rate=1, strength=1).about)
    begun = stayed(THING, BOX, motion, 0.0, rate=1, strength=1)
    far = [abs(getattr(begun, name) - getattr(plain, name)) for name in ("dx", "turn", "scale", "opacity")]
    assert max(far) < 0.01
    at = [stayed(THING, BOX, motion, since, rate=1, strength=1) for since in (0.1, 0.4, 0.9, 1.3, 2.2)]
    assert any(op != begun for op in at)
    assert stayed(THING, BOX, motion, 0.7, rate=2, strength=1) == stayed(THING, BOX, motion, 1.4, rate=1, strength=1)
    still = stayed(THING, BOX, motion, 0.4, rate=1, strength=0)
    assert (still.dx, still.dy, still.turn, still.scale, still.opacity) == (0, 0, 0, 1, 1)


def layer(**values: object) -> tuple[Table, str]:
    table = Table()
    table.do(InsertClips(media=("ridge",)))
    key = table.do(AddPicture(media="still", at=S)).select[0]
    table.do(sets(key, pin=(0.5, 0.5), place=(0, 0), **values))
    return table, key


def top(table: Table, at: float, rest: tuple[str, ...] = ()) -> object:
    ops = frame_recipe(table.promo, SHIPPED["wide"], table.promo.rate.snap(round(at * S)), measure, rest).ops
    return ops[-1] if len(ops) > 1 else None


def test_it_waits_before_it_comes() -> None:
    table, key = layer(arrives="fade", arrive_length=ticks(1), arrive_delay=ticks(0.5), arrive_ease="straight")
    assert top(table, 1.4) is None
    half = top(table, 2.0)
    assert isinstance(half, DrawPicture)
    assert half.opacity == pytest.approx(0.5)
    assert top(table, 2.6).opacity == 1
    assert top(table, 1.2, (key,)).opacity == 0.7, "what is being worked on is always seen, faintly where it is hidden"
    assert top(table, 2.3, (key,)).opacity == 1, "and as it is where most of it has come"


def test_its_easing_is_the_one_chosen() -> None:
    for ease in ("straight", "in", "out", "both"):
        table, _ = layer(arrives="fade", arrive_length=ticks(1), arrive_ease=ease)
        assert top(table, 1.3).opacity == pytest.approx(EASINGS[ease][1](0.3), abs=1e-5)
    table, _ = layer(arrives="zoom", arrive_length=ticks(1), arrive_ease="spring")
    assert max(top(table, 1 + n / 10).scale for n in range(2, 10)) > 1, "a spring swings beyond"


def test_strength_is_how_far_it_moves() -> None:
    heights = []
    for strength in (0.0, 1.0, 2.0):
        table, _ = layer(arrives="rise", arrive_length=ticks(1), arrive_strength=strength, arrive_ease="straight")
        heights.append(top(table, 1.5).box.y)
    assert heights[2] - heights[0] == pytest.approx(2 * (heights[1] - heights[0]))


def test_meanwhile_is_told_from_the_beginning_of_its_own_time() -> None:
    table, key = layer(stays="drift", stay_rate=2.0)
    assert top(table, 3.0).dx == pytest.approx(0.02 * 1080 * 2 * 2.0)
    assert not isinstance(top(table, 3.0, (key,)), Composite), "at rest it stands still"


# ---- easings of one's own ----


@given(st.floats(0, 1))
def test_a_curve_of_ones_own_goes_from_nothing_to_all(share: float) -> None:
    assert eased("0 0 1 1", share) == pytest.approx(share, abs=1e-5)
    slow = eased("0.42 0 1 1", share)
    assert 0 <= slow <= 1
    assert slow <= share + 1e-6
    assert eased("0.3 -0.6 0.7 1.6", 0.15) < 0, "it may swing back first"


def test_nonsense_is_no_easing() -> None:
    for ease in ("bounce", "2 0 1 1", "0.3 0 0.2", "a b c d", "0.3 0 0.2 1 1"):
        with pytest.raises(ValueError, match="no easing"):
            Point(at=0, value=1, ease=ease)
    curve = Curve(points=(Point(at=0, value=0.0, ease="0.5 0 0.5 1"), Point(at=100, value=1.0)))
    assert curve.at(50, lambda a, b, share: a + (b - a) * share) == pytest.approx(0.5, abs=1e-4)
    assert math.isclose(eased("spring", 0.0), 0.0)
    assert math.isclose(eased("spring", 1.0), 1.0)


def test_layers_come_one_after_another_and_those_without_a_way_of_coming_fade_in() -> None:
    table = Table()
    table.do(c.InsertClips(media=("field",)))
    keys = [table.do(c.AddWords(text=str(n), at=S, length=2 * S)).select[0] for n in range(4)]
    table.do(c.Set(items=(keys[2],), values={"arrives": "none"}))
    table.do(c.Stagger(items=tuple(keys), by=round(0.7 * S)))
    items = [timeline(table.promo).item[key] for key in keys]
    frame = table.promo.rate.frame
    step = table.promo.rate.snap(round(0.7 * S))
    assert [item.read("arrive_delay") for item in items] == [0, step, 2 * step, 2 * S - frame]
    assert [item.read("arrives") for item in items] == ["rise", "rise", "fade", "rise"]
    with pytest.raises(Refusal):
        table.do(c.Stagger(items=(keys[0],), by=S))


def test_a_point_is_copied_with_its_value_or_moved_to_another_one() -> None:
    table = Table()
    table.do(c.InsertClips(media=("field",)))
    key = table.do(c.AddWords(text="A", at=0, length=4 * S)).select[0]
    table.do(c.AddPoint(item=key, name="opacity", at=S, value=0.25))
    table.do(c.MovePoint(item=key, name="opacity", at=S, to=2 * S, copy_it=True))
    curve = timeline(table.promo).item[key].set_to("opacity")
    assert [(point.at, point.value) for point in curve.points] == [(S, 0.25), (2 * S, 0.25)]
    table.do(c.MovePoint(item=key, name="opacity", at=2 * S, to=3 * S, value=0.75))
    curve = timeline(table.promo).item[key].set_to("opacity")
    assert [(point.at, point.value) for point in curve.points] == [(S, 0.25), (3 * S, 0.75)]


def test_new_photos_move_gently_where_the_team_wants_it_and_a_longer_one_more_slowly() -> None:
    table = Table()
    table.context = replace(table.context, photos_move=True)
    table.do(c.InsertClips(media=("still", "ridge", "still")))
    first, footage, second = table.promo.clips
    assert footage.set_to("zoom") == 1.0
    ends = [[point.value for point in photo.set_to("zoom").points] for photo in (first, second)]
    assert ends == [[1.0, 1.12], [1.12, 1.0]], "by turns nearer and away"
    assert first.read("zoom", "", first.into + first.length // 2) == pytest.approx(1.06)
