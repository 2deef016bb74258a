"""Mixing a span of sound: float32 stereo at 48 kHz."""

from __future__ import annotations

import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import cache

import numpy as np
import numpy.typing as npt

from glowreel.core.equaliser import audible
from glowreel.core.recipe.model import MASTER_MARGIN, SoundRecipe, Voice
from glowreel.engine import equalise
from glowreel.engine.master import mastered
from glowreel.engine.sources import Sources
from glowreel.engine.stretch import heard_level, positions, read_along

Samples = npt.NDArray[np.float32]


def mix(recipe: SoundRecipe, sources: Sources) -> Samples:
    """The span's samples, shape (n, 2). Limited only where the recipe says so: other sums may pass ±1 and are held
    where they are encoded."""
    margin = MASTER_MARGIN if recipe.master is not None else 0
    out: Samples = np.zeros((recipe.length + 2 * margin, 2), np.float32)
    for bus in recipe.buses:
        # What is as loud as it came is added straight to the whole.
        into = out if bus.gain == 1 else np.zeros_like(out)
        _add(bus.voices, into, sources, margin)
        if into is not out:
            out += into * np.float32(bus.gain)
    return out if recipe.master is None else mastered(out, recipe.master)


@dataclass(frozen=True, slots=True)
class _Stretch:
    """What is read of a voice for a span: its samples `first` to `last`, and `around` them as much more at both ends as
    its filters reach."""

    voice: Voice
    first: int
    last: int
    around: Samples


def _add(voices: tuple[Voice, ...], out: Samples, sources: Sources, margin: int = 0) -> None:
    """Adds voices to samples that begin so many before the span. They are read one after another and worked on beside
    one another, where there is much to do."""
    read = [_read(voice, voice.at + margin, len(out), sources) for voice in voices]
    heavy = sum(len(one.around) > one.last - one.first for one in read) > 1
    done = _beside(os.getpid()).map(_finished, read) if heavy else map(_finished, read)
    for one, heard in zip(read, done, strict=True):
        begin = one.voice.at + margin + one.first
        out[begin : begin + len(heard)] += heard


@cache
def _beside(process: int) -> ThreadPoolExecutor:
    """Threads of a process; one that came from it has its own."""
    return ThreadPoolExecutor(os.cpu_count() or 1, "mix")


def _read(voice: Voice, at: int, length: int, sources: Sources) -> _Stretch:
    """What is heard of a voice that begins at a sample of a span of so many."""
    first = max(0, -at)
    last = min(voice.length, length - at)
    if last <= first:
        return _Stretch(voice, first, first, np.zeros((0, 2), np.float32))
    reach = _reach(voice, first, last)
    # Filters hear what comes before and after, as far as the voice goes; beyond it there is silence.
    begin, end = max(0, first - reach), min(voice.length, last + reach)
    heard = _heard(voice, begin, end, sources)
    if not reach:
        return _Stretch(voice, first, last, heard)
    around = np.zeros((last - first + 2 * reach, 2), np.float32)
    around[begin - first + reach : begin - first + reach + len(heard)] = heard
    return _Stretch(voice, first, last, around)


def _gives_way(voice: Voice, first: int, last: int) -> Samples | None:
    """What is left of a voice's range of speech, where only that gives way, and does in a span."""
    if not voice.dips or not voice.dip_band:
        return None
    left = _line(voice.dips, first, last)
    return left if float(left.min()) < 1 else None


def _reach(voice: Voice, first: int, last: int) -> int:
    own = equalise.reach_of(equalise.kernel(voice.equal)) if audible(*voice.equal) else 0
    words = equalise.reach_of(equalise.speech_band()) if _gives_way(voice, first, last) is not None else 0
    return own + words


def _finished(one: _Stretch) -> Samples:
    """Samples of a voice with its equaliser, its side, what changes over time, and its fades."""
    voice, first = one.voice, one.first
    heard = one.around
    if audible(*voice.equal) and one.last > first:
        heard = equalise.filtered(heard, equalise.kernel(voice.equal))
    left = _gives_way(voice, first, one.last) if one.last > first else None
    if left is not None:
        reach = equalise.reach_of(equalise.speech_band())
        words = equalise.filtered(heard, equalise.speech_band())
        heard = heard[reach : len(heard) - reach] - words * (1 - left)[:, None]
    heard = _placed(voice, heard)
    line = fade_envelope(voice, first, first + len(heard))
    for knots in (voice.levels, () if voice.dip_band else voice.dips):
        if knots:
            changes = _line(knots, first, first + len(heard))
            line = changes if line is None else line * changes
    if line is not None:
        heard *= line[:, None]
    return heard


def _heard(voice: Voice, first: int, last: int, sources: Sources) -> Samples:
    """Samples `first` to `last` of a voice with its gain, before its fades; fewer where the source ends."""
    gain = np.float32(voice.gain)
    stored = sources.copied(voice.copy) if voice.copy is not None else sources.sound(voice.source)
    if voice.around and not voice.warp:
        where = (np.arange(first, last) + voice.source_at) % max(1, len(stored))
        return stored[where].astype(np.float32) * (gain / 32768) if len(stored) else np.zeros((0, 2), np.float32)
    if not voice.warp:
        start = voice.source_at + first
        return stored[start : min(voice.source_at + last, len(stored))].astype(np.float32) * (gain / 32768)
    if last <= first:
        return np.zeros((0, 2), np.float32)
    if voice.pitch:
        heard = sources.stretch(voice).span(first, last) * gain
    else:
        heard = read_along(stored, positions(voice, first, last + 1)) * gain
    level = heard_level(voice, first, last)
    return heard if level is None else heard * level[:, None]


def _placed(voice: Voice, heard: Samples) -> Samples:
    """A voice's samples on the sides where they are heard. Moved to one side, it gets quieter on the other, and no
    louder on its own."""
    if voice.channels == "swapped":
        heard = heard[:, ::-1].copy()
    elif voice.channels == "mixed":
        heard = np.repeat(heard.mean(axis=1, keepdims=True), 2, axis=1)
    elif voice.channels in ("left", "right"):
        side = 0 if voice.channels == "left" else 1
        heard = np.repeat(heard[:, side : side + 1], 2, axis=1)
    if voice.pan:
        heard *= np.array([min(1.0, 1 - voice.pan), min(1.0, 1 + voice.pan)], np.float32)
    return heard


def _line(knots: tuple[tuple[int, float], ...], start: int, end: int) -> Samples:
    """Factors for samples `start` to `end` of a voice, straight from knot to knot, held before the first and after the
    last one."""
    line = np.empty(end - start, np.float32)
    line[: max(0, knots[0][0] - start)] = knots[0][1]
    line[max(0, knots[-1][0] - start) :] = knots[-1][1]
    for (at, factor), (until, last) in zip(knots, knots[1:], strict=False):
        low, high = max(at, start), min(until, end)
        if high > low:
            slope = (last - factor) / (until - at)
            line[low - start : high - start] = np.arange(low - at, high - at, dtype=np.float32) * slope + factor
    return line


def fade_envelope(voice: Voice, start: int, end: int) -> Samples | None:
    """Factors for samples `start` to `end` of a voice, or None where no fade reaches them.

    Straight fades rise linearly; of equal power, as sin(x·π/2), so that two crossing ones keep their loudness
    (sin² + cos² = 1); the others as `CURVES` says.
    """
    into_tail = voice.length - voice.fade_out
    if start >= voice.fade_in and end <= into_tail:
        return None
    position = np.arange(start, end, dtype=np.float32)
    shaped: Samples = np.ones(end - start, np.float32)
    curves = ("even", "even") if voice.power else voice.curves
    if voice.fade_in:
        shaped *= CURVES[curves[0]](np.clip((position + 0.5) / voice.fade_in, 0, 1))
    if voice.fade_out:
        shaped *= CURVES[curves[1]](np.clip((voice.length - position - 0.5) / voice.fade_out, 0, 1))
    return shaped


CURVES: dict[str, Callable[[Samples], Samples]] = {
    "straight": lambda share: share,
    "even": lambda share: np.sin(share * np.float32(np.pi / 2)),
    "late": lambda share: share * share,
    "soft": lambda share: (1 - np.cos(share * np.float32(np.pi))) / 2,
}
"""How much is heard at a share of a fade's length."""


def to_pcm(samples: Samples) -> npt.NDArray[np.int16]:
    """Float samples to 16 bit, held at full scale."""
    return (np.clip(samples, -1, 1) * 32767).astype(np.int16)
