"""The promo itself: its name.

```
Rename         “Dawn”  →  “Dawn flights”         spaces are tidied
```
Refused: an empty name.
"""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome
from glowreel.core.document import Promo
from glowreel.core.errors import Refusal


class Rename(Command):
    """Gives the promo another name; spaces are tidied."""

    do: Literal["rename"] = "rename"
    name: str = Field(max_length=120)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        name = " ".join(self.name.split())
        if not name:
            raise Refusal("no-name", "A promo needs a name.", "Type at least one letter.")
        return Outcome(promo.changed(name=name), f"Renamed the promo to “{name}”")
