"""Effects on clips and items (see `core.effects`). What can be set of one is set by `Set`, as `<effect>.<parameter>`.

```
AddEffect     [clip]          →  [clip: blur]
MoveEffect    blur, grey      →  grey, blur        they are done in this order
RemoveEffect  [clip: blur]    →  [clip]
```
Refused: effects there are not, on what is not seen, more than a part may have.
"""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome, called
from glowreel.core.commands.change import map_parts
from glowreel.core.commands.roles import Reference, Target
from glowreel.core.commands.selection import Chosen, still_there
from glowreel.core.commands.setting import reason
from glowreel.core.content.values import checked
from glowreel.core.document import MAX_EFFECTS, Effect, Part, Promo
from glowreel.core.effects import EFFECTS
from glowreel.core.errors import Missing, Refusal
from glowreel.core.timeline import timeline


class AddEffect(Command):
    """Puts an effect on clips and items, after those that they have."""

    do: Literal["add-effect"] = "add-effect"
    items: Chosen
    effect: str = Field(max_length=40)
    values: dict[str, Any] = Field(default={}, max_length=40)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        kind = EFFECTS.get(self.effect)
        if kind is None:
            raise Refusal(
                "no-effect", f"There is no effect called “{self.effect}”.", f"There are {', '.join(EFFECTS)}."
            )
        index = timeline(promo)
        found = {key for key in still_there(promo, self.items) if "seen" in index.find_part(key).content.traits}
        if not found:
            raise Refusal("not-seen", "An effect needs something that is seen.", "Select a clip or a layer.")
        if any(len(index.find_part(key).effects) >= MAX_EFFECTS for key in found):
            raise Refusal("too-many", f"A part has at most {MAX_EFFECTS} effects.", "Remove one first.")

        try:
            values = checked({row.name: row for row in kind.parameters}, kind.label, self.values)
        except ValueError as error:
            raise Refusal("bad-value", f"That cannot be: {reason(error)}.", "Choose another value.") from error

        def change(part: Any) -> Any:
            effect = Effect(id=context.new_id("e"), kind=self.effect, values=values)
            return part.changed(effects=(*part.effects, effect))

        who = called(promo, index.find_part(min(found))) if len(found) == 1 else f"{len(found)} items"
        return Outcome(map_parts(promo, found, change), f"Put the effect {kind.label.lower()} on {who}", self.items)


def _of(promo: Promo, item: str, effect: str) -> tuple[Part, int]:
    part = timeline(promo).find_part(item)
    spot = next((n for n, known in enumerate(part.effects) if known.id == effect), None)
    if spot is None:
        raise Missing("gone", "That effect is no longer there.", "Undo may bring it back.")
    return part, spot


class RemoveEffect(Command):
    """Takes an effect away."""

    do: Literal["remove-effect"] = "remove-effect"
    item: Target
    effect: Reference

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        part, spot = _of(promo, self.item, self.effect)
        label = EFFECTS[part.effects[spot].kind].label.lower()
        rest = (*part.effects[:spot], *part.effects[spot + 1 :])
        made = map_parts(promo, {part.id}, lambda old: old.changed(effects=rest))
        return Outcome(made, f"Took the effect {label} off {called(promo, part)}", (part.id,))


class MoveEffect(Command):
    """Moves an effect earlier (-1) or later (1) in the order in which they are done."""

    do: Literal["move-effect"] = "move-effect"
    item: Target
    effect: Reference
    by: Literal[-1, 1]

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        part, spot = _of(promo, self.item, self.effect)
        effects = list(part.effects)
        moved = effects.pop(spot)
        effects.insert(max(0, spot + self.by), moved)
        made = map_parts(promo, {part.id}, lambda old: old.changed(effects=tuple(effects)))
        return Outcome(made, f"Moved an effect of {called(promo, part)}", (part.id,))
