"""The main track: bringing clips in and ordering them.

```
InsertClips  A B C  + X at the cut nearest to the playhead →  A X B C    everything after moves on with its ties
InsertFiller A B C  at the cut nearest to the playhead     →  A ▨ B C    holds a place
MoveClips    A B C D, C before A                           →  C A B D
```
"""

from __future__ import annotations

from collections.abc import Collection
from typing import Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome, with_media
from glowreel.core.commands.camera import gently
from glowreel.core.commands.change import map_parts, rebuild_scenes
from glowreel.core.commands.rate import with_first_rate
from glowreel.core.commands.roles import MediaId, Reference, Target
from glowreel.core.content import KINDS
from glowreel.core.document import Clip, Promo, Scene
from glowreel.core.errors import Refusal
from glowreel.core.media import Media
from glowreel.core.source import Source
from glowreel.core.speaking import spoken
from glowreel.core.time import Length, Rate, Ticks, ticks
from glowreel.core.timeline import timeline

PHOTO_LENGTH = ticks(3)


def clip_of(media: Media, clip_id: str, rate: Rate) -> Clip:
    """A main-track clip of all of a footage, or of a photo for three seconds; whole frames, at least one."""
    if not media.pictured:
        raise Refusal("no-picture", f"{media.name} has no picture.", "Put it on a sound track instead.")
    kind = next(kind.name for kind in KINDS.values() if kind.lane == "main" and kind.takes(media))
    length = rate.snap(PHOTO_LENGTH)
    if media.length:
        length = max(rate.frame, rate.frame_start(rate.frame_floor(media.length)))
    return Clip(id=clip_id, kind=kind, source=Source(media=media.id), name=media.name, length=length)


def insert_at(promo: Promo, clips: list[Clip], position: int, context: Context) -> Promo:
    """Clips put in before the main-track position; they join the scene of the clip they follow."""
    if not promo.scenes:
        return promo.changed(scenes=(Scene(id=context.new_id("s"), name="Scene 1", clips=tuple(clips)),))
    runs = [(scene, list(scene.clips)) for scene in promo.scenes]
    seen = 0
    for _, run in runs:
        if position <= seen + len(run):
            run[position - seen : position - seen] = clips
            break
        seen += len(run)
    return rebuild_scenes(promo, runs)


def position_before(promo: Promo, before: str | None) -> int:
    """Main-track position of a clip, or the end for None."""
    if before is None:
        return len(promo.clips)
    clip = timeline(promo).find_clip(before)
    return promo.clips.index(clip)


def nearest_cut(promo: Promo, at: int) -> int:
    """Main-track position of the cut nearest to a time; the ends count as cuts."""
    index = timeline(promo)
    cuts = [index.clip_span[clip.id].start for clip in promo.clips] + [index.main_length]
    return min(range(len(cuts)), key=lambda i: abs(cuts[i] - at))


class InsertClips(Command):
    """Puts media on the main track, before a clip, or at the cut nearest to `at`, or at the end. Of a single footage, a
    part may be taken: `length` of it from `into` on."""

    do: Literal["insert-clips"] = "insert-clips"
    media: tuple[MediaId, ...] = Field(min_length=1, max_length=200)
    before: Reference | None = None
    at: Ticks | None = None
    into: Ticks = 0
    length: Ticks | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        found = [context.find(media_id) for media_id in self.media]
        promo, notice = with_first_rate(promo, found)
        clips = [clip_of(media, context.new_id("c"), promo.rate) for media in found]
        if len(clips) == 1 and (self.into or self.length is not None):
            clips = [self._part(clips[0], found[0], promo.rate)]
        clips = gently(clips) if context.photos_move else clips
        if self.before is None and self.at is not None:
            position = nearest_cut(promo, self.at)
        else:
            position = position_before(promo, self.before)
        promo = insert_at(with_media(promo, *found), clips, position, context)
        if context.footage_quiet:
            promo, quiet = made_quiet(promo, [clip.id for clip in clips])
            notice = " ".join(words for words in (notice, quiet) if words)
        sentence = f"Added {found[0].name}" if len(found) == 1 else f"Added {len(found)} clips"
        return Outcome(promo, sentence, select=tuple(clip.id for clip in clips), notice=notice)

    def _part(self, clip: Clip, media: Media, rate: Rate) -> Clip:
        if not media.length:
            return clip if self.length is None else clip.changed(length=max(rate.frame, rate.snap(self.length)))
        left = rate.frame_start(rate.frame_floor(media.length - self.into))
        if left < rate.frame:
            raise Refusal("short", f"{media.name} is not that long.", "Begin earlier.")
        length = left if self.length is None else min(left, max(rate.frame, rate.snap(self.length)))
        return clip.changed(source=Source(media=media.id, at=self.into), length=length)


UNDER_VOICE = -18.0
"""How loud footage is (dB) that comes in quiet."""


def made_quiet(promo: Promo, keys: Collection[str]) -> tuple[Promo, str]:
    """New footage over which somebody speaks on a sound track, made quiet, and a sentence that says so."""
    index = timeline(promo)
    said = spoken(promo, clips=False)
    quiet = []
    for key in keys:
        clip, span = index.clip[key], index.clip_span[key]
        media = promo.media.get(clip.media or "")
        if media is not None and media.sounding and any(a < span.end and b > span.start for a, b in said):
            quiet.append(key)
    if not quiet:
        return promo, ""
    promo = map_parts(promo, quiet, lambda part: part.having(gain=UNDER_VOICE))
    who = index.clip[quiet[0]].name if len(quiet) == 1 else f"{len(quiet)} clips"
    return promo, f"{who} came in quiet ({UNDER_VOICE:g} dB), since somebody speaks over it. Undo takes it back."


class InsertFiller(Command):
    """Holds a place on the main track."""

    do: Literal["insert-filler"] = "insert-filler"
    before: Reference | None = None
    at: Ticks | None = None
    length: Length = ticks(2)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        length = max(promo.rate.frame, promo.rate.snap(self.length))
        clip = Clip(id=context.new_id("c"), kind="filler", name="Filler", length=length)
        if self.before is None and self.at is not None:
            position = nearest_cut(promo, self.at)
        else:
            position = position_before(promo, self.before)
        return Outcome(insert_at(promo, [clip], position, context), "Added a filler", select=(clip.id,))


class MoveClips(Command):
    """Takes clips out of the main track and puts them back, in their order, before another one or at the end.

    What is tied to them goes along. They join the scene they land in. Landing on itself changes nothing.
    """

    do: Literal["move-clips"] = "move-clips"
    clips: tuple[Target, ...] = Field(min_length=1, max_length=2000)
    before: Reference | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        index = timeline(promo)
        chosen = {clip_id for clip_id in self.clips if index.find_clip(clip_id)}
        moving = [clip for clip in promo.clips if clip.id in chosen]
        before = self.before
        order = list(promo.clips)
        if before is not None:
            place = order.index(index.find_clip(before))
            before = next((clip.id for clip in order[place:] if clip.id not in chosen), None)
        sentence = f"Moved {moving[0].name}" if len(moving) == 1 else f"Moved {len(moving)} clips"
        runs = [(scene, [c for c in scene.clips if c.id not in chosen]) for scene in promo.scenes]
        if not any(run for _, run in runs):
            return Outcome(promo, sentence, select=self.clips)
        if before is None:
            next(run for _, run in reversed(runs) if run).extend(moving)
        else:
            run = next(run for _, run in runs if any(c.id == before for c in run))
            spot = next(i for i, c in enumerate(run) if c.id == before)
            run[spot:spot] = moving
        return Outcome(rebuild_scenes(promo, runs), sentence, select=self.clips)
