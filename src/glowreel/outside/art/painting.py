"""A painting: what is seen, when, in which weather and colours, in which manner; the same one is always the same."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt
import skia

from glowreel.outside.art import land, people, shapes, things, town
from glowreel.outside.art.air import PALETTES, Air, Palette, air_of, of_colours, weather

Pixels = npt.NDArray[np.uint8]
Paint = Callable[[Any, float, float, Air], None]


@dataclass(frozen=True)
class Subject:
    """Something to be painted: how, the words it goes by, its mood, and whether weather and hours come to it."""

    paint: Paint
    words: str
    mood: str
    outside: bool = True

    @property
    def still(self) -> bool:
        """Whether hardly anything moves in it: then whoever films it goes nearer."""
        return self.paint in STILL


STILL: tuple[Paint, ...] = (
    town.street, things.bread, things.fruit, things.bouquet, things.coffee, things.cake, things.leaves, shapes.paper,
)  # fmt: skip
NEARER = 0.014
"""By how much of its size a still subject grows in a second."""

SUBJECTS: dict[str, Subject] = {
    "hills": Subject(land.hills, "hills valley countryside meadow nature landscape green", "calm"),
    "balloons": Subject(land.balloons, "hot air balloons flight adventure sky freedom travel", "dreamy"),
    "mountains": Subject(land.mountains, "mountains peaks alps snow summit hiking climbing", "grand"),
    "sea": Subject(land.sea, "sea ocean sailing boat waves water horizon", "calm"),
    "beach": Subject(land.beach, "beach sand holiday umbrella coast seaside vacation", "happy"),
    "lake": Subject(land.lake, "lake reflection water shore fishing quiet", "calm"),
    "forest": Subject(land.forest, "forest trees woods conifers pine wild", "mysterious"),
    "desert": Subject(land.desert, "desert dunes sand dry heat cactus", "grand"),
    "fields": Subject(land.fields, "fields rows farm agriculture harvest flowers crops", "calm"),
    "waterfall": Subject(land.waterfall, "waterfall river rocks cascade fresh stream", "fresh"),
    "garden": Subject(land.garden, "garden flowers blossom bloom bees petals", "happy"),
    "city": Subject(town.city, "city skyline towers traffic buildings downtown windows urban", "busy"),
    "street": Subject(town.street, "street shops houses town awnings lamp market neighbourhood", "friendly"),
    "road": Subject(town.road, "road drive journey highway car travel trip trees", "free"),
    "office": Subject(town.office, "office desk computer work business charts screen", "focused", False),
    "coffee": Subject(things.coffee, "coffee cup mug steam breakfast cafe tea hot drink", "cosy", False),
    "cake": Subject(things.cake, "cake birthday party candles dessert sweet celebration", "happy", False),
    "candles": Subject(things.candles, "candles flame light evening warm quiet spa", "cosy", False),
    "fruit": Subject(things.fruit, "fruit bowl apples healthy food fresh kitchen vitamins", "fresh", False),
    "bread": Subject(things.bread, "bread bakery loaf baking food kitchen flour", "cosy", False),
    "bouquet": Subject(things.bouquet, "bouquet vase flowers present florist roses table", "dreamy", False),
    "product": Subject(things.product, "product bottle jar box cosmetics packaging shop goods", "elegant", False),
    "leaves": Subject(things.leaves, "leaves plants frame botanical green natural background", "fresh", False),
    "presents": Subject(things.presents, "presents gifts boxes ribbon bow surprise holiday", "happy", False),
    "portrait": Subject(people.portrait, "portrait person face speaking smile customer", "friendly", False),
    "talk": Subject(people.talk, "people talking friends conversation interview family", "friendly", False),
    "meeting": Subject(people.meeting, "meeting team colleagues business office people work", "focused", False),
    "walk": Subject(people.walk, "people walking pedestrians street shopping town crowd", "busy"),
    "runner": Subject(people.runner, "runner running sport jogging fitness training health", "driven"),
    "group": Subject(people.group, "group crowd community people faces audience together", "friendly", False),
    "waves": Subject(shapes.waves, "abstract waves bands flow colours background", "calm", False),
    "blobs": Subject(shapes.blobs, "abstract gradient soft blur colours background", "dreamy", False),
    "lights": Subject(shapes.lights, "lights blurred bokeh night glow sparkle background", "dreamy", False),
    "sparks": Subject(shapes.sparks, "sparks embers fire particles glow rising", "driven", False),
    "splash": Subject(shapes.splash, "splash paint ink drops blots colour burst", "playful", False),
    "paper": Subject(shapes.paper, "paper texture grain surface background old", "quiet", False),
    "pattern": Subject(shapes.pattern, "pattern tiles shapes geometry dots triangles background", "playful", False),
    "confetti": Subject(shapes.confetti, "confetti party celebration falling winners joy", "happy", False),
    "rays": Subject(shapes.rays, "rays sunburst stripes retro attention background", "playful", False),
    "fireworks": Subject(shapes.fireworks, "fireworks night new year celebration explosion sky", "grand", False),
    "grid": Subject(shapes.grid, "grid technology data digital network future lines", "driven", False),
}  # fmt: skip
"""By name, in the order in which they are offered."""

STYLES = ("flat", "grain", "ink", "soft", "poster")
"""The manners in which a picture is finished."""


@dataclass(frozen=True)
class Painting:
    """Everything that decides a picture. `colours` are used instead of the palette where there are any."""

    subject: str
    palette: str = "meadow"
    hour: str = "day"
    season: str = "summer"
    weather: str = "clear"
    style: str = "flat"
    seed: int = 0
    colours: tuple[str, ...] = ()

    @property
    def air(self) -> Air:
        base: Palette = of_colours(self.colours) if self.colours else PALETTES[self.palette]
        if not SUBJECTS[self.subject].outside:
            return air_of(base, "day" if self.hour != "night" else "night", "summer", "clear", self.seed)
        return air_of(base, self.hour, self.season, self.weather, self.seed)


def paint(painting: Painting, width: int, height: int, seconds: float = 0.0) -> Pixels:
    """The picture at a moment, as BGRA, (height, width, 4)."""
    pixels = np.zeros((height, width, 4), np.uint8)
    surface = skia.Surface.MakeRasterDirect(
        skia.ImageInfo.Make(width, height, skia.kBGRA_8888_ColorType, skia.kPremul_AlphaType), pixels
    )
    canvas = surface.getCanvas()
    air = painting.air
    canvas.scale(height, height)
    if SUBJECTS[painting.subject].still:
        canvas.translate(width / height / 2, 0.5)
        canvas.scale(1 + NEARER * seconds, 1 + NEARER * seconds)
        canvas.translate(-width / height / 2, -0.5)
    SUBJECTS[painting.subject].paint(canvas, width / height, seconds, air)
    if SUBJECTS[painting.subject].outside:
        weather(canvas, width / height, seconds, air)
    del canvas, surface
    return finished(pixels, painting, seconds)


def finished(pixels: Pixels, painting: Painting, seconds: float) -> Pixels:
    """The picture in its style."""
    if painting.style == "grain":
        return _grain(pixels, painting.seed + int(seconds * 12))
    if painting.style == "ink":
        return _ink(pixels, painting.air)
    if painting.style == "soft":
        glow = cv2.GaussianBlur(pixels, (0, 0), max(1.0, pixels.shape[0] / 60))
        return np.asarray(cv2.addWeighted(cv2.max(pixels, glow), 0.55, pixels, 0.45, 0), np.uint8)
    if painting.style == "poster":
        smooth = cv2.bilateralFilter(np.ascontiguousarray(pixels[..., :3]), 7, 40, 5)
        steps = (np.round(smooth.astype(np.float32) / 51) * 51).clip(0, 255).astype(np.uint8)
        return np.dstack([steps, pixels[..., 3]])
    return pixels


def _grain(pixels: Pixels, seed: int) -> Pixels:
    """Grain as of film, a darker edge: less like something drawn."""
    height, width = pixels.shape[:2]
    random = np.random.default_rng(seed)
    noise = cv2.resize(random.normal(0, 9, (height // 2 + 1, width // 2 + 1)).astype(np.float32), (width, height))
    across, down = np.linspace(-1, 1, width, dtype=np.float32), np.linspace(-1, 1, height, dtype=np.float32)
    edge = 1 - 0.2 * np.minimum(
        1, across[None, :] ** 2 * down[:, None] ** 2 + 0.35 * (across[None, :] ** 2 + down[:, None] ** 2)
    )
    made = pixels.copy()
    made[..., :3] = (pixels[..., :3] * edge[..., None] + noise[..., None]).clip(0, 255).astype(np.uint8)
    return made


def _ink(pixels: Pixels, air: Air) -> Pixels:
    """Lines of ink around what is seen, over a wash of its colours on paper."""
    grey = cv2.cvtColor(pixels, cv2.COLOR_BGRA2GRAY)
    size = max(1.0, pixels.shape[0] / 700)
    edges = cv2.absdiff(cv2.GaussianBlur(grey, (0, 0), size), cv2.GaussianBlur(grey, (0, 0), size * 2.2))
    ink = np.clip((edges.astype(np.float32) - 3) * 0.14, 0, 1)[..., None]
    wash = (
        cv2.GaussianBlur(pixels[..., :3], (0, 0), size * 2).astype(np.float32) * 0.62
        + np.array([228, 240, 246], np.float32) * 0.38
    )
    dark = air.palette.dark
    pen = np.array([int(dark[at : at + 2], 16) for at in (5, 3, 1)], np.float32)
    made = pixels.copy()
    made[..., :3] = (wash * (1 - ink) + pen * ink).clip(0, 255).astype(np.uint8)
    return made
