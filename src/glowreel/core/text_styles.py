"""Text styles: names for how words of a kind look. A promo keeps its own; these are what they begin with."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any


@dataclass(frozen=True)
class TextStyle:
    """What a style is called, what it is for, and the properties that it gives to words."""

    label: str
    meaning: str
    values: Mapping[str, Any] = field(default_factory=dict)


STYLES: dict[str, TextStyle] = {
    "heading": TextStyle("Heading", "large words that are read first",
                         {"font": "heading", "weight": 800, "size": 0.13, "line": 1.0}),
    "subheading": TextStyle("Subheading", "what stands below a heading",
                            {"font": "heading", "weight": 600, "size": 0.075, "line": 1.1}),
    "body": TextStyle("Body", "sentences", {"font": "body", "weight": 600, "size": 0.05, "line": 1.25}),
    "price": TextStyle("Price", "what it costs",
                       {"font": "heading", "weight": 800, "size": 0.2, "line": 0.95, "colour": "accent"}),
    "quote": TextStyle("Quote", "what somebody said",
                       {"font": "aside", "weight": 700, "size": 0.1, "line": 1.1}),
    "label": TextStyle("Label", "a word on a box",
                       {"font": "body", "weight": 700, "size": 0.045, "colour": "dark", "box": "accent", "line": 1.1}),
    "small": TextStyle("Small print", "what must be said", {"font": "body", "weight": 400, "size": 0.03, "line": 1.25}),
}  # fmt: skip
"""By their names."""
STYLED = ("font", "weight", "italic", "size", "line", "spacing", "case", "colour", "second", "fill_angle", "outline",
          "outline_colour", "box", "box_opacity", "box_of", "box_pad", "box_round", "shadow", "cast", "cast_angle",
          "cast_soft", "cast_colour", "under", "under_colour")  # fmt: skip
"""The properties that a style gives."""
