"""Pieces that pictures are painted from. Units are frame heights, the origin is top left."""

from __future__ import annotations

import math
import random
from typing import Any

import skia

INK, DUSK, EMBER, GLOW, TIDE, CREAM = "#23201C", "#2C2A4A", "#C8430B", "#F6B73C", "#2F6F87", "#F6F1E7"
PLUM, MOSS, STRAW, CLAY = "#7A4B7D", "#4F7A57", "#C9A24B", "#B4654A"


def rgb(value: str, alpha: float = 1.0) -> int:
    return (round(max(0.0, min(1.0, alpha)) * 255) << 24) | int(value[1:], 16)


def mixed(a: str, b: str, share: float) -> str:
    """A colour between two."""
    pairs = zip((1, 3, 5), (1, 3, 5), strict=True)
    values = [round(int(a[i : i + 2], 16) * (1 - share) + int(b[j : j + 2], 16) * share) for i, j in pairs]
    return "#" + "".join(f"{v:02X}" for v in values)


def fill(value: str, alpha: float = 1.0) -> Any:
    return skia.Paint(AntiAlias=True, Color=rgb(value, alpha))


def sky(canvas: Any, width: float, stops: list[str], height: float = 1.0) -> None:
    """A vertical gradient over the frame."""
    shader = skia.GradientShader.MakeLinear([skia.Point(0, 0), skia.Point(0, height)], [rgb(c) for c in stops])
    canvas.drawRect(skia.Rect.MakeWH(width, 1), skia.Paint(Shader=shader, Dither=True))


def sun(canvas: Any, x: float, y: float, radius: float, colour: str = "#FDEFC8", halo: float = 0.22) -> None:
    for scale, alpha in ((2.4, halo), (1.6, halo)):
        canvas.drawCircle(x, y, radius * scale, fill(colour, alpha))
    canvas.drawCircle(x, y, radius, fill(colour))


def ridge(canvas: Any, width: float, base: float, swell: float, colour: str, seed: int, shift: float = 0.0) -> None:
    """A layer of hills: sines of several lengths, moved sideways by `shift` for parallax."""
    rng = random.Random(seed)
    waves = [(rng.uniform(0.5, 1.1), rng.uniform(0, 6.3), 1.0), (rng.uniform(1.6, 2.6), rng.uniform(0, 6.3), 0.35)]
    waves.append((rng.uniform(4, 6), rng.uniform(0, 6.3), 0.08))
    path = skia.Path()
    path.moveTo(0, 1.01)
    for n in range(121):
        x = width * n / 120
        high = sum(math.sin((x + shift) * 2.2 * f + phase) * size for f, phase, size in waves)
        path.lineTo(x, base - swell * high)
    path.lineTo(width, 1.01)
    path.close()
    canvas.drawPath(path, fill(colour))


def mist(canvas: Any, width: float, y: float, depth: float, alpha: float, colour: str = CREAM) -> None:
    colours = [rgb(colour, 0), rgb(colour, alpha), rgb(colour, 0)]
    shader = skia.GradientShader.MakeLinear([skia.Point(0, y - depth), skia.Point(0, y + depth)], colours)
    canvas.drawRect(skia.Rect.MakeXYWH(0, y - depth, width, 2 * depth), skia.Paint(Shader=shader, Dither=True))


def envelope(size: float) -> Any:
    """The outline of a balloon's envelope, its crown at 0, its mouth at 1.16 sizes down."""
    path = skia.Path()
    path.moveTo(0, 0)
    path.cubicTo(size * 0.34, 0, size * 0.5, size * 0.24, size * 0.5, size * 0.48)
    path.cubicTo(size * 0.5, size * 0.76, size * 0.26, size * 0.98, size * 0.14, size * 1.16)
    path.lineTo(-size * 0.14, size * 1.16)
    path.cubicTo(-size * 0.26, size * 0.98, -size * 0.5, size * 0.76, -size * 0.5, size * 0.48)
    path.cubicTo(-size * 0.5, size * 0.24, -size * 0.34, 0, 0, 0)
    path.close()
    return path


def balloon(
    canvas: Any, x: float, y: float, size: float, colours: tuple[str, str, str], sway: float = 0.0, lit: float = 0.0
) -> None:
    """A balloon with striped panels, crown at (x, y), `size` wide. `lit` makes it glow from inside, 0 to 1."""
    main, second, band = colours
    canvas.save()
    canvas.translate(x, y)
    canvas.rotate(sway, 0, size * 0.6)
    if lit:
        halo = skia.GradientShader.MakeRadial(
            skia.Point(0, size * 0.55), size * 1.25, [rgb(GLOW, 0.34 * lit), rgb(GLOW, 0)]
        )
        canvas.drawCircle(0, size * 0.55, size * 1.25, skia.Paint(Shader=halo))
    outline = envelope(size)
    canvas.save()
    canvas.clipPath(outline, True)
    canvas.drawPaint(fill(main))
    for left, right, colour in ((-0.36, -0.2, second), (0.2, 0.36, second), (-0.07, 0.07, second)):
        bulge = skia.Path()
        bulge.moveTo(0, -0.02 * size)
        bulge.cubicTo(left * 1.5 * size, 0.2 * size, left * 1.5 * size, 0.75 * size, left * 0.45 * size, 1.2 * size)
        bulge.lineTo(right * 0.45 * size, 1.2 * size)
        bulge.cubicTo(right * 1.5 * size, 0.75 * size, right * 1.5 * size, 0.2 * size, 0, -0.02 * size)
        canvas.drawPath(bulge, fill(colour))
    canvas.drawRect(skia.Rect.MakeXYWH(-size, size * 0.6, size * 2, size * 0.085), fill(band, 0.92))
    shade = skia.GradientShader.MakeLinear(
        [skia.Point(-size * 0.5, 0), skia.Point(size * 0.5, 0)],
        [rgb("#FFFFFF", 0.2), rgb("#FFFFFF", 0), rgb(INK, 0.24)],
    )
    canvas.drawPaint(skia.Paint(Shader=shade))
    if lit:
        glow = skia.GradientShader.MakeRadial(
            skia.Point(0, size * 1.1), size * 1.05, [rgb("#FFE9A8", 0.85 * lit), rgb(EMBER, 0.05 * lit)]
        )
        canvas.drawPaint(skia.Paint(Shader=glow))
    canvas.restore()
    rope = skia.Paint(AntiAlias=True, Color=rgb("#5B4632"), StrokeWidth=size * 0.014, Style=skia.Paint.kStroke_Style)
    for side in (-1, 1):
        canvas.drawLine(side * size * 0.12, size * 1.16, side * size * 0.085, size * 1.36, rope)
    basket(canvas, 0, size * 1.34, size * 0.2)
    canvas.restore()


def basket(canvas: Any, x: float, y: float, size: float) -> None:
    """A wicker basket, `size` wide, its rim's middle at (x, y)."""
    canvas.drawRoundRect(
        skia.Rect.MakeXYWH(x - size / 2, y, size, size * 0.72), size * 0.1, size * 0.1, fill("#6E4A2E")
    )
    weave = skia.Paint(AntiAlias=True, Color=rgb("#8C6340"), StrokeWidth=size * 0.05)
    for n in range(1, 5):
        level = y + size * 0.72 * n / 5
        canvas.drawLine(x - size * 0.44, level, x + size * 0.44, level, weave)
    canvas.drawRoundRect(
        skia.Rect.MakeXYWH(x - size * 0.54, y - size * 0.05, size * 1.08, size * 0.14),
        size * 0.07,
        size * 0.07,
        fill("#4A3120"),
    )


def trees(canvas: Any, width: float, y: float, colour: str, seed: int, shift: float = 0.0, scale: float = 1.0) -> None:
    """A scatter of round and pointed trees along a line."""
    rng = random.Random(seed)
    for _ in range(26):
        x = (rng.uniform(0, width * 1.6) - shift) % (width * 1.6) - width * 0.3
        high = rng.uniform(0.02, 0.05) * scale
        foot = y + rng.uniform(-0.012, 0.02)
        if rng.random() < 0.5:
            path = skia.Path()
            path.moveTo(x, foot - high * 1.5)
            path.lineTo(x + high * 0.42, foot)
            path.lineTo(x - high * 0.42, foot)
            path.close()
            canvas.drawPath(path, fill(colour))
        else:
            canvas.drawCircle(x, foot - high * 0.6, high * 0.5, fill(colour))
            canvas.drawRect(
                skia.Rect.MakeXYWH(x - high * 0.05, foot - high * 0.4, high * 0.1, high * 0.4), fill(colour)
            )


def stars(canvas: Any, width: float, seed: int, blink: float) -> None:
    rng = random.Random(seed)
    for _ in range(110):
        x, y, size = rng.uniform(0, width), rng.uniform(0, 0.6), rng.uniform(0.0008, 0.0022)
        canvas.drawCircle(x, y, size, fill(CREAM, 0.45 + 0.45 * math.sin(blink + rng.uniform(0, 6.3))))
