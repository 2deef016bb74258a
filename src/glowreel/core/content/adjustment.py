"""What is done, for a while, to everything that lies behind it: colour, a look, effects. It draws nothing itself."""

from __future__ import annotations

from typing import TYPE_CHECKING

from glowreel.core.content.kind import Drawn, Kind
from glowreel.core.content.seen import Seen
from glowreel.core.effects import EFFECTS
from glowreel.core.looks import LOOKS

if TYPE_CHECKING:
    from glowreel.core.document import Part
    from glowreel.core.media import Media


def _called(part: Part, media: Media | None) -> str:
    if part.name:
        return f"“{part.name}”"
    done = [EFFECTS[effect.kind].label for effect in part.effects]
    look = LOOKS.get(part.read("filter"))
    return f"“{', '.join([*([look.label] if look else []), *done]) or 'Adjustment'}”"


def _draws(seen: Seen) -> Drawn | None:
    return None


ADJUSTMENT = Kind(
    "adjustment", "Adjustment", "colour and effects for all that lies behind it", "layer",
    frozenset({"seen", "adjusts"}), frozenset(), _called, _draws,
)  # fmt: skip
