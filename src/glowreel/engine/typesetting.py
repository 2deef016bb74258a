"""Setting words: the shipped fonts, shaping and measuring. Everything in canonical units (short side 1080)."""

from __future__ import annotations

import functools
import math
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import skia
from skia import textlayout

from glowreel.core.recipe.model import DrawWords
from glowreel.core.words import FONTS, Words
from glowreel.engine.drawing import part

FOLDER = Path(__file__).parent / "fonts"
FALLBACK = (
    Path("/usr/share/fonts/truetype/noto/NotoColorEmoji.ttf"),
    Path("/usr/share/fonts/truetype/dejavu/DejaVuSans.ttf"),
)
PAD = 0.36
"""Room between words and the edge of their box, in letter sizes."""

_ALIGN = {
    "left": textlayout.TextAlign.kLeft,
    "centre": textlayout.TextAlign.kCenter,
    "right": textlayout.TextAlign.kRight,
}


def colour(value: str, opacity: float = 1.0) -> int:
    """`#RRGGBB` and an opacity to Skia's ARGB."""
    return (round(opacity * 255) << 24) | int(value[1:], 16)


@functools.cache
def _collection() -> tuple[Any, Any, list[Any]]:
    """The font collection, the Unicode tables and the fallback families. Loaded once for each process."""
    provider = textlayout.TypefaceFontProvider()
    for family in FONTS:
        for path in sorted(FOLDER.glob(family.replace(" ", "") + "_*.ttf")):
            provider.registerTypeface(skia.Typeface.MakeFromFile(str(path)), skia.String(family))
    fallback = []
    for path in FALLBACK:
        if path.exists():
            provider.registerTypeface(skia.Typeface.MakeFromFile(str(path)), skia.String(path.stem))
            fallback.append(skia.String(path.stem))
    fonts = textlayout.FontCollection()
    fonts.setDefaultFontManager(provider)
    return fonts, skia.Unicodes.ICU.Make(), fallback


@functools.lru_cache(maxsize=256)
@part()
def _paragraph(words: Words, size: float, wrap: float, tight: bool) -> Any:
    fonts, unicode_tables, fallback = _collection()
    paragraph_style = textlayout.ParagraphStyle()
    paragraph_style.setTextAlign(_ALIGN[words.align])
    style = textlayout.TextStyle()
    style.setFontFamilies([skia.String(words.font), *fallback])
    style.setFontStyle(skia.FontStyle(words.weight, skia.FontStyle.kNormal_Width, skia.FontStyle.kUpright_Slant))
    style.setFontSize(size)
    style.setColor(colour(words.colour))
    style.setHeight(words.line)
    style.setHeightOverride(True)
    builder = textlayout.ParagraphBuilder.make(paragraph_style, fonts, unicode_tables)
    builder.pushStyle(style)
    builder.addText(words.text or " ")
    paragraph = builder.Build()
    inner = max(1.0, wrap - 2 * _pad(words, size))
    paragraph.layout(inner)
    if tight:
        # Laid out again no wider than its longest line, so that alignment is within what is seen.
        paragraph.layout(min(inner, paragraph.LongestLine + 1.0))
    return paragraph


def _pad(words: Words, size: float) -> float:
    return PAD * size if words.box else 0.0


@functools.lru_cache(maxsize=16_384)
@part()
def measure(words: Words, size: float, wrap: float) -> tuple[float, float]:
    """Width and height that words take, with their box; canonical units. Implements the core's `Measure`."""
    paragraph = _paragraph(words, size, wrap, True)
    pad = _pad(words, size)
    return paragraph.LongestLine + 1.0 + 2 * pad, paragraph.Height + 2 * pad * 0.7


@part()
def draw_words(canvas: Any, op: DrawWords) -> None:
    """Draws words with the canvas in canonical units: their box, their shadow, the letters."""
    box = op.box
    canvas.save()
    if op.turn:
        canvas.rotate(op.turn, box.x + box.width / 2, box.y + box.height / 2)
    if op.opacity < 1:
        canvas.saveLayerAlpha(_bounds(op).makeOutset(op.size, op.size), round(op.opacity * 255))
    if op.words.box:
        paint = skia.Paint(AntiAlias=True, Color=colour(op.words.box, op.words.box_opacity))
        radius = op.size * 0.22
        canvas.drawRoundRect(_bounds(op), radius, radius, paint)
    if op.words.shadow > 0:
        _draw_shadow(canvas, op)
    _draw_letters(canvas, op)
    if op.opacity < 1:
        canvas.restore()
    canvas.restore()


def _bounds(op: DrawWords) -> Any:
    return skia.Rect.MakeXYWH(op.box.x, op.box.y, op.box.width, op.box.height)


@part()
def _draw_letters(canvas: Any, op: DrawWords) -> None:
    pad = _pad(op.words, op.size)
    _paragraph(op.words, op.size, op.wrap, True).paint(canvas, op.box.x + pad, op.box.y + pad * 0.7)


SHADOW_DEVIATION = 0.09
"""Softness of a shadow, as the deviation of its Gaussian in letter sizes."""
SHADOW_DROP = 0.03
SHADOW_GRAIN = 6.0
"""A shadow is drawn so small that its softness still has this deviation, in pixels."""


@part()
def _draw_shadow(canvas: Any, op: DrawWords) -> None:
    """The letters' own outline, softened and a little lower.

    Softened by OpenCV and not by a filter of the canvas, which keeps every other thread of the process waiting for as
    long as it takes: ten times as long as the letters.
    """
    scale = SHADOW_GRAIN / (SHADOW_DEVIATION * op.size)
    room = op.size
    width = math.ceil((op.box.width + 2 * room) * scale)
    height = math.ceil((op.box.height + 2 * room) * scale)
    pixels = np.zeros((height, width, 4), np.uint8)
    info = skia.ImageInfo.Make(width, height, skia.kBGRA_8888_ColorType, skia.kPremul_AlphaType)
    letters = skia.Surface.MakeRasterDirect(info, pixels, pixels.strides[0]).getCanvas()
    letters.scale(scale, scale)
    letters.translate(room - op.box.x, room - op.box.y)
    _draw_letters(letters, op)
    soft: Any = cv2.GaussianBlur(pixels[:, :, 3], (0, 0), SHADOW_GRAIN)
    pixels[:, :, :3] = 0
    pixels[:, :, 3] = soft
    image = skia.Image.MakeFromRaster(skia.Pixmap(info, pixels, pixels.strides[0]))
    left, top = op.box.x - room, op.box.y - room + SHADOW_DROP * op.size
    target = skia.Rect.MakeXYWH(left, top, width / scale, height / scale)
    linear = skia.SamplingOptions(skia.FilterMode.kLinear)
    canvas.drawImageRect(image, target, linear, skia.Paint(Alphaf=op.words.shadow))
