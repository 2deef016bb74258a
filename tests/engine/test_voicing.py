"""Voices: speech is found, made clearer, its noise taken out, its room laid into holes. The voice is synthesised."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from glowreel.core.errors import BadMedia
from glowreel.engine.roomtone import LONG, make_tone
from glowreel.engine.soundcopy import stored_samples
from glowreel.engine.speech import kind_of, listen
from glowreel.engine.voicing import make_voice, take_noise_out
from tests.voice import RATE, talk


def written(path: Path, line: np.ndarray) -> Path:
    """A sound copy of mono samples."""
    pcm = (np.clip(line, -1, 1) * 32767).astype(np.int16)
    np.repeat(pcm[:, None], 2, axis=1).tofile(path)
    return path


def test_speech_begins_and_ends_where_somebody_speaks(tmp_path: Path) -> None:
    line, spans = talk(0.0005)
    heard, found = listen(written(tmp_path / "talk", line))
    assert heard == "voice"
    assert abs(found[0][0] / 100 - spans[0][0]) < 0.04
    assert abs(found[-1][1] / 100 - spans[-1][1]) < 0.08
    pause = [b - a for (_, a), (b, _) in zip(found, found[1:], strict=False)]
    assert max(pause) > 180, "the long pause is none"


def test_what_a_sound_most_likely_is(tmp_path: Path) -> None:
    chance = np.random.default_rng(1)
    t = np.arange(RATE * 12) / RATE
    wind = written(tmp_path / "wind", 0.05 * chance.standard_normal(len(t)))
    assert listen(wind) == ("ambience", ())
    beat = 0.4 * np.sin(2 * np.pi * 220 * t) * np.exp(-(t % 0.5) * 9)
    assert listen(written(tmp_path / "beat", beat)) == ("music", ())
    assert listen(written(tmp_path / "hit", beat[: RATE // 2]))[0] == "effects"
    assert listen(written(tmp_path / "none", np.zeros(0))) == ("effects", ())
    assert kind_of((), np.full(3000, -90, np.float32)) == "ambience"


def power(line: np.ndarray) -> float:
    return float(10 * np.log10((line.astype(np.float64) ** 2).mean() + 1e-12))


def lag(a: np.ndarray, b: np.ndarray) -> int:
    size = 1 << (len(a) + len(b)).bit_length()
    across = np.fft.irfft(np.fft.rfft(b.astype(float), size) * np.conj(np.fft.rfft(a.astype(float), size)), size)
    at = int(np.argmax(across))
    return at if at < size // 2 else at - size


def test_noise_goes_and_the_voice_stays_where_it_was(tmp_path: Path) -> None:
    noisy, spans = talk(0.03)
    clean, _ = talk()
    samples = written(tmp_path / "noisy", noisy)
    take_noise_out(samples, tmp_path / "quiet", lambda share: None)
    made = stored_samples(tmp_path / "quiet")[:, 0] / 32768
    assert len(made) == len(noisy)
    assert abs(lag(clean, made)) <= 48
    pause = slice(int(RATE * 0.3), int(RATE * 1.3))
    assert power(made[pause]) < power(noisy[pause]) - 20
    words = slice(int(RATE * spans[0][0]), int(RATE * spans[0][1]))
    better = lambda line: power(clean[words]) - power(line[words] - clean[words])  # noqa: E731
    assert better(made) > better(noisy) + 4, "it is nearer to the voice without noise"
    make_voice(samples, tmp_path / "quiet", {"noise": 0.5}, tmp_path / "half", lambda share: None)
    mixed = stored_samples(tmp_path / "half")[:, 0] / 32768
    assert np.abs(mixed - (noisy.clip(-1, 1) + made) / 2).max() < 2e-3


def test_a_clear_voice_has_less_rumble_more_presence_and_is_as_long(tmp_path: Path) -> None:
    line, _ = talk(0.002)
    line = line + 0.05 * np.sin(2 * np.pi * 35 * np.arange(len(line)) / RATE)
    samples = written(tmp_path / "talk", line)
    make_voice(samples, None, {"clear": 1.0}, tmp_path / "clear", lambda share: None)
    made = stored_samples(tmp_path / "clear")[:, 0] / 32768
    assert len(made) == len(line)
    assert abs(lag(line, made)) < 48

    def share(samples: np.ndarray, low: float, high: float) -> float:
        spectrum = np.abs(np.fft.rfft(samples)) ** 2
        tones = np.fft.rfftfreq(len(samples), 1 / RATE)
        return 10 * np.log10(spectrum[(tones > low) & (tones < high)].sum() / spectrum[tones > 150].sum())

    assert share(made, 20, 50) < share(line, 20, 50) - 12
    assert share(made, 2500, 5000) > share(line, 2500, 5000) + 1.5


def test_loud_and_quiet_come_nearer_pauses_are_hushed_and_speakers_alike(tmp_path: Path) -> None:
    line, spans = talk(0.001)
    middle = int(RATE * (spans[0][1] + 1))
    uneven = np.concatenate([line[:middle], line[middle:] * 0.25])
    samples = written(tmp_path / "talk", uneven)
    words = [slice(int(RATE * a), int(RATE * b)) for a, b in spans]

    def made(**settings: object) -> np.ndarray:
        make_voice(samples, None, settings, tmp_path / "made", lambda share: None)
        return stored_samples(tmp_path / "made")[:, 0] / 32768

    apart = lambda line: power(line[words[0]]) - power(line[words[1]])  # noqa: E731
    assert apart(uneven) > 10
    assert apart(made(evened=1.0)) < apart(uneven) - 5
    assert abs(apart(made(alike=True))) < 2
    pause = slice(int(RATE * 0.3), int(RATE * 1.3))
    assert power(made(hushed=1.0)[pause]) < power(uneven[pause]) - 15
    clicks = uneven.copy()
    clicks[int(RATE * 0.7)] += 0.6
    assert np.abs(clicks[pause]).max() > 0.5
    samples = written(tmp_path / "clicks", clicks)
    assert np.abs(made(softened=1.0)[pause]).max() < 0.2


def test_the_tone_of_a_room_goes_round_without_a_seam(tmp_path: Path) -> None:
    line, _ = talk(0.004)
    facts = make_tone(written(tmp_path / "talk", line), tmp_path / "tone", lambda share: None)
    tone = stored_samples(tmp_path / "tone")[:, 0] / 32768
    assert len(tone) == LONG * RATE
    assert abs(power(tone) - power(line[int(RATE * 0.2) : int(RATE * 1.2)])) < 1.5, "at its level"
    assert abs(facts["level"] - power(tone)) < 1.5
    round_and_round = np.concatenate([tone[-RATE // 10 :], tone[: RATE // 10]])
    steps = np.abs(np.diff(round_and_round))
    assert steps.max() < 1.5 * np.abs(np.diff(tone)).max()
    levels = [power(part) for part in np.array_split(tone, 60)]
    assert max(levels) - min(levels) < 3, "nothing swells where pieces meet"
    loud = 0.3 * np.sin(2 * np.pi * 300 * np.arange(RATE * 5) / RATE)
    with pytest.raises(BadMedia, match="no quiet stretch"):
        make_tone(written(tmp_path / "loud", loud), tmp_path / "none", lambda share: None)
