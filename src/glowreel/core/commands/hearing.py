"""What is heard as a whole, and sound that is laid in by rule.

```
SetWhole      the whole at −3 dB; brought to −14 LUFS, to what its channels ask for, or left as it is mixed
RunSound      a song once      ⇄   round and round   ⇄   made to fit, however long it is to last
LayRoomTone   [voice]   [voice]   →  [voice][tone][voice]       every hole of a cut voice, or the one at a time
CutToBeat     clips of 2.3, 1.9, 4 s, every bar of 2 s  →  2, 2, 4 s       cuts on the beats of a piece
MarkMoments   notes on the strongest moments of a piece
StepHalf      [voice]  at 4 s  →  [voi] and, on the next track, [ce]
```
Refused: pieces in which no beat was found, holes that are none.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise
from typing import Any, Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome, called, in_seconds
from glowreel.core.commands.change import locked_track, put_item, replace_item
from glowreel.core.commands.roles import Target
from glowreel.core.commands.split import split_items
from glowreel.core.commands.tracks import stepped
from glowreel.core.commands.trim import fitted_clip, trim_clips
from glowreel.core.document import Free, Item, Loudness, Note, Promo
from glowreel.core.errors import Refusal
from glowreel.core.pulse import Pulse, pulse_of
from glowreel.core.source import Source
from glowreel.core.time import TICKS_PER_SAMPLE, Ticks, ticks
from glowreel.core.timeline import timeline
from glowreel.core.value import Decibels

NOTED = "Strong moment"
LONGEST_HOLE = ticks(30)
"""A longer hole is no pause in a voice."""


class SetWhole(Command):
    """How loud the whole is, and to what loudness it is brought: a number of LUFS, what its channels ask for, or as it
    is mixed. What is left out stays."""

    do: Literal["set-whole"] = "set-whole"
    gain: Decibels | None = None
    loudness: Loudness | Literal["channels", "mixed"] | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        if self.loudness is not None:
            wanted = None if self.loudness == "mixed" else self.loudness
            promo = promo.changed(loudness=wanted)
            said = promo.loudness_wanted
            sentence = "Left the loudness as it is mixed" if said is None else f"Brings the whole to {said:g} LUFS"
        else:
            sentence = f"Set the whole to {self.gain or 0:+.1f} dB"
        if self.gain is not None:
            promo = promo.changed(gain=self.gain)
        return Outcome(promo, sentence)


class RunSound(Command):
    """Lets a sound run once, round and round, or made to fit: as long as it is to last, by whole bars."""

    do: Literal["run-sound"] = "run-sound"
    item: Target
    runs: Literal["once", "round", "fitted"]

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        index = timeline(promo)
        item = index.find_item(self.item)
        if item.content.lane != "sound" or item.source is None:
            raise Refusal("no-sound", "Only sound on a sound track runs on.", "Select a song or a voice.")
        if self.runs != "once" and item.source.speed is not None:
            raise Refusal("at-a-speed", "It runs at a speed of its own.", "Let it run as it came first.")
        source = item.source.changed(runs=self.runs)
        media = promo.media[item.source.media]
        length = item.length
        if self.runs == "once":
            length = max(TICKS_PER_SAMPLE, min(length, source.longest(item.into, media.length, length)))
        changed = item.changed(source=source, length=length)
        said = {"once": "runs once", "round": "runs round and round", "fitted": "is made to fit"}[self.runs]
        promo = replace_item(promo, item.id, lambda _: changed)
        return Outcome(promo, f"{called(promo, item)} {said}", (item.id,), frozenset({item.id}))


class LayRoomTone(Command):
    """Lays the sound of the room into the holes of a cut voice, as loud as the voice before each: into all that lie
    between pieces of the same recording on its track, or into the one at a time."""

    do: Literal["lay-room-tone"] = "lay-room-tone"
    item: Target
    at: Ticks | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        index = timeline(promo)
        voice = index.find_item(self.item)
        track = index.track_of[voice.id]
        if voice.content.lane != "sound" or voice.source is None:
            raise Refusal("no-voice", "Room tone goes between pieces of a voice.", "Select a piece of a voice.")
        if track.locked:
            raise locked_track(track)
        holes = [hole for hole in holes_of(promo, voice) if self.at is None or hole[1] <= self.at < hole[2]]
        if not holes:
            raise Refusal("no-hole", "There is no hole beside it in this voice.", "Cut something out of it first.")
        made = []
        for before, start, end in holes:
            item = _tone(context.new_id("i"), before, start, end - start)
            promo = put_item(promo, item, track.id, context.new_id)
            made.append(item.id)
        count = len(made)
        return Outcome(promo, f"Laid room tone into {count} hole{'s' * (count != 1)}", tuple(made), frozenset(made))


def holes_of(promo: Promo, voice: Item) -> list[tuple[Item, int, int]]:
    """Holes between pieces of one recording on the track of one of them: the piece before, start and end, in ticks."""
    index = timeline(promo)
    pieces = sorted((item for item in index.track_of[voice.id].items), key=lambda item: index.heard_span(item).start)
    found = []
    for before, behind in pairwise(pieces):
        start, end = index.heard_span(before).end, index.heard_span(behind).start
        start = -(-start // TICKS_PER_SAMPLE) * TICKS_PER_SAMPLE
        same = before.media == voice.media and behind.media == voice.media
        if same and TICKS_PER_SAMPLE <= end - start <= LONGEST_HOLE:
            found.append((before, start, end))
    return found


TONE_LAP = ticks(0.02)
LEAST_ROOM = 0.03
"""So much of the room, as a factor, is left where all noise was taken out of a voice."""


def _tone(key: str, before: Item, start: int, length: int) -> Item:
    """Room tone as loud as the piece before it, with a hair of a fade at both ends."""
    kept: dict[str, Any] = {name: before.values[name] for name in ("bus", "pan", "channels") if name in before.values}
    lap = min(TONE_LAP, length // 3) // TICKS_PER_SAMPLE * TICKS_PER_SAMPLE
    gain = before.read("gain", "", before.into + before.length - 1)
    if before.read("noise"):
        # Of the room as much is left as the pauses of that voice have.
        gain = max(-60.0, round(gain + 20 * math.log10(max(LEAST_ROOM, 1 - before.read("noise"))), 1))
    values = {**kept, "bus": before.read("bus"), "gain": gain, "room_tone": True, "fade_in": lap, "fade_out": lap}
    assert before.media is not None
    length = length // TICKS_PER_SAMPLE * TICKS_PER_SAMPLE
    source = Source(media=before.media, runs="round")
    return Item(id=key, kind="sound", name="Room tone", anchor=Free(at=start), length=length, source=source,
                values=values)  # fmt: skip


class CutToBeat(Command):
    """Lets clips end on the beats of a piece: each at the first one, or bar, or second bar, that leaves it on show for
    at least half a second; what has no more to show ends earlier on one, if it can."""

    do: Literal["cut-to-beat"] = "cut-to-beat"
    music: Target
    clips: tuple[Target, ...] = Field(default=(), max_length=2000)
    every: Literal["beat", "bar", "two-bars"] = "bar"

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        index = timeline(promo)
        pulse = _pulse(promo, index.find_item(self.music), context)
        grid = {"beat": pulse.beats, "bar": pulse.bars, "two-bars": pulse.bars[::2]}[self.every]
        chosen = {clip_id for clip_id in self.clips if index.find_clip(clip_id)} or {clip.id for clip in promo.clips}
        lengths: dict[str, int] = {}
        start = 0
        for clip in promo.clips:
            length = clip.length
            if clip.id in chosen:
                length = _on_beat(promo, clip.id, start, grid)
                if length != clip.length:
                    lengths[clip.id] = length
            start += length
        if not lengths:
            raise Refusal("on-beat", "Nothing can be cut to this beat.", "Choose another one, or other clips.")
        made = trim_clips(promo, lengths, "end")
        words = {"beat": "every beat", "bar": "every bar", "two-bars": "every second bar"}[self.every]
        return Outcome(made, f"Cut {len(lengths)} clips to {words}", tuple(lengths))


LEAST_SHOWN = ticks(0.5)


def _on_beat(promo: Promo, clip_id: str, start: int, grid: Sequence[int]) -> int:
    """The length with which a clip that starts at a time ends on the grid; its own where it cannot."""
    clip = timeline(promo).clip[clip_id]
    for at in grid:
        if at - start >= LEAST_SHOWN:
            wanted = max(promo.rate.frame, promo.rate.snap(at) - start)
            if fitted_clip(promo, clip, wanted, "end") == wanted:
                return wanted
            break
    return clip.length


class MarkMoments(Command):
    """Puts notes on the strongest moments of a piece."""

    do: Literal["mark-moments"] = "mark-moments"
    music: Target

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        item = timeline(promo).find_item(self.music)
        index = timeline(promo)
        there = {index.note_at(note) for note in promo.notes}
        moments = [promo.rate.snap(at) for at in _pulse(promo, item, context).strong]
        notes = [
            Note(id=context.new_id("n"), anchor=Free(at=at), text=NOTED) for at in dict.fromkeys(moments)
            if at not in there
        ]  # fmt: skip
        if not notes:
            raise Refusal("marked", "Its strongest moments are marked already.")
        promo = promo.changed(notes=(*promo.notes, *notes))
        return Outcome(promo, f"Marked {len(notes)} moments of {called(promo, item)}", tuple(note.id for note in notes))


def _pulse(promo: Promo, item: Item, context: Context) -> Pulse:
    facts = context.found(promo, item, "beats")
    if facts is None:
        raise Refusal("not-yet", "Its beats are still being looked for.", "Try again in a moment.")
    if not facts["beats"]:
        raise Refusal("no-beat", "No beat was found in it.", "Choose a piece with a clear beat.")
    return pulse_of(promo, item, facts)


class StepHalf(Command):
    """Splits a sound, and moves its second half to the next track with room."""

    do: Literal["step-half"] = "step-half"
    item: Target
    at: Ticks

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        item = timeline(promo).find_item(self.item)
        if item.content.lane != "sound":
            raise Refusal("no-sound", "Only sound is moved on in halves.", "Select a sound.")
        split, behind = split_items(promo, [item], self.at, context)
        moved = stepped(split, timeline(split).item[behind], 1, context)
        after = timeline(split).item_span(timeline(split).item[item.id]).length
        return Outcome(
            moved, f"Split {called(promo, item)} after {in_seconds(after)}, the rest one track on", (behind,),
            frozenset({behind}),
        )  # fmt: skip
