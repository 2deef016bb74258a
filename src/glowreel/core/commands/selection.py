"""Several items at once: moved, trimmed, grouped.

```
MoveItems   ..[a]..[b]..   by 2 s          →  ....[a]..[b]      together; none before the start, clips stay
TrimBy      |-A-|-B-|  [t] ends by -0.5 s  →  |A-|B-| [t        each as far as its material goes
TrimTo      |-A-|--B--|  to 3 s            →  |-A-|-B-|         each as long as the others
Group       a, b  →  one for selecting;    apart: each by itself again
```
Lengths are ticks. Refused: nothing that is still there, groups of one.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from glowreel.core.anchors import at_time
from glowreel.core.commands.base import Command, Context, Outcome, in_seconds
from glowreel.core.commands.change import map_items, rebuild_scenes
from glowreel.core.commands.roles import Target
from glowreel.core.commands.trim import Side, fitted_clip, trim_clips, trim_items
from glowreel.core.document import Item, Promo, Whole
from glowreel.core.errors import Missing, Refusal
from glowreel.core.time import MAX_TICKS, TICKS_PER_SAMPLE, Length
from glowreel.core.timeline import timeline

Chosen = Annotated[tuple[Target, ...], Field(min_length=1, max_length=3000)]
By = Annotated[int, Field(ge=-MAX_TICKS, le=MAX_TICKS)]


def still_there(promo: Promo, ids: tuple[str, ...]) -> set[str]:
    """Those of the clips and items that exist; a refusal if none does."""
    index = timeline(promo)
    found = {i for i in ids if i in index.clip or i in index.item}
    if not found:
        raise Missing("gone", "None of that is in the promo any more.", "Reload to see where things are now.")
    return found


class MoveItems(Command):
    """Moves layers and sounds together by a length of time; none starts before the promo. Clips stay: they have no
    start of their own."""

    do: Literal["move-items"] = "move-items"
    items: Chosen
    by: By

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        index = timeline(promo)
        found = still_there(promo, self.items)
        moving = {i.id: i for i in promo.items if i.id in found and not isinstance(i.anchor, Whole)}
        if not moving:
            raise Refusal("nothing-moves", "Clips and what lasts for the whole promo have no start to move.")
        sounds_only = all(i.content.fine for i in moving.values())
        by = self.by // TICKS_PER_SAMPLE * TICKS_PER_SAMPLE if sounds_only else promo.rate.snap(abs(self.by))
        by = by if sounds_only or self.by >= 0 else -by
        room = min(index.item_span(i).start for i in moving.values())
        # A sound may begin inside a frame; layers that move with it stay on the grid.
        room = room if sounds_only else promo.rate.frame_start(promo.rate.frame_floor(room))
        by = max(by, -room)

        def change(item: Item) -> Item:
            return at_time(index, item, index.item_span(item).start + by) if item.id in moving else item

        sentence = f"Moved {len(moving)} items by {in_seconds(abs(by))}"
        return Outcome(map_items(promo, change), sentence, self.items, frozenset(moving))


class TrimBy(Command):
    """Trims the same end of several clips and items by the same length; `by` is added to each one's length."""

    do: Literal["trim-by"] = "trim-by"
    items: Chosen
    edge: Side = "end"
    by: By

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        found = still_there(promo, self.items)
        index = timeline(promo)
        clips = {
            clip.id: fitted_clip(promo, clip, max(1, clip.length + self.by), self.edge)
            for clip in promo.clips
            if clip.id in found
        }
        made = trim_clips(promo, clips, self.edge) if clips else promo
        items = {item.id: max(1, index.item_span(item).length + self.by) for item in promo.items if item.id in found}
        made = trim_items(made, items, self.edge) if items else made
        sentence = f"Trimmed {len(found)} items by {in_seconds(abs(self.by))}"
        return Outcome(made, sentence, self.items, frozenset(found))


class TrimTo(Command):
    """Gives several clips and items one length, each by its end, or as near to it as it can have."""

    do: Literal["trim-to"] = "trim-to"
    items: Chosen
    length: Length

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        found = still_there(promo, self.items)
        clips = {clip.id: fitted_clip(promo, clip, self.length, "end") for clip in promo.clips if clip.id in found}
        made = trim_clips(promo, clips, "end") if clips else promo
        items = {item.id: self.length for item in promo.items if item.id in found}
        made = trim_items(made, items, "end") if items else made
        sentence = f"Made {len(found)} items {in_seconds(self.length)} long"
        return Outcome(made, sentence, self.items, frozenset(found))


class Group(Command):
    """Makes clips and items one for selecting; with `apart`, each is by itself again."""

    do: Literal["group"] = "group"
    items: Chosen
    apart: bool = False

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        found = still_there(promo, self.items)
        if len(found) < 2 and not self.apart:
            raise Refusal("alone", "A group needs at least two items.", "Select more with Shift or Ctrl.")
        name = None if self.apart else context.new_id("g")

        def change(item: Item) -> Item:
            return item.changed(group=name) if item.id in found else item

        made = map_items(promo, change)
        runs = [(s, [c.changed(group=name) if c.id in found else c for c in s.clips]) for s in made.scenes]
        made = rebuild_scenes(made, runs)
        sentence = f"Took {len(found)} items apart" if self.apart else f"Grouped {len(found)} items"
        return Outcome(made, sentence, self.items)
