"""A text laid on the words that were heard: what is the same keeps its time, what is not shares the room between."""

from __future__ import annotations

from collections.abc import Sequence
from difflib import SequenceMatcher

from glowreel.core.speech.transcript import LONGEST_WORD, Word, in_words, plain, spread

USUAL_WORD, SHORTEST_WORD = 350, 20
"""Milliseconds that a word lasts of which nothing is known, and at least."""
Spans = Sequence[tuple[int, int]]


def aligned(text: str, old: Sequence[Word]) -> tuple[Word, ...]:
    """The words of a text with the times of the words that were heard (milliseconds)."""
    fresh = in_words(text)
    if not old or not fresh:
        return ()
    matcher = SequenceMatcher(None, [plain(word.text) for word in old], [plain(one) for one in fresh], autojunk=False)
    made: list[Word] = []
    for kind, first, last, begin, end in matcher.get_opcodes():
        count = end - begin
        if kind == "equal":
            pairs = zip(old[first:last], fresh[begin:end], strict=True)
            made += [word._replace(text=said[:LONGEST_WORD], sure=100) for word, said in pairs]
        elif count and last > first:
            made += _room(fresh[begin:end], old[first].start, old[last - 1].end, old[first])
        elif count:
            # Between two that were heard; before the first and after the last as long as words usually are.
            low = old[first - 1].end if first else max(0, old[0].start - USUAL_WORD * count)
            high = old[first].start if first < len(old) else low + USUAL_WORD * count
            made += _room(fresh[begin:end], low, high, old[min(first, len(old) - 1)])
    return _in_order(made)


def _room(texts: Sequence[str], low: int, high: int, like: Word) -> list[Word]:
    made = spread(texts, low, max(high, low + SHORTEST_WORD * len(texts)))
    return [word._replace(speaker=like.speaker) for word in made]


def _in_order(words: list[Word]) -> tuple[Word, ...]:
    """The same with no word before the one in front of it."""
    made: list[Word] = []
    for word in words:
        start = max(word.start, made[-1].start if made else 0)
        made.append(word._replace(start=start, end=max(word.end, start + 10), quiet=min(max(word.quiet, 0), start)))
    return tuple(made)


def laid_on(text: str, speech: Spans) -> tuple[Word, ...]:
    """The words of a text over the stretches in which somebody speaks (milliseconds), as long as their letters; a
    stretch takes whole words."""
    fresh = in_words(text)
    total = sum(end - start for start, end in speech)
    if not fresh or total <= 0:
        return ()
    letters = [len(word) + 1 for word in fresh]
    whole, made, at, done = sum(letters), [], 0, 0
    for number, (start, end) in enumerate(speech):
        done += end - start
        upto = at
        used = sum(letters[:at])
        while upto < len(fresh) and (number + 1 == len(speech) or (used + letters[upto] / 2) * total <= whole * done):
            used += letters[upto]
            upto += 1
        made += spread(fresh[at:upto], start, end) if upto > at else []
        at = upto
    return _in_order(made)
