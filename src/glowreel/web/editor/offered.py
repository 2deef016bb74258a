"""What of a promo's brand and channels stands beside what is chosen: colours, and what covers a format."""

from __future__ import annotations

from typing import Any

from glowreel.core.brand import Brand
from glowreel.core.document import Promo
from glowreel.core.formats import Format, shape_of
from glowreel.core.roles import COLOUR_ROLES

MOST_OTHERS = 4
"""So many colours of a brand without a role are offered beside every colour."""


def covers_of(promo: Promo, format: Format) -> list[list[Any]]:
    """What the format's channel lays over it: each with its left, top, width and height, as shares of the frame."""
    channel = promo.known_channels.get(format.channel)
    areas = channel.covers.get(shape_of(format.wide, format.high), ()) if channel is not None else ()
    return [[what, *area] for what, area in areas]


def brand_swatches(brand: Brand) -> list[tuple[str, str]]:
    """The colours of a brand that are offered first wherever one is chosen: as they are set, and as they look."""
    others = [(colour, colour) for colour in brand.palette.others if not brand.plays(colour)]
    return [(role, brand.colour(role)) for role in COLOUR_ROLES] + others[:MOST_OTHERS]
