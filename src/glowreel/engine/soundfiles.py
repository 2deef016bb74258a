"""The mix as a file of its own: WAV or M4A, whole or one bus at a time."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np

from glowreel.core.derived import Known, nothing
from glowreel.core.document import Promo
from glowreel.core.properties.rows.sound import BUSES
from glowreel.core.recipe.sound import sound_length, sound_recipe
from glowreel.core.time import SAMPLE_RATE
from glowreel.engine.meters import measure
from glowreel.engine.mix import mix
from glowreel.engine.sources import Sources

FORMS: dict[str, tuple[str, str, str, int]] = {
    ".wav": ("wav", "pcm_s16le", "s16", 0),
    ".m4a": ("ipod", "aac", "fltp", 192_000),
}
"""Container, codec, samples and bits a second by the end of a file's name; 48 kHz stereo all of them."""
STEP = SAMPLE_RATE * 4
BLOCK = 1024


def write_sound(
    promo: Promo, sources: Sources, out: Path, known: Known = nothing, bus: str = "", louder: float | None = None
) -> None:
    """Mixes a promo to a file of the form that its name ends in (a key of `FORMS`), as an export does; only what is
    heard on a bus, if one is named: as loud as in the mix, but not limited. As long as the promo, to the sample.
    `louder` is by how many decibels it is made louder for the loudness that is wanted, measured here where it is not
    given."""
    if louder is None and promo.loudness_wanted is not None:
        louder = measure(promo, sources, known, lines=False).louder
    container_name, codec, form, rate = FORMS[out.suffix.lower()]
    total = max(1, sound_length(promo))
    with av.open(str(out), "w", format=container_name) as container:
        stream: Any = container.add_stream(codec, rate=SAMPLE_RATE, layout="stereo")
        if rate:
            stream.bit_rate = rate
        for start in range(0, total, STEP):
            recipe = sound_recipe(promo, start, min(STEP, total - start), known, louder)
            if bus:
                recipe = replace(recipe, buses=tuple(one for one in recipe.buses if one.name == bus))
                if recipe.master is not None:
                    recipe = replace(recipe, master=replace(recipe.master, ceiling=0.0))
            span = np.clip(mix(recipe, sources), -1, 1)
            for at in range(0, len(span), BLOCK):
                frame = _frame(span[at : at + BLOCK], form)
                frame.sample_rate, frame.pts, frame.time_base = SAMPLE_RATE, start + at, Fraction(1, SAMPLE_RATE)
                container.mux(stream.encode(frame))
        container.mux(stream.encode(None))


def _frame(block: Any, form: str) -> Any:
    if form == "s16":
        packed = np.ascontiguousarray(np.rint(block * 32767).astype(np.int16).reshape(1, -1))
        return av.AudioFrame.from_ndarray(packed, format="s16", layout="stereo")
    planar = np.ascontiguousarray(block.T.astype(np.float32))
    return av.AudioFrame.from_ndarray(planar, format="fltp", layout="stereo")


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
