"""Recordings: takes of a voice, laid in over a stretch, where what was recorded there before gives way; a screen with
its camera.

```
LayTake   [--------take 1--------]   →   [--take 1--][take 2][--take 1--]   on the track of voices, tied
LayRecording   |--A--|--B--|  between them   →   |--A--|--screen--|--B--|  with the camera as a layer tied to the screen
```
Refused: what has no sound or no picture, and what begins beyond the end of its recording.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field

from glowreel.core.commands.base import Command, Context, Outcome, with_media
from glowreel.core.commands.change import put_item
from glowreel.core.commands.clips import clip_of, insert_at, nearest_cut
from glowreel.core.commands.rate import with_first_rate
from glowreel.core.commands.roles import MediaId
from glowreel.core.commands.sound import first_values
from glowreel.core.commands.split import halves
from glowreel.core.commands.themes import THEMES, themed
from glowreel.core.document import Clip, Item, Note, Promo, Tied, Track, Whole
from glowreel.core.errors import Refusal
from glowreel.core.source import Source
from glowreel.core.time import TICKS_PER_SAMPLE, Ticks, ticks
from glowreel.core.timeline import timeline
from glowreel.core.value import Value

NAME = "Voice"
"""What a track is called that is made for takes."""
MOST_LATE = ticks(60)
"""So far apart two recordings of the same moment may begin."""


class LayTake(Command):
    """Lays a recorded voice in, `length` of it from `into` on (the rest of it where nothing is said), tied to the clip
    under its beginning. On the track of voices it takes the place of what was said there before: a mistake is punched
    in, another take chosen."""

    do: Literal["lay-take"] = "lay-take"
    media: MediaId
    at: Ticks
    into: Ticks = 0
    length: Ticks | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        media = context.find(self.media)
        if not media.sounding:
            raise Refusal("silent", f"{media.name} has no sound.", "Record it again, with the microphone on.")
        at, into = _exact(self.at), _exact(self.into)
        left = _exact(media.length) - into
        if left <= 0:
            raise Refusal("short", f"{media.name} is not that long.", "Record a longer take.")
        length = min(left, _exact(self.length) if self.length is not None else left)
        values: dict[str, Any] = first_values(media) | {"bus": "voice"}
        item = Item(
            id=context.new_id("i"), kind="sound", anchor=timeline(promo).tie_under(at),
            length=max(length, TICKS_PER_SAMPLE), into=into, source=Source(media=media.id), values=values,
        )  # fmt: skip
        promo = with_media(promo, media)
        track = next((track for track in promo.sounds if not track.locked and _of_voices(track)), None)
        if track is None:
            track = Track(id=context.new_id("t"), name=NAME)
            promo = promo.changed(sounds=(*promo.sounds, track))
        else:
            promo = _cleared(promo, track, at, at + item.length, context)
        promo = put_item(promo, item, track.id, context.new_id)
        return Outcome(promo, f"Laid {media.name} in", (item.id,), frozenset({item.id}))


def _exact(time: int) -> int:
    return time // TICKS_PER_SAMPLE * TICKS_PER_SAMPLE


def _of_voices(track: Track) -> bool:
    """Whether voices lie on a track and nothing else, none of them for the whole promo."""
    return bool(track.items) and all(
        item.read("bus") == "voice" and not isinstance(item.anchor, Whole) and item.of is None for item in track.items
    )


def _cleared(promo: Promo, track: Track, start: int, end: int, context: Context) -> Promo:
    """The promo with nothing on a track between two times; what lies around them stays as it is."""
    index = timeline(promo)

    def left(item: Item) -> list[Item]:
        span = index.item_span(item)
        if span.end <= start or end <= span.start:
            return [item]
        parts = []
        if span.start < start:
            parts.append(halves(promo, item, start, context)[0])
        if end < span.end:
            parts.append(halves(promo, item, end, context)[1])
        return parts

    bare = track.changed(items=tuple(part for item in track.items for part in left(item)))
    return promo.changed(sounds=tuple(bare if one.id == track.id else one for one in promo.sounds))


CAMERA: dict[str, Any] = {"pin": (1.0, 1.0), "place": (-0.06, -0.06), "size": 0.5, "mask": "ellipse"}
"""How somebody stands before a screen that was recorded: round, in a corner."""


class Mark(Value):
    """Something that was said of a moment while it was recorded, in ticks from where the recording begins."""

    at: Ticks = Field(ge=0)
    text: str = Field(max_length=80)


def _known(theme: str) -> str:
    if theme not in THEMES:
        raise ValueError(f"there is no theme “{theme}”")
    return theme


Theme = Annotated[str, AfterValidator(_known), Field(max_length=20)]
"""The name of what a recording stands on."""


class LayRecording(Command):
    """Puts what was recorded together on the main track, at the cut nearest to `at`: the screen, with the camera as a
    layer over it, in step, or one of them alone. The camera began `late` ticks after the screen, or before it where
    that is less than nothing. Marks become notes; a theme is what it stands on."""

    do: Literal["lay-recording"] = "lay-recording"
    screen: MediaId | None = None
    camera: MediaId | None = None
    at: Ticks = 0
    late: Annotated[int, Field(ge=-MOST_LATE, le=MOST_LATE)] = 0
    marks: tuple[Mark, ...] = Field(default=(), max_length=100)
    theme: Theme = ""

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        first = self.screen or self.camera
        if first is None:
            raise Refusal("nothing", "Nothing was recorded.", "Switch the camera or the screen on.")
        ground = context.find(first)
        promo, notice = with_first_rate(promo, [ground])
        clip = themed(clip_of(ground, context.new_id("c"), promo.rate), self.theme, ground)
        promo = insert_at(with_media(promo, ground), [clip], nearest_cut(promo, self.at), context)
        begins = timeline(promo).clip_span[clip.id].start
        if self.screen is not None and self.camera is not None:
            promo = self._with_camera(promo, clip, context)
        for mark in self.marks:
            if mark.at < clip.length:
                at = timeline(promo).tie_under(promo.rate.snap(begins + mark.at))
                promo = promo.changed(notes=(*promo.notes, Note(id=context.new_id("n"), anchor=at, text=mark.text)))
        return Outcome(promo, f"Added {ground.name}", (clip.id,), notice=notice)

    def _with_camera(self, promo: Promo, clip: Clip, context: Context) -> Promo:
        assert self.camera is not None
        media, rate = context.find(self.camera), promo.rate
        if not media.pictured:
            raise Refusal("no-picture", f"{media.name} has no picture.", "Record it again.")
        # In its own time it begins where the screen does, or that much later on the timeline.
        into, offset = max(0, -self.late), max(0, rate.snap(self.late))
        length = rate.frame_start(rate.frame_floor(min(media.length - into, clip.length - offset)))
        if length < rate.frame:
            raise Refusal("short", f"{media.name} does not last as long as the screen began before it.")
        item = Item(
            id=context.new_id("i"), kind="picture", anchor=Tied(clip=clip.id, offset=offset), length=length, into=into,
            source=Source(media=media.id), values=CAMERA,
        )  # fmt: skip
        return put_item(with_media(promo, media), item, None, context.new_id)
