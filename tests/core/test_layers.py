"""Layers: where they begin, what they hold to, where they lie in the frame."""

import pytest

from glowreel.core import commands as c
from glowreel.core.commands import (
    AddPicture,
    AddSound,
    AddWords,
    InsertClips,
    MoveItem,
    PlaceItem,
    Remove,
    TieItem,
    Trim,
)
from glowreel.core.document import Free, Tied
from glowreel.core.errors import Refusal
from glowreel.core.formats import SHIPPED
from glowreel.core.layout import Box, framed, placed
from glowreel.core.place import Framing, Place
from glowreel.core.recipe.picture import frame_recipe, part_box
from glowreel.core.timeline import timeline
from tests.core.build import MEDIA, S, Table, measure, sets


@pytest.fixture
def table() -> Table:
    table = Table()
    table.do(InsertClips(media=("ridge", "field")))
    return table


def span(table: Table, item: str) -> tuple[float, float]:
    index = timeline(table.promo)
    found = index.item_span(index.item[item])
    return found.start / S, found.end / S


def test_a_layer_dropped_where_something_lies_gets_a_track_in_front(table: Table) -> None:
    first = table.do(AddWords(text="first", at=S)).select[0]
    second = table.do(AddWords(text="second", at=2 * S)).select[0]
    assert [[i.id for i in t.items] for t in table.promo.layers] == [[second], [first]]
    table.do(MoveItem(item=second, at=6 * S, track=table.promo.layers[1].id))
    assert [[i.id for i in t.items] for t in table.promo.layers] == [[first, second]]


def test_ties_follow_the_clip_and_free_items_stay(table: Table) -> None:
    tied = table.do(AddWords(at=11 * S)).select[0]
    free = table.do(AddWords(at=11 * S)).select[0]
    table.do(TieItem(item=free, to="time"))
    table.do(Trim(item=table.promo.clips[0].id, length=4 * S))
    assert span(table, tied) == (5, 8)
    assert span(table, free) == (11, 14)


def test_what_lasts_for_the_whole_promo_follows_its_length(table: Table) -> None:
    logo = table.do(AddPicture(media="still", whole=True)).select[0]
    song = table.do(AddSound(media="song", whole=True)).select[0]
    table.do(InsertClips(media=("ridge", "ridge")))
    assert span(table, logo) == (0, 36)
    assert span(table, song) == (0, 30), "a song cannot last longer than it is"
    table.do(Trim(item=logo, length=5 * S))
    assert span(table, logo) == (0, 5)


def test_trimming_a_layers_start_keeps_its_end_and_sounds_are_finer_than_frames(table: Table) -> None:
    title = table.do(AddWords(at=2 * S)).select[0]
    table.do(Trim(item=title, edge="start", length=S))
    assert span(table, title) == (4, 5)
    song = table.do(AddSound(media="song")).select[0]
    table.do(Trim(item=song, edge="start", length=29 * S + 14700))
    item = timeline(table.promo).item[song]
    assert isinstance(item.anchor, Free)
    assert item.anchor.at == item.begins == S - 14700


def test_a_layer_pushed_before_the_start_is_cut_off_there(table: Table) -> None:
    title = table.do(AddWords(at=S)).select[0]
    table.do(Trim(item=title, edge="start", length=20 * S))
    assert span(table, title) == (0, 4)


def test_words_are_kept_clean_and_styled_only_with_what_is_shipped(table: Table) -> None:
    title = table.do(AddWords()).select[0]
    table.do(sets(title, text="Up\r\nwe\x00 go"))
    assert timeline(table.promo).item[title].read("text") == "Up\nwe go"
    table.do(sets(title, font="Caveat", box="#C8430B"))
    item = timeline(table.promo).item[title]
    assert [item.read(name) for name in ("font", "weight", "box")] == ["Caveat", 700, "#C8430B"]
    table.do(sets(title, box=""))
    assert "box" not in timeline(table.promo).item[title].values, "what is as the table has it is not kept"
    table.do(sets(title, font="Something Else"))
    assert timeline(table.promo).item[title].read("font") == "Something Else", "it falls back when it is drawn"
    logo = table.do(AddPicture(media="still")).select[0]
    with pytest.raises(Refusal, match="has no words"):
        table.do(sets(logo, text="x"))


def test_dragging_pins_to_the_nearest_corner_so_other_formats_follow(table: Table) -> None:
    logo = table.do(AddPicture(media="still")).select[0]
    table.do(PlaceItem(item=logo, format="wide", x=1.4, y=0.06, width=0.3, height=0.2))
    item = timeline(table.promo).item[logo]
    assert item.read("pin") == (1.0, 0.0)
    place = Place(item.read("pin"), item.read("place"))
    wide = placed(place, SHIPPED["wide"], 324, 216)
    assert (wide.x, wide.y) == pytest.approx((1.4 * 1080, 0.06 * 1080))
    tall = placed(place, SHIPPED["tall"], 324, 216)
    assert 1080 - (tall.x + tall.width) == pytest.approx(1920 - (wide.x + wide.width))


def test_a_place_for_one_format_leaves_the_others_alone_until_it_is_reset(table: Table) -> None:
    title = table.do(AddWords()).select[0]
    before = timeline(table.promo).item[title].values
    move = {"item": title, "format": "tall", "width": 0.5, "height": 0.2}
    table.do(PlaceItem(x=0.2, y=1.4, size=0.09, only=True, **move))
    item = timeline(table.promo).item[title]
    assert item.values == before
    assert item.read("size", "tall") == 0.09
    assert set(item.values_in["tall"]) == {"pin", "place", "size"}, "what was not changed is left to the rule"
    table.do(PlaceItem(x=0.3, y=0.1, **move))
    assert timeline(table.promo).item[title].values == before, "a format with its own place keeps it to itself"
    table.do(c.Reset(items=(title,), names=("size",), format="tall"))
    assert set(timeline(table.promo).item[title].values_in["tall"]) == {"pin", "place"}
    table.do(c.Reset(items=(title,), format="tall"))
    assert timeline(table.promo).item[title].values_in == {}


def test_fill_covers_the_frame_around_the_focus_and_letterbox_shows_everything() -> None:
    tall = SHIPPED["tall"]
    box = framed(Framing(), tall, 1920, 1080)
    assert (box.x, box.y, box.height) == pytest.approx(((1080 - 1920 * 1920 / 1080) / 2, 0, 1920))
    assert framed(Framing(focus=(0, 0.5)), tall, 1920, 1080).x == 0
    right = framed(Framing(focus=(1, 0.5)), tall, 1920, 1080)
    assert right.x + right.width == pytest.approx(1080)
    boxed = framed(Framing(fit="letterbox"), tall, 1920, 1080)
    assert (boxed.x, boxed.width, boxed.height) == pytest.approx((0, 1080, 607.5))


def test_media_nothing_uses_is_forgotten_and_empty_tracks_go(table: Table) -> None:
    logo = table.do(AddPicture(media="still")).select[0]
    assert "still" in table.promo.media
    table.do(Remove(items=(logo,)))
    assert "still" not in table.promo.media
    assert table.promo.layers == ()
    assert MEDIA["still"].still


def test_a_layer_past_the_end_of_a_shortened_clip_stays_on_it(table: Table) -> None:
    title = table.do(AddWords(at=8 * S)).select[0]
    clip = table.promo.clips[0].id
    table.do(Trim(item=clip, length=2 * S))
    assert timeline(table.promo).item[title].anchor == Tied(clip=clip, offset=2 * S - table.promo.rate.frame)


def test_nine_places_lie_in_the_safe_area_of_each_format(table: Table) -> None:
    table.do(c.AddWords(text="Fly", at=S))
    item = table.promo.layers[0].items[0]
    for format in table.promo.formats:
        width, height = format.canon
        left, top, right, bottom = format.safe
        for spot in [(x, y) for x in (0, 0.5, 1) for y in (0, 0.5, 1)]:
            table.do(c.PinItems(items=(item.id,), format=format.id, spot=spot, only=True))
            box = part_box(table.promo, format, timeline(table.promo).item[item.id], measure)
            safe = Box(left * width, top * height, (1 - left - right) * width, (1 - top - bottom) * height)
            assert box.x == pytest.approx(safe.x + spot[0] * (safe.width - box.width))
            assert box.y == pytest.approx(safe.y + spot[1] * (safe.height - box.height))


def test_a_layer_at_rest_is_seen_where_its_coming_hides_it(table: Table) -> None:
    table.do(c.AddWords(text="Fly", at=S))
    item = table.promo.layers[0].items[0]
    start = timeline(table.promo).item_span(item).start
    coming = frame_recipe(table.promo, SHIPPED["wide"], start, measure).ops[-1]
    resting = frame_recipe(table.promo, SHIPPED["wide"], start, measure, [item.id]).ops[-1]
    later = frame_recipe(table.promo, SHIPPED["wide"], start + item.read("arrive_length"), measure).ops[-1]
    assert (coming.opacity, resting.opacity, later.opacity) == (0, 0.7, 1), "faintly where it is hidden"
    assert resting.box == later.box
