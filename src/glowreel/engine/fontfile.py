"""Files of letters that a brand brings along: looked at, checked, and made into the plain form that all else reads.

TrueType and OpenType, bare or packed for the web (WOFF, WOFF2), one face in a file. A variable one is taken as it is
drawn by default.
"""

from __future__ import annotations

import io
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
import skia
from fontTools.ttLib import TTFont
from fontTools.varLib import instancer

from glowreel.core.errors import BadMedia

MAX_BYTES = 10 * 1024**2
SIGNS = (b"\0\1\0\0", b"OTTO", b"true", b"wOFF", b"wOF2", b"ttcf")
DROPPED = ("SVG ", "DSIG", "FFTM")
"""Tables that nothing here reads."""
NEEDED = ("cmap", "head", "hhea", "hmtx", "maxp", "name")
CARD = (360, 240)
"""The size of the picture of a file on the Shelf, in pixels."""
PAPER, INK = 0xFFFFFCF6, 0xFF23201C


@dataclass(frozen=True)
class FontFile:
    """One face: its family, how heavy it is, whether it leans, and its bytes as plain TrueType or OpenType."""

    family: str
    weight: int
    italic: bool
    data: bytes


def is_font(path: Path) -> bool:
    """Whether a file begins as one of letters does."""
    with path.open("rb") as file:
        return file.read(4) in SIGNS


def read_font(path: Path, name: str) -> FontFile:
    """What a file of letters holds. Raises `BadMedia` for one that is too large, a collection, or damaged."""
    if path.stat().st_size > MAX_BYTES:
        raise BadMedia("too-large", f"{name} is larger than 10 MB, more than a font may be.", "Bring in a smaller one.")
    with path.open("rb") as file:
        if file.read(4) == b"ttcf":
            raise BadMedia("collection", f"{name} is a collection of fonts.", "Save the one that you need by itself.")
    try:
        return _read(path)
    except Exception as error:
        # Over a file that is made for it, the reader of its tables raises anything at all.
        raise BadMedia("broken", f"{name} is damaged, or no font that can be used.", "Save it again.") from error


def _read(path: Path) -> FontFile:
    font = TTFont(path, lazy=False, recalcTimestamp=False)
    missing = [table for table in NEEDED if table not in font]
    if missing or not ("glyf" in font or "CFF " in font or "CFF2" in font):
        raise ValueError(f"there is no table {missing or 'of outlines'}")
    if not font.getBestCmap():
        raise ValueError("no letter has an outline")
    if "fvar" in font:
        font = instancer.instantiateVariableFont(font, {axis.axisTag: axis.defaultValue for axis in font["fvar"].axes})
    font.flavor = None
    for table in [table for table in DROPPED if table in font]:
        del font[table]
    # Every table is read and written anew: what cannot be is not handed on.
    for table in list(font.keys()):
        font[table]
    out = io.BytesIO()
    font.save(out)
    return FontFile(_family(font), _weight(font), _leans(font), _drawable(out.getvalue()))


def _drawable(data: bytes) -> bytes:
    if skia.Typeface.MakeFromData(skia.Data.MakeWithCopy(data)) is None:
        raise ValueError("it cannot be drawn with")
    return data


def _family(font: Any) -> str:
    names = font["name"]
    said = names.getBestFamilyName() or names.getDebugName(4) or "Own font"
    return " ".join("".join(ch for ch in str(said) if ch.isprintable() and ch not in ",=:").split())[:80] or "Own font"


def _weight(font: Any) -> int:
    heavy = int(font["OS/2"].usWeightClass) if "OS/2" in font else (700 if font["head"].macStyle & 1 else 400)
    # Old files count from 1 to 9.
    return min(1000, max(1, heavy * 100 if heavy < 10 else heavy))


def _leans(font: Any) -> bool:
    return bool(font["head"].macStyle & 2) or bool("OS/2" in font and font["OS/2"].fsSelection & 1)


def letters_of(path: Path) -> Any:
    """A picture of some letters of a file, BGRA."""
    wide, high = CARD
    pixels: Any = np.zeros((high, wide, 4), np.uint8)
    info = skia.ImageInfo.Make(wide, high, skia.kBGRA_8888_ColorType, skia.kPremul_AlphaType)
    canvas = skia.Surface.MakeRasterDirect(info, pixels, pixels.strides[0]).getCanvas()
    canvas.clear(PAPER)
    face = skia.Typeface.MakeFromFile(str(path))
    text = next(
        (text for text in ("Aa", "AA", "aa", "12") if 0 not in face.unicharsToGlyphs([ord(ch) for ch in text])), ""
    )
    font = skia.Font(face, 120)
    across = font.measureText(text)
    canvas.drawString(text, (wide - across) / 2, high * 0.66, font, skia.Paint(Color=INK, AntiAlias=True))
    return pixels
