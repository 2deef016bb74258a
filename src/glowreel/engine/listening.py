"""The words of a few seconds of speech, at once: roughly, and without when they were said."""

from __future__ import annotations

import threading
from functools import lru_cache
from pathlib import Path
from typing import Any

import numpy as np

from glowreel.engine.transcript import RATE

LONGEST = 8.0
"""Seconds that are listened to at once."""
MOST_TOKENS = 60
_ONE = threading.Lock()
"""A model serves one at a time: two would only be late together."""


def words_in(sound: bytes, model: Path, language: str | None) -> list[str]:
    """The words of a stretch of speech, 16-bit samples of one channel at 16 kHz; of its end where it is long."""
    samples = np.frombuffer(sound[: len(sound) // 2 * 2], np.int16)[-int(LONGEST * RATE) :]
    with _ONE:
        found, _ = _loaded(str(model)).transcribe(
            samples.astype(np.float32) / 32768, language=language, beam_size=1, vad_filter=True,
            condition_on_previous_text=False, without_timestamps=True, max_new_tokens=MOST_TOKENS, temperature=0.0,
        )  # fmt: skip
        return [word for segment in found for word in segment.text.split()]


@lru_cache(maxsize=2)
def _loaded(model: str) -> Any:
    from faster_whisper import WhisperModel  # Takes seconds to come: only where it is needed.

    return WhisperModel(model, device="cpu", compute_type="int8", cpu_threads=1)
