"""Cutting on the main track without losing what lies around it.

```
Overwrite    |--A--|--B--|--C--|   X over part of A and B   →  |-A-|---X---|B|--C--|   the length stays
Replace      |--A--|--B--|--C--|   X for B                  →  |--A--|--X--|--C--|     place, ties, transitions stay
RollCut      |--A--|--B--|         the cut later            →  |----A---|B|            nothing else moves
Slip         |--A--|               its content later        →  |--A--|                 other source, same place
```
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from glowreel.core.anchors import keep_times
from glowreel.core.commands.base import Command, Context, Outcome, called, in_seconds, with_media
from glowreel.core.commands.change import map_parts, rebuild_scenes
from glowreel.core.commands.clips import clip_of, insert_at
from glowreel.core.commands.parts import running
from glowreel.core.commands.rate import with_first_rate
from glowreel.core.commands.roles import MediaId, Target
from glowreel.core.commands.split import cut_main
from glowreel.core.commands.trim import fitted_clip, trim_clip
from glowreel.core.content.values import rows_of
from glowreel.core.document import Clip, Part, Promo
from glowreel.core.errors import Refusal
from glowreel.core.media import Media
from glowreel.core.source import Source
from glowreel.core.speed import UNIT, Speed, SpeedPoint
from glowreel.core.time import MAX_TICKS, TICKS_PER_SAMPLE, Length, Ticks
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
        clip = clip.changed(source=Source(media=media.id, at=source_in))
    wanted = length if length is not None else clip.length
    return clip.changed(length=fitted_clip(promo, clip, wanted, "end"))


Shorter = Literal["slow", "hold", "close"]


class Replace(Command):
    """Puts other material in the place of a clip, a layer or a sound. Place, length, ties, transitions, look and name
    of the group stay.

    Longer material shows the part from `source_in`. Shorter material is slowed down to fill the place (`slow`), or
    holds its last frame (`hold`), or it gets as short, and the main track closes up (`close`).
    """

    do: Literal["replace"] = "replace"
    item: Target
    media: MediaId
    source_in: Ticks = 0
    shorter: Shorter = "slow"

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        old = timeline(promo).find_part(self.item)
        media = context.find(self.media)
        made = replaced(promo, old, media, self.source_in, self.shorter)
        return Outcome(made, f"Put {media.name} in the place of {called(promo, old)}", (old.id,), frozenset({old.id}))


def replaced(promo: Promo, old: Part, media: Media, source_in: int, shorter: Shorter) -> Promo:
    """The promo with material in the place of what a part holds, as long as it lasts; see `Replace`."""
    length = timeline(promo).span_of(old).length
    known = with_media(promo, media)
    new = _filled(known, old, media)
    if old.source is not None and old.source.runs != "once" and media.kind == "sound":
        # What is made to fit, or goes round, does so with other material as well.
        new = new.changed(source=Source(media=media.id, runs=old.source.runs))
    elif media.length:
        start = max(0, min(source_in, media.length - length))
        new = new.changed(source=Source(media=media.id, at=start - new.into))
        rate, left = promo.rate, media.length - start
        lasts = max(rate.frame, rate.frame_start(rate.frame_floor(left)))
        if new.content.fine:
            lasts = max(TICKS_PER_SAMPLE, left // TICKS_PER_SAMPLE * TICKS_PER_SAMPLE)
        if lasts < length:
            new = _fitted(new, length, lasts, media, shorter)
    return map_parts(known, {old.id}, lambda _: new)


def _filled(promo: Promo, old: Part, media: Media) -> Part:
    """The part with the material, from its beginning. On the main track its kind goes with the material."""
    source = Source(media=media.id, at=-old.into)
    if isinstance(old, Clip):
        new = clip_of(media, old.id, promo.rate)
        kept = {name: value for name, value in old.values.items() if name in rows_of(new.kind)}
        ways = {
            key: own
            for key, values in old.values_in.items()
            if (own := {name: value for name, value in values.items() if name in rows_of(new.kind)})
        }
        return old.changed(
            kind=new.kind, name=new.name, source=source, values=kept, values_in=ways, grid=None, cells=(), shares={}
        )  # fmt: skip
    if not old.content.media:
        raise Refusal("no-material", f"{called(promo, old)} holds no material.", "Choose a picture or a sound.")
    if not old.content.takes(media):
        lacks = "sound" if old.content.fine else "picture"
        raise Refusal("no-fit", f"{media.name} has no {lacks}.", f"Choose something with a {lacks}.")
    return old.changed(source=source)


def _fitted(part: Part, length: int, lasts: int, media: Media, shorter: Shorter) -> Part:
    assert part.source is not None
    if shorter == "close":
        return part.changed(length=lasts)
    if shorter == "hold":
        first, last = part.into, part.into + lasts
        points = [SpeedPoint(at=at, speed=speed) for at, speed in ((first, UNIT), (last, UNIT), (last, 0))]
    else:
        # Rounded down, so that the source is never used up before the end.
        speed = UNIT * lasts // length
        if speed < 100:
            raise Refusal(
                "too-short", f"{media.name} is more than ten times too short.", "Hold its last frame, or close up."
            )
        points = [SpeedPoint(speed=speed)]
    start = part.source.at + part.into
    curve = Speed(points=tuple(points))
    return part.changed(source=Source(media=media.id, at=start - curve.area(part.into).__ceil__(), speed=curve))


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
        part = running(promo, self.item)
        first, last = part.used
        by = max(-first, min(self.by, part.media.length - last))
        if not by:
            raise Refusal("no-more", f"{part.name} has no more to show that way.", "Slip it the other way.")
        made = map_parts(
            promo, {self.item}, lambda p: p.changed(source=p.source.changed(at=p.source.at + by))
        )  # fmt: skip
        way = "later" if by > 0 else "earlier"
        return Outcome(made, f"Slipped {part.name} {in_seconds(abs(by))} {way}", (self.item,))
