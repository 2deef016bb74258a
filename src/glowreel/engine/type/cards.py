"""Families shown in their own letters, and what the page is told of them."""

from __future__ import annotations

from functools import cache, lru_cache
from pathlib import Path
from typing import Any

import numpy as np
import orjson
import skia

from glowreel.core.fonts import FONTS
from glowreel.core.words import Words
from glowreel.engine.still import encode
from glowreel.engine.type.faces import face
from glowreel.engine.type.letters import draw_letters
from glowreel.engine.type.setting import set_words

HIGH, WIDE = 56, 420
"""The size of a card, in pixels: twice that on the page."""
INK = "#23201C"


@lru_cache(maxsize=128)
def font_card(name: str, family: str = "") -> bytes:
    """The name of a family, written in it, as a PNG picture on nothing. `family` is what draws knows it by, where that
    is not its name. One that is not here is written in the usual one."""
    words = Words(name, family or name, 600, INK, line=1.0)
    size = 34.0
    setting = set_words(words, size, 100_000)
    size *= min(1.0, (WIDE - 8) / setting.width, (HIGH - 4) / setting.height)
    setting = set_words(words, size, 100_000)
    pixels: Any = np.zeros((HIGH, WIDE, 4), np.uint8)
    info = skia.ImageInfo.Make(WIDE, HIGH, skia.kBGRA_8888_ColorType, skia.kPremul_AlphaType)
    canvas = skia.Surface.MakeRasterDirect(info, pixels, pixels.strides[0]).getCanvas()
    canvas.translate(4, (HIGH - setting.height) / 2)
    draw_letters(canvas, words, size, setting, setting.letters)
    return encode(pixels, ".png")


@cache
def font_paths() -> dict[str, Path]:
    """The files of all faces, by their names."""
    faces = [face(f.name, weight, italic) for f in FONTS.values() for weights, italic in
             ((f.weights, False), (f.italics, True)) for weight in weights]  # fmt: skip
    return {one.path.stem: one.path for one in faces}


@cache
def font_list() -> bytes:
    """By family: its faces, and how far its letters reach above and below the line they stand on, as JSON."""
    made = {}
    for family in FONTS.values():
        styles = [(weight, False) for weight in family.weights] + [(weight, True) for weight in family.italics]
        made[family.name] = {
            "rise": face(family.name, 400, False).rise,
            "faces": [[weight, italic, face(family.name, weight, italic).path.stem] for weight, italic in styles],
        }
    return orjson.dumps(made)
