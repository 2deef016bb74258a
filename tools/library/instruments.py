"""Instruments: each a function of a note and its length to stereo samples at 48 kHz, and drums."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache
from typing import Any

import numpy as np
import numpy.typing as npt

RATE = 48_000
Sound = npt.NDArray[Any]
"""Samples between −1 and 1, mono (n,) or stereo (n, 2)."""


def hertz(midi: float) -> float:
    return 440.0 * 2 ** ((midi - 69) / 12)


def _time(seconds: float) -> Sound:
    return np.arange(max(1, int(seconds * RATE)), dtype=np.float32) / RATE


def _noise(count: int, seed: int) -> Sound:
    return np.random.default_rng(seed).standard_normal(count).astype(np.float32)


def lowpass(sound: Sound, hz: float | npt.NDArray[np.float64]) -> Sound:
    """A smooth low pass in the spectrum: 12 dB an octave above `hz`."""
    spectrum = np.fft.rfft(sound)
    tones = np.fft.rfftfreq(len(sound), 1 / RATE)
    return np.fft.irfft(spectrum / (1 + (tones / np.asarray(hz)) ** 2), len(sound)).astype(np.float32)


def bandpass(sound: Sound, low: float, high: float) -> Sound:
    spectrum = np.fft.rfft(sound)
    tones = np.fft.rfftfreq(len(sound), 1 / RATE) + 1e-3
    shape = 1 / (1 + (tones / high) ** 4) / (1 + (low / tones) ** 4)
    return np.fft.irfft(spectrum * shape, len(sound)).astype(np.float32)


def _ends(t: Sound, seconds: float, attack: float, release: float) -> Sound:
    fall = np.clip((seconds + release - t) / release, 0, 1) ** 2
    return (np.minimum(1, t / attack) * fall).astype(np.float32)


def wide(left: Sound, right: Sound) -> Sound:
    return np.stack([left, right], axis=1)


def pad(midi: float, seconds: float) -> Sound:
    """Slow strings of three voices a hair apart, on each side other ones."""
    t = _time(seconds + 0.9)
    sides = []
    for detune in ((-0.09, 0.0, 0.07), (-0.06, 0.02, 0.1)):
        wave = np.zeros_like(t)
        for number, off in enumerate(detune):
            hz = hertz(midi + off)
            for partial in range(1, 9):
                wave += (
                    np.sin(2 * np.pi * (hz * partial * t + 0.13 * number * partial)).astype(np.float32) / partial**1.5
                )
        sides.append(wave * _ends(t, seconds, min(0.5, seconds / 3), 0.9))
    return wide(*sides) * np.float32(0.16)


def organ(midi: float, seconds: float) -> Sound:
    t = _time(seconds + 0.15)
    hz = hertz(midi)
    beat = 1 + 0.0022 * np.sin(2 * np.pi * 5.6 * t).astype(np.float32)
    wave = sum(
        gain * np.sin(2 * np.pi * hz * partial * t * beat) for partial, gain in ((1, 1), (2, 0.5), (3, 0.3), (4, 0.12))
    )
    shaped = np.asarray(wave, np.float32) * _ends(t, seconds, 0.02, 0.15)
    return wide(shaped, np.roll(shaped, 190)) * np.float32(0.22)


def keys(midi: float, seconds: float) -> Sound:
    """An electric piano: two tones that modulate each other and ring out."""
    t = _time(seconds + 0.7)
    hz = hertz(midi)
    bite = np.exp(-t * 6).astype(np.float32)
    wave = np.sin(2 * np.pi * hz * t + 1.4 * bite * np.sin(2 * np.pi * hz * t))
    wave = wave + 0.18 * bite * np.sin(2 * np.pi * hz * 7.01 * t)
    shaped = np.asarray(wave * np.exp(-t * 1.7), np.float32) * _ends(t, seconds, 0.004, 0.5)
    sway = 0.12 * np.sin(2 * np.pi * 3.1 * t).astype(np.float32)
    return wide(shaped * (1 + sway), shaped * (1 - sway)) * np.float32(0.42)


def piano(midi: float, seconds: float) -> Sound:
    """Struck strings: partials a little sharp, the upper ones gone sooner, with the hammer's knock."""
    t = _time(seconds + 1.0)
    hz = hertz(midi)
    wave = np.zeros_like(t)
    for partial in range(1, 10):
        stretched = hz * partial * np.sqrt(1 + 0.0004 * partial * partial)
        if stretched < 16_000:
            wave += (np.sin(2 * np.pi * stretched * t) * np.exp(-t * (0.8 + 0.55 * partial)) / partial**1.15).astype(
                np.float32
            )
    wave[:1440] += lowpass(_noise(1440, int(midi)), 1800) * np.linspace(0.35, 0, 1440, dtype=np.float32) * 0.5
    shaped = wave * _ends(t, seconds, 0.002, 0.6)
    place = (midi - 60) / 90
    return wide(shaped * np.float32(1 - place), shaped * np.float32(1 + place)) * np.float32(0.34)


def pluck(midi: float, seconds: float) -> Sound:
    """A plucked string: a burst that goes round and is softened each time (after Karplus and Strong), in its
    spectrum."""
    t = _time(min(2.5, seconds + 1.2))
    hz = hertz(midi)
    wave = np.zeros_like(t)
    chance = np.random.default_rng(int(midi * 7))
    for partial in range(1, 16):
        if hz * partial < 14_000:
            gain = abs(np.sin(np.pi * partial * 0.23)) / partial
            fall = np.exp(-t * (1.6 + 0.35 * partial * partial / 6))
            wave += (gain * np.sin(2 * np.pi * (hz * partial * t + chance.random())) * fall).astype(np.float32)
    shaped = wave * _ends(t, min(2.0, seconds + 0.7), 0.0015, 0.4)
    return wide(shaped, np.roll(shaped, 260) * np.float32(0.9)) * np.float32(0.5)


def bell(midi: float, seconds: float) -> Sound:
    t = _time(seconds + 1.8)
    hz = hertz(midi)
    wave = sum(gain * np.sin(2 * np.pi * hz * partial * t) * np.exp(-t * fall)
               for partial, gain, fall in ((1, 1, 1.6), (2.76, 0.5, 2.6), (5.4, 0.25, 4.2), (8.9, 0.1, 7)))  # fmt: skip
    shaped = np.asarray(wave, np.float32) * _ends(t, seconds + 1, 0.002, 0.8)
    return wide(shaped * np.float32(0.85), np.roll(shaped, 330)) * np.float32(0.26)


def lead(midi: float, seconds: float) -> Sound:
    """A bright voice: a saw through a filter that opens, with a slow waver."""
    t = _time(seconds + 0.25)
    waver = 0.08 * np.sin(2 * np.pi * 5.2 * t) * np.minimum(1, t / 0.4)
    hz = hertz(midi) * 2 ** (waver / 12)
    phase = np.cumsum(hz) / RATE
    wave = np.zeros_like(t)
    for partial in range(1, 13):
        wave += (np.sin(2 * np.pi * phase * partial) / partial * np.exp(-((partial / 7) ** 2))).astype(np.float32)
    shaped = wave * _ends(t, seconds, 0.02, 0.22)
    return wide(shaped, np.roll(shaped, 140)) * np.float32(0.26)


def flute(midi: float, seconds: float) -> Sound:
    t = _time(seconds + 0.25)
    hz = hertz(midi)
    waver = 1 + 0.004 * np.sin(2 * np.pi * 4.8 * t) * np.minimum(1, t / 0.5)
    wave = np.sin(2 * np.pi * hz * t * waver) + 0.22 * np.sin(4 * np.pi * hz * t * waver)
    air = bandpass(_noise(len(t), int(midi)), hz * 0.9, hz * 3) * 0.16
    shaped = np.asarray(wave + air, np.float32) * _ends(t, seconds, 0.07, 0.25)
    return wide(shaped * np.float32(0.9), np.roll(shaped, 220)) * np.float32(0.26)


def bass(midi: float, seconds: float) -> Sound:
    t = _time(seconds + 0.12)
    hz = hertz(midi)
    wave = np.sin(2 * np.pi * hz * t) + 0.45 * np.sin(4 * np.pi * hz * t) + 0.18 * np.sin(6 * np.pi * hz * t)
    shaped = np.tanh(1.5 * wave).astype(np.float32) * _ends(t, seconds, 0.006, 0.12) * np.exp(-t * 0.8)
    return wide(shaped, shaped) * np.float32(0.42)


def deep(midi: float, seconds: float) -> Sound:
    """A bass of saws, dark."""
    t = _time(seconds + 0.15)
    hz = hertz(midi)
    wave = sum(
        np.sin(2 * np.pi * hz * partial * t) / partial * np.exp(-((partial / 4) ** 2)) for partial in range(1, 9)
    )
    shaped = np.asarray(np.tanh(1.3 * np.asarray(wave)), np.float32) * _ends(t, seconds, 0.01, 0.15)
    return wide(shaped, shaped) * np.float32(0.4)


INSTRUMENTS: dict[str, Callable[[float, float], Sound]] = {
    "pad": pad, "organ": organ, "keys": keys, "piano": piano, "pluck": pluck, "bell": bell, "lead": lead,
    "flute": flute, "bass": bass, "deep": deep,
}  # fmt: skip


@lru_cache(maxsize=600)
def note(instrument: str, midi: float, length: int) -> Sound:
    """A note of so many samples."""
    return INSTRUMENTS[instrument](midi, length / RATE)


@lru_cache(maxsize=64)
def drum(name: str) -> Sound:
    """One stroke of a drum."""
    made = _DRUMS[name]()
    return wide(made, made) if made.ndim == 1 else made


def _kick(low: float = 46, knock: float = 160, long: float = 0.34) -> Sound:
    t = _time(long)
    phase = np.cumsum(low + knock * np.exp(-t * 32)) / RATE
    wave = np.sin(2 * np.pi * phase) * np.exp(-t * 9 * 0.34 / long)
    wave[:240] += lowpass(_noise(240, 3), 4000) * np.linspace(0.5, 0, 240)
    return (wave * np.clip((long - t) / 0.03, 0, 1)).astype(np.float32) * np.float32(0.95)


def _snare(body: float = 185, bright: float = 7000) -> Sound:
    t = _time(0.28)
    wave = 0.5 * np.sin(2 * np.pi * body * t) * np.exp(-t * 22)
    return (wave + 0.55 * bandpass(_noise(len(t), 9), 900, bright) * np.exp(-t * 16)).astype(np.float32)


def _clap() -> Sound:
    t = _time(0.3)
    bursts = sum(np.exp(-np.maximum(0, t - at) * 90) * (t >= at) for at in (0, 0.011, 0.023))
    tail = np.exp(-np.maximum(0, t - 0.03) * 18) * (t >= 0.03)
    return (bandpass(_noise(len(t), 12), 900, 4200) * (0.5 * np.asarray(bursts) + 0.6 * tail)).astype(np.float32)


def _hat(long: float = 0.06) -> Sound:
    t = _time(long * 3)
    return (bandpass(_noise(len(t), 21), 6500, 15_000) * np.exp(-t / long * 2.2)).astype(np.float32) * np.float32(0.5)


def _shaker() -> Sound:
    t = _time(0.11)
    return (bandpass(_noise(len(t), 31), 4000, 11_000) * np.sin(np.pi * t / 0.11) ** 2).astype(np.float32) * np.float32(
        0.4
    )


def _tom(midi: float) -> Sound:
    t = _time(0.5)
    hz = hertz(midi)
    phase = np.cumsum(hz * (1 + 0.5 * np.exp(-t * 20))) / RATE
    return (np.sin(2 * np.pi * phase) * np.exp(-t * 7)).astype(np.float32) * np.float32(0.8)


def _rim() -> Sound:
    t = _time(0.08)
    return (np.sin(2 * np.pi * 1720 * t) * np.exp(-t * 70)).astype(np.float32) * np.float32(0.5)


def _crash() -> Sound:
    t = _time(2.2)
    sides = [bandpass(_noise(len(t), seed), 3500, 14_000) * np.exp(-t * 2.1) for seed in (41, 42)]
    return wide(*[side.astype(np.float32) for side in sides]) * np.float32(0.42)


_DRUMS: dict[str, Callable[[], Sound]] = {
    "kick": _kick, "soft-kick": lambda: _kick(50, 60, 0.26) * np.float32(0.8), "big-kick": lambda: _kick(40, 210, 0.6),
    "snare": _snare, "brush": lambda: _snare(220, 11_000) * np.float32(0.4), "clap": _clap, "hat": _hat,
    "open-hat": lambda: _hat(0.28), "shaker": _shaker, "tom": lambda: _tom(45), "high-tom": lambda: _tom(52),
    "rim": _rim, "crash": _crash,
}  # fmt: skip


def room(sound: Sound, seconds: float, share: float, seed: int = 5) -> Sound:
    """A sound with the echo of a room of so many seconds mixed in."""
    if share <= 0:
        return sound
    t = _time(seconds)
    out = sound.copy()
    size = 1 << (len(sound) + len(t) - 1).bit_length()
    for side in (0, 1):
        answer = bandpass(_noise(len(t), seed + side), 180, 6500) * np.exp(-t * 6.9 / seconds)
        answer[: RATE // 60] = 0
        answer /= np.sqrt((answer**2).sum())
        wet = np.fft.irfft(np.fft.rfft(sound[:, side], size) * np.fft.rfft(answer, size), size)[: len(sound)]
        out[:, side] += wet.astype(np.float32) * np.float32(share)
    return out
