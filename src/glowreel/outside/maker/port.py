"""The port to a maker of pictures."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import BinaryIO

from pydantic import BaseModel, ConfigDict, Field, field_validator

from glowreel.outside.fetching import PICTURE_BYTES, Fetched
from glowreel.outside.service import Service

NAME = "The maker of pictures"
MANY = 4
MOST_SEED = 999_999
STYLES = {
    "": "As the words say", "flat": "Flat", "grain": "Grain", "ink": "Ink and wash", "soft": "Soft light",
    "poster": "Few colours",
}  # fmt: skip
SHAPES = {"wide": ("Wide", 1920, 1080), "tall": ("Tall", 1080, 1920), "square": ("Square", 1440, 1440)}


class Wish(BaseModel):
    """What a picture is to show: in words, in which manner and shape, in which colours if in some, and the seed that
    brings the same picture back."""

    model_config = ConfigDict(frozen=True)

    words: str = Field(max_length=300)
    style: str = ""
    shape: str = "wide"
    colours: tuple[str, ...] = Field(default=(), max_length=8)
    seed: int = Field(default=0, ge=0, le=MOST_SEED)

    @field_validator("colours")
    @classmethod
    def _plain(cls, given: tuple[str, ...]) -> tuple[str, ...]:
        if not all(re.fullmatch(r"#[0-9A-Fa-f]{6}", colour) for colour in given):
            raise ValueError("a colour is #RRGGBB")
        return given

    def asked(self) -> dict[str, str]:
        """As it is sent."""
        return {
            "words": self.words, "style": self.style, "shape": self.shape, "colours": ",".join(self.colours),
            "seed": str(self.seed),
        }  # fmt: skip


class Proposals(BaseModel):
    """What a maker offers for a wish: what it understood, and the seeds of its pictures."""

    model_config = ConfigDict(frozen=True)

    understood: str = Field(max_length=300)
    seeds: tuple[int, ...]


class Maker:
    """A maker at an address."""

    def __init__(self, address: str) -> None:
        self._service = Service(address, NAME)

    def propose(self, wish: Wish) -> Proposals:
        """Some pictures for a wish, by their seeds; its own seed says which ones."""
        return self._service.told(Proposals, "/proposals", wish.asked())

    def small(self, wish: Wish) -> Fetched:
        """The picture of a wish, small."""
        return self._service.file("/small.jpg", ("image/",), PICTURE_BYTES, wish.asked())

    def save(self, wish: Wish, file: BinaryIO, most: int, tell: Callable[[int], None]) -> None:
        """Writes the picture of a wish to a file, in its full size."""
        self._service.save("/picture.png", file, most, tell, wish.asked())
