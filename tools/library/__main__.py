"""Writes the library: `python -m tools.library [FOLDER]`. Takes about five minutes."""

from __future__ import annotations

import sys
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np
import orjson

from glowreel.engine.loudness import measure_blocks
from glowreel.library import FOLDER, TABLE
from tools.library.effects import EFFECTS
from tools.library.instruments import RATE, Sound
from tools.library.moods import MOODS
from tools.library.score import FORM, LOOP, SLOW, Composer, Made

LOUDNESS, PEAK = -16.0, -1.5
"""To what loudness (LUFS) everything is mixed, and to what peak (dB) at most."""
BITS = {"song": 96_000, "loop": 96_000, "sting": 96_000, "effect": 72_000}


def levelled(sound: Sound) -> Sound:
    """A sound at the loudness of the library; short ones, of which there is none, by their peak."""
    sound = sound - sound.mean(axis=0)
    whole = measure_blocks(iter([sound / max(1.0, float(np.abs(sound).max()))]))
    peak = 20 * np.log10(float(np.abs(sound).max()) + 1e-9)
    scale = max(1.0, float(np.abs(sound).max()))
    loud = whole.loudness + 20 * np.log10(scale) if whole.loudness is not None else peak - 12
    gain = LOUDNESS - loud
    made = sound * np.float32(10 ** (gain / 20))
    # What stands out is rounded, not cut.
    top = 10 ** (PEAK / 20)
    over = np.abs(made) > 0.7 * top
    bent = np.sign(made) * top * (0.7 + 0.3 * np.tanh((np.abs(made) / top - 0.7) / 0.3))
    return np.where(over, bent, made).astype(np.float32)


def write(path: Path, sound: Sound, bits: int) -> None:
    """Ogg with Opus."""
    with av.open(str(path), "w", format="ogg") as container:
        stream: Any = container.add_stream("libopus", rate=RATE, layout="stereo")
        stream.bit_rate = bits
        for at in range(0, len(sound), 960):
            block = np.ascontiguousarray(np.clip(sound[at : at + 960], -1, 1), np.float32).reshape(1, -1)
            frame = av.AudioFrame.from_ndarray(block, format="flt", layout="stereo")
            frame.sample_rate, frame.pts, frame.time_base = RATE, at, Fraction(1, RATE)
            container.mux(stream.encode(frame))
        container.mux(stream.encode(None))


def row(key: str, name: str, sort: str, mood: str, words: str, sound: Sound, pace: float, made: Made | None,
        bright: bool) -> dict[str, Any]:  # fmt: skip
    """A line of the table, measured in the sound."""
    loud = np.abs(sound).max(axis=1)
    peaks = [round(float(part.max(initial=0)) * 255) for part in np.array_split(loud, 120)]
    power = [float(np.sqrt((part**2).mean())) if len(part) else 0.0 for part in np.array_split(sound, 10)]
    energy = [round(value / (max(power) or 1), 2) for value in power]
    size = 2048
    frames = np.lib.stride_tricks.sliding_window_view(np.pad(sound.mean(axis=1), (0, size)), size)[:: size // 2]
    spectrum = np.abs(np.fft.rfft(frames * np.hanning(size), axis=1))
    tones = np.fft.rfftfreq(size, 1 / RATE)
    middle = float((spectrum * tones).sum() / (spectrum.sum() + 1e-9))
    rise = np.maximum(0, np.diff(np.log1p(30 * spectrum), axis=0)).mean(axis=1) if len(spectrum) > 1 else np.zeros(1)
    features = [
        min(1.0, pace / 150), min(1.0, middle / 6000), min(1.0, float(rise.mean()) * 2.2),
        min(1.0, 4 * sum(power) / len(power)), 0.8 if bright else 0.2,
    ]  # fmt: skip
    return {
        "id": key, "name": name, "sort": sort, "mood": mood, "words": words, "pace": pace,
        "key": made.key if made is not None else "", "length": round(len(sound) / RATE, 3), "energy": energy,
        "peaks": peaks, "features": [round(float(value), 3) for value in features],
    }  # fmt: skip


def main(folder: Path) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    rows = []
    for number, mood in enumerate(MOODS):
        for n, pace in enumerate(mood.tempos):
            composer = Composer(mood, pace, 100 * number + 7 * n + 3)
            made = composer.song(SLOW if pace < 90 else FORM, ending=True)
            key = mood.names[n].lower().replace(" ", "-")
            sound = levelled(made.sound)
            write(folder / f"{key}.ogg", sound, BITS["song"])
            rows.append(row(key, mood.names[n], "song", mood.name, mood.words, sound, pace, made, mood.bright))
            print(key, round(len(sound) / RATE, 1), flush=True)
        for sort in ("loop", "sting"):
            composer = Composer(mood, mood.tempos[1], 100 * number + 55)
            made = composer.song(LOOP, ending=False) if sort == "loop" else composer.sting()
            key, name = f"{mood.name}-{sort}", f"{mood.name.capitalize()} {sort}"
            sound = levelled(made.sound)
            write(folder / f"{key}.ogg", sound, BITS[sort])
            pace = mood.tempos[1] if sort == "loop" else 0
            rows.append(row(key, name, sort, mood.name, mood.words, sound, pace, made, mood.bright))
    for number, effect in enumerate(EFFECTS):
        key = f"{effect.family}-{effect.name.lower().replace(' ', '-')}"
        sound = levelled(effect.make(np.random.default_rng(number + 1)).astype(np.float32))
        write(folder / f"{key}.ogg", sound, BITS["effect"])
        rows.append(row(key, effect.name, "effect", effect.family, effect.words, sound, 0, None, True))
    TABLE.write_bytes(b"[\n" + b",\n".join(orjson.dumps(one) for one in rows) + b"\n]\n")
    print(len(rows), "pieces")


main(Path(sys.argv[1]) if len(sys.argv) > 1 else FOLDER)
