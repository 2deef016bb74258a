"""What stays in view of a picture that is cropped: its subject, two where both have room, or where it was said."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from glowreel.core import commands as c
from glowreel.core.commands.views import path_of
from glowreel.core.errors import Refusal
from glowreel.core.formats import SHIPPED
from glowreel.core.recipe.model import DrawPicture
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.subject import FOLLOW_LABELS, FOLLOWS, Shot, Subject, along, focus_of
from glowreel.core.timeline import timeline
from tests.core.build import MEDIA, S, Table, measure, sets

RIGHT = Subject(shots=(
    Shot(first=((0, 0.8, 0.4),)),
    Shot(at=4 * S, first=((4 * S, 0.2, 0.5), (6 * S, 0.4, 0.5)), second=((4 * S, 0.7, 0.5),)),
))  # fmt: skip
WHOLE, TALL = (1.0, 1.0), (0.32, 1.0)
shares = st.floats(0, 1)
points = st.tuples(st.integers(0, 10 * S), shares, shares)
paths = st.lists(points, min_size=1, max_size=8, unique_by=lambda point: point[0]).map(lambda them: tuple(sorted(them)))


def test_each_way_to_follow_has_a_name() -> None:
    assert set(FOLLOWS) == set(FOLLOW_LABELS)


def test_the_view_goes_along_with_the_subject_and_jumps_at_cuts() -> None:
    assert focus_of(RIGHT, 3 * S, TALL) == (0.8, 0.4)
    assert focus_of(RIGHT, 4 * S, TALL) == (0.2, 0.5), "two have no room in tall"
    assert focus_of(RIGHT, 5 * S, TALL, "first") == pytest.approx((0.3, 0.5))
    assert focus_of(RIGHT, 4 * S, (0.75, 1.0)) == pytest.approx((0.45, 0.5)), "two have room: both stay in view"
    assert focus_of(RIGHT, 4 * S, TALL, "both") == pytest.approx((0.45, 0.5))
    assert focus_of(RIGHT, 5 * S, TALL, "still") == (0.4, 0.5)
    assert focus_of(RIGHT, 5 * S, TALL, "none") is None
    assert focus_of(Subject(), 0, TALL) is None


@given(path=paths, at=st.integers(-S, 11 * S))
def test_a_path_goes_through_its_points_and_stays_in_the_picture(path: tuple, at: int) -> None:
    across, down = along(path, at)
    assert 0 <= across <= 1
    assert 0 <= down <= 1
    for point in path:
        assert along(path, point[0]) == pytest.approx(point[1:])


def seen(table: Table, format_id: str, at: int) -> DrawPicture:
    format = next(one for one in table.promo.formats if one.id == format_id)
    return next(op for op in frame_recipe(table.promo, format, at, measure).ops if isinstance(op, DrawPicture))


def middle(table: Table, format_id: str, at: int) -> float:
    """Which part of the picture's width lies in the middle of the frame."""
    box, (wide, _) = seen(table, format_id, at).box, SHIPPED[format_id].canon
    return (wide / 2 - box.x) / box.width


def known(subject: Subject = RIGHT) -> Table:
    """A promo with footage of which is known where its subject is."""
    table = Table()
    table.context = type(table.context)(**{
        **vars(table.context), "media": {**MEDIA, "ridge": MEDIA["ridge"].changed(subject=subject)},
    })  # fmt: skip
    table.do(c.InsertClips(media=("ridge",)))
    return table


def test_a_cropped_picture_is_shown_about_its_subject_in_every_format_that_crops() -> None:
    table = known()
    assert middle(table, "tall", S) == pytest.approx(0.8, abs=0.01)
    assert middle(table, "square", S) == pytest.approx(1 - 9 / 32, abs=0.01), "as far as the picture goes"
    assert middle(table, "wide", S) == pytest.approx(0.5)
    clip = timeline(table.promo).promo.clips[0].id
    table.do(sets(clip, follow="none"))
    assert middle(table, "tall", S) == pytest.approx(0.5)
    table.do(sets(clip, follow="subject", flip_across=True))
    assert middle(table, "tall", S) == pytest.approx(0.2, abs=0.01), "mirrored, it is on the other side"
    table.do(sets(clip, flip_across=False, crop_left=0.5))
    assert middle(table, "tall", S) == pytest.approx(0.6, abs=0.01), "of what is left of it"


def test_a_focus_that_was_set_is_what_counts_and_trimming_keeps_the_time() -> None:
    table = known()
    clip = table.promo.clips[0].id
    table.do(c.Set(items=(clip,), values={"focus": (0.3, 0.5)}, format="tall", only=True))
    assert middle(table, "tall", S) == pytest.approx(0.3, abs=0.01)
    table.do(c.Reset(items=(clip,), names=("focus",), format="tall"))
    table.do(c.Trim(item=clip, edge="start", length=5 * S))
    assert middle(table, "tall", 0) == pytest.approx(0.3, abs=0.01), "five seconds in, it has gone so far"


def test_a_path_is_corrected_at_one_moment_and_goes_on_as_it_was_found() -> None:
    moving = Subject(shots=(Shot(first=((0, 0.3, 0.5), (8 * S, 0.7, 0.5))),))
    table = known(moving)
    clip = table.promo.clips[0]
    tall = next(one for one in table.promo.formats if one.id == "tall")
    path = path_of(table.promo, clip, tall)
    assert len(path) > 1
    before = [middle(table, "tall", at * S) for at in (1, 4, 7)]
    table.do(c.AimView(item=clip.id, format="tall", at=4 * S, focus=(0.2, 0.5)))
    after = [middle(table, "tall", at * S) for at in (1, 4, 7)]
    assert after[1] == pytest.approx(0.2, abs=0.01)
    assert after[2] == pytest.approx(before[2], abs=0.02)
    table.do(sets(clip.id, focus=(0.4, 0.5)))
    table.do(c.AimView(item=clip.id, format="tall", at=2 * S, focus=(0.6, 0.5)))
    assert middle(table, "tall", 9 * S) == pytest.approx(0.6, abs=0.01), "what stands still stands still there"
    words = table.do(c.AddWords(text="Up", at=0, length=3 * S)).select[0]
    with pytest.raises(Refusal, match="no picture of the main track"):
        table.do(c.AimView(item=words, format="tall", at=0, focus=(0.5, 0.5)))


def test_a_path_that_is_corrected_still_jumps_at_cuts() -> None:
    table = known(Subject(shots=(Shot(first=((0, 0.3, 0.5),)), Shot(at=4 * S, first=((4 * S, 0.8, 0.5),)))))
    clip = table.promo.clips[0].id
    table.do(c.AimView(item=clip, format="tall", at=2 * S, focus=(0.5, 0.5)))
    frame = S // 30
    assert middle(table, "tall", 2 * S) == pytest.approx(0.5, abs=0.01)
    assert middle(table, "tall", 4 * S - frame) == pytest.approx(0.3, abs=0.03)
    assert middle(table, "tall", 4 * S) == pytest.approx(0.8, abs=0.01), "the other shot is as it was found"
    assert middle(table, "tall", 8 * S) == pytest.approx(0.8, abs=0.01)
    table.do(c.AimView(item=clip, format="tall", at=3 * S, focus=(0.4, 0.5)))
    assert middle(table, "tall", 4 * S) == pytest.approx(0.8, abs=0.01)


def test_one_number_of_a_focus_is_set_and_the_other_stays_where_the_subject_is() -> None:
    table = known()
    clip = table.promo.clips[0].id
    table.do(c.Set(items=(clip,), values={"focus": [0.25, None]}, format="tall"))
    assert table.promo.clips[0].read("focus") == (0.25, 0.4)
    table.do(c.Set(items=(clip,), values={"focus": [None, 0.9]}, format="tall"))
    assert table.promo.clips[0].read("focus") == (0.25, 0.9)


def test_punching_in_keeps_the_subject_in_view() -> None:
    table = known()
    table.do(c.PunchIn(clip=table.promo.clips[0].id, at=2 * S))
    assert middle(table, "tall", 3 * S) == pytest.approx(0.8, abs=0.03)
