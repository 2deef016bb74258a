"""Whether letters stand out from what lies behind them."""

from __future__ import annotations

from collections.abc import Iterator

from glowreel.core.checks.finding import Check, Cure, Finding, Sight
from glowreel.core.colour import contrast_of
from glowreel.core.commands.base import called
from glowreel.core.document import Item
from glowreel.core.formats import CANON, Format
from glowreel.core.roles import COLOUR_ROLES
from glowreel.core.setting import row_of
from glowreel.core.timeline import Span

LARGE, SMALL = 3.0, 4.5
"""What WCAG 2.2 (1.4.3, AA) asks of large letters and of small ones."""
SMALL_SIZE = 0.033
"""Letters up to this share of the short side are small: about 18 points on a phone held upright."""
SAMPLES = (0.2, 0.45, 0.7, 0.9)
"""Where in the time of a layer it is looked at."""


def _times(sight: Sight, span: Span) -> list[int]:
    rate = sight.promo.rate
    return [rate.frame_start(rate.frame_floor(span.start + round(span.length * share))) for share in SAMPLES]


def _cures(sight: Sight, item: Item, format_id: str) -> tuple[Cure, ...]:
    """A box in the ground's colour or the paper's, an outline, or the brand's colour that stands out most."""
    if row_of(item, "box") is None:
        return ()
    brand, own = sight.promo.brand, sight.promo.brand.colour(str(item.read("colour", format_id)))

    def setting(label: str, **values: object) -> list[Cure]:
        """Nothing where it is so already."""
        same = all(item.set_to(name) == value for name, value in values.items())
        return [] if same else [Cure(label, {"do": "set", "items": [item.id], "values": values})]

    behind = max(("ground", "paper"), key=lambda role: contrast_of(own, brand.colour(role)))
    line = max(("#000000", "#FFFFFF"), key=lambda colour: contrast_of(own, colour))
    light = contrast_of(own, "#000000") > contrast_of(own, "#FFFFFF")
    other = [role for role in COLOUR_ROLES if brand.colour(role) != own]
    best = max(other, key=lambda role: contrast_of(brand.colour(role), own))
    return (
        *(setting("Darken behind it", shadow=0.9) if light else []),
        *setting("Put it on a box", box=behind),
        *setting("Outline its letters", outline=0.06, outline_colour=line),
        *setting("Give it another colour", colour=best),
    )


def stands_out(sight: Sight) -> Iterator[Finding]:
    for item, span in sight.layers:
        worst: list[tuple[float, int, Format, float]] = []
        for format in sight.promo.formats:
            words = sight.words(item, format)
            if not words:
                continue
            need = SMALL if min(op.size for op in words) <= SMALL_SIZE * CANON else LARGE
            seen = [(ratio, at) for at in _times(sight, span)
                    if (ratio := sight.contrast(sight.promo, item, format, at)) is not None]  # fmt: skip
            if seen and min(seen)[0] < need:
                worst.append((*min(seen), format, need))
        if not worst:
            continue
        # Said once for all formats, and shown where it is worst.
        ratio, at, format, need = min(worst, key=lambda one: one[0])
        where = " and ".join(one[2].name for one in worst)
        yield Finding(
            "contrast", item.id,
            f"{called(sight.promo, item)} hardly stands out in {where}: {ratio:.1f} to 1 at the worst, and {need:g} is "
            "the least.", at, format.id, _cures(sight, item, format.id),
        )  # fmt: skip


CHECKS = (Check("contrast", "Stands out", "letters stand out from what is drawn beside them", stands_out),)
