"""Whether captions can be read: slow enough, long enough, of words that were surely heard."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise

from glowreel.core.captions.rules import LEAST_SECONDS, MOST_LETTERS_A_SECOND
from glowreel.core.captions.shown import Shown, cues, lane_on_show
from glowreel.core.checks.finding import Check, Cure, Finding, Sight
from glowreel.core.speech.transcript import MILLISECOND, UNSURE
from glowreel.core.time import TICKS_PER_SECOND

ROOM = 1.05
"""What is hardly too fast or too short is let pass."""
MOST_EARLIER = 700
"""Milliseconds by which a cue comes earlier at most, so that it is read in time."""


def _shown(sight: Sight) -> list[tuple[Shown | None, Shown]]:
    """The cues on show that hold to a voice, each with the one before it."""
    lane = lane_on_show(sight.promo)
    found = cues(sight.promo, lane) if lane is not None else ()
    return [(before, cue) for before, cue in pairwise((None, *found)) if cue is not None and cue.words]


def _lasts(cue: Shown) -> float:
    return (cue.end - cue.start) / TICKS_PER_SECOND


def fast(sight: Sight) -> Iterator[Finding]:
    lane = lane_on_show(sight.promo)
    for before, cue in _shown(sight):
        speed = len(cue.said) / max(_lasts(cue), 0.01)
        if speed <= MOST_LETTERS_A_SECOND * ROOM:
            continue
        cures = []
        gap = (cue.start - (before.end if before is not None else 0)) // MILLISECOND
        words, first = cue.words, cue.words[0].word.start
        by = min(MOST_EARLIER, gap, first)
        if by > 60 and lane is not None:
            cures.append(Cure("Let it come earlier", {
                "do": "time-words", "media": words[0].media, "language": lane.language, "first": words[0].number,
                "count": words[-1].number - words[0].number + 1, "start": first - by,
                "end": max(one.word.end for one in words),
            }))  # fmt: skip
        yield Finding(
            "captions-fast", words[0].part,
            f"“{cue.said[:40]}” is on show at {speed:.0f} letters a second; up to {MOST_LETTERS_A_SECOND:.0f} are "
            "easy to read.", cue.start, cures=tuple(cures),
        )  # fmt: skip


def short(sight: Sight) -> Iterator[Finding]:
    lane = lane_on_show(sight.promo)
    for before, cue in _shown(sight):
        if _lasts(cue) * ROOM >= LEAST_SECONDS or lane is None:
            continue
        join = {"do": "mark-words", "media": cue.words[0].media, "language": lane.language,
                "numbers": [cue.words[0].number], "mark": "run"}  # fmt: skip
        cures = (Cure("Join it to the one before", join),) if before is not None and before.words else ()
        yield Finding(
            "captions-short", cue.words[0].part,
            f"“{cue.said[:40]}” is on show for {_lasts(cue):.1f} s; {LEAST_SECONDS:g} s is the least.", cue.start,
            cures=cures,
        )  # fmt: skip


def unsure(sight: Sight) -> Iterator[Finding]:
    lane = lane_on_show(sight.promo)
    for _, cue in _shown(sight):
        for one in cue.words:
            if one.word.sure >= UNSURE or lane is None:
                continue
            right = {"do": "correct-words", "media": one.media, "language": lane.language, "first": one.number,
                     "text": one.word.text}  # fmt: skip
            yield Finding(
                "captions-unsure", one.part, f"“{one.word.text}” was not heard surely: is that what is said?",
                one.start,
                cures=(Cure("That is right", right),),
            )  # fmt: skip
            break


CHECKS = (
    Check("captions-fast", "Captions slow enough", "no caption has more letters a second than are easily read", fast),
    Check("captions-short", "Captions long enough", "every caption is on show long enough to be seen", short),
    Check("captions-unsure", "Captions surely heard", "words of captions that were not heard surely", unsure),
)
