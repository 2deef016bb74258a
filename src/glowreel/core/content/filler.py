"""A filler: a plain colour that holds a place on the main track."""

from __future__ import annotations

from glowreel.core.content.kind import Drawn, Kind
from glowreel.core.content.seen import Seen
from glowreel.core.layout import Box
from glowreel.core.recipe.model import Fill


def _draws(seen: Seen) -> Drawn:
    return Drawn((Fill(seen.colour("fill")),), Box(0, 0, *seen.format.canon))


FILLER = Kind(
    "filler", "Filler", "a plain colour that holds a place on the main track", "main", 
    frozenset({"seen", "filler", "celled"}), frozenset(), lambda part, media: part.name or "A filler", _draws,
)  # fmt: skip
