"""What rows are made with: the traits of parts that have them, and shares of a whole."""

from __future__ import annotations

from typing import Any

from glowreel.core.properties.row import Property

PLACED, FRAMED, WORDS = frozenset({"placed"}), frozenset({"framed"}), frozenset({"words"})
SEEN, HEARD, SOUND = frozenset({"seen"}), frozenset({"heard"}), frozenset({"sound"})
PICTURED, LOOSE = frozenset({"pictured"}), frozenset({"loose"})
COLLAGE, CELL = frozenset({"collage"}), frozenset({"cell"})
GROUNDED, COMES = FRAMED | COLLAGE, PLACED | CELL
"""What something lies behind, and what comes in a way of its own."""
LAID = PLACED | FRAMED
ADJUSTS = frozenset({"adjusts"})
"""What is done to all that lies behind, instead of being a picture."""
GRADED, SHOWN_THROUGH = PICTURED | ADJUSTS, LAID | ADJUSTS
"""Everything that has a box of its own in the frame: layers, and the pictures of the main track."""
AT_LEAST = 0.0050001
"""A hair over half a hundredth: smaller things are not seen."""


def share(name: str, label: str, meaning: str, default: float, of: frozenset[str], **more: Any) -> Property:
    """A share between nothing and all, shown in hundredths."""
    given = {"unit": "%", "scale": 0.01, "step": 5, "slider": "straight", "per_format": True, **more}
    return Property(name, label, meaning, "number", default, of, **given)
