"""A part in one format at one moment: its properties as they are there and then."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

from glowreel.core.place import Framing, Place
from glowreel.core.properties import PROPERTIES, Curve

if TYPE_CHECKING:
    from glowreel.core.brand import Brand
    from glowreel.core.document import Part, Promo
    from glowreel.core.formats import Format
    from glowreel.core.layout import Measure
    from glowreel.core.media import Media
    from glowreel.core.recipe.model import SoundRecipe


@dataclass(frozen=True)
class Seen:
    """Reads a part's properties; `moment` is in the part's own time. One that is `resting` is shown as it is when
    all of it has come. `lasts` is how long it is on show, where that is not its own length, `begins` when in the promo,
    and `heard` gives what is heard of the promo around the moment. `ruled` is what the rule says of where it lies in
    the format (see `core.arrangement`), in place of what is set of it."""

    promo: Promo
    part: Part
    format: Format
    moment: int
    measure: Measure
    resting: bool = False
    lasts: int = 0
    begins: int = 0
    heard: Callable[[], SoundRecipe] | None = None
    ruled: Mapping[str, Any] = field(default_factory=dict)

    @property
    def media(self) -> Media | None:
        return self.promo.media.get(self.part.media or "")

    @property
    def brand(self) -> Brand:
        return self.promo.brand

    def __call__(self, name: str) -> Any:
        if name in self.ruled:
            return self.ruled[name]
        return self.part.read(name, self.format.id, self.moment)

    def colour(self, name: str) -> str:
        """A colour with its role filled in; empty where there is none."""
        value, row = self.part.set_to(name, self.format.id), PROPERTIES[name]
        if isinstance(value, Curve):

            def mix(first: str, second: str, share: float) -> str:
                return row.values.mix(self.brand.colour(first), self.brand.colour(second), share)  # type: ignore[no-any-return]

            return self.brand.colour(value.at(self.moment, mix))
        return self.brand.colour(value)

    @property
    def place(self) -> Place:
        return Place(self("pin"), self("place"), self("size"), self("wrap"), self("turn"))

    @property
    def framing(self) -> Framing:
        return Framing(self("fit"), self("focus"), self("zoom"))
