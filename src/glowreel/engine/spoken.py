"""A text spoken by a neural voice, and when each of its words is said.

```
"Fly at dawn, see it all." ── pronounced ── phonemes ── model ── 24 kHz ── 48 kHz
   words' times: clauses on the stretches between pauses, words by their phonemes, edges by loudness
```
"""

from __future__ import annotations

import json
import re
import wave
from collections.abc import Mapping, Sequence
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt

from glowreel.core.errors import Refusal
from glowreel.core.speech.transcript import LONGEST_WORD, in_words
from glowreel.core.speech.voices import VOICES
from glowreel.engine.transcript import RATE, edged, levels_of
from glowreel.voices import FOLDER

MODEL_RATE, OUT_RATE = 24_000, 48_000
LOUD = 0.32
"""The peak to which what is spoken is brought."""
MOST_TOKENS = 500
PAUSE = re.compile(r"\[\s*(\d+(?:[.,]\d+)?)\s*s?\s*\]")
"""A pause that is written into a text: `[0.5 s]`."""
QUIET = 90
"""Milliseconds of quiet that are a pause between two clauses."""
Line = npt.NDArray[np.float32]


def speak(
    text: str, voice: str, speed: float, says: Mapping[str, str], model: Path | None
) -> tuple[Line, list[list[Any]]]:
    """A text as mono samples at 48 kHz, and its words as rows: text, start, end (milliseconds), how sure, and the
    quietest moment before. `says` tells how words are pronounced, by how else they would be written."""
    lines: list[Line] = []
    rows: list[list[Any]] = []
    at = 0
    pieces = PAUSE.split(text)
    for number, piece in enumerate(pieces):
        if number % 2:
            made = np.zeros(int(min(10.0, float(piece.replace(",", "."))) * OUT_RATE), np.float32)
        elif piece.strip():
            made, told = _said(piece.strip(), voice, speed, says, model)
            rows += [[word, start + at, end + at, sure, quiet + at] for word, start, end, sure, quiet in told]
        else:
            continue
        lines.append(made)
        at += len(made) * 1000 // OUT_RATE
    if not rows:
        raise Refusal("no-text", "There is nothing to be spoken.", "Type what is to be said.")
    return np.concatenate(lines), rows


def _said(
    text: str, voice: str, speed: float, says: Mapping[str, str], model: Path | None
) -> tuple[Line, list[list[Any]]]:
    words = in_words(text)
    pronounced = [_pronounced(word, says) for word in words]
    made = _spoken(" ".join(pronounced), voice, speed, model)
    peak = float(np.abs(made).max()) if len(made) else 0.0
    if peak < 1e-4:
        raise Refusal("no-voice", f"“{text[:60]}” could not be spoken.", "Write it in other words.")
    from scipy.signal import resample_poly  # Takes a second to come: only where it is needed.

    line = np.asarray(resample_poly(made * (LOUD / peak), OUT_RATE // MODEL_RATE, 1), np.float32)
    slow = np.asarray(resample_poly(line, RATE, OUT_RATE), np.float32)
    return line, timed(words, pronounced, slow)


def _pronounced(word: str, says: Mapping[str, str]) -> str:
    """A word as it is to be read: its punctuation stays."""
    bare = word.strip('.,;:!?…()"“”')
    said = says.get(bare) or says.get(bare.casefold())
    return word.replace(bare, said) if said and bare else word


def _spoken(text: str, voice: str, speed: float, model: Path | None) -> Line:
    """Samples at 24 kHz."""
    row = VOICES[voice]
    if not row.model:
        return np.asarray(_quick()(text, speed=speed), np.float32)
    assert model is not None
    session, vocabulary = _loaded(str(model))
    style = np.fromfile(FOLDER / f"{row.style}.bin", np.float32).reshape(-1, 256)
    parts = []
    for phonemes in _quick().phonemize(text):
        ids = [vocabulary[one] for one in phonemes if one in vocabulary][:MOST_TOKENS]
        if not ids:
            continue
        inputs = {
            "tokens": np.array([[0, *ids, 0]], np.int64), "style": style[min(len(ids), len(style)) - 1].reshape(1, 256),
            "speed": np.array([speed], np.float32),
        }  # fmt: skip
        made = np.asarray(session.run(None, inputs)[0], np.float32).ravel()
        loud = np.flatnonzero(np.abs(made) > 0.01)
        if len(loud):
            pad = MODEL_RATE // 20
            parts += [made[max(0, loud[0] - pad) : loud[-1] + 2 * pad], np.zeros(MODEL_RATE // 5, np.float32)]
    return np.concatenate(parts[:-1]) if parts else np.zeros(0, np.float32)


@cache
def _quick() -> Any:
    from hibari import Hibari

    return Hibari()


@cache
def _loaded(folder: str) -> tuple[Any, dict[str, int]]:
    import onnxruntime

    options = onnxruntime.SessionOptions()
    options.intra_op_num_threads = 2
    session = onnxruntime.InferenceSession(f"{folder}/model.onnx", options, providers=["CPUExecutionProvider"])
    vocabulary = json.loads((Path(folder) / "vocab.json").read_text("utf-8"))["vocab"]
    return session, vocabulary


def timed(words: Sequence[str], pronounced: Sequence[str], mono: Line) -> list[list[Any]]:
    """Rows of words with when each is said in a line of speech (16 kHz)."""
    levels = levels_of(mono)
    loud = levels > float(levels.max()) - 38
    stretches = _stretches(loud)
    clauses = _clauses(words)
    weights = [max(1, _weight(word)) for word in pronounced]
    if len(stretches) != len(clauses):
        stretches, clauses = [(stretches[0][0], stretches[-1][1])], [(0, len(words))]
    rows: list[list[Any]] = []
    for (first, last), (start, end) in zip(clauses, stretches, strict=True):
        whole, done = sum(weights[first:last]), 0
        for number in range(first, last):
            begin = start + (end - start) * done // whole
            done += weights[number]
            until = max(begin + 20, start + (end - start) * done // whole)
            rows.append([words[number][:LONGEST_WORD], begin, until, 100])
    return edged(rows, levels)


def _weight(word: str) -> int:
    """How long a word takes, in phonemes."""
    return sum(len(part.replace("ˈ", "").replace(" ", "").replace(".", "")) for part in _quick().phonemize(word))


def _stretches(loud: npt.NDArray[np.bool_]) -> list[tuple[int, int]]:
    """From when to when something is said, in milliseconds, short gaps closed."""
    places = np.flatnonzero(loud)
    if not len(places):
        return [(0, len(loud) * 5)]
    made = [[int(places[0]), int(places[0])]]
    for place in places[1:]:
        if place - made[-1][1] > QUIET // 5:
            made.append([int(place), int(place)])
        made[-1][1] = int(place)
    return [(start * 5, (end + 2) * 5) for start, end in made]


def _clauses(words: Sequence[str]) -> list[tuple[int, int]]:
    """Words between punctuation, as first and last + 1."""
    edges = [0]
    edges += [n + 1 for n, word in enumerate(words[:-1]) if word.endswith((",", ".", ";", ":", "!", "?", "…", "–"))]
    return list(zip(edges, [*edges[1:], len(words)], strict=True))


def write_line(path: Path, line: Line) -> None:
    """Samples as a WAV file, 16 bit, 48 kHz, with a breath of quiet after them."""
    quiet = np.zeros(OUT_RATE // 20, np.float32)
    data = (np.clip(np.concatenate([line, quiet]), -1, 1) * 32767).astype(np.int16)
    with wave.open(str(path), "wb") as out:
        out.setnchannels(1)
        out.setsampwidth(2)
        out.setframerate(OUT_RATE)
        out.writeframes(data.tobytes())
