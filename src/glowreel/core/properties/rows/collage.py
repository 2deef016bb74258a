"""Rows of a collage, and of what its cells have besides what their content has."""

from __future__ import annotations

from glowreel.core.collage.grids import MOST
from glowreel.core.properties.row import Property
from glowreel.core.properties.rows.shared import COLLAGE, share

_HEARD = (
    ("first", "The first that sounds"), ("all", "All of them"), ("none", "None"),
    *((str(n + 1), f"Cell {n + 1}") for n in range(MOST)),
)  # fmt: skip

ROWS = (
    share("gap", "Gap", "how much room there is between its cells, of the frame’s short side", 0.014, COLLAGE,
          group="cells", high=0.15, step=0.2, digits=1, over_time=True, look=True, find="spacing border lines"),
    share("rim", "Rim", "how much room there is around all of them, of the frame’s short side", 0.014, COLLAGE,
          group="cells", high=0.25, step=0.2, digits=1, over_time=True, look=True, find="margin border frame"),
    share("cell_round", "Corners", "how round the corners of its cells are", 0.0, COLLAGE, group="cells",
          over_time=True, look=True, find="radius rounded"),
    Property("step", "In turn", "how much later each of its cells starts than the one before", "length", 0,
             COLLAGE, "cells", unit="s", high=5, step=0.1, digits=2, look=True, find="delay stagger start"),
    Property("cells_heard", "Heard", "which of its cells is heard", "choice", "first", COLLAGE, "cells",
             choices=_HEARD, control="choice", find="sound audio"),
)  # fmt: skip
