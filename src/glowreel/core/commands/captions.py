"""Captions: lanes, and what stands in them.

```
AddCaptions     the words that are heard, in a language      →  a lane of cues
SetCaptions     its design, letters, place; what is shown    of one format or all
TakeCues        cues of a file at times of the promo         →  words of the voices under them, or cues of their own
TypeWords       "Dawn flights …" for a voice                 →  its words, at the times at which they are said
TimeWords       a cue earlier, later, longer                 of the file, wherever it is heard
ReplaceInWords  "hollow mere" by "Hollowmere"                in every file of a language
PlaceCaptions   higher for a stretch                         and back again
SayCue          another text for a cue                       of the words, or its own
AddCue, SetCue, RemoveCue     what holds to no voice
RemoveCaptions  the lane goes; what was written down stays
```
"""

from __future__ import annotations

from collections.abc import Sequence
from difflib import SequenceMatcher
from typing import Annotated, Any, Literal

from pydantic import Field

from glowreel.core.captions.designs import CAPTION_DESIGNS
from glowreel.core.captions.model import CUE_LETTERS, MOST_CUES, Captions, Cue, Stretch
from glowreel.core.captions.shown import Shown, cues, find_lane, hidden
from glowreel.core.commands.base import Command, Context, Outcome, in_seconds
from glowreel.core.commands.roles import FormatId, MediaId, Target
from glowreel.core.commands.transcript import with_transcript
from glowreel.core.document import Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.recipe.picture import find_format
from glowreel.core.speech.aligning import aligned, laid_on
from glowreel.core.speech.heard import transcript_of, voiced_parts
from glowreel.core.speech.transcript import (
    MILLISECOND,
    MOST_WORDS,
    Language,
    Transcript,
    Word,
    in_words,
    plain,
    replaced,
    spread,
)
from glowreel.core.time import MAX_TICKS, Length, Ticks
from glowreel.core.timeline import timeline

LEAST_WORD = 60
"""Milliseconds that a word written between two others takes at least."""
Milliseconds = Annotated[int, Field(ge=0, le=7_200_000)]


def with_lane(promo: Promo, lane: Captions) -> Promo:
    """The promo with a lane in the place of the one of that name; only one is on show."""
    lanes = tuple(lane if one.id == lane.id else one for one in promo.captions)
    if lane.shown:
        lanes = tuple(one.changed(shown=False) if one.id != lane.id and one.shown else one for one in lanes)
    return promo.changed(captions=lanes)


def new_lane(promo: Promo, language: str, design: str, context: Context, **more: Any) -> tuple[Promo, Captions]:
    """The promo with another lane, which is on show; in the manner of the lanes that there are."""
    like = promo.captions[0] if promo.captions else None
    lane = Captions(
        id=context.new_id("k"), language=language, design=design or (like.design if like else "plain-box"),
        values=like.values if like else {}, values_in=like.values_in if like else {}, **more,
    )  # fmt: skip
    return with_lane(promo.changed(captions=(*promo.captions, lane)), lane), lane


class AddCaptions(Command):
    """Shows what is said as captions: in the language in which it is spoken, or in another one in which it was written
    down."""

    do: Literal["add-captions"] = "add-captions"
    language: Language | None = None
    design: str = Field(default="", max_length=40)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        spoken = [one.language for one in promo.transcripts if one.spoken]
        language = self.language or next(iter(spoken), "")
        if not any(one.language == language for one in promo.transcripts):
            raise Refusal("no-words", "Nothing has been written down of what is said here.", "Have it written down, or"
                          " bring in a file of captions.")  # fmt: skip
        if any(lane.language == language for lane in promo.captions):
            raise Refusal("there", "There are captions in that language already.")
        made, lane = new_lane(promo, language, self.design, context)
        return Outcome(made, f"Made captions in the design “{CAPTION_DESIGNS[lane.design].label}”", (lane.id,))


class SetCaptions(Command):
    """How captions look and what is shown of them; what is left out stays. `values` hold for all formats, or for one;
    a value of null follows the design again."""

    do: Literal["set-captions"] = "set-captions"
    lane: Target
    design: str | None = Field(default=None, max_length=40)
    values: dict[str, Any] = {}
    format: FormatId | None = None
    shown: bool | None = None
    keys: bool | None = None
    emoji: bool | None = None
    hide_fillers: bool | None = None
    late: int | None = Field(default=None, ge=-10_000, le=10_000)
    name: str | None = Field(default=None, max_length=60)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        lane = find_lane(promo, self.lane)
        changes: dict[str, Any] = {
            name: value
            for name in ("design", "shown", "keys", "emoji", "hide_fillers", "late", "name")
            if (value := getattr(self, name)) is not None
        }
        if self.values and self.format is not None:
            own = _merged(lane.values_in.get(find_format(promo, self.format).id, {}), self.values)
            changes["values_in"] = {**lane.values_in, self.format: own}
        elif self.values:
            changes["values"] = _merged(lane.values, self.values)
        if not changes:
            raise Refusal("nothing", "Nothing was said of the captions.")
        return Outcome(with_lane(promo, lane.changed(**changes)), self._said(changes), (lane.id,))

    def _said(self, changes: dict[str, Any]) -> str:
        if "design" in changes:
            return f"Gave captions the design “{CAPTION_DESIGNS[changes['design']].label}”"
        if "shown" in changes:
            return "Shows captions" if changes["shown"] else "Hides captions"
        if "late" in changes:
            return f"Shows captions {abs(changes['late'])} ms {'later' if changes['late'] >= 0 else 'earlier'}"
        return "Set how captions look" + (" in one format" if self.format else "")

    def typing(self) -> str | None:
        return f"captions {self.lane} {sorted(self.values)}" if self.values else None


def _merged(old: dict[str, Any], new: dict[str, Any]) -> dict[str, Any]:
    return {name: value for name, value in {**old, **new}.items() if value is not None}


class RemoveCaptions(Command):
    """Takes a lane of captions away. What was written down stays."""

    do: Literal["remove-captions"] = "remove-captions"
    lane: Target

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        lane = find_lane(promo, self.lane)
        rest = tuple(one for one in promo.captions if one.id != lane.id)
        made = promo.changed(captions=rest)
        if lane.shown and rest:
            made = with_lane(made, rest[0].changed(shown=True))
        return Outcome(made, "Removed captions")


FileCue = tuple[Ticks, Ticks, Annotated[str, Field(min_length=1, max_length=CUE_LETTERS)]]


class TakeCues(Command):
    """Puts cues of a file into the promo, at times of it: as words of the voices that are heard under them, so that
    they follow every edit, or, where nobody speaks, as cues of their own."""

    do: Literal["take-cues"] = "take-cues"
    language: Language
    cues: Annotated[tuple[FileCue, ...], Field(min_length=1, max_length=MOST_CUES)]
    name: str = Field(default="", max_length=60)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        taken: dict[str, list[tuple[int, int, str]]] = {}
        own: list[Cue] = []
        index = timeline(promo)
        for start, end, text in sorted(self.cues):
            if start >= index.length or end <= start:
                continue
            under = _voice_under(promo, start, end)
            if under is None:
                own.append(Cue(id=context.new_id("q"), anchor=index.tie_under(start), length=end - start, text=text))
            else:
                media, first, last = under
                taken.setdefault(media, []).append((first, last, text))
        if not taken and not own:
            raise Refusal("no-cues", "All of these captions come after the end of the promo.")
        for media, held in taken.items():
            promo = with_transcript(promo, _from_cues(promo, media, self.language, held))
        lane = next((one for one in promo.captions if one.language == self.language), None)
        if lane is None:
            promo, lane = new_lane(promo, self.language, "", context, name=self.name)
        promo = with_lane(promo, lane.changed(cues=(*lane.cues, *own)))
        count = sum(map(len, taken.values())) + len(own)
        return Outcome(promo, f"Took in {count} caption{'s' * (count != 1)}", (lane.id,))


def _voice_under(promo: Promo, start: int, end: int) -> tuple[str, int, int] | None:
    """The file of a voice that is heard for most of a stretch of the promo, and when in it that is (milliseconds)."""
    best: tuple[int, str, int, int] | None = None
    for part, at, length in voiced_parts(promo):
        media, source = promo.media[part.media or ""], part.source
        spoken = transcript_of(promo, media.id) is not None or bool(media.speech)
        common = min(end, at + length) - max(start, at)
        if source is None or not spoken or 2 * common < end - start:
            continue
        first, last = (source.exact(part.into + moment - at) for moment in (max(start, at), min(end, at + length)))
        if best is None or common > best[0]:
            best = common, media.id, int(first) // MILLISECOND, -(-int(last) // MILLISECOND)
    return best[1:] if best is not None else None


def _from_cues(promo: Promo, media: str, language: str, held: Sequence[tuple[int, int, str]]) -> Transcript:
    """A transcript from cues of a file. In the language that is spoken there, words keep the times at which they were
    heard; else they share the time of their cue."""
    old = transcript_of(promo, media, language)
    words: list[Word] = []
    for first, last, text in sorted(held):
        said = in_words(text)
        if not said:
            continue
        begin = max(first, words[-1].start + 1 if words else 0)
        fresh = spread(said, begin, max(last, begin + 20 * len(said)))
        words += [fresh[0].marked("cue"), *fresh[1:]]
    made = tuple(words[:MOST_WORDS])
    if old is not None and old.spoken:
        timed = aligned(" ".join(word.text for word in made), old.words)
        if len(timed) == len(made):
            made = tuple(new._replace(marks=was.marks) for new, was in zip(timed, made, strict=True))
        return old.changed(words=made, made="typed")
    return Transcript(media=media, language=language, spoken=False, made="typed", words=made)


class TypeWords(Command):
    """Says what is said in a file, or what is to be shown for it in another language: laid on the words that were
    heard there, or on when somebody speaks."""

    do: Literal["type-words"] = "type-words"
    media: MediaId
    language: Language
    text: str = Field(min_length=1, max_length=200_000)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        media = promo.media.get(self.media) or context.find(self.media)
        spoken, same = transcript_of(promo, media.id), transcript_of(promo, media.id, self.language)
        if spoken is not None:
            words = aligned(self.text, spoken.words)
        else:
            words = laid_on(self.text, [(a * 10, b * 10) for a, b in media.speech or ()])
        if not words:
            raise Refusal("no-speech", f"Nobody was heard to speak in {media.name}.", "Choose a recording of a voice.")
        is_spoken = same.spoken if same is not None else spoken is None
        made = Transcript(media=media.id, language=self.language, spoken=is_spoken, made="typed", words=words)
        return Outcome(with_transcript(promo, made), f"Typed what is said in {media.name}")


class TimeWords(Command):
    """Gives words of a transcript that follow one another other times, from a first to a last moment (milliseconds of
    the file): each keeps its share."""

    do: Literal["time-words"] = "time-words"
    media: MediaId
    language: Language
    first: int = Field(ge=0, lt=MOST_WORDS)
    count: int = Field(ge=1, le=200)
    start: Milliseconds
    end: Milliseconds

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        old = transcript_of(promo, self.media, self.language)
        if old is None or self.first + self.count > len(old.words):
            raise Missing("gone", "Those words are no longer there.", "Look at where things are now.")
        words = list(old.words)
        chosen = words[self.first : self.first + self.count]
        low = words[self.first - 1].start + 1 if self.first else 0
        high = words[self.first + self.count].start if self.first + self.count < len(words) else 7_200_000
        start, end = max(self.start, low), self.end
        if end - start < 20 * self.count or start >= high:
            raise Refusal("too-short", "There is no room for these words there.", "Move the cue beside it first.")
        was, lasts = chosen[0].start, max(1, max(word.end for word in chosen) - chosen[0].start)

        def at(moment: int) -> int:
            return start + (moment - was) * (end - start) // lasts

        for place, word in enumerate(chosen):
            begin = min(at(word.start), high - 1 if high else at(word.start))
            words[self.first + place] = word._replace(start=begin, end=max(begin + 10, at(word.end)), quiet=begin)
        made = with_transcript(promo, old.changed(words=tuple(words)))
        return Outcome(made, f"Timed “{chosen[0].text}”")


class ReplaceInWords(Command):
    """Says something otherwise wherever it stands in the words of a language."""

    do: Literal["replace-in-words"] = "replace-in-words"
    language: Language
    find: str = Field(min_length=1, max_length=200)
    by: str = Field(default="", max_length=200)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        wanted = [plain(word) for word in in_words(self.find)]
        if not any(wanted):
            raise Refusal("nothing", "There is nothing to look for.", "Type a word.")
        count = 0
        for old in promo.transcripts:
            if old.language != self.language:
                continue
            words, at = old.words, 0
            while at + len(wanted) <= len(words):
                if [plain(word.text) for word in words[at : at + len(wanted)]] == wanted:
                    tail = _after(words[at + len(wanted) - 1].text)
                    fresh = in_words(self.by)
                    words = replaced(words, at, len(wanted), self.by + (tail if fresh else ""))
                    at += max(1, len(fresh))
                    count += 1
                else:
                    at += 1
            promo = with_transcript(promo, old.changed(words=words)) if words is not old.words else promo
        if not count:
            raise Refusal("not-found", f"“{self.find}” does not stand in these captions.")
        return Outcome(promo, f"Replaced “{self.find}” by “{self.by}”, {count} time{'s' * (count != 1)}")


def _after(text: str) -> str:
    """The punctuation behind a word."""
    bare = text.rstrip(".,;:!?…")
    return text[len(bare) :]


class SayCue(Command):
    """Says a cue otherwise, named by its first word as it is heard or by its own name: what is the same keeps its
    time. A new line in the text begins a line of the cue."""

    do: Literal["say-cue"] = "say-cue"
    lane: Target
    cue: Annotated[str, Field(max_length=90)]
    text: str = Field(max_length=CUE_LETTERS)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        lane = find_lane(promo, self.lane)
        cue = next((one for one in cues(promo, lane) if one.name == self.cue), None)
        if cue is None:
            raise Missing("gone", "That cue is no longer there.", "Reload to see where things are now.")
        text = "\n".join(line.strip() for line in self.text.split("\n") if line.strip())
        if cue.key:
            if not text:
                return RemoveCue(lane=lane.id, cue=cue.key).carry_out(promo, context)
            return SetCue(lane=lane.id, cue=cue.key, text=text).carry_out(promo, context)
        made = with_transcript(promo, _said_anew(promo, lane, cue, text))
        return Outcome(made, f"Corrected a cue to “{text[:40]}”" if text else f"Left out “{cue.said[:40]}”")

    def typing(self) -> str | None:
        return f"cue {self.lane} {self.cue}"


def _said_anew(promo: Promo, lane: Captions, cue: Shown, text: str) -> Transcript:
    """The transcript of a cue's file with the words of the cue said otherwise."""
    old = transcript_of(promo, cue.words[0].media, lane.language)
    assert old is not None
    fresh = in_words(text)
    numbers = [one.number for one in cue.words if one.media == old.media]
    was = [old.words[number] for number in numbers]
    matcher = SequenceMatcher(None, [word.text for word in was], fresh, autojunk=False)
    words = old.words
    for kind, first, last, begin, end in reversed(matcher.get_opcodes()):
        if kind == "equal":
            continue
        if last > first:
            count = numbers[last - 1] - numbers[first] + 1
            words = replaced(words, numbers[first], count, " ".join(fresh[begin:end]))
        else:
            low = words[numbers[first] - 1].end if first < len(numbers) and numbers[first] else -1
            high = words[numbers[first]].start if first < len(numbers) else -1
            if 0 <= low <= high - LEAST_WORD * (end - begin):
                words = (*words[: numbers[first]], *spread(fresh[begin:end], low, high), *words[numbers[first] :])
                continue
            # Beside a word that stays: both are said in its time.
            beside = min(first, len(numbers) - 1)
            said = [*fresh[begin:end], was[beside].text] if first < len(numbers) else [was[-1].text, *fresh[begin:end]]
            words = replaced(words, numbers[beside], 1, " ".join(said))
    starts = [len(in_words(" ".join(text.split("\n")[:n]))) for n in range(1, text.count("\n") + 1)]
    made = list(words)
    shown = (at for at in range(numbers[0], len(made)) if not hidden(lane, made[at]))
    for place, at in zip(range(len(fresh)), shown, strict=False):
        made[at] = made[at].marked("line", place in starts)
    return old.changed(words=tuple(made))


class PlaceCaptions(Command):
    """Puts captions at another height for a stretch of a file's words; without a height they are where they were."""

    do: Literal["place-captions"] = "place-captions"
    lane: Target
    media: MediaId
    first: int = Field(ge=0, lt=MOST_WORDS)
    last: int = Field(ge=0, lt=MOST_WORDS)
    height: float | None = Field(default=None, ge=0, le=1)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        lane = find_lane(promo, self.lane)
        first, last = min(self.first, self.last), max(self.first, self.last)
        kept = tuple(s for s in lane.stretches if s.media != self.media or s.last < first or s.first > last)
        if self.height is not None:
            kept = (*kept, Stretch(media=self.media, first=first, last=last, height=self.height))
        said = "Moved captions for a stretch" if self.height is not None else "Put captions back where they were"
        return Outcome(with_lane(promo, lane.changed(stretches=kept)), said, (lane.id,))


class AddCue(Command):
    """Puts a cue of its own into a lane; it holds to what is on show there."""

    do: Literal["add-cue"] = "add-cue"
    lane: Target
    at: Ticks
    length: Length
    text: str = Field(min_length=1, max_length=CUE_LETTERS)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        lane = find_lane(promo, self.lane)
        anchor = timeline(promo).tie_under(self.at)
        cue = Cue(id=context.new_id("q"), anchor=anchor, length=self.length, text=self.text)
        return Outcome(with_lane(promo, lane.changed(cues=(*lane.cues, cue))), f"Added the cue “{self.text[:40]}”",
                       (cue.id,))  # fmt: skip


class SetCue(Command):
    """Changes a cue of its own: what it says, when it comes, how long it stays."""

    do: Literal["set-cue"] = "set-cue"
    lane: Target
    cue: Target
    text: str | None = Field(default=None, min_length=1, max_length=CUE_LETTERS)
    at: Ticks | None = None
    length: Length | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        lane = find_lane(promo, self.lane)
        cue = _cue(lane, self.cue)
        changes: dict[str, Any] = {name: value for name in ("text", "length")
                                   if (value := getattr(self, name)) is not None}  # fmt: skip
        if self.at is not None:
            changes["anchor"] = timeline(promo).tie_under(min(self.at, MAX_TICKS))
        made = cue.changed(**changes)
        lane = lane.changed(cues=tuple(made if one.id == cue.id else one for one in lane.cues))
        return Outcome(with_lane(promo, lane), f"Changed the cue “{made.text[:40]}”, {in_seconds(made.length)}")


class RemoveCue(Command):
    """Takes a cue of its own out of a lane."""

    do: Literal["remove-cue"] = "remove-cue"
    lane: Target
    cue: Target

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        lane = find_lane(promo, self.lane)
        cue = _cue(lane, self.cue)
        lane = lane.changed(cues=tuple(one for one in lane.cues if one.id != cue.id))
        return Outcome(with_lane(promo, lane), f"Removed the cue “{cue.text[:40]}”")


def _cue(lane: Captions, key: str) -> Cue:
    found = next((cue for cue in lane.cues if cue.id == key), None)
    if found is None:
        raise Missing("gone", "That cue is no longer there.", "Reload to see where things are now.")
    return found
