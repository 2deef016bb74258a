"""What lies behind pictures that do not cover the frame, for a scene or for the whole promo. That of one clip is one
of its properties.

```
SetGround   scene “Hook”: as the promo   →  a gradient      with its colours; clips that say nothing of it show it
PutBehind   a person cut out             →  before a beach  the file lies behind the clip, in one step
```
Refused: scenes that are gone, values outside their limits, what is no picture of the main track.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome, called
from glowreel.core.commands.change import replace_clip
from glowreel.core.commands.designs import filled_picture
from glowreel.core.commands.roles import MediaId, Target
from glowreel.core.commands.scenes import find_scene
from glowreel.core.commands.setting import reason
from glowreel.core.document import Promo, Scene
from glowreel.core.errors import Refusal
from glowreel.core.properties import PROPERTIES
from glowreel.core.setting import row_of
from glowreel.core.timeline import timeline


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


class PutBehind(Command):
    """Puts a file behind the picture of a clip: seen where that does not cover the frame, or is cut out."""

    do: Literal["put-behind"] = "put-behind"
    item: Target
    media: MediaId

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        clip = timeline(promo).find_clip(self.item)
        if row_of(clip, "ground") is None:
            raise Refusal("no-ground", "Only pictures of the main track have something behind them.")
        media = context.find(self.media)
        made = filled_picture(promo, clip, "ground", media, 0)
        made = replace_clip(made, clip.id, lambda old: old.having(ground="picture", ground_dim=0.0))
        return Outcome(made, f"Put {media.name} behind {called(promo, clip)}", (clip.id,))
