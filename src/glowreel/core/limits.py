"""How large a promo may become. Checked after every command and for every document that comes from outside."""

from __future__ import annotations

from collections.abc import Callable

from glowreel.core.document import Free, Promo
from glowreel.core.errors import Refusal
from glowreel.core.time import MAX_TICKS

Measure = Callable[[Promo], int]

LIMITS: dict[str, tuple[int, Measure]] = {
    "scenes": (300, lambda promo: len(promo.scenes)),
    "clips": (2000, lambda promo: len(promo.clips)),
    "layers and sounds": (3000, lambda promo: len(promo.items)),
    "files": (1000, lambda promo: len(promo.media)),
    "letters in all its words": (
        200_000, lambda promo: sum(len(item.values.get("text", "")) for item in promo.items),
    ),
}  # fmt: skip
"""What is counted, how many there may be, and how they are counted."""


def check_limits(promo: Promo) -> Promo:
    """The promo, if it is within the limits; a refusal that names the one it breaks otherwise."""
    for what, (most, measure) in LIMITS.items():
        if measure(promo) > most:
            raise Refusal("too-much", f"A promo has at most {most:,} {what}.", "Make two promos of it.")
    # Nothing that is tied begins after the main track ends, so that this needs no index of where everything lies.
    ends = [item.anchor.at + item.length for item in promo.items if isinstance(item.anchor, Free)]
    if max(ends, default=0) > MAX_TICKS or sum(clip.length for clip in promo.clips) > MAX_TICKS:
        raise Refusal("too-long", "A promo lasts at most six hours.", "Make two promos of it.")
    return promo
