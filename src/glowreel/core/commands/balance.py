"""Colours that are set by looking at the picture.

```
Balance   a clip               →  its light, contrast and colour as even as its picture allows
          a clip, like another →  as light, as rich in contrast and of the same colour as that one
```
What was set of these before is replaced; a look, curves and effects stay. Refused: what has no picture of its own.
"""

from __future__ import annotations

from typing import Literal

from glowreel.core.commands.base import Command, Context, Outcome, called
from glowreel.core.commands.change import map_parts
from glowreel.core.commands.roles import FormatId, Target
from glowreel.core.commands.selection import Chosen, still_there
from glowreel.core.commands.setting import assigned, place_for
from glowreel.core.document import Part, Promo
from glowreel.core.errors import Refusal
from glowreel.core.properties import PROPERTIES
from glowreel.core.setting import APart
from glowreel.core.timeline import timeline

MOST = 8
"""Each takes about a third of a second, in which nobody else edits the promo."""


class Balance(Command):
    """Sets light and colour of pictures by what is seen in them, evenly or like those of another one."""

    do: Literal["balance"] = "balance"
    items: Chosen
    like: Target | None = None
    format: FormatId | None = None
    only: bool = False

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        index = timeline(promo)
        found = [index.find_part(key) for key in sorted(still_there(promo, self.items))]
        found = [part for part in found if _has_picture(part)]
        like = index.find_part(self.like) if self.like is not None else None
        if not found or (like is not None and not _has_picture(like)):
            raise Refusal("no-picture", "That has no picture to look at.", "Select footage or a photo.")
        if len(found) > MOST:
            raise Refusal("too-many", f"At most {MOST} pictures are balanced at once.", "Select fewer.")
        values = {part.id: context.balance(promo, part, like) for part in found}

        def change(part: APart) -> APart:
            for name, value in values[part.id].items():
                row = PROPERTIES[name]
                part = assigned(part, row, name, value, place_for(part, row, name, self.format, self.only), None)
            return part

        who = called(promo, found[0]) if len(found) == 1 else f"{len(found)} pictures"
        sentence = f"Matched {who} with {called(promo, like)}" if like is not None else f"Balanced {who}"
        return Outcome(map_parts(promo, set(values), change), sentence, tuple(values))


def _has_picture(part: Part) -> bool:
    return part.source is not None and "pictured" in part.content.traits
