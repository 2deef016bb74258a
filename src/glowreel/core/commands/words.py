"""What words say and how they look.

```
SetWords     “Fly”  →  “Fly at first light”
StyleWords   font, weight, colour, alignment, box, shadow; fields left out stay
```
A weight that the font does not have becomes the nearest one. Refused: what is no words, fonts that are not shipped.
"""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome, called
from glowreel.core.commands.change import replace_item
from glowreel.core.commands.roles import Target
from glowreel.core.document import Item, Promo
from glowreel.core.errors import Refusal
from glowreel.core.timeline import timeline
from glowreel.core.value import Colour, Fraction01
from glowreel.core.words import FONTS, MAX_LETTERS, Words


def change_words(promo: Promo, item_id: str, changes: dict[str, Any]) -> Promo:
    """The promo with some fields of one title changed, or a refusal if the item is no title."""
    if not isinstance(timeline(promo).find_item(item_id).content, Words):
        raise Refusal("not-words", "Only words can be changed like that.", "Select a title first.")

    def change(item: Item) -> Item:
        return item.changed(content=item.content.changed(**changes))

    return replace_item(promo, item_id, change)


class SetWords(Command):
    """Replaces the text of a title."""

    do: Literal["set-words"] = "set-words"
    item: Target
    text: str = Field(max_length=MAX_LETTERS)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        promo = change_words(promo, self.item, {"text": self.text})
        return Outcome(promo, f"Wrote {called(promo, timeline(promo).item[self.item])}", select=(self.item,))


class StyleWords(Command):
    """Changes the look of a title; fields left out stay as they are. An empty `box` takes the box away."""

    do: Literal["style-words"] = "style-words"
    item: Target
    font: str | None = None
    weight: int | None = Field(default=None, ge=100, le=900)
    colour: Colour | None = None
    align: Literal["left", "centre", "right"] | None = None
    box: Colour | Literal[""] | None = None
    shadow: Fraction01 | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        changes = self.model_dump(exclude={"do", "item"}, exclude_none=True)
        if changes.get("box") == "":
            changes["box"] = None
        if self.font in FONTS:
            item = timeline(promo).find_item(self.item)
            have = item.content.weight if isinstance(item.content, Words) else 400
            wanted = self.weight or have
            changes["weight"] = min(FONTS[self.font], key=lambda w: abs(w - wanted))
        promo = change_words(promo, self.item, changes)
        return Outcome(promo, f"Styled {called(promo, timeline(promo).item[self.item])}", select=(self.item,))
