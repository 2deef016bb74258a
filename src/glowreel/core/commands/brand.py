"""The brand of a promo.

```
SwitchBrand   Hollowmere  →  Saltwick     every role is filled otherwise in all formats, logos are the new ones
```
What is set to a colour or a family of its own, instead of a role, stays as it is.
"""

from __future__ import annotations

from typing import Literal

from glowreel.core.commands.base import Command, Context, Outcome, with_media
from glowreel.core.commands.change import map_parts
from glowreel.core.document import Part, Promo
from glowreel.core.roles import Brand
from glowreel.core.timeline import timeline


class SwitchBrand(Command):
    """Gives the promo a brand, or the newest state of the one that it has."""

    do: Literal["switch-brand"] = "switch-brand"
    brand: Brand

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        old, new = promo.brand, self.brand
        index = timeline(promo)
        for role, key in new.logos.items():
            before = old.logos.get(role)
            shows = {part.id for part in (*index.clip.values(), *index.item.values()) if part.media == before}
            if before is None or before == key or not shows:
                continue
            media = context.find(key)

            def shown(part: Part, key: str = key) -> Part:
                assert part.source is not None
                return part.changed(source=part.source.changed(media=key))

            promo = map_parts(with_media(promo, media), shows, shown)
        said = (
            f"Brought {new.name} up to date"
            if new.origin and new.origin == old.origin
            else f"Gave it the brand {new.name}"
        )
        return Outcome(promo.changed(brand=new), said)

    def brings(self) -> set[str]:
        return set(self.brand.logos.values())
