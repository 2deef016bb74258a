"""What holds a part that is not on the main track to its place in time."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from glowreel.core.time import Ticks
from glowreel.core.value import Id, Value


class Tied(Value):
    """Starts `offset` after the start of a main-track clip, wherever that goes."""

    to: Literal["clip"] = "clip"
    clip: Id
    offset: Ticks = 0


class Free(Value):
    """Starts at a time of the promo."""

    to: Literal["time"] = "time"
    at: Ticks = 0


class Whole(Value):
    """Lasts from the first frame of the promo to the last, however long it becomes."""

    to: Literal["whole"] = "whole"


Anchor = Annotated[Tied | Free | Whole, Field(discriminator="to")]
