"""What is done to a part after it is drawn, as recipes say it."""

from __future__ import annotations

import pytest

from glowreel.core.commands import AddEffect, AddPicture, AddWords, InsertClips, SplitAt
from glowreel.core.errors import Refusal
from glowreel.core.formats import SHIPPED, Format
from glowreel.core.layout import Box
from glowreel.core.looks import LOOKS
from glowreel.core.recipe.model import Composite, DrawGradient, DrawPattern, DrawPicture, Fill, Mask, Op
from glowreel.core.recipe.picture import frame_recipe, part_box
from tests.core.build import S, Table, measure, sets

WIDE, TALL = SHIPPED["wide"], SHIPPED["tall"]


@pytest.fixture
def table() -> Table:
    table = Table()
    table.do(InsertClips(media=("ridge", "field")))
    return table


def ops(table: Table, at: float = 1, format: Format = WIDE) -> tuple[Op, ...]:
    return frame_recipe(table.promo, format, table.promo.rate.snap(round(at * S)), measure).ops


def put_picture(table: Table, **values: object) -> str:
    key = table.do(AddPicture(media="still", at=0)).select[0]
    table.do(sets(key, pin=(0.5, 0.5), place=(0, 0), size=0.5, **values))
    return key


def test_what_says_nothing_of_it_is_one_plain_picture(table: Table) -> None:
    (picture,) = ops(table)
    assert isinstance(picture, DrawPicture)


def test_colour_is_done_in_one_step_and_the_look_after_it(table: Table) -> None:
    clip = table.promo.clips[0].id
    table.do(sets(clip, exposure=0.5, contrast=-0.2, filter="slate", filter_strength=0.5, grain=0.3))
    (graded,) = ops(table)
    own, look, grain = graded.effects
    assert own.kind == "grade"
    assert dict(own.values) == {"exposure": 0.5, "contrast": -0.2}
    assert dict(look.values)["saturation"] == LOOKS["slate"].settings["saturation"] / 2
    assert grain.kind == "grain"
    assert isinstance(graded.ops[0], DrawPicture), "it still covers the frame: nothing is drawn behind it"


def test_a_value_over_time_is_what_it_is_at_the_moment(table: Table) -> None:
    curve = {"points": [{"at": 0, "value": 0.0}, {"at": 2 * S, "value": 1.0}]}
    table.do(sets(table.promo.clips[0].id, exposure=curve))
    assert dict(ops(table, 1)[0].effects[0].values)["exposure"] == pytest.approx(0.5)
    table.do(SplitAt(item=table.promo.clips[0].id, at=S))
    assert dict(ops(table, 1.5)[0].effects[0].values)["exposure"] == pytest.approx(0.75)


def test_cropping_cuts_off_and_leaves_the_rest_as_large_as_it_was(table: Table) -> None:
    key = put_picture(table)
    whole = part_box(table.promo, WIDE, table.promo.items[0], measure)
    table.do(sets(key, crop_left=0.25, crop_bottom=0.5))
    left = part_box(table.promo, WIDE, table.promo.items[0], measure)
    assert (left.width, left.height) == pytest.approx((whole.width * 0.75, whole.height / 2))
    assert ops(table)[-1].crop == (0.25, 0.0, 0.0, 0.5)
    table.do(sets(key, crop_left=0.9, crop_right=0.9))
    assert part_box(table.promo, WIDE, table.promo.items[0], measure).width > 0, "a strip always stays"
    table.do(sets(key, stretch=2.0, crop_left=0.0, crop_right=0.0, crop_bottom=0.0))
    wide = part_box(table.promo, WIDE, table.promo.items[0], measure)
    assert (wide.width, wide.height) == pytest.approx((whole.width * 2, whole.height))


def test_a_cropped_clip_covers_the_frame_with_what_is_left(table: Table) -> None:
    table.do(sets(table.promo.clips[0].id, crop_left=0.5))
    (picture,) = ops(table)
    assert picture.crop == (0.5, 0.0, 0.0, 0.0)
    assert picture.box.width >= 1920 - 1e-6
    assert picture.box.width / picture.box.height == pytest.approx(0.5 * 16 / 9)


def test_a_mask_lies_in_the_middle_of_its_part_and_follows_it(table: Table) -> None:
    key = put_picture(table, mask="heart", mask_size=(0.5, 1.0))
    (mask,) = ops(table)[-1].masks
    box = part_box(table.promo, WIDE, table.promo.items[0], measure)
    shorter = min(box.width, box.height)
    assert (mask.box.width, mask.box.height) == pytest.approx((shorter / 2, shorter))
    assert mask.box.x + mask.box.width / 2 == pytest.approx(box.x + box.width / 2)
    table.do(sets(key, mask_place=(0.5, 0.0), corner=1.0, mask_feather=0.5))
    rounded, moved = ops(table)[-1].masks
    assert rounded == Mask(box, radius=round(shorter / 2, 6))
    assert moved.box.x == pytest.approx(mask.box.x + shorter / 2)
    assert moved.feather == 54.0


def test_edges_go_around_what_is_left_of_it(table: Table) -> None:
    put_picture(table, mask="star", border=0.01, border_colour="accent", drop=0.5, turn=30.0, opacity=0.5,
                blend="multiply")  # fmt: skip
    group = ops(table)[-1]
    assert [effect.kind for effect in group.effects] == ["border", "drop"]
    assert dict(group.effects[0].values)["colour"] == "#F6B73C", "roles are filled in"
    assert isinstance(group.ops[0], Composite)
    assert group.ops[0].masks
    assert (group.turn, group.opacity, group.blend) == (30.0, 0.5, "multiply")


def test_an_effect_that_moves_knows_the_moment_and_an_echo_shows_earlier_ones(table: Table) -> None:
    clip = table.promo.clips[0].id
    table.do(AddEffect(items=(clip,), effect="glitch"))
    assert dict(ops(table, 1)[0].effects[0].values)["at"] == S
    key = put_picture(table)
    table.do(AddEffect(items=(key,), effect="echo", values={"count": 2, "apart": 0.5}))
    curve = {"points": [{"at": 0, "value": [0, 0]}, {"at": 2 * S, "value": [1, 0]}]}
    table.do(sets(key, place=curve))
    *trail, now = ops(table, 1.5)[-1].ops
    xs = [op.ops[0].box.x for op in (*trail, now)]
    assert xs[1] - xs[0] == pytest.approx(xs[2] - xs[1])
    assert trail[0].opacity < trail[1].opacity < now.opacity


def test_effects_refuse_what_they_have_not(table: Table) -> None:
    clip = table.promo.clips[0].id
    with pytest.raises(Refusal, match="glitch has no property called “size”"):
        table.do(AddEffect(items=(clip,), effect="glitch", values={"size": 1}))
    with pytest.raises(Refusal, match="amount goes from 0% to 100%"):
        table.do(AddEffect(items=(clip,), effect="glitch", values={"amount": 7}))


def test_words_take_masks_and_edges_as_pictures_do_and_no_exposure(table: Table) -> None:
    key = table.do(AddWords(text="Fly", at=0)).select[0]
    table.do(sets(key, glow=0.5, arrives="none", leaves="none"))
    assert ops(table, 1)[-1].effects[0].kind == "glow"
    with pytest.raises(Refusal, match="no exposure"):
        table.do(sets(key, exposure=1.0))


# ---- what lies behind a picture ----


def test_the_ground_is_that_of_the_clip_or_its_scene_or_the_promo(table: Table) -> None:
    clip = table.promo.clips[0].id
    table.do(sets(clip, fit="letterbox"))
    assert ops(table, 1, TALL)[0] == Fill("#000000")
    table.promo = table.promo.changed(values={"ground": "gradient", "ground_colour": "#102030"})
    gradient = ops(table, 1, TALL)[0]
    assert isinstance(gradient, DrawGradient)
    assert gradient.colours == ("#102030", "#F6B73C")
    scene = table.promo.scenes[0].changed(values={"ground": "pattern", "ground_pattern": "stars"})
    table.promo = table.promo.changed(scenes=(scene,))
    assert isinstance(ops(table, 1, TALL)[1], DrawPattern)
    table.do(sets(clip, ground="colour", ground_colour="#445566"))
    assert ops(table, 1, TALL)[0] == Fill("#445566")


def test_a_blurred_copy_covers_the_frame_and_is_dimmed(table: Table) -> None:
    table.do(sets(table.promo.clips[0].id, fit="letterbox", ground="blurred", ground_blur=0.5, ground_dim=0.3))
    soft, dim, picture = ops(table, 1, TALL)
    assert soft.blur == 54.0
    copy = soft.ops[0].box
    assert copy.x <= 1e-6
    assert copy.y <= 1e-6
    assert copy.width >= 1080 - 1e-6
    assert copy.height >= 1920 - 1e-6
    assert dim == Fill("#000000", 0.3)
    assert isinstance(picture, DrawPicture)
    assert len(ops(table, 1, WIDE)) == 1, "what is covered is not drawn"


@pytest.mark.parametrize(
    ("name", "value"), [("turn", 10.0), ("opacity", 0.5), ("mask", "heart"), ("zoom", 0.5), ("corner", 0.5)]
)
def test_what_does_not_cover_shows_what_lies_behind(table: Table, name: str, value: object) -> None:
    clip = table.promo.clips[0].id
    table.do(sets(clip, ground="colour", ground_colour="#445566"))
    assert Fill("#445566") not in ops(table)
    table.do(sets(clip, **{name: value}))
    assert Fill("#445566") in ops(table)


def test_a_picture_made_smaller_lies_where_its_focus_says(table: Table) -> None:
    clip = table.promo.clips[0].id
    table.do(sets(clip, zoom=0.5, focus=(0.0, 1.0)))
    assert ops(table)[-1].box == Box(0.0, 540.0, 960.0, 540.0)
