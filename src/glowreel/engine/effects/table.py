"""Looks that come in files."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from glowreel.engine.cube import put_on
from glowreel.engine.drawing import Area, effect
from glowreel.engine.effects.grade import plain_colours, with_transparency
from glowreel.engine.footage import Pixels


@effect("cube")
def cube(pixels: Pixels, values: Mapping[str, Any], area: Area) -> Pixels:
    """Each pixel by a table of colours, which whoever draws has looked up."""
    if values.get("table") is None:
        return pixels
    plain, alpha = plain_colours(pixels)
    return with_transparency(put_on(np.ascontiguousarray(plain), values["table"], values["amount"]), alpha, pixels)
