"""What a kind of content says of itself."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

if TYPE_CHECKING:
    from glowreel.core.content.seen import Seen
    from glowreel.core.document import Part
    from glowreel.core.layout import Box
    from glowreel.core.media import Media
    from glowreel.core.recipe.model import Op

Lane = Literal["main", "layer", "sound"]


@dataclass(frozen=True)
class Drawn:
    """What a part draws at a moment: operations at rest, upright, back to front, and the box they lie in; all of it is
    turned about the middle of that box by `turn` degrees. Canonical."""

    ops: tuple[Op, ...]
    box: Box
    turn: float = 0.0


@dataclass(frozen=True)
class Kind:
    """One kind of content: a new one is a module with one of these.

    `lane` is where it stands. `traits` decide which properties it has. `media` are the kinds of files it takes; none
    for what needs no file. `called` gives what people call a part of it, from the part and its file; `draws` what it
    looks like, nothing for what is only heard.
    """

    name: str
    label: str
    meaning: str
    lane: Lane
    traits: frozenset[str]
    media: frozenset[str]
    called: Callable[[Part, Media | None], str]
    draws: Callable[[Seen], Drawn | None]

    @property
    def fine(self) -> bool:
        """Whether it lies on samples and not on the frame grid."""
        return self.lane == "sound"

    def takes(self, media: Media) -> bool:
        """Whether a file is material for it."""
        return media.kind in self.media and (media.sounding or "sound" not in self.traits)
