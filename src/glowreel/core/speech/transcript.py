"""A transcript: what is said in a file, word by word, with when and how surely.

```
said      "so" ....  "um" .. "dawn"   "flights"        start, end: of each word, milliseconds of the file
quiet    ^          ^       ^        ^                  the quietest moment before each: where it may be cut
```
Words hold to the file and not to the promo, so that what is shown or cut by them follows every edit.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Annotated, Any, Literal, NamedTuple

from pydantic import AfterValidator, Field

from glowreel.core.time import TICKS_PER_SECOND
from glowreel.core.value import Id, Value

MILLISECOND = TICKS_PER_SECOND // 1000
MOST_WORDS = 30_000
LONGEST_WORD = 80
UNSURE = 50
"""A word that is less sure than this (hundredths) is marked."""
Mark = Literal["cue", "run", "line", "key", "plain", "hidden"]
MARKS: dict[str, str] = {
    "cue": "a cue begins with it",
    "run": "no cue begins with it",
    "line": "a line begins with it",
    "key": "it is set off as a key word",
    "plain": "it is not set off, whatever the rule says",
    "hidden": "it is left out of captions",
}
"""What is said of a word by hand, and what that means."""

Text = Annotated[str, Field(min_length=1, max_length=LONGEST_WORD)]
Moment = Annotated[int, Field(ge=0, le=7_200_000)]
Marks = Annotated[tuple[str, ...], Field(max_length=len(MARKS))]


class Word(NamedTuple):
    """One word of a file: its text with what follows of punctuation, when it begins and ends, how sure it is (0 to
    100), the quietest moment between it and the one before (milliseconds), whose voice it is (0: nobody's in
    particular), and what was said of it by hand."""

    text: Text
    start: Moment
    end: Moment
    sure: Annotated[int, Field(ge=0, le=100)] = 100
    quiet: Moment = 0
    speaker: Annotated[int, Field(ge=0, le=9)] = 0
    marks: Marks = ()

    @property
    def middle(self) -> int:
        """Ticks of the file in its middle."""
        return (self.start + self.end) * MILLISECOND // 2

    def marked(self, mark: str, on: bool = True) -> Word:
        """The same with a mark set or taken away."""
        rest = tuple(one for one in self.marks if one != mark)
        return self._replace(marks=(*rest, mark) if on else rest)


def _in_order(words: tuple[Word, ...]) -> tuple[Word, ...]:
    for one in words:
        if one.end <= one.start or set(one.marks) - set(MARKS) or not one.text.strip():
            raise ValueError("a word of a transcript begins before it ends, has letters, and marks that there are")
    if any(a.start > b.start for a, b in zip(words, words[1:], strict=False)):
        raise ValueError("the words of a transcript come in order")
    return words


Language = Annotated[str, Field(pattern=r"^[a-z]{2,3}(-[A-Za-z0-9]{2,8})?$")]


class Transcript(Value):
    """What is said in a file, or what is shown for it in another `language`. `spoken` says that it was heard there:
    what is cut by words is cut by these. `made` tells how it came: heard by a model, typed, or spoken by the program
    itself."""

    media: Id
    language: Language
    spoken: bool = True
    made: Literal["heard", "typed", "voice"] = "heard"
    words: Annotated[tuple[Word, ...], Field(max_length=MOST_WORDS), AfterValidator(_in_order)] = ()


def from_facts(media: str, facts: Mapping[str, Any]) -> Transcript:
    """The transcript that a maker found of a file."""
    rows = facts["words"]
    words = tuple(Word(*row[:6])._replace(marks=tuple(row[6]) if len(row) > 6 else ()) for row in rows)
    return Transcript(media=media, language=facts["language"], words=words)


def spread(texts: Sequence[str], start: int, end: int) -> list[Word]:
    """Words that are said one after another between two moments (milliseconds), each as long as its letters."""
    lengths = [len(text) + 1 for text in texts]
    total, at, made = sum(lengths), 0, []
    for text, length in zip(texts, lengths, strict=True):
        first = start + (end - start) * at // total
        at += length
        last = max(first + 1, start + (end - start) * at // total)
        made.append(Word(text[:LONGEST_WORD], first, last, 100, first))
    return made


def in_words(text: str) -> list[str]:
    """A text in words, each with the punctuation that belongs to it."""
    made: list[str] = []
    for piece in text.split():
        # A dash or a mark that stands alone goes with the word before it.
        if made and not any(letter.isalnum() for letter in piece):
            made[-1] = f"{made[-1]}\u00a0{piece}"[:LONGEST_WORD]
        else:
            made.append(piece[:LONGEST_WORD])
    return made


def replaced(words: Sequence[Word], first: int, count: int, text: str) -> tuple[Word, ...]:
    """The words with some of them said otherwise: as many words as before keep their times, more or fewer share them.
    Without a text they are left out."""
    old, fresh = words[first : first + count], in_words(text)
    if len(fresh) == len(old):
        made = [word._replace(text=said, sure=100) for word, said in zip(old, fresh, strict=True)]
    elif fresh and old:
        made = spread(fresh, old[0].start, max(word.end for word in old))
        made[0] = made[0]._replace(quiet=old[0].quiet, marks=old[0].marks)
        made = [word._replace(speaker=old[0].speaker) for word in made]
    else:
        made = []
    return (*words[:first], *made, *words[first + count :])


def word_set(words: str) -> frozenset[str]:
    """Words of a text, as a set: how tables of words are written."""
    return frozenset(words.split())


def plain(text: str) -> str:
    """A word without what stands around it, in small letters: for comparing."""
    return "".join(letter for letter in text.casefold() if letter.isalnum() or letter in "'’-").strip("'’-")


def joined(words: Iterable[Word]) -> str:
    """Words as one text."""
    return " ".join(word.text for word in words)
