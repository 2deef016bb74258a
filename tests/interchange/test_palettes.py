"""Palettes as files, each way."""

from __future__ import annotations

import struct

import pytest
from hypothesis import given
from hypothesis import strategies as st

from glowreel.core.brand import Palette
from glowreel.core.errors import Refusal
from glowreel.core.roles import COLOUR_ROLES
from glowreel.interchange.palettes import PALETTE_FORMS, read, written

COLOURS = st.integers(0, 0xFFFFFF).map(lambda value: f"#{value:06X}")


@given(
    colours=st.dictionaries(st.sampled_from(sorted(COLOUR_ROLES)), COLOURS),
    others=st.lists(COLOURS, unique=True, max_size=20),
)
@pytest.mark.parametrize("key", PALETTE_FORMS)
def test_a_palette_comes_back_as_it_was(key: str, colours: dict[str, str], others: list[str]) -> None:
    palette = Palette(name="Valley", colours=colours, others=tuple(others))
    if not colours and not others:
        with pytest.raises(Refusal, match="no colours"):
            written(palette, key)
        return
    found = read(f"Valley{PALETTE_FORMS[key].suffix}", written(palette, key))
    if key == "css":  # A style sheet has each colour once.
        assert {*found.colours.values(), *found.others} == {*colours.values(), *others}
    else:
        assert (found.colours, found.others) == (colours, tuple(others))


def test_other_ways_of_saying_colours_are_read() -> None:
    letters = "Deep".encode("utf-16-be") + b"\x00\x00"
    body = struct.pack(">H", 5) + letters + b"CMYK" + struct.pack(">4f", 1.0, 0.0, 0.0, 0.5) + b"\x00\x00"
    ase = b"ASEF" + struct.pack(">HHI", 1, 0, 1) + struct.pack(">HI", 1, len(body)) + body
    assert read("x.ase", ase).others == ("#008080",)
    assert read("x.css", b":root{--main:#0fa;--gone:red} a{color:#123456}").others == ("#00FFAA", "#123456")


@pytest.mark.parametrize(
    ("name", "data"),
    [("a.ase", b"ASEF"), ("a.ase", b"none"), ("a.gpl", b"GIMP Palette\n"), ("a.css", b"a{}"), ("a.png", b"x"),
     ("a.ase", b"ASEF" + struct.pack(">HHI", 1, 0, 9) + b"\x00\x01\xff\xff\xff\xff")],
)  # fmt: skip
def test_a_damaged_or_empty_file_is_refused(name: str, data: bytes) -> None:
    with pytest.raises(Refusal):
        read(name, data)
