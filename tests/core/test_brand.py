"""Brands: colours as they are typed, roles found in a logo, promos that are given one, what is not the brand's."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from glowreel.core import commands as c
from glowreel.core.brand_colours import READABLE, proposed_roles
from glowreel.core.checks import Finding, Sight, findings
from glowreel.core.colour import contrast_of, read_colour
from glowreel.core.commands import read_command
from glowreel.core.matching import HUES, hue_of
from glowreel.core.recipe.model import DrawPicture, DrawWords
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.roles import COLOUR_ROLES, Brand
from tests.core.build import MEDIA, S, Table, measure, sets

hexes = st.integers(0, 0xFFFFFF).map(lambda value: f"#{value:06X}")


@given(red=st.integers(0, 255), green=st.integers(0, 255), blue=st.integers(0, 255))
def test_a_colour_is_read_however_it_is_typed(red: int, green: int, blue: int) -> None:
    wanted = f"#{red:02X}{green:02X}{blue:02X}"
    for typed in (wanted, wanted[1:].lower(), f"{red}, {green}, {blue}", f"rgb({red} {green} {blue})"):
        assert read_colour(typed) == wanted


@pytest.mark.parametrize("typed", ["", "#12345", "256, 0, 0", "blue", "1, 2"])
def test_what_is_no_colour_is_refused_with_an_example(typed: str) -> None:
    with pytest.raises(ValueError, match="such as #F6B73C"):
        read_colour(typed)


def test_a_short_colour_is_written_out() -> None:
    assert read_colour("fc0") == "#FFCC00"


@given(palette=st.lists(st.tuples(hexes, st.floats(0.01, 1)), min_size=1, max_size=8))
def test_roles_found_in_a_logo_can_be_read_on_their_ground(palette: list[tuple[str, float]]) -> None:
    found = {one.role: one for one in proposed_roles(palette)}
    assert set(found) == set(COLOUR_ROLES)
    assert contrast_of(found["ink"].colour, found["ground"].colour) >= READABLE
    assert contrast_of(found["dark"].colour, found["paper"].colour) >= READABLE
    assert all(one.reason for one in found.values())


def test_the_most_vivid_colour_of_a_logo_is_the_accent() -> None:
    found = {one.role: one.colour for one in proposed_roles([("#EFEFEF", 0.6), ("#203040", 0.3), ("#FF5A00", 0.1)])}
    assert found["accent"] == "#FF5A00"
    assert found["ground"] == "#203040"
    assert proposed_roles([]) == []


SALT = Brand(
    name="Saltwick", origin="b-2", version=3, colours={"accent": "#2F6F87", "ground": "#102030"},
    fonts={"heading": "Fraunces"}, logos={"logo": "sign"}, palette=("#FFAA00",), never=("cheap", "best ever"),
)  # fmt: skip


def test_another_brand_fills_every_role_and_shows_its_own_logo() -> None:
    table = Table()
    table.do(c.SwitchBrand(brand=Brand(name="Hollowmere", origin="b-1", version=1, logos={"logo": "still"})))
    table.do(c.InsertClips(media=("ridge",)))
    logo = table.do(c.AddPicture(media="still", whole=True)).select[0]
    words = table.do(c.AddWords(text="Up", at=0, length=3 * S)).select[0]
    table.do(sets(words, colour="accent", font="heading", arrives="none"))
    done = table.do(c.SwitchBrand(brand=SALT))
    assert done.sentence == "Gave it the brand Saltwick"
    ops = frame_recipe(table.promo, table.promo.formats[0], S, measure).ops
    said = next(op for op in ops if isinstance(op, DrawWords)).words
    assert (said.colour, said.font) == ("#2F6F87", "Fraunces")
    shown = [op.source for op in ops if isinstance(op, DrawPicture)]
    assert MEDIA["sign"].hash in shown
    assert MEDIA["still"].hash not in shown
    assert next(item for item in table.promo.items if item.id == logo).media == "sign"
    newer = SALT.changed(version=4, colours={"accent": "#111111"})
    assert table.do(c.SwitchBrand(brand=newer)).sentence == "Brought Saltwick up to date"


def found(table: Table, check: str) -> list[Finding]:
    return [one for one in findings(Sight(table.promo, measure)) if one.check == check]


def test_what_is_not_the_brands_is_told_and_cured() -> None:
    table = Table()
    table.do(c.InsertClips(media=("ridge", "field")))
    key = table.do(c.AddWords(text="The best ever, and cheap too", at=S, length=6 * S)).select[0]
    table.do(sets(key, colour="#12FE34", font="Comfortaa"))
    assert not [one for check in ("never", "brand-colour", "brand-font") for one in found(table, check)]
    table.do(c.SwitchBrand(brand=SALT))
    for check in ("never", "brand-colour", "brand-font"):
        (one,) = found(table, check)
        assert "Saltwick" in one.sentence
        table.do(read_command(dict(one.cures[0].command)))
        assert found(table, check) == []
    words = table.promo.items[0]
    assert words.read("text") == "The , and too"
    assert words.read("font") in ("heading", "body")
    table.do(sets(key, colour="#FFAA00"))
    assert found(table, "brand-colour") == [], "it is in the palette"


@pytest.mark.parametrize(("colour", "hue"), [
    ("#E0302A", "red"), ("#FF6B35", "orange"), ("#F08A24", "orange"), ("#F6D23C", "yellow"), ("#2E9E4F", "green"),
    ("#2F6F87", "blue"),
    ("#2440C8", "blue"), ("#7A3FC0", "violet"), ("#E85FA8", "pink"), ("#808080", ""), ("#FFFFFF", ""), ("#000000", ""),
])  # fmt: skip
def test_hues_are_called_what_people_call_them(colour: str, hue: str) -> None:
    assert hue_of(colour) == hue


@given(colour=hexes)
def test_every_colour_has_a_hue_that_is_known_or_none(colour: str) -> None:
    assert hue_of(colour) in {"", *(name for name, _ in HUES)}
