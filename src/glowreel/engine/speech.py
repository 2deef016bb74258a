"""When somebody speaks in a sound, and what it is most likely: a voice, music, an effect, or the sound of a place.

Speech is found by a model (Silero, behind `faster_whisper.vad`), an eighth of the way between its windows by how loud
it is. What it is follows from that, from how long it is and from how evenly it goes on.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt

from glowreel.core.media import MOST_SPEECH, HeardAs
from glowreel.core.time import SAMPLE_RATE
from glowreel.engine.soundcopy import stored_samples

RATE = 16_000
STEP = SAMPLE_RATE // RATE
CHUNK = 60
"""Seconds that are looked at in one go."""
SHORTEST, PAUSE, PAD = 0.2, 0.25, 0.1
"""Of a word, of a pause, and how far its edges are looked for beyond what the model says; seconds."""
QUIETER = 28.0
"""By how many decibels the edge of speech is more quiet than its loudest."""
EFFECT_SECONDS = 8.0
Line = npt.NDArray[np.float32]
Spans = tuple[tuple[int, int], ...]


def listen(samples: Path, tell: Callable[[float], None] = lambda share: None) -> tuple[HeardAs, Spans]:
    """What a sound copy most likely is, and when somebody speaks in it (hundredths of a second)."""
    stereo = stored_samples(samples)
    found: list[tuple[int, int]] = []
    levels: list[Line] = []
    for first in range(0, len(stereo), CHUNK * SAMPLE_RATE):
        block = stereo[first : first + CHUNK * SAMPLE_RATE].mean(axis=1, dtype=np.float32) / 32768
        levels.append(_levels(block))
        found += [(a + first * 100 // SAMPLE_RATE, b + first * 100 // SAMPLE_RATE) for a, b in _spoken(block)]
        tell(min(1.0, (first + len(block)) / len(stereo)))
    spans = _joined(found)
    level = np.concatenate(levels) if levels else np.zeros(0, np.float32)
    return kind_of(spans, level), spans[:MOST_SPEECH]


def _spoken(block: Line) -> list[tuple[int, int]]:
    """Spans of speech in a stretch of mono sound at 48 kHz, in hundredths of a second."""
    from faster_whisper.vad import VadOptions, get_speech_timestamps  # Takes a second to come: only where it is needed.

    whole = len(block) // STEP * STEP
    slow = np.ascontiguousarray(block[:whole].reshape(-1, STEP).mean(axis=1))
    options: Any = VadOptions(
        min_speech_duration_ms=int(SHORTEST * 1000), min_silence_duration_ms=int(PAUSE * 1000), speech_pad_ms=0
    )
    level = _levels(block)
    spans = []
    for span in get_speech_timestamps(slow, options):
        spans.append(_edges(level, span["start"] * 100 // RATE, -(-span["end"] * 100 // RATE)))
    return [(a, b) for a, b in spans if a < b]


def _levels(block: Line) -> Line:
    """How loud each hundredth of a second is, in decibels of full scale (root mean square)."""
    size = SAMPLE_RATE // 100
    whole = len(block) // size * size
    power = (block[:whole].reshape(-1, size) ** 2).mean(axis=1)
    return np.asarray(10 * np.log10(power + 1e-10), np.float32)


def _edges(level: Line, start: int, end: int) -> tuple[int, int]:
    """The edges of speech, where it rises out of and sinks into what is much more quiet."""
    pad = int(PAD * 100)
    low, high = max(0, start - pad), min(len(level), end + pad)
    part = level[low:high]
    if not len(part):
        return start, start
    loud = np.flatnonzero(part > float(np.percentile(part, 95)) - QUIETER)
    return (low + int(loud[0]), low + int(loud[-1]) + 1) if len(loud) else (start, end)


def _joined(spans: Sequence[tuple[int, int]]) -> Spans:
    made: list[tuple[int, int]] = []
    for start, end in spans:
        if made and start <= made[-1][1] + 2:
            made[-1] = made[-1][0], max(end, made[-1][1])
        else:
            made.append((start, end))
    return tuple(made)


def kind_of(spans: Spans, level: Line) -> HeardAs:
    """A guess: a voice where people speak for much of what is loud; what is short is an effect; what goes on evenly,
    without beginnings of notes, is the sound of a place; all else is music."""
    loud = int((level > -50).sum())
    if not loud:
        return "effects" if len(level) < EFFECT_SECONDS * 100 else "ambience"
    if sum(b - a for a, b in spans) / loud > 0.35:
        return "voice"
    if len(level) < EFFECT_SECONDS * 100:
        return "effects"
    heard = level[level > -60]
    # How much it changes within a tenth of a second, and over the whole.
    steps = np.abs(np.diff(heard[: len(heard) // 10 * 10].reshape(-1, 10).mean(axis=1)))
    even = float(np.percentile(steps, 90)) < 2.0 and float(np.percentile(heard, 90) - np.percentile(heard, 10)) < 9.0
    return "ambience" if even else "music"
