"""Searching the made-up catalogue: by words, typed badly too, and by what
they mean where the model for that is there."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from pathlib import Path

import numpy as np

from glowreel.core import finding
from glowreel.engine import meaning
from glowreel.engine.meaning import Vectors
from glowreel.outside.art.painting import SUBJECTS
from glowreel.outside.art.tunes import EFFECTS
from glowreel.outside.stock.catalogue import Recipe, catalogue
from glowreel.outside.stock.entries import LENGTHS, PAGE, Entry, Found, Query

LEAST = 0.046
"""How much nearer than the middle of all texts the nearest one must be, or the words mean none of them: letters typed
at random reach 0.03 to 0.045, what people ask for 0.05 to 0.1."""
NEAR = 0.55
"""And how near others must be, of that."""
MOST_MEANT = 60


def search(query: Query, model: Path | None = None) -> Found:
    """What there is of a query, best first."""
    fitting = [recipe for recipe in catalogue().values() if _fits(recipe.entry, query)]
    if query.words.strip():
        fitting = _ordered(query.words, fitting, model)
    moods = sorted({recipe.entry.mood for recipe in catalogue().values()} - {""})
    page = fitting[query.after : query.after + PAGE]
    return Found(entries=tuple(recipe.entry for recipe in page), total=len(fitting), moods=tuple(moods))


def _fits(entry: Entry, query: Query) -> bool:
    if query.length in LENGTHS:
        _, least, most = LENGTHS[query.length]
        if not entry.seconds or not least < entry.seconds <= most:
            return False
    return (
        query.kind in ("", entry.kind)
        and query.shape in ("", entry.shape)
        and query.mood in ("", entry.mood)
        and (not query.colour or query.colour in entry.colours)
        and query.licence in ("", "paid" if entry.price else "free")
    )


def _ordered(words: str, fitting: Sequence[Recipe], model: Path | None) -> list[Recipe]:
    """What the words name first, then what they mean."""
    by_key = {recipe.entry.id: recipe for recipe in fitting}
    listed = [
        finding.Entry(key, recipe.entry.name, f"{recipe.entry.words} {recipe.entry.mood}")
        for key, recipe in by_key.items()
    ]
    named = [by_key[one.key] for one in finding.found(words, listed, most=len(listed))]
    if model is None:
        return named
    known = {recipe.entry.id for recipe in named}
    return [*named, *(recipe for recipe in _meant(words, fitting, model) if recipe.entry.id not in known)]


def _about(recipe: Recipe) -> str:
    """The text whose meaning an entry has: that of what is seen or heard, shared by all its entries."""
    if recipe.painting is not None:
        subject = SUBJECTS[recipe.painting.subject]
        return f"{subject.words}, {subject.mood}"
    if recipe.tune is not None:
        return f"{recipe.tune.mood} music"
    assert recipe.effect is not None
    return f"sound of {EFFECTS[recipe.effect[0]].words}"


def _meant(words: str, fitting: Sequence[Recipe], model: Path) -> list[Recipe]:
    texts, vectors = _texts(model)
    near = vectors @ meaning.wanted([words], model)[0]
    above = near - float(np.median(near))
    best = float(above.max())
    if best < LEAST:
        return []
    score = dict(zip(texts, above.tolist(), strict=True))
    close = [recipe for recipe in fitting if score[_about(recipe)] > NEAR * best]
    close.sort(key=lambda recipe: -score[_about(recipe)])
    return close[:MOST_MEANT]


def warm(model: Path) -> None:
    """Learns what all entries mean, which takes a few seconds the first time."""
    _texts(model)


@cache
def _texts(model: Path) -> tuple[list[str], Vectors]:
    texts = sorted({_about(recipe) for recipe in catalogue().values()})
    return texts, meaning.offered(texts, model)
