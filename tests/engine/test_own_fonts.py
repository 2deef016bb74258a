"""Fonts that a brand brings along: read in every form, refused where they cannot be used, and drawn with."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from fontTools.fontBuilder import FontBuilder
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib import TTCollection, TTFont

from glowreel.core.brand import OWN, Brand, Face
from glowreel.core.errors import BadMedia
from glowreel.core.words import Words
from glowreel.engine.fontfile import is_font, letters_of, read_font
from glowreel.engine.intake import media_of, take_in
from glowreel.engine.type import faces
from glowreel.engine.type.faces import FOLDER, find_own
from glowreel.engine.typesetting import measure

LOBSTER = FOLDER / "Lobster_400Regular.ttf"


def made(folder: Path, name: str, flavor: str | None = None, **values: Any) -> Path:
    """A font of another name, made of a shipped one."""
    font = TTFont(LOBSTER)
    for record in list(font["name"].names):
        if record.nameID in (1, 16):
            font["name"].setName("Salt, Script", record.nameID, record.platformID, record.platEncID, record.langID)
    for key, value in values.items():
        setattr(font["OS/2"], key, value)
    font.flavor = flavor
    font.save(folder / name)
    return folder / name


@pytest.mark.parametrize("flavor", [None, "woff", "woff2"])
def test_a_font_is_read_in_every_form_and_made_plain(tmp_path: Path, flavor: str | None) -> None:
    path = made(tmp_path, "salt.font", flavor, usWeightClass=700)
    assert is_font(path)
    read = read_font(path, "salt.font")
    assert (read.family, read.weight, read.italic) == ("Salt Script", 700, False)
    plain = TTFont(io.BytesIO(read.data))
    assert plain.flavor is None
    assert plain["glyf"]["A"] == TTFont(LOBSTER)["glyf"]["A"]


def test_a_variable_font_is_taken_as_it_is_drawn_by_default(tmp_path: Path) -> None:
    def square(size: int) -> Any:
        pen = TTGlyphPen(None)
        pen.moveTo((0, 0))
        for point in ((0, size), (size, size), (size, 0)):
            pen.lineTo(point)
        pen.closePath()
        return pen.glyph()

    builder = FontBuilder(1000, isTTF=True)
    builder.setupGlyphOrder([".notdef", "A"])
    builder.setupCharacterMap({65: "A"})
    builder.setupGlyf({".notdef": square(100), "A": square(500)})
    builder.setupHorizontalMetrics({".notdef": (600, 0), "A": (600, 0)})
    builder.setupHorizontalHeader(ascent=800, descent=-200)
    builder.setupNameTable({"familyName": "Grow", "styleName": "Regular"})
    builder.setupOS2(usWeightClass=400)
    builder.setupPost()
    builder.setupFvar([("wght", 100, 400, 900, "Weight")], [])
    builder.setupGvar({"A": []})
    builder.font.save(tmp_path / "grow.ttf")
    read = read_font(tmp_path / "grow.ttf", "grow.ttf")
    assert (read.family, read.weight) == ("Grow", 400)
    assert "fvar" not in TTFont(io.BytesIO(read.data))


def broken(path: Path, kind: str) -> None:
    data = bytearray(LOBSTER.read_bytes())
    if kind == "short":
        path.write_bytes(data[: len(data) // 2])
    elif kind == "collection":
        collection = TTCollection()
        collection.fonts = [TTFont(LOBSTER), TTFont(LOBSTER)]
        collection.save(path)
    elif kind == "large":
        path.write_bytes(data + bytes(11 * 1024**2))
    else:
        path.write_bytes(b"wOF2" + bytes(range(256)) * 8)


@pytest.mark.parametrize(("kind", "sentence"), [
    ("short", "damaged"), ("collection", "is a collection"), ("large", "larger than 10 MB"), ("noise", "damaged"),
])  # fmt: skip
def test_what_cannot_be_used_is_refused_in_a_sentence(tmp_path: Path, kind: str, sentence: str) -> None:
    path = tmp_path / "bad.ttf"
    broken(path, kind)
    with pytest.raises(BadMedia, match=f"bad.ttf .*{sentence}"):
        take_in(path, "bad.ttf", tmp_path, lambda share: None, lambda seconds: None)


def test_words_of_a_brand_are_set_in_its_own_font(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = made(tmp_path, "salt.woff2", "woff2")
    intake = take_in(path, "salt.woff2", tmp_path, lambda share: None, lambda seconds: None)
    media = media_of(intake.facts, "m-1", "salt.woff2", "a" * 64, ".woff2")
    assert (media.kind, media.family, media.pictured) == ("font", "Salt Script", False)
    assert (letters_of(tmp_path / "picture") != letters_of(tmp_path / "picture")[0, 0]).any(), "its card shows letters"
    face = Face(media=media.id, hash=media.hash, family=media.family, weight=media.weight)
    family = Brand(faces=(face,), fonts={"heading": "Salt Script"}).font("heading")
    assert family.startswith(OWN)
    monkeypatch.setattr(faces, "_finders", [lambda source: None])
    find_own(lambda source: tmp_path / "picture" if source == "a" * 64 else None)
    own, same, usual = (measure(Words("Fly at dawn", name, 400, "#FFFFFF"), 100, 5000)
                        for name in (family, "Lobster", "nothing that is here"))  # fmt: skip
    assert np.allclose(own, same), "it is the same font under another name"
    assert not np.allclose(own, usual)
    missing = measure(Words("Fly at dawn", f"{OWN}400={'b' * 64}", 400, "#FFFFFF"), 100, 5000)
    assert np.allclose(missing, usual), "where its file is gone, the usual one stands in"
