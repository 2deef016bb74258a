"""The brand of a promo.

```
SwitchBrand   Hollowmere  →  Saltwick     every role is filled otherwise in all formats, logos are the new ones,
                                          words take what their text style is there
WearPalette   Dawn  →  Night              the brand's other palette fills the roles of colour
```
What is set to a colour or a family of its own, instead of a role, stays as it is, and so do words that look other than
their style.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Literal

from pydantic import Field

from glowreel.core.brand import Brand
from glowreel.core.commands.base import Command, Context, Outcome, with_media
from glowreel.core.commands.change import map_parts
from glowreel.core.document import Clip, Promo
from glowreel.core.errors import Refusal
from glowreel.core.media import Media
from glowreel.core.source import Source
from glowreel.core.template.logos import with_logos
from glowreel.core.text_styles import STYLES


class SwitchBrand(Command):
    """Gives the promo a brand, or the newest state of the one that it has."""

    do: Literal["switch-brand"] = "switch-brand"
    brand: Brand

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        old, new = promo.brand, self.brand
        if new.origin == old.origin and any(palette.name == old.wears for palette in new.palettes):
            new = new.changed(wears=old.wears)
        files = {key: context.find(key) for key in new.files}
        swapped = {
            before: files[key] for role, key in new.logos.items()
            if (before := old.logos.get(role)) is not None and before != key
        }  # fmt: skip
        used = {before: media for before, media in swapped.items() if before in promo.used_media()}
        promo = with_media(promo, *files.values())
        if used:
            promo = _swapped(promo, used)
        promo = with_logos(_restyled(promo, new).changed(brand=new), files)
        said = (
            f"Brought {new.name} up to date"
            if new.origin and new.origin == old.origin
            else f"Gave it the brand {new.name}"
        )
        return Outcome(promo, said)

    def brings(self) -> set[str]:
        return set(self.brand.files)


class WearPalette(Command):
    """Lets another palette of the promo's brand fill the roles of colour."""

    do: Literal["wear-palette"] = "wear-palette"
    palette: str = Field(max_length=40)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        if all(palette.name != self.palette for palette in promo.brand.palettes):
            raise Refusal("no-palette", "The promo’s brand has no palette of that name.", "Bring it up to date first.")
        brand = promo.brand.changed(wears=self.palette)
        return Outcome(promo.changed(brand=brand), f"Gave it the colours {self.palette}")


def _restyled(promo: Promo, new: Brand) -> Promo:
    """The promo with its words as their text styles are in another brand: what of them is as it was there, and no
    style of the promo's own says otherwise."""
    differs = {style for style in STYLES if promo.brand.styles.get(style) != new.styles.get(style)} - set(promo.styles)
    words = {item.id for item in promo.items if "words" in item.content.traits and item.read("style") in differs}

    def restyled(part: Any) -> Any:
        style = part.read("style")
        before = promo.brand.styles.get(style) or STYLES[style].values
        after = new.styles.get(style) or STYLES[style].values
        own = {name: v for name, v in part.values.items() if name not in before or v != before[name]}
        return part.changed(values={**{name: v for name, v in after.items() if name not in own}, **own})

    return map_parts(promo, words, restyled) if words else promo


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
