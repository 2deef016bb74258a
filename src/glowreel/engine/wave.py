"""Bars that move with the sound: how loud it is in bands from low to high."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
import numpy.typing as npt
import skia

from glowreel.core.errors import GlowReelError
from glowreel.core.layout import Box
from glowreel.core.recipe.model import DrawWave, SoundRecipe
from glowreel.engine.drawing import part
from glowreel.engine.mix import mix
from glowreel.engine.sources import Sources

RATE = 48_000
LOWEST, HIGHEST = 60.0, 9_000.0
"""The middle of the first band and of the last, in Hz."""
QUIET, LOUD = -52.0, -14.0
"""Levels, in dB of full scale, at which a bar rests and at which it is all there."""
RESTS = 0.06
"""How high a bar is at least, of its box."""
TILT = 3.5
"""What is given to each octave, in dB: music and voices have less in the high ones, and bars shall move alike."""


@lru_cache(maxsize=32)
def _bands(bars: int, length: int) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.float64]]:
    """The edges of bands in bins of a spectrum, and what each band is raised by, in dB."""
    middles = LOWEST * (HIGHEST / LOWEST) ** (np.arange(bars) / max(1, bars - 1))
    step = (HIGHEST / LOWEST) ** (0.5 / max(1, bars - 1))
    edges = np.concatenate((middles / step, middles[-1:] * step))
    return np.rint(edges * length / RATE).astype(np.int64), TILT * np.log2(middles / LOWEST)


def levels_of(samples: npt.NDArray[np.float32], bars: int) -> npt.NDArray[np.float64]:
    """How loud samples of shape (n, 2) at 48 kHz are in so many bands: 0 for quiet, 1 for loud. By the magnitudes of
    their Fourier transform under a Hann window, the loudest of each band."""
    mono = samples.mean(axis=1)
    length = len(mono)
    if length < 64 or not mono.any():
        return np.zeros(bars)
    window = np.hanning(length)
    spectrum = np.abs(np.fft.rfft(mono * window)) * (2 / window.sum())
    edges, raised = _bands(bars, length)
    peaks = np.array([
        spectrum[low : max(low + 1, high)].max(initial=0.0) for low, high in zip(edges, edges[1:], strict=False)
    ])  # fmt: skip
    decibels = 20 * np.log10(np.maximum(peaks, 1e-6)) + raised
    return np.clip((decibels - QUIET) / (LOUD - QUIET), 0.0, 1.0)


@part()
def heard_levels(sound: SoundRecipe | None, bars: int, sources: Sources) -> npt.NDArray[np.float64]:
    """How loud a span of sound is in so many bands; quiet where there is none, or where it cannot be read."""
    if sound is None or not sound.buses:
        return np.zeros(bars)
    try:
        return levels_of(mix(sound, sources), bars)
    except (GlowReelError, NotImplementedError):
        return np.zeros(bars)


@part()
def bar_boxes(box: Box, bars: int, gap: float, levels: npt.NDArray[np.float64]) -> list[Box]:
    """The bars, from the middle of their box up and down."""
    wide = box.width / (bars + gap * (bars - 1))
    return [
        Box(box.x + n * wide * (1 + gap), box.y + (box.height - high) / 2, wide, high)
        for n, high in enumerate(box.height * (RESTS + (1 - RESTS) * levels))
    ]


@part()
def draw_wave(canvas: skia.Canvas, op: DrawWave, scale: float, paint: skia.Paint, sources: Sources) -> None:
    """Draws the bars; the canvas is in pixels, `scale` of them to a canonical unit."""
    for one in bar_boxes(op.box, op.bars, op.gap, heard_levels(op.sound, op.bars, sources)):
        rect = skia.Rect.MakeXYWH(*(float(v) * scale for v in (one.x, one.y, one.width, one.height)))
        radius = min(op.radius * scale, rect.width() / 2, rect.height() / 2)
        canvas.drawRoundRect(rect, radius, radius, paint)
