"""Designs: written without code, laid out in any shape, filled, carried along."""

from __future__ import annotations

import json

import pytest
from pydantic import ValidationError

from glowreel.core import commands as c
from glowreel.core.design import Design
from glowreel.core.design.model import GROUPS
from glowreel.core.design.resolve import _clock
from glowreel.core.errors import Refusal
from glowreel.core.formats import CANON, SHIPPED, Format
from glowreel.core.fragment import take
from glowreel.core.layout import Box
from glowreel.core.reading import read_document
from glowreel.core.recipe.model import Composite, DrawPicture, DrawShape, DrawWave, DrawWords, Op
from glowreel.core.recipe.picture import frame_recipe, part_box
from glowreel.core.time import TICKS_PER_SAMPLE, ticks
from glowreel.core.timeline import timeline
from glowreel.designs import shipped
from tests.core.build import MEDIA, S, Table, coloured, measure, sets

THREE = ("wide", "square", "tall")


def drawn(table: Table, format: str, at: int = 5 * S // 2) -> list[Op]:
    """Every operation of a frame, groups opened, with its clip left out."""

    def opened(ops: tuple[Op, ...]) -> list[Op]:
        return [inner for op in ops for inner in (opened(op.ops) if isinstance(op, Composite) else [op])]

    return opened(frame_recipe(table.promo, SHIPPED[format], at, measure).ops)[1:]


def put_on(design: str, *, clip: str = "ridge", **fields: str) -> Table:
    table = Table()
    table.do(c.InsertClips(media=(clip,)))
    if clip == "still":
        table.do(c.Trim(item=table.promo.clips[0].id, length=12 * S))
    table.do(c.AddDesign(design=design, fields=fields))
    return table


def inside(box: Box, format: Format) -> bool:
    width, height = format.canon
    return box.x >= -1 and box.y >= -1 and box.x + box.width <= width + 1 and box.y + box.height <= height + 1


@pytest.mark.parametrize("design", shipped())
@pytest.mark.parametrize("format", THREE)
def test_every_shipped_design_lies_inside_every_shape(design: str, format: str) -> None:
    table = put_on(design)
    item = table.promo.items[0]
    box = part_box(table.promo, SHIPPED[format], item, measure)
    assert box is not None
    assert inside(box, SHIPPED[format])
    words = [op.box for op in drawn(table, format) if isinstance(op, DrawWords)]
    plates = [op.box for op in drawn(table, format) if isinstance(op, DrawShape | DrawWave)]
    assert words or plates
    # Plates of what takes the whole frame may reach beyond it.
    assert all(inside(box, SHIPPED[format]) for box in (words if shipped()[design].frame == "full" else words + plates))
    # No two lines of words lie over one another.
    for n, one in enumerate(words):
        for other in words[n + 1 :]:
            apart = one.x + one.width <= other.x + 1 or other.x + other.width <= one.x + 1
            assert apart or one.y + one.height <= other.y + 1 or other.y + other.height <= one.y + 1


def test_what_stands_side_by_side_in_wide_stands_one_above_another_in_tall() -> None:
    table = put_on("paper-card")
    wide, tall = ([op.box for op in drawn(table, shape) if isinstance(op, DrawWords)] for shape in ("wide", "tall"))
    assert wide[1].x > wide[0].x + wide[0].width - 1
    assert tall[1].y >= tall[0].y + tall[0].height - 1


def test_a_grid_gives_its_cells_equal_room_in_each_shape() -> None:
    table = put_on("four-places")
    item = table.promo.items[0].id
    for name in ("first", "second", "third"):
        table.do(c.FillPicture(item=item, name=name, media="still"))
    for format, columns in (("wide", 2), ("square", 2), ("tall", 1)):
        width, height = SHIPPED[format].canon
        windows = [op.window for op in composites(table, format) if op.window is not None]
        assert len(windows) == 3
        assert len({(round(w.width), round(w.height)) for w in windows}) == 1
        pad, gap = (0.035, 0.025) if columns == 1 else (0.03, 0.02)
        room = width - 2 * pad * CANON - (columns - 1) * gap * CANON
        assert windows[0].width == pytest.approx(room / columns)
        pictures = [op for op in drawn(table, format) if isinstance(op, DrawPicture)]
        for window, picture in zip(windows, pictures, strict=True):
            assert picture.box.width >= window.width - 1e-6, "a picture leaves its cell empty at the sides"
            assert picture.box.height >= window.height - 1e-6
    table.do(c.FillPicture(item=item, name="second", media=None))
    assert len([op for op in drawn(table, "wide") if isinstance(op, DrawPicture)]) == 2


def composites(table: Table, format: str) -> list[Composite]:
    found: list[Composite] = []

    def walk(ops: tuple[Op, ...]) -> None:
        for op in ops:
            if isinstance(op, Composite):
                found.append(op)
                walk(op.ops)

    walk(frame_recipe(table.promo, SHIPPED[format], 3 * S, measure).ops)
    return found


def test_fields_are_set_with_limits_and_for_one_format_alone() -> None:
    table = put_on("ember-bar", title="Up at dawn")
    item = table.promo.items[0].id
    assert next(op.words.text for op in drawn(table, "wide") if isinstance(op, DrawWords)) == "Up at dawn"
    table.do(c.Set(items=(item,), values={"field.title": "Dawn"}, format="tall", only=True))
    titles = {shape: next(op.words.text for op in drawn(table, shape) if isinstance(op, DrawWords)) for shape in THREE}
    assert titles == {"wide": "Up at dawn", "square": "Up at dawn", "tall": "Dawn"}
    table.do(sets(item, **{"field.under": ""}))
    assert len([op for op in drawn(table, "wide") if isinstance(op, DrawWords)]) == 1, "empty words take no room"
    for values in ({"field.title": "x" * 81}, {"field.gone": "x"}, {"field.bar": "red"}):
        with pytest.raises(Refusal):
            table.do(sets(item, **values))
    with pytest.raises(Refusal, match="no place for a picture"):
        table.do(c.FillPicture(item=item, name="title", media="still"))
    with pytest.raises(Refusal, match="has no picture"):
        grid = table.do(c.AddDesign(design="four-places")).select[0]
        table.do(c.FillPicture(item=grid, name="first", media="song"))


def test_there_are_enough_designs_for_every_purpose() -> None:
    titles = [design for design in shipped().values() if design.purpose in ("title", "end-card")]
    assert len(titles) >= 36
    assert {design.group for design in shipped().values()} == set(GROUPS)


@pytest.mark.parametrize("design", shipped())
def test_a_design_has_come_before_it_goes_and_goes_back_the_way_it_came(design: str) -> None:
    table = put_on(design, clip="still")
    found = shipped()[design]
    assert found.comes_over + found.goes_over <= found.length + 1e-9, "it goes before all of it has come"
    last, there = int(found.length * S) - S // 30, int(found.comes_over * S) + S // 15
    times = [there + (last - there) * n // 7 for n in range(8)]
    frames = {frame_recipe(table.promo, SHIPPED["wide"], at, measure) for at in times}
    assert (len(frames) == 1) == (found.goes == "none" and not any(ways(found)) and not goes_by(found))


def goes_by(design: Design) -> bool:
    """Whether anything in it follows the time that goes by."""
    text = design.model_dump_json()
    return "{left}" in text or '"grows":true' in text or '"kind":"ring"' in text


def test_what_follows_the_time_grows_with_it_and_counts_what_is_left() -> None:
    table = put_on("progress-bar")
    length = table.promo.items[0].length
    widths = []
    for share in (0.25, 0.5):
        plates = [op.box for op in drawn(table, "wide", int(length * share)) if isinstance(op, DrawShape)]
        widths.append(plates[1].width / plates[0].width)
    assert widths == pytest.approx([0.25, 0.5], abs=0.01)
    table = put_on("countdown")
    for second, left in ((1, "4"), (3, "2"), (4.9, "1")):
        said = [op.words.text for op in drawn(table, "wide", int(second * S)) if isinstance(op, DrawWords)]
        assert said[0] == left
    assert [_clock(seconds) for seconds in (0, 0.2, 59.5, 61, 125.01)] == ["0", "1", "1:00", "1:01", "2:06"]


def ways(design: Design) -> list[str]:
    """What its boxes do meanwhile."""

    def inside(box: object) -> list[str]:
        return [*([box.stays] if box.stays != "none" else []), *(w for b in box.boxes for w in inside(b))]  # type: ignore[attr-defined]

    return inside(design.arrange.get("wide") or design.arrange["any"])


def test_another_design_says_what_the_one_before_said_and_words_become_a_design() -> None:
    table = put_on("ember-bar", title="Up at dawn", under="every day")
    item = table.promo.items[0]
    table.do(sets(item.id, place=(0.2, -0.3)))
    table.do(c.SwitchDesign(item=item.id, design="two-bars"))
    one = table.promo.items[0]
    assert (one.id, one.length, one.anchor) == (item.id, item.length, item.anchor)
    assert (one.read("field.first"), one.read("field.second"), one.read("place")) == (
        "Up at dawn",
        "every day",
        (0.2, -0.3),
    )
    table.do(c.SwitchDesign(item=item.id, design="line-by-line"))
    assert [table.promo.items[0].read(f"field.{name}") for name in ("title", "line1", "line2")] == [
        "Up at dawn", "every day", "",
    ]  # fmt: skip
    words = table.do(c.AddWords(text="From 49\na seat\nin May", at=5 * S)).select[0]
    table.do(c.SwitchDesign(item=words, design="light-and-heavy"))
    made = next(one for one in table.promo.items if one.id == words)
    assert (made.read("field.above"), made.read("field.title")) == ("From 49", "a seat in May"), "nothing is left out"
    new = table.do(c.AddDesign(design="burst", like=words, at=0)).select[0]
    burst = next(one for one in table.promo.items if one.id == new)
    assert burst.read("field.title") == "From 49 a seat in May"[:24]
    with pytest.raises(Refusal, match="says nothing"):
        picture = table.do(c.AddPicture(media="still")).select[0]
        table.do(c.SwitchDesign(item=picture, design="burst"))


def test_roles_are_filled_by_the_brand_that_the_promo_holds() -> None:
    table = put_on("ember-bar")
    plate = next(op for op in drawn(table, "wide") if isinstance(op, DrawShape))
    assert plate.colour == "#F6B73C"
    table.promo = table.promo.changed(brand=coloured({"accent": "#2F6F87"}, fonts={"heading": "Fraunces"}))
    plate, words = (next(op for op in drawn(table, "wide") if isinstance(op, kind)) for kind in (DrawShape, DrawWords))
    assert (plate.colour, words.words.font) == ("#2F6F87", "Fraunces")


def test_a_design_comes_in_its_own_time_and_not_again_after_a_split() -> None:
    table = put_on("ember-bar")
    item = table.promo.items[0].id
    assert not [op for op in drawn(table, "wide", S // 10) if isinstance(op, DrawWords)], "the words come later"
    before = frame_recipe(table.promo, SHIPPED["wide"], 2 * S, measure)
    table.do(c.SplitAt(item=item, at=2 * S))
    assert frame_recipe(table.promo, SHIPPED["wide"], 2 * S, measure) == before


def test_a_promo_is_complete_wherever_it_is_opened() -> None:
    table = put_on("ember-bar")
    assert set(table.promo.designs) == {"ember-bar"}
    other = Table(family="o")
    other.context = c.Context(other.context.new_id, other.context.media)
    other.do(c.InsertClips(media=("field",)))
    other.do(c.Paste(fragment=take(table.promo, {table.promo.items[0].id}), at=S))
    assert set(other.promo.designs) == {"ember-bar"}
    assert read_document(json.loads(other.promo.model_dump_json())) == other.promo
    other.do(c.Remove(items=(other.promo.items[0].id,)))
    assert other.promo.designs == {}, "what is not used is not kept"
    with pytest.raises(Refusal, match="no design called"):
        other.do(c.AddDesign(design="ember-bar"))


@pytest.mark.parametrize(
    ("change", "sentence"),
    [
        ({"arrange": {"wide": {"kind": "plate"}}}, "for any shape"),
        ({"arrange": {"any": {"kind": "words", "field": "gone"}}}, "not there: gone"),
        ({"arrange": {"any": {"kind": "plate", "colour": "reddish"}}}, "neither a role"),
        ({"arrange": {"any": {"kind": "words", "comes": {"way": "hop"}}}}, "no motion called"),
    ],
)
def test_what_is_wrong_with_a_design_is_said(change: dict, sentence: str) -> None:
    plain = {"id": "x", "name": "X", "meaning": "x", "arrange": {"any": {"kind": "plate"}}}
    assert Design.model_validate(plain)
    with pytest.raises(ValidationError, match=sentence):
        Design.model_validate({**plain, **change})
    deep: dict = {"kind": "plate"}
    for _ in range(14):
        deep = {"kind": "stack", "boxes": [deep]}
    with pytest.raises(ValidationError, match="at most 12 deep"):
        Design.model_validate({**plain, "arrange": {"any": deep}})


def test_the_items_of_a_promo_are_called_by_what_they_say() -> None:
    table = put_on("name-tag", name="Ilse Brandt")
    item = timeline(table.promo).item[table.promo.items[0].id]
    assert item.content.called(item, None) == "“Ilse Brandt”"


def slot_of(table: Table, **slot: object) -> str:
    table.do(c.MarkSlot(**slot))
    return table.promo.slots[-1].id


def test_slots_are_filled_within_their_limits_and_nothing_moves() -> None:
    table = put_on("ember-bar")
    clip, item = table.promo.clips[0].id, table.promo.items[0].id
    table.do(c.Trim(item=clip, length=5 * S))
    name = slot_of(table, item=item, of="field.title", kind="words", label="Name it", most=10)
    picture = slot_of(table, item=clip, kind="picture", label="Your best footage")
    spans = timeline(table.promo).clip_span
    table.do(c.FillSlot(slot=name, text="Dawn"))
    table.do(c.FillSlot(slot=picture, media="field", source_in=S))
    assert table.promo.clips[0].media == "field"
    assert table.promo.clips[0].begins == S
    assert timeline(table.promo).clip_span == spans
    assert [slot.filled for slot in table.promo.slots] == [True, True]
    refused = (
        (c.FillSlot(slot=name, text="More than ten"), "room for 10"), (c.FillSlot(slot=name), "with words"),
        (c.FillSlot(slot=picture, media="basket"), "shorter than 5.0 s"),
        (c.MarkSlot(item=clip, kind="words", label="x"), "no place for words"),
    )  # fmt: skip
    for command, sentence in refused:
        with pytest.raises(Refusal, match=sentence):
            table.do(command)
    table.do(c.FillSlot(slot=picture, media="still"))
    assert (table.promo.clips[0].kind, timeline(table.promo).clip_span) == ("photo", spans)
    table.do(c.Remove(items=(item,)))
    assert [slot.id for slot in table.promo.slots] == [picture], "what is gone is not to be filled"


def test_chapters_are_the_scenes_that_go_by_and_fill_as_their_time_does() -> None:
    table = Table()
    table.do(c.InsertClips(media=("ridge", "field")))
    table.do(c.BreakScene(clip=table.promo.clips[1].id))
    table.do(c.RenameScene(scene=table.promo.scenes[1].id, name="Over the field"))
    table.do(c.AddDesign(design="chapter-bar"))
    item = table.promo.items[0].id
    table.do(c.TieItem(item=item, to="whole"))
    first, second = ticks(5), ticks(13)
    bars = {
        at: [op.box.width for op in drawn(table, "wide", at) if isinstance(op, DrawShape)] for at in (first, second)
    }
    assert len(bars[first]) == 3, "two scenes, the first of them half gone by"
    assert bars[first][1] == pytest.approx(bars[first][0] / 2, rel=0.01)
    assert bars[first][0] / bars[first][2] == pytest.approx(10 / 6, rel=0.01), "as wide as they are long"
    assert bars[second][1] == pytest.approx(bars[second][0]), "the first has gone by"
    assert bars[second][3] == pytest.approx(bars[second][2] / 2, rel=0.01)
    said = [op.words.text for op in drawn(table, "wide", second) if isinstance(op, DrawWords)]
    assert said == ["Over the field"]


def test_bars_that_move_with_the_sound_name_what_is_heard_around_the_moment() -> None:
    table = put_on("sound-bars")
    (wave,) = [op for op in drawn(table, "wide", ticks(2)) if isinstance(op, DrawWave)]
    assert wave.sound is not None
    (voice,) = wave.sound.voices
    assert voice.at == -(ticks(2) // TICKS_PER_SAMPLE) + wave.sound.length // 2
    table.do(c.Set(items=(table.promo.clips[0].id,), values={"muted": True}))
    (wave,) = [op for op in drawn(table, "wide", ticks(2)) if isinstance(op, DrawWave)]
    assert wave.sound is not None
    assert not wave.sound.voices


def test_a_logo_is_shown_whole() -> None:
    table = put_on("logo-sting")
    table.do(c.FillPicture(item=table.promo.items[0].id, name="logo", media="basket"))
    picture = next(op for op in drawn(table, "square", ticks(2)) if isinstance(op, DrawPicture) and op.source !=
                   MEDIA["ridge"].hash)  # fmt: skip
    assert picture.box.width / picture.box.height == pytest.approx(1080 / 1920)
    assert picture.box.height == pytest.approx(0.28 * 1080)


def test_a_thin_plate_of_a_design_taken_apart_is_still_sized_by_hand() -> None:
    table = put_on("browser-frame")
    table.do(c.TakeApart(item=table.promo.items[0].id))
    plate = max((item for item in table.promo.items if "shaped" in item.content.traits),
                key=lambda item: item.read("stretch"))  # fmt: skip
    assert plate.read("stretch") > 10
    wider = {"stretch": plate.read("stretch") * 1.2, "size": plate.read("size")}
    table.do(c.PlaceItem(item=plate.id, format="wide", x=0.1, y=0.1, width=1.2, height=0.06, **wider))
    assert timeline(table.promo).item[plate.id].read("stretch", "wide") == pytest.approx(wider["stretch"])
