"""What a promo knows about the material it uses."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from glowreel.core.subject import Subject
from glowreel.core.time import TICKS_PER_SECOND, Rate, Ticks
from glowreel.core.value import Id, Value

MediaKind = Literal["footage", "photo", "sound", "look", "font"]
HeardAs = Literal["", "voice", "music", "effects", "ambience"]
SPEECH_TICKS = TICKS_PER_SECOND // 100
"""Ticks in the hundredths of a second in which speech is told."""
MOST_SPEECH = 6000


def _in_order(spans: tuple[tuple[int, int], ...]) -> tuple[tuple[int, int], ...]:
    if any(a >= b for a, b in spans) or any(a[1] > b[0] for a, b in zip(spans, spans[1:], strict=False)):
        raise ValueError("spans of speech come in order and apart from one another")
    return spans


Hundredths = Annotated[int, Field(ge=0, le=720_000)]
Speech = Annotated[tuple[tuple[Hundredths, Hundredths], ...], Field(max_length=MOST_SPEECH), AfterValidator(_in_order)]
Transfer = Literal["", "pq", "hlg"]


class Media(Value):
    """Facts about one file, as measured when it came in.

    `hash` is the SHA-256 of the bytes and names the file everywhere. `width` and `height` are as shown: after the
    rotation flag and with square pixels. `length` is 0 for photos; animated pictures count as footage. `rate` is None
    where the frames are not evenly spaced. `alpha` says that it may be see-through. `transfer` names the
    curve of high dynamic range, where the footage has one. A look is a table of colours, put on pictures;
    a font is one face of a `family` of letters, that words are set in.
    `subject` is what was found of where its subject is. Of what is heard, `heard` is what it is most likely (one of
    `BUSES`; empty where nobody listened), and `speech` when somebody speaks in it: spans from and to, in hundredths of
    a second, in order. `machine` says that it was made by one and not recorded.
    """

    id: Id
    kind: MediaKind
    name: str = Field(min_length=1, max_length=255)
    hash: str = Field(pattern=r"^[0-9a-f]{64}$")
    suffix: str = Field(default="", pattern=r"^(\.[a-z0-9]{1,8})?$")
    length: Ticks = 0
    width: int = Field(default=0, ge=0, le=16384)
    height: int = Field(default=0, ge=0, le=16384)
    rate: Rate | None = None
    sounding: bool = False
    alpha: bool = False
    transfer: Transfer = ""
    family: str = Field(default="", max_length=80)
    weight: int = Field(default=0, ge=0, le=1000)
    italic: bool = False
    subject: Subject | None = None
    heard: HeardAs = ""
    speech: Speech | None = None
    machine: bool = False

    @property
    def pictured(self) -> bool:
        """Whether it is a picture, moving or not."""
        return self.kind in ("footage", "photo")

    @property
    def still(self) -> bool:
        return self.kind == "photo"
