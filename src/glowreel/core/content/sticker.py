"""Stickers in front of the picture: drawings that come with the program, by name."""

from __future__ import annotations

from typing import TYPE_CHECKING

from glowreel.core.content.kind import Drawn, Kind
from glowreel.core.content.seen import Seen
from glowreel.core.layout import picture_size, placed
from glowreel.core.recipe.model import DrawSticker

if TYPE_CHECKING:
    from glowreel.core.document import Part
    from glowreel.core.media import Media


def _draws(seen: Seen) -> Drawn:
    width, height = picture_size(seen.place, 100, 100)
    box = placed(seen.place, seen.format, width * seen("stretch"), height)
    return Drawn((DrawSticker(seen("sticker"), box, seen.colour("one_colour")),), box, seen.place.turn)


def _called(part: Part, media: Media | None) -> str:
    return part.name or str(part.read("sticker")).replace("-", " ").capitalize()


STICKER = Kind(
    "sticker", "Sticker", "a drawing that comes with the program", "layer",
    frozenset({"seen", "placed", "stuck", "loose"}), frozenset(), _called, _draws,
)  # fmt: skip
