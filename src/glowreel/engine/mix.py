"""Mixing a span of sound: float32 stereo at 48 kHz."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from glowreel.core.recipe.model import SoundRecipe, Voice
from glowreel.engine.sources import Sources

Samples = npt.NDArray[np.float32]


def mix(recipe: SoundRecipe, sources: Sources) -> Samples:
    """The span's samples, shape (n, 2). Not limited: sums may pass ±1 and are held where they are encoded."""
    out: Samples = np.zeros((recipe.length, 2), np.float32)
    for voice in recipe.voices:
        first = max(0, -voice.at)
        last = min(voice.length, recipe.length - voice.at)
        stored = sources.sound(voice.source)
        start = voice.source_at + first
        part = stored[start : min(voice.source_at + last, len(stored))]
        if not len(part):
            continue
        heard = part.astype(np.float32) * np.float32(voice.gain / 32768)
        envelope = fade_envelope(voice, first, first + len(part))
        if envelope is not None:
            heard *= envelope[:, None]
        out[voice.at + first : voice.at + first + len(part)] += heard
    return out


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
