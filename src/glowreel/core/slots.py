"""Slots: parts and fields of a promo that are to be filled, with limits. A template is a promo with slots.

A slot names a part, and what of it is filled: its material (`source`), a property that holds words (`text`), a field of
a design (`field.title`) or a picture in one (`fills.first`). Filling a slot never changes when anything begins or ends.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from pydantic import Field

from glowreel.core.time import Ticks
from glowreel.core.value import Id, Value

SOURCE, FILLS = "source", "fills."


@dataclass(frozen=True)
class SlotKind:
    """What a kind of slot holds: words or material, and what it is for."""

    meaning: str
    holds: Literal["words", "picture", "sound"]


SLOT_KINDS: dict[str, SlotKind] = {
    "picture": SlotKind("footage or a photo", "picture"),
    "logo": SlotKind("a logo, shown whole", "picture"),
    "words": SlotKind("words of any kind", "words"),
    "price": SlotKind("what something costs", "words"),
    "date": SlotKind("a day or a time", "words"),
    "link": SlotKind("an address to go to", "words"),
    "sound": SlotKind("a song or a sound", "sound"),
    "voice": SlotKind("somebody speaking", "sound"),
}
"""Every kind of slot by its name."""


class Slot(Value):
    """One thing to be filled; the slots of a promo stand in the order in which people fill them.

    `most` is how many letters words may have, `least` how long material must be at the least, in ticks. An `optional`
    one may be left out. `filled` says that somebody has filled it; until then a sample stands there.
    """

    id: Id
    part: Id
    of: str = Field(default=SOURCE, max_length=60)
    kind: str = Field(default="picture", max_length=20)
    label: str = Field(min_length=1, max_length=60)
    hint: str = Field(default="", max_length=200)
    most: int = Field(default=0, ge=0, le=600)
    least: Ticks = 0
    optional: bool = False
    filled: bool = False
