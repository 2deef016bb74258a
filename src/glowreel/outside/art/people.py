"""People as figures: one from near, some talking, one walking, a group, one at work."""

from __future__ import annotations

import math
from typing import Any

import skia

from glowreel.outside.art.air import Air, open_sky
from glowreel.outside.art.land import line
from glowreel.outside.art.pieces import fill, mixed, ridge
from glowreel.outside.art.things import room
from glowreel.outside.art.town import office, plant, street

SKINS = ("#F1C9A5", "#DDA77C", "#C28A5E", "#94603C", "#6B4329")
HAIRS = ("#2B1D16", "#5A3A22", "#A9703A", "#D9B36A", "#7C7C80", "#8A3324")


def bust(canvas: Any, across: float, foot: float, size: float, air: Air, who: int, seconds: float, talks: bool) -> None:
    """Head and shoulders, `size` high, standing on `foot`; who it is falls by chance with the number."""
    chance, colours = air.chance(f"person {who}"), air.palette
    skin, hair = chance.choice(SKINS), chance.choice(HAIRS)
    wear = (colours.accent, colours.second, colours.middle, colours.dark)[(who + air.seed) % 4]
    canvas.save()
    canvas.translate(across, foot)
    canvas.scale(size, size)
    canvas.translate(0, 0.006 * math.sin(seconds * 1.6 + who))
    nod = 1.5 * math.sin(seconds * 1.1 + who * 2)
    style = chance.randrange(4)
    canvas.save()
    canvas.rotate(nod, 0, -0.5)
    if style in (1, 3):
        canvas.drawRoundRect(
            skia.Rect.MakeXYWH(-0.19, -0.86, 0.38, 0.5 if style == 1 else 0.32), 0.17, 0.17, fill(hair)
        )
    if style == 2:
        canvas.drawCircle(0.02, -0.95, 0.1, fill(hair))
    canvas.restore()
    body = skia.Path()
    body.moveTo(-0.36, 0.02)
    body.cubicTo(-0.36, -0.24, -0.26, -0.33, -0.1, -0.36)
    body.lineTo(0.1, -0.36)
    body.cubicTo(0.26, -0.33, 0.36, -0.24, 0.36, 0.02)
    body.close()
    canvas.drawPath(body, fill(wear))
    canvas.drawRoundRect(skia.Rect.MakeXYWH(-0.065, -0.48, 0.13, 0.18), 0.06, 0.06, fill(mixed(skin, "#5B3522", 0.2)))
    collar = line(mixed(wear, colours.pale, 0.5), 0.03)
    neck = skia.Path()
    neck.moveTo(-0.1, -0.355)
    neck.quadTo(0, -0.25, 0.1, -0.355)
    canvas.drawPath(neck, collar)
    canvas.rotate(nod, 0, -0.5)
    canvas.drawOval(skia.Rect.MakeXYWH(-0.145, -0.84, 0.29, 0.4), fill(skin))
    fringe = skia.Path()
    fringe.moveTo(-0.155, -0.6)
    fringe.cubicTo(-0.2, -0.94, 0.2, -0.94, 0.155, -0.6)
    fringe.cubicTo(0.13, -0.72, 0.02 if style % 2 else -0.06, -0.76, -0.155, -0.6)
    canvas.drawPath(fringe, fill(hair))
    _face(canvas, skin, hair, who, seconds, talks)
    canvas.restore()


def _face(canvas: Any, skin: str, hair: str, who: int, seconds: float, talks: bool) -> None:
    blink = (seconds * 0.4 + who * 0.37) % 1 > 0.96
    for side in (-1, 1):
        eye = skia.Rect.MakeXYWH(side * 0.06 - 0.014, -0.645, 0.028, 0.004 if blink else 0.028)
        canvas.drawOval(eye, fill("#23201C"))
        canvas.drawLine(side * 0.06 - 0.025, -0.685, side * 0.06 + 0.025, -0.685 - 0.004 * side, line(hair, 0.011))
    canvas.drawLine(0.004, -0.62, -0.008, -0.57, line(mixed(skin, "#5B3522", 0.35), 0.009))
    opened = abs(math.sin(seconds * 7 + who)) * 0.035 if talks and math.sin(seconds * 0.9 + who * 2) > 0 else 0.0
    if opened > 0.006:
        canvas.drawOval(skia.Rect.MakeXYWH(-0.038, -0.53, 0.076, 0.012 + opened), fill("#7A2E2E"))
    else:
        smile = skia.Path()
        smile.moveTo(-0.05, -0.525)
        smile.quadTo(0, -0.485, 0.05, -0.525)
        canvas.drawPath(smile, line("#8A3F3A", 0.012))


def portrait(canvas: Any, width: float, seconds: float, air: Air) -> None:
    colours = air.palette
    if air.chance("behind").random() < 0.5:
        room(canvas, width, air, 1.2)
        plant(canvas, width * 0.14, 0.98, 0.6, air, seconds)
    else:
        canvas.drawPaint(fill(mixed(colours.second, colours.pale, 0.45)))
        canvas.drawCircle(width / 2, 0.5, 0.44, fill(mixed(colours.second, colours.pale, 0.15)))
    bust(canvas, width / 2, 1.02, 0.98, air, 1, seconds, True)


def talk(canvas: Any, width: float, seconds: float, air: Air) -> None:
    room(canvas, width, air, 0.84)
    many = 2 if width < 1.3 else 3
    for number in range(many):
        share = (number + 0.5) / many
        bust(canvas, width * share, 1.0 if number % 2 else 0.96, 0.72, air, number + 3, seconds, True)


def meeting(canvas: Any, width: float, seconds: float, air: Air) -> None:
    office(canvas, width, seconds, air)
    for number, share in enumerate((0.2, 0.52, 0.84)):
        bust(canvas, width * share, 1.04, 0.62, air, number + 5, seconds, number == 1)


def walker(
    canvas: Any, across: float, foot: float, size: float, air: Air, who: int, seconds: float, pace: float
) -> None:
    """A whole figure, `size` high, that walks on the spot; `pace` in steps a second, more than 2 is a run."""
    chance, colours = air.chance(f"walker {who}"), air.palette
    skin, hair = chance.choice(SKINS), chance.choice(HAIRS)
    wear = (colours.accent, colours.second, colours.pale, colours.dark)[(who + air.seed) % 4]
    legs = (colours.dark, mixed(colours.near, colours.dark, 0.5))[who % 2]
    turn = seconds * pace * math.pi + who
    reach = 0.42 if pace < 2 else 0.75
    canvas.save()
    canvas.translate(across, foot - 0.012 * abs(math.sin(turn)))
    canvas.scale(size, size)
    hip, shoulder = (0.0, -0.5), (0.02, -0.78)

    def limb(start: tuple[float, float], angle: float, bend: float, long: float, pen: Any) -> tuple[float, float]:
        knee = (start[0] + long * math.sin(angle), start[1] + long * math.cos(angle))
        end = (knee[0] + long * math.sin(angle - bend), knee[1] + long * math.cos(angle - bend))
        path = skia.Path()
        path.moveTo(*start)
        path.lineTo(*knee)
        path.lineTo(*end)
        canvas.drawPath(path, pen)
        return end

    for side in (1, -1):
        swing = math.sin(turn) * side
        pen = line(legs if side < 0 else mixed(legs, colours.dark, 0.5), 0.085)
        end = limb(hip, reach * swing, max(0.05, -0.9 * math.cos(turn) * side * reach + 0.2), 0.24, pen)
        canvas.drawLine(end[0], end[1], end[0] + 0.07, end[1], line(colours.dark, 0.05))
        if side > 0:
            limb(shoulder, -reach * swing, -0.5, 0.17, line(mixed(skin, colours.dark, 0.25), 0.055))
    canvas.drawLine(0.0, -0.5, 0.02, -0.76, line(wear, 0.19))
    hand = limb(shoulder, reach * math.sin(turn), -0.5, 0.17, line(mixed(wear, colours.dark, 0.15), 0.065))
    canvas.drawCircle(*hand, 0.03, fill(skin))
    canvas.drawCircle(0.035, -0.95, 0.085, fill(skin))
    canvas.drawArc(skia.Rect.MakeXYWH(-0.06, -1.045, 0.19, 0.19), 150, 200, True, fill(hair))
    canvas.restore()


def walk(canvas: Any, width: float, seconds: float, air: Air) -> None:
    street(canvas, width, seconds, air)
    for number, size in enumerate((0.3, 0.34, 0.42)):
        way = (seconds * (0.05 + 0.02 * number) + 0.33 * number + 0.1) % 1.3 - 0.12
        walker(canvas, width * way, 0.93 + 0.025 * number, size, air, number + 2, seconds, 1.4)


def runner(canvas: Any, width: float, seconds: float, air: Air) -> None:
    open_sky(canvas, width, seconds, air, 0.7)
    colours = air.palette
    ridge(canvas, width, 0.62, 0.06, colours.far, air.seed + 2, seconds * 0.05)
    ridge(canvas, width, 0.76, 0.03, colours.middle, air.seed + 3, seconds * 0.15)
    ridge(canvas, width, 0.88, 0.012, colours.near, air.seed + 4, seconds * 0.5)
    canvas.drawRect(skia.Rect.MakeLTRB(0, 0.9, width, 1.01), fill(mixed(colours.near, colours.dark, 0.3)))
    walker(canvas, width * 0.46, 0.94, 0.6, air, 4, seconds, 2.6)


def group(canvas: Any, width: float, seconds: float, air: Air) -> None:
    colours = air.palette
    canvas.drawPaint(fill(mixed(colours.sky[1], colours.pale, 0.4)))
    canvas.drawCircle(width / 2, 0.62, 0.6, fill(mixed(colours.second, colours.pale, 0.5)))
    many = max(3, round(width * 3))
    for row in (0, 1):
        for number in range(many - row):
            share = (number + 0.5 + 0.5 * row) / many
            bust(canvas, width * share, 0.86 + 0.22 * row, 0.56, air, number + 11 * row, seconds, False)
