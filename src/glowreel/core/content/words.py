"""Words in front of the picture."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from glowreel.core.content.kind import Drawn, Kind
from glowreel.core.content.seen import Seen
from glowreel.core.formats import CANON
from glowreel.core.layout import placed, wrap_width
from glowreel.core.recipe.model import Composite, DrawWords, Fill
from glowreel.core.words import Words

if TYPE_CHECKING:
    from glowreel.core.document import Part
    from glowreel.core.media import Media


def words_of(seen: Seen) -> Words:
    """The words of a part with every role filled in."""
    return Words(
        seen("text"), seen.brand.font(seen("font")), seen("weight"), seen.colour("colour"), seen("align"),
        seen("line"), seen.colour("box"), seen("box_opacity"), seen("shadow"),
    )  # fmt: skip


def _draws(seen: Seen) -> Drawn:
    place, words = seen.place, words_of(seen)
    size, wrap = place.size * CANON, wrap_width(place, seen.format)
    box = placed(place, seen.format, *seen.measure(words, size, wrap))
    if not seen("sheet"):
        return Drawn((DrawWords(words, size, wrap, box),), box, place.turn)
    # A sheet over the whole frame, out of which the letters are cut: what lies behind is seen through them.
    bare = replace(words, box="", shadow=0.0)
    middle = (box.x + box.width / 2, box.y + box.height / 2)
    letters = Composite((DrawWords(bare, size, wrap, box),), turn=place.turn, about=middle, blend="erase")
    return Drawn((Composite((Fill(seen.colour("sheet")), letters), apart=True),), box)


def _called(part: Part, media: Media | None) -> str:
    first = str(part.read("text")).strip().split("\n")[0] or "empty words"
    return f"“{first if len(first) <= 32 else first[:31] + '…'}”"


WORDS = Kind(
    "words", "Words", "words in front of the picture", "layer", frozenset({"seen", "placed", "words"}), frozenset(),
    _called, _draws,
)  # fmt: skip
