"""Rows of how a part is seen."""

from __future__ import annotations

from glowreel.core.properties.row import Property
from glowreel.core.properties.rows.shared import CELL, LAID, PLACED, SEEN, SHOWN_THROUGH, share
from glowreel.core.vocabulary import BLENDS

ROWS = (
    Property("shown", "Shown", "whether it is seen at all", "flag", True, SEEN, "look", per_format=True,
             switched=("shown", "hidden"), verbs=("Showed", "Hid"), find="hide visible"),
    share("opacity", "Opacity", "how much of it is seen; the rest is what lies behind", 1.0, SHOWN_THROUGH,
          group="look",
          over_time=True, look=True, find="see-through"),
    Property("blend", "Blend", "how its colours are mixed with what lies behind", "choice", "normal", PLACED, "look",
             per_format=True, look=True, control="choice", choices=tuple((n, n.replace("-", " ")) for n in BLENDS),
             find="blend mode multiply screen overlay"),
    share("corner", "Corners", "how round its corners are; all of it makes the shorter sides round", 0.0, LAID,
          group="look", over_time=True, look=True, find="radius rounded"),
    Property("fill", "Colour", "the colour of a filler, or behind what a cell holds", "colour", "#D9CFC0",
             frozenset({"filler"}) | CELL, "look",
             per_format=True, over_time=True, look=True),
)  # fmt: skip
