"""The made-up catalogue: some four hundred entries that follow from tables, each made when it is wanted."""

from __future__ import annotations

import random
import zlib
from dataclasses import dataclass
from functools import cache

from glowreel.core.colour import to_oklab
from glowreel.outside.art.air import HOURS, PALETTES, SEASONS
from glowreel.outside.art.painting import SUBJECTS, Painting
from glowreel.outside.art.tunes import EFFECTS, MOODS, Tune
from glowreel.outside.stock.entries import COLOURS, Entry, Kind, Shape

HOUSE = "Tallow Lane Archive"
MAKERS = ("Ines Marlow", "Otto Brandvik", "Sefa Lindqvist", "Juno Abara", "Pim Verhoek", "Tamsin Rook")
"""Made-up people who made the pictures and the music."""

SIZES: dict[Shape, tuple[int, int]] = {"wide": (1280, 720), "tall": (720, 1280), "square": (960, 960)}
"""Sizes of footage; what is paid for is half as large again. Photos and illustrations have twice these."""

PICTURED: tuple[tuple[Kind, int, tuple[str, ...]], ...] = (
    ("footage", 3, ("flat", "soft")), ("photo", 2, ("grain",)), ("illustration", 2, ("flat", "ink", "poster")),
)  # fmt: skip
"""For each kind: how many there are of each subject, and in which manners."""

TIMES = {"morning": "in the morning", "day": "by day", "evening": "in the evening", "night": "at night"}
WEATHERS = {"clear": "", "clouds": "under clouds", "rain": "in the rain", "snow": "in the snow", "mist": "in the mist"}


@dataclass(frozen=True)
class Recipe:
    """An entry, and what it is made from: a painting, a tune, or an effect by its name and take."""

    entry: Entry
    painting: Painting | None = None
    tune: Tune | None = None
    effect: tuple[str, int] | None = None


@cache
def catalogue() -> dict[str, Recipe]:
    """Everything there is, by its key, in an order that mixes kinds and subjects."""
    made = [*_pictured(), *_music(), *_effects()]
    made.sort(key=lambda recipe: zlib.crc32(recipe.entry.id.encode()))
    return {recipe.entry.id: recipe for recipe in made}


def _pictured() -> list[Recipe]:
    found = []
    for number, (name, subject) in enumerate(SUBJECTS.items()):
        for kind, many, styles in PICTURED:
            for take in range(many):
                chance = random.Random(f"{kind}/{name}/{take}")
                hour, weather, season = "day", "clear", "summer"
                if subject.outside:
                    hour = list(HOURS)[(number + take + len(kind)) % 4]
                    season = chance.choice(list(SEASONS))
                    weather = chance.choice(
                        ("clear", "clear", "clouds", "mist", "snow" if season == "winter" else "rain")
                    )
                palette = list(PALETTES)[(number * 3 + take * 4 + len(kind)) % len(PALETTES)]
                shape: Shape = chance.choices(("wide", "tall", "square"), (6, 3, 2))[0]
                painting = Painting(
                    name, palette, hour, season, weather, styles[take % len(styles)], take * 31 + number
                )
                found.append(_painted(kind, name, take, painting, shape, chance))
    return found


def _painted(kind: Kind, name: str, take: int, painting: Painting, shape: Shape, chance: random.Random) -> Recipe:
    subject = SUBJECTS[name]
    paid = chance.random() < 0.3
    width, height = SIZES[shape]
    scale = (1.5 if paid else 1.0) if kind == "footage" else 2.0
    said = [subject.words.split()[0] if name == "group" else name.capitalize()]
    if subject.outside:
        said += [TIMES[painting.hour], WEATHERS[painting.weather]]
    title = " ".join(part for part in said if part)
    season = painting.season if subject.outside else ""
    words = " ".join((subject.words, painting.hour, season, painting.weather, painting.style))
    air = painting.air.palette
    seen = tuple(_named((air.sky[1], air.middle, air.accent, air.second)))
    entry = Entry(
        id=f"{kind}-{name}-{take + 1}", kind=kind, name=f"{title[0].upper()}{title[1:]} · {take + 1}", words=words,
        mood=subject.mood, shape=shape, width=int(width * scale), height=int(height * scale),
        seconds=6.0 if kind == "footage" else 0.0, colours=seen,
        price=chance.choice((4, 6, 9)) if paid else 0, licence=_licence(paid), credit=_credit(chance),
    )  # fmt: skip
    return Recipe(entry, painting=painting)


def _music() -> list[Recipe]:
    found = []
    for mood in MOODS:
        for take in range(6):
            chance = random.Random(f"music/{mood}/{take}")
            tune = Tune(mood, (take * 5) % 12 - 5, (8, 12, 16, 20, 12, 24)[take], take * 11 + 3)
            paid = chance.random() < 0.3
            title = f"{chance.choice(_FIRST)} {chance.choice(_SECOND)}"
            parts = " ".join(sorted(MOODS[mood].parts))
            entry = Entry(
                id=f"music-{mood}-{take + 1}", kind="music", name=title, mood=mood, shape="sound",
                words=f"music song background {mood} {parts} {tune.beats} beats", seconds=round(tune.seconds, 1),
                price=chance.choice((6, 9, 12)) if paid else 0, licence=_licence(paid), credit=_credit(chance),
            )  # fmt: skip
            found.append(Recipe(entry, tune=tune))
    return found


_FIRST = (
    "Paper",
    "Copper",
    "Slow",
    "Northern",
    "Velvet",
    "Second",
    "Hidden",
    "Bright",
    "Wooden",
    "Quiet",
    "Salt",
    "Early",
)
_SECOND = (
    "Lanterns",
    "Harbour",
    "Letters",
    "Orchard",
    "Signal",
    "Rooms",
    "Compass",
    "Parade",
    "Window",
    "Rivers",
    "Steps",
)


def _effects() -> list[Recipe]:
    found = []
    for name, row in EFFECTS.items():
        for take in range(2):
            chance = random.Random(f"effect/{name}/{take}")
            seconds = round(row.seconds * (1 + 0.15 * (take % 3 - 1)), 2)
            entry = Entry(
                id=f"effect-{name}-{take + 1}", kind="effect", name=f"{name.capitalize()} · {take + 1}",
                words=f"sound effect {row.words}", mood=row.mood, shape="sound", seconds=seconds,
                licence=_licence(False), credit=_credit(chance),
            )  # fmt: skip
            found.append(Recipe(entry, effect=(name, take)))
    return found


def _licence(paid: bool) -> str:
    return "Archive licence, one team" if paid else "Free for any use, with credit"


def _credit(chance: random.Random) -> str:
    return f"{chance.choice(MAKERS)} / {HOUSE}"


def _named(colours: tuple[str, ...]) -> list[str]:
    """The names of the colours that some are nearest to, without doubles."""
    return list(dict.fromkeys(min(COLOURS, key=lambda name: _apart(COLOURS[name], colour)) for colour in colours))


def _apart(one: str, other: str) -> float:
    return sum((a - b) ** 2 for a, b in zip(to_oklab(one), to_oklab(other), strict=True))
