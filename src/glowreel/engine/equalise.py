"""Filters that make any span of a sound come out the same however it is asked for: of a fixed length, even around each
sample, so that they look as far ahead as behind and delay nothing."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
import numpy.typing as npt
from scipy import fft

from glowreel.core.equaliser import response
from glowreel.core.recipe.model import Equal
from glowreel.core.time import SAMPLE_RATE

Samples = npt.NDArray[np.float32]

SHORT, LONG = 4097, 8193
"""How long filters are: the long one tells tones apart that are about 6 Hz from one another, the short one 12 Hz."""
NEAR, DEEP = 0.3, -24.0
"""The short one will do where it is within so many decibels of what is drawn, down to so much below."""
DEEPEST = -80.0
SPEECH = (125.0, 4000.0)
"""The range of tones in which words lie, in Hz."""
BLOCKS = {SHORT: 1 << 14, LONG: 1 << 15}
"""Samples that are worked on at once, by the length of the filter; many blocks go through side by side."""


def reach_of(taps: Samples) -> int:
    """Samples before and after a span that a filter looks at."""
    return len(taps) // 2


@lru_cache(maxsize=64)
def kernel(equal: Equal) -> Samples:
    """The filter of an equaliser: its response sampled at even steps, made finite by a window (Kaiser, β = 3)."""
    bands, low_cut, high_cut = equal
    size = (LONG - 1) * 4
    tones = np.fft.rfftfreq(size, 1 / SAMPLE_RATE)
    levels = np.array([response(bands, low_cut, high_cut, max(5.0, float(hz))) for hz in tones])
    factors = 10 ** (np.maximum(levels, DEEPEST) / 20)
    short = _finite(factors, size, SHORT)
    made = 20 * np.log10(np.abs(np.fft.rfft(short, size)) + 1e-9)
    told = (tones > 35) & (tones < 19_000) & (levels > DEEP)
    good = float(np.abs(made - levels)[told].max(initial=0.0)) < NEAR
    return short if good else _finite(factors, size, LONG)


@lru_cache(maxsize=4)
def speech_band() -> Samples:
    """The filter that leaves only the range of words, with slopes of a third of an octave."""
    size = (LONG - 1) * 4
    tones = np.maximum(np.fft.rfftfreq(size, 1 / SAMPLE_RATE), 1.0)
    up = np.clip(np.log2(tones / SPEECH[0]) * 3 + 0.5, 0, 1)
    down = np.clip(np.log2(SPEECH[1] / tones) * 3 + 0.5, 0, 1)
    return _finite(np.sin(up * np.pi / 2) ** 2 * np.sin(down * np.pi / 2) ** 2, size, SHORT)


def _finite(factors: npt.NDArray[np.float64], size: int, taps: int) -> Samples:
    rolled = np.roll(np.fft.irfft(factors, size), taps // 2)[:taps]
    return (rolled * np.kaiser(taps, 3.0)).astype(np.float32)


@lru_cache(maxsize=64)
def _spectrum(taps: bytes, block: int) -> npt.NDArray[np.complex64]:
    return np.asarray(fft.rfft(np.frombuffer(taps, np.float32), block), np.complex64)


def filtered(around: Samples, taps: Samples) -> Samples:
    """Samples, shape (n, 2), through a filter: given with its reach more at both ends, answered without."""
    wanted = len(around) - 2 * reach_of(taps)
    if wanted <= 0:
        return np.zeros((0, 2), np.float32)
    block = BLOCKS[len(taps)]
    step = block - len(taps) + 1
    count = -(-wanted // step)
    padded = np.zeros((2, (count - 1) * step + block), np.float32)
    padded[:, : len(around)] = around.T
    # Every block of both sides, as rows of one array: transforms go side by side then.
    rows = np.lib.stride_tricks.sliding_window_view(padded, block, axis=1)[:, ::step].reshape(2 * count, block)
    made = fft.rfft(rows, axis=1)
    made *= _spectrum(taps.tobytes(), block)
    made = fft.irfft(made, block, axis=1, overwrite_x=True)[:, len(taps) - 1 :]
    return np.ascontiguousarray(made.reshape(2, count * step)[:, :wanted].T)
