"""Effects: eighty of them, rows of a table of families and what is different in each."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from tools.library.instruments import RATE, Sound, bandpass, bell, drum, hertz, lowpass, pluck, room, wide


@dataclass(frozen=True)
class Effect:
    """An effect: its family, its name, words it is found by, and what makes it."""

    family: str
    name: str
    words: str
    make: Callable[[np.random.Generator], Sound]


def _t(seconds: float) -> Sound:
    return np.arange(int(seconds * RATE), dtype=np.float32) / RATE


def _noise(chance: np.random.Generator, count: int) -> Sound:
    return chance.standard_normal(count).astype(np.float32)


def _swept(sound: Sound, low: float, high: float, curve: Callable[[Sound], Sound], narrow: float = 1.6) -> Sound:
    """Noise whose middle tone goes along a curve between two tones, made of overlapping pieces."""
    size, hop = 2048, 512
    window = np.hanning(size).astype(np.float32)
    tones = np.fft.rfftfreq(size, 1 / RATE) + 1
    out = np.zeros(len(sound) + size, np.float32)
    for at in range(0, len(sound) - size, hop):
        share = float(curve(np.array([at / len(sound)], np.float32))[0])
        middle = low * (high / low) ** share
        shape = np.exp(-((np.log2(tones / middle) / narrow) ** 2))
        out[at : at + size] += np.fft.irfft(np.fft.rfft(sound[at : at + size] * window) * shape, size) * window
    return out[: len(sound)]


def whoosh(seconds: float, low: float, high: float, peak: float, narrow: float = 1.4) -> Callable[..., Sound]:
    """Air that passes by from left to right, loudest at a share of its time."""

    def make(chance: np.random.Generator) -> Sound:
        t = _t(seconds) / seconds
        swell = np.where(t < peak, (t / peak) ** 2.2, ((1 - t) / (1 - peak)) ** 1.6).astype(np.float32)
        rise = lambda share: np.where(share < peak, share / peak, 1 - 0.7 * (share - peak) / (1 - peak))  # noqa: E731
        air = _swept(_noise(chance, len(t)), low, high, rise, narrow) * swell
        return wide(air * np.cos(t * np.pi / 2), air * np.sin(t * np.pi / 2)) * np.float32(1.2)

    return make


def hit(low: float, long: float, bright: float, echo: float) -> Callable[..., Sound]:
    """Something heavy that lands."""

    def make(chance: np.random.Generator) -> Sound:
        t = _t(long + 1.2)
        phase = np.cumsum(low * (1 + 2.5 * np.exp(-t * 24))) / RATE
        body = np.sin(2 * np.pi * phase) * np.exp(-t * 5 / long)
        crack = bandpass(_noise(chance, len(t)), 200, bright) * np.exp(-t * 26) * 0.8
        mono = (np.tanh(1.6 * body) + crack).astype(np.float32)
        return room(wide(mono, mono), 1.4 + echo, 0.2 + 0.2 * echo)

    return make


def riser(seconds: float, low: float, high: float, tone: bool) -> Callable[..., Sound]:
    """Tension that rises and stops."""

    def make(chance: np.random.Generator) -> Sound:
        t = _t(seconds)
        share = t / seconds
        air = _swept(_noise(chance, len(t)), low, high, lambda s: s**1.4, 1.2)
        sound = air * share**1.8
        if tone:
            phase = np.cumsum(low * (high / low) ** (share**1.3 * 0.6)) / RATE
            beat = 0.6 + 0.4 * np.sin(2 * np.pi * np.cumsum(4 + 14 * share) / RATE)
            sound = sound + 0.4 * np.sin(2 * np.pi * phase) * beat * share**1.5
        end = np.clip((seconds - t) / 0.012, 0, 1)
        made = np.asarray(sound * end, np.float32)
        return wide(made, np.roll(made, 300))

    return make


def tick(hz: float, fall: float, count: int = 1, apart: float = 0.0) -> Callable[..., Sound]:
    """Small hard strokes."""

    def make(chance: np.random.Generator) -> Sound:
        t = _t(0.25 + count * apart)
        out = np.zeros_like(t)
        for n in range(count):
            since = np.maximum(0, t - n * apart)
            part = np.sin(2 * np.pi * hz * (1 + 0.02 * (n % 2)) * since) + 0.4 * np.sin(2 * np.pi * hz * 2.7 * since)
            out += (part * np.exp(-since * fall) * (t >= n * apart)).astype(np.float32)
        return room(wide(out, out), 0.3, 0.12)

    return make


def click(low: float, high: float, fall: float, second: float = 0.0) -> Callable[..., Sound]:
    """A switch: a dry burst, and a second one where it springs back."""

    def make(chance: np.random.Generator) -> Sound:
        t = _t(0.22 + second)
        burst = lambda at: np.exp(-np.maximum(0, t - at) * fall) * (t >= at)  # noqa: E731
        shape = burst(0.0) + (0.6 * burst(second) if second else 0)
        made = (bandpass(_noise(chance, len(t)), low, high) * shape).astype(np.float32)
        return wide(made, made)

    return make


def place(seconds: float, low: float, high: float, waves: float, depth: float) -> Callable[..., Sound]:
    """Wind, rain, a stream, the sea: noise in a range of tones that swells and sinks; its ends meet."""

    def make(chance: np.random.Generator) -> Sound:
        t = _t(seconds)
        sides = []
        for side in (0, 1):
            swell = 1 - depth / 2 + depth / 2 * np.sin(2 * np.pi * (round(waves * seconds) / seconds * t + side * 0.2))
            sides.append((bandpass(_noise(chance, len(t)), low, high) * swell).astype(np.float32))
        return _round(wide(*sides))

    return make


def _round(sound: Sound, lap: int = RATE // 2) -> Sound:
    """A sound whose end goes over into its beginning."""
    rise = np.sin(np.linspace(0, np.pi / 2, lap, dtype=np.float32))[:, None]
    made = sound[:-lap].copy()
    made[:lap] = made[:lap] * rise + sound[-lap:] * rise[::-1]
    return made


def drops(seconds: float, rate: float, low: float, high: float, over: Callable[..., Sound]) -> Callable[..., Sound]:
    """Many small tones over a place: rain on leaves, a fire that crackles, crickets."""

    def make(chance: np.random.Generator) -> Sound:
        base = over(chance)
        out = base * np.float32(0.6)
        for _ in range(int(rate * seconds)):
            t = _t(0.02 + 0.05 * chance.random())
            hz = low * (high / low) ** chance.random()
            drop = (np.sin(2 * np.pi * hz * t) * np.exp(-t * 110) * (0.3 + chance.random())).astype(np.float32)
            at = int(chance.integers(0, len(out) - len(t)))
            side = chance.random()
            out[at : at + len(t)] += np.stack([drop * (1 - side), drop * side], axis=1)
        return out

    return make


def birds(seconds: float, calls: int, low: float, high: float, trill: float) -> Callable[..., Sound]:
    def make(chance: np.random.Generator) -> Sound:
        out = place(seconds, 300, 2500, 0.2, 0.4)(chance) * np.float32(0.05)
        for _ in range(calls):
            t = _t(0.12 + 0.25 * chance.random())
            base = low * (high / low) ** chance.random()
            bend = base * (1 + 0.18 * np.sin(2 * np.pi * trill * t) + 0.2 * t / t[-1] * chance.choice([-1, 1]))
            call = np.sin(2 * np.pi * np.cumsum(bend) / RATE) * np.abs(np.sin(np.pi * t / t[-1])) ** 1.5
            at = int(chance.integers(0, len(out) - len(t)))
            side = chance.random()
            out[at : at + len(t)] += np.stack([call * (1 - side), call * side], axis=1).astype(np.float32) * np.float32(
                0.3 + 0.4 * chance.random()
            )
        return room(out, 1.8, 0.3)

    return make


def crowd(seconds: float, people: int, low: float, high: float, burst: float) -> Callable[..., Sound]:
    """Many voices or hands at once."""

    def make(chance: np.random.Generator) -> Sound:
        out = np.zeros((int(seconds * RATE), 2), np.float32)
        for _ in range(people):
            t = _t(0.02 + burst * (0.5 + chance.random()))
            if burst < 0.05:
                sound = bandpass(_noise(chance, len(t)), low, high) * np.exp(-t * 90)
            else:
                hz = low * (high / low) ** chance.random()
                bend = hz * (1 + 0.08 * np.sin(2 * np.pi * (2 + 4 * chance.random()) * t))
                phase = np.cumsum(bend) / RATE
                sound = sum(np.sin(2 * np.pi * phase * k) / k for k in range(1, 6)) * np.sin(np.pi * t / t[-1])
            at = int(chance.integers(0, max(1, len(out) - len(t))))
            side = chance.random()
            gain = np.float32(0.2 + 0.5 * chance.random())
            out[at : at + len(t)] += np.stack([sound * (1 - side), sound * side], axis=1).astype(np.float32) * gain
        here = np.arange(len(out))
        swell = np.minimum(1, here / (0.3 * RATE)) * np.clip((len(out) - here) / RATE, 0, 1)
        return room(out * swell[:, None].astype(np.float32), 1.6, 0.35)

    return make


def paper(seconds: float, strokes: int, low: float, high: float, fall: float) -> Callable[..., Sound]:
    def make(chance: np.random.Generator) -> Sound:
        t = _t(seconds)
        shape = np.zeros_like(t)
        for _ in range(strokes):
            at = seconds * 0.85 * chance.random()
            shape += (np.exp(-np.maximum(0, t - at) * fall * (0.5 + chance.random())) * (t >= at) * chance.random()
                      ).astype(np.float32)  # fmt: skip
        made = (bandpass(_noise(chance, len(t)), low, high) * shape * np.clip((seconds - t) / 0.1, 0, 1)).astype(
            np.float32
        )
        return wide(made, np.roll(made, 90) * np.float32(0.9))

    return make


def flame(seconds: float, attack: float, low: float, tail: float) -> Callable[..., Sound]:
    """A burner: gas that lights, roars and goes out."""

    def make(chance: np.random.Generator) -> Sound:
        t = _t(seconds)
        shape = np.minimum(1, t / attack) * np.clip((seconds - t) / tail, 0, 1) ** 1.5
        roar = lowpass(_noise(chance, len(t)), low) * 3 + bandpass(_noise(chance, len(t)), 1500, 6000) * 0.5
        flutter = 1 + 0.25 * lowpass(_noise(chance, len(t)), 12) * 18
        made = (roar * shape * flutter).astype(np.float32)
        return wide(made, np.roll(made, 410))

    return make


def tones(notes: tuple[float, ...], apart: float, instrument: Callable[[float, float], Sound]) -> Callable[..., Sound]:
    """A few notes: a message, a success, a door bell."""

    def make(chance: np.random.Generator) -> Sound:
        out = np.zeros((int((apart * len(notes) + 1.6) * RATE), 2), np.float32)
        for n, midi in enumerate(notes):
            sound = instrument(midi, 0.5)[: len(out) - int(n * apart * RATE)]
            out[int(n * apart * RATE) : int(n * apart * RATE) + len(sound)] += sound
        return room(out, 1.0, 0.2)

    return make


def blip(hz: float, to: float, seconds: float) -> Callable[..., Sound]:
    def make(chance: np.random.Generator) -> Sound:
        t = _t(seconds)
        phase = np.cumsum(hz * (to / hz) ** (t / seconds)) / RATE
        made = (np.sin(2 * np.pi * phase) * np.sin(np.pi * np.minimum(1, t / seconds)) ** 0.7).astype(np.float32)
        return room(wide(made, made), 0.4, 0.15)

    return make


def shutter(parts: tuple[tuple[float, float, float], ...]) -> Callable[..., Sound]:
    """A camera: clacks (when, how high, how fast they die away)."""

    def make(chance: np.random.Generator) -> Sound:
        t = _t(max(at for at, _, _ in parts) + 0.3)
        out = np.zeros_like(t)
        for at, high, fall in parts:
            shape = np.exp(-np.maximum(0, t - at) * fall) * (t >= at)
            out += (bandpass(_noise(chance, len(t)), high / 5, high) * shape).astype(np.float32)
        return room(wide(out, out), 0.25, 0.1)

    return make


def struck(name: str, echo: float) -> Callable[..., Sound]:
    def make(chance: np.random.Generator) -> Sound:
        sound = np.concatenate([drum(name), np.zeros((RATE, 2), np.float32)])
        return room(sound, echo, 0.3)

    return make


def siren(hz: float) -> Callable[..., Sound]:
    def make(chance: np.random.Generator) -> Sound:
        t = _t(1.4)
        made = sum(np.sin(2 * np.pi * hertz(m) * t) for m in (hz, hz + 4, hz + 7)) * np.clip((1.2 - t) / 0.2, 0, 1)
        made = np.tanh(np.asarray(made)).astype(np.float32) * np.minimum(1, t / 0.02)
        return room(wide(made, made), 1.2, 0.25)

    return make


_SEA, _WIND = place(9, 120, 1800, 0.15, 1.5), place(9, 150, 900, 0.3, 0.9)
EFFECTS: tuple[Effect, ...] = (
    Effect("whoosh", "Quick pass", "swish fast transition", whoosh(0.5, 300, 5000, 0.5)),
    Effect("whoosh", "Soft pass", "swish gentle", whoosh(0.9, 200, 2200, 0.55, 1.1)),
    Effect("whoosh", "Long pass", "swish slow", whoosh(1.6, 150, 4000, 0.6)),
    Effect("whoosh", "Deep pass", "low heavy", whoosh(1.1, 80, 900, 0.55)),
    Effect("whoosh", "Sharp pass", "blade cut", whoosh(0.35, 1500, 9000, 0.45, 0.9)),
    Effect("whoosh", "In and gone", "reverse suck", whoosh(0.8, 200, 6000, 0.88)),
    Effect("whoosh", "Away", "leave fly off", whoosh(1.0, 250, 4500, 0.12)),
    Effect("whoosh", "Rope in the air", "swing spin", whoosh(0.7, 500, 2500, 0.5, 0.7)),
    Effect("whoosh", "Airy sweep", "breeze light", whoosh(1.4, 900, 8000, 0.5, 1.8)),
    Effect("whoosh", "Page of wind", "flutter", whoosh(0.6, 700, 3500, 0.4, 1.9)),
    Effect("hit", "Heavy landing", "boom impact", hit(48, 0.7, 3000, 0.6)),
    Effect("hit", "Deep drop", "bass boom", hit(36, 1.3, 1200, 1.0)),
    Effect("hit", "Wooden knock", "door thud", hit(140, 0.18, 2500, 0.1)),
    Effect("hit", "Title strike", "impact trailer", hit(55, 0.9, 6000, 1.0)),
    Effect("hit", "Soft thud", "cushion fall", hit(70, 0.3, 600, 0.1)),
    Effect("hit", "Big drum", "timpani", struck("big-kick", 2.2)),
    Effect("hit", "Hand clap", "applause one", struck("clap", 0.7)),
    Effect("hit", "Cymbal", "crash", struck("crash", 1.4)),
    Effect("hit", "Low tom", "drum", struck("tom", 1.2)),
    Effect("riser", "Slow rise", "tension build", riser(4.0, 120, 6000, False)),
    Effect("riser", "Quick rise", "build short", riser(1.5, 200, 8000, False)),
    Effect("riser", "Singing rise", "tension tone", riser(3.0, 110, 3000, True)),
    Effect("riser", "Long climb", "tension epic", riser(6.0, 80, 5000, True)),
    Effect("riser", "Bright climb", "build happy", riser(2.5, 400, 9000, True)),
    Effect("riser", "Breath in", "inhale suck", riser(1.0, 500, 4000, False)),
    Effect("riser", "Engine rise", "machine", riser(3.5, 60, 1200, True)),
    Effect("riser", "Small lift", "short", riser(0.8, 300, 5000, True)),
    Effect("tick", "Clock", "time second", tick(2300, 70, 4, 0.5)),
    Effect("tick", "Fast clock", "countdown", tick(2600, 80, 8, 0.25)),
    Effect("tick", "One tick", "step", tick(2400, 80)),
    Effect("tick", "Metal tick", "ping", tick(3900, 30)),
    Effect("tick", "Wood tick", "block", tick(950, 60)),
    Effect("tick", "Count in", "four beats", tick(1400, 55, 4, 0.4)),
    Effect("click", "Switch", "button on", click(1200, 7000, 160, 0.07)),
    Effect("click", "Soft button", "press", click(300, 2500, 120)),
    Effect("click", "Mouse", "computer", click(2000, 9000, 260, 0.09)),
    Effect("click", "Lock", "metal closed", click(500, 5000, 60, 0.12)),
    Effect("click", "Keyboard key", "type", click(900, 6000, 140, 0.05)),
    Effect("click", "Cap off", "pen pop", click(600, 3500, 90)),
    Effect("nature", "Wind", "air outside", _WIND),
    Effect("nature", "Strong wind", "storm", place(9, 100, 1600, 0.5, 1.2)),
    Effect("nature", "Leaves", "tree rustle", place(8, 2500, 9000, 0.5, 1.4)),
    Effect("nature", "Rain", "water weather", drops(8, 160, 1500, 6000, place(8, 1500, 9000, 0.1, 0.2))),
    Effect("nature", "Heavy rain", "water storm", drops(8, 420, 1200, 5000, place(8, 800, 9000, 0.1, 0.2))),
    Effect("nature", "Stream", "water brook", drops(8, 90, 350, 1600, place(8, 350, 3500, 0.8, 0.5))),
    Effect("nature", "Sea", "waves beach water", _SEA),
    Effect("nature", "Fire", "crackle camp", drops(8, 45, 900, 7000, place(8, 80, 600, 0.4, 0.7))),
    Effect("nature", "Morning birds", "forest sing", birds(9, 34, 2300, 5200, 9)),
    Effect("nature", "One bird", "call", birds(4, 6, 2800, 3600, 14)),
    Effect("nature", "Gulls", "sea bird", birds(8, 12, 900, 1700, 5)),
    Effect("nature", "Crickets", "night summer", drops(8, 240, 4300, 4700, place(8, 200, 900, 0.2, 0.3))),
    Effect("crowd", "Applause", "clapping hands", crowd(5, 900, 900, 4500, 0.01)),
    Effect("crowd", "Small applause", "clapping few", crowd(4, 160, 900, 4500, 0.01)),
    Effect("crowd", "Cheering", "hurray happy people", crowd(4, 120, 240, 620, 0.8)),
    Effect("crowd", "Murmur", "people talk restaurant", crowd(8, 240, 110, 300, 0.35)),
    Effect("crowd", "Astonished", "ooh people", crowd(2.4, 60, 180, 360, 1.2)),
    Effect("camera", "Shutter", "photo picture", shutter(((0, 7000, 120), (0.09, 5000, 90)))),
    Effect("camera", "Small shutter", "photo picture", shutter(((0, 9000, 220), (0.05, 8000, 200)))),
    Effect("camera", "Series of photos", "burst", shutter(tuple((n * 0.14, 7000, 130) for n in range(6)))),
    Effect("camera", "Focus", "beep two", tick(1900, 18, 2, 0.12)),
    Effect("camera", "Flash", "light charge", blip(900, 5200, 0.7)),
    Effect("camera", "Film advance", "wind lever", shutter(tuple((n * 0.035, 4000, 200) for n in range(12)))),
    Effect("paper", "Page turned", "book leaf", paper(0.8, 5, 900, 9000, 9)),
    Effect("paper", "Crumpled", "ball throw away", paper(1.6, 60, 1500, 10_000, 40)),
    Effect("paper", "Torn", "rip", paper(0.9, 90, 1200, 8000, 30)),
    Effect("paper", "Slid", "sheet move", paper(0.7, 2, 1800, 7000, 5)),
    Effect("paper", "Stamp", "press office", hit(110, 0.16, 1800, 0.1)),
    Effect("paper", "Pencil", "write scribble", paper(1.8, 24, 2500, 9000, 12)),
    Effect("paper", "Envelope", "letter open", paper(1.1, 14, 1000, 7000, 16)),
    Effect("burner", "Burner", "balloon fire gas", flame(3.0, 0.08, 220, 0.4)),
    Effect("burner", "Short burner", "balloon fire", flame(1.1, 0.06, 260, 0.3)),
    Effect("burner", "Far burner", "balloon distant", flame(3.5, 0.4, 140, 1.2)),
    Effect("burner", "Gas lights", "ignite", flame(0.7, 0.02, 500, 0.5)),
    Effect("signal", "Message", "notification two notes", tones((76, 83), 0.11, bell)),
    Effect("signal", "Success", "done right win", tones((72, 76, 79, 84), 0.09, pluck)),
    Effect("signal", "Wrong", "error no", tones((58, 54), 0.16, pluck)),
    Effect("signal", "Door bell", "ring", tones((76, 72), 0.45, bell)),
    Effect("signal", "Pop", "bubble small", blip(320, 1100, 0.09)),
    Effect("signal", "Drop", "water down", blip(1300, 420, 0.16)),
    Effect("signal", "Up", "appear", blip(420, 1500, 0.22)),
    Effect("signal", "Sparkle", "magic glitter", tones((88, 91, 95, 98, 103), 0.06, bell)),
    Effect("signal", "Horn", "start ship", siren(45)),
)  # fmt: skip
