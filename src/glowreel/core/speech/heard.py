"""Which words are heard in a promo as it is cut, and when: every part that sounds and whose file has a transcript.

```
file     so  um  dawn flights  over the valley
parts    [so]    [dawn flights]      at 2 s, at 2.4 s
heard    so      dawn flights        each with its time in the promo
```
A word belongs to the part in which its middle is heard. Where two voices are heard at once, what one of them says
without a pause stays together: words are in the order in which such phrases begin. What is worked out of a part is kept
as long as part and transcript are the same, so that an edit works out anew only what it changed.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from glowreel.core.document import Part, Promo
from glowreel.core.remembered import Remembered
from glowreel.core.source import Source
from glowreel.core.speaking import HEARD_FROM
from glowreel.core.speech.transcript import MILLISECOND, Transcript, Word
from glowreel.core.timeline import timeline


@dataclass(frozen=True, slots=True)
class Heard:
    """A word as it is heard: in which part, of which file, its number in the transcript, and from when to when in the
    promo (ticks)."""

    part: str
    media: str
    number: int
    word: Word
    start: int
    end: int

    @property
    def key(self) -> str:
        """Names it in a promo: a part and a word of its file."""
        return f"{self.part}:{self.number}"


PHRASE = 600 * MILLISECOND
"""A pause after which another phrase begins."""
Local = tuple[tuple[int, int, int], ...]
"""Numbers of words, each with its start and end in ticks after the start of a part."""
_local: Remembered[Local] = Remembered(4000)
_heard: Remembered[tuple[Heard, ...]] = Remembered(64)


def transcript_of(promo: Promo, media: str, language: str = "") -> Transcript | None:
    """What is said in a file: in a language, or as it is spoken."""
    for one in promo.transcripts:
        if one.media == media and (one.language == language if language else one.spoken):
            return one
    return None


def languages(promo: Promo) -> tuple[str, ...]:
    """Every language in which something is said or written, the spoken ones first."""
    order = sorted(promo.transcripts, key=lambda one: not one.spoken)
    return tuple(dict.fromkeys(one.language for one in order))


def heard(promo: Promo, language: str = "") -> tuple[Heard, ...]:
    """The words that are heard, in order; in a language, where something was written in it. Ticks."""
    if not promo.transcripts:
        return ()
    return _heard.of((promo,), (language,), lambda: tuple(_all_heard(promo, language)))


def voiced_parts(promo: Promo) -> list[tuple[Part, int, int]]:
    """Every part that may be heard to speak: with its start and how long it is heard, ticks."""
    index = timeline(promo)
    alone = any(track.solo for track in promo.sounds)
    found: list[tuple[Part, int, int]] = []
    for clip in promo.clips if not alone else ():
        span = index.clip_span[clip.id]
        found += [(part, span.start, span.length) for part in clip.inner or (clip,)]
    for track in promo.sounds:
        if not track.muted and (track.solo or not alone):
            for item in track.items:
                span = index.heard_span(item)
                found.append((item, span.start, span.length))
    return [one for one in found if _sounds(promo, one[0])]


def _sounds(promo: Promo, part: Part) -> bool:
    media = promo.media.get(part.media or "")
    if media is None or not media.sounding or part.source is None or part.source.held or part.source.runs != "once":
        return False
    gain = part.set_to("gain")
    return not part.read("muted") and not (isinstance(gain, float | int) and gain < HEARD_FROM)


def _all_heard(promo: Promo, language: str) -> Iterable[Heard]:
    by_media: dict[str, Transcript] = {}
    for one in promo.transcripts:
        if one.language == language if language else one.spoken:
            by_media[one.media] = one
    found: list[tuple[int, Heard]] = []
    for part, start, length in voiced_parts(promo):
        said = by_media.get(part.media or "")
        if said is None:
            continue
        local = _local.of((part, said), (length,), lambda: _within(part, said, length))  # noqa: B023
        phrase, last = start, None
        for number, begin, end in local:
            if last is None or begin - last > PHRASE:
                phrase = start + begin
            last = end
            found.append((phrase, Heard(part.id, said.media, number, said.words[number], start + begin, start + end)))
    return [one for _, one in sorted(found, key=lambda told: (told[0], told[1].part, told[1].start, told[1].number))]


def _within(part: Part, said: Transcript, length: int) -> Local:
    source = part.source
    if source is None or (source.speed is not None and source.speed.backwards):
        return ()
    first, last = source.exact(part.into), source.exact(part.into + length)
    found = []
    for number, word in enumerate(said.words):
        if not first <= word.middle < last:
            continue
        start = moment_of(source, part.into, length, word.start * MILLISECOND)
        end = moment_of(source, part.into, length, word.end * MILLISECOND)
        found.append((number, start, max(start + 1, end)))
    return tuple(found)


def moment_of(source: Source, into: int, length: int, at: int) -> int:
    """Ticks after the start of a part at which a tick of its file is heard; held inside the part. Its speed may change,
    but it runs forwards."""
    if source.speed is None:
        return max(0, min(length, at - source.at - into))
    low, high = 0, length
    while low < high:
        middle = (low + high) // 2
        low, high = (middle + 1, high) if source.exact(into + middle) < at else (low, middle)
    return low


@dataclass(frozen=True, slots=True)
class Silent:
    """Words of a file that were cut out between two parts that are heard one after the other: which part is before and
    behind, and the first and last number."""

    before: str
    behind: str
    media: str
    first: int
    last: int


def silent(promo: Promo) -> tuple[Silent, ...]:
    """What was cut out of recordings: words between pieces that follow one another in promo and file alike."""
    index, found = timeline(promo), []
    last: dict[str, Heard] = {}
    for other in heard(promo):
        one = last.get(other.media)
        last[other.media] = other
        # The cells of a collage are cut together.
        if one is None or one.part == other.part or (one.part not in index.clip and one.part not in index.item):
            continue
        if other.number > one.number + 1:
            found.append(Silent(one.part, other.part, one.media, one.number + 1, other.number - 1))
    return tuple(found)
