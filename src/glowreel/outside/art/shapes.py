"""Pictures of nothing in particular: waves of colour, soft blobs, lights, sparks, splashes, paper, patterns, rays."""

from __future__ import annotations

import math
from typing import Any

import skia

from glowreel.outside.art.air import Air
from glowreel.outside.art.land import line, shaped
from glowreel.outside.art.pieces import fill, mixed, rgb


def _five(air: Air) -> tuple[str, str, str, str, str]:
    colours = air.palette
    return colours.accent, colours.second, colours.middle, colours.pale, colours.sky[0]


def waves(canvas: Any, width: float, seconds: float, air: Air) -> None:
    colours, chance = air.palette, air.chance("waves")
    canvas.drawPaint(fill(colours.sky[2]))
    for number in range(9):
        share = number / 8
        path = skia.Path()
        path.moveTo(-0.1, 1.1)
        phase, long = chance.uniform(0, 6.3), chance.uniform(1.6, 3.2)
        for step in range(61):
            across = -0.1 + (width + 0.2) * step / 60
            path.lineTo(
                across, 0.12 + 0.1 * number + 0.06 * math.sin(across * long + phase + seconds * 0.5 * (1 + share))
            )
        path.lineTo(width + 0.1, 1.1)
        path.close()
        ramp = (colours.sky[1], colours.accent, colours.second, colours.middle, colours.dark)
        place = share * 3.999
        canvas.drawPath(path, fill(mixed(ramp[int(place)], ramp[int(place) + 1], place % 1), 0.94))


def blobs(canvas: Any, width: float, seconds: float, air: Air) -> None:
    canvas.drawPaint(fill(air.palette.sky[2]))
    chance = air.chance("blobs")
    for number in range(8):
        colour = _five(air)[number % 5]
        angle = chance.uniform(0, 6.3) + seconds * 0.25
        across = width * chance.uniform(0.1, 0.9) + 0.12 * math.cos(angle)
        level, size = chance.uniform(0.1, 0.9) + 0.1 * math.sin(angle * 1.2), chance.uniform(0.4, 0.75)
        glow = skia.GradientShader.MakeRadial(skia.Point(across, level), size, [rgb(colour, 0.9), rgb(colour, 0)])
        canvas.drawPaint(skia.Paint(Shader=glow, Dither=True))


def lights(canvas: Any, width: float, seconds: float, air: Air) -> None:
    colours, chance = air.palette, air.chance("lights")
    canvas.drawPaint(fill(mixed(colours.dark, "#0B0B14", 0.45)))
    for number in range(44):
        size, phase = chance.uniform(0.02, 0.11), chance.uniform(0, 6.3)
        across = (chance.uniform(0, width * 1.2) + seconds * 0.02 * (1 + size * 10)) % (width * 1.2) - 0.1 * width
        level = chance.uniform(0, 1) + 0.02 * math.sin(seconds * 0.6 + phase)
        alpha = 0.2 + 0.22 * math.sin(seconds * 0.9 + phase)
        colour = (colours.second, colours.accent, "#FFF1C4")[number % 3]
        canvas.drawCircle(across, level, size, fill(colour, max(0.05, alpha)))
        canvas.drawCircle(across, level, size, line(colour, 0.003, max(0.08, alpha * 1.4)))


def sparks(canvas: Any, width: float, seconds: float, air: Air) -> None:
    colours, chance = air.palette, air.chance("sparks")
    canvas.drawPaint(fill(mixed(colours.dark, "#0B0B14", 0.5)))
    glow = skia.GradientShader.MakeRadial(
        skia.Point(width / 2, 1.1), 0.9, [rgb(colours.accent, 0.6), rgb(colours.accent, 0)]
    )
    canvas.drawPaint(skia.Paint(Shader=glow, Dither=True))
    for _ in range(130):
        fast, phase = chance.uniform(0.08, 0.3), chance.uniform(0, 6.3)
        share = (chance.random() + seconds * fast) % 1.0
        across = chance.uniform(-0.1, width + 0.1) + 0.05 * math.sin(seconds + phase + share * 5)
        size = chance.uniform(0.002, 0.007) * (1.1 - share)
        canvas.drawCircle(across, 1.05 - share * 1.1, size, fill(chance.choice(("#FFE3A1", colours.second)), 1 - share))


def splash(canvas: Any, width: float, seconds: float, air: Air) -> None:
    canvas.drawPaint(fill(air.palette.pale))
    chance = air.chance("splash")
    for number in range(7):
        born, colour = 0.25 * number, _five(air)[number % 3]
        grown = max(0.0, 1 - math.exp(-(seconds + 0.9 - born) * 2.2)) if seconds + 0.9 > born else 0.0
        across, level = width * chance.uniform(0.12, 0.88), chance.uniform(0.15, 0.85)
        size = chance.uniform(0.14, 0.3) * grown
        spikes = [(chance.uniform(0.7, 1.25), chance.uniform(1.2, 2.0)) for _ in range(14)]
        blot = skia.Path()
        for step in range(57):
            angle = math.tau * step / 56
            far = size * (spikes[step // 4 % 14][0] if step % 4 else 0.85)
            place = (across + far * math.cos(angle), level + far * math.sin(angle))
            (blot.moveTo if step == 0 else blot.lineTo)(*place)
        blot.close()
        pen = fill(colour)
        pen.setPathEffect(skia.CornerPathEffect.Make(0.05))
        canvas.drawPath(blot, pen)
        for step, (_, far) in enumerate(spikes):
            angle = math.tau * step / 14 + number
            canvas.drawCircle(
                across + size * far * math.cos(angle),
                level + size * far * math.sin(angle),
                0.012 + 0.1 * size * abs(math.sin(step * 3)) * 0.5,
                fill(colour),
            )


def paper(canvas: Any, width: float, seconds: float, air: Air) -> None:
    colours, chance = air.palette, air.chance("paper")
    canvas.drawPaint(fill(mixed(colours.pale, colours.far, 0.2)))
    for size, alpha in ((3.0, 0.3), (11.0, 0.35), (60.0, 0.5)):
        fibres = skia.PerlinNoiseShader.MakeFractalNoise(size, size * 1.4, 3, float(air.seed))
        grey = skia.ColorFilters.Matrix([0.9, 0, 0, 0, 0.1, 0.9, 0, 0, 0, 0.1, 0.9, 0, 0, 0, 0.1, 0, 0, 0, 0, alpha])
        canvas.drawPaint(skia.Paint(Shader=fibres, ColorFilter=grey, BlendMode=skia.BlendMode.kSoftLight))
    for _ in range(26):
        across, level, long = chance.uniform(0, width), chance.uniform(0, 1), chance.uniform(0.05, 0.22)
        angle = chance.uniform(0, 3.15)
        crease = line(colours.dark, 0.0015, 0.09)
        canvas.drawLine(across, level, across + long * math.cos(angle), level + long * math.sin(angle), crease)
    shade = skia.GradientShader.MakeRadial(
        skia.Point(width / 2, 0.5), max(width, 1) * 0.75, [rgb("#FFFFFF", 0.25), rgb(colours.dark, 0.22)]
    )
    canvas.drawPaint(skia.Paint(Shader=shade, Dither=True))


def pattern(canvas: Any, width: float, seconds: float, air: Air) -> None:
    chance, colours = air.chance("pattern"), _five(air)
    kind, cell = chance.randrange(4), chance.choice((0.125, 0.2, 0.25))
    canvas.drawPaint(fill(colours[3]))
    shift = seconds * 0.03 % (cell * 4)
    for row in range(-4, math.ceil(1 / cell) + 1):
        for column in range(-4, math.ceil(width / cell) + 1):
            drawn = air.chance(f"{row % 4}/{column % 4}")
            left, top = column * cell + shift, row * cell + shift
            middle, level = left + cell / 2, top + cell / 2
            if kind == 0:
                canvas.drawRect(skia.Rect.MakeXYWH(left, top, cell, cell), fill(drawn.choice(colours)))
                canvas.save()
                canvas.clipRect(skia.Rect.MakeXYWH(left, top, cell, cell), True)
                corner = drawn.choice(((left, top), (left + cell, top), (left, top + cell), (left + cell, top + cell)))
                canvas.drawCircle(*corner, cell, fill(drawn.choice(colours)))
                canvas.restore()
            elif kind == 1:
                canvas.drawCircle(middle, level, cell * drawn.choice((0.2, 0.3, 0.42)), fill(drawn.choice(colours)))
            elif kind == 2:
                canvas.drawPath(
                    shaped([(left, top + cell), (middle, top), (left + cell, top + cell)]), fill(drawn.choice(colours))
                )
            else:
                for ring in (0.5, 0.36, 0.22):
                    canvas.drawArc(
                        skia.Rect.MakeXYWH(
                            middle - cell * ring, top + cell * (1 - ring), cell * ring * 2, cell * ring * 2
                        ),
                        180,
                        180,
                        True,
                        fill(drawn.choice(colours)),
                    )


def confetti(canvas: Any, width: float, seconds: float, air: Air) -> None:
    colours, chance = air.palette, air.chance("confetti")
    canvas.drawPaint(fill(mixed(colours.sky[1], colours.pale, 0.45)))
    for number in range(120):
        fast, turn = chance.uniform(0.12, 0.3), chance.uniform(60, 260)
        across = chance.uniform(0, width) + 0.03 * math.sin(seconds * 1.4 + number)
        level = (chance.uniform(0, 1.2) + seconds * fast) % 1.2 - 0.1
        canvas.save()
        canvas.translate(across, level)
        canvas.rotate(seconds * turn + number * 40)
        canvas.scale(1, abs(math.cos(seconds * 2 + number)) * 0.9 + 0.1)
        colour, size = _five(air)[number % 5], chance.uniform(0.012, 0.026)
        if number % 3:
            canvas.drawRect(skia.Rect.MakeXYWH(-size / 2, -size / 3, size, size * 0.6), fill(colour))
        else:
            canvas.drawCircle(0, 0, size / 2, fill(colour))
        canvas.restore()


def rays(canvas: Any, width: float, seconds: float, air: Air) -> None:
    colours = air.palette
    canvas.drawPaint(fill(colours.second))
    middle = (width * air.chance("rays").choice((0.5, 0.5, 0.2, 0.8)), air.chance("low").choice((0.5, 1.05)))
    for number in range(16):
        angle = math.tau * number / 16 + seconds * 0.08
        far = width + 1.5
        wedge = [
            middle,
            (middle[0] + far * math.cos(angle), middle[1] + far * math.sin(angle)),
            (middle[0] + far * math.cos(angle + math.tau / 32), middle[1] + far * math.sin(angle + math.tau / 32)),
        ]
        canvas.drawPath(shaped(wedge), fill(mixed(colours.second, colours.pale, 0.55)))
    canvas.drawCircle(*middle, 0.2 + 0.006 * math.sin(seconds * 2), fill(colours.accent))


def fireworks(canvas: Any, width: float, seconds: float, air: Air) -> None:
    colours, chance = air.palette, air.chance("fireworks")
    sky = skia.GradientShader.MakeLinear(
        [skia.Point(0, 0), skia.Point(0, 1)], [rgb("#0B0D26"), rgb(mixed(colours.dark, "#2A2450", 0.5))]
    )
    canvas.drawPaint(skia.Paint(Shader=sky, Dither=True))
    for number in range(7):
        share = (seconds * 0.45 + number / 7 + chance.random() * 0.05) % 1.0
        across, level = width * chance.uniform(0.12, 0.88), chance.uniform(0.16, 0.55)
        colour = (colours.accent, colours.second, colours.pale, colours.sky[0])[number % 4]
        far, fade = 0.26 * (1 - (1 - share) ** 3), max(0.0, 1 - share) ** 1.2
        for ray in range(26):
            angle = math.tau * ray / 26
            for part, size in ((1.0, 0.006), (0.72, 0.0045), (0.45, 0.003)):
                place = (
                    across + far * part * math.cos(angle),
                    level + far * part * math.sin(angle) + 0.1 * share * share,
                )
                canvas.drawCircle(*place, size, fill(colour, fade))
    city = air.chance("roofs")
    left = -0.05
    while left < width:
        wide, high = city.uniform(0.06, 0.16), city.uniform(0.08, 0.22)
        canvas.drawRect(skia.Rect.MakeXYWH(left, 1 - high, wide, high + 0.02), fill("#07081A"))
        left += wide


def grid(canvas: Any, width: float, seconds: float, air: Air) -> None:
    """Lines that run to a horizon, with points of light on their way."""
    colours = air.palette
    canvas.drawPaint(fill(mixed(colours.dark, "#080A18", 0.4)))
    horizon, middle = 0.42, width / 2
    glow = skia.GradientShader.MakeRadial(
        skia.Point(middle, horizon), 0.7, [rgb(colours.accent, 0.55), rgb(colours.accent, 0)]
    )
    canvas.drawPaint(skia.Paint(Shader=glow, Dither=True))
    for number in range(-16, 17):
        canvas.drawLine(
            middle + number * 0.03, horizon, middle + number * 0.4, 1.05, line(colours.second, 0.0025, 0.55)
        )
    for number in range(14):
        share = ((number + seconds * 1.2) % 14 / 14) ** 2.6
        level = horizon + 0.62 * share
        canvas.drawLine(0, level, width, level, line(colours.second, 0.001 + 0.004 * share, 0.2 + 0.6 * share))
    chance = air.chance("points")
    for _ in range(30):
        lane, share = chance.randrange(-16, 17), (chance.random() + seconds * 0.3) % 1.0
        deep = share**2.6
        across = middle + lane * (0.03 + 0.37 * deep)
        canvas.drawCircle(across, horizon + 0.63 * deep, 0.003 + 0.01 * deep, fill(colours.pale, 0.9))
