"""The footage and photos: each a function of time that paints a frame of height 1."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import skia

from glowreel.demo.generate import art
from glowreel.demo.generate.art import fill, rgb

Paint = Callable[[Any, float, float], None]
"""Paints a frame: canvas, width (height is 1), seconds."""


@dataclass(frozen=True)
class Shot:
    name: str
    paint: Paint
    width: int
    height: int
    rate: int
    seconds: float
    noise: str = ""


def dawn_ridge(c: Any, w: float, t: float) -> None:
    art.sky(c, w, ["#3B3563", "#8A5177", "#E08A6B", "#F9D08B"], 0.8)
    art.sun(c, w * 0.3, 0.66 - 0.018 * t, 0.085)
    art.ridge(c, w, 0.66, 0.05, "#8C5E7E", 3, t * 0.008)
    art.balloon(c, w * 0.66 + 0.006 * t, 0.16 - 0.008 * t, 0.17, art.RED_ONE, math.sin(t * 0.9) * 1.2)
    art.balloon(c, w * 0.44, 0.32 - 0.006 * t, 0.075, art.GOLD_ONE, math.sin(t + 1) * 1.5)
    art.mist(c, w, 0.68, 0.07, 0.5, "#FBD9B0")
    art.ridge(c, w, 0.75, 0.045, "#5F4470", 5, t * 0.016)
    art.balloon(c, w * 0.85 - 0.004 * t, 0.36 - 0.012 * t, 0.095, art.BLUE_ONE, math.sin(t * 0.8 + 2) * 1.5)
    art.mist(c, w, 0.8, 0.05, 0.35, "#F6C79C")
    art.ridge(c, w, 0.86, 0.04, "#41335A", 9, t * 0.03)
    art.trees(c, w, 0.88, "#2F2747", 2, t * 0.03)
    art.ridge(c, w, 0.95, 0.02, "#292242", 11, t * 0.05)


def over_the_fields(c: Any, w: float, t: float) -> None:
    art.sky(c, w, ["#7DB1C6", "#B5D5D3", "#E9EFD9"], 0.75)
    art.sun(c, w * 0.19, 0.27, 0.11, "#F8EFC9", 0.3)
    art.ridge(c, w, 0.66, 0.04, "#A9C79C", 7, t * 0.01)
    art.balloon(c, w * 0.24 + 0.004 * t, 0.25 + 0.004 * t, 0.12, art.RED_ONE, math.sin(t) * 1.5)
    art.balloon(c, w * 0.8, 0.23 - 0.003 * t, 0.11, art.GOLD_ONE, math.sin(t + 2) * 1.5)
    art.ridge(c, w, 0.74, 0.05, "#7FAE7E", 8, t * 0.02)
    art.mist(c, w, 0.76, 0.05, 0.3)
    art.balloon(c, w * 0.5 + 0.008 * t, 0.13 + 0.006 * math.sin(t * 0.7), 0.36, art.BLUE_ONE, math.sin(t * 0.6) * 0.9)
    art.ridge(c, w, 0.86, 0.04, "#5E9068", 13, t * 0.035)
    art.trees(c, w, 0.885, "#3F6B4B", 6, t * 0.035)
    art.ridge(c, w, 0.96, 0.025, "#44704E", 15, t * 0.06)


def basket_view(c: Any, w: float, t: float) -> None:
    art.sky(c, w, ["#F6B73C", "#F8CE7D", "#FBE8BE"], 0.8)
    art.sun(c, w * 0.62, 0.38, 0.12, "#FFF3CF", 0.3)
    for n, (base, colour) in enumerate(((0.62, "#E0A765"), (0.7, "#CC8552"), (0.79, "#B4654A"))):
        art.ridge(c, w, base, 0.045, colour, 20 + n, t * (0.02 + 0.02 * n))
        art.mist(c, w, base + 0.06, 0.04, 0.28)
    art.balloon(c, w * 0.3 - 0.006 * t, 0.22, 0.13, art.EMBER_ONE, math.sin(t) * 1.3)
    art.balloon(c, w * 0.86, 0.3 - 0.005 * t, 0.08, art.GREEN_ONE, math.sin(t + 2) * 1.6)
    rope = skia.Paint(AntiAlias=True, Color=rgb("#4A3120"), StrokeWidth=0.012)
    sway = math.sin(t * 0.9) * 0.008
    for x in (0.1, 0.9):
        c.drawLine(w * x + sway, 0.84, w * (0.5 + (x - 0.5) * 0.72) + sway * 2, -0.02, rope)
    c.drawRoundRect(skia.Rect.MakeXYWH(-0.05, 0.84 + sway, w + 0.1, 0.3), 0.02, 0.02, fill("#6E4A2E"))
    weave = skia.Paint(AntiAlias=True, Color=rgb("#8C6340"), StrokeWidth=0.012)
    for n in range(60):
        x = w * n / 59
        c.drawLine(x, 0.88 + sway, x + 0.03, 1.02, weave)
    c.drawRoundRect(skia.Rect.MakeXYWH(-0.05, 0.815 + sway, w + 0.1, 0.05), 0.025, 0.025, fill("#4A3120"))


def burner(c: Any, w: float, t: float) -> None:
    art.sky(c, w, ["#F3E6CC", "#E9C98F"], 1)
    middle = w / 2
    for n in range(12):
        angle = math.tau * n / 12 + 0.02 * t
        wedge = skia.Path()
        wedge.moveTo(middle, 0.4)
        for edge in (angle, angle + math.tau / 12):
            wedge.lineTo(middle + 1.4 * math.cos(edge), 0.4 + 1.4 * math.sin(edge))
        wedge.close()
        c.drawPath(wedge, fill((art.EMBER, art.GLOW, art.CREAM)[n % 3]))
    for radius in (0.62, 0.42, 0.24):
        ring = skia.Paint(AntiAlias=True, Color=rgb(art.DUSK, 0.35), StrokeWidth=0.006, Style=skia.Paint.kStroke_Style)
        c.drawCircle(middle, 0.4, radius, ring)
    c.drawCircle(middle, 0.4, 0.085, fill(art.DUSK))
    burst = 0.5 + 0.5 * math.tanh(4 * math.sin(t * 1.6))
    flicker = 1 + 0.06 * math.sin(t * 37) + 0.04 * math.sin(t * 23 + 1)
    glow = skia.GradientShader.MakeRadial(
        skia.Point(middle, 0.6), 0.6, [rgb("#FFF3C4", 0.75 * burst), rgb(art.GLOW, 0)]
    )
    c.drawPaint(skia.Paint(Shader=glow))
    for wide, high, colour in ((0.1, 0.46, art.EMBER), (0.065, 0.36, art.GLOW), (0.03, 0.22, "#FFF6D8")):
        high *= (0.12 + 0.88 * burst) * flicker
        flame = skia.Path()
        flame.moveTo(middle - wide, 0.86)
        flame.cubicTo(
            middle - wide * 1.5, 0.86 - high * 0.5, middle - wide * 0.3, 0.86 - high * 0.7, middle, 0.86 - high
        )
        flame.cubicTo(
            middle + wide * 0.3, 0.86 - high * 0.7, middle + wide * 1.5, 0.86 - high * 0.5, middle + wide, 0.86
        )
        flame.close()
        c.drawPath(flame, fill(colour, 0.94))
    c.drawRoundRect(skia.Rect.MakeXYWH(middle - 0.13, 0.855, 0.26, 0.05), 0.015, 0.015, fill("#5A5F66"))
    c.drawRoundRect(skia.Rect.MakeXYWH(middle - 0.05, 0.9, 0.1, 0.12), 0.015, 0.015, fill("#3E4248"))


def lantern_night(c: Any, w: float, t: float) -> None:
    art.sky(c, w, ["#171635", "#2C2A4A", "#5B4673"], 0.9)
    art.stars(c, w, 4, t * 1.4)
    art.ridge(c, w, 0.74, 0.05, "#2A2648", 31, t * 0.01)
    for n, (x, y, size, colours) in enumerate(
        (
            (0.24, 0.26, 0.17, art.EMBER_ONE),
            (0.5, 0.12, 0.25, art.RED_ONE),
            (0.78, 0.3, 0.15, art.GREEN_ONE),
            (0.63, 0.5, 0.07, art.GOLD_ONE),
        )
    ):
        lit = 0.45 + 0.5 * max(0.0, math.sin(t * 1.3 + n * 1.7))
        art.balloon(c, w * x, y + 0.006 * math.sin(t * 0.8 + n), size, colours, math.sin(t * 0.7 + n), lit)
    art.ridge(c, w, 0.83, 0.04, "#201D3A", 33, t * 0.02)
    art.mist(c, w, 0.84, 0.05, 0.12, art.GLOW)
    art.ridge(c, w, 0.94, 0.03, "#15132A", 35, t * 0.04)


def landing(c: Any, w: float, t: float) -> None:
    art.sky(c, w, ["#F2A65A", "#F7C886", "#FCEBC7"], 0.8)
    art.sun(c, w * 0.78, 0.4, 0.09, "#FFF3CF", 0.3)
    art.ridge(c, w, 0.66, 0.04, "#D89A66", 41, 0)
    art.mist(c, w, 0.7, 0.05, 0.4)
    art.ridge(c, w, 0.75, 0.03, "#B9784F", 43, 0)
    down = min(1.0, t / 6.5)
    eased = 1 - (1 - down) ** 2
    y = 0.02 + 0.3 * eased
    c.drawOval(skia.Rect.MakeXYWH(w * 0.4 - 0.09, 0.845, 0.18, 0.02), fill("#5B3A28", 0.15 + 0.3 * eased))
    art.ridge(c, w, 0.82, 0.015, "#9C5F42", 45, 0)
    art.balloon(c, w * 0.28 + w * 0.12 * eased, y, 0.34, art.EMBER_ONE, math.sin(t * 0.8) * (1.6 - eased))
    art.trees(c, w, 0.93, "#6B3F2C", 8, 0, 1.6)
    art.ridge(c, w, 0.965, 0.012, "#70432F", 47, 0)


def mist_valley(c: Any, w: float, t: float) -> None:
    art.sky(c, w, ["#5E7FA3", "#C79FA8", "#F4CFA4", "#FBE9C6"], 0.85)
    art.sun(c, w * 0.7, 0.42 - 0.006 * t, 0.06)
    for n, colour in enumerate(("#9A89A8", "#7C7399", "#5D5C86", "#43466E", "#2F3357")):
        art.ridge(c, w, 0.56 + 0.09 * n, 0.035, colour, 50 + n, t * (0.006 + 0.008 * n))
        art.mist(c, w, 0.6 + 0.09 * n, 0.05, 0.4 - 0.05 * n, "#FBE3C8")
        if n == 1:
            art.balloon(c, w * 0.42, 0.2 - 0.008 * t, 0.16, art.RED_ONE, math.sin(t * 0.8) * 1.4)
        if n == 2:
            art.balloon(c, w * 0.72, 0.42 - 0.004 * t, 0.07, art.BLUE_ONE, math.sin(t + 1) * 1.6)


FOOTAGE = (
    Shot("dawn-ridge", dawn_ridge, 1920, 1080, 30, 8),
    Shot("over-the-fields", over_the_fields, 1920, 1080, 25, 10, "wind"),
    Shot("basket-view", basket_view, 1920, 1080, 24, 6, "wind"),
    Shot("burner", burner, 1080, 1920, 30, 6, "burner"),
    Shot("lantern-night", lantern_night, 1920, 1080, 30, 8),
    Shot("landing", landing, 1920, 1080, 25, 8),
    Shot("mist-valley", mist_valley, 1080, 1920, 24, 7),
)


def picnic(c: Any, w: float, t: float) -> None:
    over_the_fields(c, w, 3)
    c.drawRect(skia.Rect.MakeXYWH(0, 0.78, w, 0.3), fill("#4F7A57"))
    cloth = skia.Path()
    for n, (x, y) in enumerate(((0.12, 0.82), (0.88, 0.82), (0.98, 1.02), (0.02, 1.02))):
        (cloth.moveTo if n == 0 else cloth.lineTo)(w * x, y)
    cloth.close()
    c.drawPath(cloth, fill(art.CREAM))
    c.save()
    c.clipPath(cloth, True)
    for n in range(14):
        c.drawRect(skia.Rect.MakeXYWH(w * n / 13 - 0.02, 0.8, 0.035, 0.3), fill(art.EMBER, 0.55))
    for n in range(4):
        c.drawRect(skia.Rect.MakeXYWH(0, 0.83 + 0.06 * n, w, 0.025), fill(art.EMBER, 0.4))
    c.restore()
    art.basket(c, w * 0.3, 0.7, 0.26)
    c.drawRoundRect(skia.Rect.MakeXYWH(w * 0.55, 0.62, 0.075, 0.26), 0.03, 0.03, fill("#2F5A45"))
    c.drawRect(skia.Rect.MakeXYWH(w * 0.55 + 0.025, 0.54, 0.025, 0.1), fill("#2F5A45"))
    c.drawRect(skia.Rect.MakeXYWH(w * 0.55, 0.72, 0.075, 0.08), fill(art.CREAM))
    c.drawOval(skia.Rect.MakeXYWH(w * 0.68, 0.83, 0.26, 0.07), fill("#FFFDF6"))
    for dx, colour in ((0.03, art.GLOW), (0.1, art.EMBER), (0.16, art.MOSS)):
        c.drawCircle(w * 0.68 + dx + 0.03, 0.835, 0.035, fill(colour))


def voucher(c: Any, w: float, t: float) -> None:
    c.drawPaint(fill("#EFE6D6"))
    card = skia.Rect.MakeXYWH(w * 0.14, 0.2, w * 0.72, 0.6)
    c.drawRoundRect(card.makeOffset(0.012, 0.02), 0.03, 0.03, fill(art.INK, 0.16))
    c.save()
    c.clipRRect(skia.RRect.MakeRectXY(card, 0.03, 0.03), True)
    c.translate(w * 0.14, 0.2)
    c.scale(0.6, 0.6)
    dawn_ridge(c, w * 1.2, 2)
    c.restore()
    c.drawRoundRect(skia.Rect.MakeXYWH(w * 0.18, 0.62, w * 0.34, 0.11), 0.02, 0.02, fill(art.CREAM, 0.95))
    art.mark(c, w * 0.215, 0.643, 0.046, art.EMBER, art.DUSK)
    for n, wide in enumerate((0.22, 0.15)):
        c.drawRoundRect(skia.Rect.MakeXYWH(w * 0.25, 0.65 + 0.03 * n, w * wide, 0.014), 0.007, 0.007, fill(art.DUSK))


def pilot(c: Any, w: float, t: float) -> None:
    c.drawPaint(fill("#1FB455"))
    x = w * 0.5
    c.drawRoundRect(skia.Rect.MakeXYWH(x - 0.26, 0.62, 0.52, 0.5), 0.16, 0.16, fill(art.DUSK))
    c.drawRoundRect(skia.Rect.MakeXYWH(x - 0.07, 0.5, 0.14, 0.18), 0.06, 0.06, fill("#C98F66"))
    c.drawOval(skia.Rect.MakeXYWH(x - 0.13, 0.22, 0.26, 0.34), fill("#DDA77C"))
    hair = skia.Path()
    hair.moveTo(x - 0.145, 0.38)
    hair.cubicTo(x - 0.18, 0.1, x + 0.18, 0.1, x + 0.145, 0.38)
    hair.cubicTo(x + 0.1, 0.26, x - 0.06, 0.3, x - 0.145, 0.38)
    c.drawPath(hair, fill("#4A2E22"))
    for side in (-1, 1):
        c.drawCircle(x + side * 0.05, 0.39, 0.012, fill(art.INK))
    smile = skia.Path()
    smile.moveTo(x - 0.045, 0.46)
    smile.quadTo(x, 0.5, x + 0.045, 0.46)
    c.drawPath(
        smile, skia.Paint(AntiAlias=True, Color=rgb("#8A4A3A"), StrokeWidth=0.01, Style=skia.Paint.kStroke_Style)
    )
    scarf = skia.Path()
    scarf.moveTo(x - 0.13, 0.6)
    scarf.quadTo(x, 0.72, x + 0.13, 0.6)
    scarf.lineTo(x + 0.15, 0.67)
    scarf.quadTo(x, 0.8, x - 0.15, 0.67)
    scarf.close()
    c.drawPath(scarf, fill(art.EMBER))
    art.mark(c, x + 0.14, 0.78, 0.05)


def route_map(c: Any, w: float, t: float) -> None:
    c.drawPaint(fill("#F1E7CF"))
    for n, colour in enumerate(("#DCE3C0", "#C6D6AE", "#B1C99C")):
        art.ridge(c, w, 0.5 + 0.17 * n, 0.09, colour, 60 + n)
    river = skia.Path()
    river.moveTo(-0.02, 0.3)
    river.cubicTo(w * 0.3, 0.2, w * 0.35, 0.75, w * 0.62, 0.62)
    river.cubicTo(w * 0.8, 0.54, w * 0.85, 0.85, w * 1.02, 0.8)
    c.drawPath(
        river, skia.Paint(AntiAlias=True, Color=rgb("#8DB9C4"), StrokeWidth=0.045, Style=skia.Paint.kStroke_Style)
    )
    route = skia.Path()
    route.moveTo(w * 0.14, 0.78)
    route.cubicTo(w * 0.3, 0.3, w * 0.6, 0.5, w * 0.82, 0.24)
    dashes = skia.DashPathEffect.Make([0.035, 0.022], 0)
    c.drawPath(
        route,
        skia.Paint(
            AntiAlias=True, Color=rgb(art.EMBER), StrokeWidth=0.014, Style=skia.Paint.kStroke_Style, PathEffect=dashes
        ),
    )
    c.drawCircle(w * 0.14, 0.78, 0.025, fill(art.DUSK))
    art.balloon(c, w * 0.82, 0.06, 0.13, art.RED_ONE)


def ridge_square(c: Any, w: float, t: float) -> None:
    dawn_ridge(c, w, 5)


def close_up(c: Any, w: float, t: float) -> None:
    art.sky(c, w, ["#7DB1C6", "#DCEBDD"], 1)
    art.balloon(c, w * 0.5, 0.06, 0.62, art.BLUE_ONE)
    art.mist(c, w, 1.0, 0.2, 0.6)


PHOTOS = (
    Shot("picnic", picnic, 1800, 1200, 1, 0),
    Shot("voucher-card", voucher, 1800, 1200, 1, 0),
    Shot("route-map", route_map, 1800, 1200, 1, 0),
    Shot("pilot-green", pilot, 1400, 1400, 1, 0),
    Shot("ridge-square", ridge_square, 1400, 1400, 1, 0),
    Shot("envelope", close_up, 1400, 1400, 1, 0),
)
