"""What the transcript and the list of captions show."""

from __future__ import annotations

from dataclasses import dataclass, field
from itertools import pairwise

from glowreel.core.captions.model import Captions
from glowreel.core.captions.shown import Shown, cues, lines, texts
from glowreel.core.document import Promo
from glowreel.core.speech.fillers import KINDS, heard_slips, pauses
from glowreel.core.speech.heard import Heard, heard, silent, transcript_of
from glowreel.core.speech.transcript import UNSURE, joined
from glowreel.core.time import TICKS_PER_SECOND

NEW_PARAGRAPH = 1.2
"""Seconds of silence after which a paragraph begins."""


@dataclass
class Told:
    """A word of the transcript as the page shows it; `gone` words were cut out, and come back by a press."""

    text: str
    key: str = ""
    media: str = ""
    number: int = 0
    start: float = 0.0
    end: float = 0.0
    unsure: bool = False
    slip: str = ""
    gone: bool = False
    before: str = ""
    behind: str = ""


@dataclass
class Paragraph:
    """Words that are said without a long silence, by one voice."""

    words: list[Told] = field(default_factory=list)
    start: float = 0.0
    speaker: int = 0
    language: str = "en"


@dataclass(frozen=True)
class Listed:
    """Something that could go, to be ticked: the words by their keys, what stands around them, and how long it is."""

    kind: str
    keys: tuple[str, ...]
    before: str
    said: str
    behind: str
    at: float
    lasts: float


def _seconds(at: int) -> float:
    return round(at / TICKS_PER_SECOND, 3)


def paragraphs(promo: Promo) -> list[Paragraph]:
    """The promo as it is said, with what was cut out of it in its place."""
    words = heard(promo)
    slips = {one.key: kind for kind, few in heard_slips(words, promo.transcripts) for one in few}
    gaps = {(gap.before, gap.behind): gap for gap in silent(promo)}
    made: list[Paragraph] = []
    last: Heard | None = None
    of_media: dict[str, Heard] = {}
    for one in words:
        fresh = last is None or (one.start - last.end) > NEW_PARAGRAPH * TICKS_PER_SECOND
        if fresh or last is None or one.word.speaker != last.word.speaker or one.media != last.media:
            said = transcript_of(promo, one.media)
            language = said.language if said is not None else "en"
            made.append(Paragraph(start=_seconds(one.start), speaker=one.word.speaker, language=language))
        same = of_media.get(one.media)
        gap = gaps.get((same.part, one.part)) if same is not None else None
        if gap is not None:
            made[-1].words.append(_gone(promo, gap.media, gap.first, gap.last, gap.before, gap.behind))
        made[-1].words.append(Told(
            one.word.text, one.key, one.media, one.number, _seconds(one.start), _seconds(one.end),
            one.word.sure < UNSURE, slips.get(one.key, ""),
        ))  # fmt: skip
        last = of_media[one.media] = one
    return made


def _gone(promo: Promo, media: str, first: int, last: int, before: str, behind: str) -> Told:
    said = transcript_of(promo, media)
    text = joined(said.words[first : last + 1]) if said is not None else ""
    return Told(text if len(text) < 80 else f"{text[:40]} … {text[-30:]}", gone=True, before=before, behind=behind)


def listed(promo: Promo) -> tuple[list[Listed], list[Listed]]:
    """What could go: fillers and slips, and pauses that are too long."""
    words = heard(promo)
    place = {one.key: n for n, one in enumerate(words)}
    found = []
    for kind, few in heard_slips(words, promo.transcripts):
        first, last = place[few[0].key], place[few[-1].key]
        before, behind = words[max(0, first - 3) : first], words[last + 1 : last + 4]
        found.append(Listed(
            KINDS[kind], tuple(one.key for one in few), joined(one.word for one in before),
            joined(one.word for one in few), joined(one.word for one in behind), _seconds(few[0].start),
            _seconds(few[-1].end - few[0].start),
        ))  # fmt: skip
    long = [
        Listed("Pause", (one.after.key,), one.after.word.text, "…", one.before.word.text, _seconds(one.after.end),
               _seconds(one.length))
        for one in pauses(words)
    ]  # fmt: skip
    return found, long


@dataclass(frozen=True)
class Sentence:
    """A sentence of a whole recording: its first and last word, when it is said in it, and how long it is."""

    first: int
    last: int
    text: str
    at: float
    lasts: float
    used: bool


def sentences(promo: Promo, media: str) -> list[Sentence]:
    """A recording in sentences, whether they are heard in the promo or not."""
    said = transcript_of(promo, media)
    if said is None or not said.words:
        return []
    used = {one.number for one in heard(promo) if one.media == media}
    edges = [0]
    for number, (one, other) in enumerate(pairwise(said.words), 1):
        ended = one.text.endswith((".", "!", "?", "…")) or other.start - one.end > 900
        if (ended and number - edges[-1] >= 2) or number - edges[-1] >= 40:
            edges.append(number)
    made = []
    for first, behind in pairwise([*edges, len(said.words)]):
        few = said.words[first:behind]
        lasts = round((few[-1].end - few[0].start) / 1000, 1)
        made.append(Sentence(first, behind - 1, joined(few), few[0].start / 1000, lasts, first in used))
    return made


@dataclass(frozen=True)
class Line:
    """A cue in the list: its name, when it is shown, what it says, the words it is made of, and what a check would say
    of it."""

    name: str
    start: float
    end: float
    text: str
    media: str
    numbers: tuple[int, ...]
    own: bool
    unsure: bool
    letters_a_second: float
    low: int
    high: int


def caption_lines(promo: Promo, lane: Captions, formats: tuple[str, ...] = ()) -> list[Line]:
    """The cues of a lane, as the list shows them."""
    shapes = [one for one in promo.formats if not formats or one.id in formats] or list(promo.formats)
    return [_line(cue, lane, "\n".join(" ".join(texts(cue)[a:b]) for a, b in lines(cue, shapes)))
            for cue in cues(promo, lane)]  # fmt: skip


def _line(cue: Shown, lane: Captions, text: str) -> Line:
    words = cue.words
    lasts = (cue.end - cue.start) / TICKS_PER_SECOND
    return Line(
        cue.name, _seconds(cue.start), _seconds(cue.end), text, words[0].media if words else "",
        tuple(one.number for one in words), bool(cue.key), cue.unsure, round(len(cue.said) / max(lasts, 0.01), 1),
        words[0].word.start if words else 0, max((one.word.end for one in words), default=0),
    )  # fmt: skip
