"""Brands: colours as they are typed, roles found in a logo, promos that are given one, what is not the brand's."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from glowreel.core import commands as c
from glowreel.core.brand import OWN, Brand, Face, LogoRules, Manner, Palette, Watermark, upgraded
from glowreel.core.brand_colours import READABLE, proposed_roles
from glowreel.core.checks import Finding, Sight, findings
from glowreel.core.colour import contrast_of, read_colour
from glowreel.core.commands import read_command
from glowreel.core.document import Item
from glowreel.core.errors import Refusal
from glowreel.core.matching import HUES, hue_of
from glowreel.core.recipe.model import DrawPicture, DrawWords
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.roles import COLOUR_ROLES
from glowreel.core.timeline import timeline
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
    name="Saltwick", origin="b-2", version=3, fonts={"heading": "Fraunces"}, logos={"logo": "sign"},
    palettes=(
        Palette(name="Day", colours={"accent": "#2F6F87", "ground": "#102030"}, others=("#FFAA00",)),
        Palette(name="Night", colours={"accent": "#88CCEE"}),
    ),
    never=("cheap", "best ever"),
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
    newer = SALT.changed(version=4, palettes=(Palette(colours={"accent": "#111111"}),))
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


def item(table: Table, key: str) -> Item:
    return timeline(table.promo).find_item(key)


def branded(brand: Brand = SALT) -> Table:
    """A promo of eight seconds in a brand."""
    table = Table()
    table.do(c.InsertClips(media=("ridge", "field")))
    table.do(c.SwitchBrand(brand=brand))
    return table


def test_another_palette_of_the_brand_fills_the_roles_and_lasts_through_new_states() -> None:
    table = branded()
    table.do(c.WearPalette(palette="Night"))
    brand = table.promo.brand
    assert brand.colour("accent") == "#88CCEE"
    assert brand.colour("ground") == "#102030", "what a palette leaves out is as in the first"
    assert brand.others[:1] == ("#FFAA00",), "the colours of the other palette are still the brand's"
    table.do(c.SwitchBrand(brand=SALT.changed(version=4)))
    assert table.promo.brand.wears == "Night"
    with pytest.raises(Refusal, match="no palette"):
        table.do(c.WearPalette(palette="Dusk"))


def test_two_palettes_have_two_names() -> None:
    with pytest.raises(ValueError, match="same name"):
        Brand(palettes=(Palette(name="Day"), Palette(name="Day")))


def test_a_brand_of_one_palette_is_read_as_one_of_several() -> None:
    old = {"name": "Saltwick", "colours": {"accent": "#2F6F87"}, "palette": ["#FFAA00"], "fonts": {}}
    brand = Brand.model_validate(upgraded(old))
    assert (brand.colour("accent"), brand.palette.others) == ("#2F6F87", ("#FFAA00",))
    assert "palette" in old, "the input is untouched"
    assert upgraded(brand.model_dump()) == brand.model_dump()


def test_a_family_of_the_brands_own_files_is_drawn_with_them() -> None:
    faces = tuple(
        Face(media="still", hash=MEDIA["still"].hash, family="Salt Sans", weight=weight, italic=italic)
        for weight, italic in ((400, False), (700, True))
    )
    brand = SALT.changed(faces=faces, fonts={"heading": "Salt Sans"})
    known = MEDIA["still"].hash
    assert brand.font("heading") == brand.font("Salt Sans") == f"{OWN}400={known},700i={known}"
    assert (brand.family("heading"), brand.families) == ("Salt Sans", ("Salt Sans",))
    table = branded(brand)
    assert "still" in table.promo.media, "a promo knows the files of its brand, so that it is complete anywhere"
    words = table.do(c.AddWords(text="Up", at=0, length=3 * S)).select[0]
    assert found(table, "brand-font") == []
    table.do(sets(words, font="Arvo"))
    assert len(found(table, "brand-font")) == 1


def test_new_words_are_headings_of_the_brand_and_follow_them() -> None:
    heading = {"font": "heading", "weight": 600, "size": 0.1, "colour": "accent"}
    brand = SALT.changed(styles={"heading": heading}, manner=Manner(arrives="pop", leaves="drop"))
    table = branded(brand)
    first, second = (table.do(c.AddWords(text=text, at=0, length=3 * S)).select[0] for text in ("Up", "Away"))
    words = item(table, first)
    assert [words.read(name) for name in ("style", "size", "colour", "arrives", "leaves")] == [
        "heading", 0.1, "accent", "pop", "drop",
    ]  # fmt: skip
    table.do(sets(second, size=0.2))
    table.do(
        c.SwitchBrand(brand=brand.changed(version=4, styles={"heading": {**heading, "size": 0.16, "weight": 700}}))
    )
    assert (item(table, first).read("size"), item(table, first).read("weight")) == (0.16, 700)
    assert (item(table, second).read("size"), item(table, second).read("weight")) == (0.2, 700), (
        "what was set by hand stays"
    )


def test_a_logo_lands_in_the_brands_corner_and_lasts() -> None:
    table = branded(SALT.changed(watermark=Watermark(corner="bottom-left", size=0.2, opacity=0.5)))
    done = table.do(c.AddPicture(media="sign", at=4 * S))
    logo = item(table, done.select[0])
    assert logo.anchor.to == "whole"
    assert "whole promo" in done.notice
    assert (logo.read("pin"), logo.read("opacity")) == ((0.0, 1.0), 0.5)
    op = next(op for op in frame_recipe(table.promo, table.promo.formats[0], S, measure).ops
              if isinstance(op, DrawPicture) and op.source == MEDIA["sign"].hash)  # fmt: skip
    assert op.box.height == pytest.approx(0.2 * 1080, rel=0.01)
    other = item(table, table.do(c.AddPicture(media="still", at=4 * S)).select[0])
    assert other.anchor.to == "clip", "what is no logo of the brand goes to where it is put"


def test_a_logo_that_is_too_small_or_crowded_is_told_and_cured() -> None:
    table = branded(SALT.changed(rules=LogoRules(smallest=0.15, clear=0.5), watermark=Watermark(size=0.1)))
    logo = table.do(c.AddPicture(media="sign", at=0)).select[0]
    small = found(table, "logo-size")
    assert {one.format for one in small} == {format.id for format in table.promo.formats}
    assert found(table, "logo-room") == []
    for one in small:
        table.do(read_command(dict(one.cures[0].command)))
    assert found(table, "logo-size") == []
    words = table.do(c.AddWords(text="Up and away", at=S, length=3 * S)).select[0]
    table.do(sets(words, pin=(1.0, 0.0), place=(-0.06, 0.24), size=0.06))
    near = found(table, "logo-room")
    assert near
    assert all(one.part == logo and one.at == S for one in near)
    for one in near:
        table.do(read_command(dict(one.cures[0].command)))
    assert found(table, "logo-room") == []
