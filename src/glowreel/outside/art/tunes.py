"""Music from a few parameters, and effects: stereo samples at 48 kHz, float32, (n, 2), no louder than 0.9."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

RATE = 48_000
Sound = npt.NDArray[np.float32]

MAJOR, MINOR, DORIAN = (0, 2, 4, 5, 7, 9, 11), (0, 2, 3, 5, 7, 8, 10), (0, 2, 3, 5, 7, 9, 10)


@dataclass(frozen=True)
class Mood:
    """How music of a mood is made: its scale, degrees of the chords, speed in beats a minute, how bright its tones are,
    and which parts play."""

    scale: tuple[int, ...]
    chords: tuple[tuple[int, ...], ...]
    beats: tuple[int, int]
    bright: float
    playing: str

    @property
    def parts(self) -> frozenset[str]:
        return frozenset(self.playing.split())


MOODS: dict[str, Mood] = {
    "calm": Mood(MAJOR, ((0, 5, 3, 4), (0, 2, 5, 3)), (64, 78), 0.25, "pad bass bells"),
    "happy": Mood(MAJOR, ((0, 4, 5, 3), (0, 3, 4, 4)), (108, 124), 0.5, "pad bass pluck drums"),
    "driven": Mood(DORIAN, ((0, 0, 3, 6), (0, 6, 3, 4)), (122, 134), 0.55, "bass pulse drums pluck"),
    "dreamy": Mood(MAJOR, ((3, 0, 4, 5), (0, 3, 0, 4)), (70, 84), 0.35, "pad bells pluck"),
    "grand": Mood(MINOR, ((0, 5, 2, 6), (0, 3, 5, 4)), (84, 96), 0.45, "pad bass lead drums"),
    "playful": Mood(MAJOR, ((0, 5, 1, 4), (0, 1, 3, 4)), (100, 116), 0.4, "bass pluck claps"),
    "mysterious": Mood(MINOR, ((0, 5, 0, 4), (0, 1, 0, 6)), (72, 88), 0.3, "pad bass pulse"),
    "elegant": Mood(DORIAN, ((0, 3, 6, 2), (0, 4, 3, 0)), (88, 102), 0.35, "pad bass pluck claps"),
}  # fmt: skip
"""By name."""


@dataclass(frozen=True)
class Tune:
    """A piece of music: its mood, its key in half tones over C, its length in bars of four, and its chance."""

    mood: str
    key: int
    bars: int
    seed: int

    @property
    def beats(self) -> int:
        """Beats a minute."""
        slow, fast = MOODS[self.mood].beats
        return slow + self.seed * 7 % (fast - slow + 1)

    @property
    def seconds(self) -> float:
        return self.bars * 240 / self.beats + 2


def tone(midi: float, seconds: float, attack: float, release: float, bright: float) -> Sound:
    """A note of a few partials with an envelope, mono. `bright` is the strength of the upper ones."""
    count = int(seconds * RATE)
    time = np.arange(count, dtype=np.float32) / RATE
    hertz = 440.0 * 2 ** ((midi - 69) / 12)
    wave = np.zeros(count, np.float32)
    for partial in range(5):
        turns = np.float32(2 * np.pi * hertz * (partial + 1)) * time * np.float32(1 + 0.0006 * partial)
        wave += np.float32(bright**partial / (partial + 1)) * np.sin(turns, dtype=np.float32)
    rise = np.minimum(1, time / attack)
    fall = np.exp(-time / release) * np.minimum(1, (seconds - time) / 0.02)
    return np.asarray(wave * rise * fall, np.float32)


def add(track: Sound, at: float, sound: Sound, gain: float) -> None:
    """Adds a sound to a mono track, from a second on."""
    start = int(at * RATE)
    part = sound[: max(0, len(track) - start)]
    track[start : start + len(part)] += part * np.float32(gain)


def kick() -> Sound:
    time = np.arange(int(0.28 * RATE), dtype=np.float32) / RATE
    return np.asarray(np.sin(2 * np.pi * (44 * time + 5.5 * (1 - np.exp(-time * 28)))) * np.exp(-time * 13), np.float32)


def hiss(random: np.random.Generator, seconds: float, fall: float) -> Sound:
    """A burst of bright noise."""
    count = int(seconds * RATE)
    noise = np.diff(random.standard_normal(count + 1))
    return np.asarray(noise * np.exp(-np.arange(count) / RATE * fall), np.float32)


def compose(tune: Tune) -> Sound:
    """The whole piece: parts come in one after another and leave before the last chord."""
    mood, random = MOODS[tune.mood], np.random.default_rng(tune.seed)
    bar = 240 / tune.beats
    left = np.zeros(int(tune.seconds * RATE), np.float32)
    right = np.zeros_like(left)
    degrees = mood.chords[tune.seed % len(mood.chords)]
    beats = {"kick": kick(), "hat": hiss(random, 0.06, 90), "clap": hiss(random, 0.14, 28)}
    for number in range(tune.bars):
        root = degrees[number % len(degrees)]
        chord = [_pitch(mood, tune.key, root + step) for step in (0, 2, 4, 6 if "bells" in mood.parts else 7)]
        leaving = number >= tune.bars - 1
        _bar(mood, chord, number * bar, bar, number / tune.bars, (left, right), beats, tune.seed, leaving)
    for step in (0, 2, 4):
        add(left, tune.bars * bar, tone(_pitch(mood, tune.key, step), 2, 0.02, 0.9, mood.bright), 0.14)
        add(right, tune.bars * bar, tone(_pitch(mood, tune.key, step), 2, 0.02, 0.9, mood.bright), 0.14)
    return _levelled(np.stack([left, right], axis=1))


def _pitch(mood: Mood, key: int, degree: int) -> int:
    octave, step = divmod(degree, 7)
    return 60 + key + mood.scale[step] + 12 * octave


def _bar(
    mood: Mood, chord: list[int], now: float, bar: float, build: float, sides: tuple[Sound, Sound],
    beats: dict[str, Sound], seed: int, leaving: bool,
) -> None:  # fmt: skip
    left, right = sides
    beat = bar / 4
    if "pad" in mood.parts:
        for number, note in enumerate(chord):
            add(sides[number % 2], now, tone(note, bar + 0.4, 0.3, 2.6, mood.bright), 0.11)
    if "bass" in mood.parts and (build > 0.1 or not mood.parts & {"pad", "pulse"}):
        for at, long in ((0, 1.6), (2.5, 0.9)):
            sound = tone(chord[0] - 24, beat * long, 0.01, 0.8, 0.4)
            add(left, now + at * beat, sound, 0.22)
            add(right, now + at * beat, sound, 0.22)
    if "pulse" in mood.parts:
        for step in range(8):
            add(sides[step % 2], now + step * beat / 2, tone(chord[0] - 12, 0.3, 0.004, 0.12, 0.6), 0.13)
    if "pluck" in mood.parts and build > 0.2:
        for step in range(8):
            note = chord[(step * 3 + seed) % len(chord)] + 12
            add(
                sides[step % 2],
                now + step * beat / 2,
                tone(note, 0.6, 0.004, 0.17, mood.bright),
                0.1 + 0.04 * (step % 4 == 0),
            )
    if "bells" in mood.parts and build > 0.15:
        for late in (0.0, 1.5, 3.0):
            note = chord[int(late * 2 + seed) % len(chord)] + 24
            add(sides[int(late) % 2], now + late * beat, tone(note, 1.8, 0.003, 0.7, 0.2), 0.07)
    if "lead" in mood.parts and build > 0.35:
        for step in range(4):
            note = chord[(step + seed) % 3] + 12
            add(sides[step % 2], now + step * beat, tone(note, beat * 1.1, 0.05, 0.7, 0.5), 0.09)
    if "drums" in mood.parts and build > 0.2 and not leaving:
        for step in range(4):
            if step % 2 == 0:
                for side in sides:
                    add(side, now + step * beat, beats["kick"], 0.4 + 0.15 * build)
            add(sides[step % 2], now + (step + 0.5) * beat, beats["hat"], 0.05 + 0.05 * build)
    if "claps" in mood.parts and build > 0.25 and not leaving:
        for step in (1, 3):
            for side in sides:
                add(side, now + step * beat, beats["clap"], 0.07)


def _levelled(sound: Sound, most: float = 0.82, tail: float = 0.5) -> Sound:
    """As loud as it may be, its last seconds faded out."""
    sound *= most / max(1e-6, float(np.abs(sound).max()))
    faded = min(len(sound), int(tail * RATE))
    sound[-faded:] *= np.linspace(1, 0, faded, dtype=np.float32)[:, None]
    return sound


def _noise(random: np.random.Generator, count: int, width: int) -> Sound:
    raw = random.standard_normal(count + width).astype(np.float32)
    sums = np.cumsum(raw, dtype=np.float64)
    return np.asarray((sums[width:] - sums[:-width])[:count] / width, np.float32)


def _time(seconds: float) -> Sound:
    return np.asarray(np.arange(int(seconds * RATE)) / RATE, np.float32)


Make = Callable[[float, np.random.Generator], Any]


def _wind(seconds: float, random: np.random.Generator) -> Any:
    time = _time(seconds)
    return _noise(random, len(time), 160) * (0.5 + 0.3 * np.sin(time * 0.9) + 0.2 * np.sin(time * 2.3 + 1))


def _rain(seconds: float, random: np.random.Generator) -> Any:
    time = _time(seconds)
    drops = np.zeros(len(time), np.float32)
    for at in random.uniform(0, seconds, int(seconds * 24)):
        add(drops, float(at), hiss(random, 0.02, 260), float(random.uniform(0.1, 0.5)))
    return _noise(random, len(time), 6) * 0.5 + drops


def _surf(seconds: float, random: np.random.Generator) -> Any:
    time = _time(seconds)
    return _noise(random, len(time), 22) * (
        0.15 + np.maximum(0, np.sin(time * 0.75 + float(random.uniform(0, 3)))) ** 2
    )


def _fire(seconds: float, random: np.random.Generator) -> Any:
    time = _time(seconds)
    sound = _noise(random, len(time), 90) * 1.6
    for at in random.uniform(0, seconds, int(seconds * 9)):
        add(sound, float(at), hiss(random, 0.012, 500), float(random.uniform(0.2, 0.8)))
    return sound


def _thunder(seconds: float, random: np.random.Generator) -> Any:
    time = _time(seconds)
    return (
        _noise(random, len(time), 420) * np.exp(-time * 0.9) * (1 + 0.6 * np.sin(time * 7)) * np.minimum(1, time * 18)
    )


def _whoosh(seconds: float, random: np.random.Generator) -> Any:
    time = _time(seconds)
    shape = np.sin(np.pi * time / seconds) ** 3
    return (
        _noise(random, len(time), 30) * (1 - time / seconds) + _noise(random, len(time), 7) * time / seconds
    ) * shape


def _riser(seconds: float, random: np.random.Generator) -> Any:
    time = _time(seconds)
    share = time / seconds
    sweep = np.sin(2 * np.pi * (180 * time + 500 * time * share**2 / 3)) * 0.4
    return (_noise(random, len(time), 9) * 0.8 + sweep) * share**2.2


def _drop(seconds: float, random: np.random.Generator) -> Any:
    time = _time(seconds)
    return np.sin(2 * np.pi * (90 * time + 60 * (1 - np.exp(-time * 3)))) * np.exp(-time * 2.2)


def _hit(seconds: float, random: np.random.Generator) -> Any:
    time = _time(seconds)
    return np.sin(2 * np.pi * (52 * time + 4 * (1 - np.exp(-time * 22)))) * np.exp(-time * 3) + _noise(
        random, len(time), 5
    ) * np.exp(-time * 24)


def _click(seconds: float, random: np.random.Generator) -> Any:
    time = _time(seconds)
    return np.sin(2 * np.pi * 1900 * time) * np.exp(-time * 240) + _noise(random, len(time), 2) * np.exp(-time * 900)


def _pop(seconds: float, random: np.random.Generator) -> Any:
    time = _time(seconds)
    return np.sin(2 * np.pi * (320 * time + 900 * time**2)) * np.exp(-time * 32)


def _chime(seconds: float, random: np.random.Generator) -> Any:
    sound = np.zeros(int(seconds * RATE), np.float32)
    start = int(random.integers(76, 84))
    for number, step in enumerate((0, 4, 7, 12)):
        add(sound, number * 0.09, tone(start + step, seconds - number * 0.09, 0.002, 0.5, 0.2), 0.3)
    return sound


def _bell(seconds: float, random: np.random.Generator) -> Any:
    time, base = _time(seconds), float(random.uniform(520, 880))
    parts = ((1, 1.0), (2.0, 0.6), (2.76, 0.4), (5.4, 0.25))
    return np.asarray(
        sum(size * np.sin(2 * np.pi * base * ratio * time) * np.exp(-time * ratio) for ratio, size in parts), np.float32
    )


def _sparkle(seconds: float, random: np.random.Generator) -> Any:
    sound = np.zeros(int(seconds * RATE), np.float32)
    for number in range(int(seconds * 14)):
        add(
            sound,
            number / 14,
            tone(float(random.integers(88, 108)), 0.5, 0.002, 0.12, 0.1),
            float(random.uniform(0.1, 0.35)),
        )
    return sound


def _clock(seconds: float, random: np.random.Generator) -> Any:
    sound = np.zeros(int(seconds * RATE), np.float32)
    for number in range(int(seconds * 2)):
        add(sound, number / 2, _click(0.05, random), 0.8 if number % 2 else 0.6)
    return sound


def _heart(seconds: float, random: np.random.Generator) -> Any:
    sound = np.zeros(int(seconds * RATE), np.float32)
    for number in range(int(seconds / 0.85)):
        for late, gain in ((0.0, 0.9), (0.24, 0.6)):
            add(sound, number * 0.85 + late, _hit(0.2, random) * 0.8, gain)
    return sound


def _claps(seconds: float, random: np.random.Generator) -> Any:
    sound = np.zeros(int(seconds * RATE), np.float32)
    for at in random.uniform(0, max(0.1, seconds - 0.2), int(seconds * 70)):
        late = min(1.0, (seconds - at) / 1.5)
        add(sound, float(at), hiss(random, 0.05, 70), float(random.uniform(0.2, 0.6)) * late)
    return sound


def _roll(seconds: float, random: np.random.Generator) -> Any:
    sound = np.zeros(int(seconds * RATE), np.float32)
    for number in range(int(seconds * 20)):
        share = number / (seconds * 20)
        add(
            sound,
            number / 20,
            _noise(random, 3800, 4) * np.exp(-np.arange(3800, dtype=np.float32) / 900),
            0.3 + 0.7 * share,
        )
    add(sound, seconds - 0.6, _hit(0.6, random), 1.4)
    return sound


def _typing(seconds: float, random: np.random.Generator) -> Any:
    sound, at = np.zeros(int(seconds * RATE), np.float32), 0.0
    while at < seconds:
        add(
            sound,
            at,
            hiss(random, 0.03, 180) + _click(0.03, random)[: int(0.03 * RATE)] * 0.3,
            float(random.uniform(0.4, 0.9)),
        )
        at += float(random.choice((0.09, 0.12, 0.16, 0.3)))
    return sound


def _shutter(seconds: float, random: np.random.Generator) -> Any:
    sound = np.zeros(int(seconds * RATE), np.float32)
    for at in (0.0, 0.11):
        add(sound, at, hiss(random, 0.05, 110), 0.8)
        add(sound, at, _click(0.05, random), 0.5)
    return sound


@dataclass(frozen=True)
class Effect:
    """An effect: how it is made, how long it is in seconds, and the words it goes by."""

    make: Make
    seconds: float
    words: str
    mood: str


EFFECTS: dict[str, Effect] = {
    "wind": Effect(_wind, 8, "wind breeze air outside weather", "calm"),
    "rain": Effect(_rain, 8, "rain drops weather storm wet", "calm"),
    "surf": Effect(_surf, 10, "surf sea waves beach water ocean", "calm"),
    "fire": Effect(_fire, 8, "fire fireplace crackle camp burning", "cosy"),
    "thunder": Effect(_thunder, 5, "thunder storm weather lightning", "grand"),
    "whoosh": Effect(_whoosh, 0.8, "whoosh swish transition fly by fast", "driven"),
    "riser": Effect(_riser, 3, "riser build tension before a cut", "driven"),
    "drop": Effect(_drop, 1.6, "drop fall low boom", "grand"),
    "hit": Effect(_hit, 1.4, "hit impact strike title", "grand"),
    "click": Effect(_click, 0.2, "click button press mouse", "playful"),
    "pop": Effect(_pop, 0.3, "pop bubble appear cork", "playful"),
    "chime": Effect(_chime, 2, "chime success notice arrival bell", "happy"),
    "bell": Effect(_bell, 2.5, "bell ring shop door reception", "friendly"),
    "sparkle": Effect(_sparkle, 2, "sparkle magic glitter stars shine", "dreamy"),
    "clock": Effect(_clock, 5, "clock ticking time waiting countdown", "mysterious"),
    "heart": Effect(_heart, 5, "heartbeat pulse love tension", "mysterious"),
    "claps": Effect(_claps, 4, "applause clapping audience crowd cheering", "happy"),
    "roll": Effect(_roll, 3, "drum roll announcement winner", "playful"),
    "typing": Effect(_typing, 4, "typing keyboard writing computer office", "focused"),
    "shutter": Effect(_shutter, 0.4, "camera shutter photo snapshot", "elegant"),
}


def effect(name: str, seed: int) -> Sound:
    """An effect in one of its takes."""
    row = EFFECTS[name]
    random = np.random.default_rng(seed * 97 + len(name))
    mono = np.asarray(row.make(row.seconds * (1 + 0.15 * (seed % 3 - 1)), random), np.float32)
    return _levelled(np.stack([mono, np.roll(mono, 180)], axis=1), 0.85, 0.02)
