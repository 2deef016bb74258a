"""How loud a promo is: every strip of the mixer and the whole over time, and by how much the whole is made louder so
that it has the loudness that is wanted of it.

Loudness is that of ITU-R BS.1770 and EBU R 128, measured by libavfilter's `ebur128` on the very mix that is exported,
after the limiter. Peaks of strips are the largest samples of each twentieth of a second.
"""

from __future__ import annotations

import tempfile
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from glowreel.core.derived import Known, nothing
from glowreel.core.document import Promo
from glowreel.core.recipe.model import MASTER_MARGIN, Master
from glowreel.core.recipe.sound import gain_factor, master_of, sound_length, strip_recipe, strips
from glowreel.core.time import SAMPLE_RATE
from glowreel.engine.loudness import Whole, measure_blocks
from glowreel.engine.master import mastered
from glowreel.engine.mix import mix
from glowreel.engine.sources import Sources

STEP = SAMPLE_RATE // 20
"""Samples for which one peak is told."""
SPAN = STEP * 80
NEAR = 0.05
"""Decibels by which the loudness may be off what is wanted before it is tried again."""
TRIES = 4
MOST = 30.0
"""By how many decibels a mix is made louder or quieter at most."""

Samples = npt.NDArray[np.float32]
Tell = Callable[[float], None]


@dataclass(frozen=True)
class Measured:
    """Of a promo: its whole as it is exported, what it was before, by how many decibels it is made louder, and peaks of
    every strip (dB, −99 for silence), one for each twentieth of a second."""

    whole: Whole
    before: float | None
    louder: float
    strips: dict[str, tuple[float, ...]]


def measure(
    promo: Promo, sources: Sources, known: Known = nothing, tell: Tell = lambda share: None, *, lines: bool = True
) -> Measured:
    """Mixes and measures a whole promo; without `lines`, only how loud it is."""
    total = sound_length(promo)
    held = strips(promo, known)
    peaks: dict[str, list[Samples]] = {name: [] for name in held}
    with tempfile.TemporaryFile() as file:
        for start in range(0, total, SPAN):
            length = min(SPAN, total - start)
            out: Samples = np.zeros((length, 2), np.float32)
            for name, voices in held.items():
                recipe = strip_recipe(promo, voices, start, length)
                heard = mix(recipe, sources) if recipe.buses else None
                if heard is not None:
                    out += heard
                if lines:
                    peaks[name].append(_peaks(heard, length))
            file.write(out.tobytes())
            tell(0.8 * (start + length) / total)
        file.flush()
        nothing_heard = np.zeros((0, 2), np.float32)
        mixed: Samples = np.memmap(file, np.float32, "r", shape=(total, 2)) if total else nothing_heard
        before, louder, whole = _brought(promo, mixed, lines=lines)
        del mixed
    tell(1.0)
    return Measured(
        whole, before, louder, {name: tuple(np.concatenate(found).tolist()) for name, found in peaks.items() if found}
    )  # fmt: skip


def _brought(promo: Promo, mixed: Samples, *, lines: bool) -> tuple[float | None, float, Whole]:
    """The loudness of a mix as it came, by how much louder it is made, and how it is then."""
    plain = gain_factor(promo.gain)
    raw = measure_blocks(_blocks(mixed, lambda block: block * np.float32(plain)), lines=lines)
    wanted = promo.loudness_wanted
    if wanted is None or raw.loudness is None:
        return raw.loudness, 0.0, raw
    louder, whole = wanted - raw.loudness, raw
    for _ in range(TRIES):
        louder = round(max(-MOST, min(MOST, louder)), 2)
        master = master_of(promo, louder)
        assert master is not None
        whole = measure_blocks(_mastered_blocks(mixed, master), lines=lines)
        off = wanted - whole.loudness if whole.loudness is not None else 0.0
        if abs(off) <= NEAR or abs(louder) >= MOST:
            break
        # What the limiter takes away is made up for.
        louder += off
    return raw.loudness, louder, whole


def _blocks(mixed: Samples, change: Callable[[Samples], Samples]) -> Iterator[Samples]:
    for first in range(0, len(mixed), SPAN):
        yield change(np.asarray(mixed[first : first + SPAN]))


def _mastered_blocks(mixed: Samples, master: Master) -> Iterator[Samples]:
    for first in range(0, len(mixed), SPAN):
        last = min(len(mixed), first + SPAN)
        low, high = first - MASTER_MARGIN, last + MASTER_MARGIN
        around = np.zeros((high - low, 2), np.float32)
        a, b = max(0, low), min(len(mixed), high)
        around[a - low : b - low] = mixed[a:b]
        yield mastered(around, replace(master, at=first))


def _peaks(heard: Samples | None, length: int) -> Samples:
    count = -(-length // STEP)
    if heard is None:
        return np.full(count, -99.0, np.float32)
    loud = np.abs(heard).max(axis=1)
    loud = np.pad(loud, (0, count * STEP - length)).reshape(count, STEP).max(axis=1)
    return np.maximum(-99.0, np.round(20 * np.log10(loud + 1e-6), 1)).astype(np.float32)
