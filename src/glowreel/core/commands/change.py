"""Rebuilding parts of the immutable document."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable
from typing import Any

from glowreel.core.document import Clip, Item, Promo, Scene, Track
from glowreel.core.errors import Refusal
from glowreel.core.room import Room
from glowreel.core.timeline import Span, timeline
from glowreel.core.value import NewId

MAX_TRACKS = 60
"""Of layers, and of sounds, that a person can make; giving way may still lead to a few more."""


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


def map_parts(promo: Promo, keys: Collection[str], change: Callable[[Any], Any]) -> Promo:
    """The promo with some of its clips and items, by identifier, passed through `change`."""
    index = timeline(promo)
    if any(key in index.clip for key in keys):
        runs = [(s, [change(c) if c.id in keys else c for c in s.clips]) for s in promo.scenes]
        promo = rebuild_scenes(promo, runs)
    if any(key in index.item for key in keys):
        promo = map_items(promo, lambda item: change(item) if item.id in keys else item)
    return promo


def rebuild_scenes(promo: Promo, runs: Iterable[tuple[Scene, list[Clip]]]) -> Promo:
    """The promo with its scenes made of these clips; a scene left without any goes."""
    made = []
    for scene, clips in runs:
        same = len(clips) == len(scene.clips) and all(a is b for a, b in zip(clips, scene.clips, strict=True))
        if clips:
            made.append(scene if same else scene.changed(clips=tuple(clips)))
    return promo.changed(scenes=tuple(made))


def locked_track(track: Track) -> Refusal:
    name = f"“{track.name}”" if track.name else "That track"
    return Refusal("locked", f"{name} is locked.", "Unlock it first.")


def has_room(promo: Promo, track: Track, span: Span) -> bool:
    """Whether nothing on the track lies in the span."""
    index = timeline(promo)
    return not any(span.meets(index.item_span(item)) for item in track.items)


def side_of(item: Item) -> str:
    """Which tracks of a promo an item stands on."""
    return "sounds" if item.content.lane == "sound" else "layers"


def put_item(promo: Promo, item: Item, wanted: str | None, new_id: NewId) -> Promo:
    """Adds an item to the wanted track, else to the first one with room, else to a new one; never to a locked one.

    New tracks of layers come in front, new tracks of sounds below.
    """
    side = side_of(item)
    tracks: tuple[Track, ...] = getattr(promo, side)
    choice = next((t for t in tracks if t.id == wanted), None)
    if wanted is None:
        return put_items(promo, [item], new_id)
    if choice is None:
        raise Refusal("gone", "That track is no longer there.", "Drop it on another one.")
    if choice.locked:
        raise locked_track(choice)
    added = tuple(t.changed(items=(*t.items, item)) if t is choice else t for t in tracks)
    return promo.changed(**{side: added})


def put_items(promo: Promo, items: Iterable[Item], new_id: NewId) -> Promo:
    """Adds items one after another, each to the first track with room that is not locked, else to a new one."""
    index = timeline(promo)
    sides = {"layers": list(promo.layers), "sounds": list(promo.sounds)}
    added: dict[str, list[Item]] = {}
    room = {t.id: Room(index.item_span(i) for i in t.items) for t in (*promo.layers, *promo.sounds)}
    for item in items:
        side = side_of(item)
        tracks, span = sides[side], index.new_span(item)
        home = next((t for t in tracks if not t.locked and room[t.id].free(span)), None)
        if home is None:
            if len(tracks) >= MAX_TRACKS:
                raise Refusal("too-many", f"A promo has at most {MAX_TRACKS} tracks of a kind.", "Free one first.")
            home = Track(id=new_id("t"))
            tracks.insert(len(tracks) if side == "sounds" else 0, home)
            room[home.id] = Room()
        room[home.id].take(span)
        added.setdefault(home.id, []).append(item)
    return promo.changed(
        **{
            side: tuple(t.changed(items=(*t.items, *added[t.id])) if t.id in added else t for t in tracks)
            for side, tracks in sides.items()
        }
    )
