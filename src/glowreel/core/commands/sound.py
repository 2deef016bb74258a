"""Sounds: laying them in, taking them off footage and putting them back.

```
AddSound      ...........   song at 2 s   →  ..[--song--]   free at its time; whole: under the whole promo
DetachSound   |--A with its sound--|   →  |--A, silent--|  and  [its sound] on a track, tied to A
AttachSound   the same the other way
```
Lengths are ticks, finer than a frame. Refused: what has no sound,
sound that is detached already, pieces on a locked track.
"""

from __future__ import annotations

from typing import Any, Literal

from glowreel.core.commands.base import Command, Context, Outcome, with_media
from glowreel.core.commands.change import locked_track, map_items, put_item, replace_clip
from glowreel.core.commands.roles import MediaId, Target, TrackId
from glowreel.core.document import Anchor, Free, Item, Promo, Tied, Whole
from glowreel.core.errors import Refusal
from glowreel.core.media import Media
from glowreel.core.properties.rows.sound import HEARD_NAMES
from glowreel.core.setting import without
from glowreel.core.source import Source
from glowreel.core.time import TICKS_PER_SAMPLE, Ticks, ticks
from glowreel.core.timeline import timeline


class AddSound(Command):
    """Lays a sound in at a time; it stays at that time while the main track is cut. With `whole`, it goes under the
    whole promo and fades out with it."""

    do: Literal["add-sound"] = "add-sound"
    media: MediaId
    at: Ticks = 0
    track: TrackId | None = None
    whole: bool = False

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        media = context.find(self.media)
        if not media.sounding:
            raise Refusal("silent", f"{media.name} has no sound.", "Choose a song, a voice or footage with sound.")
        at = self.at // TICKS_PER_SAMPLE * TICKS_PER_SAMPLE
        anchor: Anchor = Whole() if self.whole else Free(at=at)
        length = max(TICKS_PER_SAMPLE, media.length // TICKS_PER_SAMPLE * TICKS_PER_SAMPLE)
        item = Item(
            id=context.new_id("i"), kind="sound", anchor=anchor, length=length, source=Source(media=media.id),
            values=first_values(media) | ({"fade_out": ticks(1.5)} if self.whole else {}),
        )  # fmt: skip
        promo = put_item(with_media(promo, media), item, self.track, context.new_id)
        return Outcome(promo, f"Laid {media.name} under the picture", (item.id,), frozenset({item.id}))


MUSIC_DIP = 12.0
"""By how many decibels music gives way to voices, unless it is told otherwise."""


def first_values(media: Media) -> dict[str, Any]:
    """How a new sound is heard, by what its file most likely is: music gives way to voices."""
    if media.heard == "music":
        return {"dip": MUSIC_DIP}
    return {"bus": media.heard} if media.heard else {}


class DetachSound(Command):
    """Puts the sound of a footage clip on a sound track, tied to the clip, where it can be cut by itself."""

    do: Literal["detach-sound"] = "detach-sound"
    clip: Target

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        clip = timeline(promo).find_clip(self.clip)
        media = promo.media.get(clip.media or "")
        if media is None or not media.sounding:
            raise Refusal("silent", f"{clip.name or 'A filler'} has no sound.", "Choose footage with sound.")
        if any(item.of == clip.id for item in promo.items):
            raise Refusal("detached", "Its sound has been detached already.", "Attach it again first.")
        heard = {name: clip.values[name] for name in HEARD_NAMES if name in clip.values} | {"bus": clip.read("bus")}
        item = Item(
            id=context.new_id("i"), kind="sound", anchor=Tied(clip=clip.id), length=clip.length, into=clip.into,
            source=clip.source, values=heard, of=clip.id,
        )  # fmt: skip
        promo = replace_clip(promo, clip.id, lambda c: c.having(muted=True))
        promo = put_item(promo, item, None, context.new_id)
        return Outcome(promo, f"Detached the sound of {clip.name}", (item.id,), frozenset({item.id}))


class AttachSound(Command):
    """Puts detached sound back: the clip is heard again as it was, and its pieces on the sound tracks go."""

    do: Literal["attach-sound"] = "attach-sound"
    clip: Target

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        clip = timeline(promo).find_clip(self.clip)
        pieces = [item for item in promo.items if item.of == clip.id]
        if not pieces:
            raise Refusal("attached", "The sound of this clip is where it belongs.")
        track_of = timeline(promo).track_of
        for piece in pieces:
            if track_of[piece.id].locked:
                raise locked_track(track_of[piece.id])
        gone = {piece.id for piece in pieces}
        promo = map_items(promo, lambda i: None if i.id in gone else i)
        heard = {name: pieces[0].values[name] for name in HEARD_NAMES if name in pieces[0].values}
        promo = replace_clip(promo, clip.id, lambda c: without(c, set(HEARD_NAMES)).having(**heard))
        return Outcome(promo, f"Attached the sound of {clip.name} again", (clip.id,))
