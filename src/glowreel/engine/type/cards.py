"""Families shown in their own letters."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

import numpy as np
import skia

from glowreel.core.fonts import FONTS
from glowreel.core.words import Words
from glowreel.engine.still import encode
from glowreel.engine.type.letters import draw_letters
from glowreel.engine.type.setting import set_words

HIGH, WIDE = 56, 420
"""The size of a card, in pixels: twice that on the page."""
INK = "#23201C"


@lru_cache(maxsize=128)
def font_card(name: str) -> bytes:
    """The name of a family, written in it, as a PNG picture on nothing. Raises `KeyError` where it is not here."""
    family = FONTS[name]
    words = Words(name, name, min(family.weights, key=lambda weight: abs(weight - 600)), INK, line=1.0)
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
