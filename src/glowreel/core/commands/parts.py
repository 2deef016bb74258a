"""What clips, picture layers and sounds have in common: a part of some timed material, run at a speed."""

from __future__ import annotations

from dataclasses import dataclass

from glowreel.core.commands.base import called
from glowreel.core.document import Part, Promo
from glowreel.core.errors import Refusal
from glowreel.core.media import Media
from glowreel.core.source import Source
from glowreel.core.speed import Speed
from glowreel.core.timeline import timeline


@dataclass(frozen=True)
class Running:
    """A part whose material runs; `length` is as long as it is seen or heard, in ticks."""

    part: Part
    source: Source
    media: Media
    length: int
    name: str

    @property
    def used(self) -> tuple[int, int]:
        """First and last tick of the material that it uses."""
        return self.source.range(self.part.into, self.length)

    @property
    def speed(self) -> Speed | None:
        return self.source.speed


def running(promo: Promo, key: str) -> Running:
    """The part and its material; a refusal where it looks the same throughout."""
    index = timeline(promo)
    part = index.find_part(key)
    media = index.material(part)
    if media is None or part.source is None:
        raise Refusal("still", "It looks the same throughout: there is nothing to run.", "Choose footage or sound.")
    return Running(part, part.source, media, index.span_of(part).length, called(promo, part))
