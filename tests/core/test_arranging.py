"""Layers aligned, spread, sized and ordered; pictures between the main track and the layers; moving over a picture."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from glowreel.core import commands as c
from glowreel.core.commands.camera import PRESETS, Shot
from glowreel.core.errors import Refusal
from glowreel.core.formats import SHIPPED, Format
from glowreel.core.layout import Box, framed, refocused
from glowreel.core.place import Framing
from glowreel.core.properties import Curve
from glowreel.core.recipe.model import DrawPicture
from glowreel.core.recipe.picture import frame_recipe, part_box
from glowreel.core.recipe.sound import all_voices
from glowreel.core.timeline import timeline
from tests.core.build import MEDIA, S, Table, measure, sets

WIDE, TALL = SHIPPED["wide"], SHIPPED["tall"]


@pytest.fixture
def table() -> Table:
    table = Table()
    table.do(c.InsertClips(media=("ridge", "field", "still")))
    return table


def pictures(table: Table, *places: tuple[float, float], size: float = 0.2) -> list[str]:
    keys = []
    for across, down in places:
        key = table.do(c.AddPicture(media="still", at=S)).select[0]
        table.do(sets(key, pin=(0.5, 0.5), place=(across, down), size=size))
        keys.append(key)
    return keys


def box(table: Table, key: str, format: Format = WIDE) -> Box:
    found = part_box(table.promo, format, timeline(table.promo).item[key], measure)
    assert found is not None
    return found


@pytest.mark.parametrize(
    ("edge", "where"),
    [("left", lambda b: b.x), ("right", lambda b: 1920 - b.x - b.width), ("centre", lambda b: b.x + b.width / 2 - 960),
     ("top", lambda b: b.y), ("bottom", lambda b: 1080 - b.y - b.height), ("middle",
     lambda b: b.y + b.height / 2 - 540)],
)  # fmt: skip
def test_layers_are_aligned_with_the_frame_and_stay_where_they_were_the_other_way(table: Table, edge, where) -> None:
    keys = pictures(table, (-0.3, -0.2), (0.2, 0.3))
    before = [box(table, key) for key in keys]
    table.do(c.AlignItems(items=tuple(keys), format="wide", edge=edge))
    for key, old in zip(keys, before, strict=True):
        now = box(table, key)
        assert where(now) == pytest.approx(0, abs=1e-3)
        across = edge in ("left", "right", "centre")
        assert (now.y if across else now.x) == pytest.approx(old.y if across else old.x)
        assert (now.width, now.height) == pytest.approx((old.width, old.height))


def test_layers_are_aligned_with_one_another(table: Table) -> None:
    keys = pictures(table, (-0.3, -0.2), (0.2, 0.3))
    edge = min(box(table, key).x for key in keys)
    table.do(c.AlignItems(items=tuple(keys), format="wide", edge="left", to="each-other"))
    assert [box(table, key).x for key in keys] == pytest.approx([edge, edge])
    with pytest.raises(Refusal, match="Two or more"):
        table.do(c.AlignItems(items=(keys[0],), format="wide", edge="left", to="each-other"))
    with pytest.raises(Refusal, match="no place"):
        table.do(c.AlignItems(items=(table.promo.clips[0].id,), format="wide", edge="left"))


def test_three_layers_are_spread_with_equal_gaps(table: Table) -> None:
    keys = pictures(table, (-0.5, 0), (-0.4, 0), (0.5, 0))
    table.do(c.SpreadItems(items=tuple(keys), format="wide", axis="across"))
    first, second, third = sorted((box(table, key) for key in keys), key=lambda found: found.x)
    gaps = second.x - first.x - first.width, third.x - second.x - second.width
    assert gaps[0] == pytest.approx(gaps[1], abs=1e-3)
    with pytest.raises(Refusal, match="Three or more"):
        table.do(c.SpreadItems(items=tuple(keys[:2]), format="wide", axis="down"))


def test_only_one_format_is_arranged_where_that_is_wanted(table: Table) -> None:
    (key,) = pictures(table, (0.1, 0.1))
    before = box(table, key)
    table.do(c.AlignItems(items=(key,), format="tall", edge="left", only=True))
    assert box(table, key, TALL).x == pytest.approx(0, abs=1e-3)
    assert box(table, key) == before


@pytest.mark.parametrize("how", ["fill", "fit", "half", "third"])
def test_quick_sizes(table: Table, how: str) -> None:
    (key,) = pictures(table, (0.2, 0.1))
    table.do(sets(key, crop_left=0.5))
    middle = box(table, key)
    table.do(c.SizeItems(items=(key,), format="wide", how=how))
    now = box(table, key)
    assert now.width / now.height == pytest.approx(middle.width / middle.height)
    if how == "fill":
        assert now.width >= 1920 - 0.1
        assert now.height >= 1080 - 0.1
        assert min(now.width - 1920, now.height - 1080) == pytest.approx(0, abs=0.1)
    else:
        share = {"fit": 1.0, "half": 0.5, "third": 1 / 3}[how]
        assert min(1920 * share - now.width, 1080 * share - now.height) == pytest.approx(0, abs=0.1)
    if how in ("half", "third"):
        assert now.x + now.width / 2 == pytest.approx(middle.x + middle.width / 2, abs=0.1)


def order(table: Table) -> list[str]:
    """Layers at one second, front to back."""
    index = timeline(table.promo)
    return [i.id for track in table.promo.layers for i in track.items if S * 1.5 in index.item_span(i)]


def test_layers_come_to_the_very_front_and_back(table: Table) -> None:
    first, second, third = pictures(table, (0, 0), (0, 0), (0, 0))
    assert order(table) == [third, second, first]
    table.do(c.OrderItems(items=(first,), to="front"))
    assert order(table) == [first, third, second]
    table.do(c.OrderItems(items=(first, third), to="back"))
    assert order(table) == [second, first, third], "among each other they stay as they were"
    spans = [timeline(table.promo).item_span(i) for i in table.promo.items]
    assert len(set(spans)) == 1
    with pytest.raises(Refusal, match="Only layers"):
        table.do(c.OrderItems(items=(table.promo.clips[0].id,), to="back"))


# ---- main track and layers ----


def test_a_clip_that_becomes_a_layer_is_seen_as_it_was(table: Table) -> None:
    clip = table.promo.clips[0].id
    table.do(sets(clip, zoom=2.0, focus=(0.25, 0.5), exposure=0.5, grain=0.2))
    shown = frame_recipe(table.promo, WIDE, S, measure).ops[-1]
    table.do(c.ToLayer(clip=clip, format="wide"))
    item = table.promo.items[0]
    assert item.content.lane == "layer"
    assert timeline(table.promo).item_span(item).start == 0
    assert [clip.name for clip in table.promo.clips] == ["field", "still"]
    now = frame_recipe(table.promo, WIDE, S, measure).ops[-1]
    assert now.effects == shown.effects
    assert now.ops[0].at == shown.ops[0].at
    layer = now.ops[0]
    # The part of the picture that fills the frame is the same: sides of the frame as shares of the source.
    left, top, right, bottom = layer.crop
    whole = shown.ops[0].box
    assert left == pytest.approx(-whole.x / whole.width, abs=1e-4)
    assert right == pytest.approx((whole.x + whole.width - 1920) / whole.width, abs=1e-4)
    assert (layer.box.x, layer.box.y, layer.box.width, layer.box.height) == pytest.approx((0, 0, 1920, 1080), abs=0.5)


def test_its_sound_comes_along(table: Table) -> None:
    clip = table.promo.clips[0]
    table.do(c.InsertClips(media=("still", "basket")))
    table.do(sets(clip.id, gain=-6.0))
    before = next(v for v in all_voices(table.promo) if v.source == MEDIA["ridge"].hash)
    table.do(c.ToLayer(clip=clip.id, format="wide"))
    after = next(v for v in all_voices(table.promo) if v.source == MEDIA["ridge"].hash)
    for name in ("at", "length", "source_at", "gain", "bus"):
        assert getattr(after, name) == getattr(before, name)


def test_there_and_back_it_is_the_same_material_at_the_same_speed(table: Table) -> None:
    clip = table.promo.clips[1]
    table.do(c.SetSpeed(item=clip.id, speed=2000))
    fast = timeline(table.promo).clip[clip.id]
    table.do(c.ToLayer(clip=clip.id, format="wide"))
    table.do(c.ToMain(item=clip.id))
    back = timeline(table.promo).clip[clip.id]
    assert (back.source, back.into, back.length, back.kind) == (fast.source, fast.into, fast.length, fast.kind)
    assert back.read("muted"), "its sound lies on a track of its own now"
    assert len([v for v in all_voices(table.promo) if v.source == MEDIA["field"].hash]) == 1


def test_what_cannot_change_sides_is_refused(table: Table) -> None:
    words = table.do(c.AddWords(text="Fly", at=0)).select[0]
    with pytest.raises(Refusal, match="Only pictures"):
        table.do(c.ToMain(item=words))
    for clip in table.promo.clips[1:]:
        table.do(c.Remove(items=(clip.id,)))
    with pytest.raises(Refusal, match="last clip"):
        table.do(c.ToLayer(clip=table.promo.clips[0].id, format="wide"))


# ---- moving over a picture ----


def picture_at(table: Table, at: int) -> DrawPicture:
    return frame_recipe(table.promo, WIDE, table.promo.rate.snap(at), measure).ops[-1]


@pytest.mark.parametrize("name", PRESETS)
def test_a_preset_goes_from_its_first_shot_to_its_last(table: Table, name: str) -> None:
    clip = table.promo.clips[2]
    span = timeline(table.promo).clip_span[clip.id]
    table.do(c.PanZoom(items=(clip.id,), preset=name, ease="straight"))
    _, first, last = PRESETS[name]
    clip = table.promo.clips[2]
    for share, shot in ((0, first), (1, last)):
        moment = clip.into + share * clip.length
        assert clip.read("zoom", "", moment) == shot.zoom
        assert clip.read("focus", "", moment) == tuple(shot.focus)
    half = picture_at(table, span.start + span.length // 2)
    assert half.box.width == pytest.approx(1920 * (first.zoom + last.zoom) / 2, rel=0.01)
    assert half.box.x <= 0
    assert half.box.x + half.box.width >= 1920


def test_a_way_of_ones_own_in_one_format_and_none_any_more(table: Table) -> None:
    clip = table.promo.clips[2].id
    near = Shot(zoom=2.0, focus=(0.3, 0.3))
    table.do(c.PanZoom(items=(clip,), first=Shot(zoom=1.0), last=near, format="tall", only=True))
    assert isinstance(table.promo.clips[2].set_to("zoom", "tall"), Curve)
    assert table.promo.clips[2].read("zoom", "wide") == 1.0
    table.do(c.PanZoom(items=(clip,), format="tall"))
    assert table.promo.clips[2].set_to("zoom", "tall") == 1.0
    with pytest.raises(Refusal, match="no way of moving"):
        table.do(c.PanZoom(items=(clip,), preset="swoop"))


def test_a_punch_comes_nearer_and_a_second_one_goes_back(table: Table) -> None:
    clip = table.promo.clips[0].id
    before = timeline(table.promo).length
    nearer = table.do(c.PunchIn(clip=clip, at=3 * S, toward=(0.3, 0.4))).select[0]
    assert table.last.sentence == "Came nearer in ridge"
    assert picture_at(table, 4 * S).box.width == pytest.approx(1920 * 1.3)
    assert picture_at(table, 2 * S).box.width == pytest.approx(1920)
    table.do(c.PunchIn(clip=nearer, at=6 * S))
    assert table.last.sentence == "Went back in ridge"
    assert picture_at(table, 7 * S).box == picture_at(table, 2 * S).box
    assert timeline(table.promo).length == before
    with pytest.raises(Refusal, match="nothing to split"):
        table.do(c.PunchIn(clip=clip, at=0))


# ---- grounds ----


def test_a_scene_and_the_promo_say_what_lies_behind(table: Table) -> None:
    table.do(c.SetGround(values={"ground": "pattern"}))
    assert table.last.sentence == "Set behind it of the promo: a pattern"
    table.do(c.SetGround(scene=table.promo.scenes[0].id, values={"ground": "gradient", "ground_angle": 45.0}))
    assert table.promo.scenes[0].values == {"ground": "gradient", "ground_angle": 45.0}
    with pytest.raises(Refusal, match="angle goes from"):
        table.do(c.SetGround(values={"ground_angle": 9999}))
    with pytest.raises(Refusal, match="no property called “size”"):
        table.do(c.SetGround(values={"size": 1}))
    table.do(c.SetGround(values={"ground": "inherit"}))
    assert table.promo.values == {}


# ---- the main picture on the stage ----


@given(st.floats(0.1, 8), st.floats(0, 1), st.floats(0, 1), st.sampled_from(["wide", "square", "tall"]))
def test_where_a_picture_was_dragged_is_where_it_is_drawn(zoom: float, across: float, down: float, shape: str) -> None:
    format, framing = SHIPPED[shape], Framing("fill", (round(across, 4), round(down, 4)), round(zoom, 4))
    box = framed(framing, format, 1600, 900)
    again = framed(refocused(box, framing, format, 1600, 900), format, 1600, 900)
    assert (again.x, again.y, again.width, again.height) == pytest.approx(
        (box.x, box.y, box.width, box.height), abs=0.1
    )


def test_dragging_the_picture_moves_the_crop_in_one_format_or_all(table: Table) -> None:
    clip = table.promo.clips[0].id
    old = picture_at(table, S).box
    command = {"item": clip, "format": "tall", "y": 0.0, "height": 16 / 9, "width": (16 / 9) ** 2}
    table.do(c.FrameClip(x=0.0, only=True, **command))
    moved = frame_recipe(table.promo, TALL, S, measure).ops[-1].box
    assert moved.x == pytest.approx(0)
    assert picture_at(table, S).box == old
    table.do(c.FrameClip(x=5.0, only=True, **command))
    assert frame_recipe(table.promo, TALL, S, measure).ops[-1].box.x == pytest.approx(0), "its edges stay outside"
    table.do(c.FrameClip(item=clip, format="wide", x=-0.5, y=0, width=32 / 9, height=2.0, turn=5.0))
    assert table.promo.clips[0].read("zoom") == pytest.approx(2.0)
    assert table.promo.clips[0].read("turn") == 5.0


def test_several_items_are_moved_by_one_gesture(table: Table) -> None:
    first, second = pictures(table, (0, 0), (0.2, 0.2))
    lies = [box(table, key) for key in (first, second)]
    boxes = [{"x": b.x / 1080 + 0.1, "y": b.y / 1080, "width": b.width / 1080, "height": b.height / 1080} for b in lies]
    table.do(c.PlaceItem(item=first, format="wide", **boxes[0], also=({"item": second, **boxes[1]},)))
    for key, old in zip((first, second), lies, strict=True):
        assert box(table, key).x == pytest.approx(old.x + 108, abs=0.1)
    assert table.last.sentence == "Placed 2 items"
