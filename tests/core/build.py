"""Small promos for the rule tests."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from itertools import count

from glowreel.core.brand import Brand, Palette
from glowreel.core.commands import Command, Context, Outcome, Set, apply
from glowreel.core.document import Promo
from glowreel.core.formats import FIRST_CHOICE, SHIPPED
from glowreel.core.layout import Box
from glowreel.core.media import Media
from glowreel.core.time import Rate, ticks
from glowreel.core.words import Words
from glowreel.designs import shipped

S = ticks(1)


def media(name: str, kind: str = "footage", length: float = 10, **facts: object) -> Media:
    fields = {"width": 1920, "height": 1080, "sounding": kind != "photo", "rate": Rate(num=30, den=1)}
    fields |= {"length": 0 if kind == "photo" else ticks(length)} | facts
    return Media(id=name, name=name, kind=kind, hash=hashlib.sha256(name.encode()).hexdigest(), **fields)


MEDIA = {
    m.id: m
    for m in (
        media("ridge"),
        media("field", length=6, rate=Rate(num=24, den=1)),
        media("basket", length=4, width=1080, height=1920),
        media("still", "photo"),
        media("sign", "photo"),
        media("song", "sound", length=30, width=0, height=0, rate=None),
    )
}


def numbered(family: str = "") -> Callable[[str], str]:
    """Identifiers that count; `family` keeps two counters apart."""
    numbers = count(1)
    return lambda prefix: f"{family}{prefix}{next(numbers)}"


def measure(words: Words, size: float, wrap: float) -> tuple[float, float]:
    """Stands in for the engine's: each letter is half as wide as it is high."""
    per_line = max(1, int(wrap / (size * 0.5)))
    lines = sum(-(-max(1, len(line)) // per_line) for line in words.text.split("\n"))
    return min(wrap, len(words.text) * size * 0.5), lines * size * words.line


def sets(key: str, **values: object) -> Set:
    """The command that sets properties of one part for all formats."""
    return Set(items=(key,), values=values)


BEATS = {
    "beats": list(range(0, 1_440_000, 24_000)), "bars": list(range(0, 1_440_000, 96_000)), "end": 1_440_000,
    "pace": 120.0, "strong": [96_000, 480_000],
    "joints": [(a, b, 0.2) for a in range(15) for b in range(1, 15) if (b - a) % 4 == 1 and b != a + 1],
}  # fmt: skip
"""Of the song: a bar every two seconds."""


SAID = {
    "language": "en",
    "words": [
        ["So", 300, 520, 96, 200, 0], ["um,", 600, 780, 60, 560, 0], ["dawn", 900, 1180, 97, 840, 0],
        ["flights", 1220, 1600, 98, 1200, 0], ["over", 1640, 1800, 99, 1620, 0], ["the", 1840, 1920, 99, 1820, 0],
        ["the", 1960, 2040, 90, 1940, 0], ["valley.", 2080, 2500, 99, 2060, 0], ["Book", 3300, 3500, 97, 2900, 0],
        ["two", 3560, 3740, 40, 3530, 0], ["seats.", 3780, 3980, 98, 3760, 0],
    ],
}  # fmt: skip
"""Of every voice: a filler, a word said twice, a long pause, an unsure word."""
FOUND = {"beats": BEATS, "transcript": SAID}


class Table:
    """A promo on the table: commands are carried out on it and every state is kept."""

    def __init__(self, rate: Rate | None = None, family: str = "") -> None:
        formats = tuple(SHIPPED[f] for f in FIRST_CHOICE)
        self.promo = Promo(id="p", name="Dawn flights", formats=formats, rate=rate or Rate(num=30, den=1))
        self.promo = self.promo.changed(rate_chosen=rate is not None)
        self.context = Context(
            new_id=numbered(family), media=MEDIA, designs=shipped(),
            balance=lambda promo, part, like: {"exposure": 0.25 if like is None else -0.5},
            calm=lambda promo, item, format: Box(120, 120, 400, 200), found=lambda promo, part, maker: FOUND[maker],
        )  # fmt: skip
        self.last: Outcome | None = None

    def do(self, command: Command) -> Outcome:
        self.last = apply(self.promo, command, self.context)
        self.promo = self.last.promo
        return self.last

    @property
    def names(self) -> str:
        return " ".join(clip.name for clip in self.promo.clips)


def coloured(colours: dict[str, str], **more: object) -> Brand:
    """A brand with these colours for roles."""
    return Brand(palettes=(Palette(colours=colours),), **more)
