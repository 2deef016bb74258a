"""Whether the brand's logos are large enough, and have the room around them that the brand asks for."""

from __future__ import annotations

from collections.abc import Iterator

from glowreel.core.checks.finding import Check, Cure, Finding, Sight
from glowreel.core.checks.room import free_place, inside, placing
from glowreel.core.document import Item
from glowreel.core.formats import CANON, Format
from glowreel.core.layout import Box, common
from glowreel.core.timeline import Span

SLACK = 0.005 * CANON
"""What is too small, or too near, by less is let pass; canonical units."""


def _shown(sight: Sight) -> Iterator[tuple[Item, Span, Format, Box]]:
    """Every layer that is a logo of the brand, in each format."""
    logos = set(sight.promo.brand.logos.values())
    for item, span in sight.layers:
        if item.media in logos:
            for format in sight.promo.formats:
                drawn = sight.drawn(item, format)
                if drawn is not None:
                    yield item, span, format, drawn.box


def too_small(sight: Sight) -> Iterator[Finding]:
    smallest = sight.promo.brand.rules.smallest * CANON
    if not smallest:
        return
    for item, span, format, box in _shown(sight):
        if 0 < box.height < smallest - SLACK:
            size = round(sight.read(item, format, "size") * smallest / box.height * 1.001, 4)
            cure = Cure("Make it larger", {
                "do": "set", "items": [item.id], "values": {"size": size}, "format": format.id, "only": True,
            })  # fmt: skip
            said = f"The logo is smaller in {format.name} than {sight.promo.brand.name} lets it be."
            yield Finding("logo-size", item.id, said, span.start, format.id, (cure,))


def _wider(box: Box, by: float) -> Box:
    return Box(box.x - by, box.y - by, box.width + 2 * by, box.height + 2 * by)


def crowded(sight: Sight) -> Iterator[Finding]:
    share = sight.promo.brand.rules.clear
    if not share:
        return
    for item, span, format, box in _shown(sight):
        room = share * box.height
        near = [
            (drawn.box, when) for other, when in sight.layers
            if other.id != item.id and span.meets(when) and (drawn := sight.drawn(other, format)) is not None
            and not (other.design and sight.promo.designs[other.design].frame == "full")
        ]  # fmt: skip
        around = _wider(box, room - SLACK)
        meeting = [(spot, when) for spot, when in near if common(around, spot) > 0]
        if not meeting:
            continue
        # The place is looked for with the room, and the logo put into its middle.
        taken = [spot for spot, _ in near]
        first = inside(_wider(box, room), format)
        free = first if not any(common(first, spot) for spot in taken) else free_place(first, taken, format)
        cures = (Cure("Move it to where there is room", placing(item, format, _wider(free, -room))),) if free else ()
        said = f"The logo has less room around it in {format.name} than {sight.promo.brand.name} asks for."
        at = max(span.start, min(when.start for _, when in meeting))
        yield Finding("logo-room", item.id, said, at, format.id, cures)


CHECKS = (
    Check("logo-size", "Logo large enough", "the brand’s logo is no smaller than the brand lets it be", too_small),
    Check("logo-room", "Room for the logo", "nothing comes nearer to the logo than the brand asks for", crowded),
)
