"""The brand of a promo.

```
SwitchBrand   Hollowmere  →  Saltwick     every role is filled otherwise in all formats, logos are the new ones
```
What is set to a colour or a family of its own, instead of a role, stays as it is.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Literal

from glowreel.core.commands.base import Command, Context, Outcome, with_media
from glowreel.core.commands.change import map_parts
from glowreel.core.document import Clip, Promo
from glowreel.core.media import Media
from glowreel.core.roles import Brand
from glowreel.core.source import Source
from glowreel.core.template.logos import with_logos


class SwitchBrand(Command):
    """Gives the promo a brand, or the newest state of the one that it has."""

    do: Literal["switch-brand"] = "switch-brand"
    brand: Brand

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        old, new = promo.brand, self.brand
        swapped = {
            before: context.find(key) for role, key in new.logos.items()
            if (before := old.logos.get(role)) is not None and before != key
        }  # fmt: skip
        used = {before: media for before, media in swapped.items() if before in promo.used_media()}
        if used:
            promo = _swapped(with_media(promo, *used.values()), used)
        promo = with_logos(promo.changed(brand=new), {key: context.find(key) for key in new.logos.values()})
        said = (
            f"Brought {new.name} up to date"
            if new.origin and new.origin == old.origin
            else f"Gave it the brand {new.name}"
        )
        return Outcome(promo, said)

    def brings(self) -> set[str]:
        return set(self.brand.logos.values())


def _swapped(promo: Promo, media: Mapping[str, Media]) -> Promo:
    """The promo with other files in the place of these, wherever they are shown: also in designs and collages. What
    runs is not put in the place of what stands, nor the other way round: that would move things in time."""

    def other(source: Source) -> Source:
        return source.changed(media=media[source.media].id) if source.media in media else source

    def shown(part: Any) -> Any:
        changes: dict[str, Any] = {}
        own = media.get(part.media or "")
        if own is not None and part.content.takes(own) and own.still == promo.media[part.media].still:
            changes["source"] = other(part.source)
        if any(source.media in media for source in part.fills.values()):
            changes["fills"] = {name: other(source) for name, source in part.fills.items()}
        if isinstance(part, Clip) and any(cell.media in media for cell in part.cells):
            changes["cells"] = tuple(shown(cell) for cell in part.cells)
        return part.changed(**changes) if changes else part

    return map_parts(promo, {part.id for part in (*promo.clips, *promo.items)}, shown)
