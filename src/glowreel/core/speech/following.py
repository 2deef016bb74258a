"""Where somebody is in a text that they read aloud, by the words that were heard last.

```
text    Fly at dawn over the quiet valley and see it all
heard              over a  quiet valley                    → the next word is "and"
```
"""

from __future__ import annotations

from collections.abc import Sequence
from difflib import SequenceMatcher

from glowreel.core.speech.transcript import in_words, plain

LAST = 14
"""So many of the words that were heard count."""
BACK, AHEAD = 25, 70
"""How many words before and behind the last known place somebody may be: they say one again, or leave one out."""
MATCH, MISS = 2.0, -1.0
FAR = 0.03
"""What a word of distance from the last known place takes away: of two places that sound alike the near one counts."""
ENOUGH = 5.0
"""The least by which words must be alike to say where somebody is: three words that follow one another."""
LIKE = 0.75
"""The share of letters by which two long words are the same, misheard."""
COMMON = frozenset(
    ("the", "a", "an", "of", "and", "to", "in", "is", "it", "you", "for", "on", "with", "that", "this", "we", "our",
     "be", "are", "at", "your", "from")
)  # fmt: skip
"""English words that a text in English is full of."""


def next_word(text: str, heard: Sequence[str], before: int) -> int | None:
    """The number of the word of a text that comes next, by the words heard last; None where these do not say it.
    `before` is where it was last. A local alignment (Smith and Waterman, 1981) within reach of that."""
    script = [plain(one) for one in in_words(text)]
    low = max(0, min(before, len(script)) - BACK)
    near = script[low : before + AHEAD]
    said = [word for one in heard if (word := plain(one))][-LAST:]
    best, place = ENOUGH, None
    above = [0.0] * (len(near) + 1)
    for number, word in enumerate(said, 1):
        row = [0.0]
        for column, wanted in enumerate(near, 1):
            step = above[column - 1] + (MATCH if _alike(word, wanted) else MISS)
            row.append(max(0.0, step, above[column] + MISS, row[-1] + MISS))
        after = len(said) - number
        for column, value in enumerate(row):
            # What was misheard at the end was said all the same.
            at = low + column + after
            worth = value + MISS * after - FAR * abs(at - before)
            if value and worth > best:
                best, place = worth, min(at, len(script))
        above = row
    return place


def _alike(one: str, other: str) -> bool:
    if one == other:
        return True
    return min(len(one), len(other)) > 4 and SequenceMatcher(None, one, other, autojunk=False).ratio() >= LIKE


def in_english(text: str) -> bool:
    """Whether a text is likely in English, by the share of its most common words."""
    words = [plain(one) for one in in_words(text)]
    return sum(word in COMMON for word in words) > 0.15 * len(words)
