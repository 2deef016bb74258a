"""What all commands share."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from typing import ClassVar, Literal

from pydantic import BaseModel, ConfigDict

from glowreel.core.derived import Facts
from glowreel.core.design import Design
from glowreel.core.document import Item, Part, Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.formats import Format
from glowreel.core.layout import Box, Measure
from glowreel.core.media import Media
from glowreel.core.time import seconds
from glowreel.core.value import NewId
from glowreel.core.words import Words


def _unmeasured(words: Words, size: float, wrap: float) -> tuple[float, float]:
    """Where nobody measures words, they are taken to be as wide as they may be."""
    return wrap, size * words.line


def _unseen(promo: Promo, part: Part, like: Part | None) -> Mapping[str, float]:
    """Where nobody can look at pictures, nothing is said of them."""
    raise Refusal("unseen", "Its picture cannot be looked at here.", "Do it in the editor.")


Balancing = Callable[[Promo, Part, Part | None], Mapping[str, float]]
"""Looks at the picture of a part, and of one that it is to be like, and says with which colour values it is."""


def _calm_nowhere(promo: Promo, item: Item, format: Format) -> Box:
    """Where nobody can look at pictures, no place is calmer than another."""
    raise Refusal("unseen", "Its picture cannot be looked at here.", "Do it in the editor.")


Calming = Callable[[Promo, Item, Format], Box]
"""Looks at the picture behind an item in a format, and says where it would lie over the calmest part, canonical."""


def _found_nowhere(promo: Promo, part: Part, maker: str) -> Facts | None:
    """Where nothing is made of files, nothing is known of them."""
    return None


Finding = Callable[[Promo, Part, str], Facts | None]
"""What a maker found of a part's file; None as long as it has not."""


@dataclass(frozen=True)
class Context:
    """What a command may need from outside: fresh identifiers, the facts of the team's media, designs, how large words
    are, and what looks at pictures."""

    new_id: NewId
    media: Mapping[str, Media] = field(default_factory=dict)
    designs: Mapping[str, Design] = field(default_factory=dict)
    measure: Measure = _unmeasured
    balance: Balancing = _unseen
    calm: Calming = _calm_nowhere
    found: Finding = _found_nowhere
    footage_quiet: bool = False
    """Whether footage that comes under a voice comes in quiet, as the team wants it."""
    photos_move: bool = False
    """Whether photos are given a gentle movement when they come on to the main track, as the team wants it."""

    def find(self, media_id: str) -> Media:
        if media_id not in self.media:
            raise Missing("no-media", "That file is not on the Shelf any more.", "Add it again, then try once more.")
        return self.media[media_id]


@dataclass(frozen=True)
class Outcome:
    """The outcome of a command: the new promo, a sentence for the history, and what to select and say."""

    promo: Promo
    sentence: str
    select: tuple[str, ...] = ()
    touched: frozenset[str] = frozenset()
    notice: str = ""

    def with_promo(self, promo: Promo) -> Outcome:
        return replace(self, promo=promo)


class Command(BaseModel):
    """A small typed value; its `do` names it on the wire."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    right: ClassVar[Literal["edit", "fill"]] = "edit"
    """What somebody must be allowed to do with the promo to carry it out."""

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        raise NotImplementedError

    def typing(self) -> str | None:
        """What is being typed into, where typing that goes on is one step with what was typed before."""
        return None

    def brings(self) -> set[str]:
        """Media that it puts in and that stand in no field of their own."""
        return set()


def with_media(promo: Promo, *media: Media) -> Promo:
    """The promo, knowing these files too."""
    return promo.changed(media={**promo.media, **{m.id: m for m in media}})


def called(promo: Promo, part: Part) -> str:
    """What a person would call a clip or an item."""
    return part.content.called(part, promo.media.get(part.media or ""))


def in_seconds(length: int) -> str:
    """A length for the history: tenths of a second, or hundredths under one."""
    lasts = seconds(length)
    return f"{lasts:.1f} s" if lasts >= 1 else f"{lasts:.2f} s"
