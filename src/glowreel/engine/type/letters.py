"""Drawing letters that stand in their places: what lies behind them, their shadows, outlines and fills."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

import cv2
import numpy as np
import skia

from glowreel.core.words import Shade, Words
from glowreel.engine.drawing import part
from glowreel.engine.type.faces import EMOJI
from glowreel.engine.type.setting import Set, Setting, units_of

SHADOW_GRAIN = 6.0
"""A shadow is drawn so small that its softness still has this deviation, in pixels."""
SOFT = Shade(0.0, 0.03, 0.09, "#000000", 1.0)
"""The plain soft shadow: a little lower than the letters."""
LEAST_SOFT = 0.004


def colour(value: str, opacity: float = 1.0) -> int:
    """`#RRGGBB` and an opacity to Skia's ARGB."""
    return (round(opacity * 255) << 24) | int(value[1:], 16)


def _font(one: Set) -> Any:
    font = skia.Font(one.letter.face.typeface, one.letter.size)
    font.setSubpixel(True)
    font.setLinearMetrics(True)
    font.setHinting(skia.FontHinting.kNone)
    font.setBaselineSnap(False)
    return font


def _blobs(letters: Sequence[Set]) -> list[tuple[Any, Set]]:
    """Letters that stand upright, as few things to draw as there are faces, sizes and manners."""
    found: dict[tuple[object, ...], tuple[list[int], list[Any], Set]] = {}
    for one in letters:
        key = (one.letter.face, one.letter.size, one.letter.run)
        numbers, places, _ = found.setdefault(key, ([], [], one))
        for glyph in one.letter.glyphs:
            numbers.append(glyph.number)
            places.append(skia.Point(one.x - one.before + glyph.x, one.y + glyph.y))
    made = []
    for numbers, places, one in found.values():
        if numbers:
            builder = skia.TextBlobBuilder()
            builder.allocRunPos(_font(one), numbers, places)
            made.append((builder.make(), one))
    return made


@part()
def draw_glyphs(canvas: Any, letters: Sequence[Set], paint_of: Any, *, colours: bool = True) -> None:
    """Letters in their places, each with the paint that it is given for; without `colours`, none of those that are
    pictures in colour."""
    upright = [one for one in letters if not one.turn]
    for blob, one in _blobs(upright):
        if colours or one.letter.face.path != EMOJI:
            canvas.drawTextBlob(blob, 0, 0, paint_of(one))
    for one in letters:
        if one.turn and one.letter.glyphs and (colours or one.letter.face.path != EMOJI):
            canvas.save()
            canvas.rotate(one.turn, one.middle, one.y)
            for blob, _ in _blobs([one]):
                canvas.drawTextBlob(blob, 0, 0, paint_of(one))
            canvas.restore()


@part()
def fill_of(words: Words, setting: Setting) -> Any:
    """Gives the paint of each letter's inside: a colour, or a gradient over all of the words."""
    whole = skia.Paint(AntiAlias=True, Color=colour(words.colour))
    if words.second:
        across, down = math.cos(math.radians(words.angle)), math.sin(math.radians(words.angle))
        x, y = setting.width / 2, setting.height / 2
        far = abs(across) * x + abs(down) * y
        ends = [skia.Point(x + way * across * far, y + way * down * far) for way in (-1, 1)]
        whole.setShader(skia.GradientShader.MakeLinear(ends, [colour(words.colour), colour(words.second)]))
        whole.setDither(True)
    paints = [skia.Paint(AntiAlias=True, Color=colour(run.colour)) if run.colour else whole for run in words.runs]
    return lambda one: paints[one.letter.run] if one.letter.run >= 0 else whole


@part()
def draw_letters(canvas: Any, words: Words, size: float, setting: Setting, letters: Sequence[Set]) -> None:
    """Letters with their shadows, outlines and underlines."""
    shades = (*words.shades, *((Shade(0.0, SOFT.down, SOFT.soft, SOFT.colour, words.shadow),) if words.shadow else ()))
    for shade in shades:
        draw_shade(canvas, words, size, setting, letters, shade)
    _bare(canvas, words, size, setting, letters)


def _bare(canvas: Any, words: Words, size: float, setting: Setting, letters: Sequence[Set]) -> None:
    """Letters without their shadows."""
    draw_under(canvas, words, size, setting, letters)
    if words.outline > 0:
        line = skia.Paint(AntiAlias=True, Color=colour(words.outline_colour))
        line.setStyle(skia.Paint.kStroke_Style)
        line.setStrokeJoin(skia.Paint.kRound_Join)
        # Half of the line lies inside the letters, where their fill covers it.
        line.setStrokeWidth(2 * words.outline * size)
        draw_glyphs(canvas, letters, lambda one: line, colours=False)
    draw_glyphs(canvas, letters, fill_of(words, setting))


@part()
def draw_shade(canvas: Any, words: Words, size: float, setting: Setting, letters: Sequence[Set], shade: Shade) -> None:
    """The letters' own outline, softened, and moved.

    Softened by OpenCV and not by a filter of the canvas, which keeps every other thread of the process waiting for as
    long as it takes: ten times as long as the letters.
    """
    soft = shade.soft * size
    scale = SHADOW_GRAIN / soft if shade.soft > LEAST_SOFT else 2.0
    room = size
    width = math.ceil((setting.width + 2 * room) * scale)
    height = math.ceil((setting.height + 2 * room) * scale)
    pixels = np.zeros((height, width, 4), np.uint8)
    info = skia.ImageInfo.Make(width, height, skia.kBGRA_8888_ColorType, skia.kPremul_AlphaType)
    small = skia.Surface.MakeRasterDirect(info, pixels, pixels.strides[0]).getCanvas()
    small.scale(scale, scale)
    small.translate(room, room)
    _bare(small, words, size, setting, letters)
    made: Any = cv2.GaussianBlur(pixels[:, :, 3], (0, 0), soft * scale) if shade.soft > LEAST_SOFT else pixels[:, :, 3]
    red, green, blue = (int(shade.colour[at : at + 2], 16) for at in (1, 3, 5))
    whole = made.astype(np.uint16)
    for channel, value in enumerate((blue, green, red)):
        pixels[:, :, channel] = whole * value // 255
    pixels[:, :, 3] = made
    image = skia.Image.MakeFromRaster(skia.Pixmap(info, pixels, pixels.strides[0]))
    target = skia.Rect.MakeXYWH(shade.across * size - room, shade.down * size - room, width / scale, height / scale)
    linear = skia.SamplingOptions(skia.FilterMode.kLinear)
    canvas.drawImageRect(image, target, linear, skia.Paint(Alphaf=shade.opacity))


def _extent(letters: Sequence[Set]) -> tuple[float, float]:
    return min(one.x for one in letters), max(one.x + one.letter.width for one in letters)


@part()
def draw_behind(canvas: Any, words: Words, size: float, setting: Setting, share: float = 1.0) -> None:
    """The box behind all words, each line or each word; and the highlights of parts, as far along as `share`."""
    if words.box:
        paint = skia.Paint(AntiAlias=True, Color=colour(words.box, words.box_opacity))
        radius = words.round * size
        for rect in boxes(words, size, setting):
            canvas.drawRoundRect(rect, radius, radius, paint)
    for unit in units_of(setting, "line"):
        for number, run in enumerate(words.runs):
            inside = [one for one in unit if one.letter.run == number and not one.turn]
            if run.mark and inside:
                left, right = _extent(inside)
                tall = inside[0].letter.size
                top = inside[0].y - 0.82 * tall
                rect = skia.Rect.MakeXYWH(left - 0.08 * tall, top, (right - left + 0.16 * tall) * share, 1.06 * tall)
                canvas.drawRoundRect(rect, 0.1 * tall, 0.1 * tall, skia.Paint(AntiAlias=True, Color=colour(run.mark)))


def boxes(words: Words, size: float, setting: Setting) -> list[Any]:
    """The rectangles that are drawn behind words."""
    across, down = words.pad[0] * size, words.pad[1] * size
    if words.box_of == "all" or words.arc:
        return [skia.Rect.MakeWH(setting.width, setting.height)]
    made = []
    for unit in units_of(setting, words.box_of):
        line = setting.lines[unit[0].line]
        left, right = _extent(unit)
        # Words stand close together: their boxes take only what lies between them.
        aside = across if words.box_of == "line" else min(across, 0.1 * size)
        made.append(skia.Rect.MakeLTRB(left - aside, line.top - down, right + aside, line.top + line.height + down))
    return made


@part()
def draw_under(canvas: Any, words: Words, size: float, setting: Setting, letters: Sequence[Set]) -> None:
    """The line under letters: straight, in waves, or as a hand draws it."""
    if words.under == "none" or words.arc:
        return
    paint = skia.Paint(AntiAlias=True, Color=colour(words.under_colour or words.colour))
    paint.setStyle(skia.Paint.kStroke_Style)
    paint.setStrokeCap(skia.Paint.kRound_Cap)
    paint.setStrokeWidth(0.07 * size)
    lines: dict[int, list[Set]] = {}
    for one in letters:
        if not one.letter.white:
            lines.setdefault(one.line, []).append(one)
    for number, row in lines.items():
        left, right = _extent(row)
        canvas.drawPath(under_path(words.under, left, right, row[0].y + 0.16 * size, size, number), paint)


def under_path(way: str, left: float, right: float, y: float, size: float, seed: int) -> Any:
    """The line itself. By hand it sways, and is always the same for the same words."""
    path = skia.Path()
    path.moveTo(left, y)
    if way == "straight":
        path.lineTo(right, y)
        return path
    step = (0.28 if way == "waves" else 0.9) * size
    count = max(2, round((right - left) / step))
    for n in range(count):
        start, end = (left + (right - left) * (n + share) / count for share in (0, 1))
        if way == "waves":
            high = 0.07 * size * (1 if n % 2 else -1)
        else:
            high = 0.055 * size * math.sin(n * 2.4 + seed * 1.7 + 1)
        down = 0.0 if way == "waves" else 0.03 * size * math.sin(n * 1.3 + seed + 2)
        path.quadTo((start + end) / 2, y + 2 * high, end, y + down)
    return path
