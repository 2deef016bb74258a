"""How an equaliser changes what is heard: by how many decibels at each frequency.

A band is (frequency in Hz, gain in dB, width in octaves): a bell over the logarithm of the frequency, half as high in
decibels half its width away. Bands add up. What lies below the low cut, and above the high cut, is taken away by
24 dB an octave (a Butterworth response of the fourth order, 10·log₁₀(1 + x⁸)).
"""

from __future__ import annotations

import math

LOWEST, HIGHEST = 20.0, 20_000.0
MOST_GAIN = 18.0
NARROWEST, WIDEST = 0.5, 5.0
MOST_BANDS = 8

Band = tuple[float, float, float]

FLAT: tuple[Band, ...] = (
    (80.0, 0.0, 1.5), (200.0, 0.0, 1.5), (500.0, 0.0, 1.5), (1250.0, 0.0, 1.5), (3200.0, 0.0, 1.5), (8000.0, 0.0, 1.5),
)  # fmt: skip
"""The bands that somebody begins with."""


def _preset(*gains: float) -> tuple[Band, ...]:
    return tuple((hz, gain, width) for (hz, _, width), gain in zip(FLAT, gains, strict=True))


PRESETS: dict[str, tuple[str, tuple[Band, ...]]] = {
    "speech": ("Clearer words", _preset(-4, -2, -1, 1, 4, 2)),
    "warm": ("Warmer", _preset(2, 3, 1, 0, -1.5, -3)),
    "small": ("For small speakers", _preset(-8, 3, 2, 1, 2, 1)),
    "bright": ("Brighter", _preset(0, 0, 0, 0, 2, 5)),
    "bass": ("More bass", _preset(5, 3, 0, 0, 0, 0)),
    "back": ("Makes room for words", _preset(0, -1, -3, -5, -5, -1)),
    "wire": ("As over a wire", _preset(-18, -9, 2, 5, 2, -18)),
}
"""Presets: what each is called, and its bands."""


def response(bands: tuple[Band, ...], low_cut: float, high_cut: float, hz: float) -> float:
    """By how many decibels a frequency is louder; cuts are off at 0."""
    octaves = math.log2(hz)
    total = sum(
        gain * 2 ** -(((octaves - math.log2(at)) / (width / 2)) ** 2) for at, gain, width in bands if gain
    )  # fmt: skip
    if low_cut:
        total -= 10 * math.log10(1 + (low_cut / hz) ** 8)
    if high_cut:
        total -= 10 * math.log10(1 + (hz / high_cut) ** 8)
    return total


def audible(bands: tuple[Band, ...], low_cut: float, high_cut: float) -> bool:
    """Whether it changes anything."""
    return bool(low_cut or high_cut or any(gain for _, gain, _ in bands))
