"""Searching the made-up catalogue: by words, typed badly too, and by what
they mean where the model for that is there."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np

from glowreel.core import finding
from glowreel.outside.art.painting import SUBJECTS
from glowreel.outside.art.tunes import EFFECTS
from glowreel.outside.stock.catalogue import Recipe, catalogue
from glowreel.outside.stock.entries import LENGTHS, PAGE, Entry, Found, Query

if TYPE_CHECKING:
    from glowreel.engine.meaning import Vectors

LEAST = 0.06
"""How much nearer than the middle of all entries a meaning must be to count."""
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
    from glowreel.engine import meaning

    texts, vectors = _texts(model)
    near = vectors @ meaning.wanted([words], model)[0]
    middle = float(np.median(near))
    spread = max(1e-6, float(near.max()) - middle)
    score = {text: (float(value) - middle) for text, value in zip(texts, near, strict=True)}
    close = [recipe for recipe in fitting if score[_about(recipe)] > max(LEAST * 0.25, spread * 0.55)]
    close.sort(key=lambda recipe: -score[_about(recipe)])
    return close[:MOST_MEANT]


def warm(model: Path) -> None:
    """Learns what all entries mean, which takes a few seconds the first time."""
    _texts(model)


@cache
def _texts(model: Path) -> tuple[list[str], Vectors]:
    from glowreel.engine import meaning

    texts = sorted({_about(recipe) for recipe in catalogue().values()})
    return texts, meaning.offered(texts, model)
