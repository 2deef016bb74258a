"""Which derived media the recipes of a promo name."""

from __future__ import annotations

from collections.abc import Iterator

from glowreel.core.derived import Need
from glowreel.core.document import Part, Promo
from glowreel.core.properties.table import NEEDING


def needs_of(promo: Promo, part: Part) -> Iterator[Need]:
    """What the recipes of one part name."""
    media = promo.media.get(part.media or "")
    if media is None:
        return
    for name, row in NEEDING.items():
        # What is not said is at its default, which needs nothing.
        if name in part.values and part.read(name) and not ("heard" in row.of and not media.sounding):
            yield Need(media.hash, row.needs)


def needs(promo: Promo) -> tuple[Need, ...]:
    """What the recipes of a promo name, each once, in the order in which it is met."""
    parts = (*promo.clips, *promo.items)
    return tuple(dict.fromkeys(need for part in parts for need in needs_of(promo, part)))
