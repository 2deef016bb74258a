"""What lies behind pictures that do not cover the frame, for a scene or for the whole promo. That of one clip is one
of its properties.

```
SetGround   scene “Hook”: as the promo   →  a gradient      with its colours; clips that say nothing of it show it
```
Refused: scenes that are gone, values outside their limits.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome
from glowreel.core.commands.roles import Target
from glowreel.core.commands.scenes import find_scene
from glowreel.core.commands.setting import reason
from glowreel.core.document import Promo, Scene
from glowreel.core.errors import Refusal
from glowreel.core.properties import PROPERTIES


class SetGround(Command):
    """Says what lies behind the pictures of a scene, or, without one, of the promo; values that are not named stay."""

    do: Literal["set-ground"] = "set-ground"
    scene: Target | None = None
    values: Annotated[dict[str, Any], Field(min_length=1, max_length=20)]

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        found = find_scene(promo, self.scene) if self.scene is not None else None
        holder: Scene | Promo = found if found is not None else promo
        rows = {name: PROPERTIES[name] for name in self.values if name in PROPERTIES}
        try:
            values = holder.changed(values={**holder.values, **self.values}).values
        except ValueError as error:
            raise Refusal("bad-value", f"That cannot be: {reason(error)}.", "Choose another value.") from error
        if found is None:
            made, whose = promo.changed(values=values), "the promo"
        else:
            scenes = tuple(s.changed(values=values) if s.id == found.id else s for s in promo.scenes)
            made, whose = promo.changed(scenes=scenes), f"the scene “{found.name}”"
        said = next((f"{row.label.lower()} of {whose}: {row.say(values.get(name, row.default))}"
                     for name, row in rows.items()), f"what lies behind {whose}")  # fmt: skip
        return Outcome(made, f"Set {said}" if rows else f"Changed {said}")
