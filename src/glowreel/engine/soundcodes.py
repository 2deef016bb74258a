"""How sound is encoded to files: the table of its codes, and the one encoder that goes by it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np

from glowreel.core.time import SAMPLE_RATE

STEP = SAMPLE_RATE * 4
"""So many samples are mixed at a time."""
BLOCK = 960
"""Samples handed over at once where a codec does not say how many it takes."""


@dataclass(frozen=True)
class SoundCode:
    """How sound is encoded: container, codec, samples, and bits a second, 0 where it is not pressed; 48 kHz stereo."""

    container: str
    codec: str
    samples: str
    bits: int = 0


AAC = SoundCode("mp4", "aac", "fltp", 256_000)
"""At less, encoding lifts peaks that were held by up to a decibel and a half."""
OPUS = SoundCode("webm", "libopus", "flt", 160_000)
PCM = SoundCode("mov", "pcm_s16le", "s16")
SOUNDS_ALONE: dict[str, SoundCode] = {
    "m4a": SoundCode("ipod", "aac", "fltp", 256_000),
    "mp3": SoundCode("mp3", "libmp3lame", "fltp", 256_000),
    "wav": SoundCode("wav", "pcm_s16le", "s16"),
}
"""Files of sound alone, by how their names end."""


def encode_sound(
    out: Path, code: SoundCode, total: int, span: Callable[[int, int], Any],
    progress: Callable[[int, int], None] = lambda done, total: None,
) -> None:  # fmt: skip
    """Writes `total` samples to a file, a few seconds at a time; `span` gives those from one on, so many (N × 2)."""
    with av.open(str(out), "w", format=code.container) as container:
        stream: Any = container.add_stream(code.codec, rate=SAMPLE_RATE, layout="stereo")
        if code.bits:
            stream.bit_rate = code.bits
        waiting = av.AudioFifo()
        for start in range(0, total, STEP):
            last = min(STEP, total - start)
            waiting.write(_frame(np.clip(span(start, last), -1, 1), code.samples, start))
            size = stream.codec_context.frame_size or BLOCK
            for frame in waiting.read_many(size, partial=start + last >= total):
                container.mux(stream.encode(frame))
            progress(start + last, total)
        container.mux(stream.encode(None))


def _frame(span: Any, samples: str, start: int) -> Any:
    """Samples (N × 2, −1 to 1) as a frame in the manner that an encoder takes."""
    if samples == "s16":
        block = np.rint(span * 32767).astype(np.int16).reshape(1, -1)
    elif samples == "flt":
        block = span.astype(np.float32).reshape(1, -1)
    else:
        block = span.T.astype(np.float32)
    frame = av.AudioFrame.from_ndarray(np.ascontiguousarray(block), format=samples, layout="stereo")
    frame.sample_rate, frame.pts, frame.time_base = SAMPLE_RATE, start, Fraction(1, SAMPLE_RATE)
    return frame
