"""Formats and channels: shapes of one's own, copies, order, what channels ask for, what differs sent back."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from glowreel.core import commands as c
from glowreel.core.channels import CHANNELS, USUAL_BAND, OwnChannel, band_of
from glowreel.core.checks import Finding, Sight, findings
from glowreel.core.commands import read_command
from glowreel.core.errors import Refusal
from glowreel.core.formats import LONGEST, MOST_FORMATS, SHIPPED, USES, read_shape
from glowreel.core.own_changes import own_changes
from tests.core.build import S, Table, measure, sets


def ids(table: Table) -> list[str]:
    return [format.id for format in table.promo.formats]


def found(table: Table, check: str) -> list[Finding]:
    return [one for one in findings(Sight(table.promo, measure)) if one.check == check]


@pytest.mark.parametrize(("typed", "shape"), [
    ("4:5", (4, 5)), ("1080 x 1350", (4, 5)), ("1200×628px", (300, 157)), ("1.91:1", (191, 100)), ("16 / 9", (16, 9)),
    ("2,35:1", (47, 20)),
])  # fmt: skip
def test_a_shape_is_read_as_people_type_it(typed: str, shape: tuple[int, int]) -> None:
    assert read_shape(typed) == shape


@pytest.mark.parametrize("typed", ["", "wide", "0:5", "4:", "-4:5", "4:5:6", "1e9:1"])
def test_what_is_no_shape_is_refused_with_an_example(typed: str) -> None:
    with pytest.raises(Refusal, match=r"4:5"):
        read_shape(typed)


@given(wide=st.integers(1, 99_999), high=st.integers(1, 99_999))
def test_a_shape_in_pixels_keeps_its_ratio(wide: int, high: int) -> None:
    try:
        across, down = read_shape(f"{wide}x{high}")
    except Refusal:
        return
    assert 0 < max(across, down) <= LONGEST
    if max(wide, high) <= 4 * min(wide, high):
        assert across / down == pytest.approx(wide / high, rel=0.001)


def test_every_shape_says_what_it_is_for() -> None:
    assert set(USES) == set(SHIPPED)


def test_a_format_of_ones_own_has_limits_and_a_name() -> None:
    table = Table()
    table.do(c.AddFormat(shape="1200 x 628"))
    assert (table.promo.formats[-1].name, table.promo.formats[-1].size(628)) == ("1.91:1", (1200, 628))
    table.do(c.AddFormat(shape="6:5", name="Card"))
    assert table.promo.formats[-1].name == "Card"
    with pytest.raises(Refusal, match="at most 4 times as long"):
        table.do(c.AddFormat(shape="9:2"))
    table.do(c.SetFormat(format=ids(table)[-1], shape="5:6", name="Upright"))
    assert (table.promo.formats[-1].name, table.promo.formats[-1].wide) == ("Upright", 5)
    while len(table.promo.formats) < MOST_FORMATS:
        table.do(c.CopyFormat(format="wide"))
    with pytest.raises(Refusal, match="at most 12"):
        table.do(c.AddFormat(format="cinema"))


def test_a_copy_of_a_format_has_all_that_was_changed_for_it() -> None:
    table = Table()
    table.do(c.InsertClips(media=("ridge",)))
    words = table.do(c.AddWords(text="Book your flight now", at=0, length=3 * S)).select[0]
    table.do(c.Set(items=(words,), values={"text": "Book now", "size": 0.2}, format="tall", only=True))
    table.do(c.CopyFormat(format="tall", channel="passerby"))
    assert [format.name for format in table.promo.formats] == ["Wide", "Square", "Tall", "Passerby"]
    copy = table.promo.formats[3]
    assert copy.safe == CHANNELS["passerby"].safe(9, 16)
    item = table.promo.items[0]
    assert (item.read("text", copy.id), item.read("text", "wide")) == ("Book now", "Book your flight now")
    table.do(c.CopyChanges(format="tall", to="square", items=(words,)))
    assert table.promo.items[0].read("text", "square") == "Book now"
    table.do(c.ToRule(format="tall"))
    assert table.promo.items[0].read("text", "tall") == "Book your flight now"
    assert table.promo.items[0].read("text", copy.id) == "Book now", "the other ones keep theirs"


def test_formats_stand_in_the_order_in_which_they_are_put() -> None:
    table = Table()
    table.do(c.MoveFormat(format="tall", before="wide"))
    assert ids(table) == ["tall", "wide", "square"]
    table.do(c.MoveFormat(format="tall", before="tall"))
    assert ids(table) == ["tall", "wide", "square"]
    table.do(c.MoveFormat(format="tall"))
    assert ids(table) == ["wide", "square", "tall"]


def test_channels_bring_their_shapes_and_the_areas_that_they_leave_free() -> None:
    table = Table()
    table.do(c.RemoveFormat(format="tall"))
    table.do(c.SetChannels(channels=("marquee", "passerby", "townsquare")))
    assert [(format.name, format.channel) for format in table.promo.formats] == [
        ("Wide", "marquee"), ("Square", "townsquare"), ("Tall", "passerby"),
    ]  # fmt: skip
    assert table.promo.formats[2].safe[3] == pytest.approx(0.2)
    table.do(c.SetChannels(channels=("passerby",)))
    assert [format.channel for format in table.promo.formats] == ["", "", "passerby"]
    with pytest.raises(Refusal, match="no such channel"):
        table.do(c.SetChannels(channels=("nowhere",)))


def test_the_band_is_that_which_suits_all_channels() -> None:
    assert band_of(()) == USUAL_BAND
    assert band_of(("marquee", "townsquare")) == (20, 30)
    assert band_of(("passerby",)) == (9, 20)
    assert band_of(("marquee", "passerby")) == (20, 60), "where none suits both, that of the first"


def test_a_promo_that_a_channel_does_not_take_is_told() -> None:
    table = Table()
    table.do(c.InsertClips(media=("basket",)))
    assert found(table, "channel-length") == []
    table.do(c.SetChannels(channels=("passerby",)))
    assert "Passerby takes at least 5 s" in found(table, "channel-length")[0].sentence


def test_what_lies_under_a_channels_controls_is_told_in_that_format_and_cured_there() -> None:
    table = Table()
    table.do(c.InsertClips(media=("ridge",)))
    words = table.do(c.AddWords(text="Call us", at=0, length=3 * S)).select[0]
    table.do(sets(words, pin=(0.5, 1.0), place=(0.0, -0.06), size=0.06))
    assert found(table, "safe") == [], "nothing is known of what lies over it"
    table.do(c.SetChannels(channels=("passerby",)))
    assert found(table, "safe") == [], "the rule moves them clear of it"
    table.do(sets(words, by_rule=False))
    (one,) = found(table, "safe")
    assert (one.format, "under the caption of Passerby" in one.sentence) == ("tall", True)
    before = table.promo.items[0].read("place", "wide")
    table.do(read_command(dict(one.cures[0].command)))
    assert found(table, "safe") == []
    assert table.promo.items[0].read("place", "wide") == before


def test_a_channel_of_ones_own_sets_its_shape_band_and_safe_area() -> None:
    table = Table()
    own = OwnChannel(name="Shop window", shape="portrait", best_from=8, best_to=12, insets=(0.0, 0.2, 0.05, 0.1))
    table.do(c.SetChannels(channels=("own",), own=own))
    portrait = table.promo.formats[-1]
    assert (portrait.name, portrait.channel) == ("Portrait", "own")
    assert portrait.safe == (0.05, 0.2, 0.05, 0.1), "no less than the usual margin"
    assert band_of(table.promo.channels, table.promo.known_channels) == (8, 12)
    table.do(c.SetChannels(channels=("own",), own=own.changed(insets=(0.0, 0.0, 0.0, 0.3))))
    assert table.promo.formats[-1].safe[3] == 0.3, "another description holds for the formats that are there"
    assert sum(format.channel == "own" for format in table.promo.formats) == 1


@pytest.mark.parametrize("wrong", [
    {"shortest": 20, "best_from": 10}, {"best_from": 30, "best_to": 20}, {"longest": 25}, {"shape": "round"},
    {"megabytes": 0}, {"insets": (0.6, 0, 0, 0)},
])  # fmt: skip
def test_a_channel_that_makes_no_sense_is_refused(wrong: dict[str, object]) -> None:
    with pytest.raises(ValueError, match=r"\w"):
        OwnChannel(**wrong)


def test_what_differs_is_listed_and_single_properties_are_copied() -> None:
    table = Table()
    table.do(c.InsertClips(media=("ridge",)))
    words = table.do(c.AddWords(text="Book your dawn flight now", at=0)).select[0]
    table.do(c.Set(items=(words,), values={"text": "Book now", "size": 0.2}, format="tall", only=True))
    (one,) = own_changes(table.promo, SHIPPED["tall"])
    assert {change.label: change.here for change in one.changes} == {"Words": "“Book now”", "Size": "20%"}
    assert own_changes(table.promo, SHIPPED["square"]) == []
    table.do(c.CopyChanges(format="tall", to="square", items=(words,), names=("text",)))
    assert [change.name for change in own_changes(table.promo, SHIPPED["square"])[0].changes] == ["text"]
    assert len(own_changes(table.promo, SHIPPED["tall"])[0].changes) == 2
