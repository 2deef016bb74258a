"""The sound of a room while nobody speaks: its quietest stretch, made to go round and round without a seam."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np

from glowreel.core.errors import BadMedia
from glowreel.core.time import SAMPLE_RATE
from glowreel.engine.soundcopy import stored_samples

WANTED, LEAST = 2.0, 0.25
"""How long a quiet stretch is looked for, and how short it may be; seconds."""
STEP = SAMPLE_RATE // 100
LONG = 12
"""Seconds that the made loop lasts."""
LAP = 4800
"""Samples over which one piece of it becomes the next."""


def make_tone(samples: Path, out: Path, tell: Callable[[float], None]) -> dict[str, Any]:
    """The tone of a sound as a loop of twelve seconds. Answers with where it was found (`start` and `length`, samples)
    and how loud it is (`level`, dB). Raises `BadMedia` where it is never quiet."""
    stored = stored_samples(samples)
    whole = len(stored) // STEP * STEP
    power = np.array([
        float((stored[at : at + STEP].astype(np.float32) ** 2).mean()) / 32768**2 for at in range(0, whole, STEP)
    ])  # fmt: skip
    # Digital silence is no room: where sound was cut out, there is nothing of it.
    power[power < 1e-11] = np.inf
    start, length = _quietest(power)
    if not length:
        raise BadMedia("no-tone", "There is no quiet stretch in it from which the sound of the room could be taken.")
    found = stored[start * STEP : (start + length) * STEP].astype(np.float32)
    tell(0.5)
    _looped(found, LONG * SAMPLE_RATE).tofile(out)
    level = 10 * np.log10(float((found**2).mean()) / 32768**2 + 1e-12)
    return {"start": start * STEP, "length": length * STEP, "level": round(float(level), 1)}


def _quietest(power: np.ndarray) -> tuple[int, int]:
    """Start and length, in hundredths of a second, of the stretch whose loudest part is most quiet."""
    for seconds in (WANTED, 1.0, 0.5, LEAST):
        size = int(seconds * 100)
        if len(power) < size:
            continue
        windows = np.lib.stride_tricks.sliding_window_view(power, size)
        worst = windows.max(axis=1)
        best = int(np.argmin(worst))
        loud = np.percentile(power[np.isfinite(power)], 90) if np.isfinite(power).any() else 0.0
        # A tenth as loud as what is spoken, or it is no pause; a shorter one is looked for then.
        if np.isfinite(worst[best]) and worst[best] < loud / 10:
            return best, size
    return 0, 0


def _looped(found: np.ndarray, wanted: int) -> np.ndarray:
    """Pieces of a stretch, begun at other places of it each time so that no beat is heard, laid over one another with
    equal power; the end goes over into the beginning."""
    chance = np.random.default_rng(7)
    lap = min(LAP, len(found) // 4)
    out = np.zeros((wanted, 2), np.float32)
    rise = np.sin(np.linspace(0, np.pi / 2, lap, dtype=np.float32))[:, None]
    at = 0
    while at < wanted:
        longest = min(len(found), wanted - at + lap)
        length = max(2 * lap + 1, int(longest * (0.6 + 0.4 * chance.random())))
        length = min(length, len(found))
        first = int(chance.integers(0, len(found) - length + 1))
        piece = found[first : first + length].copy()
        piece[:lap] *= rise
        piece[-lap:] *= rise[::-1]
        where = (np.arange(at, at + length)) % wanted
        last = at + length - lap >= wanted
        if last:
            # The last one ends where the first begins.
            keep = wanted + lap - at
            piece = piece[:keep]
            piece[-lap:] *= rise[::-1] if keep < length else 1
            where = where[:keep]
        np.add.at(out, where, piece)
        at += length - lap
    return np.clip(out, -32768, 32767).astype(np.int16)
