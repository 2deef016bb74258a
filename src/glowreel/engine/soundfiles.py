"""The mix as a file of its own: WAV, M4A or MP3, whole or one bus at a time."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

from glowreel.core.derived import Known, nothing
from glowreel.core.document import Promo
from glowreel.core.properties.rows.sound import BUSES
from glowreel.core.recipe.sound import sound_length, sound_recipe
from glowreel.engine.meters import measure
from glowreel.engine.mix import mix
from glowreel.engine.soundcodes import SOUNDS_ALONE, SoundCode, encode_sound
from glowreel.engine.sources import Sources

FORMS: dict[str, SoundCode] = {f".{form}": code for form, code in SOUNDS_ALONE.items()}
"""By the end of a file's name."""


def write_sound(
    promo: Promo, sources: Sources, out: Path, known: Known = nothing, bus: str = "", louder: float | None = None
) -> None:
    """Mixes a promo to a file of the form that its name ends in (a key of `FORMS`), as an export does; only what is
    heard on a bus, if one is named: as loud as in the mix, but not limited. As long as the promo, to the sample.
    `louder` is by how many decibels it is made louder for the loudness that is wanted, measured here where it is not
    given."""
    if louder is None and promo.loudness_wanted is not None:
        louder = measure(promo, sources, known, lines=False).louder

    def span(start: int, length: int) -> Any:
        recipe = sound_recipe(promo, start, length, known, louder)
        if bus:
            recipe = replace(recipe, buses=tuple(one for one in recipe.buses if one.name == bus))
            if recipe.master is not None:
                recipe = replace(recipe, master=replace(recipe.master, ceiling=0.0))
        return mix(recipe, sources)

    encode_sound(out, FORMS[out.suffix.lower()], max(1, sound_length(promo)), span)


def write_stems(promo: Promo, sources: Sources, out: Path, known: Known = nothing) -> Sequence[Path]:
    """One file for each bus on which something is heard, beside one another: `promo-voice.wav`, `promo-music.wav`.
    Together they are the mix. Answers with their paths."""
    heard = {bus.name for bus in sound_recipe(promo, 0, max(1, sound_length(promo)), known).buses}
    made = []
    for name in BUSES:
        if name in heard:
            path = out.with_name(f"{out.stem}-{name}{out.suffix}")
            write_sound(promo, sources, path, known, name)
            made.append(path)
    return made
