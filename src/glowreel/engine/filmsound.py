"""The sound of films: mixed, encoded, and measured in what was encoded."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

from glowreel.core.derived import Known, nothing
from glowreel.core.document import Promo
from glowreel.core.recipe.model import recipe_hash
from glowreel.core.recipe.sound import PEAK, sound_length, sound_recipe
from glowreel.engine.loudness import Whole, measure_file
from glowreel.engine.meters import measure as measure_sound
from glowreel.engine.mix import mix
from glowreel.engine.soundcodes import AAC, SoundCode, encode_sound
from glowreel.engine.sources import Sources

PEAK_TRIES = 3
VERSION = 1
"""Raised where the same recipe comes to sound otherwise."""
Progress = Callable[[int, int], None]


def sound_key(promo: Promo, code: SoundCode, known: Known = nothing) -> str:
    """Identifies the sound of a film by all that is heard and how it is encoded: an equal key means an equal file."""
    recipe = sound_recipe(promo, 0, max(1, sound_length(promo)), known)
    return recipe_hash(recipe, VERSION, promo.loudness_wanted, code.container, code.codec, code.bits)


def render_sound(
    promo: Promo, sources: Sources, out: Path, progress: Progress = lambda done, total: None, known: Known = nothing,
    code: SoundCode = AAC,
) -> Whole:  # fmt: skip
    """Mixes the whole promo to a file, a few seconds at a time, with what is known of its files; as loud as it is to
    be. Answers with how loud the file is found to be: where encoding lifted a peak above what is allowed, it is made
    again, that much lower."""
    total = max(1, sound_length(promo))
    louder = None
    if promo.loudness_wanted is not None:
        louder = measure_sound(promo, sources, known, lambda share: progress(0, total), lines=False).louder
    lower = 0.0
    for _ in range(PEAK_TRIES):

        def span(start: int, length: int, lower: float = lower) -> Any:
            recipe = sound_recipe(promo, start, length, known, louder)
            if recipe.master is not None and lower:
                ceiling = recipe.master.ceiling * 10 ** (-lower / 20)
                recipe = replace(recipe, master=replace(recipe.master, ceiling=ceiling))
            return mix(recipe, sources)

        encode_sound(out, code, total, span, progress)
        found = measure_file(out)
        if louder is None or found.peak is None or found.peak <= PEAK:
            break
        lower += found.peak - PEAK + 0.05
    return found
