"""Finding anything by its name: whole words before beginnings, beginnings before parts, and words that are typed badly
last; of what fits as well, what was used last comes first."""

from __future__ import annotations

import unicodedata
from collections.abc import Sequence
from typing import NamedTuple

from rapidfuzz import fuzz, process

LEAST = 76.0
"""How alike a badly typed word must be to one that is there, of 100."""
SHORTEST = 3
"""Shorter words are not taken for others: nearly everything is like them."""


class Entry(NamedTuple):
    """Something that can be found: its name, other words it is found by, and when it was used, in seconds of any
    clock, 0 for never. Tens of thousands are made for a question: a tuple is made fastest."""

    key: str
    name: str
    words: str = ""
    used: float = 0.0


def plain(text: str) -> str:
    """A text as it is compared: small letters without accents, single spaces."""
    if text.isascii():
        return " ".join(text.casefold().split())
    apart = unicodedata.normalize("NFKD", text)
    bare = "".join(letter for letter in apart if not unicodedata.combining(letter))
    # Where nothing but accents is there, they are what is meant.
    return " ".join((bare if bare.strip() else text).casefold().split())


def found(query: str, entries: Sequence[Entry], most: int = 20) -> list[Entry]:
    """The entries that a query means, best first; with nothing asked, those used last."""
    words = plain(query).split()
    if not words:
        used = [entry for entry in entries if entry.used]
        return sorted(used, key=lambda entry: -entry.used)[:most]
    names = [plain(entry.name) for entry in entries]
    texts = [
        f"{name} {plain(entry.words)}" if entry.words else name for name, entry in zip(names, entries, strict=True)
    ]
    scores = [_score(words, name, text) for name, text in zip(names, texts, strict=True)]
    if sum(1 for score in scores if score) < most:
        _add_misspelt(words, texts, scores)
    order = sorted(
        (number for number, score in enumerate(scores) if score),
        key=lambda number: (-scores[number], -entries[number].used, len(names[number]), names[number]),
    )
    return [entries[number] for number in order[:most]]


def _score(words: list[str], name: str, text: str) -> float:
    """How well every word is in a name (or in the words beside it, for less); 0 where one is in neither."""
    asked = " ".join(words)
    if name == asked:
        return 100.0
    if name.startswith(asked):
        return 95.0
    total = 0.0
    for word in words:
        if word not in text:
            return 0.0
        begins = f" {name}".find(f" {word}") >= 0
        total += 90.0 if begins else 75.0 if word in name else 65.0 if f" {word}" in f" {text}" else 55.0
    return total / len(words)


def _add_misspelt(words: list[str], texts: list[str], scores: list[float]) -> None:
    """Adds what is meant by words that are nowhere as they were typed: each must be like a word that is there."""
    if min(len(word) for word in words) < SHORTEST:
        return
    index: dict[str, list[int]] = {}
    for number, text in enumerate(texts):
        if not scores[number]:
            for part in text.split():
                index.setdefault(part, []).append(number)
    known = [part for part in index if len(part) >= SHORTEST and not part.isdigit()]
    meant: list[dict[int, float]] = []
    for word in words:
        best: dict[int, float] = {}
        for part, score, _ in process.extract(word, known, scorer=fuzz.ratio, score_cutoff=LEAST, limit=40):
            for number in index[part]:
                best[number] = max(score, best.get(number, 0.0))
        meant.append(best)
    for number in set(meant[0]).intersection(*meant[1:]):
        scores[number] = 0.5 * sum(best[number] for best in meant) / len(meant)
