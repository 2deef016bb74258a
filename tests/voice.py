"""Somebody who speaks, synthesised: what tests say, and when."""

from __future__ import annotations

from functools import cache

import numpy as np
from hibari import Hibari
from scipy.signal import resample_poly

RATE = 48_000


@cache
def said(words: str) -> np.ndarray:
    """Words as mono samples at 48 kHz."""
    made = np.asarray(Hibari()(words), np.float64)
    return resample_poly(made / np.abs(made).max() * 0.5, 2, 1)


def talk(noise: float = 0.0) -> tuple[np.ndarray, list[tuple[float, float]]]:
    """Two sentences with pauses, over noise; and when they are said."""
    first, second = said("Dawn flights over the valley begin on Sunday."), said("Book two seats and bring a friend.")
    quiet = lambda seconds: np.zeros(int(seconds * RATE))  # noqa: E731
    line = np.concatenate([quiet(1.5), first, quiet(2), second, quiet(1)])
    chance = np.random.default_rng(4)
    spans, at = [], 1.5
    for part, pause in ((first, 2.0), (second, 1.0)):
        loud = np.flatnonzero(np.abs(part) > 0.02)
        spans.append((at + loud[0] / RATE, at + loud[-1] / RATE))
        at += len(part) / RATE + pause
    return line + noise * chance.standard_normal(len(line)), spans
