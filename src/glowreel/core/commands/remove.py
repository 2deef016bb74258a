"""Taking things away.

```
Remove
clip    |A|B|C| - B  →  |A|C|     the track closes up; what was tied to B and ended with it goes along,
                                  what outlasts it, and what is on a locked track, stays, tied to the
                                  clip that takes B's place
item    a hole stays on its track; everything else keeps its time
```
"""

from __future__ import annotations

from collections.abc import Collection
from typing import Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome, called
from glowreel.core.commands.change import map_items, rebuild_scenes
from glowreel.core.commands.ranges import close_up
from glowreel.core.commands.roles import Target
from glowreel.core.document import Item, Promo, Tied
from glowreel.core.errors import Missing
from glowreel.core.timeline import Span, timeline


class Remove(Command):
    """Removes clips, layers, sounds and notes by identifier. What is already gone is passed over. With `close`, what
    comes later on the tracks of removed items moves up."""

    do: Literal["remove"] = "remove"
    items: tuple[Target, ...] = Field(min_length=1, max_length=3000)
    close: bool = False

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        return without_parts(promo, self.items, close=self.close)


def without_parts(promo: Promo, keys: Collection[str], *, close: bool = False) -> Outcome:
    """What taking parts and notes away leads to. Those that are gone already are passed over."""
    index = timeline(promo)
    chosen = {i for i in keys if i in index.clip or i in index.item or i in index.note}
    if not chosen:
        raise Missing("gone", "That has already been removed.", "Undo brings it back.")
    kept_ties = 0

    def change(item: Item) -> Item | None:
        nonlocal kept_ties
        if item.id in chosen:
            return None
        if isinstance(item.anchor, Tied) and item.anchor.clip in chosen and not index.track_of[item.id].locked:
            if index.heard_span(item).end <= index.clip_span[item.anchor.clip].end:
                return None
            kept_ties += 1
        return item

    names = [index.clip[i].name for i in chosen if i in index.clip]
    names += [called(promo, index.item[i]) for i in chosen if i in index.item]
    names += ["a note" for i in chosen if i in index.note]
    sentence = f"Removed {names[0]}" if len(names) == 1 else f"Removed {len(names)} items"
    if close:
        promo = _close_after(promo, chosen)
    if any(i in index.note for i in chosen):
        promo = promo.changed(notes=tuple(note for note in promo.notes if note.id not in chosen))
    # The items go first: they may be tied to a clip that is about to go.
    promo = map_items(promo, change)
    runs = [(scene, [c for c in scene.clips if c.id not in chosen]) for scene in promo.scenes]
    promo = rebuild_scenes(promo, runs)
    notice = f"{kept_ties} layer{'s' * (kept_ties != 1)} outlasted the clip and stayed." if kept_ties else ""
    return Outcome(promo, sentence, notice=notice)


def _close_after(promo: Promo, chosen: set[str]) -> Promo:
    """The promo with what follows each chosen item on its track moved up to where that item starts."""
    index = timeline(promo)
    gaps: dict[str, list[Span]] = {}
    for key in chosen:
        if key in index.item:
            gaps.setdefault(index.track_of[key].id, []).append(index.item_span(index.item[key]))
    return close_up(promo, gaps)
