"""The sound of films: mixed, encoded, and measured in what was encoded."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np

from glowreel.core.derived import Known, nothing
from glowreel.core.document import Promo
from glowreel.core.recipe.model import recipe_hash
from glowreel.core.recipe.sound import PEAK, sound_length, sound_recipe
from glowreel.core.time import SAMPLE_RATE
from glowreel.engine.filming import AAC, SoundCode
from glowreel.engine.loudness import Whole, measure_file
from glowreel.engine.meters import measure as measure_sound
from glowreel.engine.mix import mix
from glowreel.engine.sources import Sources

PEAK_TRIES = 3
BLOCK = 960
"""Samples handed over at once: what all of the codecs here take."""
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
        _encode_sound(promo, sources, out, progress, known, louder, lower, code)
        found = measure_file(out)
        if louder is None or found.peak is None or found.peak <= PEAK:
            break
        lower += found.peak - PEAK + 0.05
    return found


def _encode_sound(
    promo: Promo, sources: Sources, out: Path, progress: Progress, known: Known, louder: float | None, lower: float,
    code: SoundCode,
) -> None:  # fmt: skip
    total, step = max(1, sound_length(promo)), SAMPLE_RATE * 4
    with av.open(str(out), "w", format=code.container) as container:
        stream: Any = container.add_stream(code.codec, rate=SAMPLE_RATE, layout="stereo")
        if code.bits:
            stream.bit_rate = code.bits
        waiting = av.AudioFifo()
        for start in range(0, total, step):
            recipe = sound_recipe(promo, start, min(step, total - start), known, louder)
            if recipe.master is not None and lower:
                ceiling = recipe.master.ceiling * 10 ** (-lower / 20)
                recipe = replace(recipe, master=replace(recipe.master, ceiling=ceiling))
            waiting.write(_frame(np.clip(mix(recipe, sources), -1, 1), code.samples, start))
            last = start + step >= total
            size = stream.codec_context.frame_size or BLOCK
            for frame in waiting.read_many(size, partial=last):
                container.mux(stream.encode(frame))
            progress(min(total, start + step), total)
        container.mux(stream.encode(None))


def _frame(span: Any, samples: str, start: int) -> Any:
    """Samples (N × 2, −1 to 1) as a frame in the manner that an encoder takes."""
    if samples == "s16":
        block = np.rint(span * 32767).astype(np.int16).reshape(1, -1)
    elif samples == "flt":
        block = span.astype(np.float32).reshape(1, -1)
    else:
        block = span.T.astype(np.float32)
    frame = av.AudioFrame.from_ndarray(np.ascontiguousarray(block), format=samples, layout="stereo")
    frame.sample_rate, frame.pts, frame.time_base = SAMPLE_RATE, start, Fraction(1, SAMPLE_RATE)
    return frame
