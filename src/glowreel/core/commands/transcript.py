"""Cutting by words.

```
WriteDown     what is said in a file, as a model heard it, comes into the promo
CorrectWords  "hollow mere" → "Hollowmere"        of the file, wherever it is heard or shown
MarkWords     "dawn" is a key word, a cue begins with it
RemoveWords   |so um dawn flights|                →  |so dawn flights|      the range leaves every track
CutPauses     |one ........ two|                  →  |one .. two|
BringBack     |so|dawn flights|                   →  |so um dawn flights|   what was cut out there
MoveWords     |a b|c d|e|, c d before a           →  |c d|a b|e|            or a copy of them
LayVoice      lines that were spoken               →  [one]..[two]..[three]   with their words
RoughCut      good sentences of a recording       →  one after another, in their order
```
Words are named by the part in which they are heard and their number. Refused: words that are not heard any more.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import Field

from glowreel.core.anchors import at_time, map_anchored
from glowreel.core.commands.base import Command, Context, Outcome, in_seconds, with_media
from glowreel.core.commands.change import locked_track, map_items, put_item, rebuild_scenes
from glowreel.core.commands.clips import clip_of, insert_at
from glowreel.core.commands.ranges import free_music, without_range
from glowreel.core.commands.rate import with_first_rate
from glowreel.core.commands.roles import MediaId, Target
from glowreel.core.commands.sound import first_values
from glowreel.core.commands.split import cut_main, split_items
from glowreel.core.commands.trim import trim_clip
from glowreel.core.document import Clip, Free, Item, Promo, Pronounced
from glowreel.core.errors import Missing, Refusal
from glowreel.core.media import Media
from glowreel.core.source import Source
from glowreel.core.speech.cutting import Range, between, boundary, outer_part, ranges_of, shortened
from glowreel.core.speech.fillers import SHORT_PAUSE
from glowreel.core.speech.heard import Heard, heard, transcript_of
from glowreel.core.speech.transcript import (
    MILLISECOND,
    MOST_WORDS,
    Language,
    Mark,
    Transcript,
    from_facts,
    joined,
    replaced,
)
from glowreel.core.time import TICKS_PER_SAMPLE, Ticks, ticks
from glowreel.core.timeline import timeline

Key = Annotated[str, Field(max_length=90, pattern=r"^[A-Za-z0-9_.-]{1,64}:\d{1,6}$")]
"""A word: the part in which it is heard, and its number in the transcript."""
Keys = Annotated[tuple[Key, ...], Field(min_length=1, max_length=MOST_WORDS)]
LAP = ticks(0.01)
"""Over which pieces of one recording pass into one another where words were cut out."""


def _words(promo: Promo) -> tuple[Heard, ...]:
    found = heard(promo)
    if not found:
        raise Refusal("no-words", "Nothing has been written down of what is said here.", "Have it written down first.")
    return found


def _named(promo: Promo, keys: Sequence[str]) -> list[Heard]:
    """The words of these keys, in order, or `Missing`."""
    wanted = set(keys)
    found = [one for one in _words(promo) if one.key in wanted]
    if not found:
        raise Missing("gone", "Those words are not heard any more.", "Look at where things are now.")
    return found


def with_transcript(promo: Promo, made: Transcript) -> Promo:
    """The promo with a transcript in the place of the one of that file and language."""
    kept = tuple(one for one in promo.transcripts if (one.media, one.language) != (made.media, made.language))
    spoken = tuple(one.changed(spoken=False) if made.spoken and one.media == made.media else one for one in kept)
    return promo.changed(transcripts=(*spoken, made))


class WriteDown(Command):
    """Brings what is said in a file into the promo, as it was heard by a model, and corrected before."""

    do: Literal["write-down"] = "write-down"
    media: MediaId

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        media = promo.media.get(self.media) or context.find(self.media)
        part = next((p for p in (*promo.clips, *promo.items) if p.media == media.id), None)
        facts = context.found(promo, part, "transcript") if part is not None else None
        if facts is None:
            raise Refusal("not-yet", f"What is said in {media.name} is still being written down.", "Try again soon.")
        if not facts["words"]:
            raise Refusal("no-words", f"Nobody was heard to speak in {media.name}.", "Choose a recording of a voice.")
        made = with_transcript(promo, from_facts(media.id, facts))
        return Outcome(made, f"Wrote down what is said in {media.name}")


class CorrectWords(Command):
    """Says some words of a transcript otherwise; without a text they are left out of it. What is heard stays."""

    do: Literal["correct-words"] = "correct-words"
    media: MediaId
    language: Language
    first: int = Field(ge=0, lt=MOST_WORDS)
    count: int = Field(default=1, ge=1, le=200)
    text: str = Field(default="", max_length=1000)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        old = _transcript(promo, self.media, self.language)
        if self.first + self.count > len(old.words):
            raise Missing("gone", "Those words are no longer there.", "Look at where things are now.")
        was = joined(old.words[self.first : self.first + self.count])
        words = replaced(old.words, self.first, self.count, self.text)
        made = with_transcript(promo, old.changed(words=words))
        return Outcome(made, f"Corrected “{_short(was)}” to “{_short(self.text)}”")

    def typing(self) -> str | None:
        return f"words {self.media} {self.language} {self.first}"


class MarkWords(Command):
    """Says something of words by hand: that a cue begins with one, that one is a key word; see `MARKS`."""

    do: Literal["mark-words"] = "mark-words"
    media: MediaId
    language: Language
    numbers: Annotated[tuple[int, ...], Field(min_length=1, max_length=3000)]
    mark: Mark
    on: bool = True

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        old = _transcript(promo, self.media, self.language)
        chosen = set(self.numbers)
        opposite = {"cue": "run", "run": "cue", "key": "plain", "plain": "key"}.get(self.mark)
        words = []
        for number, word in enumerate(old.words):
            if number in chosen:
                word = word.marked(self.mark, self.on)
                word = word.marked(opposite, False) if opposite and self.on else word
            words.append(word)
        made = with_transcript(promo, old.changed(words=tuple(words)))
        said = {"cue": "Split a cue", "run": "Joined two cues", "line": "Broke a line", "key": "Set a key word off",
                "plain": "Set a word off no more", "hidden": "Left words out of captions"}[self.mark]  # fmt: skip
        return Outcome(made, said if self.on else f"Took back: {said.lower()}")


def _transcript(promo: Promo, media: str, language: str) -> Transcript:
    found = transcript_of(promo, media, language)
    if found is None:
        raise Missing("gone", "What is said there has not been written down.", "Have it written down first.")
    return found


def _short(text: str) -> str:
    return text if len(text) <= 40 else text[:39] + "…"


def without_ranges(promo: Promo, ranges: Sequence[Range], context: Context, music: str) -> Promo:
    """The promo without stretches of time; where pieces of one recording meet afterwards they pass into one another."""
    told = {one.media for one in promo.transcripts}

    def plays_on(item: Item) -> bool:
        return music == "stays" and free_music(item) and item.media not in told

    for start, end in reversed(ranges):
        promo = without_range(promo, start, end, context, plays_on)
        promo = _lapped(promo, start)
    return promo


def _lapped(promo: Promo, at: int) -> Promo:
    """The promo with the sounds of one recording that meet at a time passing into one another."""
    index = timeline(promo)
    ends = {}
    for track in promo.sounds:
        before = next((i for i in track.items if index.item_span(i).end == at), None)
        behind = next((i for i in track.items if index.item_span(i).start == at), None)
        if before is not None and behind is not None and before.media == behind.media:
            ends[before.id] = max(LAP, before.read("crosses"))
    if not ends:
        return promo
    return map_items(promo, lambda item: item.having(crosses=ends[item.id]) if item.id in ends else item)


class RemoveWords(Command):
    """Takes words out of the promo: the stretches in which they are heard leave every track, cut in the quiet between
    words. With `music` set to `stays`, free music goes on."""

    do: Literal["remove-words"] = "remove-words"
    words: Keys
    music: Literal["cut", "stays"] = "stays"

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        words = _named(promo, self.words)
        ranges = ranges_of(promo, _words(promo), {one.key for one in words})
        if not ranges:
            raise Refusal("no-range", "Those words are too short to be cut out.", "Select more of them.")
        made = without_ranges(promo, ranges, context, self.music)
        gone = sum(end - start for start, end in ranges)
        said = joined(one.word for one in words)
        count = len(words)
        what = f"“{_short(said)}”" if count <= 6 else f"{count} words"
        return Outcome(made, f"Took out {what}, {in_seconds(gone)}")


class CutPauses(Command):
    """Makes the pauses after words so short (milliseconds), through every track."""

    do: Literal["cut-pauses"] = "cut-pauses"
    words: Keys
    to: int = Field(default=SHORT_PAUSE, ge=0, le=5000)
    music: Literal["cut", "stays"] = "stays"

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        words = _named(promo, self.words)
        ranges = shortened(promo.rate, between(_words(promo), {one.key for one in words}), self.to)
        if not ranges:
            raise Refusal("no-pause", "Those pauses are as short as that already.")
        made = without_ranges(promo, ranges, context, self.music)
        gone = sum(end - start for start, end in ranges)
        count = len(ranges)
        return Outcome(made, f"Made {count} pause{'s' * (count != 1)} shorter, by {in_seconds(gone)} in all")


class BringBack(Command):
    """Brings back what was cut out of a recording between a piece of it and the one that follows."""

    do: Literal["bring-back"] = "bring-back"
    before: Target
    behind: Target

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        index = timeline(promo)
        before, behind = index.find_part(self.before), index.find_part(self.behind)
        gap = behind.begins - (before.begins + before.length)
        plain = before.source is not None and behind.source is not None and before.source.speed is None
        if not plain or before.media != behind.media or gap <= 0:
            raise Refusal("no-gap", "Nothing was cut out between these two.")
        by = max(promo.rate.frame, promo.rate.snap(gap))
        at = index.span_of(before).end
        if isinstance(before, Clip):
            made = _opened(promo, before, by, at)
        else:
            made = _sound_opened(promo, index.item[before.id], gap, at)
        return Outcome(made, f"Brought {in_seconds(gap)} back", (before.id,))


def _opened(promo: Promo, clip: Clip, by: int, at: int) -> Promo:
    """The promo with a clip longer at its end: what follows moves on, free items too."""
    index = timeline(promo)
    media, room = index.material(clip), clip.length + by
    if media is not None and clip.source is not None:
        room = clip.source.longest(clip.into, media.length, room)
    by = promo.rate.frame_start(promo.rate.frame_floor(room)) - clip.length
    if by <= 0:
        raise Refusal("no-more", "There is nothing more of it to bring back.")
    made = trim_clip(promo, clip, clip.length + by, "end")
    ground = timeline(made.changed(layers=(), sounds=(), notes=()))
    starts = {item.id: index.item_span(item).start for item in promo.items}

    starts |= {note.id: index.start_of(note.anchor) for note in promo.notes}
    starts |= {cue.id: index.start_of(cue.anchor) for lane in promo.captions for cue in lane.cues}

    def follow(held: Any) -> Any:
        moves = isinstance(held.anchor, Free) and starts[held.id] >= at
        return at_time(ground, held, starts[held.id] + by) if moves else held

    return map_anchored(made, follow)


def _sound_opened(promo: Promo, sound: Item, gap: int, at: int) -> Promo:
    """The promo with a sound longer at its end: the picture under it is opened where it was cut there, so that all
    that follows moves on; else only what follows on its track."""
    index = timeline(promo)
    track = index.track_of[sound.id]
    frame = promo.rate.frame
    cut = next((c for c in promo.clips if abs(index.clip_span[c.id].end - at) <= frame), None)
    by = max(frame, promo.rate.snap(gap))
    if cut is not None and cut is not promo.clips[-1]:
        made = _opened(promo, cut, by, at)
    else:
        later = {i.id for i in track.items if index.item_span(i).start >= at}
        ground = timeline(promo)
        made = map_items(
            promo, lambda i: at_time(ground, i, index.item_span(i).start + by) if i.id in later else i
        )  # fmt: skip
    return map_items(made, lambda i: i.changed(length=i.length + by) if i.id == sound.id else i)


class MoveWords(Command):
    """Moves a passage of words, or a copy of it, before another word, or to the end: with its picture where it is
    heard of the main track, by itself on a sound track."""

    do: Literal["move-words"] = "move-words"
    words: Keys
    before: Key | None = None
    copy_them: bool = False

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        moving, words = _named(promo, self.words), _words(promo)
        keys = {one.key for one in moving}
        ranges = ranges_of(promo, words, keys)
        if len(ranges) != 1:
            raise Refusal("apart", "Only words that follow one another are moved together.", "Select one passage.")
        if self.before is not None and self.before in keys:
            raise Refusal("inside", "A passage cannot be moved into itself.", "Choose another place.")
        target = next((one for one in words if one.key == self.before), None)
        index = timeline(promo)
        at = index.length
        if target is not None:
            place = words.index(target)
            at = boundary(promo, words[place - 1] if place else None, target)
        (start, end), what = ranges[0], _short(joined(one.word for one in moving))
        part = outer_part(promo, moving[0])
        if isinstance(part, Clip):
            made = _moved_main(promo, start, end, at, self.copy_them, context)
        else:
            track = index.track_of[part.id]
            if track.locked:
                raise locked_track(track)
            made = _moved_sound(promo, track.id, start, end, at, self.copy_them, context)
        return Outcome(made, f"{'Copied' if self.copy_them else 'Moved'} “{what}”")


def _moved_main(promo: Promo, start: int, end: int, at: int, copy: bool, context: Context) -> Promo:
    at = min(at, timeline(promo).main_length)
    for edge in (start, end, at):
        promo = cut_main(promo, edge, context)
    index = timeline(promo)
    moving = [c for c in promo.clips if start <= index.clip_span[c.id].start < end]
    before = next((c.id for c in promo.clips if index.clip_span[c.id].start >= at and c not in moving), None)
    if copy:
        fresh = [clip.changed(id=context.new_id("c")) for clip in moving]
        place = len(promo.clips) if before is None else promo.clips.index(index.clip[before])
        return insert_at(promo, fresh, place, context)
    runs = [(scene, [c for c in scene.clips if c not in moving]) for scene in promo.scenes]
    if not any(run for _, run in runs):
        return promo
    if before is None:
        next(run for _, run in reversed(runs) if run).extend(moving)
    else:
        run = next(run for _, run in runs if any(c.id == before for c in run))
        spot = next(n for n, c in enumerate(run) if c.id == before)
        run[spot:spot] = moving
    return rebuild_scenes(promo, runs)


def _moved_sound(promo: Promo, track_id: str, start: int, end: int, at: int, copy: bool, context: Context) -> Promo:
    for edge in (start, end, at):
        index = timeline(promo)
        under = [i for i in _track(promo, track_id) if index.item_span(i).start < edge < index.item_span(i).end]
        if under:
            promo = split_items(promo, under, edge, context)[0]
    index = timeline(promo)
    length = end - start
    spans = {item.id: index.item_span(item).start for item in _track(promo, track_id)}
    moving = {key for key, begin in spans.items() if start <= begin < end}

    def place(key: str) -> int:
        begin = spans[key]
        if copy:
            return begin + length if begin >= at else begin
        if key in moving:
            return begin - start + (at - length if at >= end else at)
        if at >= end and end <= begin < at:
            return begin - length
        return begin + length if at <= begin < start else begin

    made = map_items(
        promo, lambda i: i.changed(anchor=Free(at=place(i.id))) if i.id in spans and place(i.id) != spans[i.id] else i
    )
    if copy:
        for key in sorted(moving, key=spans.__getitem__):
            fresh = timeline(promo).item[key]
            spot = at + spans[key] - start
            made = put_item(
                made, fresh.changed(id=context.new_id("i"), anchor=Free(at=spot), of=None), track_id, context.new_id
            )
    return made


def _track(promo: Promo, track_id: str) -> tuple[Item, ...]:
    return next(track.items for track in promo.sounds if track.id == track_id)


class LayVoice(Command):
    """Lays spoken lines one after another on a sound track, with a pause between them, or each at the start of a scene.
    What is said comes with them. `instead` takes the lines that voices spoke before out first."""

    do: Literal["lay-voice"] = "lay-voice"
    media: Annotated[tuple[MediaId, ...], Field(min_length=1, max_length=60)]
    at: Ticks = 0
    pause: int = Field(default=350, ge=0, le=10_000)
    by_scene: bool = False
    instead: bool = False
    pronounced: Pronounced | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        found = [context.find(key) for key in self.media]
        index = timeline(promo)
        old = {i.id for i in spoken_by_voices(promo) if not index.track_of[i.id].locked} if self.instead else set()
        at = min((index.item_span(index.item[key]).start for key in old), default=self.at)
        track = next((index.track_of[key].id for key in old), None)
        starts = [index.scene_span[scene.id].start for scene in promo.scenes] if self.by_scene else []
        promo = map_items(with_media(promo, *found), lambda item: None if item.id in old else item)
        made: list[str] = []
        for place, media in enumerate(found):
            at = max(at if place else 0, starts[place]) if place < len(starts) else at
            at = at // TICKS_PER_SAMPLE * TICKS_PER_SAMPLE
            length = max(TICKS_PER_SAMPLE, media.length // TICKS_PER_SAMPLE * TICKS_PER_SAMPLE)
            item = Item(id=context.new_id("i"), kind="sound", anchor=Free(at=at), length=length,
                        source=Source(media=media.id), values=first_values(media) | {"bus": "voice"})  # fmt: skip
            promo = put_item(promo, item, track if _there(promo, track) else None, context.new_id)
            track = timeline(promo).track_of[item.id].id
            facts = context.found(promo, item, "transcript")
            if facts is not None and facts["words"]:
                told = from_facts(media.id, facts)
                promo = with_transcript(promo, told.changed(made="voice" if media.machine else told.made))
            made.append(item.id)
            at += length + self.pause * MILLISECOND
        if self.pronounced is not None:
            promo = promo.changed(pronounced=self.pronounced)
        count = len(made)
        return Outcome(promo, f"Laid {count} spoken line{'s' * (count != 1)} in", tuple(made), frozenset(made))


def spoken_by_voices(promo: Promo) -> list[Item]:
    """The sounds that voices of the program spoke, in the order in which they are heard."""
    index = timeline(promo)
    found = [i for i in promo.items if i.content.lane == "sound" and i.media and promo.media[i.media].machine]
    return sorted(found, key=lambda item: index.item_span(item).start)


def _there(promo: Promo, track: str | None) -> bool:
    return any(one.id == track and not one.locked for one in promo.sounds)


Sentence = tuple[Annotated[int, Field(ge=0, lt=MOST_WORDS)], Annotated[int, Field(ge=0, lt=MOST_WORDS)]]


class RoughCut(Command):
    """Puts good stretches of a recording one after another, in their order: footage at the end of the main track, a
    sound on a sound track. `instead` takes what there is of it out first."""

    do: Literal["rough-cut"] = "rough-cut"
    media: MediaId
    stretches: Annotated[tuple[Sentence, ...], Field(min_length=1, max_length=500)]
    instead: bool = False

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        media = promo.media.get(self.media) or context.find(self.media)
        said = transcript_of(promo, media.id)
        if said is None:
            raise Refusal("no-words", "What is said there has not been written down.", "Have it written down first.")
        promo, notice = with_first_rate(promo, [media])
        promo = with_media(promo, media)
        spans = [_source_span(said, first, last, media.length) for first, last in self.stretches]
        old = {part.id for part in (*promo.clips, *promo.items) if part.media == media.id} if self.instead else set()
        made = _clips_of(promo, media, spans, old, context) if media.pictured else _sounds_of(
            promo, media, spans, old, context)  # fmt: skip
        count = len(spans)
        sentence = f"Put {count} stretch{'es' * (count != 1)} of {media.name} one after another"
        return Outcome(made[0], sentence, made[1], notice=notice)


def _source_span(said: Transcript, first: int, last: int, length: int) -> Range:
    """From when to when a stretch of words is cut out of its file, ticks: in the quiet around it, a little beyond."""
    if not first <= last < len(said.words):
        raise Missing("gone", "Those words are no longer there.", "Look at where things are now.")
    start = max(said.words[first].quiet, said.words[first].start - 200)
    after = said.words[last + 1].quiet if last + 1 < len(said.words) else said.words[last].end + 200
    end = min(after, said.words[last].end + 300)
    return min(start, said.words[first].start) * MILLISECOND, min(length, max(end, said.words[last].end) * MILLISECOND)


def _clips_of(
    promo: Promo, media: Media, spans: Sequence[Range], old: set[str], context: Context
) -> tuple[Promo, tuple[str, ...]]:
    rate = promo.rate
    fresh = []
    for start, end in spans:
        clip = clip_of(media, context.new_id("c"), rate)
        length = max(rate.frame, rate.frame_start(rate.frame_floor(end - start)))
        fresh.append(clip.changed(source=Source(media=media.id, at=start), length=length))
    runs = [(scene, [c for c in scene.clips if c.id not in old]) for scene in promo.scenes]
    bare = rebuild_scenes(promo, runs)
    made = insert_at(bare, fresh, len(bare.clips), context)
    return made, tuple(clip.id for clip in fresh)


def _sounds_of(
    promo: Promo, media: Media, spans: Sequence[Range], old: set[str], context: Context
) -> tuple[Promo, tuple[str, ...]]:
    index = timeline(promo)
    track = next((index.track_of[key].id for key in old if key in index.track_of), None)
    made = map_items(promo, lambda item: None if item.id in old else item)
    at = min((index.item_span(index.item[key]).start for key in old if key in index.item), default=0)
    fresh = []
    for start, end in spans:
        length = max(TICKS_PER_SAMPLE, (end - start) // TICKS_PER_SAMPLE * TICKS_PER_SAMPLE)
        begin = start // TICKS_PER_SAMPLE * TICKS_PER_SAMPLE
        item = Item(id=context.new_id("i"), kind="sound", anchor=Free(at=at), length=length,
                    source=Source(media=media.id, at=begin), values=first_values(media) | {"crosses": LAP})  # fmt: skip
        made = put_item(made, item, track, context.new_id)
        track = timeline(made).track_of[item.id].id
        fresh.append(item.id)
        at += length
    return made, tuple(fresh)
