"""Rebuilding parts of the immutable document."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from glowreel.core.document import Clip, Item, Promo, Scene, Track
from glowreel.core.errors import Refusal
from glowreel.core.timeline import Span, timeline


def replace_clip(promo: Promo, clip_id: str, change: Callable[[Clip], Clip]) -> Promo:
    """The promo with one main-track clip changed in its place."""
    timeline(promo).find_clip(clip_id)
    scenes = tuple(
        scene.changed(clips=tuple(change(c) if c.id == clip_id else c for c in scene.clips))
        if any(c.id == clip_id for c in scene.clips)
        else scene
        for scene in promo.scenes
    )
    return promo.changed(scenes=scenes)


def map_items(promo: Promo, change: Callable[[Item], Item | None]) -> Promo:
    """The promo with every layer and sound passed through `change`; None takes it away."""

    def through(tracks: Iterable[Track]) -> tuple[Track, ...]:
        result = []
        for track in tracks:
            items = [change(item) for item in track.items]
            if all(new is old for new, old in zip(items, track.items, strict=True)):
                result.append(track)
            else:
                result.append(track.changed(items=tuple(i for i in items if i is not None)))
        return tuple(result)

    return promo.changed(layers=through(promo.layers), sounds=through(promo.sounds))


def replace_item(promo: Promo, item_id: str, change: Callable[[Item], Item]) -> Promo:
    timeline(promo).find_item(item_id)
    return map_items(promo, lambda item: change(item) if item.id == item_id else item)


def rebuild_scenes(promo: Promo, runs: Iterable[tuple[Scene, list[Clip]]]) -> Promo:
    """The promo with its scenes made of these clips; a scene left without any goes."""
    return promo.changed(scenes=tuple(s.changed(clips=tuple(clips)) for s, clips in runs if clips))


def has_room(promo: Promo, track: Track, span: Span, but: str = "") -> bool:
    index = timeline(promo)
    return not any(span.meets(index.item_span(item)) for item in track.items if item.id != but)


def put_item(promo: Promo, item: Item, wanted: str | None, new_id: Callable[[str], str]) -> Promo:
    """Adds an item to the wanted track, else to the nearest one with room, else to a new one.

    Layers look from the back to the front, so that new ones come in front; sounds look downwards.
    """
    sound = item.content.kind == "sound"
    tracks = promo.sounds if sound else promo.layers
    trial = promo.changed(**{"sounds" if sound else "layers": (Track(id="trial", items=(item,)), *tracks)})
    span = timeline(trial).item_span(item)
    choice = [t for t in tracks if t.id == wanted]
    if wanted is not None and not choice:
        raise Refusal("gone", "That track is no longer there.", "Drop it on another one.")
    if not choice:
        fitting = [t for t in tracks if has_room(promo, t, span)]
        choice = fitting[:1]
    if not choice:
        track = Track(id=new_id("t"), items=(item,))
        tracks = (*tracks, track) if sound else (track, *tracks)
    else:
        tracks = tuple(t.changed(items=(*t.items, item)) if t.id == choice[0].id else t for t in tracks)
    return promo.changed(**{"sounds" if sound else "layers": tracks})
