"""What is said in a sound, written down word by word by a Whisper model (behind `faster_whisper`).

```
sound ── 16 kHz ── model: words, roughly when, how surely ── edges by loudness ── the quietest moment between two
```
The model's times are roughly right. Where there is quiet between two words, their edges are moved to where it begins
and ends, and the quietest moment is told: that is where somebody may cut.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt

from glowreel.core.errors import Refusal
from glowreel.core.speech.transcript import LONGEST_WORD, MOST_WORDS
from glowreel.core.time import SAMPLE_RATE
from glowreel.engine.soundcopy import stored_samples
from glowreel.engine.speakers import tell_apart

RATE = 16_000
STEP = SAMPLE_RATE // RATE
THREADS = 2
HOP = 5
"""Milliseconds between two levels."""
WINDOW = 10
REACH, EARLY = 120, 500
"""How far the end of a word is looked for, and its beginning, which the model takes to be too early after a pause;
milliseconds."""
BELOW = 22.0
"""By how many decibels quiet is quieter than what is said around it."""
HESITANT = "Um, uh, so, er, I mean, like, hmm, okay."
"""What the model is told to have heard before, so that it does not smooth hesitation away."""
Line = npt.NDArray[np.float32]


def write_down(
    samples: Path, settings: Mapping[str, Any], model: Path, tell: Callable[[float], None] = lambda share: None
) -> dict[str, Any]:
    """The words of a sound copy: `language`, and `words`, each as a row of text, start, end (milliseconds), how sure
    (0 to 100), the quietest moment before it, and whose voice."""
    from faster_whisper import WhisperModel  # Takes seconds to come: only where it is needed.

    stereo = stored_samples(samples)
    whole = len(stereo) // STEP * STEP
    mono = np.asarray(stereo[:whole]).reshape(-1, STEP, stereo.shape[1]).mean(axis=(1, 2), dtype=np.float32) / 32768
    try:
        heard = WhisperModel(str(model), device="cpu", compute_type="int8", cpu_threads=THREADS)
    except (RuntimeError, ValueError) as error:
        raise Refusal(
            "bad-model", "The speech model in its folder cannot be read.", "Put another one there."
        ) from error
    language = str(settings.get("language") or "") or None
    found, about = heard.transcribe(
        mono, language=language, word_timestamps=True, vad_filter=True, condition_on_previous_text=False,
        beam_size=5 if settings.get("careful") else 1, initial_prompt=HESITANT if language in (None, "en") else None,
    )  # fmt: skip
    rows: list[list[Any]] = []
    for segment in found:
        rows += [row for word in segment.words or () if (row := _row(word)) is not None]
        tell(min(0.97, segment.end / max(about.duration, 0.1)))
        if len(rows) >= MOST_WORDS:
            break
    levels = levels_of(mono)
    rows = edged(rows[:MOST_WORDS], levels)
    speakers = tell_apart(mono, [(row[1], row[2]) for row in rows])
    return {
        "text": " ".join(row[0] for row in rows), "language": about.language,
        "sure": round(float(about.language_probability), 3),
        "words": [[*row, speaker] for row, speaker in zip(rows, speakers, strict=True)],
    }  # fmt: skip


def _row(word: Any) -> list[Any] | None:
    text = str(word.word).strip()[:LONGEST_WORD]
    if not any(letter.isalnum() for letter in text):
        return None
    start, end = round(float(word.start) * 1000), round(float(word.end) * 1000)
    return [text, start, max(start + 20, end), round(100 * float(word.probability))]


def levels_of(mono: Line) -> Line:
    """How loud it is every `HOP` milliseconds, in decibels of full scale, over a window of `WINDOW`."""
    hop, window = HOP * RATE // 1000, WINDOW * RATE // 1000
    power = np.concatenate([np.zeros(1), np.cumsum(mono.astype(np.float64) ** 2)])
    starts = np.arange(0, max(1, len(mono) - window), hop)
    mean = (power[np.minimum(starts + window, len(mono))] - power[starts]) / window
    return np.asarray(10 * np.log10(mean + 1e-10), np.float32)


def edged(rows: Sequence[list[Any]], levels: Line) -> list[list[Any]]:
    """The rows with edges where words rise out of quiet and sink into it, in order and apart; and the quietest moment
    before each."""
    made = [list(row) for row in rows]
    for number, row in enumerate(made):
        if number:
            row[1] = max(row[1], made[number - 1][1] + 10)
            row[2] = max(row[2], row[1] + 20)
    for number in range(len(made) + 1):
        before = made[number - 1] if number else None
        behind = made[number] if number < len(made) else None
        _edge(before, behind, levels)
    return made


def _edge(before: list[Any] | None, behind: list[Any] | None, levels: Line) -> None:
    """Finds the quiet between two words: where the first ends, the second begins, and the quietest moment."""
    low = before[2] - REACH if before else max(0, behind[1] - 4 * REACH) if behind else 0
    high = behind[1] + EARLY if behind else (before[2] + 4 * REACH if before else 0)
    if before:
        low = max(low, (before[1] + before[2]) // 2)
    if behind:
        high = min(high, behind[1] + (behind[2] - behind[1]) * 3 // 4)
    first, last = max(0, low // HOP), min(len(levels), high // HOP + 1)
    quiet = levels[first:last]
    if last - first < 2:
        if behind:
            behind.append(behind[1])
        return
    around = [levels[max(0, row[1] // HOP) : row[2] // HOP + 1] for row in (before, behind) if row]
    loud = float(np.percentile(np.concatenate(around), 90)) if sum(map(len, around)) else 0.0
    lowest = float(quiet.min())
    at = int(np.median(np.flatnonzero(quiet <= lowest + 1.5)))
    threshold = max(lowest + 3.0, min(loud - BELOW, lowest + 12.0))
    if lowest < loud - 8.0:
        left = at
        while left > 0 and quiet[left - 1] <= threshold:
            left -= 1
        right = at
        while right + 1 < len(quiet) and quiet[right + 1] <= threshold:
            right += 1
        if before and left > 0:
            before[2] = max(before[1] + 20, (first + left) * HOP + WINDOW // 2)
        if behind and right + 1 < len(quiet):
            behind[1] = min(behind[2] - 20, (first + right) * HOP + WINDOW // 2)
    if before and behind and before[2] > behind[1]:
        before[2] = behind[1] = max(before[1] + 20, min(behind[2] - 20, (first + at) * HOP + WINDOW // 2))
    if behind:
        spot = (first + at) * HOP + WINDOW // 2
        behind.append(max(before[2] if before else 0, min(behind[1], spot)))
