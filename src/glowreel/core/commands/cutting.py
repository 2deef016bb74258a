"""Cutting on the main track without losing what lies around it.

```
Overwrite    |--A--|--B--|--C--|   X over part of A and B   →  |-A-|---X---|B|--C--|   the length stays
ReplaceClip  |--A--|--B--|--C--|   X for B                  →  |--A--|--X--|--C--|     place, ties, transitions stay
RollCut      |--A--|--B--|         the cut later            →  |----A---|B|            nothing else moves
Slip         |--A--|               its content later        →  |--A--|                 other source, same place
```
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome, in_seconds, with_media
from glowreel.core.commands.change import keep_times, rebuild_scenes, replace_clip
from glowreel.core.commands.clips import clip_of, insert_at
from glowreel.core.commands.parts import set_part, timed_part
from glowreel.core.commands.rate import with_first_rate
from glowreel.core.commands.roles import MediaId, Target
from glowreel.core.commands.split import cut_main
from glowreel.core.commands.trim import fitted_clip, trim_clip
from glowreel.core.document import Clip, Promo
from glowreel.core.errors import Refusal
from glowreel.core.media import Media
from glowreel.core.speed import UNIT, Speed, SpeedPoint, source_range
from glowreel.core.time import MAX_TICKS, Length, Ticks
from glowreel.core.timeline import timeline

By = Annotated[int, Field(ge=-MAX_TICKS, le=MAX_TICKS)]


def without_main(promo: Promo, start: int, end: int, context: Context) -> tuple[Promo, int]:
    """The promo with the main track between two times on the frame grid taken out, and the position where that was.

    Ties are left as they are; `keep_times` puts them right.
    """
    promo = cut_main(cut_main(promo, start, context), end, context)
    index = timeline(promo)
    gone = {c.id for c in promo.clips if start <= index.clip_span[c.id].start < end}
    position = sum(1 for c in promo.clips if index.clip_span[c.id].start < start)
    runs = [(scene, [c for c in scene.clips if c.id not in gone]) for scene in promo.scenes]
    return rebuild_scenes(promo, runs), position


class Overwrite(Command):
    """Lays a clip over whatever the main track shows from `at` on; at the end it makes the promo longer."""

    do: Literal["overwrite"] = "overwrite"
    media: MediaId
    at: Ticks
    source_in: Ticks = 0
    length: Length | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        media = context.find(self.media)
        promo, notice = with_first_rate(promo, [media])
        promo = with_media(promo, media)
        at = min(promo.rate.snap(self.at), timeline(promo).main_length)
        clip = _part_of(promo, media, context.new_id("c"), self.source_in, self.length)
        bare, position = without_main(promo, at, at + clip.length, context)
        if not bare.scenes and promo.scenes:
            bare = bare.changed(scenes=(promo.scenes[0].changed(clips=(clip,)),))
        else:
            bare = insert_at(bare, [clip], position, context)
        return Outcome(
            keep_times(bare, promo), f"Laid {media.name} over {in_seconds(clip.length)}", (clip.id,), notice=notice
        )


def _part_of(promo: Promo, media: Media, clip_id: str, source_in: int, length: int | None) -> Clip:
    """A clip of part of a medium: from `source_in`, as long as asked and as there is."""
    clip = clip_of(media, clip_id, promo.rate)
    if media.length:
        source_in = min(source_in, max(0, media.length - promo.rate.frame))
        clip = clip.changed(source_in=source_in)
    wanted = length if length is not None else clip.length
    return clip.changed(length=fitted_clip(promo, clip, wanted, "end"))


Shorter = Literal["slow", "hold", "close"]


class ReplaceClip(Command):
    """Puts other material in a clip's place. Place, length, ties, transitions, framing and name of the group stay.

    Longer material shows the part from `source_in`. Shorter material is slowed down to fill the place (`slow`), or
    holds its last frame (`hold`), or the track closes up (`close`).
    """

    do: Literal["replace-clip"] = "replace-clip"
    clip: Target
    media: MediaId
    source_in: Ticks = 0
    shorter: Shorter = "slow"

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        old = timeline(promo).find_clip(self.clip)
        media = context.find(self.media)
        new = clip_of(media, old.id, promo.rate)
        new = old.changed(kind=new.kind, media=media.id, name=new.name, source_in=0, speed=None)
        made = with_media(promo, media)
        if media.length:
            source_in = max(0, min(self.source_in, media.length - old.length))
            new = new.changed(source_in=source_in)
            lasts = promo.rate.frame_start(promo.rate.frame_floor(media.length - source_in))
            if lasts < old.length:
                new = self._fitted(new, old.length, max(promo.rate.frame, lasts))
        made = replace_clip(made, old.id, lambda _: new)
        return Outcome(made, f"Put {media.name} in the place of {old.name or 'a filler'}", (old.id,))

    def _fitted(self, clip: Clip, length: int, lasts: int) -> Clip:
        if self.shorter == "close":
            return clip.changed(length=lasts)
        if self.shorter == "hold":
            points = (SpeedPoint(at=0, speed=UNIT), SpeedPoint(at=lasts, speed=UNIT), SpeedPoint(at=lasts, speed=0))
            return clip.changed(speed=Speed(points=points))
        # Rounded down, so that the source is never used up before the end.
        speed = UNIT * lasts // length
        if speed < 100:
            raise Refusal(
                "too-short", f"{clip.name} is more than ten times too short.", "Hold its last frame, or close up."
            )
        return clip.changed(speed=Speed(points=(SpeedPoint(speed=speed),)))


class RollCut(Command):
    """Moves the cut after a clip: one gets longer as the other gets shorter. Layers stay at their times."""

    do: Literal["roll-cut"] = "roll-cut"
    after: Target
    by: By

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        before = timeline(promo).find_clip(self.after)
        spot = promo.clips.index(before) + 1
        if spot == len(promo.clips):
            raise Refusal("no-cut", "There is no cut after the last clip.", "Trim its end instead.")
        behind = promo.clips[spot]
        wanted = promo.rate.snap(before.length + self.by) if before.length + self.by > 0 else promo.rate.frame
        by = fitted_clip(promo, before, wanted, "end") - before.length
        by = behind.length - fitted_clip(promo, behind, max(1, behind.length - by), "start")
        if not by:
            raise Refusal("no-more", "The cut cannot be moved that way: there is no more picture, or no more clip.")
        made = trim_clip(promo, before, before.length + by, "end")
        made = trim_clip(made, behind, behind.length - by, "start")
        sentence = f"Moved the cut after {before.name or 'a filler'} by {in_seconds(abs(by))}"
        return Outcome(keep_times(made, promo), sentence, (before.id,))


class Slip(Command):
    """Shows another part of the material in the same place and length: `by` ticks of the source later, or earlier."""

    do: Literal["slip"] = "slip"
    item: Target
    by: By

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        part = timed_part(promo, self.item)
        first, last = source_range(part.of.source_in, part.of.speed, part.length)
        by = max(-first, min(self.by, part.media.length - last))
        if not by:
            raise Refusal("no-more", f"{part.name} has no more to show that way.", "Slip it the other way.")
        made = set_part(promo, self.item, source_in=part.of.source_in + by)
        way = "later" if by > 0 else "earlier"
        return Outcome(made, f"Slipped {part.name} {in_seconds(abs(by))} {way}", (self.item,))
