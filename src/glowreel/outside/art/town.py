"""Where people live and work: a city, a street, a shop window, a room to work in, a road."""

from __future__ import annotations

import math
from typing import Any

import skia

from glowreel.outside.art.air import Air, open_sky
from glowreel.outside.art.land import line, shaped
from glowreel.outside.art.pieces import fill, mist, mixed, rgb, ridge

LIT = "#FFDF94"


def city(canvas: Any, width: float, seconds: float, air: Air) -> None:
    open_sky(canvas, width, seconds, air, 0.85)
    colours, chance = air.palette, air.chance("city")
    for layer in range(3):
        colour = mixed(mixed(colours.far, colours.sky[2], 0.35), colours.dark, layer * 0.34)
        across = -0.1 - seconds * 0.006 * (layer + 1) - chance.random() * 0.1
        while across < width + 0.3:
            wide, high = chance.uniform(0.07, 0.16), chance.uniform(0.2, 0.5) + 0.06 * (2 - layer)
            house = skia.Rect.MakeXYWH(across, 0.9 - high, wide, 1.1)
            canvas.drawRect(house, fill(colour))
            if chance.random() < 0.25:
                canvas.drawLine(across + wide / 2, 0.9 - high, across + wide / 2, 0.82 - high, line(colour, 0.006))
            _windows(canvas, house, chance, air, layer, seconds)
            across += wide + chance.choice((0.0, 0.0, 0.015, 0.05))
        mist(canvas, width, 0.86, 0.1, 0.22, colours.sky[2])
    canvas.drawRect(skia.Rect.MakeLTRB(0, 0.95, width, 1.01), fill(mixed(colours.dark, "#000000", 0.2)))
    for number in range(9):
        way = 1 if number % 2 else -1
        across = (chance.uniform(0, width * 1.2) + way * seconds * 0.22) % (width * 1.2) - 0.1
        glow = "#FFF1C4" if way > 0 else colours.accent
        canvas.drawCircle(across, 0.97 + 0.008 * way, 0.007, fill(glow))
        canvas.drawLine(across - way * 0.05, 0.97 + 0.008 * way, across, 0.97 + 0.008 * way, line(glow, 0.008, 0.35))


def _windows(canvas: Any, house: Any, chance: Any, air: Air, layer: int, seconds: float) -> None:
    step, size = 0.026, 0.013
    late = air.hour in ("night", "evening")
    for row in range(int((0.93 - house.top()) / step)):
        for column in range(max(1, int((house.width() - 0.012) / step))):
            drawn, phase = chance.random(), chance.uniform(0, 60)
            if drawn > (0.62 if late else 0.8):
                continue
            lit = late and math.sin(seconds * 0.25 + phase) > -0.9
            place = skia.Rect.MakeXYWH(
                house.left() + 0.01 + column * step, house.top() + 0.018 + row * step, size, size
            )
            colour = LIT if lit else mixed(air.palette.sky[1], air.palette.dark, 0.3)
            canvas.drawRect(place, fill(colour, 0.35 + 0.2 * layer if lit else 0.4))


def street(canvas: Any, width: float, seconds: float, air: Air) -> None:
    open_sky(canvas, width, seconds, air, 0.5)
    colours, chance = air.palette, air.chance("street")
    across, number = -0.04, 0
    while across < width:
        wide, high = chance.uniform(0.24, 0.34), chance.uniform(0.5, 0.7)
        wall = (colours.accent, colours.far, colours.second, colours.pale, colours.middle)[(number + air.seed) % 5]
        _house(canvas, across, wide, high, mixed(wall, colours.pale, 0.25), air, chance)
        across, number = across + wide, number + 1
    canvas.drawRect(skia.Rect.MakeLTRB(0, 0.88, width, 1.01), fill(mixed(colours.dark, colours.far, 0.35)))
    canvas.drawRect(skia.Rect.MakeLTRB(0, 0.86, width, 0.9), fill(mixed(colours.pale, colours.dark, 0.25)))
    for lamp in (0.22, 0.76):
        foot = width * lamp
        canvas.drawLine(foot, 0.88, foot, 0.42, line(colours.dark, 0.009))
        if air.hour in ("night", "evening"):
            shade = skia.GradientShader.MakeRadial(skia.Point(foot, 0.42), 0.3, [rgb(LIT, 0.55), rgb(LIT, 0)])
            canvas.drawCircle(foot, 0.42, 0.3, skia.Paint(Shader=shade))
        canvas.drawCircle(foot, 0.41, 0.024, fill(LIT if air.hour in ("night", "evening") else colours.pale))


def _house(canvas: Any, left: float, wide: float, high: float, wall: str, air: Air, chance: Any) -> None:
    colours, top = air.palette, 0.87 - high
    canvas.drawRect(skia.Rect.MakeXYWH(left, top, wide, high), fill(wall))
    roof = mixed(colours.dark, colours.accent, 0.35)
    if chance.random() < 0.6:
        canvas.drawPath(
            shaped([(left - 0.01, top), (left + wide / 2, top - 0.13), (left + wide + 0.01, top)]), fill(roof)
        )
    else:
        canvas.drawRect(skia.Rect.MakeXYWH(left - 0.008, top - 0.03, wide + 0.016, 0.035), fill(roof))
    glass = LIT if air.hour in ("night", "evening") else mixed(colours.sky[1], "#FFFFFF", 0.25)
    for row in range(int((high - 0.26) / 0.14)):
        for column in range(3):
            place = skia.Rect.MakeXYWH(left + wide * (0.12 + 0.28 * column), top + 0.04 + 0.14 * row, wide * 0.19, 0.09)
            lit = glass if chance.random() < 0.75 else mixed(colours.dark, wall, 0.4)
            canvas.drawRect(place.makeOutset(0.006, 0.006), fill(colours.pale))
            canvas.drawRect(place, fill(lit))
            canvas.drawRect(skia.Rect.MakeXYWH(place.centerX() - 0.002, place.top(), 0.004, 0.09), fill(colours.pale))
    canvas.drawRect(skia.Rect.MakeXYWH(left + wide * 0.1, 0.71, wide * 0.5, 0.16), fill(glass))
    canvas.drawRect(
        skia.Rect.MakeXYWH(left + wide * 0.68, 0.69, wide * 0.2, 0.18), fill(mixed(colours.dark, wall, 0.2))
    )
    for stripe in range(6):
        part = skia.Rect.MakeXYWH(left + wide * (0.07 + 0.09 * stripe), 0.665, wide * 0.091, 0.055)
        canvas.drawRect(part, fill(colours.accent if stripe % 2 else colours.pale))
        canvas.drawCircle(part.centerX(), 0.72, wide * 0.045, fill(colours.accent if stripe % 2 else colours.pale))


def road(canvas: Any, width: float, seconds: float, air: Air) -> None:
    horizon = 0.55
    open_sky(canvas, width, seconds, air, horizon)
    colours, chance = air.palette, air.chance("road")
    ridge(canvas, width, 0.5, 0.06, colours.far, air.seed + 3)
    canvas.drawRect(skia.Rect.MakeLTRB(0, horizon, width, 1.01), fill(colours.middle))
    middle = width / 2
    canvas.drawPath(
        shaped([(middle - 0.012, horizon), (middle + 0.012, horizon), (middle + 0.7, 1.02), (middle - 0.7, 1.02)]),
        fill(mixed(colours.dark, "#59616A", 0.4)),
    )
    for number in range(10):
        share = ((number + seconds * 1.4) % 10 / 10) ** 3
        level, wide = horizon + 0.47 * share, 0.003 + 0.035 * share
        dash = skia.Rect.MakeXYWH(middle - wide / 2, level, wide, 0.01 + 0.09 * share)
        canvas.drawRect(dash, fill(colours.pale))
    for number in range(14):
        share = ((number + chance.random() + seconds * 1.4) % 14 / 14) ** 3
        side = 1 if number % 2 else -1
        foot, size = horizon + 0.47 * share, 0.02 + 0.42 * share
        across = middle + side * (0.04 + 1.15 * share)
        canvas.drawRect(
            skia.Rect.MakeXYWH(across - size * 0.04, foot - size * 0.5, size * 0.08, size * 0.5), fill(colours.dark)
        )
        canvas.drawCircle(across, foot - size * 0.7, size * 0.34, fill(colours.near))
        canvas.drawCircle(
            across - size * 0.1, foot - size * 0.78, size * 0.2, fill(mixed(colours.near, colours.middle, 0.5))
        )


def office(canvas: Any, width: float, seconds: float, air: Air) -> None:
    colours, chance = air.palette, air.chance("office")
    canvas.drawPaint(fill(mixed(colours.pale, colours.far, 0.22)))
    window = skia.Rect.MakeXYWH(width * 0.58, 0.1, width * 0.34, 0.46)
    canvas.save()
    canvas.clipRect(window, True)
    canvas.translate(window.left(), window.top() - 0.12)
    canvas.scale(0.7, 0.7)
    city(canvas, width, seconds, air)
    canvas.restore()
    canvas.drawRect(window, line(colours.pale, 0.022))
    canvas.drawLine(window.centerX(), 0.1, window.centerX(), 0.56, line(colours.pale, 0.012))
    canvas.drawRect(skia.Rect.MakeLTRB(0, 0.76, width, 0.82), fill(mixed(colours.near, "#7A4E2E", 0.6)))
    canvas.drawRect(skia.Rect.MakeLTRB(0, 0.82, width, 1.01), fill(mixed(colours.near, "#4A2F20", 0.7)))
    left = width * 0.36
    canvas.drawRoundRect(skia.Rect.MakeXYWH(left - 0.19, 0.46, 0.38, 0.26), 0.014, 0.014, fill(colours.dark))
    screen = skia.Rect.MakeXYWH(left - 0.175, 0.475, 0.35, 0.225)
    canvas.drawRect(screen, fill(mixed(colours.sky[0], colours.dark, 0.3)))
    for bar in range(6):
        high = 0.05 + 0.12 * abs(math.sin(air.seed + bar * 1.3 + seconds * 0.5))
        place = skia.Rect.MakeXYWH(screen.left() + 0.03 + bar * 0.05, screen.bottom() - 0.02 - high, 0.032, high)
        canvas.drawRect(place, fill(colours.accent if bar % 2 else colours.second))
    canvas.drawPath(
        shaped([(left - 0.22, 0.76), (left - 0.19, 0.72), (left + 0.19, 0.72), (left + 0.22, 0.76)]),
        fill(mixed(colours.pale, colours.dark, 0.3)),
    )
    mug(canvas, left + 0.34, 0.76, 0.1, air, seconds)
    plant(canvas, width * 0.1, 0.76, 0.34, air, seconds)
    for book in range(4):
        wide = chance.uniform(0.16, 0.22)
        place = skia.Rect.MakeXYWH(width * 0.8 - wide / 2, 0.735 - 0.03 * book, wide, 0.026)
        canvas.drawRect(place, fill((colours.accent, colours.second, colours.middle, colours.pale)[book]))


def mug(canvas: Any, across: float, foot: float, size: float, air: Air, seconds: float) -> None:
    """A mug with steam, standing at `foot`."""
    colours = air.palette
    canvas.drawCircle(across + size * 0.5, foot - size * 0.5, size * 0.26, line(colours.accent, size * 0.12))
    body = skia.Rect.MakeXYWH(across - size * 0.5, foot - size, size, size)
    canvas.drawRoundRect(body, size * 0.12, size * 0.12, fill(colours.accent))
    canvas.drawRect(
        skia.Rect.MakeXYWH(across - size * 0.5, foot - size * 0.5, size, size * 0.14), fill(colours.pale, 0.9)
    )
    for wisp in (-0.2, 0.08, 0.3):
        path = skia.Path()
        path.moveTo(across + wisp * size, foot - size * 1.1)
        for step in range(1, 13):
            share = step / 12
            swing = math.sin(share * 5 - seconds * 2.2 + wisp * 9) * size * 0.12 * share
            path.lineTo(across + wisp * size + swing, foot - size * (1.1 + 1.1 * share))
        canvas.drawPath(path, line("#FFFFFF", size * 0.07, 0.4))


def plant(canvas: Any, across: float, foot: float, size: float, air: Air, seconds: float) -> None:
    """A plant in a pot, standing at `foot`."""
    colours = air.palette
    for number in range(9):
        angle = -math.pi / 2 + (number - 4) * 0.3 + 0.03 * math.sin(seconds * 0.9 + number)
        tip = (across + size * 0.85 * math.cos(angle), foot - size * 0.3 + size * 0.75 * math.sin(angle))
        middle = ((across + tip[0]) / 2, (foot - size * 0.3 + tip[1]) / 2)
        bend = (0.12 * size * math.sin(angle), -0.12 * size * math.cos(angle))
        leaf = skia.Path()
        leaf.moveTo(across, foot - size * 0.3)
        leaf.quadTo(middle[0] + bend[0], middle[1] + bend[1], *tip)
        leaf.quadTo(middle[0] - bend[0], middle[1] - bend[1], across, foot - size * 0.3)
        canvas.drawPath(leaf, fill(colours.near if number % 2 else colours.middle))
    pot = [
        (across - size * 0.2, foot - size * 0.34),
        (across + size * 0.2, foot - size * 0.34),
        (across + size * 0.14, foot),
        (across - size * 0.14, foot),
    ]
    canvas.drawPath(shaped(pot), fill(mixed(colours.accent, "#8A4B2A", 0.4)))
