"""Shapes: putting one in front of the picture, in the middle or where it was drawn.

```
AddShape  star        at 4 s      →  ......[★].......   in the middle of the frame
AddShape  arrow       drawn 3×1   →  ......[→].......   as large and as wide as it was drawn, in every format
```
Refused: forms that there are not.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any, Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome
from glowreel.core.commands.change import put_item
from glowreel.core.commands.layers import start_anchor
from glowreel.core.commands.roles import FormatId, TrackId
from glowreel.core.commands.setting import format_of, made_in
from glowreel.core.document import Item, Promo
from glowreel.core.errors import Missing
from glowreel.core.forms import FORMS
from glowreel.core.layout import Box, pinned
from glowreel.core.place import Place
from glowreel.core.time import Ticks, ticks

NEW = 0.3
"""How large a new shape is, of the frame's short side."""
LEAST = 0.02
Drawn = tuple[float, float, float, float]


class AddShape(Command):
    """Puts a shape at a time, tied to the clip under it; in a `box` (left, top, width, height, of the short side of
    `format`) where it was drawn there."""

    do: Literal["add-shape"] = "add-shape"
    form: str = Field(max_length=20)
    at: Ticks = 0
    track: TrackId | None = None
    format: FormatId | None = None
    box: Drawn | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        form = FORMS.get(self.form)
        if form is None:
            raise Missing("no-form", f"There is no shape called “{self.form}”.", "Choose another one.")
        values: dict[str, Any] = {
            "form": self.form,
            "pin": (0.5, 0.5),
            "size": NEW * min(2.0, max(1.0, form.ratio / 2)),
        }
        if self.box is not None:
            values |= _drawn(promo, self.format, self.box, form.ratio)
        length = max(promo.rate.frame, promo.rate.snap(ticks(3)))
        item = Item(
            id=context.new_id("i"), kind="shape", anchor=start_anchor(promo, self.at), length=length, values=values
        )
        if self.box is not None:
            item = made_in(item, format_of(promo, self.format) if self.format is not None else promo.formats[0])
        made = put_item(promo, item, self.track, context.new_id)
        return Outcome(made, f"Added a {form.label.lower()}", (item.id,), frozenset({item.id}))


def _drawn(promo: Promo, format_id: str | None, drawn: Drawn, ratio: float) -> dict[str, Any]:
    """Where a shape lies that was drawn in a box, and how large and wide it is."""
    format = format_of(promo, format_id) if format_id is not None else promo.formats[0]
    x, y, width, height = drawn
    box = Box(x, y, max(LEAST, min(8.0, width)), max(LEAST, min(8.0, height)))
    size = box.height * max(1.0, ratio)
    stretch = box.width / (box.height * ratio)
    place = pinned(box, format, replace(Place(), size=size))
    return {
        "pin": place.pin, "place": place.push, "size": max(0.0051, min(8.0, size)),
        "stretch": max(0.1, min(10.0, stretch)),
    }  # fmt: skip
