"""Rows of shapes: their form, what fills them, and the line around them."""

from __future__ import annotations

from typing import Any

from glowreel.core.forms import FORMS
from glowreel.core.properties.row import Property
from glowreel.core.properties.rows.shared import share

SHAPED = frozenset({"shaped"})


def _row(key: str, label: str, meaning: str, kind: str, default: Any, **more: Any) -> Property:
    given = {"per_format": True, "look": True, **more}
    return Property(key, label, meaning, kind, default, SHAPED, "what", **given)


ROWS = (
    _row("form", "Form", "what it is", "choice", "rectangle", choices=tuple((k, f.label) for k, f in FORMS.items()),
         control="choice", find="shape line arrow star"),
    _row("form_points", "Points", "how many corners, points or waves it has", "whole", 5, low=3, high=24, least=3,
         most=24, slider="straight", beside="form",
         choices_beside=frozenset(key for key, form in FORMS.items() if form.points)),
    share("form_depth", "Depth", "how deep its points, or how round its corners are", 0.5, SHAPED, group="what",
          over_time=True, look=True, beside="form",
          choices_beside=frozenset(key for key, form in FORMS.items() if form.depth)),
    _row("ink", "Fill", "the colour of its inside", "colour", "accent", over_time=True, empty=True),
    _row("ink_second", "Fades into", "a second colour, into which its inside fades", "colour", "", over_time=True,
         empty=True, find="gradient"),
    _row("ink_angle", "Fade angle", "which way it fades; 0° is to the right, 90° down", "number", 90.0, unit="°",
         low=-3600, high=3600, least=0, most=360, over_time=True, beside="ink_second"),
    _row("stroke", "Line", "how wide the line around it is, of the frame’s short side", "number", 0.0, unit="%", low=0,
         high=0.2, most=0.06, scale=0.01, step=0.2, digits=1, slider="straight", over_time=True, find="border outline"),
    _row("stroke_colour", "Line colour", "the colour of that line", "colour", "ink", over_time=True),
    _row("dash", "Dashes", "how long the pieces of a broken line are, in widths of it; a whole line where it is 0",
         "number", 0.0, unit="×", low=0, high=20, most=8, step=0.5, digits=1, slider="straight", find="dotted broken"),
    share("rounding", "Corners", "how round the corners of a rectangle are", 0.0, SHAPED, group="what",
          over_time=True, look=True, find="radius rounded", beside="form", choices_beside=frozenset({"rectangle"})),
    share("drawn", "Drawn so far", "how much of its line is there: over time, it draws itself", 1.0, SHAPED,
          group="what", over_time=True, look=True, find="draw on trim path"),
)  # fmt: skip
