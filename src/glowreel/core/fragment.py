"""A piece of a promo by itself: what copying takes and pasting puts in, in this promo or another one of the team.

```
scenes   whole scenes, with all that is tied to their clips           pasted as scenes
clips    clips of the main track, with all that is tied to them       pasted at a cut
items    layers and sounds alone                                      pasted at the playhead
```
Times of items that are not tied to a clip in the fragment are from its beginning.
"""

from __future__ import annotations

from typing import Any, TypeVar

from pydantic import Field

from glowreel.core.design import Design
from glowreel.core.document import Clip, Free, Item, Promo, Scene, Tied, Track, Transition, Whole
from glowreel.core.errors import Missing
from glowreel.core.media import Media
from glowreel.core.timeline import timeline
from glowreel.core.value import NewId, Value

APart = TypeVar("APart", Clip, Item)


def renamed(part: APart, **names: Any) -> APart:
    """The part under other names. They come from `new_id`, and nothing else of it changes: it stays valid."""
    return part.model_copy(update=names)


class Fragment(Value):
    """See the module. `layers` and `sounds` keep which items share a track."""

    scenes: tuple[Scene, ...] = Field(default=(), max_length=300)
    whole_scenes: bool = False
    layers: tuple[Track, ...] = Field(default=(), max_length=200)
    sounds: tuple[Track, ...] = Field(default=(), max_length=200)
    transitions: tuple[Transition, ...] = Field(default=(), max_length=2000)
    media: dict[str, Media] = Field(default={}, max_length=2000)
    designs: dict[str, Design] = Field(default={}, max_length=300)

    @property
    def clips(self) -> tuple[Clip, ...]:
        return tuple(clip for scene in self.scenes for clip in scene.clips)

    @property
    def items(self) -> tuple[Item, ...]:
        return tuple(item for track in (*self.layers, *self.sounds) for item in track.items)

    def renamed(self, new_id: NewId) -> Fragment:
        """The same with fresh identifiers throughout, so that it can be put in as often as wanted."""
        fresh: dict[str, str] = {}

        def new(prefix: str, old: str) -> str:
            return fresh.setdefault(old, new_id(prefix))

        def group(old: str | None) -> str | None:
            return None if old is None else new("g", old)

        scenes = tuple(
            s.changed(
                id=new("s", s.id),
                clips=tuple(renamed(c, id=new("c", c.id), group=group(c.group)) for c in s.clips),
            )
            for s in self.scenes
        )

        def item(old: Item) -> Item:
            anchor = old.anchor
            if isinstance(anchor, Tied):
                anchor = anchor.changed(clip=new("c", anchor.clip))
            of = fresh.get(old.of) if old.of is not None else None
            return renamed(old, id=new("i", old.id), anchor=anchor, of=of, group=group(old.group))

        def tracks(old: tuple[Track, ...]) -> tuple[Track, ...]:
            return tuple(t.changed(id=new("t", t.id), items=tuple(item(i) for i in t.items)) for t in old)

        clips = {clip.id for clip in self.clips}
        transitions = tuple(
            t.changed(id=new("x", t.id), after=new("c" if t.after in clips else "i", t.after)) for t in self.transitions
        )
        return self.changed(
            scenes=scenes, layers=tracks(self.layers), sounds=tracks(self.sounds), transitions=transitions
        )


def take(promo: Promo, ids: set[str], scene: str | None = None) -> Fragment:
    """What copying these clips and items, or a whole scene, takes. Raises `Missing` if nothing of it is left."""
    index = timeline(promo)
    if scene is not None:
        whole = next((s for s in promo.scenes if s.id == scene), None)
        if whole is None:
            raise Missing("gone", "That scene is no longer in the promo.")
        ids = {clip.id for clip in whole.clips}
    clips = [clip for clip in promo.clips if clip.id in ids]
    taken = {clip.id for clip in clips}

    def goes_along(item: Item) -> bool:
        return item.id in ids or (isinstance(item.anchor, Tied) and item.anchor.clip in taken)

    chosen = [item for item in promo.items if goes_along(item)]
    if not clips and not chosen:
        raise Missing("gone", "There is nothing to copy there any more.")
    starts = [index.clip_span[c.id].start for c in clips] or [index.item_span(i).start for i in chosen]
    begin = min(starts)

    def loose(item: Item) -> Item:
        span = index.item_span(item)
        if isinstance(item.anchor, Whole) or (isinstance(item.anchor, Tied) and item.anchor.clip in taken):
            return item
        return item.changed(anchor=Free(at=max(0, span.start - begin)), length=span.length)

    def part(tracks: tuple[Track, ...]) -> tuple[Track, ...]:
        rows = ((t, tuple(loose(i) for i in t.items if goes_along(i))) for t in tracks)
        return tuple(Track(id=t.id, name=t.name, items=items) for t, items in rows if items)

    runs = [(s, tuple(c for c in s.clips if c.id in taken)) for s in promo.scenes]
    scenes = tuple(s.changed(clips=run) for s, run in runs if run)
    pairs = [
        *zip(promo.clips, promo.clips[1:], strict=False),
        *(pair for t in promo.layers for pair in index.joined(t)),
    ]
    going = taken | {item.id for item in chosen}
    inside = {before.id for before, behind in pairs if {before.id, behind.id} <= going}
    transitions = tuple(t for t in promo.transitions if t.after in inside)
    layers, sounds = part(promo.layers), part(promo.sounds)
    fragment = Fragment(
        scenes=scenes, whole_scenes=scene is not None, layers=layers, sounds=sounds, transitions=transitions
    )
    parts = (*fragment.clips, *fragment.items)
    used = {source.media for part in parts for source in part.materials}
    designs = {item.design for item in fragment.items if item.design is not None}
    return fragment.changed(
        media={key: promo.media[key] for key in used}, designs={key: promo.designs[key] for key in designs}
    )  # fmt: skip
