"""Putting fragments in: pasting, duplicating, scenes from other promos.

```
Paste       |A|B|  + X Y at the cut nearest to 4 s  →  |A|X|Y|B|    items: at the time itself, on tracks with room
Duplicate   |A|B|  A                                →  |A|A'|B|     with copies of what is tied to it
            [t]...                                  →  [t][t']
```
What was made at another frame rate comes on to this promo's grid. Refused: nothing to paste, media that are not on the
Shelf, more clips or scenes than a promo may hold.
"""

from __future__ import annotations

from typing import Literal

from glowreel.core.commands.base import Command, Context, Outcome, with_media
from glowreel.core.commands.change import put_items
from glowreel.core.commands.clips import insert_at, nearest_cut
from glowreel.core.commands.conform import conformed
from glowreel.core.commands.roles import Reference, Target
from glowreel.core.commands.scenes import find_scene
from glowreel.core.commands.selection import Chosen, still_there
from glowreel.core.document import Free, Item, Promo, Scene, Tied, Whole
from glowreel.core.errors import Refusal
from glowreel.core.fragment import Fragment, take
from glowreel.core.time import TICKS_PER_SAMPLE, Ticks
from glowreel.core.timeline import timeline


class Paste(Command):
    """Puts a fragment in: clips at the cut nearest to `at`, scenes between scenes, items at the time itself.

    What was made at another frame rate comes on to this promo's grid (see `conform`).
    """

    do: Literal["paste"] = "paste"
    fragment: Fragment
    at: Ticks = 0
    before_scene: Reference | None = None
    at_end: bool = False

    def brings(self) -> set[str]:
        """What the fragment needs of the team's Shelf; its own word on it is not taken."""
        return set(self.fragment.media)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        found = [context.find(media) for media in self.fragment.media]
        known = with_media(promo, *found)
        known = known.changed(designs={**self.fragment.designs, **known.designs})
        fragment = conformed(self.fragment, known).renamed(context.new_id)
        if not fragment.clips and not fragment.items:
            raise Refusal("nothing", "There is nothing to paste.", "Copy something first.")
        if fragment.whole_scenes and fragment.scenes:
            made = self._scenes(known, fragment)
            sentence = f"Pasted the scene “{fragment.scenes[0].name}”"
        elif fragment.clips:
            made = insert_at(known, list(fragment.clips), nearest_cut(known, self.at), context)
            sentence = f"Pasted {_count(fragment)}"
        else:
            made = known
            sentence = f"Pasted {_count(fragment)}"
        clips = fragment.clips
        start = timeline(made).clip_span[clips[0].id].start if clips else self.at
        made = _with_items(made, fragment, start, context)
        made = made.changed(transitions=(*made.transitions, *fragment.transitions))
        selected = tuple(c.id for c in clips) or tuple(i.id for i in fragment.items)
        return Outcome(made, sentence, selected, frozenset(i.id for i in fragment.items))

    def _scenes(self, promo: Promo, fragment: Fragment) -> Promo:
        """The promo with whole scenes put in between two of its own, at the break nearest to the time."""
        index = timeline(promo)
        breaks = [index.scene_span[s.id].start for s in promo.scenes] + [index.main_length]
        spot = min(range(len(breaks)), key=lambda n: abs(breaks[n] - self.at))
        if self.at_end:
            spot = len(promo.scenes)
        elif self.before_scene is not None:
            spot = promo.scenes.index(find_scene(promo, self.before_scene))
        made: list[Scene] = list(promo.scenes)
        for n, scene in enumerate(fragment.scenes):
            taken = {s.name for s in made}
            made.insert(spot + n, scene if scene.name not in taken else scene.changed(name=_next(scene.name, taken)))
        return promo.changed(scenes=tuple(made))


def _next(name: str, taken: set[str]) -> str:
    """A name that is free: “Offer” becomes “Offer 2”."""
    return next(f"{name[:74]} {n}" for n in range(2, len(taken) + 3) if f"{name[:74]} {n}" not in taken)


def _count(fragment: Fragment) -> str:
    count = len(fragment.clips) or len(fragment.items)
    return f"{count} {'clip' if fragment.clips else 'item'}{'s' * (count != 1)}"


def _with_items(promo: Promo, fragment: Fragment, start: int, context: Context) -> Promo:
    """The promo with a fragment's items, which begin at `start` where no clip of it says where."""
    tracks = (*reversed(fragment.layers), *reversed(fragment.sounds))
    return put_items(promo, [_anchored(promo, i, start) for track in tracks for i in track.items], context.new_id)


def _anchored(promo: Promo, item: Item, start: int) -> Item:
    index = timeline(promo)
    if isinstance(item.anchor, Whole) or (isinstance(item.anchor, Tied) and item.anchor.clip in index.clip):
        return item
    offset = item.anchor.at if isinstance(item.anchor, Free) else item.anchor.offset
    at = start + offset
    if item.content.fine:
        return item.changed(anchor=Free(at=at // TICKS_PER_SAMPLE * TICKS_PER_SAMPLE))
    return item.changed(anchor=index.tie_under(promo.rate.snap(at)))


class Duplicate(Command):
    """Puts copies of clips and items right after them, or a copy of a scene after it."""

    do: Literal["duplicate"] = "duplicate"
    items: Chosen | None = None
    scene: Target | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        if self.scene is not None:
            scene = find_scene(promo, self.scene)
            fragment = take(promo, set(), scene.id).renamed(context.new_id)
            copy = fragment.scenes[0].changed(name=_next(scene.name, {s.name for s in promo.scenes}))
            spot = promo.scenes.index(scene) + 1
            made = promo.changed(scenes=(*promo.scenes[:spot], copy, *promo.scenes[spot:]))
            sentence = f"Duplicated the scene “{scene.name}”"
        else:
            found = still_there(promo, self.items or ())
            clips = [c for c in promo.clips if c.id in found]
            fragment = take(promo, found).renamed(context.new_id)
            made = promo
            sentence = f"Duplicated {_count(fragment)}"
            if clips:
                position = promo.clips.index(clips[-1]) + 1
                made = _inserted_after(promo, fragment, position, clips[-1].id, context)
        start = timeline(made).clip_span[fragment.clips[0].id].start if fragment.clips else self._end(promo)
        made = _with_items(made, fragment, start, context)
        made = made.changed(transitions=(*made.transitions, *fragment.transitions))
        selected = tuple(c.id for c in fragment.clips) or tuple(i.id for i in fragment.items)
        return Outcome(made, sentence, selected, frozenset(i.id for i in fragment.items))

    def _end(self, promo: Promo) -> int:
        index = timeline(promo)
        return max(index.item_span(i).end for i in promo.items if i.id in set(self.items or ()))


def _inserted_after(promo: Promo, fragment: Fragment, position: int, after: str, context: Context) -> Promo:
    """The promo with a fragment's clips behind a clip; the transition after that clip now follows the last copy."""
    made = insert_at(promo, list(fragment.clips), position, context)
    last = fragment.clips[-1].id
    transitions = tuple(t.changed(after=last) if t.after == after else t for t in made.transitions)
    return made.changed(transitions=transitions)
