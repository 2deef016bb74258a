"""What a promo knows about the material it uses."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from glowreel.core.time import Rate, Ticks
from glowreel.core.value import Id, Value

MediaKind = Literal["footage", "photo", "sound", "look"]
Transfer = Literal["", "pq", "hlg"]


class Media(Value):
    """Facts about one file, as measured when it came in.

    `hash` is the SHA-256 of the bytes and names the file everywhere. `width` and `height` are as shown: after the
    rotation flag and with square pixels. `length` is 0 for photos; animated pictures count as footage. `rate` is None
    where the frames are not evenly spaced. `alpha` says that it may be see-through. `transfer` names the
    curve of high dynamic range, where the footage has one. A look is a table of colours, put on pictures.
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

    @property
    def pictured(self) -> bool:
        """Whether it is a picture, moving or not."""
        return self.kind in ("footage", "photo")

    @property
    def still(self) -> bool:
        return self.kind == "photo"
