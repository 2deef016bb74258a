"""What could be left out of what is said: fillers, repeated words, false starts, and pauses that are too long.

Found by rule from the words and their times; what counts as a filler is a table by language. Everything is only
proposed: a person ticks what goes.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from glowreel.core.speech.heard import Heard
from glowreel.core.speech.transcript import MILLISECOND, Transcript, Word, plain, word_set

FILLERS: dict[str, frozenset[str]] = {
    "en": word_set("um umm uhm uh uhh er err erm eh hm hmm mm mmm mhm ah huh"),
    "de": word_set("äh ähm ähh öh öhm hm hmm mhm"),
    "fr": word_set("euh euhh heu hm hmm ben bah"),
    "es": word_set("eh ehh em emm este mm hm"),
    "it": word_set("ehm eh mm uhm beh"),
    "nl": word_set("eh ehm euh uh uhm hm"),
    "pt": word_set("é eh hum hm ahn"),
}
"""Sounds that say nothing, by language. Where a language has none here, those of all count."""
_ALL = frozenset().union(*FILLERS.values()) - {"este", "é", "ben"}
MEANT_TWICE = word_set("very really so no yes yeah bye ha now there that had long many much far again")
"""Words that are said twice on purpose."""
NEXT_TO = 900
"""Milliseconds within which a word is said again, where that is a slip."""
LONG_PAUSE, SHORT_PAUSE = 600, 250
"""A pause longer than this is long; it is made so short. Milliseconds."""
KINDS: dict[str, str] = {"filler": "Filler", "again": "Said again", "start": "False start"}


@dataclass(frozen=True, slots=True)
class Slip:
    """Words that could go: from the one numbered `first` to `last`, and why."""

    kind: str
    first: int
    last: int


def fillers_of(language: str) -> frozenset[str]:
    return FILLERS.get(language.split("-")[0], _ALL)


def slips(words: Sequence[Word], language: str) -> list[Slip]:
    """What of some words could go, in order and apart from one another."""
    known = fillers_of(language)
    bare = [plain(word.text) for word in words]
    found: list[Slip] = []
    at = 0
    while at < len(words):
        slip = _slip_at(words, bare, at, known)
        if slip is None:
            at += 1
            continue
        found.append(slip)
        at = slip.last + 1
    return found


def _slip_at(words: Sequence[Word], bare: Sequence[str], at: int, known: frozenset[str]) -> Slip | None:
    if bare[at] in known:
        return Slip("filler", at, at)
    if words[at].text.rstrip(".,").endswith(("-", "–", "—")) and at + 1 < len(words):
        return Slip("start", at, at)
    for size in (3, 2, 1):
        if at + 2 * size > len(words):
            continue
        first, again = bare[at : at + size], bare[at + size : at + 2 * size]
        close = words[at + size].start - words[at + size - 1].end < NEXT_TO
        # What ends a sentence and is said again is said on purpose.
        ended = any(word.text.endswith((".", "!", "?")) for word in words[at : at + size])
        if first == again and close and not ended and not (size == 1 and (first[0] in MEANT_TWICE or not first[0])):
            return Slip("again" if size == 1 else "start", at, at + size - 1)
    return None


@dataclass(frozen=True, slots=True)
class Pause:
    """A long pause in a promo: after which word, before which, and how long (ticks)."""

    after: Heard
    before: Heard

    @property
    def length(self) -> int:
        return self.before.start - self.after.end


def heard_slips(words: Sequence[Heard], transcripts: Sequence[Transcript]) -> list[tuple[str, tuple[Heard, ...]]]:
    """The same of what is heard in a promo: the kind of each, and its words."""
    languages = {one.media: one.language for one in transcripts if one.spoken}
    found = []
    for slip in slips([one.word for one in words], next(iter(languages.values()), "en")):
        found.append((slip.kind, tuple(words[slip.first : slip.last + 1])))
    return found


def pauses(words: Sequence[Heard], longer: int = LONG_PAUSE) -> list[Pause]:
    """Pauses longer than so many milliseconds within one recording as it is cut."""
    found, last = [], None
    for one in words:
        if last is not None and one.start - last.end > longer * MILLISECOND and one.media == last.media:
            found.append(Pause(last, one))
        if last is None or one.end > last.end:
            last = one
    return found
