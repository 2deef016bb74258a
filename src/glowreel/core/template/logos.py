"""A brand's logos in the places that are meant for one, each the one that suits its ground."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from glowreel.core.design import Design
from glowreel.core.design.model import Box
from glowreel.core.document import Item, Promo
from glowreel.core.media import Media
from glowreel.core.slots import FILLS, SOURCE
from glowreel.core.source import Source


def with_logos(promo: Promo, media: Mapping[str, Media]) -> Promo:
    """The promo with its brand's logo in every slot for one; those are filled then. Without a logo it stays as it is.

    `media` holds the brand's logos by identifier.
    """
    wanted = {(slot.part, slot.of.removeprefix(FILLS)) for slot in promo.slots if slot.kind == "logo"}
    if not wanted or not promo.brand.logos:
        return promo
    used: dict[str, Media] = {}

    def branded(item: Item) -> Item:
        if (item.id, SOURCE) in wanted:
            return by_itself(item)
        fills = dict(item.fills)
        for key, field in wanted:
            logo = promo.brand.logo_on(ground_of(promo.designs[item.design or ""], field)) if key == item.id else None
            if logo is not None and logo in media:
                used[logo] = media[logo]
                fills[field] = Source(media=logo)
        return item if fills == item.fills else item.changed(fills=fills)

    def by_itself(item: Item) -> Item:
        """A layer that is nothing but a logo; what lies behind it is not known, so that it is the usual one."""
        logo = promo.brand.logo_on("ground")
        if logo is None or logo not in media or item.media is None or not promo.media[item.media].still:
            return item
        if item.media in promo.brand.logos.values():
            return item  # One of the brand's is there already.
        used[logo] = media[logo]
        return item.changed(source=Source(media=logo))

    layers = tuple(track.changed(items=tuple(branded(item) for item in track.items)) for track in promo.layers)
    slots = tuple(slot.changed(filled=True) if slot.kind == "logo" and used else slot for slot in promo.slots)
    return promo.changed(layers=layers, slots=slots, media={**promo.media, **used})


def ground_of(design: Design, field: str) -> str:
    """The colour on which a picture of a design stands: that of its box, which says what is seen without it."""
    boxes = (box for root in design.arrange.values() for box in _all(root))
    return next((box.colour for box in boxes if box.kind == "picture" and box.field == field), "ground")


def _all(box: Box) -> Iterator[Box]:
    yield box
    for inner in box.boxes:
        yield from _all(inner)
