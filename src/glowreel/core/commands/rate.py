"""The promo's frame rate: that of its first footage, until somebody chooses one.

```
30 frames/s, empty   + footage at 25   →  25 frames/s, and a notice
25 frames/s          SetRate 50        →  50 frames/s, every cut on the nearest frame of the new grid
```
"""

from __future__ import annotations

from typing import Literal

from glowreel.core.commands.base import Command, Context, Outcome
from glowreel.core.commands.conform import at_rate
from glowreel.core.document import Promo
from glowreel.core.errors import Refusal
from glowreel.core.media import Media
from glowreel.core.time import RATES, Rate, promo_rate


class SetRate(Command):
    """Gives the promo another frame rate, one of `core.time.RATES`; cuts and layers go to the nearest frame."""

    do: Literal["set-rate"] = "set-rate"
    rate: Rate

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        if self.rate not in RATES:
            raise Refusal("rate", "A promo cannot have that rate.", f"Choose one of {', '.join(map(str, RATES))}.")
        made = at_rate(promo, self.rate).changed(rate_chosen=True)
        return Outcome(
            made, f"Set the rate to {self.rate} frames a second", touched=frozenset(i.id for i in made.items)
        )


def with_first_rate(promo: Promo, media: list[Media]) -> tuple[Promo, str]:
    """The promo at the rate of the first footage that comes into it, and a notice; as it was where it has a rate."""
    first = next((m for m in media if m.kind == "footage" and m.rate is not None), None)
    if first is None or first.rate is None or promo.rate_chosen:
        return promo, ""
    if any(known.kind == "footage" for known in promo.media.values()):
        return promo, ""
    rate = promo_rate(first.rate)
    if rate == promo.rate:
        return promo, ""
    return at_rate(promo, rate), f"The promo now runs at {rate} frames a second, as {first.name} does."
