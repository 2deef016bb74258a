"""How loud a promo is, measured once for what is heard of it and remembered: an edit of the picture measures
nothing."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import AbstractContextManager
from dataclasses import asdict
from typing import Any, Protocol

import orjson

from glowreel.core.derived import Known
from glowreel.core.document import Promo
from glowreel.core.naming import naming
from glowreel.core.recipe.model import recipe_hash
from glowreel.core.recipe.needs import needs
from glowreel.core.recipe.sound import sound_length, sound_recipe
from glowreel.core.remembered import Remembered
from glowreel.engine.loudness import Whole
from glowreel.engine.meters import Measured, measure
from glowreel.engine.sources import Sources

VERSION = 1
"""Of what is measured; what another version measured is measured anew."""
KEPT = 14 * 24 * 3600.0


class Reader(Protocol):
    @property
    def sources(self) -> Sources: ...


class Meters:
    """Measures and remembers, one promo at a time in each process."""

    def __init__(self, cache: Any, painter: Callable[[], AbstractContextManager[Reader]]) -> None:
        self._cache = cache
        self._painter = painter
        self._names: Remembered[str] = Remembered(64)

    def _name(self, promo: Promo, known: Known) -> str:
        """Under which name it is remembered how loud a promo is; empty while something of it is still being made."""
        there = tuple(known(need) is not None for need in needs(promo))

        def name() -> str:
            recipe = sound_recipe(promo, 0, sound_length(promo), known)
            facts = (VERSION, promo.gain, promo.loudness_wanted, [track.id for track in promo.sounds])
            return "" if recipe.waits else f"loud {recipe_hash(recipe, *facts)}"

        return self._names.of((promo,), there, name)

    def known(self, promo: Promo, known: Known) -> Measured | None:
        """What was measured; None as long as it was not."""
        name = self._name(promo, known)
        stored = self._cache.get(name) if name else None
        if stored is None:
            return None
        told = orjson.loads(stored)
        whole = told["whole"]
        lines = {name: tuple(whole[name]) for name in ("momentary", "short")}
        strips = {name: tuple(line) for name, line in told["strips"].items()}
        return Measured(Whole(**{**whole, **lines}), told["before"], told["louder"], strips)

    def measured(self, promo: Promo, known: Known) -> Measured:
        """What was measured, or is now. What something waits for is not remembered."""
        found = self.known(promo, known)
        if found is not None:
            return found
        with naming(promo), self._painter() as painter:
            made = measure(promo, painter.sources, known)
        name = self._name(promo, known)
        if name:
            self._cache.set(name, orjson.dumps(asdict(made)), expire=KEPT)
        return made
