"""The table of properties. A new property is a row in a module of `rows`, and what reads it in a recipe."""

from __future__ import annotations

from glowreel.core.properties.row import Property
from glowreel.core.properties.rows import (
    collage,
    colour,
    cutout,
    edge,
    ground,
    look,
    mask,
    motion,
    pieces,
    place,
    running,
    shape,
    sound,
    sticker,
    words,
)
from glowreel.core.properties.rows.sound import BUSES

GROUPS: dict[str, str] = {
    "what": "Letters",
    "dress": "Box and outline",
    "cells": "Cells",
    "place": "Place",
    "framing": "Framing",
    "look": "Look",
    "cutout": "Cut-out",
    "mask": "Mask",
    "edge": "Edge and shadow",
    "colour": "Colour",
    "ground": "Behind it",
    "motion": "Coming and going",
    "pieces": "Letter by letter",
    "sound": "Sound",
    "voice": "Voice",
    "equaliser": "Equaliser",
    "dips": "Under a voice",
    "beats": "Beats",
    "time": "Time",
    "slots": "To be filled",
}
"""Headings in Details, in their order."""
SHUT = frozenset(
    {"slots", "dress", "pieces", "cutout", "mask", "edge", "colour", "ground", "voice", "equaliser", "dips"}
)
"""Those that are shut until somebody opens them, or something in them is set."""

FAMILIES = (
    words, shape, sticker, collage, place, look, cutout, mask, edge, colour, ground, motion, pieces, sound, running,
)  # fmt: skip
ROWS = tuple(row for family in FAMILIES for row in family.ROWS)
PROPERTIES: dict[str, Property] = {row.name: row for row in ROWS}
"""Every property by its name, in the order of Details."""
NEEDING: dict[str, Property] = {row.name: row for row in ROWS if row.needs}
"""The properties for which something has to be known of the file."""

__all__ = ["BUSES", "GROUPS", "NEEDING", "PROPERTIES", "SHUT"]
