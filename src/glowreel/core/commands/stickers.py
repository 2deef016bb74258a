"""Stickers: putting one in front of the picture.

```
AddSticker  party-popper  at 4 s   →  ......[🎉].......   in the middle of the frame
```
Refused: what is no name. One that this program does not have is not drawn, and never a reason not to open a promo.
"""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome, called
from glowreel.core.commands.change import put_item
from glowreel.core.commands.layers import start_anchor
from glowreel.core.commands.roles import TrackId
from glowreel.core.document import Item, Promo
from glowreel.core.time import Ticks, ticks

NEW = 0.22
"""How large a new sticker is, of the frame's short side."""


class AddSticker(Command):
    """Puts a sticker at a time, tied to the clip under it; in one colour, or a role, where one is given."""

    do: Literal["add-sticker"] = "add-sticker"
    sticker: str = Field(min_length=1, max_length=60, pattern=r"^[a-z0-9][a-z0-9-]*$")
    at: Ticks = 0
    track: TrackId | None = None
    colour: str = Field(default="", max_length=20)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        values = {"sticker": self.sticker, "pin": (0.5, 0.5), "size": NEW, "arrives": "pop", "one_colour": self.colour}
        length = max(promo.rate.frame, promo.rate.snap(ticks(3)))
        item = Item(
            id=context.new_id("i"), kind="sticker", anchor=start_anchor(promo, self.at), length=length, values=values
        )
        made = put_item(promo, item, self.track, context.new_id)
        return Outcome(made, f"Added {called(promo, item)}", (item.id,), frozenset({item.id}))
