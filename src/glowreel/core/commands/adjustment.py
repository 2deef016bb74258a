"""Adjustments: what is done for a while to everything that lies behind them.

```
AddAdjustment   main |--A--|--B--|    over the scene of B    →   front  ......[adjustment]
                                      from 2 s to 5 s, or from one time on, or over the whole promo
```
It comes in front of everything there is. Times and lengths are ticks, on the frame grid. Refused: a range without
length, a promo with nothing to adjust.
"""

from __future__ import annotations

from typing import Literal

from glowreel.core.commands.base import Command, Context, Outcome
from glowreel.core.commands.change import MAX_TRACKS
from glowreel.core.commands.layers import start_anchor
from glowreel.core.commands.roles import Target
from glowreel.core.commands.scenes import find_scene
from glowreel.core.document import Anchor, Item, Promo, Track, Whole
from glowreel.core.errors import Refusal
from glowreel.core.time import Length, Ticks, ticks
from glowreel.core.timeline import timeline


class AddAdjustment(Command):
    """Puts an adjustment in front: over a scene, over a stretch from `at` on, or over the whole promo."""

    do: Literal["add-adjustment"] = "add-adjustment"
    at: Ticks = 0
    length: Length = ticks(3)
    scene: Target | None = None
    whole: bool = False

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        index, rate = timeline(promo), promo.rate
        if not index.length:
            raise Refusal("nothing", "There is nothing yet to adjust.", "Add a clip first.")
        if len(promo.layers) >= MAX_TRACKS:
            raise Refusal("too-many", f"A promo has at most {MAX_TRACKS} tracks of a kind.", "Free one first.")
        at, length, where = self.at, max(rate.frame, rate.snap(self.length)), "a stretch"
        if self.scene is not None:
            scene = find_scene(promo, self.scene)
            span = index.scene_span[scene.id]
            at, length, where = span.start, span.length, f"the scene “{scene.name}”"
        anchor: Anchor = Whole() if self.whole else start_anchor(promo, at)
        item = Item(id=context.new_id("i"), kind="adjustment", anchor=anchor, length=length)
        track = Track(id=context.new_id("t"), items=(item,))
        made = promo.changed(layers=(track, *promo.layers))
        sentence = f"Put an adjustment over {'the whole promo' if self.whole else where}"
        return Outcome(made, sentence, (item.id,), frozenset({item.id}))
