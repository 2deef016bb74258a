"""Letters one after another: shares, orders, states, counting; words in capitals, in parts, as large as they fit."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from glowreel.core.commands import AddWords, FillPicture, InsertClips, KeepStyle, StyleWords, apply
from glowreel.core.content.words import size_that_suits
from glowreel.core.errors import Refusal
from glowreel.core.formats import SHIPPED
from glowreel.core.letters import LETTER_STAYS, LETTER_WAYS, ORDERS, Play, State, counted, shares, states, turns
from glowreel.core.recipe.model import Composite, DrawPicture, DrawWords
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.time import ticks
from glowreel.core.words import Words, cased, moved_runs
from tests.core.build import S, Table, measure, sets

WIDE = SHIPPED["wide"]


def test_units_come_one_after_another_and_overlap_as_much_as_is_said() -> None:
    # Three units that overlap by half: each lasts half of the whole, and begins a quarter after the one before.
    assert shares(Play("fade", share=0.25, overlap=0.5), 3) == pytest.approx([0.5, 0, 0])
    assert shares(Play("fade", share=0.5, overlap=0.5), 3) == pytest.approx([1, 0.5, 0])
    assert shares(Play("fade", share=0.5, overlap=0.0), 4) == pytest.approx([1, 1, 0, 0])
    going = shares(Play("fade", share=0.75, overlap=0.5, leaving=True), 3)
    assert going == pytest.approx([0.5, 1, 1]), "the first goes first"


@given(st.integers(1, 60), st.sampled_from(list(ORDERS)), st.floats(0, 1), st.booleans(), st.integers(0, 9))
def test_nothing_is_there_at_first_and_all_of_it_in_the_end(
    count: int, order: str, overlap: float, leaving: bool, seed: int
) -> None:
    def at(share: float) -> list[float]:
        return shares(Play("fade", share=share, order=order, overlap=overlap, leaving=leaving, seed=seed), count)

    assert at(0) == pytest.approx([0] * count)
    assert at(1) == [1.0] * count
    halves, more = at(0.4), at(0.6)
    assert all(a <= b for a, b in zip(halves, more, strict=True))


def test_each_order_says_who_is_first() -> None:
    assert turns(4, "backward", 1) == (3, 2, 1, 0)
    assert turns(5, "middle", 1) == (2, 1, 0, 1, 2)
    assert turns(5, "edges", 1) == (0, 1, 2, 1, 0)
    assert sorted(turns(9, "random", 1)) == list(range(9))
    assert turns(9, "random", 1) != turns(9, "random", 2)


@pytest.mark.parametrize("name", list(LETTER_WAYS))
def test_a_way_ends_with_letters_as_they_are(name: str) -> None:
    way = LETTER_WAYS[name]
    last = way.state(1.0, 2, 5, 0.3)
    assert (last.dx, last.dy, last.turn) == pytest.approx((0, 0, 0), abs=1e-9)
    assert last.scale == pytest.approx(1)
    assert (last.opacity, last.seen, last.swap, last.blur, last.caret) == (1, 1, 0, 0, False)
    first = way.state(0.0, 2, 5, 0.3)
    hidden = first.opacity == 0 or first.seen == 0 or first.scale == 0
    assert hidden != way.sweeps, "it is not there at first, unless it sweeps over what is there"


@pytest.mark.parametrize("name", [name for name in LETTER_STAYS if name != "none"])
def test_what_letters_do_meanwhile_changes_with_time_and_not_without_strength(name: str) -> None:
    seen = {tuple(states(Play(name, share=second / 10, stays=True), 6)) for second in range(30)}
    assert len(seen) > 3
    assert set(states(Play(name, share=0.35, stays=True, strength=0.0), 6)) == {State()}


def test_words_are_sung_by_given_times() -> None:
    play = Play("sing", unit="word", share=1.25, times=(0.5, 1.0, 1.5, 2.0))
    assert [round(state.sung, 3) for state in states(play, 3)] == [1, 0.5, 0]


@pytest.mark.parametrize(("text", "share", "said"), [
    ("600 metres", 0.5, "300 metres"), ("only €1,200", 0.25, "only €300"), ("€1,200", 0.9, "€1,080"),
    ("49.90 a month", 0.5, "24.95 a month"), ("1.250,50 kr", 0.5, "625,25 kr"), ("no number", 0.5, "no number"),
])  # fmt: skip
def test_a_number_counts_as_it_is_written(text: str, share: float, said: str) -> None:
    assert counted(text, 0, share) == said
    assert counted(text, 0, 1) == text


def test_capitals_keep_every_letter_in_its_place() -> None:
    assert cased("fly at dawn", "upper") == "FLY AT DAWN"
    assert cased("it’s a dawn-flight", "title") == "It’s A Dawn-Flight"
    assert len(cased("Straße", "upper")) == 6
    assert cased("ÉCOLE", "lower") == "école"


def a_measure(words: Words, size: float, wrap: float) -> tuple[float, float]:
    """Every letter half as wide as high; broken at white."""
    lines, width = [0.0], 0.5 * size
    for word in words.text.split():
        room = len(word) * width
        if lines[-1] and lines[-1] + width + room > wrap:
            lines.append(0.0)
        lines[-1] += room + (width if lines[-1] else 0)
    return max(lines), len(lines) * size * words.line


def test_letters_shrink_to_fit_and_grow_to_fill_but_not_below_the_smallest() -> None:
    words = Words("one two three four", line=1.0)
    assert size_that_suits(words, 100, 2000, 100, "shrink", 10, a_measure) == 100, "what fits stays"
    small = size_that_suits(words, 100, 300, 100, "shrink", 10, a_measure)
    wide, high = a_measure(words, small, 300)
    assert 10 < small < 100
    assert wide <= 301
    assert high <= 100
    assert a_measure(words, small * 1.05, 300)[1] > 100 or a_measure(words, small * 1.05, 300)[0] > 301
    large = size_that_suits(words, 20, 900, 500, "fill", 10, a_measure)
    assert large > 100
    assert size_that_suits(words, 100, 30, 20, "shrink", 26, a_measure) == 26


def worded(**values: object) -> tuple[Table, str]:
    table = Table()
    table.do(InsertClips(media=("ridge",)))
    key = table.do(AddWords(text="Fly at first light", at=S, length=ticks(4))).select[0]
    table.do(sets(key, arrives="none", leaves="none", **values))
    return table, key


def words_at(table: Table, time: int, at_rest: tuple[str, ...] = ()) -> DrawWords:
    ops = frame_recipe(table.promo, WIDE, time, measure, at_rest).ops
    return next(op for op in ops if isinstance(op, DrawWords))


def test_letters_come_and_go_within_the_part_and_stand_still_in_between() -> None:
    table, key = worded(pieces="rise", pieces_leave="fade", pieces_by="word")
    coming, still, going = (words_at(table, at).plays for at in (S + S // 2, 3 * S, 5 * S - S // 10))
    assert [(play.way, play.share, play.unit, play.leaving) for play in coming] == [("rise", 0.5, "word", False)]
    assert still == ()
    assert going[0].leaving
    assert 0 < going[0].share < 0.2
    assert words_at(table, S, (key,)).plays == (), "who works on them sees them"


def test_a_number_in_words_counts_and_keeps_the_box_of_the_last() -> None:
    table, key = worded(text="600 metres", pieces="count", pieces_ease="straight")
    half, last = words_at(table, S + S // 2), words_at(table, 3 * S)
    assert half.words.text == "300 metres"
    assert last.words.text == "600 metres"
    assert half.box == last.box


def test_parts_take_colours_by_role_and_end_with_the_text() -> None:
    run = {"start": 0, "end": 300, "colour": "accent", "weight": 400}
    table, key = worded(runs=[run])
    found = words_at(table, 2 * S).words.runs[0]
    assert (found.start, found.end, found.colour, found.weight) == (0, 18, "#F6B73C", 400)
    for bad in ([{"start": 3, "end": 3}], [{"start": 0, "end": 4, "colour": "red"}], [{"start": 0, "end": 4, "x": 1}],
                [{"start": 0, "end": 4}, {"start": 2, "end": 6}], [{"start": 0, "end": 2, "size": 90}]):  # fmt: skip
        with pytest.raises(Refusal):
            apply(table.promo, sets(key, runs=bad), table.context)


def test_words_of_a_picture_are_that_picture_kept_where_letters_are() -> None:
    table, key = worded(letters_of="picture", box="#C8430B")
    table.do(FillPicture(item=key, name="letters_of", media="ridge"))
    group = next(op for op in frame_recipe(table.promo, WIDE, 2 * S, measure).ops
                 if isinstance(op, Composite))  # fmt: skip
    ground, inside = group.ops
    assert isinstance(ground, DrawWords)
    assert isinstance(inside, Composite)
    picture, letters = inside.ops
    assert inside.apart
    assert isinstance(picture, DrawPicture)
    assert isinstance(letters, Composite)
    assert letters.blend == "keep"


def test_words_take_a_style_and_all_of_a_style_follow_one_of_them() -> None:
    table, first = worded(colour="#C8430B", turn=12.0)
    second = table.do(AddWords(text="Book now", at=6 * S, length=ticks(2))).select[0]
    table.do(StyleWords(items=(first, second), style="price"))
    one = table.promo.items[0] if table.promo.items[0].id == first else table.promo.items[1]
    assert (one.read("size"), one.read("colour"), one.read("turn")) == (0.2, "accent", 12.0)
    table.do(sets(first, colour="#123456", outline=0.05))
    table.do(KeepStyle(item=first))
    items = {item.id: item for item in table.promo.items}
    assert items[second].read("colour") == "#123456"
    assert items[second].read("outline") == 0.05
    third = table.do(AddWords(text="From 49", at=8 * S, length=ticks(1))).select[0]
    table.do(StyleWords(items=(third,), style="price"))
    items = {item.id: item for item in table.promo.items}
    assert items[third].read("outline") == 0.05, "new ones look so as well"
    table.do(StyleWords(items=(third,), style=""))
    items = {item.id: item for item in table.promo.items}
    assert (items[third].read("style"), items[third].read("outline")) == ("", 0.05), (
        "it looks as it did, and follows none"
    )
    with pytest.raises(Refusal, match="no text style"):
        table.do(KeepStyle(item=third))


@pytest.mark.parametrize(("new", "places"), [
    ("Now fly at dawn", [(8, 10), (11, 15)]), ("Fly at every dawn", [(4, 6), (13, 17)]),
    ("Fly near dawn", [(4, 8), (9, 13)]), ("Fly at dawwn", [(4, 6), (7, 12)]), ("Fly", []),
    ("Fly at d", [(4, 6), (7, 8)]),
])  # fmt: skip
def test_parts_stay_on_their_words_where_a_text_is_changed(new: str, places: list[tuple[int, int]]) -> None:
    table, key = worded(text="Fly at dawn", runs=[{"start": 4, "end": 6, "italic": True}, {"start": 7, "end": 11,
                                                  "weight": 400}])  # fmt: skip
    table.do(sets(key, text=new))
    runs = table.promo.items[0].read("runs")
    assert [(run["start"], run["end"]) for run in runs] == places
    assert all(("italic" in run) != ("weight" in run) for run in runs)


@given(st.text("ab c", max_size=12), st.text("ab c", max_size=12), st.data())
def test_parts_are_always_parts_of_the_text(old: str, new: str, data: st.DataObject) -> None:
    edges = sorted(data.draw(st.lists(st.integers(0, len(old)), max_size=6, unique=True)))
    runs = tuple({"start": a, "end": b} for a, b in zip(edges[::2], edges[1::2], strict=False))
    moved = moved_runs(old, new, runs)
    assert all(0 <= run["start"] < run["end"] <= len(new) for run in moved)
    assert all(a["end"] <= b["start"] for a, b in zip(moved, moved[1:], strict=False))
    assert moved_runs(old, old, runs) == runs
