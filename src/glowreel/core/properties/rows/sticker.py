"""Rows of stickers."""

from __future__ import annotations

from glowreel.core.properties.row import Property

STUCK = frozenset({"stuck"})
LOOSE_PICTURES = frozenset({"tinted"})
"""Pictures in front of others: a logo can be drawn in one colour."""

ROWS = (
    Property("sticker", "Sticker", "which of the drawings that come with the program it is", "name", "sparkles", STUCK,
             "", per_format=True),
    Property("one_colour", "One colour", "a colour in which all of it is drawn; its own where there is none", "colour",
             "", STUCK | LOOSE_PICTURES, "what", empty=True, per_format=True, over_time=True, look=True,
             find="recolour tint logo white"),
)  # fmt: skip
