"""Land and water: hills, mountains, sea, beach, lake, forest, desert, fields, garden, waterfall."""

from __future__ import annotations

import math
from typing import Any

import skia

from glowreel.outside.art.air import Air, open_sky
from glowreel.outside.art.pieces import balloon, fill, mist, mixed, rgb, ridge, trees


def shaped(points: list[tuple[float, float]]) -> Any:
    """A closed outline through points."""
    path = skia.Path()
    path.moveTo(*points[0])
    for point in points[1:]:
        path.lineTo(*point)
    path.close()
    return path


def line(colour: str, wide: float, alpha: float = 1.0) -> Any:
    """A round pen."""
    return skia.Paint(
        AntiAlias=True,
        Color=rgb(colour, alpha),
        StrokeWidth=wide,
        Style=skia.Paint.kStroke_Style,
        StrokeCap=skia.Paint.kRound_Cap,
        StrokeJoin=skia.Paint.kRound_Join,
    )


def hills(canvas: Any, width: float, seconds: float, air: Air) -> None:
    open_sky(canvas, width, seconds, air, 0.72)
    colours = air.palette
    ridge(canvas, width, 0.62, 0.05, mixed(colours.far, colours.sky[2], 0.35), air.seed + 1, seconds * 0.006)
    ridge(canvas, width, 0.7, 0.05, colours.far, air.seed + 2, seconds * 0.012)
    mist(canvas, width, 0.72, 0.05, 0.35, colours.sky[2])
    ridge(canvas, width, 0.79, 0.045, colours.middle, air.seed + 3, seconds * 0.024)
    trees(canvas, width, 0.82, mixed(colours.near, colours.middle, 0.3), air.seed, seconds * 0.024)
    ridge(canvas, width, 0.92, 0.03, colours.near, air.seed + 4, seconds * 0.045)


def balloons(canvas: Any, width: float, seconds: float, air: Air) -> None:
    hills(canvas, width, seconds, air)
    colours, chance = air.palette, air.chance("balloons")
    for number, size in enumerate((0.1, 0.16, 0.3)):
        across = width * (0.2 + 0.28 * number + chance.uniform(-0.06, 0.06)) + 0.006 * seconds
        high = chance.uniform(0.08, 0.32) - 0.006 * seconds * (number + 1) / 2
        sides = (
            (colours.pale, colours.accent, colours.second),
            (colours.second, colours.dark, colours.pale),
            (colours.accent, colours.pale, colours.dark),
        )[number]
        lit = 0.5 + 0.4 * math.sin(seconds * 1.3 + number) if air.dark else 0.0
        balloon(canvas, across, high, size, sides, 1.4 * math.sin(seconds * 0.8 + number), lit)


def mountains(canvas: Any, width: float, seconds: float, air: Air) -> None:
    open_sky(canvas, width, seconds, air, 0.8)
    colours, chance = air.palette, air.chance("peaks")
    for layer, (base, high, colour) in enumerate(
        ((0.86, 0.5, mixed(colours.far, colours.sky[1], 0.35)), (0.95, 0.42, colours.middle))
    ):
        shift = -seconds * 0.004 * (layer + 1)
        across = -0.3 + shift
        while across < width + 0.4:
            wide, tall = chance.uniform(0.5, 0.85), high * chance.uniform(0.6, 1.0)
            top = (across + wide / 2, base - tall)
            canvas.drawPath(shaped([(across - 0.05, base), top, (across + wide + 0.05, base)]), fill(colour))
            shade = shaped([top, (across + wide + 0.05, base), (across + wide * 0.62, base)])
            canvas.drawPath(shade, fill(colours.dark, 0.16))
            cap = 0.3 if air.season != "summer" else 0.2
            left, right = top[0] - (wide / 2 + 0.05) * cap, top[0] + (wide / 2 + 0.05) * cap
            level = top[1] + tall * cap
            snow = [
                top,
                (right, level),
                (top[0] + wide * 0.05, level - tall * 0.06),
                (top[0], level + tall * 0.05),
                (top[0] - wide * 0.06, level - tall * 0.05),
                (left, level),
            ]
            canvas.drawPath(shaped(snow), fill(mixed(colours.pale, "#FFFFFF", 0.4), 0.95))
            across += wide * 0.62
        mist(canvas, width, base - 0.05, 0.08, 0.45, colours.sky[2])
    ridge(canvas, width, 0.93, 0.025, colours.near, air.seed, seconds * 0.03)
    trees(canvas, width, 0.95, mixed(colours.near, colours.dark, 0.4), air.seed + 5, seconds * 0.03, 1.8)


def water(canvas: Any, width: float, seconds: float, air: Air, top: float, bottom: float) -> None:
    """Water seen to the horizon: bands of waves that get longer as they come nearer, and light on them."""
    colours = air.palette
    canvas.save()
    canvas.clipRect(skia.Rect.MakeLTRB(-0.1, top, width + 0.1, bottom), True)
    deep = mixed(colours.sky[0], colours.near, 0.35)
    shader = skia.GradientShader.MakeLinear(
        [skia.Point(0, top), skia.Point(0, bottom)], [rgb(mixed(colours.sky[2], deep, 0.35)), rgb(deep)]
    )
    canvas.drawPaint(skia.Paint(Shader=shader, Dither=True))
    chance = air.chance("water")
    for number in range(58):
        share = (number / 57) ** 1.7
        level = top + 0.008 + (bottom - top) * share
        long = 0.05 + 0.24 * share
        across = (chance.uniform(0, width * 1.3) + seconds * (0.01 + 0.05 * share)) % (width * 1.3) - width * 0.15
        level += 0.006 * share * math.sin(seconds * 1.4 + number)
        light = number % 3 == 0
        pen = line(mixed(colours.pale, colours.sky[2], 0.3) if light else deep, 0.002 + 0.006 * share, 0.5)
        path = skia.Path()
        path.moveTo(across - long / 2, level)
        path.quadTo(across, level - long * 0.06, across + long / 2, level)
        canvas.drawPath(path, pen)
    canvas.restore()


def boat(canvas: Any, across: float, level: float, size: float, air: Air, tilt: float) -> None:
    colours = air.palette
    canvas.save()
    canvas.translate(across, level)
    canvas.rotate(tilt)
    hull = skia.Path()
    hull.moveTo(-size * 0.5, -size * 0.16)
    hull.lineTo(size * 0.56, -size * 0.16)
    hull.quadTo(size * 0.44, size * 0.08, size * 0.3, size * 0.08)
    hull.lineTo(-size * 0.34, size * 0.08)
    hull.close()
    canvas.drawPath(shaped([(0, -size * 0.2), (0, -size * 1.15), (-size * 0.44, -size * 0.26)]), fill(colours.pale))
    canvas.drawPath(
        shaped([(size * 0.06, -size * 0.24), (size * 0.06, -size), (size * 0.46, -size * 0.24)]), fill(colours.accent)
    )
    canvas.drawLine(size * 0.03, -size * 0.14, size * 0.03, -size * 1.2, line(colours.dark, size * 0.03))
    canvas.drawPath(hull, fill(mixed(colours.dark, colours.accent, 0.25)))
    canvas.drawRect(skia.Rect.MakeLTRB(-size * 0.49, -size * 0.16, size * 0.54, -size * 0.115), fill(colours.pale))
    canvas.restore()


def sea(canvas: Any, width: float, seconds: float, air: Air) -> None:
    open_sky(canvas, width, seconds, air, 0.55)
    water(canvas, width, seconds, air, 0.55, 1.02)
    chance = air.chance("boats")
    for size, level in ((0.07, 0.6), (0.22, 0.74))[: chance.choice((1, 2, 2))]:
        across = width * chance.uniform(0.25, 0.72) + 0.012 * seconds * size * 10
        boat(canvas, across, level + 0.004 * math.sin(seconds * 1.4), size, air, 2 * math.sin(seconds * 1.1))


def beach(canvas: Any, width: float, seconds: float, air: Air) -> None:
    open_sky(canvas, width, seconds, air, 0.46)
    water(canvas, width, seconds, air, 0.46, 0.8)
    colours = air.palette
    sand = mixed(colours.far, "#F0D9A8", 0.65)
    reach = 0.02 * math.sin(seconds * 0.9)
    for colour, lower in (
        (mixed(colours.pale, "#FFFFFF", 0.5), 0.0),
        (mixed(sand, colours.near, 0.2), 0.02),
        (sand, 0.05),
    ):
        shore = skia.Path()
        shore.moveTo(0, 1.01)
        for step in range(41):
            across = width * step / 40
            level = 0.74 + 0.025 * math.sin(across * 3 + air.seed) + reach * (1 - lower * 12) + lower
            shore.lineTo(across, level)
        shore.lineTo(width, 1.01)
        shore.close()
        canvas.drawPath(shore, fill(colour))
    chance = air.chance("beach")
    across = width * chance.choice((0.26, 0.72))
    canvas.drawOval(skia.Rect.MakeXYWH(across - 0.2, 0.9, 0.42, 0.035), fill(colours.dark, 0.18))
    canvas.drawLine(across, 0.92, across - 0.03, 0.5, line(colours.dark, 0.009))
    canvas.save()
    canvas.translate(across - 0.03, 0.52)
    canvas.rotate(-6 + 1.2 * math.sin(seconds * 1.3))
    canopy = skia.Path()
    canopy.addArc(skia.Rect.MakeLTRB(-0.23, -0.18, 0.23, 0.2), 180, 180)
    canopy.close()
    canvas.clipPath(canopy, True)
    for number in range(6):
        side = skia.Rect.MakeXYWH(-0.23 + 0.46 * number / 6, -0.2, 0.08, 0.4)
        canvas.drawRect(side, fill(colours.accent if number % 2 else colours.pale))
    canvas.restore()
    towel = shaped([(across + 0.12, 0.88), (across + 0.34, 0.86), (across + 0.42, 0.93), (across + 0.17, 0.955)])
    canvas.drawPath(towel, fill(colours.second))


def lake(canvas: Any, width: float, seconds: float, air: Air) -> None:
    horizon = 0.56

    def shore() -> None:
        open_sky(canvas, width, seconds, air, horizon)
        colours = air.palette
        ridge(canvas, width, 0.42, 0.07, mixed(colours.far, colours.sky[1], 0.3), air.seed + 7)
        ridge(canvas, width, 0.49, 0.03, colours.middle, air.seed + 8)
        trees(canvas, width, horizon, colours.near, air.seed + 3, 0, 2.4)

    shore()
    canvas.save()
    canvas.clipRect(skia.Rect.MakeLTRB(0, horizon, width, 1.02), True)
    canvas.translate(0, horizon * 2)
    canvas.scale(1, -1)
    shore()
    canvas.restore()
    canvas.drawRect(skia.Rect.MakeLTRB(0, horizon, width, 1.01), fill(air.palette.sky[0], 0.3))
    chance = air.chance("ripples")
    for number in range(36):
        share = chance.random() ** 1.4
        level = horizon + 0.01 + 0.43 * share
        across = (chance.uniform(0, width * 1.2) + seconds * 0.02) % (width * 1.2) - width * 0.1
        alpha = 0.25 + 0.2 * math.sin(seconds * 1.2 + number)
        canvas.drawLine(across, level, across + 0.06 + 0.16 * share, level, line(air.palette.pale, 0.003, alpha))
    if chance.random() < 0.6:
        boat(canvas, width * 0.6 + 0.008 * seconds, 0.72, 0.13, air, 1.2 * math.sin(seconds))


def forest(canvas: Any, width: float, seconds: float, air: Air) -> None:
    open_sky(canvas, width, seconds, air, 1.0)
    colours, chance = air.palette, air.chance("forest")
    for layer in range(4):
        share = layer / 3
        colour = mixed(mixed(colours.far, colours.sky[2], 0.4), mixed(colours.near, colours.dark, 0.35), share)
        base, shift = 0.74 + 0.1 * layer, seconds * 0.008 * (1 + layer * 1.6)
        ridge(canvas, width, base, 0.015, colour, air.seed + layer, shift)
        for _ in range(24 - layer * 4):
            across = (chance.uniform(0, width + 0.6) - shift) % (width + 0.6) - 0.3
            high, wide = (0.24 + 0.14 * layer) * chance.uniform(0.75, 1.1), 0.07 + 0.05 * layer
            sway = 0.004 * math.sin(seconds * 0.9 + across * 5) * (1 + layer)
            for step in range(4):
                top = base - high + high * 0.21 * step
                half = wide * (0.34 + 0.22 * step)
                tip = (across + sway * (4 - step), top)
                side = [tip, (across + half, top + high * 0.36), (across - half, top + high * 0.36)]
                canvas.drawPath(shaped(side), fill(colour))
                if air.season == "winter" and layer > 1:
                    snow = [tip, (across + half * 0.4, top + high * 0.14), (across - half * 0.4, top + high * 0.14)]
                    canvas.drawPath(shaped(snow), fill("#FFFFFF", 0.75))
        mist(canvas, width, base, 0.06, 0.28 - 0.05 * layer, colours.sky[2])


def desert(canvas: Any, width: float, seconds: float, air: Air) -> None:
    open_sky(canvas, width, seconds, air, 0.72)
    colours, chance = air.palette, air.chance("dunes")
    sand = mixed(colours.far, "#E9B872", 0.6)
    for layer in range(4):
        base, colour = 0.62 + 0.11 * layer, mixed(sand, mixed(colours.near, "#8A4B2A", 0.5), layer / 4)
        crest = width * chance.uniform(0.2, 0.8) - seconds * 0.006 * layer
        high = chance.uniform(0.08, 0.16)
        dune = skia.Path()
        dune.moveTo(-0.1, 1.02)
        dune.lineTo(-0.1, base)
        dune.cubicTo(crest * 0.5, base, crest - 0.1, base - high, crest, base - high)
        dune.cubicTo(crest + 0.2, base - high * 0.7, width * 0.9, base + 0.02, width + 0.1, base + 0.01)
        dune.lineTo(width + 0.1, 1.02)
        dune.close()
        canvas.drawPath(dune, fill(colour))
        lee = skia.Path()
        lee.moveTo(crest, base - high)
        lee.cubicTo(crest + 0.2, base - high * 0.7, width * 0.9, base + 0.02, width + 0.1, base + 0.01)
        lee.lineTo(width + 0.1, 1.02)
        lee.quadTo(crest - 0.05, base + 0.12, crest, base - high)
        lee.close()
        canvas.drawPath(lee, fill(colours.dark, 0.14))
    for _ in range(3):
        across, size = width * chance.uniform(0.1, 0.9), chance.uniform(0.08, 0.16)
        cactus = line(mixed(colours.dark, "#2E6B4A", 0.6), size * 0.17)
        foot = chance.uniform(0.86, 0.95)
        canvas.drawLine(across, foot, across, foot - size, cactus)
        for side, high in ((-1, 0.5), (1, 0.36)):
            arm = skia.Path()
            arm.moveTo(across, foot - size * high)
            arm.lineTo(across + side * size * 0.28, foot - size * high)
            arm.lineTo(across + side * size * 0.28, foot - size * (high + 0.28))
            canvas.drawPath(arm, cactus)


def fields(canvas: Any, width: float, seconds: float, air: Air) -> None:
    horizon = 0.52
    open_sky(canvas, width, seconds, air, horizon)
    colours = air.palette
    ridge(canvas, width, 0.46, 0.04, mixed(colours.far, colours.sky[2], 0.4), air.seed + 2, seconds * 0.004)
    trees(canvas, width, horizon + 0.005, colours.middle, air.seed, seconds * 0.004, 1.3)
    canvas.drawRect(skia.Rect.MakeLTRB(0, horizon, width, 1.02), fill(colours.middle))
    point = width * air.chance("rows").uniform(0.35, 0.65)
    rows = (colours.near, colours.far, mixed(colours.second, colours.middle, 0.4))
    for number in range(-22, 22):
        left, right = point + (number + 0.1) * 0.2, point + (number + 0.72) * 0.2
        stripe = [
            (point + number * 0.006, horizon),
            (point + number * 0.006 + 0.004, horizon),
            (right, 1.02),
            (left, 1.02),
        ]
        canvas.drawPath(shaped(stripe), fill(rows[number % 3], 0.75))
    chance = air.chance("flowers")
    for _ in range(90):
        share = chance.random() ** 0.7
        across = point + chance.uniform(-2.4, 2.4) * (0.1 + 0.9 * share)
        level = horizon + 0.47 * share + 0.004 * math.sin(seconds * 1.5 + across * 8)
        colour = chance.choice((colours.accent, colours.pale, colours.second))
        canvas.drawCircle(across, level, 0.003 + 0.011 * share, fill(colour, 0.95))


def waterfall(canvas: Any, width: float, seconds: float, air: Air) -> None:
    open_sky(canvas, width, seconds, air, 0.5)
    colours, chance = air.palette, air.chance("fall")
    rock = mixed(colours.near, "#59616A", 0.4)
    canvas.drawPath(shaped([(-0.1, 0.2), (width * 0.42, 0.26), (width * 0.4, 1.02), (-0.1, 1.02)]), fill(rock))
    right = [(width + 0.1, 0.14), (width * 0.6, 0.25), (width * 0.63, 1.02), (width + 0.1, 1.02)]
    canvas.drawPath(shaped(right), fill(mixed(rock, colours.dark, 0.2)))
    canvas.drawPath(
        shaped([(width * 0.4, 0.27), (width * 0.61, 0.26), (width * 0.66, 0.9), (width * 0.36, 0.9)]),
        fill(mixed(colours.sky[1], "#FFFFFF", 0.45)),
    )
    for _ in range(90):
        share, fast = chance.random(), chance.uniform(0.5, 0.9)
        down = (chance.random() + seconds * fast) % 1.0
        across = width * (0.4 + 0.21 * share) + (share - 0.5) * 0.1 * down
        level = 0.27 + 0.62 * down
        canvas.drawLine(across, level, across, level + 0.08, line("#FFFFFF", 0.004, 0.55))
    for _ in range(40):
        angle = chance.uniform(0, 6.3) + seconds * 0.3
        centre = width * 0.51 + width * 0.14 * math.cos(angle)
        canvas.drawCircle(centre, 0.9 + 0.02 * math.sin(angle * 2), 0.035, fill("#FFFFFF", 0.16))
    water(canvas, width, seconds, air, 0.9, 1.02)
    for side, first in ((0.0, 0.2), (width, 0.16)):
        trees(canvas, width * 0.36, first, mixed(colours.near, colours.dark, 0.3), air.seed + int(side * 7), 0, 1.6)


def garden(canvas: Any, width: float, seconds: float, air: Air) -> None:
    open_sky(canvas, width, seconds, air, 0.6)
    colours, chance = air.palette, air.chance("garden")
    ridge(canvas, width, 0.62, 0.02, colours.far, air.seed)
    ridge(canvas, width, 0.72, 0.02, colours.middle, air.seed + 1)
    for number in range(46):
        near = number / 45
        across = chance.uniform(-0.05, width + 0.05)
        foot, high = 0.72 + 0.32 * near, 0.1 + 0.2 * near
        sway = 0.02 * near * math.sin(seconds * 1.2 + across * 4)
        stem = skia.Path()
        stem.moveTo(across, foot)
        stem.quadTo(across, foot - high * 0.6, across + sway, foot - high)
        canvas.drawPath(stem, line(mixed(colours.near, colours.middle, 1 - near), 0.003 + 0.005 * near))
        size, colour = 0.012 + 0.026 * near, chance.choice((colours.accent, colours.second, colours.pale))
        petals = chance.choice((5, 6, 8))
        for petal in range(petals):
            angle = math.tau * petal / petals + number
            canvas.drawCircle(
                across + sway + size * 0.75 * math.cos(angle),
                foot - high + size * 0.75 * math.sin(angle),
                size * 0.55,
                fill(colour),
            )
        canvas.drawCircle(across + sway, foot - high, size * 0.42, fill(mixed(colour, colours.dark, 0.55)))
