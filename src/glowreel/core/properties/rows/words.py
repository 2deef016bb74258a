"""Rows of what words are and of their letters."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from glowreel.core.properties.row import Choices, Property
from glowreel.core.properties.rows.shared import WORDS
from glowreel.core.roles import FONT_ROLES
from glowreel.core.words import FONTS, MAX_LETTERS

_FAMILIES: Choices = (
    *((family, family) for family in FONTS),
    *((role, f"The brand’s {role}") for role in FONT_ROLES),
)
_SIDES: Choices = (("left", "Left"), ("centre", "Centre"), ("right", "Right"))


def _weights(read: Callable[[str], Any]) -> Choices:
    family = read("font")
    known = FONTS.get(FONT_ROLES[family][1] if family in FONT_ROLES else family, (400, 700))
    return tuple((weight, str(weight)) for weight in known)


ROWS = (
    Property("text", "Words", "what it says", "text", "Your words", WORDS, "what", high=MAX_LETTERS, per_format=True,
             control="text", find="text write title"),
    Property("font", "Font", "the family of its letters, or a role of the brand", "font", next(iter(FONTS)), WORDS,
             "what", per_format=True, look=True, choices=_FAMILIES, control="choice", find="typeface family"),
    Property("weight", "Weight", "how heavy its letters are", "whole", 800, WORDS, "what", low=100, high=900,
             per_format=True, look=True, choices_of=_weights, control="choice", find="bold light"),
    Property("colour", "Colour", "the colour of its letters", "colour", "#FFFFFF", WORDS, "what", per_format=True,
             over_time=True, look=True),
    Property("sheet", "Cut out of", "a sheet of this colour over the whole frame: what lies behind is seen only through"
             " the letters", "colour", "", WORDS, "what", empty=True, per_format=True, look=True,
             find="mask through letters knockout footage behind"),
    Property("align", "Align", "to which side its lines keep", "choice", "left", WORDS, "what", per_format=True,
             look=True, choices=_SIDES, control="switches",
             icons={"left": "text-left", "centre": "text-center", "right": "text-right"}),
    Property("line", "Line spacing", "from one line to the next, in heights of its letters", "number", 1.08, WORDS,
             "what", unit="×", low=0.7, high=3, step=0.05, digits=2, per_format=True, look=True, find="leading"),
)  # fmt: skip
