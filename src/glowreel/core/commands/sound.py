"""Sounds: laying them in, how loud, how they begin and end, and taking them off footage and putting them back.

```
AddSound      ...........   song at 2 s   →  ..[--song--]   free at its time; whole: under the whole promo
SetGain       0 dB  →  -6 dB, or muted
SetFades      [--song--]    in 1 s, out 2 s  →  /--song-\
DetachSound   |--A with its sound--|   →  |--A, silent--|  and  [its sound] on a track, tied to A
AttachSound   the same the other way
```
Gain is in decibels (-60 is silence, 12 the most), lengths in ticks, finer than a frame. Refused: what has no sound,
sound that is detached already, pieces on a locked track.
"""

from __future__ import annotations

from typing import Literal

from glowreel.core.commands.base import Command, Context, Outcome, called, with_media
from glowreel.core.commands.change import locked_track, map_items, put_item, replace_clip, replace_item
from glowreel.core.commands.roles import MediaId, Target, TrackId
from glowreel.core.document import Anchor, Free, Item, Promo, Sound, Tied, Whole
from glowreel.core.errors import Refusal
from glowreel.core.time import TICKS_PER_SAMPLE, Ticks, ticks
from glowreel.core.timeline import timeline
from glowreel.core.value import Decibels


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
        sound = Sound(media=media.id, fade_out=ticks(1.5) if self.whole else 0)
        length = max(TICKS_PER_SAMPLE, media.length // TICKS_PER_SAMPLE * TICKS_PER_SAMPLE)
        item = Item(id=context.new_id("i"), anchor=anchor, length=length, content=sound)
        promo = put_item(with_media(promo, media), item, self.track, context.new_id)
        return Outcome(promo, f"Laid {media.name} under the picture", (item.id,), frozenset({item.id}))


class SetGain(Command):
    """How loud a sound is, or the sound of a main-track clip; `muted` silences it without forgetting its gain."""

    do: Literal["set-gain"] = "set-gain"
    item: Target
    gain: Decibels | None = None
    muted: bool | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        index = timeline(promo)
        if self.item in index.clip:
            clip = index.clip[self.item]
            changes = self.model_dump(include={"gain", "muted"}, exclude_none=True)
            sentence = f"Set {clip.name} to {self.gain:+.1f} dB" if self.gain is not None else f"Muted {clip.name}"
            if self.muted is False:
                sentence = f"Unmuted {clip.name}"
            return Outcome(replace_clip(promo, clip.id, lambda c: c.changed(**changes)), sentence, (clip.id,))
        item = index.find_item(self.item)
        if not isinstance(item.content, Sound):
            raise Refusal("silent", f"{called(promo, item)} has no sound here.")
        gain = self.gain if self.gain is not None else item.content.gain
        muted = self.muted if self.muted is not None else item.muted
        content = item.content.changed(gain=gain)
        promo = replace_item(promo, item.id, lambda i: i.changed(content=content, muted=muted))
        sentence = f"Set {called(promo, item)} to {gain:+.1f} dB"
        if self.muted is not None:
            sentence = f"{'Muted' if muted else 'Unmuted'} {called(promo, item)}"
        return Outcome(promo, sentence, (item.id,))


class SetFades(Command):
    """Lengths over which a sound comes in and goes out."""

    do: Literal["set-fades"] = "set-fades"
    item: Target
    fade_in: Ticks | None = None
    fade_out: Ticks | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        item = timeline(promo).find_item(self.item)
        if not isinstance(item.content, Sound):
            raise Refusal("silent", f"{called(promo, item)} has no sound here.")
        changes = self.model_dump(include={"fade_in", "fade_out"}, exclude_none=True)
        promo = replace_item(promo, item.id, lambda i: i.changed(content=i.content.changed(**changes)))
        return Outcome(promo, f"Set the fades of {called(promo, item)}", (item.id,))


class DetachSound(Command):
    """Puts the sound of a footage clip on a sound track, tied to the clip, where it can be cut by itself."""

    do: Literal["detach-sound"] = "detach-sound"
    clip: Target

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        clip = timeline(promo).find_clip(self.clip)
        media = promo.media.get(clip.media or "")
        if media is None or not media.sounding:
            raise Refusal("silent", f"{clip.name or 'A filler'} has no sound.", "Choose footage with sound.")
        if any(isinstance(i.content, Sound) and i.content.of == clip.id for i in promo.items):
            raise Refusal("detached", "Its sound has been detached already.", "Attach it again first.")
        sound = Sound(media=media.id, source_in=clip.source_in, speed=clip.speed, gain=clip.gain, of=clip.id)
        anchor = Tied(clip=clip.id)
        item = Item(id=context.new_id("i"), anchor=anchor, length=clip.length, content=sound, muted=clip.muted)
        promo = replace_clip(promo, clip.id, lambda c: c.changed(muted=True))
        promo = put_item(promo, item, None, context.new_id)
        return Outcome(promo, f"Detached the sound of {clip.name}", (item.id,), frozenset({item.id}))


class AttachSound(Command):
    """Puts detached sound back: the clip is heard again as it was, and its pieces on the sound tracks go."""

    do: Literal["attach-sound"] = "attach-sound"
    clip: Target

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        clip = timeline(promo).find_clip(self.clip)
        pieces = [i for i in promo.items if isinstance(i.content, Sound) and i.content.of == clip.id]
        if not pieces:
            raise Refusal("attached", "The sound of this clip is where it belongs.")
        track_of = timeline(promo).track_of
        for piece in pieces:
            if track_of[piece.id].locked:
                raise locked_track(track_of[piece.id])
        gone = {piece.id for piece in pieces}
        promo = map_items(promo, lambda i: None if i.id in gone else i)
        gain, muted = getattr(pieces[0].content, "gain", 0.0), pieces[0].muted
        promo = replace_clip(promo, clip.id, lambda c: c.changed(gain=gain, muted=muted))
        return Outcome(promo, f"Attached the sound of {clip.name} again", (clip.id,))
