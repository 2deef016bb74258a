"""The promo itself: its name and the formats it is published in.

```
Rename         “Dawn”  →  “Dawn flights”         spaces are tidied
AddFormat      wide, square  + tall  →  wide, square, tall
RemoveFormat   wide, square  - wide  →  square    places made for it are kept
```
Refused: an empty name, a format that is there already, the last format.
"""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome
from glowreel.core.commands.roles import FormatId
from glowreel.core.document import Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.formats import shipped


class Rename(Command):
    """Gives the promo another name; spaces are tidied."""

    do: Literal["rename"] = "rename"
    name: str = Field(max_length=120)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        name = " ".join(self.name.split())
        if not name:
            raise Refusal("no-name", "A promo needs a name.", "Type at least one letter.")
        return Outcome(promo.changed(name=name), f"Renamed the promo to “{name}”")


class AddFormat(Command):
    """Publishes the promo in one more shipped format."""

    do: Literal["add-format"] = "add-format"
    format: FormatId

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        new = shipped(self.format)
        if any(f.id == new.id for f in promo.formats):
            raise Refusal("have-format", f"The promo is made in {new.name} already.")
        return Outcome(promo.changed(formats=(*promo.formats, new)), f"Added the format {new.name}")


class RemoveFormat(Command):
    """Stops publishing in a format; places made for it are kept, should it come back."""

    do: Literal["remove-format"] = "remove-format"
    format: FormatId

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        rest = tuple(f for f in promo.formats if f.id != self.format)
        if len(rest) == len(promo.formats):
            raise Missing("gone", "That format is no longer in the promo.")
        if not rest:
            raise Refusal("last-format", "A promo needs at least one format.", "Add another before removing this one.")
        return Outcome(promo.changed(formats=rest), "Removed a format")
