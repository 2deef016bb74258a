"""Layout by rule: what does not lie well in a shape is laid out anew, and nothing else."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from glowreel.core import commands as c
from glowreel.core.arrangement import ruled, score_of
from glowreel.core.arrangement.order import in_order
from glowreel.core.brand import Brand
from glowreel.core.formats import CANON, SHIPPED, Format
from glowreel.core.layout import Box, common
from glowreel.core.recipe.model import Composite, DrawPicture, DrawWords
from glowreel.core.recipe.picture import frame_recipe, part_box
from glowreel.core.subject import Shot, Subject
from glowreel.core.timeline import timeline
from tests.core.build import MEDIA, S, Table, measure, sets

WIDE, SQUARE, TALL = (SHIPPED[key] for key in ("wide", "square", "tall"))


def table() -> Table:
    table = Table()
    table.context = replace(table.context, measure=measure)
    table.do(c.InsertFiller(length=6 * S))
    return table


def put(table: Table, what: str, x: float, y: float, size: float, format: str = "wide", **values: object) -> str:
    """Words, or a picture, dragged with its corner to a point of a format, in fractions of the short side."""
    add = c.AddPicture(media=what, at=0) if what in MEDIA else c.AddWords(text=what, at=0, length=5 * S)
    (key,) = table.do(add).select
    table.do(sets(key, size=size, **values))
    box = at(table, key, SHIPPED[format])
    table.do(c.PlaceItem(item=key, format=format, x=x, y=y, width=box.width / CANON, height=box.height / CANON))
    return key


def at(table: Table, key: str, format: Format) -> Box:
    box = part_box(table.promo, format, timeline(table.promo).find_item(key), measure)
    assert box is not None
    return box


def test_what_stands_side_by_side_in_wide_stands_one_above_the_other_in_tall() -> None:
    on = table()
    words = put(on, "Three nights", 0.12, 0.35, 0.12, wrap=0.7)
    photo = put(on, "still", 0.98, 0.28, 0.7)
    assert at(on, words, WIDE).x + at(on, words, WIDE).width < at(on, photo, WIDE).x
    above, below = at(on, words, TALL), at(on, photo, TALL)
    assert above.y + above.height <= below.y, "in the order in which they are read"
    assert not score_of(on.promo, TALL, measure).faults
    assert score_of(on.promo, TALL, measure, by_rule=False).overlap > 0.05


def test_what_stands_one_above_the_other_in_tall_finds_room_in_wide() -> None:
    on = table()
    keys = [put(on, "Autumn market", 0.1, 0.3, 0.15, "tall"), put(on, "basket", 0.3, 0.68, 0.6, "tall"),
            put(on, "See you there", 0.2, 1.3, 0.08, "tall")]  # fmt: skip
    for format in SHIPPED.values():
        assert score_of(on.promo, format, measure).sound, format.id
        assert not any(
            common(at(on, one, format), at(on, two, format)) > 1 for one in keys for two in keys if one < two
        )


def test_the_shape_that_it_was_made_in_is_left_alone() -> None:
    on = table()
    key = put(on, "Over the edge", 1.4, 0.9, 0.2)
    assert at(on, key, WIDE).x == pytest.approx(1.4 * CANON, abs=1)
    assert not ruled(on.promo, WIDE, measure).of(timeline(on.promo).find_item(key))


def test_small_print_of_a_wide_shape_is_legible_in_tall() -> None:
    on = table()
    key = put(on, "Only for members and while there is stock, one each", 0.3, 0.9, 0.027, wrap=1.3)
    item = timeline(on.promo).find_item(key)
    words = next(op for op in frame_recipe(on.promo, TALL, 2 * S, measure).ops if isinstance(op, DrawWords))
    assert words.size >= TALL.least_letters * CANON
    assert item.read("size") == 0.027, "it is the rule that enlarges it, and not the promo"


def test_a_group_keeps_together_as_it_is() -> None:
    on = table()
    photo = put(on, "still", 0.1, 0.2, 0.6)
    label = put(on, "Hand-thrown", 0.15, 0.42, 0.05, wrap=0.5)
    put(on, "A bowl a day", 0.9, 0.3, 0.12, wrap=0.7)
    on.do(c.Group(items=(photo, label)))

    def offset(format: Format) -> tuple[float, float]:
        one, other = at(on, photo, format), at(on, label, format)
        return (other.x + other.width / 2 - one.x) / one.width, (other.y + other.height / 2 - one.y) / one.height

    assert offset(TALL) == pytest.approx(offset(WIDE), abs=0.02)
    assert score_of(on.promo, TALL, measure).sound


def test_a_logo_stays_in_its_corner_inside_the_safe_area() -> None:
    on = table()
    on.promo = on.promo.changed(brand=Brand(logos={"logo": "sign"}))
    (key,) = on.do(c.AddPicture(media="sign", at=0)).select
    box, (wide, high) = at(on, key, TALL), TALL.canon
    left, top, right, low = TALL.safe
    assert box.x >= left * wide - 1
    assert box.y >= top * high - 1
    assert box.x + box.width <= wide * (1 - right) + 1
    assert box.y + box.height <= high * (1 - low) + 1


def test_what_somebody_placed_by_hand_in_a_shape_stays_there() -> None:
    on = table()
    words = put(on, "Three nights", 0.12, 0.35, 0.12, wrap=0.7)
    put(on, "still", 0.98, 0.28, 0.7)
    before = at(on, words, WIDE)
    box = at(on, words, TALL)
    size = {"width": box.width / CANON, "height": box.height / CANON}
    on.do(c.PlaceItem(item=words, format="tall", x=0.2, y=1.2, **size))
    assert at(on, words, TALL).x == pytest.approx(0.2 * CANON, abs=1), "where it was dropped"
    assert at(on, words, WIDE) == before, "where the rule had laid it out, a place is that shape's own"


def test_a_layer_may_be_left_where_it_is_pinned() -> None:
    on = table()
    words = put(on, "Three nights", 0.12, 0.35, 0.12, wrap=0.7)
    put(on, "still", 0.98, 0.28, 0.7)
    moved = at(on, words, TALL)
    on.do(c.Set(items=(words,), values={"by_rule": False}, format="tall", only=True))
    assert at(on, words, TALL) != moved
    assert not ruled(on.promo, TALL, measure).of(timeline(on.promo).find_item(words))


def test_things_are_read_by_rows_and_columns() -> None:
    boxes = {0: Box(900, 40, 200, 60), 1: Box(100, 300, 600, 400), 2: Box(800, 250, 200, 60), 3: Box(800, 600, 200, 60)}
    assert in_order(boxes) == [0, 1, 2, 3]
    assert in_order({n: Box(box.x, 0, box.width, 50) for n, box in boxes.items()})[0] == 1


PLACES = st.lists(
    st.tuples(
        st.sampled_from(["Fly at dawn", "A longer line of words that has to be broken", "still", "sign"]),
        st.floats(0.1, 1.0), st.floats(0.1, 0.6), st.floats(0.03, 0.5),
    ),
    min_size=1, max_size=5,
)  # fmt: skip


@settings(max_examples=25, deadline=None)
@given(places=PLACES)
def test_the_rule_never_makes_a_shape_worse_nor_touches_the_one_it_was_made_in(places) -> None:
    on = table()
    for what, x, y, size in places:
        put(on, what, x, y, size if what in MEDIA else size / 3 + 0.02)
    for format in SHIPPED.values():
        before, after = (score_of(on.promo, format, measure, by_rule=rule) for rule in (False, True))
        if format is WIDE:
            assert before == after
        else:
            assert after.faults <= before.faults + 1e-6


def pictures(ops) -> list[DrawPicture]:
    found = []
    for op in ops:
        found += [op] if isinstance(op, DrawPicture) else pictures(op.ops) if isinstance(op, Composite) else []
    return found


def test_a_picture_is_shown_whole_where_too_much_of_it_would_be_cut_off() -> None:
    on = Table()
    on.do(c.InsertClips(media=("ridge",)))
    clip = on.promo.clips[0].id
    cinema = SHIPPED["cinema"]
    assert len(pictures(frame_recipe(on.promo, TALL, 0, measure).ops)) == 1, "wide in tall is cropped"
    on.do(sets(clip, most_cut=0.5))
    behind, whole = pictures(frame_recipe(on.promo, TALL, 0, measure).ops)
    assert (whole.box.x, whole.box.width) == pytest.approx((0, CANON))
    assert behind.box.height >= TALL.canon[1], "its own picture, enlarged, is the ground"
    assert len(pictures(frame_recipe(on.promo, cinema, 0, measure).ops)) == 1
    on.do(sets(clip, ground="colour", ground_colour="#102030"))
    assert len(pictures(frame_recipe(on.promo, TALL, 0, measure).ops)) == 1, "the ground that somebody chose"


def test_a_picture_inside_something_is_cropped_about_its_subject() -> None:
    on = table()
    subject = Subject(shots=(Shot(first=((0, 0.9, 0.5),)),))
    on.context = replace(on.context, media={**MEDIA, "still": MEDIA["still"].changed(subject=subject)})
    (key,) = on.do(c.AddWords(text="M", at=0, length=5 * S)).select
    on.do(c.FillPicture(item=key, name="letters_of", media="still"))
    on.do(sets(key, letters_of="picture"))
    (picture,) = pictures(frame_recipe(on.promo, SQUARE, 2 * S, measure).ops)
    box = at(on, key, SQUARE)
    assert picture.box.x + picture.box.width == pytest.approx(box.x + box.width), "its right edge, where the subject is"


def test_words_may_be_on_show_for_a_shorter_stretch_in_one_format() -> None:
    on = table()
    (key,) = on.do(c.AddWords(text="Only briefly", at=0, length=5 * S)).select
    on.do(sets(key, arrives="none", leaves="none"))
    own = {"comes_late": S, "goes_early": 2 * S}
    on.do(c.Set(items=(key,), values=own, format="tall", only=True))

    def shown(format: Format) -> list[int]:
        frames = (frame_recipe(on.promo, format, n * S + 1, measure).ops for n in range(6))
        return [n for n, ops in enumerate(frames) if any(isinstance(op, DrawWords) for op in ops)]

    assert shown(WIDE) == [0, 1, 2, 3, 4]
    assert shown(TALL) == [1, 2]
    assert timeline(on.promo).length == 6 * S


def test_words_that_run_into_others_are_parted_elsewhere_and_a_backdrop_of_words_is_kept() -> None:
    on = table()
    first = put(on, "Dawn", 0.2, 0.3, 0.2, wrap=1.0)
    second = put(on, "flights", 0.2, 0.3 + 0.2 * 0.9, 0.1, wrap=1.0)
    assert common(at(on, first, WIDE), at(on, second, WIDE)) > 0, "where it was made it is left"
    assert not common(at(on, first, TALL), at(on, second, TALL))
    on = table()
    behind = put(on, "Dawn", 0.2, 0.3, 0.4, wrap=1.2)
    front = put(on, "flights", 0.3, 0.4, 0.08, wrap=1.0)
    wide, tall = (common(at(on, behind, format), at(on, front, format)) for format in (WIDE, TALL))
    assert wide > 0
    assert tall > 0, "it is meant to lie there"


def test_what_the_rule_made_smaller_stays_so_where_it_is_dragged() -> None:
    on = table()
    words = put(on, "Three nights by the lake", 0.12, 0.35, 0.2, wrap=0.8)
    photo = put(on, "still", 0.98, 0.28, 0.76)
    was = at(on, photo, SQUARE)
    assert was.width < at(on, photo, WIDE).width, "it had to shrink"
    size = {"width": was.width / CANON, "height": was.height / CANON}
    on.do(c.PlaceItem(item=photo, format="square", x=0.1, y=0.5, **size))
    assert (at(on, photo, SQUARE).width, at(on, photo, SQUARE).x) == pytest.approx((was.width, 0.1 * CANON), abs=1)
    assert at(on, words, WIDE).x == pytest.approx(0.12 * CANON, abs=1), "where it was made nothing moved"


@pytest.mark.parametrize("command", [
    lambda key: c.AlignItems(items=(key,), format="tall", edge="left"),
    lambda key: c.PinItems(items=(key,), format="tall", spot=(0.0, 0.0)),
    lambda key: c.SizeItems(items=(key,), format="tall", how="third"),
])  # fmt: skip
def test_what_is_put_somewhere_by_hand_where_the_rule_had_it_is_there(command) -> None:
    on = table()
    put(on, "Three nights", 0.12, 0.35, 0.12, wrap=0.7)
    photo = put(on, "still", 0.98, 0.28, 0.7)
    wide, tall = at(on, photo, WIDE), at(on, photo, TALL)
    on.do(command(photo))
    assert at(on, photo, TALL) != tall
    assert at(on, photo, WIDE) == wide, "the others do not follow from what nobody saw"


def test_another_size_in_one_format_leaves_the_place_to_the_rule() -> None:
    on = table()
    words = put(on, "Three nights", 0.12, 0.35, 0.12, wrap=0.7)
    photo = put(on, "still", 0.98, 0.28, 0.7)
    on.do(c.Set(items=(words,), values={"size": 0.2}, format="tall", only=True))
    op = next(op for op in frame_recipe(on.promo, TALL, 2 * S, measure).ops if isinstance(op, DrawWords))
    assert op.size == pytest.approx(0.2 * CANON), "as large as somebody wanted it"
    above, below = at(on, words, TALL), at(on, photo, TALL)
    assert above.y + above.height <= below.y


def test_a_stretch_of_one_format_belongs_to_the_end_that_it_is_cut_from() -> None:
    on = table()
    (key,) = on.do(c.AddWords(text="Only briefly", at=0, length=4 * S)).select

    on.do(c.Set(items=(key,), values={"comes_late": S // 2, "goes_early": S}, format="tall", only=True))
    before = on.promo
    (second,) = on.do(c.SplitAt(at=2 * S, item=key)).select
    index = timeline(on.promo)
    assert index.find_item(key).values_in["tall"] == {"comes_late": S // 2}
    assert index.find_item(second).values_in["tall"] == {"goes_early": S}
    on.do(c.Join(item=key))
    assert timeline(on.promo).find_item(key) == timeline(before).find_item(key)


def test_a_shape_that_no_format_may_have_is_no_shape_something_was_made_in() -> None:
    on = table()
    key = put(on, "Three nights", 0.12, 0.35, 0.12)
    item = timeline(on.promo).find_item(key)
    with pytest.raises(ValueError, match="4 times as long"):
        item.changed(made_in=(8000, 2))


def test_a_score_tells_how_much_of_a_subject_a_shape_cuts_off() -> None:
    on = Table()
    subject = Subject(shots=(Shot(first=((0, 0.8, 0.5),)),))
    on.context = replace(on.context, media={**MEDIA, "still": MEDIA["still"].changed(subject=subject)})
    on.do(c.InsertClips(media=("still",)))
    cut = [score_of(on.promo, TALL, measure, by_rule=rule).cut_heads for rule in (False, True)]
    assert cut == [1.0, 0.0], "the middle shows nothing of it, the rule all of it"
    assert score_of(on.promo, WIDE, measure, by_rule=False).cut_heads == 0
    # Half of it is seen where the view's edge goes through its middle.
    on.do(sets(on.promo.clips[0].id, focus=(0.8 - TALL.canon[0] / (TALL.canon[1] * 16 / 9) / 2, 0.5)))
    assert score_of(on.promo, TALL, measure).cut_heads == pytest.approx(0.5, abs=0.01)
    assert score_of(on.promo, TALL, measure).points < 100
