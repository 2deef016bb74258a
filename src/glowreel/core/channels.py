"""Channels: where promos are published, and what each asks for. The shipped ones are made up; `own` asks for nothing.

```
Channel ─ shapes      in which it shows films, the best first
        ─ lengths     the shortest and longest it takes, and the band that is watched to the end
        ─ limits      of the file, the caption and the title
        ─ covers      what its own controls cover of a film, by shape, as shares of the frame
        ─ loudness    to which it levels
```
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Annotated

from pydantic import ConfigDict, Field, field_validator, model_validator

from glowreel.core.formats import SHIPPED, Format, Inset, Shape, shape_of
from glowreel.core.value import Value

Insets = tuple[float, float, float, float]
"""Left, top, right, bottom, as shares of the frame."""
Area = tuple[float, float, float, float]
"""Left, top, width, height, as shares of the frame."""


@dataclass(frozen=True)
class Channel:
    """What a channel asks for. Lengths are seconds, the largest file is megabytes, loudness LUFS. `covers` are the
    areas under its own controls by shape, each with what lies there."""

    name: str
    meaning: str
    shapes: tuple[str, ...]
    shortest: float
    longest: float
    band: tuple[float, float]
    megabytes: int
    caption: int
    title: int
    loudness: float = -14.0
    covers: dict[Shape, tuple[tuple[str, Area], ...]] = field(default_factory=dict)

    def safe(self, wide: float, high: float) -> Insets:
        """How far from each edge its controls reach into a frame of that ratio; at least the usual margin."""
        left, top, right, low = (0.05, 0.05, 0.05, 0.05)
        for _, (x, y, width, height) in self.covers.get(shape_of(wide, high), ()):
            # What covers most of a side is kept clear of along all of it; the nearer edge is the one that counts.
            if width >= height:
                top, low = (max(top, y + height), low) if y < 0.5 else (top, max(low, 1 - y))
            else:
                left, right = (max(left, x + width), right) if x < 0.5 else (left, max(right, 1 - x))
        return (round(left, 4), round(top, 4), round(right, 4), round(low, 4))


CHANNELS: dict[str, Channel] = {
    "marquee": Channel(
        "Marquee", "a site for films that people sit down to watch", ("wide", "square"), 3, 600, (20, 60), 512, 2000,
        90,
        covers={
            "wide": (("its progress bar", (0, 0.9, 1, 0.1)),), "square": (("its progress bar", (0, 0.92, 1, 0.08)),),
        },
    ),
    "passerby": Channel(
        "Passerby", "tall films one after another, watched while walking", ("tall",), 5, 90, (9, 20), 256, 300, 60,
        covers={"tall": (
            ("its name and search", (0, 0, 1, 0.1)), ("the caption", (0, 0.8, 1, 0.2)),
            ("its buttons", (0.86, 0.45, 0.14, 0.35)),
        )},
    ),
    "townsquare": Channel(
        "Townsquare", "films between what neighbours write, mostly seen without sound", ("square", "portrait"), 3, 140,
        (12, 30), 200, 1200, 80, -16.0,
        {"square": (("its play mark", (0, 0.92, 1, 0.08)),), "tall": (("its play mark", (0, 0.94, 1, 0.06)),)},
    ),
    "lobby": Channel(
        "Lobby", "a screen in a waiting room, in a loop and silent", ("cinema", "wide"), 6, 300, (10, 25), 1024, 0, 60,
    ),
}  # fmt: skip
"""Every shipped channel by its key."""
USUAL_BAND = (15.0, 30.0)
"""Seconds between which a promo is watched to the end, where no channel was chosen."""


OWN = "own"
"""The key of a promo's own channel."""
Seconds = Annotated[float, Field(ge=1, le=3600, allow_inf_nan=False)]


class OwnChannel(Value):
    """A channel that none of the shipped ones is, described by hand. Lengths are seconds, the largest file megabytes;
    `insets` is how far its controls reach into the frame from the left, the top, the right and below, as shares."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    name: str = Field(default="Own channel", min_length=1, max_length=40)
    shape: str = "wide"
    shortest: Seconds = 3
    longest: Seconds = 120
    best_from: Seconds = 15
    best_to: Seconds = 30
    megabytes: int = Field(default=512, ge=1, le=10_000)
    caption: int = Field(default=2000, ge=0, le=10_000)
    title: int = Field(default=100, ge=1, le=120)
    loudness: float = Field(default=-14.0, ge=-30, le=-6, allow_inf_nan=False)
    insets: tuple[Inset, Inset, Inset, Inset] = (0.05, 0.05, 0.05, 0.05)

    @field_validator("shape")
    @classmethod
    def _known(cls, shape: str) -> str:
        if shape not in SHIPPED:
            raise ValueError(f"there is no format called “{shape}”")
        return shape

    @model_validator(mode="after")
    def _in_order(self) -> OwnChannel:
        if not self.shortest <= self.best_from < self.best_to <= self.longest:
            raise ValueError("a channel’s lengths must go up, from the shortest over the best ones to the longest")
        return self

    @property
    def channel(self) -> Channel:
        """What it asks for."""
        left, top, right, low = self.insets
        sides = ((0, 0, left, 1), (0, 0, 1, top), (1 - right, 0, right, 1), (0, 1 - low, 1, low))
        areas = tuple(("the controls", area) for area in sides if min(area[2:]) > 0)
        shapes: tuple[Shape, ...] = ("wide", "square", "tall")
        return Channel(
            self.name, "described by hand", (self.shape,), self.shortest, self.longest,
            (self.best_from, self.best_to), self.megabytes, self.caption, self.title, self.loudness,
            dict.fromkeys(shapes, areas),
        )  # fmt: skip


def with_own(own: OwnChannel | None) -> Mapping[str, Channel]:
    """Every channel that a promo knows: the shipped ones, and its own."""
    return CHANNELS if own is None else {**CHANNELS, OWN: own.channel}


def chosen(keys: Iterable[str], table: Mapping[str, Channel] = CHANNELS) -> list[Channel]:
    """The channels of these keys, in their order."""
    return [table[key] for key in keys if key in table]


def band_of(keys: Iterable[str], table: Mapping[str, Channel] = CHANNELS) -> tuple[float, float]:
    """The seconds that suit all these channels; where none do, those of the first. The usual ones without a channel."""
    bands = [channel.band for channel in chosen(keys, table)]
    if not bands:
        return USUAL_BAND
    low, high = max(band[0] for band in bands), min(band[1] for band in bands)
    return (low, high) if low < high else bands[0]


def formats_for(keys: Iterable[str], have: Iterable[Format], table: Mapping[str, Channel] = CHANNELS) -> list[Format]:
    """The formats that channels need and there are not yet: the first shape of each, with its safe area."""
    there, made = {(format.wide, format.high, format.channel) for format in have}, []
    for key in keys:
        if key not in table:
            continue
        channel, shape = table[key], SHIPPED[table[key].shapes[0]]
        if (shape.wide, shape.high, key) not in there:
            made.append(shape.changed(channel=key, safe=channel.safe(shape.wide, shape.high)))
    return made
