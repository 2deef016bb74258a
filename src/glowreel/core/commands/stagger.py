"""Layers that come one after another.

```
Stagger   title, price, logo   by 0.2 s   →   title waits 0 s, price 0.2 s, logo 0.4 s     in the order they were named
```
What it waits is the delay with which each comes; a wait is no longer than the layer is there. What was there at once
fades in. Refused: fewer than two layers, and what is not placed in the frame.
"""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome, in_seconds
from glowreel.core.commands.change import map_parts
from glowreel.core.commands.roles import Target
from glowreel.core.document import Item, Promo
from glowreel.core.errors import Refusal
from glowreel.core.properties import PROPERTIES
from glowreel.core.time import TICKS_PER_SECOND, Ticks
from glowreel.core.timeline import timeline


class Stagger(Command):
    """Lets layers come one after another, each later than the one before by the same time."""

    do: Literal["stagger"] = "stagger"
    items: tuple[Target, ...] = Field(min_length=1, max_length=500)
    by: Ticks

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        index = timeline(promo)
        items = [index.find_item(key) for key in dict.fromkeys(self.items)]
        if len(items) < 2 or any("placed" not in item.content.traits for item in items):
            raise Refusal("too-few", "Several layers come one after another.", "Select two or more of them.")
        row = PROPERTIES["arrive_delay"]
        by = promo.rate.snap(self.by)
        waits = {
            item.id: int(min(by * place, row.high * TICKS_PER_SECOND, index.item_span(item).length - promo.rate.frame))
            for place, item in enumerate(items)
        }

        def change(item: Item) -> Item:
            comes = {} if item.read("arrives") != "none" else {"arrives": "fade"}
            return item.having(arrive_delay=max(0, waits[item.id]), **comes)

        made = map_parts(promo, set(waits), change)
        return Outcome(made, f"Let {len(items)} layers come {in_seconds(by)} after one another", tuple(waits))
