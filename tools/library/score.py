"""Composing: a song of parts with a build, a motif that comes back changed, and a real ending."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tools.library.instruments import RATE, Sound, drum, note, room
from tools.library.moods import KEYS, Mood

STEPS = 16
"""Sixteenths of a bar; all songs are in four."""
TAIL = 3.0
"""Seconds that the last chord rings on."""


@dataclass(frozen=True)
class Part:
    """Bars of a song: which chords, and how much of the band plays (0 to 1)."""

    bars: int
    lift: bool
    force: float


FORM = (Part(2, False, 0.2), Part(4, False, 0.45), Part(4, False, 0.65), Part(4, True, 0.95), Part(2, False, 0.35),
        Part(4, True, 1.0))  # fmt: skip
SLOW = (Part(2, False, 0.25), Part(4, False, 0.5), Part(4, True, 0.9), Part(2, False, 0.4), Part(2, True, 1.0))
LOOP = (Part(4, False, 0.7), Part(4, True, 0.85))


@dataclass(frozen=True)
class Made:
    """A composed piece: its samples and its key."""

    sound: Sound
    key: str


class Composer:
    """Writes one song of a mood."""

    def __init__(self, mood: Mood, pace: int, seed: int) -> None:
        self.mood, self.pace = mood, pace
        self.chance = np.random.default_rng(seed)
        self.root = int(self.chance.integers(0, 12))
        self.step = 60 / pace / 4
        self.motif = self._motif()
        self.figure = self._figure()

    def degree(self, degree: int, octave: int) -> int:
        """The MIDI note of a degree of the scale."""
        scale = self.mood.scale
        return 12 * octave + self.root + scale[degree % 7] + 12 * (degree // 7)

    def _motif(self) -> list[tuple[int, int, int]]:
        """Two bars of melody: (sixteenth, steps from the chord's root, sixteenths that it lasts)."""
        rhythm = [(0, 4), (4, 2), (6, 6), (12, 4)], [(0, 6), (6, 2), (8, 8)], [(2, 4), (6, 4), (10, 6)], [(0, 3), (
            3, 3), (6, 2), (8, 8)]  # fmt: skip
        first = rhythm[int(self.chance.integers(len(rhythm)))]
        second = rhythm[int(self.chance.integers(len(rhythm)))]
        made, spot = [], int(self.chance.choice([0, 2, 4]))
        for offset, beats in ((0, first), (STEPS, second)):
            for at, lasts in beats:
                made.append((offset + at, spot, lasts))
                spot = int(np.clip(spot + self.chance.choice([-2, -1, -1, 1, 1, 2]), -1, 7))
        # It ends where it is at rest.
        last = made[-1]
        made[-1] = (last[0], int(self.chance.choice([0, 2])), last[2])
        return made

    def _figure(self) -> list[tuple[int, int]]:
        """One bar of the figure: (sixteenth, tone of the chord)."""
        shapes = [0, 1, 2, 1], [0, 2, 1, 2], [0, 1, 2, 3], [2, 1, 0, 1], [0, 2, 3, 2]
        shape = shapes[int(self.chance.integers(len(shapes)))]
        stride = 2 if self.pace < 122 else 4
        return [(at, shape[n % len(shape)]) for n, at in enumerate(range(0, STEPS, stride))]

    def at(self, bar: int, sixteenth: float) -> int:
        """The sample of a sixteenth of a bar; the second of two comes late in a swing."""
        late = self.mood.swing if int(sixteenth) % 2 else 0.0
        return round((bar * STEPS + sixteenth + late) * self.step * RATE)

    def song(self, form: tuple[Part, ...], *, ending: bool) -> Made:
        bars = sum(part.bars for part in form)
        long = self.at(bars + (1 if ending else 0), 0) + int((TAIL if ending else 0) * RATE)
        self.out: Sound = np.zeros((long + RATE, 2), np.float32)
        self.drums: Sound = np.zeros_like(self.out)
        bar = 0
        for number, part in enumerate(form):
            chords = self.mood.lift if part.lift else self.mood.verse
            for n in range(part.bars):
                self._bar(bar, chords[n % len(chords)], part, n, last=n + 1 == part.bars and number + 1 < len(form))
                bar += 1
        if ending:
            self._end(bar)
        mixed = room(self.out, *self.mood.echo) + room(self.drums, 0.5, 0.08)
        if ending:
            mixed = mixed[:long]
        else:
            # What rings on past the end of a loop is heard at its beginning.
            mixed[:RATE] += mixed[long : long + RATE]
            mixed = mixed[:long]
        return Made(mixed, self._key())

    def _key(self) -> str:
        return f"{KEYS[self.root]} {'major' if self.mood.bright else 'minor'}"

    def _put(self, instrument: str, midi: float, at: int, length: float, gain: float, side: float = 0.0) -> None:
        sound = note(instrument, midi, round(length * self.step * RATE / 480) * 480)
        gain *= 1 + 0.07 * float(self.chance.standard_normal())
        start = max(0, at + int(self.chance.integers(-60, 60)))
        part = sound[: max(0, len(self.out) - start)]
        sides = np.array([min(1, 1 - side), min(1, 1 + side)], np.float32) * np.float32(gain)
        self.out[start : start + len(part)] += part * sides

    def _strike(self, name: str, at: int, gain: float) -> None:
        sound = drum(name)[: max(0, len(self.drums) - at)]
        self.drums[at : at + len(sound)] += sound * np.float32(gain * (1 + 0.06 * float(self.chance.standard_normal())))

    def _bar(self, bar: int, chord: int, part: Part, n: int, *, last: bool) -> None:
        mood, force = self.mood, part.force
        tones = [self.degree(chord + off, 4) for off in (0, 2, 4)]
        # Inversions near the middle, so that chords go smoothly from one to the next.
        voiced = [tone - 12 if tone > 64 + 12 - self.root // 2 else tone for tone in tones]
        for tone in voiced:
            self._put(mood.harmony, tone, self.at(bar, 0), STEPS * 0.98, 0.3 + 0.25 * force)
        if force > 0.3:
            self._bass(bar, chord, force)
        if force > 0.4:
            for at, which in self.figure:
                octave = 5 if mood.figure != "deep" else 3
                midi = self.degree(chord + (0, 2, 4, 7)[which], octave)
                self._put(mood.figure, midi, self.at(bar, at), 2.2, 0.22 + 0.2 * force, 0.35 if at % 4 else -0.35)
        if force > 0.6 or (force < 0.3 and n % 2 == 0):
            self._melody(bar, chord, n, part)
        self._beat(bar, force, last=last)

    def _bass(self, bar: int, chord: int, force: float) -> None:
        low = self.degree(chord, 2) if self.root + self.mood.scale[chord % 7] < 9 else self.degree(chord, 2) - 12
        pattern = [(0, 8), (8, 8)] if force < 0.6 else [(0, 6), (6, 4), (10, 6)] if force < 0.9 else [
            (0, 3), (3, 3), (6, 2), (8, 4), (12, 4)]  # fmt: skip
        for at, lasts in pattern:
            midi = low + 12 if at == 12 else low
            self._put(self.mood.low, midi, self.at(bar, at), lasts * 0.92, 0.55 + 0.25 * force)

    def _melody(self, bar: int, chord: int, n: int, part: Part) -> None:
        half = (n % 2) * STEPS
        up = 2 if part.lift and n >= 2 else 0
        for at, spot, lasts in self.motif:
            if half <= at < half + STEPS:
                midi = self.degree(chord + spot + up, 5)
                self._put(self.mood.voice, midi, self.at(bar, at - half), lasts * 0.94, 0.34 + 0.2 * part.force, 0.08)

    def _beat(self, bar: int, force: float, *, last: bool) -> None:
        kit = self.mood.kit
        playing = kit[: 0 if force < 0.35 else 1 if force < 0.5 else 2 if force < 0.7 else len(kit)]
        for name, pattern in playing:
            for at, mark in enumerate(pattern):
                if mark == "x":
                    strong = 1.0 if at % 4 == 0 else 0.75
                    self._strike(name, self.at(bar, at), strong * (0.35 + 0.4 * force))
        if last and force > 0.4:
            fill = "snare" if self.mood.kit[0][0] != "big-kick" else "tom"
            for at, gain in ((12, 0.3), (13, 0.35), (14, 0.45), (15, 0.55)):
                self._strike(fill if fill != "snare" or force > 0.6 else "rim", self.at(bar, at), gain)
        if force > 0.9 and bar and self.at(bar, 0):
            self._strike("crash", self.at(bar, 0), 0.22)

    def _end(self, bar: int) -> None:
        """The chord at rest, struck once by all, and left to ring."""
        for off in (0, 2, 4, 7):
            self._put(self.mood.harmony, self.degree(off, 4), self.at(bar, 0), STEPS * 0.9, 0.5)
            self._put(self.mood.figure if self.mood.figure != "deep" else "piano", self.degree(off, 5),
                      self.at(bar, 0) + off * 700, STEPS * 0.9, 0.35)  # fmt: skip
        self._put(self.mood.low, self.degree(0, 2), self.at(bar, 0), STEPS * 0.9, 0.8)
        self._strike(self.mood.kit[0][0] if "kick" in self.mood.kit[0][0] else "soft-kick", self.at(bar, 0), 0.8)
        self._strike("crash", self.at(bar, 0), 0.3)

    def sting(self) -> Made:
        """A short mark: a rising figure and a chord that rings."""
        long = int((self.step * 8 + 2.6) * RATE)
        self.out = np.zeros((long + RATE, 2), np.float32)
        self.drums = np.zeros_like(self.out)
        for n, off in enumerate((0, 2, 4)):
            figure = self.mood.figure if self.mood.figure != "deep" else "pluck"
            self._put(figure, self.degree(off, 5), self.at(0, 2 * n), 3, 0.5)
        for off in (0, 2, 4, 7):
            self._put(self.mood.harmony, self.degree(off, 4), self.at(0, 6), 14, 0.5)
            self._put("bell", self.degree(off, 5), self.at(0, 6), 10, 0.25)
        self._put(self.mood.low, self.degree(0, 2), self.at(0, 6), 10, 0.8)
        self._strike("soft-kick", self.at(0, 6), 0.7)
        self._strike("crash", self.at(0, 6), 0.25)
        mixed = room(self.out, *self.mood.echo)[:long] + self.drums[:long]
        fade = np.linspace(1, 0, RATE, dtype=np.float32)[:, None] ** 2
        mixed[-RATE:] *= fade
        return Made(mixed, self._key())
