"""Scenes: names for runs of the main track, which carry everything tied to them.

```
BreakScene      |A B C|  at B      →  |A|B C|      nothing moves in time
JoinScene       |A|B C|            →  |A B C|
RenameScene     “Scene 1”          →  “Hook”
MoveScene       |A|B|C|  C first   →  |C|A|B|
InsertScene     |A|B|  after A     →  |A|▨|B|      a new scene, held by a filler
RemoveScene     |A|B|C|  - B       →  |A|C|        with what is tied to its clips and ends with them
SetSceneLength  |A b|    shorter   →  |A|          from its end; longer: its last clip, then a filler
```
"""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome, in_seconds
from glowreel.core.commands.change import rebuild_scenes
from glowreel.core.commands.remove import without_parts
from glowreel.core.commands.roles import Reference, Target
from glowreel.core.commands.split import cut_main
from glowreel.core.commands.trim import fitted_clip
from glowreel.core.document import Clip, Promo, Scene
from glowreel.core.errors import Missing, Refusal
from glowreel.core.time import Length, Ticks, ticks
from glowreel.core.timeline import timeline

SHORTEST = ticks(0.1)


def find_scene(promo: Promo, scene_id: str) -> Scene:
    """The scene of that name, or `Missing`."""
    for scene in promo.scenes:
        if scene.id == scene_id:
            return scene
    raise Missing("gone", "That scene is no longer in the promo.")


def new_name(promo: Promo) -> str:
    """“Scene n” with the first number that no scene has."""
    taken = {scene.name for scene in promo.scenes}
    return next(name for n in range(1, len(taken) + 2) if (name := f"Scene {n}") not in taken)


class RenameScene(Command):
    """Gives a scene another name."""

    do: Literal["rename-scene"] = "rename-scene"
    scene: Target
    name: str = Field(min_length=1, max_length=80)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        old = find_scene(promo, self.scene)
        scenes = tuple(s.changed(name=self.name.strip() or s.name) if s is old else s for s in promo.scenes)
        return Outcome(promo.changed(scenes=scenes), f"Renamed a scene to “{self.name}”")


class BreakScene(Command):
    """Starts a new scene at a clip, or at a time, where the clip is cut in two if there is no cut."""

    do: Literal["break-scene"] = "break-scene"
    clip: Target | None = None
    at: Ticks | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        key = self.clip
        if key is None:
            at = promo.rate.snap(self.at or 0)
            promo = cut_main(promo, at, context)
            under = timeline(promo).clip_at(at)
            key = under.id if under else ""
        scene = timeline(promo).scene_of.get(key)
        if scene is None:
            raise Missing("gone", "There is no clip there to start a scene with.", "Move the playhead over one.")
        spot = next(i for i, clip in enumerate(scene.clips) if clip.id == key)
        if spot == 0:
            raise Refusal("breaks-already", "A scene begins with this clip already.", "Choose a clip further on.")
        head = scene.changed(clips=scene.clips[:spot])
        tail = Scene(id=context.new_id("s"), name=new_name(promo), clips=scene.clips[spot:])
        scenes = tuple(part for s in promo.scenes for part in ((head, tail) if s is scene else (s,)))
        return Outcome(promo.changed(scenes=scenes), f"Broke “{scene.name}” in two", (key,))


class JoinScene(Command):
    """Merges a scene with the next one, keeping the first one's name."""

    do: Literal["join-scene"] = "join-scene"
    scene: Target

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        first = find_scene(promo, self.scene)
        spot = promo.scenes.index(first)
        if spot + 1 == len(promo.scenes):
            raise Refusal("last-scene", "There is no scene after this one to join.")
        joined = first.changed(clips=(*first.clips, *promo.scenes[spot + 1].clips))
        scenes = (*promo.scenes[:spot], joined, *promo.scenes[spot + 2 :])
        return Outcome(promo.changed(scenes=scenes), f"Joined “{first.name}” with the next scene")


class MoveScene(Command):
    """Moves a scene, with what is tied to it, before another one or to the end."""

    do: Literal["move-scene"] = "move-scene"
    scene: Target
    before: Reference | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        scene = find_scene(promo, self.scene)
        rest = [s for s in promo.scenes if s is not scene]
        if self.before == scene.id:
            spot = promo.scenes.index(scene)
        else:
            spot = len(rest) if self.before is None else rest.index(find_scene(promo, self.before))
        rest.insert(spot, scene)
        return Outcome(promo.changed(scenes=tuple(rest)), f"Moved the scene “{scene.name}”")


class InsertScene(Command):
    """Puts a new scene, held by a filler, before or after another one; or at the end."""

    do: Literal["insert-scene"] = "insert-scene"
    beside: Reference | None = None
    side: Literal["before", "after"] = "after"
    length: Length = ticks(3)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        length = max(promo.rate.snap(SHORTEST), promo.rate.snap(self.length))
        clip = Clip(id=context.new_id("c"), kind="filler", name="Filler", length=length)
        scene = Scene(id=context.new_id("s"), name=new_name(promo), clips=(clip,))
        scenes = list(promo.scenes)
        spot = len(scenes)
        if self.beside is not None:
            spot = scenes.index(find_scene(promo, self.beside)) + (self.side == "after")
        scenes.insert(spot, scene)
        return Outcome(promo.changed(scenes=tuple(scenes)), f"Put in “{scene.name}”", (clip.id,))


class RemoveScene(Command):
    """Removes a scene with its clips and what is tied to them and ends with them."""

    do: Literal["remove-scene"] = "remove-scene"
    scene: Target

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        scene = find_scene(promo, self.scene)
        edit = without_parts(promo, [clip.id for clip in scene.clips])
        return Outcome(edit.promo, f"Removed the scene “{scene.name}”", notice=edit.notice)


class SetSceneLength(Command):
    """Makes a scene last longer or shorter, from its end; at least a tenth of a second.

    Shorter: its last clips are trimmed, or go. Longer: its last clip shows more; what its material cannot fill, a
    filler holds.
    """

    do: Literal["set-scene-length"] = "set-scene-length"
    scene: Target
    length: Length

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        scene = find_scene(promo, self.scene)
        wanted = max(promo.rate.frame_start(promo.rate.frame_ceil(SHORTEST)), promo.rate.snap(self.length))
        clips = list(scene.clips)
        left = wanted - sum(clip.length for clip in clips)
        notice = ""
        while left < 0 and -left >= clips[-1].length:
            left += clips.pop().length
        if left < 0:
            clips[-1] = clips[-1].changed(length=clips[-1].length + left)
        elif left > 0:
            last = clips[-1]
            longer = fitted_clip(promo, last, last.length + left, "end")
            clips[-1] = last.changed(length=max(last.length, longer))
            left -= clips[-1].length - last.length
            if left > 0:
                clips.append(Clip(id=context.new_id("c"), kind="filler", name="Filler", length=left))
                notice = f"{last.name} has no more to show: a filler holds the last {in_seconds(left)}."
        made = rebuild_scenes(promo, [(s, clips if s is scene else list(s.clips)) for s in promo.scenes])
        return Outcome(made, f"“{scene.name}” lasts {in_seconds(wanted)}", notice=notice)
