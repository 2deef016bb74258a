"""What words ask for in a picture: a subject, a time of day, a weather, a season, colours, a manner."""

from __future__ import annotations

import random
from collections.abc import Mapping
from pathlib import Path

from glowreel.core.finding import plain
from glowreel.engine import meaning
from glowreel.outside.art.air import PALETTES
from glowreel.outside.art.painting import STYLES, SUBJECTS, Painting
from glowreel.outside.maker.port import MANY, MOST_SEED, Wish

HOURS = {
    "morning": "morning dawn sunrise early breakfast", "day": "day noon midday sunny daylight",
    "evening": "evening dusk sunset twilight golden late", "night": "night moon stars midnight dark",
}  # fmt: skip
WEATHERS = {
    "clear": "clear sunny bright", "clouds": "clouds cloudy overcast", "rain": "rain rainy wet storm stormy drizzle",
    "snow": "snow snowy snowing blizzard", "mist": "mist misty fog foggy haze",
}  # fmt: skip
SEASONS = {
    "spring": "spring april may easter", "summer": "summer june july august", "autumn": "autumn fall october harvest",
    "winter": "winter december january christmas frost cold",
}  # fmt: skip
COLOURS = {
    "meadow": "green natural", "harbour": "blue cool", "ember": "orange warm fire", "plum": "purple violet",
    "citrus": "yellow lime lively fresh", "slate": "grey muted sober", "rose": "red rose romantic",
    "mint": "mint teal turquoise", "desert": "brown sand dry earthy", "berry": "pink magenta sweet",
}  # fmt: skip
MANNERS = {
    "flat": "flat simple plain", "grain": "grain film photo photograph", "ink": "ink drawn drawing sketch pen",
    "soft": "soft dreamy glow gentle", "poster": "poster bold print retro",
}  # fmt: skip


def _named(words: set[str], table: Mapping[str, str]) -> str:
    """The row of a table that most of the words are in; nothing where none is."""
    counts = {name: len(words & set(said.split())) for name, said in table.items()}
    best = max(counts, key=lambda name: counts[name])
    return best if counts[best] else ""


def read(wish: Wish, model: Path | None = None) -> Painting:
    """The painting that a wish means. What is not said falls by its seed."""
    words = set(plain(wish.words).replace(",", " ").replace(".", " ").split())
    words |= {word[:-1] for word in words if word.endswith("s")}
    chance = random.Random(wish.seed)
    palette = _named(words, COLOURS) or chance.choice(list(PALETTES))
    season = _named(words, SEASONS)
    weather = _named(words, WEATHERS)
    if weather == "snow" and not season:
        season = "winter"
    return Painting(
        _subject(wish.words, words, model), palette,
        _named(words, HOURS) or chance.choice(("morning", "day", "evening")),
        season or chance.choice(("spring", "summer")),
        weather or chance.choice(("clear", "clear", "clouds")),
        wish.style if wish.style in STYLES else _named(words, MANNERS) or "flat", wish.seed, wish.colours,
    )  # fmt: skip


def _subject(said: str, words: set[str], model: Path | None) -> str:
    ordered = [word for word in plain(said).replace(",", " ").split() if word in words]
    table = {name: f"{name} {subject.words}" for name, subject in SUBJECTS.items()}
    counts = {
        name: sum(2 if word == name else 1 for word in words if word in text.split()) for name, text in table.items()
    }
    most = max(counts.values())
    if most:
        # Of those that are named as well, what is named first.
        near = [name for name, count in counts.items() if count == most]
        return min(
            near, key=lambda name: next((n for n, word in enumerate(ordered) if word in table[name].split()), 99)
        )
    if model is not None:
        names = list(table)
        return names[int(meaning.nearness([said], [table[name] for name in names], model)[0].argmax())]
    return "waves"


def seeds(wish: Wish) -> tuple[int, ...]:
    """The seeds of the pictures that are offered for a wish: its own first."""
    chance = random.Random(wish.seed)
    return (wish.seed, *(chance.randint(1, MOST_SEED) for _ in range(MANY - 1)))


def told(painting: Painting) -> str:
    """What was understood, in words."""
    subject = SUBJECTS[painting.subject]
    parts = [painting.subject]
    if subject.outside:
        parts += [painting.hour, *([painting.weather] if painting.weather != "clear" else []), painting.season]
    return ", ".join([*parts, painting.style])
