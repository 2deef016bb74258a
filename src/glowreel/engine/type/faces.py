"""Faces: the files of letters, which of them has a letter, and what stands in where the family has not."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cache, cached_property, lru_cache
from pathlib import Path
from typing import Any

import skia
import uharfbuzz as harfbuzz

from glowreel.core.brand import OWN
from glowreel.core.fonts import FONTS, USUAL

FOLDER = Path(__file__).parent.parent / "fonts"
NOTO = Path("/usr/share/fonts")
EMOJI = NOTO / "truetype/noto/NotoColorEmoji.ttf"
LAST = NOTO / "truetype/dejavu/DejaVuSans.ttf"
CJK = {400: NOTO / "opentype/noto/NotoSansCJK-Regular.ttc", 700: NOTO / "opentype/noto/NotoSansCJK-Bold.ttc"}
SCRIPTS = (
    "NotoSans", "NotoSansArabic", "NotoSansHebrew", "NotoSansDevanagari", "NotoSansBengali", "NotoSansTamil",
    "NotoSansTelugu", "NotoSansThai", "NotoSansGeorgian", "NotoSansArmenian", "NotoSansEthiopic", "NotoSansSymbols",
)  # fmt: skip
"""Families for the scripts that the shipped ones do not have, in the order in which they are asked."""
JOINERS = frozenset({0x200C, 0x200D, 0xFE0E, 0xFE0F, 0x200E, 0x200F, *range(0x2066, 0x206A), *range(0x202A, 0x202F)})
"""What is no letter of its own, and needs none."""
WHITE = frozenset("\n\t \u00a0\u2009\u202f\u3000")


@dataclass(frozen=True)
class Face:
    """One file of letters. `number` is which of those in a collection."""

    path: Path
    number: int = 0

    @cached_property
    def typeface(self) -> Any:
        return skia.Typeface.MakeFromFile(str(self.path), self.number)

    @cached_property
    def shaper(self) -> Any:
        """HarfBuzz' font, in units of the face."""
        return harfbuzz.Font(harfbuzz.Face(harfbuzz.Blob.from_file_path(str(self.path)), self.number))

    @cached_property
    def units(self) -> int:
        return int(self.shaper.face.upem)

    @cached_property
    def above(self) -> float:
        """How far letters reach above the line they stand on, and below it, of which this is the share above."""
        extents = self.shaper.get_font_extents("ltr")
        high, low = extents.ascender, -extents.descender
        return float(high / max(1, high + low))

    @cached_property
    def rise(self) -> tuple[float, float]:
        """How far letters reach above and below the line they stand on, in letter sizes."""
        extents = self.shaper.get_font_extents("ltr")
        return extents.ascender / self.units, -extents.descender / self.units

    def has(self, letter: str) -> bool:
        """Whether there is a picture for every part of a letter."""
        return all(ord(part) in JOINERS or self.shaper.get_nominal_glyph(ord(part)) is not None for part in letter)


@cache
def _face(path: Path, number: int = 0) -> Face | None:
    """A face, where its file is there."""
    return Face(path, number) if path.exists() else None


@cache
def _file(stem: str, weight: int, italic: bool) -> Path | None:
    end = "_Italic" if italic else ""
    return next((p for p in FOLDER.glob(f"{stem}_{weight}*.ttf") if p.stem.endswith("_Italic") == italic), None) or (
        FOLDER / f"{stem}_{weight}{end}.ttf"
    )


Find = Callable[[str], Path | None]
_finders: list[Find] = [lambda hash: None]


def find_own(find: Find) -> None:
    """Says where files of letters that are a brand's own lie, by their hash; None where one is missing."""
    _finders[0] = find


def _own(family: str, weight: int, italic: bool) -> Face | None:
    """The face of a brand's own family that comes nearest to a weight, where its file is there."""
    faces = []
    for told in family.removeprefix(OWN).split(","):
        heavy, _, hash = told.partition("=")
        faces.append((heavy.endswith("i") == italic, -abs(int(heavy.rstrip("i")) - weight), hash))
    for *_, hash in sorted(faces, reverse=True):
        path = _finders[0](hash)
        if path is not None and (found := _face(path)) is not None:
            return found
    return None


def face(family: str, weight: int, italic: bool) -> Face:
    """The face of a family that comes nearest to a weight. A family that is not here is the usual one; where it has no
    italics, upright letters stand."""
    if family.startswith(OWN) and (own := _own(family, weight, italic)) is not None:
        return own
    return _shipped(family, weight, italic)


@lru_cache(maxsize=512)
def _shipped(family: str, weight: int, italic: bool) -> Face:
    known = FONTS.get(family) or FONTS[USUAL]
    italics = italic and bool(known.italics)
    weights = known.italics if italics else known.weights
    nearest = min(weights, key=lambda one: (abs(one - weight), -one))
    found = _face(_file(known.name.replace(" ", ""), nearest, italics) or FOLDER)
    assert found is not None
    return found


@cache
def _stand_ins(bold: bool) -> tuple[Face, ...]:
    """What is asked, in this order, where a family has not a letter."""
    paths: list[Path | None] = []
    for stem in SCRIPTS:
        file = _file(stem, 700 if bold else 400, False)
        paths.append(file if file is not None and file.exists() else _file(stem, 400, False))
    faces = [_face(path) for path in paths if path is not None]
    faces += [_face(CJK[700 if bold else 400]), _face(LAST), _face(EMOJI)]
    return tuple(one for one in faces if one is not None)


def is_emoji(letter: str) -> bool:
    """Whether a letter is a picture in colour."""
    return "\ufe0f" in letter or (ord(letter[0]) >= 0x1F000 and "\ufe0e" not in letter)


@lru_cache(maxsize=8192)
def face_for(letter: str, family: str, weight: int, italic: bool) -> tuple[Face, bool]:
    """The face in which a letter is set, and whether there is one that has it."""
    own = face(family, weight, italic)
    emoji = _face(EMOJI)
    if is_emoji(letter) and emoji is not None and emoji.has(letter):
        return emoji, True
    if letter[0] in WHITE or own.has(letter):
        return own, True
    for other in _stand_ins(weight >= 600):
        if other.has(letter):
            return other, True
    return own, False
