"""Putting words where they do not fight the picture.

```
PlaceCalm   “Up at dawn” over a face   →   “Up at dawn” over the sky, in each format where that is
```
Where that is, is looked at by whoever carries the command out. Refused: what has no place in the frame.
"""

from __future__ import annotations

from typing import Literal

from glowreel.core.commands.base import Command, Context, Outcome, called
from glowreel.core.commands.roles import FormatId
from glowreel.core.commands.selection import Chosen, still_there
from glowreel.core.commands.setting import put_in
from glowreel.core.document import Promo
from glowreel.core.errors import Refusal
from glowreel.core.formats import CANON
from glowreel.core.layout import Box
from glowreel.core.setting import row_of
from glowreel.core.timeline import timeline

MOST = 4
"""Each takes about half a second, in which nobody else edits the promo."""


class PlaceCalm(Command):
    """Puts layers over the calmest part of the picture where no face is, in one format or in each."""

    do: Literal["place-calm"] = "place-calm"
    items: Chosen
    format: FormatId | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        index = timeline(promo)
        found = [index.item[key] for key in sorted(still_there(promo, self.items)) if key in index.item]
        found = [item for item in found if row_of(item, "place") is not None]
        if not found:
            raise Refusal("no-place", "What is selected has no place in the frame.", "Select words or another layer.")
        if len(found) > MOST:
            raise Refusal("too-many", f"At most {MOST} are placed so at once.", "Select fewer.")
        formats = [format for format in promo.formats if self.format in (None, format.id)]
        for item in found:
            for format in formats:
                box = context.calm(promo, item, format)
                lies = Box(box.x / CANON, box.y / CANON, box.width / CANON, box.height / CANON)
                promo, _ = put_in(promo, {item.id: lies}, format, context, only=True, at=None)
        who = called(promo, found[0]) if len(found) == 1 else f"{len(found)} layers"
        where = f" in {formats[0].name}" if self.format is not None and formats else ""
        ids = tuple(item.id for item in found)
        return Outcome(promo, f"Put {who} where it is calm{where}", ids)
