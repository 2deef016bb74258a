"""The songs and noises: synthesised from chords, with bars, a build and an ending."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from glowreel.outside.art.tunes import RATE, Sound, add, hiss, kick, tone


@dataclass(frozen=True)
class Song:
    name: str
    bpm: float
    chords: tuple[tuple[int, ...], ...]
    bars: int
    drums: bool
    wave: str


SONGS = (
    Song("slow-ascent", 92, ((48, 55, 60, 64), (45, 52, 60, 64), (41, 53, 57, 60), (43, 50, 59, 62)), 16, True, "soft"),
    Song(
        "lantern-walk", 108, ((50, 57, 62, 66), (47, 54, 62, 66), (43, 55, 59, 62), (45, 52, 61, 64)), 16, True, "pluck"
    ),
)


def compose(song: Song) -> Sound:
    """The song as stereo samples, (n, 2): pads from the start, then bass, melody and drums, and an ending."""
    beat = 60 / song.bpm
    bar = 4 * beat
    rng = np.random.default_rng(len(song.name))
    total = np.zeros(int((song.bars * bar + 3) * RATE), np.float32)
    wide = np.zeros_like(total)
    kick_, hat = kick(), hiss(rng, 0.06, 90)
    for number in range(song.bars):
        chord = song.chords[number % len(song.chords)]
        now, build = number * bar, number / song.bars
        for n, note in enumerate(chord):
            pad = tone(note + 12, bar + 0.4, 0.35, 2.6, 0.3)
            add(total if n % 2 else wide, now, pad, 0.1)
        if number >= 2:
            add(total, now, tone(chord[0] - 12, beat * 1.8, 0.01, 0.9, 0.4), 0.26)
            add(total, now + 2.5 * beat, tone(chord[0] - 12, beat, 0.01, 0.5, 0.4), 0.2)
        if number >= 4:
            for step in range(8):
                note = chord[(step * 3 + number) % len(chord)] + 24
                length = 0.16 if song.wave == "pluck" else 0.4
                add(wide, now + step * beat / 2, tone(note, 0.9, 0.004, length, 0.35), 0.09 + 0.04 * (step % 4 == 0))
        if song.drums and 4 <= number < song.bars - 1:
            for b in range(4):
                if b % 2 == 0:
                    add(total, now + b * beat, kick_, 0.5 + 0.2 * build)
                add(wide, now + (b + 0.5) * beat, hat, 0.05 + 0.06 * build)
    last = song.chords[0]
    for note in last:
        add(total, song.bars * bar, tone(note + 12, 3, 0.02, 1.2, 0.3), 0.12)
    stereo = np.stack([total + wide * 0.7, total * 0.9 + wide], axis=1)
    stereo /= max(1e-6, float(np.abs(stereo).max())) / 0.82
    tail = int(1.5 * RATE)
    stereo[-tail:] *= np.linspace(1, 0, tail, dtype=np.float32)[:, None]
    return stereo.astype(np.float32)


def noise(kind: str, seconds: float) -> Sound:
    """Wind over a valley or bursts of a burner, as stereo samples."""
    n = int(seconds * RATE)
    rng = np.random.default_rng(7)
    raw = rng.standard_normal(n + 400).astype(np.float32)
    width = 160 if kind == "wind" else 24
    smooth = np.convolve(raw, np.ones(width, np.float32) / width, "same")[:n]
    t = np.arange(n, dtype=np.float32) / RATE
    if kind == "wind":
        level = 0.5 + 0.3 * np.sin(t * 0.9) + 0.2 * np.sin(t * 2.3 + 1)
    else:
        level = 0.08 + 0.92 * (0.5 + 0.5 * np.tanh(4 * np.sin(t * 1.6)))
    mono = smooth * level
    mono *= 0.3 / max(1e-6, float(np.abs(mono).max()))
    return np.stack([mono, np.roll(mono, 240)], axis=1).astype(np.float32)
