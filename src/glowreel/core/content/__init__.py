"""Kinds of content. Each is one module that says what it is, where it stands, what it takes and what it draws; nothing
outside asks which kind a part is, only what its kind says."""

from glowreel.core.content.adjustment import ADJUSTMENT
from glowreel.core.content.collage import COLLAGE
from glowreel.core.content.designs import DESIGN
from glowreel.core.content.filler import FILLER
from glowreel.core.content.kind import Drawn, Kind
from glowreel.core.content.pictures import FOOTAGE, PHOTO, PICTURE
from glowreel.core.content.seen import Seen
from glowreel.core.content.shape import SHAPE
from glowreel.core.content.sound import SOUND
from glowreel.core.content.sticker import STICKER
from glowreel.core.content.words import WORDS

KINDS: dict[str, Kind] = {
    kind.name: kind
    for kind in (FOOTAGE, PHOTO, FILLER, COLLAGE, WORDS, SHAPE, STICKER, PICTURE, DESIGN, ADJUSTMENT, SOUND)
}

__all__ = ["KINDS", "Drawn", "Kind", "Seen"]
