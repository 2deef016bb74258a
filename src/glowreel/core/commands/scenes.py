"""Scenes: names for runs of the main track. Breaking and joining them moves nothing in time."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Edit
from glowreel.core.document import Promo, Scene
from glowreel.core.errors import Missing, Refusal
from glowreel.core.timeline import timeline
from glowreel.core.value import Id


def _scene(promo: Promo, scene_id: str) -> Scene:
    for scene in promo.scenes:
        if scene.id == scene_id:
            return scene
    raise Missing("gone", "That scene is no longer in the promo.")


class RenameScene(Command):
    """Gives a scene another name."""

    do: Literal["rename-scene"] = "rename-scene"
    scene: Id
    name: str = Field(min_length=1, max_length=80)

    def edit(self, promo: Promo, context: Context) -> Edit:
        old = _scene(promo, self.scene)
        scenes = tuple(s.changed(name=self.name.strip() or s.name) if s is old else s for s in promo.scenes)
        return Edit(promo.changed(scenes=scenes), f"Renamed a scene to “{self.name}”")


class BreakScene(Command):
    """Starts a new scene at a clip: `|A B C|` broken at B is `|A|B C|`."""

    do: Literal["break-scene"] = "break-scene"
    clip: Id

    def edit(self, promo: Promo, context: Context) -> Edit:
        scene = timeline(promo).scene_of.get(self.clip)
        if scene is None:
            raise Missing("gone", "That clip is no longer in the promo.")
        spot = next(i for i, clip in enumerate(scene.clips) if clip.id == self.clip)
        if spot == 0:
            raise Refusal("breaks-already", "A scene begins with this clip already.", "Choose a clip further on.")
        head = scene.changed(clips=scene.clips[:spot])
        tail = Scene(id=context.new_id("s"), name=f"Scene {len(promo.scenes) + 1}", clips=scene.clips[spot:])
        scenes = tuple(part for s in promo.scenes for part in ((head, tail) if s is scene else (s,)))
        return Edit(promo.changed(scenes=scenes), f"Broke “{scene.name}” in two", (self.clip,))


class JoinScene(Command):
    """Merges a scene with the next one, keeping the first one's name."""

    do: Literal["join-scene"] = "join-scene"
    scene: Id

    def edit(self, promo: Promo, context: Context) -> Edit:
        first = _scene(promo, self.scene)
        spot = promo.scenes.index(first)
        if spot + 1 == len(promo.scenes):
            raise Refusal("last-scene", "There is no scene after this one to join.")
        joined = first.changed(clips=(*first.clips, *promo.scenes[spot + 1].clips))
        scenes = (*promo.scenes[:spot], joined, *promo.scenes[spot + 2 :])
        return Edit(promo.changed(scenes=scenes), f"Joined “{first.name}” with the next scene")
