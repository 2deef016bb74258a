"""Rows of footage that runs: held still where it is shaky, and what is shown between two of its frames."""

from __future__ import annotations

from glowreel.core.properties.row import Property
from glowreel.core.properties.rows.shared import PICTURED, share

ROWS = (
    share("steady", "Hold it still",
          "how much of the shaking of footage is taken out; it is enlarged a little for that",
          0.0, PICTURED, group="place", per_format=False, needs="steady", runs=True, find="stabilise shaky steady"),
    Property("between", "Between frames", "what slowed footage shows between two of its own frames", "choice",
             "nearest", PICTURED, "time", control="switches", needs="flow", runs=True,
             choices=(("nearest", "The nearest"), ("blend", "Both, mixed"), ("flow", "New ones")),
             find="slow motion smooth optical flow interpolate blend"),
)  # fmt: skip
