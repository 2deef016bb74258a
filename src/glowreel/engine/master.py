"""What is done to the whole mix: a gain, and a limiter that looks ahead.

The true peak around each sample is measured at four times the rate (ITU-R BS.1770-5, annex 2). Where it would pass the
ceiling, the gain that it needs is held for the whole reach around it and smoothed over the same reach, so that it is
down before the peak comes and nothing jumps. All of it looks at a fixed stretch around each sample: any span comes out
the same however it is asked for.
"""

from __future__ import annotations

from functools import cache

import cv2
import numpy as np
import numpy.typing as npt

from glowreel.core.recipe.model import MASTER_MARGIN, Master

Samples = npt.NDArray[np.float32]

REACH = 480
"""Samples that the limiter looks ahead and behind: ten milliseconds."""
GRAIN = 8
TIMES = 4
TAPS = 32
SAFE = 0.94
"""The ceiling is aimed at a little lower (0.5 dB): the gain moves between the samples as well, and what is encoded
after this is not quite the same."""


@cache
def _between() -> tuple[Samples, ...]:
    """Filters that tell what lies a quarter, a half and three quarters on between two samples: windowed sincs."""
    offsets = np.arange(TAPS) - TAPS // 2 + 1
    window = np.kaiser(TAPS, 6.0)
    found = []
    for step in range(1, TIMES):
        taps = np.sinc(offsets - step / TIMES) * window
        found.append((taps / taps.sum()).astype(np.float32).reshape(1, -1))
    return tuple(found)


def _louder(sides: Samples) -> Samples:
    """The larger of both sides."""
    return np.asarray(np.maximum(sides[:, 0], sides[:, -1]))


def true_peaks(samples: Samples) -> Samples:
    """The largest excursion of either side at each sample or up to the next one, shape (n,)."""
    peaks = _louder(np.abs(samples))
    # Both sides at once, as a picture with two values a dot.
    picture = np.ascontiguousarray(samples, np.float32).reshape(1, -1, samples.shape[1])
    for taps in _between():
        # The filter's middle is the sample before what is looked for.
        made = cv2.filter2D(picture, -1, taps, anchor=(TAPS // 2 - 1, 0), borderType=cv2.BORDER_CONSTANT)
        np.maximum(peaks, _louder(np.abs(made.reshape(samples.shape))), out=peaks)
    return peaks


def mastered(around: Samples, master: Master) -> Samples:
    """A span, shape (n, 2), given with `MASTER_MARGIN` more at both ends, and answered without."""
    loud = around * np.float32(master.gain)
    inner = loud[MASTER_MARGIN : len(loud) - MASTER_MARGIN]
    ceiling = master.ceiling * SAFE
    # Half the ceiling: between samples it is never twice as loud as at them, in anything but noise made for it.
    if not ceiling or not len(loud) or float(np.abs(loud).max()) < ceiling / 2:
        return inner
    peaks = true_peaks(loud)
    if float(peaks.max()) <= ceiling:
        return inner
    # What lies between two samples belongs to both.
    peaks[1:] = np.maximum(peaks[1:], peaks[:-1])
    return np.asarray(
        inner
        * _gain(peaks, ceiling, (master.at - MASTER_MARGIN) % GRAIN)[MASTER_MARGIN : len(loud) - MASTER_MARGIN, None],
        np.float32,
    )


def _gain(peaks: Samples, ceiling: float, lead: int) -> Samples:
    """The gain at each sample, worked out for a few samples at a time and straight in between. `lead` samples are
    missing of the first few, which are the same few whatever span is asked for."""
    whole = np.concatenate([np.zeros(lead, np.float32), peaks])
    count = len(whole) // GRAIN
    highest = whole[: count * GRAIN].reshape(count, GRAIN).max(axis=1)
    need = np.minimum(1.0, ceiling / np.maximum(highest, 1e-9)).astype(np.float32).reshape(1, -1)
    reach = REACH // GRAIN
    # One grain more than is averaged: what lies between two grains is then low enough for both.
    held = cv2.erode(need, np.ones((1, 2 * reach + 3), np.uint8), borderType=cv2.BORDER_REPLICATE)
    window = np.hanning(2 * reach + 3)[1:-1].astype(np.float32).reshape(1, -1)
    made = cv2.filter2D(held, -1, window / window.sum(), borderType=cv2.BORDER_REPLICATE).ravel()
    return np.interp(np.arange(lead, len(whole)), np.arange(count) * GRAIN + GRAIN / 2, made).astype(np.float32)
