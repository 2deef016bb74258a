"""Shapes in front of the picture: closed ones, lines and arrows."""

from __future__ import annotations

from typing import TYPE_CHECKING

from glowreel.core.content.kind import Drawn, Kind
from glowreel.core.content.seen import Seen
from glowreel.core.formats import CANON
from glowreel.core.forms import FORMS, IN_SQUARE
from glowreel.core.layout import picture_size, placed
from glowreel.core.recipe.model import DrawPath

if TYPE_CHECKING:
    from glowreel.core.document import Part
    from glowreel.core.media import Media

LEAST_LINE = 0.012
"""How wide a line without an inside is where nothing is said, of the frame's short side."""


def _draws(seen: Seen) -> Drawn:
    place, key = seen.place, seen("form")
    form = FORMS[key]
    width, height = picture_size(place, round(1000 * form.ratio), 1000)
    box = placed(place, seen.format, width * seen("stretch"), height)
    points, depth = seen("form_points"), seen("form_depth")
    unit = key in IN_SQUARE
    path = form.draw(1.0 if unit else box.width, 1.0 if unit else box.height, points, depth)
    stroke = seen("stroke") or (LEAST_LINE if form.open else 0.0)
    radius = seen("rounding") * min(box.width, box.height) / 2 if key == "rectangle" else 0.0
    fill = "" if form.open else seen.colour("ink")
    line = seen.colour("ink") if form.open and not seen("stroke") else seen.colour("stroke_colour")
    op = DrawPath(
        path, box, unit, fill, seen.colour("ink_second") if fill else "", seen("ink_angle"), round(stroke * CANON, 4),
        line, seen("dash"), round(seen("drawn"), 6), round(radius, 4),
    )  # fmt: skip
    return Drawn((op,), box, place.turn)


def _called(part: Part, media: Media | None) -> str:
    return part.name or FORMS[part.read("form")].label


SHAPE = Kind(
    "shape", "Shape", "a shape, line or arrow in front of the picture", "layer",
    frozenset({"seen", "placed", "shaped", "loose"}), frozenset(), _called, _draws,
)  # fmt: skip
