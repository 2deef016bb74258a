"""Small promos for the rule tests."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from itertools import count

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


class Table:
    """A promo on the table: commands are carried out on it and every state is kept."""

    def __init__(self, rate: Rate | None = None, family: str = "") -> None:
        formats = tuple(SHIPPED[f] for f in FIRST_CHOICE)
        self.promo = Promo(id="p", name="Dawn flights", formats=formats, rate=rate or Rate(num=30, den=1))
        self.promo = self.promo.changed(rate_chosen=rate is not None)
        self.context = Context(
            new_id=numbered(family), media=MEDIA, designs=shipped(),
            balance=lambda promo, part, like: {"exposure": 0.25 if like is None else -0.5},
            calm=lambda promo, item, format: Box(120, 120, 400, 200),
        )  # fmt: skip
        self.last: Outcome | None = None

    def do(self, command: Command) -> Outcome:
        self.last = apply(self.promo, command, self.context)
        self.promo = self.last.promo
        return self.last

    @property
    def names(self) -> str:
        return " ".join(clip.name for clip in self.promo.clips)
