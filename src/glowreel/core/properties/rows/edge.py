"""Rows of what goes along the edge of a part: border, shadow, glow, reflection. They follow what is seen of it."""

from __future__ import annotations

from glowreel.core.properties.row import Property
from glowreel.core.properties.rows.shared import LAID, share


def _colour(name: str, label: str, meaning: str, default: str) -> Property:
    return Property(name, label, meaning, "colour", default, LAID, "edge", per_format=True, over_time=True, look=True,
                    beside=name.partition("_")[0])  # fmt: skip


def _length(name: str, label: str, meaning: str, default: float, most: float) -> Property:
    return Property(name, label, meaning, "number", default, LAID, "edge", unit="%", low=0, high=most, scale=0.01,
                    step=0.2, digits=1, slider="straight", per_format=True, over_time=True, look=True,
                    beside=name.partition("_")[0] if "_" in name else "")  # fmt: skip


ROWS = (
    _length("border", "Border", "how wide the line around it is, of the frame’s short side", 0.0, 0.1),
    _colour("border_colour", "Border colour", "the colour of that line", "#FFFFFF"),
    share("drop", "Drop shadow", "how dark the shadow is that it casts on what lies behind", 0.0, LAID, group="edge",
          over_time=True, look=True, find="cast shadow"),
    _length("drop_away", "Shadow distance", "how far its shadow lies from it, of the frame’s short side", 0.012, 0.3),
    Property("drop_angle", "Shadow angle", "to which side its shadow falls; 0° is to the right, 90° down", "number",
             90.0, LAID, "edge", unit="°", low=-3600, high=3600, least=0, most=360, per_format=True, over_time=True,
             look=True, beside="drop"),
    _length("drop_soft", "Shadow softness", "how soft its shadow is, of the frame’s short side", 0.015, 0.15),
    _colour("drop_colour", "Shadow colour", "the colour of its shadow", "#000000"),
    share("glow", "Glow", "how strong the light around it is", 0.0, LAID, group="edge", over_time=True, look=True),
    _length("glow_size", "Glow size", "how far that light reaches, of the frame’s short side", 0.03, 0.2),
    _colour("glow_colour", "Glow colour", "the colour of that light", "#F6B73C"),
    share("reflection", "Reflection", "how much of it is mirrored below it, as on a wet floor", 0.0, LAID, group="edge",
          over_time=True, look=True, find="mirror floor"),
)  # fmt: skip
