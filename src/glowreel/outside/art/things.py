"""Things on a table: food, a cup, flowers, a product on a plinth, leaves from above, presents, candles."""

from __future__ import annotations

import math
from typing import Any

import skia

from glowreel.outside.art.air import Air
from glowreel.outside.art.land import line, shaped
from glowreel.outside.art.pieces import fill, mixed, rgb
from glowreel.outside.art.town import mug, plant


def room(canvas: Any, width: float, air: Air, level: float = 0.72) -> None:
    """A wall with light on it, and a table top."""
    colours, chance = air.palette, air.chance("room")
    wall = mixed(colours.pale, colours.sky[1], 0.4)
    canvas.drawPaint(fill(wall))
    where = skia.Point(width * chance.choice((0.25, 0.75)), 0.15)
    glow = skia.GradientShader.MakeRadial(where, 0.9, [rgb("#FFFFFF", 0.5), rgb(colours.dark, 0.12)])
    canvas.drawPaint(skia.Paint(Shader=glow, Dither=True))
    canvas.drawRect(skia.Rect.MakeLTRB(0, level, width, 1.01), fill(mixed(colours.near, "#9A6B43", 0.55)))
    canvas.drawRect(skia.Rect.MakeLTRB(0, level, width, level + 0.012), fill("#FFFFFF", 0.22))


def _shadow(canvas: Any, across: float, foot: float, wide: float) -> None:
    soft = skia.Paint(AntiAlias=True, Color=rgb("#000000", 0.28))
    soft.setMaskFilter(skia.MaskFilter.MakeBlur(skia.kNormal_BlurStyle, 0.012))
    canvas.drawOval(skia.Rect.MakeXYWH(across - wide / 2, foot - 0.012, wide, 0.034), soft)


def coffee(canvas: Any, width: float, seconds: float, air: Air) -> None:
    room(canvas, width, air)
    colours = air.palette
    for step, side in ((0.0, -1), (0.36, 1)):
        _shadow(canvas, width * 0.5 + side * step, 0.9, 0.42)
    _shadow(canvas, width * 0.5, 0.9, 0.5)
    canvas.drawOval(skia.Rect.MakeXYWH(width * 0.5 - 0.24, 0.85, 0.48, 0.07), fill(colours.pale))
    canvas.drawOval(
        skia.Rect.MakeXYWH(width * 0.5 - 0.16, 0.862, 0.32, 0.04), fill(mixed(colours.pale, colours.dark, 0.14))
    )
    mug(canvas, width * 0.5, 0.885, 0.26, air, seconds)
    biscuit(canvas, width * 0.5 + 0.36, 0.88, 0.1, air)
    biscuit(canvas, width * 0.5 + 0.42, 0.91, 0.1, air)
    plant(canvas, width * 0.14, 0.8, 0.5, air, seconds)


def biscuit(canvas: Any, across: float, level: float, size: float, air: Air) -> None:
    canvas.drawOval(skia.Rect.MakeXYWH(across - size, level - size * 0.36, size * 2, size * 0.9), fill("#8A5A34"))
    canvas.drawOval(skia.Rect.MakeXYWH(across - size, level - size * 0.5, size * 2, size * 0.9), fill("#C98F52"))
    chance = air.chance("crumbs")
    for _ in range(8):
        angle, far = chance.uniform(0, 6.3), chance.uniform(0.1, 0.75)
        canvas.drawCircle(
            across + size * far * math.cos(angle),
            level - size * 0.05 + size * 0.4 * far * math.sin(angle),
            size * 0.09,
            fill("#5B3522"),
        )


def cake(canvas: Any, width: float, seconds: float, air: Air) -> None:
    room(canvas, width, air)
    colours, middle = air.palette, width / 2
    _shadow(canvas, middle, 0.9, 0.8)
    canvas.drawOval(skia.Rect.MakeXYWH(middle - 0.4, 0.84, 0.8, 0.09), fill(colours.pale))
    layers = ((0.62, 0.66, 0.2, colours.accent), (0.46, 0.5, 0.18, mixed(colours.accent, colours.pale, 0.55)))
    for wide, top, high, colour in layers:
        body = skia.Rect.MakeXYWH(middle - wide / 2, top, wide, high)
        canvas.drawRoundRect(body, 0.03, 0.03, fill(mixed(colour, "#FFFFFF", 0.1)))
        drip = skia.Path()
        drip.moveTo(body.left(), top + 0.02)
        for number in range(9):
            left = body.left() + wide * number / 9
            deep = 0.03 + 0.05 * abs(math.sin(number * 2.3 + air.seed))
            drip.lineTo(left, top + 0.04)
            drip.cubicTo(left, top + 0.04 + deep, left + wide / 9, top + 0.04 + deep, left + wide / 9, top + 0.04)
        drip.lineTo(body.right(), top + 0.02)
        drip.quadTo(middle, top - 0.05, body.left(), top + 0.02)
        drip.close()
        canvas.drawPath(drip, fill(colours.pale))
    for number in range(5):
        across, top = middle - 0.16 + 0.08 * number, 0.4
        canvas.drawRect(
            skia.Rect.MakeXYWH(across - 0.008, top, 0.016, 0.1), fill((colours.second, colours.accent)[number % 2])
        )
        flame(canvas, across, top, 0.045 * (1 + 0.12 * math.sin(seconds * 9 + number)))


def flame(canvas: Any, across: float, foot: float, size: float) -> None:
    halo = skia.GradientShader.MakeRadial(
        skia.Point(across, foot - size * 0.5), size * 3, [rgb("#FFD980", 0.5), rgb("#FFD980", 0)]
    )
    canvas.drawCircle(across, foot - size * 0.5, size * 3, skia.Paint(Shader=halo))
    for share, colour in ((1.0, "#F59A2E"), (0.6, "#FFE9A8")):
        path = skia.Path()
        path.moveTo(across, foot - size * 1.3 * share)
        path.quadTo(across + size * 0.55 * share, foot - size * 0.3 * share, across, foot)
        path.quadTo(across - size * 0.55 * share, foot - size * 0.3 * share, across, foot - size * 1.3 * share)
        canvas.drawPath(path, fill(colour))


def candles(canvas: Any, width: float, seconds: float, air: Air) -> None:
    colours, chance = air.palette, air.chance("candles")
    canvas.drawPaint(fill(mixed(colours.dark, "#1A1420", 0.4)))
    canvas.drawRect(skia.Rect.MakeLTRB(0, 0.8, width, 1.01), fill(mixed(colours.dark, "#5A3A26", 0.45)))
    for number in range(7):
        across, high = width * (0.12 + 0.127 * number), chance.uniform(0.14, 0.4)
        body = skia.Rect.MakeXYWH(across - 0.04, 0.86 - high, 0.08, high)
        canvas.drawRoundRect(body, 0.012, 0.012, fill((colours.pale, colours.accent, colours.second)[number % 3]))
        canvas.drawRect(skia.Rect.MakeXYWH(body.left(), body.top(), 0.026, high), fill("#FFFFFF", 0.2))
        canvas.drawLine(across, body.top(), across, body.top() - 0.018, line("#2A1A12", 0.005))
        flame(canvas, across, body.top() - 0.012, 0.06 * (1 + 0.14 * math.sin(seconds * 7 + number * 2)))


def fruit(canvas: Any, width: float, seconds: float, air: Air) -> None:
    room(canvas, width, air)
    colours, middle, chance = air.palette, width / 2, air.chance("fruit")
    _shadow(canvas, middle, 0.92, 0.8)
    for row, many in ((0, 3), (1, 4), (2, 5)):
        for number in range(many):
            across = middle + (number - (many - 1) / 2) * 0.135 + chance.uniform(-0.01, 0.01)
            level, size = 0.53 + 0.085 * row, 0.082
            colour = chance.choice((colours.accent, colours.second, mixed(colours.near, "#8FBF3F", 0.6), "#B8392E"))
            canvas.drawCircle(across, level, size, fill(colour))
            canvas.drawCircle(
                across + size * 0.15, level + size * 0.2, size * 0.85, fill(mixed(colour, colours.dark, 0.3), 0.25)
            )
            canvas.drawOval(
                skia.Rect.MakeXYWH(across - size * 0.5, level - size * 0.62, size * 0.5, size * 0.34),
                fill("#FFFFFF", 0.45),
            )
            canvas.drawLine(
                across, level - size * 0.85, across + size * 0.14, level - size * 1.2, line("#4A3120", 0.008)
            )
    bowl = skia.Path()
    bowl.moveTo(middle - 0.4, 0.7)
    bowl.cubicTo(middle - 0.36, 0.96, middle + 0.36, 0.96, middle + 0.4, 0.7)
    bowl.close()
    canvas.drawPath(bowl, fill(mixed(colours.pale, colours.sky[1], 0.25)))
    canvas.save()
    canvas.clipPath(bowl, True)
    for number in range(13):
        across = middle - 0.4 + 0.068 * number
        canvas.drawPath(
            shaped([(across, 0.78), (across + 0.034, 0.74), (across + 0.068, 0.78), (across + 0.034, 0.82)]),
            fill(colours.accent, 0.85),
        )
    canvas.restore()


def bread(canvas: Any, width: float, seconds: float, air: Air) -> None:
    room(canvas, width, air)
    colours, middle = air.palette, width / 2
    board = skia.Rect.MakeXYWH(middle - 0.56, 0.83, 1.12, 0.06)
    _shadow(canvas, middle, 0.91, 1.16)
    canvas.drawRoundRect(board, 0.03, 0.03, fill("#8C6340"))
    loaf = skia.Path()
    loaf.moveTo(middle - 0.44, 0.83)
    loaf.cubicTo(middle - 0.52, 0.56, middle - 0.3, 0.5, middle - 0.05, 0.5)
    loaf.cubicTo(middle + 0.24, 0.5, middle + 0.4, 0.58, middle + 0.34, 0.83)
    loaf.close()
    canvas.drawPath(loaf, fill("#B87333"))
    canvas.save()
    canvas.clipPath(loaf, True)
    shade = skia.GradientShader.MakeLinear(
        [skia.Point(0, 0.5), skia.Point(0, 0.84)], [rgb("#F0B96A", 0.7), rgb("#5B3522", 0.5)]
    )
    canvas.drawPaint(skia.Paint(Shader=shade))
    for number in range(4):
        cut = skia.Path()
        cut.moveTo(middle - 0.32 + 0.17 * number, 0.53)
        cut.quadTo(middle - 0.25 + 0.17 * number, 0.6, middle - 0.27 + 0.17 * number, 0.7)
        canvas.drawPath(cut, line("#F6DFB2", 0.02))
    canvas.restore()
    for number in range(3):
        slice_ = skia.Rect.MakeXYWH(middle + 0.3 + 0.07 * number, 0.6, 0.16, 0.23)
        canvas.drawRoundRect(slice_, 0.06, 0.06, fill("#8A5228"))
        canvas.drawRoundRect(slice_.makeInset(0.012, 0.012), 0.05, 0.05, fill("#F3DDB0"))
    plant(canvas, width * 0.1, 0.8, 0.36, air, seconds)
    canvas.drawRect(
        skia.Rect.MakeXYWH(width * 0.86, 0.56, 0.13, 0.26), fill(mixed(colours.pale, colours.accent, 0.2), 0.95)
    )
    canvas.drawRect(skia.Rect.MakeXYWH(width * 0.86 - 0.01, 0.53, 0.15, 0.04), fill(colours.accent))


def bouquet(canvas: Any, width: float, seconds: float, air: Air) -> None:
    room(canvas, width, air)
    colours, middle, chance = air.palette, width / 2, air.chance("bouquet")
    _shadow(canvas, middle, 0.9, 0.4)
    heads = []
    for number in range(13):
        angle = -math.pi / 2 + (number - 6) * 0.2 + chance.uniform(-0.08, 0.08)
        far = chance.uniform(0.26, 0.46)
        tip = (middle + far * 1.15 * math.cos(angle) + 0.006 * math.sin(seconds + number), 0.6 + far * math.sin(angle))
        stem = skia.Path()
        stem.moveTo(middle, 0.64)
        stem.quadTo(middle, 0.5, *tip)
        canvas.drawPath(stem, line(colours.near, 0.008))
        heads.append((*tip, chance.choice((colours.accent, colours.second, colours.pale)), chance.uniform(0.04, 0.07)))
    for across, level, colour, size in heads:
        for petal in range(8):
            angle = math.tau * petal / 8 + across * 9
            canvas.drawCircle(
                across + size * 0.66 * math.cos(angle), level + size * 0.66 * math.sin(angle), size * 0.42, fill(colour)
            )
        canvas.drawCircle(across, level, size * 0.42, fill(mixed(colour, colours.dark, 0.5)))
    vase = skia.Path()
    vase.moveTo(middle - 0.07, 0.6)
    vase.cubicTo(middle - 0.05, 0.68, middle - 0.16, 0.7, middle - 0.15, 0.8)
    vase.cubicTo(middle - 0.14, 0.9, middle + 0.14, 0.9, middle + 0.15, 0.8)
    vase.cubicTo(middle + 0.16, 0.7, middle + 0.05, 0.68, middle + 0.07, 0.6)
    vase.close()
    canvas.drawPath(vase, fill(mixed(colours.sky[0], colours.pale, 0.3)))
    canvas.drawOval(skia.Rect.MakeXYWH(middle - 0.1, 0.7, 0.05, 0.12), fill("#FFFFFF", 0.4))


def product(canvas: Any, width: float, seconds: float, air: Air) -> None:
    colours, middle, chance = air.palette, width / 2, air.chance("product")
    canvas.drawPaint(fill(mixed(colours.accent, colours.pale, 0.55)))
    glow = skia.GradientShader.MakeRadial(skia.Point(middle, 0.4), 0.7, [rgb("#FFFFFF", 0.65), rgb("#FFFFFF", 0)])
    canvas.drawPaint(skia.Paint(Shader=glow, Dither=True))
    canvas.drawRect(skia.Rect.MakeLTRB(0, 0.78, width, 1.01), fill(mixed(colours.accent, colours.pale, 0.35)))
    canvas.drawCircle(middle, 0.44, 0.36, line(colours.pale, 0.012, 0.8))
    for wide, top, high, colour in (
        (0.74, 0.84, 0.1, colours.pale),
        (0.5, 0.76, 0.1, mixed(colours.pale, colours.accent, 0.2)),
    ):
        canvas.drawRect(skia.Rect.MakeXYWH(middle - wide / 2, top, wide, high), fill(mixed(colour, colours.dark, 0.12)))
        canvas.drawOval(
            skia.Rect.MakeXYWH(middle - wide / 2, top + high - 0.04, wide, 0.08),
            fill(mixed(colour, colours.dark, 0.12)),
        )
        canvas.drawOval(skia.Rect.MakeXYWH(middle - wide / 2, top - 0.04, wide, 0.08), fill(colour))
    (_bottle, _jar, _box)[chance.randrange(3)](canvas, middle, 0.765, air)
    shine = (seconds * 0.35) % 1.6 - 0.3
    canvas.save()
    canvas.clipRect(skia.Rect.MakeXYWH(middle - 0.2, 0.2, 0.4, 0.57), True)
    canvas.drawPath(
        shaped(
            [
                (middle - 0.4 + shine, 0.1),
                (middle - 0.34 + shine, 0.1),
                (middle - 0.5 + shine, 0.8),
                (middle - 0.58 + shine, 0.8),
            ]
        ),
        fill("#FFFFFF", 0.22),
    )
    canvas.restore()
    for number in range(9):
        angle = number * 0.7 + seconds * 0.3
        canvas.drawCircle(
            middle + 0.5 * math.cos(angle),
            0.44 + 0.3 * math.sin(angle * 1.3),
            0.006 + 0.005 * (number % 3),
            fill(colours.second, 0.9),
        )


def _bottle(canvas: Any, across: float, foot: float, air: Air) -> None:
    colours = air.palette
    canvas.drawRoundRect(skia.Rect.MakeXYWH(across - 0.035, foot - 0.52, 0.07, 0.14), 0.012, 0.012, fill(colours.dark))
    body = skia.Path()
    body.moveTo(across - 0.03, foot - 0.42)
    body.cubicTo(across - 0.03, foot - 0.34, across - 0.1, foot - 0.35, across - 0.1, foot - 0.26)
    body.lineTo(across - 0.1, foot)
    body.lineTo(across + 0.1, foot)
    body.lineTo(across + 0.1, foot - 0.26)
    body.cubicTo(across + 0.1, foot - 0.35, across + 0.03, foot - 0.34, across + 0.03, foot - 0.42)
    body.close()
    canvas.drawPath(body, fill(colours.second))
    _label(canvas, across, foot - 0.2, 0.2, 0.13, air)


def _jar(canvas: Any, across: float, foot: float, air: Air) -> None:
    colours = air.palette
    canvas.drawRoundRect(skia.Rect.MakeXYWH(across - 0.16, foot - 0.28, 0.32, 0.28), 0.04, 0.04, fill(colours.second))
    canvas.drawRoundRect(skia.Rect.MakeXYWH(across - 0.17, foot - 0.36, 0.34, 0.1), 0.02, 0.02, fill(colours.dark))
    _label(canvas, across, foot - 0.2, 0.32, 0.12, air)


def _box(canvas: Any, across: float, foot: float, air: Air) -> None:
    colours = air.palette
    canvas.drawRect(skia.Rect.MakeXYWH(across - 0.14, foot - 0.42, 0.2, 0.42), fill(colours.second))
    side = [
        (across + 0.06, foot - 0.42),
        (across + 0.15, foot - 0.45),
        (across + 0.15, foot - 0.04),
        (across + 0.06, foot),
    ]
    canvas.drawPath(shaped(side), fill(mixed(colours.second, colours.dark, 0.35)))
    top = [
        (across - 0.14, foot - 0.42),
        (across - 0.05, foot - 0.45),
        (across + 0.15, foot - 0.45),
        (across + 0.06, foot - 0.42),
    ]
    canvas.drawPath(shaped(top), fill(mixed(colours.second, "#FFFFFF", 0.35)))
    _label(canvas, across - 0.04, foot - 0.26, 0.2, 0.16, air)


def _label(canvas: Any, across: float, top: float, wide: float, high: float, air: Air) -> None:
    colours = air.palette
    canvas.drawRect(skia.Rect.MakeXYWH(across - wide / 2, top, wide, high), fill(colours.pale))
    canvas.drawCircle(across, top + high * 0.36, high * 0.2, fill(colours.accent))
    for number, share in enumerate((0.6, 0.4)):
        place = skia.Rect.MakeXYWH(
            across - wide * share / 2, top + high * (0.68 + 0.13 * number), wide * share, high * 0.07
        )
        canvas.drawRect(place, fill(colours.dark, 0.7))


def leaves(canvas: Any, width: float, seconds: float, air: Air) -> None:
    colours, chance = air.palette, air.chance("leaves")
    canvas.drawPaint(fill(mixed(colours.pale, colours.far, 0.35)))
    for number in range(46):
        across, level = chance.uniform(0, width), chance.uniform(0, 1)
        if 0.3 < level < 0.7 and width * 0.3 < across < width * 0.7:
            continue
        canvas.save()
        canvas.translate(across, level)
        canvas.rotate(chance.uniform(0, 360) + 2.5 * math.sin(seconds * 0.7 + number))
        size = chance.uniform(0.09, 0.2)
        leaf = skia.Path()
        leaf.moveTo(0, 0)
        leaf.cubicTo(size * 0.4, -size * 0.4, size * 0.8, -size * 0.3, size, 0)
        leaf.cubicTo(size * 0.8, size * 0.3, size * 0.4, size * 0.4, 0, 0)
        colour = chance.choice((colours.near, colours.middle, mixed(colours.near, colours.dark, 0.3), colours.far))
        canvas.drawPath(leaf, fill(colour))
        canvas.drawLine(0, 0, size * 0.95, 0, line(mixed(colour, colours.pale, 0.45), 0.003))
        canvas.restore()


def presents(canvas: Any, width: float, seconds: float, air: Air) -> None:
    room(canvas, width, air, 0.78)
    colours, chance = air.palette, air.chance("presents")
    for number in range(5):
        wide, high = chance.uniform(0.2, 0.34), chance.uniform(0.18, 0.36)
        across = width * (0.16 + 0.17 * number)
        foot = 0.9 + 0.02 * (number % 2) - 0.02 * abs(math.sin(seconds * 2 + number))
        body, bow = (
            (colours.accent, colours.pale),
            (colours.second, colours.dark),
            (colours.pale, colours.accent),
            (colours.middle, colours.second),
        )[number % 4]
        _shadow(canvas, across, 0.93, wide * 1.2)
        canvas.drawRect(skia.Rect.MakeXYWH(across - wide / 2, foot - high, wide, high), fill(body))
        canvas.drawRect(
            skia.Rect.MakeXYWH(across - wide * 0.56, foot - high, wide * 1.12, high * 0.24),
            fill(mixed(body, colours.dark, 0.12)),
        )
        canvas.drawRect(skia.Rect.MakeXYWH(across - wide * 0.07, foot - high, wide * 0.14, high), fill(bow))
        for side in (-1, 1):
            loop = skia.Path()
            loop.moveTo(across, foot - high)
            loop.cubicTo(
                across + side * wide * 0.1,
                foot - high - 0.1,
                across + side * wide * 0.4,
                foot - high - 0.09,
                across,
                foot - high,
            )
            canvas.drawPath(loop, line(bow, 0.018))
