"""The cues of a promo: made from the words that are heard, and from what stands in a lane by itself.

```
heard    |hello|and| .. |this is the view|
cues     |hello and        |this is the view   |      gaps closed, each long enough to be read where there is room
```
They are worked out from the promo alone, so that they follow every edit.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from glowreel.core.captions import rules
from glowreel.core.captions.model import Captions
from glowreel.core.document import Promo
from glowreel.core.errors import Missing
from glowreel.core.formats import Format
from glowreel.core.remembered import Remembered
from glowreel.core.speech.fillers import fillers_of
from glowreel.core.speech.heard import Heard, heard
from glowreel.core.speech.transcript import MILLISECOND, UNSURE, Word, plain
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.core.timeline import timeline


@dataclass(frozen=True, slots=True)
class Shown:
    """A cue as it is shown, from when to when (ticks): of words that are heard, or, with a `key`, one of its own."""

    start: int
    end: int
    words: tuple[Heard, ...]
    key: str = ""
    text: str = ""

    @property
    def said(self) -> str:
        """What it says, in one line."""
        return self.text or " ".join(one.word.text for one in self.words)

    @property
    def name(self) -> str:
        """Names it among the cues of its lane: by its first word, or its own name."""
        return self.key or self.words[0].key

    @property
    def unsure(self) -> bool:
        return any(one.word.sure < UNSURE for one in self.words)


_shown: Remembered[tuple[Shown, ...]] = Remembered(64)


def lane_on_show(promo: Promo) -> Captions | None:
    """The lane that is drawn: the first of those that are shown."""
    return next((lane for lane in promo.captions if lane.shown), None)


def find_lane(promo: Promo, key: str) -> Captions:
    found = next((lane for lane in promo.captions if lane.id == key), None)
    if found is None:
        raise Missing("gone", "Those captions are no longer in the promo.", "Reload to see where things are now.")
    return found


def cues(promo: Promo, lane: Captions) -> tuple[Shown, ...]:
    """The cues of a lane in order, in ticks of the promo."""
    return _shown.of((promo, lane), (), lambda: tuple(_cues(promo, lane)))


def hidden(lane: Captions, word: Word) -> bool:
    """Whether a lane leaves a word out: by hand, or because it says nothing."""
    return "hidden" in word.marks or (lane.hide_fillers and plain(word.text) in fillers_of(lane.language))


def spoken_for(promo: Promo, lane: Captions) -> list[Heard]:
    """The words that a lane shows, in order."""
    return [one for one in heard(promo, lane.language) if not hidden(lane, one.word)]


def _cues(promo: Promo, lane: Captions) -> list[Shown]:
    words = spoken_for(promo, lane)
    late = lane.late * MILLISECOND
    spoken = [rules.Spoken(w.word.text, w.start, w.end, w.word.marks, f"{w.media} {w.word.speaker}") for w in words]
    letters = rules.line_letters(promo.formats)
    made = [
        Shown(words[a].start + late, max(word.end for word in words[a:b]) + late, tuple(words[a:b]))
        for a, b in rules.cues_of(spoken, letters, TICKS_PER_SECOND)
    ]
    index = timeline(promo)
    for cue in lane.cues:
        start = index.start_of(cue.anchor)
        if start < index.length:
            made.append(Shown(start, min(index.length, start + cue.length), (), cue.id, cue.text))
    return _timed(sorted(made, key=lambda cue: (cue.start, cue.end)), index.length)


def _timed(cues: Sequence[Shown], length: int) -> list[Shown]:
    """Cues that stay long enough to be read where there is room, with short gaps closed; none over another."""
    made: list[Shown] = []
    for place, cue in enumerate(cues):
        follows = cues[place + 1].start if place + 1 < len(cues) else max(length, cue.end)
        start = max(0, cue.start)
        wanted = max(rules.LEAST_SECONDS, len(cue.said) / rules.MOST_LETTERS_A_SECOND)
        least = start + round(wanted * TICKS_PER_SECOND)
        # What holds to no voice lasts as long as was said.
        end = cue.end if cue.key else max(cue.end, min(least, cue.end + round(rules.LINGER_SECONDS * TICKS_PER_SECOND)))
        if 0 < follows - end < rules.CLOSED_SECONDS * TICKS_PER_SECOND and not cue.key:
            end = follows
        end = min(end, max(follows, start + 1))
        if length:
            end = min(end, max(length, start + 1))
        made.append(Shown(start, end, cue.words, cue.key, cue.text))
    return made


def cue_at(promo: Promo, lane: Captions, at: int) -> Shown | None:
    """The cue on show at a time."""
    found = cues(promo, lane)
    low, high = 0, len(found)
    while low < high:
        middle = (low + high) // 2
        low, high = (middle + 1, high) if found[middle].start <= at else (low, middle)
    return found[low - 1] if low and found[low - 1].start <= at < found[low - 1].end else None


def texts(cue: Shown) -> list[str]:
    """What a cue says, word by word."""
    return [one.word.text for one in cue.words] if cue.words else cue.text.split()


def lines(cue: Shown, formats: Sequence[Format]) -> list[tuple[int, int]]:
    """The words of a cue in lines, for a format or for all of some."""
    if not cue.words and "\n" in cue.text:
        made, at = [], 0
        for line in cue.text.split("\n"):
            count = len(line.split())
            made += [(at, at + count)] if count else []
            at += count
        return made
    forced = [place for place, one in enumerate(cue.words) if "line" in one.word.marks]
    return rules.lines_of(texts(cue), rules.line_letters(formats), forced)


def written(cue: Shown, formats: Sequence[Format]) -> str:
    """A cue as it is written in a file: its lines."""
    said = texts(cue)
    return "\n".join(" ".join(said[a:b]) for a, b in lines(cue, formats))
