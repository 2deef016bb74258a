"""Rows of how a part comes, stays and goes."""

from __future__ import annotations

from glowreel.core.properties.row import Choices, Property
from glowreel.core.properties.rows.shared import PLACED
from glowreel.core.time import ticks
from glowreel.core.vocabulary import MOTIONS

_MOTIONS: Choices = tuple((kind, "at once" if kind == "none" else kind.replace("-", " ")) for kind in MOTIONS)

ROWS = (
    Property("arrives", "Comes", "how it comes", "choice", "none", PLACED, "motion", choices=_MOTIONS, end="start",
             find="animation in"),
    Property("arrive_length", "over", "how long it takes to come", "length", ticks(0.5), PLACED, "motion", unit="s",
             high=30, step=0.1, digits=2, end="start", beside="arrives"),
    Property("leaves", "Goes", "how it goes", "choice", "none", PLACED, "motion", choices=_MOTIONS, end="end",
             find="animation out"),
    Property("leave_length", "over", "how long it takes to go", "length", ticks(0.5), PLACED, "motion", unit="s",
             high=30, step=0.1, digits=2, end="end", beside="leaves"),
)  # fmt: skip
