"""What is said: word errors, when words begin, fillers, and how long it takes, for each model; voices that speak."""

from __future__ import annotations

import statistics
import tempfile
import time
import wave
from collections.abc import Callable, Sequence
from difflib import SequenceMatcher
from pathlib import Path

import numpy as np
from scipy.signal import resample_poly

from glowreel.core.speech.fillers import slips
from glowreel.core.speech.transcript import from_facts, plain
from glowreel.core.speech.voices import VOICES
from glowreel.engine.ingest import make_samples
from glowreel.engine.spoken import speak
from glowreel.engine.transcript import write_down
from glowreel.outside.models import MODELS, ModelFolder

Show = Callable[[str, str, str, bool], None]
RATE = 48_000
MODELS_AT = Path("var/models")
LINES = (
    "Our dawn flights over the valley", "um", "begin every Sunday in spring.", "We take eight people", "uh",
    "in one basket,", "and breakfast waits when you land.", "Book two seats", "er", "and bring a friend along.",
    "The whole flight costs two hundred euros.",
)  # fmt: skip
FILLED = {"um", "uh", "er"}


def _spoken(noise: float) -> tuple[np.ndarray, list[tuple[str, float]]]:
    """The narration, piece by piece with quiet between them, and when each piece begins (seconds)."""
    from hibari import Hibari

    voice, line, starts, at = Hibari(), [np.zeros(RATE // 2)], [], 0.5
    for piece in LINES:
        made = resample_poly(np.asarray(voice(piece), np.float64), 2, 1)
        made *= 0.4 / np.abs(made).max()
        loud = np.flatnonzero(np.abs(made) > 0.02)
        made = made[loud[0] : loud[-1] + 1]
        starts.append((piece, at))
        line += [made, np.zeros(int(0.3 * RATE))]
        at += len(made) / RATE + 0.3
    whole = np.concatenate([*line, np.zeros(RATE // 2)])
    return whole + noise * np.random.default_rng(1).standard_normal(len(whole)), starts


def errors(wanted: Sequence[str], heard: Sequence[str]) -> float:
    """The word error rate: what was put in, left out and changed, of the words that were said."""
    wrong = 0
    for kind, a, b, first, last in SequenceMatcher(None, wanted, heard, autojunk=False).get_opcodes():
        wrong += 0 if kind == "equal" else max(b - a, last - first)
    return wrong / max(1, len(wanted))


def _written(path: Path, line: np.ndarray) -> None:
    with wave.open(str(path), "wb") as out:
        out.setnchannels(1)
        out.setsampwidth(2)
        out.setframerate(RATE)
        out.writeframes((np.clip(line, -1, 1) * 32767).astype(np.int16).tobytes())


def transcripts(show: Show, recordings: Sequence[tuple[Path, str]] = ()) -> None:
    folder = ModelFolder(MODELS_AT)
    for name, model in MODELS.items():
        if model.marks != "model.bin" or not folder.ready(name):
            continue
        for label, noise in (("narration", 0.0005), ("narration over noise", 0.02)):
            line, starts = _spoken(noise)
            facts, took = _heard(line, folder.path(name))
            words = [plain(row[0]) for row in facts["words"]]
            wanted = [plain(word) for piece in LINES for word in piece.split() if plain(word) not in FILLED]
            rate = errors(wanted, [word for word in words if word not in FILLED])
            off = _off(facts["words"], starts)
            found = [slip for slip in slips(from_facts("x", facts).words, "en") if slip.kind == "filler"]
            share = took / (len(line) / RATE)
            show(f"{name}, {label}: word errors", f"{rate * 100:.1f} %", "", True)
            show(f"{name}, {label}: beginnings of words, median / p90",
                 _spread(off), "", True)  # fmt: skip
            show(f"{name}, {label}: fillers found", f"{len(found)} of {sum(p in FILLED for p in LINES)}", "", True)
            show(f"{name}, {label}: time", f"{share:.2f} × real time", "< 0.25 ×", share < 0.25)
        for path, text in recordings:
            with tempfile.TemporaryDirectory() as made:
                make_samples(path, Path(made) / "samples")
                began = time.perf_counter()
                facts = write_down(Path(made) / "samples", {}, folder.path(name))
                took = time.perf_counter() - began
                length = (Path(made) / "samples").stat().st_size / (4 * RATE)
            rate = errors([plain(word) for word in text.split()], [plain(row[0]) for row in facts["words"]])
            show(f"{name}, {path.name}: word errors", f"{rate * 100:.1f} %, {took / length:.2f} × real time",
                 "< 0.25 ×", took / length < 0.25)  # fmt: skip


def _spread(off: Sequence[float]) -> str:
    return f"{statistics.median(off) * 1000:.0f} / {sorted(off)[int(len(off) * 0.9)] * 1000:.0f} ms"


def _heard(line: np.ndarray, model: Path) -> tuple[dict, float]:  # type: ignore[type-arg]
    with tempfile.TemporaryDirectory() as made:
        _written(Path(made) / "line.wav", line)
        make_samples(Path(made) / "line.wav", Path(made) / "samples")
        began = time.perf_counter()
        facts = write_down(Path(made) / "samples", {}, model)
        return facts, time.perf_counter() - began


def _off(rows: Sequence[Sequence], starts: Sequence[tuple[str, float]]) -> list[float]:  # type: ignore[type-arg]
    """How far the first word of each piece is from when it is loud first, in seconds."""
    found, place = [], 0
    for piece, at in starts:
        first = plain(piece.split()[0])
        here = next((n for n in range(place, len(rows)) if plain(rows[n][0]) == first), None)
        if here is not None:
            found.append(abs(rows[here][1] / 1000 - at))
            place = here + 1
    return found


def voices(show: Show) -> None:
    folder = ModelFolder(MODELS_AT)
    text = "Fly at first light. Our balloons rise over the valley every Sunday, and breakfast waits when you land."
    for name, voice in VOICES.items():
        if voice.model and not folder.ready(voice.model):
            continue
        model = folder.path(voice.model) if voice.model else None
        speak("Ready.", name, 1.0, {}, model)
        began = time.perf_counter()
        line, rows = speak(text, name, 1.0, {}, model)
        took = time.perf_counter() - began
        lasts = len(line) / RATE
        show(f"voice {name}", f"{took / lasts:.2f} × real time for {lasts:.1f} s", "", True)
        if folder.ready("speech-many"):
            facts, _ = _heard(line, folder.path("speech-many"))
            words = [plain(row[0]) for row in facts["words"]]
            rate = errors([plain(word) for word in text.split()], words)
            starts = {plain(row[0]): row[1] for row in facts["words"]}
            off = [abs(starts[plain(row[0])] - row[1]) for row in rows if plain(row[0]) in starts and
                   words.count(plain(row[0])) == 1]  # fmt: skip
            show(f"voice {name}: understood by the model, words off by",
                 f"{rate * 100:.0f} % wrong, {statistics.median(off):.0f} / {sorted(off)[int(len(off) * 0.9)]:.0f} ms",
                 "", True)  # fmt: skip
