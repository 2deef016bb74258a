"""Recorded takes: laid in over a stretch, where what was recorded there before gives way.

```
LayTake   [--------take 1--------]   →   [--take 1--][take 2][--take 1--]   on the track of voices, tied
```
Refused: what has no sound, and what begins beyond the end of its recording.
"""

from __future__ import annotations

from typing import Any, Literal

from glowreel.core.commands.base import Command, Context, Outcome, with_media
from glowreel.core.commands.change import put_item
from glowreel.core.commands.roles import MediaId
from glowreel.core.commands.sound import first_values
from glowreel.core.commands.split import halves
from glowreel.core.document import Item, Promo, Track, Whole
from glowreel.core.errors import Refusal
from glowreel.core.source import Source
from glowreel.core.time import TICKS_PER_SAMPLE, Ticks
from glowreel.core.timeline import timeline

NAME = "Voice"
"""What a track is called that is made for takes."""


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
