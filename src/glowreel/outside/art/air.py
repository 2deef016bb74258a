"""The colours of a picture, and what the hour, the season and the weather do to it."""

from __future__ import annotations

import math
import random
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import skia

from glowreel.outside.art.pieces import fill, mist, mixed, rgb, stars, sun


@dataclass(frozen=True)
class Palette:
    """The roles of colour in a picture: three of the sky from above to the horizon, three of the ground from far to
    near, two that draw the eye, one pale, one dark."""

    sky: tuple[str, str, str]
    far: str
    middle: str
    near: str
    accent: str
    second: str
    pale: str
    dark: str


PALETTES: dict[str, Palette] = {
    "meadow": Palette(("#6FA8C9", "#A9D0D6", "#E6EED6"), "#A7C69B", "#74A576", "#3F6B4B", "#E4572E", "#F2B134",
                      "#FAF4E3", "#22382C"),
    "harbour": Palette(("#3E7CA6", "#7FB5CB", "#DCEBE6"), "#7C9FB0", "#4C7A92", "#23495E", "#E76F3C", "#F4D35E",
                       "#F5F1E6", "#142C3B"),
    "ember": Palette(("#C9583A", "#EB9A57", "#F9D9A0"), "#C98A66", "#9A5A4A", "#5B3140", "#F6B73C", "#2F6F87",
                     "#FBF0DC", "#33202C"),
    "plum": Palette(("#4A3F78", "#94658F", "#E7B2A4"), "#8B6C93", "#64507F", "#392F5A", "#F3A65A", "#6FC0B4",
                    "#F7EBE4", "#231C3C"),
    "citrus": Palette(("#6FC3BE", "#B6E0C2", "#F7F1B9"), "#B7CF6E", "#8BB04C", "#4C7A3B", "#F26A2E", "#FFD23F",
                      "#FFFBE8", "#27402A"),
    "slate": Palette(("#5C6B7A", "#93A2AE", "#DADFE0"), "#8C99A3", "#647482", "#3A4753", "#D9593D", "#E9C46A",
                     "#F2F1EC", "#20282F"),
    "rose": Palette(("#C77F8F", "#E8AFA9", "#F9DFCB"), "#C9929A", "#A26478", "#6B3C56", "#E63F5C", "#3C8D8B",
                    "#FDF2EA", "#3A2233"),
    "mint": Palette(("#77BFB0", "#B4DECC", "#EFF7E1"), "#95C7AE", "#5FA08A", "#2F6B60", "#F2785C", "#F6C453",
                    "#FAFBF1", "#173A35"),
    "desert": Palette(("#4F93A8", "#B9CDB9", "#F3DDB3"), "#DDB27C", "#C28856", "#8A5639", "#B8392E", "#2C7A7B",
                      "#FBF1DF", "#3B2519"),
    "berry": Palette(("#5B4B8A", "#A77CB5", "#F0C6D2"), "#9D83B8", "#7B5A9C", "#4A3273", "#E23D74", "#F2C14E",
                     "#FBF0F4", "#281A44"),
}  # fmt: skip
"""By name."""

HOURS: dict[str, tuple[tuple[str, str, str] | None, str, float]] = {
    "morning": (("#7C8FB8", "#E3B3A3", "#FBE3BE"), "#F3C9A0", 0.16),
    "day": (None, "#FFFFFF", 0.0),
    "evening": (("#4B3D74", "#C9636A", "#F8B56B"), "#8A3F5C", 0.24),
    "night": (("#0F1230", "#1D2148", "#3A3768"), "#12143A", 0.62),
}
"""Sky (by half with the palette's own), and the colour that lies over everything with its share."""

SEASONS: dict[str, tuple[str, float]] = {
    "spring": ("#9FCB6B", 0.18), "summer": ("#6FA64A", 0.0), "autumn": ("#C8742C", 0.42), "winter": ("#E9F0F6", 0.5),
}  # fmt: skip
"""What the ground's colours are mixed with, and how much."""

WEATHERS = ("clear", "clouds", "rain", "snow", "mist")


def of_colours(colours: Sequence[str]) -> Palette:
    """A palette from a few colours, such as a brand's: the darkest and the palest keep their roles, the others draw the
    eye and tint sky and ground."""
    by_light = sorted(dict.fromkeys(colours), key=_lightness)
    dark, pale = by_light[0], by_light[-1]
    strong = sorted(by_light, key=_strength, reverse=True)
    accent, second = strong[0], strong[1 % len(strong)]
    ground = strong[2 % len(strong)]
    dark = mixed(dark, "#12131C", 0.6 if _lightness(dark) > 90 else 0.1)
    pale = mixed(pale, "#FFFFFF", 0.75 if _lightness(pale) < 200 else 0.15)
    return Palette(
        (mixed(second, dark, 0.25), mixed(second, pale, 0.5), mixed(pale, accent, 0.12)),
        mixed(ground, pale, 0.5), mixed(ground, pale, 0.18), mixed(ground, dark, 0.5), accent, second, pale, dark,
    )  # fmt: skip


def _parts(colour: str) -> tuple[int, int, int]:
    return int(colour[1:3], 16), int(colour[3:5], 16), int(colour[5:7], 16)


def _lightness(colour: str) -> float:
    red, green, blue = _parts(colour)
    return 0.299 * red + 0.587 * green + 0.114 * blue


def _strength(colour: str) -> int:
    parts = _parts(colour)
    return max(parts) - min(parts)


@dataclass(frozen=True)
class Air:
    """What a subject is painted in: colours as the hour and the season leave them, and what is left to chance."""

    palette: Palette
    hour: str = "day"
    season: str = "summer"
    weather: str = "clear"
    seed: int = 0

    def chance(self, what: str) -> random.Random:
        """What falls by chance, always in the same way for the same seed."""
        return random.Random(f"{self.seed}/{what}")

    @property
    def dark(self) -> bool:
        return self.hour == "night"


def air_of(palette: Palette, hour: str, season: str, weather: str, seed: int) -> Air:
    """The palette as hour, season and weather leave it."""
    tint, share = SEASONS[season]
    ground: dict[str, Any] = {role: mixed(getattr(palette, role), tint, share * part)
              for role, part in (("far", 0.7), ("middle", 0.9), ("near", 0.6))}  # fmt: skip
    sky, over, much = HOURS[hour]
    found = replace(palette, **ground)
    stops = found.sky if sky is None else tuple(mixed(a, b, 0.72) for a, b in zip(found.sky, sky, strict=True))
    if weather in ("clouds", "rain", "snow", "mist"):
        grey = {"clouds": 0.25, "rain": 0.6, "snow": 0.55, "mist": 0.45}[weather]
        stops = tuple(mixed(stop, "#56616C" if hour == "night" else "#B4BEC4", grey) for stop in stops)
    roles: dict[str, Any] = {
        role: mixed(getattr(found, role), over, much * part)
        for role, part in (("far", 1), ("middle", 1), ("near", 0.9), ("accent", 0.35), ("second", 0.35), ("pale", 0.5))
    }
    return Air(replace(found, sky=(stops[0], stops[1], stops[2]), **roles), hour, season, weather, seed)


def open_sky(canvas: Any, width: float, seconds: float, air: Air, horizon: float = 0.7) -> None:
    """The sky to the horizon with what stands in it: sun, moon and stars, clouds."""
    stops = [rgb(colour) for colour in air.palette.sky]
    shader = skia.GradientShader.MakeLinear([skia.Point(0, 0), skia.Point(0, horizon)], stops)
    canvas.drawPaint(skia.Paint(Shader=shader, Dither=True))
    chance = air.chance("sky")
    across = chance.choice((0.24, 0.3, 0.7, 0.78))
    if air.dark:
        stars(canvas, width, air.seed, seconds)
        sun(canvas, width * across, 0.2, 0.055, "#F4EED8", 0.1)
    elif air.weather in ("clear", "clouds"):
        low = {"day": 0.22, "morning": horizon - 0.12, "evening": horizon - 0.09}[air.hour]
        drift = {"day": 0.0, "morning": -0.008, "evening": 0.008}[air.hour] * seconds
        sun(canvas, width * across, low + drift, 0.075, mixed("#FFF0C2", air.palette.sky[2], 0.25))
    if air.weather != "clear" or chance.random() < 0.5:
        clouds(canvas, width, seconds, air, horizon)


def clouds(canvas: Any, width: float, seconds: float, air: Air, horizon: float) -> None:
    chance = air.chance("clouds")
    many = 4 if air.weather == "clear" else 9
    colour = mixed(air.palette.pale, air.palette.sky[1], 0.55 if air.dark or air.weather == "rain" else 0.2)
    for _ in range(many):
        size = chance.uniform(0.05, 0.13)
        across = (chance.uniform(0, width * 1.4) + seconds * 0.012 * (0.6 + size * 6)) % (width * 1.4) - width * 0.2
        high = chance.uniform(0.06, horizon * 0.6)
        cloud = skia.Path()
        for step in range(5):
            share = step / 4
            radius = size * (0.34 + 0.3 * math.sin(math.pi * share)) * chance.uniform(0.85, 1.1)
            cloud.addCircle(across + (share - 0.5) * size * 2.4, high - radius * 0.4, radius)
        canvas.save()
        canvas.clipRect(skia.Rect.MakeLTRB(-1, -1, width + 1, high + size * 0.06), True)
        canvas.drawPath(cloud, fill(colour, 0.9))
        canvas.restore()


def weather(canvas: Any, width: float, seconds: float, air: Air) -> None:
    """What falls or lies before everything."""
    chance = air.chance("weather")
    if air.weather == "mist":
        for level in (0.5, 0.66, 0.82):
            mist(canvas, width, level + 0.01 * math.sin(seconds * 0.5 + level * 9), 0.14, 0.5, air.palette.sky[2])
    elif air.weather == "rain":
        drops = skia.Paint(AntiAlias=True, Color=rgb("#E8F1F5", 0.42), StrokeWidth=0.0025)
        for _ in range(170):
            across, fast = chance.uniform(-0.2, width + 0.2), chance.uniform(1.1, 1.7)
            down = (chance.uniform(0, 1.2) + seconds * fast) % 1.2 - 0.1
            canvas.drawLine(across - down * 0.08, down, across - down * 0.08 - 0.006, down + 0.05, drops)
    elif air.weather == "snow":
        for _ in range(150):
            size, phase = chance.uniform(0.002, 0.007), chance.uniform(0, 6.3)
            across = chance.uniform(-0.05, width + 0.05) + 0.02 * math.sin(seconds * 0.8 + phase)
            down = (chance.uniform(0, 1.1) + seconds * (0.05 + size * 12)) % 1.1 - 0.05
            canvas.drawCircle(across, down, size, fill("#FFFFFF", 0.85))
