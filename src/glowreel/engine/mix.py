"""Mixing a span of sound: float32 stereo at 48 kHz."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from glowreel.core.recipe.model import SoundRecipe, Voice
from glowreel.engine.sources import Sources
from glowreel.engine.stretch import heard_level, positions, read_along

Samples = npt.NDArray[np.float32]


def mix(recipe: SoundRecipe, sources: Sources) -> Samples:
    """The span's samples, shape (n, 2). Not limited: sums may pass ±1 and are held where they are encoded."""
    out: Samples = np.zeros((recipe.length, 2), np.float32)
    for bus in recipe.buses:
        # What is as loud as it came is added straight to the whole.
        into = out if bus.gain == 1 else np.zeros_like(out)
        _add(bus.voices, into, sources)
        if into is not out:
            out += into * np.float32(bus.gain)
    return out


def _add(voices: tuple[Voice, ...], out: Samples, sources: Sources) -> None:
    """Adds voices to samples."""
    for voice in voices:
        first = max(0, -voice.at)
        last = min(voice.length, len(out) - voice.at)
        heard = _heard(voice, first, last, sources)
        if voice.levels:
            heard *= levels(voice, first, first + len(heard))[:, None]
        envelope = fade_envelope(voice, first, first + len(heard))
        if envelope is not None:
            heard *= envelope[:, None]
        out[voice.at + first : voice.at + first + len(heard)] += heard


def _heard(voice: Voice, first: int, last: int, sources: Sources) -> Samples:
    """Samples `first` to `last` of a voice with its gain, before its fades; fewer where the source ends."""
    gain = np.float32(voice.gain)
    stored = sources.sound(voice.source)
    if not voice.warp:
        start = voice.source_at + first
        return stored[start : min(voice.source_at + last, len(stored))].astype(np.float32) * (gain / 32768)
    if last <= first:
        return np.zeros((0, 2), np.float32)
    if voice.pitch:
        heard = sources.stretch(voice).span(first, last) * gain
    else:
        heard = read_along(stored, positions(voice, first, last + 1)) * gain
    level = heard_level(voice, first, last)
    return heard if level is None else heard * level[:, None]


def levels(voice: Voice, start: int, end: int) -> Samples:
    """Factors for samples `start` to `end` of a voice whose gain changes over time: straight from knot to knot."""
    at, factor = zip(*voice.levels, strict=True)
    found: Samples = np.interp(np.arange(start, end), at, factor).astype(np.float32)
    return found


def fade_envelope(voice: Voice, start: int, end: int) -> Samples | None:
    """Factors for samples `start` to `end` of a voice, or None where no fade reaches them.

    Straight fades rise linearly; equal-power ones as sin(x·π/2), so that two crossing ones keep their loudness
    (sin² + cos² = 1).
    """
    into_tail = voice.length - voice.fade_out
    if start >= voice.fade_in and end <= into_tail:
        return None
    position = np.arange(start, end, dtype=np.float32)
    level = np.ones(end - start, np.float32)
    if voice.fade_in:
        level = np.minimum(level, (position + 0.5) / voice.fade_in)
    if voice.fade_out:
        level = np.minimum(level, (voice.length - position - 0.5) / voice.fade_out)
    level = np.clip(level, 0, 1)
    shaped: Samples = np.sin(level * (np.pi / 2)).astype(np.float32) if voice.power else level.astype(np.float32)
    return shaped


def to_pcm(samples: Samples) -> npt.NDArray[np.int16]:
    """Float samples to 16 bit, held at full scale."""
    return (np.clip(samples, -1, 1) * 32767).astype(np.int16)
