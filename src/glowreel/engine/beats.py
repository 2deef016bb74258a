"""Beats and bars of music, and where one bar may follow another so that it is hardly heard.

How new each fiftieth of a second sounds is the rise of its spectrum (spectral flux); where beats and bars lie in that
is told by `metricon`. Bars are then compared by what is heard in them: how loud, in which ranges, which notes.
"""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt

from glowreel.core.time import SAMPLE_RATE
from glowreel.engine.soundcopy import stored_samples

RATE, HOP, WINDOW = 24_000, 480, 1024
FPS = RATE // HOP
EARLY = 0.023
"""Seconds by which what is found comes before what is heard."""
LONGEST = 600
"""Seconds of a piece that are looked at."""
JOINTS = 240
"""So many of the most alike joints are told."""
STRONG = 8
LEAST_BEATS = 8
QUICKEST, SLOWEST = 152.0, 58.0
"""Beats a minute: quicker ones are taken by twos, slower ones are halved."""
EVEN = 0.03
"""Seconds by which what begins may lie beside an even grid."""
CHORD = 40
"""Fiftieths of a second over which harmony is compared."""
Line = npt.NDArray[np.float32]


def find_beats(samples: Path, tell: Callable[[float], None]) -> dict[str, Any]:
    """Beats and the first beats of bars, in samples of a sound copy; `end`, where the last bar ends; the pace in beats
    a minute; the strongest moments; `joints` (bar, bar that may follow it, cost, 0 for alike), the best first. Empty
    lists where no beat is found."""
    stored = stored_samples(samples)[: LONGEST * SAMPLE_RATE]
    step = SAMPLE_RATE // RATE
    mono = stored[: len(stored) // step * step].astype(np.float32).mean(axis=1).reshape(-1, step).mean(axis=1) / 32768
    nothing: dict[str, Any] = {"beats": [], "bars": [], "end": len(stored), "pace": 0.0, "strong": [], "joints": []}
    if len(mono) < RATE * 3 or float(np.abs(mono).max()) < 1e-3:
        return nothing
    power = _spectra(mono)
    tell(0.4)
    onset = _flux(power)
    beats, downs = _found(onset, _downs(power, onset))
    tell(0.7)
    if len(beats) < LEAST_BEATS:
        return nothing
    bars = sorted({int(np.argmin(np.abs(beats - down))) for down in downs})
    times = np.rint(beats * SAMPLE_RATE).astype(int)
    edges = [int(times[bar]) for bar in bars]
    gap = int(np.median(np.diff(edges))) if len(edges) > 1 else 0
    end = min(len(stored), edges[-1] + gap) if edges else len(stored)
    pace = 60 / float(np.median(np.diff(beats)))
    strong = _strongest(onset, beats)
    joints = _joints(power, [*edges, end]) if len(edges) > 3 else []
    return {
        "beats": times.tolist(), "bars": edges, "end": end, "pace": round(pace, 1),
        "strong": [round(at * SAMPLE_RATE) for at in strong], "joints": joints,
    }  # fmt: skip


def _spectra(mono: Line) -> Line:
    """Magnitudes of short spectra, one each hop, shape (n, WINDOW / 2 + 1); each is around its moment."""
    padded = np.pad(mono, (WINDOW // 2, WINDOW // 2))
    frames = np.lib.stride_tricks.sliding_window_view(padded, WINDOW)[::HOP]
    window = np.hanning(WINDOW).astype(np.float32)
    out = np.empty((len(frames), WINDOW // 2 + 1), np.float32)
    for first in range(0, len(frames), 2000):
        out[first : first + 2000] = np.abs(np.fft.rfft(frames[first : first + 2000] * window, axis=1))
    return out


def _flux(power: Line) -> Line:
    """How much of the spectrum rises at each moment, between 0 and 1, above what is usual around it."""
    loud = np.log1p(200 * power)
    rise = np.maximum(0, np.diff(loud, axis=0, prepend=loud[:1])).sum(axis=1)
    usual = np.convolve(rise, np.ones(25) / 25, "same")
    found = np.maximum(0, rise - usual)
    return np.asarray(found / (float(np.percentile(found, 99.5)) + 1e-9), np.float32).clip(0, 1)


def _found(onset: Line, down: Line) -> tuple[npt.NDArray[np.float64], npt.NDArray[np.float64]]:
    """Beats and first beats of bars in seconds. Where they go on evenly throughout, as most produced music does, they
    lie on one grid, from the first sound to the last; else where each was found."""
    import metricon

    activations = metricon.Activations.from_activations(onset, down, fps=FPS)
    beats = np.asarray(metricon.track_beats(activations).times, np.float64)
    if len(beats) < LEAST_BEATS:
        return beats, beats[:0]
    grid = _grid(beats, onset, down)
    if grid is None:
        beats = _on_onsets(beats[::2] if 60 / float(np.median(np.diff(beats))) > QUICKEST else beats, onset)
        bars = metricon.track_bars(activations, beats, beats_per_bar=(4, 3))
        return beats, np.asarray(bars.downbeat_times, np.float64)
    meter, phase = max(
        ((meter, phase) for meter in (4, 3) for phase in range(meter)),
        # Four in a bar are usual: three have to be clearly better.
        key=lambda one: _mean(down, grid[one[1] :: one[0]]) * (1.0 if one[0] == 4 else 0.8),
    )
    return grid, grid[phase::meter]


def _strength(line: Line, times: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
    """The highest of a line within a fiftieth of a second of each time."""
    padded = np.pad(line, 2)
    at = np.clip(np.rint(times * FPS).astype(int), 0, len(line) - 1) + 2
    return np.asarray(np.max([padded[at + n] for n in (-1, 0, 1)], axis=0), np.float64)


def _mean(line: Line, times: npt.NDArray[np.float64]) -> float:
    return float(_strength(line, times).mean()) if len(times) else 0.0


def _grid(beats: npt.NDArray[np.float64], onset: Line, down: Line) -> npt.NDArray[np.float64] | None:
    """The even grid of beats that most of what begins lies on; None where too much lies off it.

    Its gap is looked for near the one that was found, its start everywhere in one gap: a comb over what begins, most of
    all low tones and new harmony. Quick ones are taken by twos, with the stronger half.
    """
    sounding = np.flatnonzero(onset > 0.02) / FPS
    first, last = float(sounding[0]), float(sounding[-1])
    both = np.asarray(onset + 2 * down, np.float32)
    gap = float(np.median(np.diff(beats)))
    gap = gap * 2 if 60 / gap > QUICKEST else gap / 2 if 60 / gap < SLOWEST else gap
    steps = np.arange(int((last - first) / gap) + 1)
    line = np.convolve(both, [0.5, 1.0, 0.5], "same")
    best = (-1.0, gap, first)
    for tried in np.linspace(gap * 0.97, gap * 1.03, 121):
        # In steps of ten milliseconds: every start within one gap.
        begins = np.arange(first, first + tried, 0.01)
        places = np.clip(np.rint((begins[:, None] + steps[None] * tried) * FPS).astype(int), 0, len(line) - 1)
        scores = line[places].mean(axis=1)
        found = int(np.argmax(scores))
        if float(scores[found]) > best[0]:
            best = (float(scores[found]), float(tried), float(begins[found]))
    _, gap, start = best
    times = np.asarray(start + gap * steps, np.float64)
    gap, start = _fine(times, gap, start, onset)
    begun = np.flatnonzero(onset > 0.4) / FPS
    off = np.abs((begun - start) / (gap / 4) - np.rint((begun - start) / (gap / 4))) * gap / 4
    if not len(begun) or float((off < EVEN).mean()) < 0.6:
        return None
    before = int(max(0.0, start - first + gap / 4) // gap)
    grid = np.arange(start - before * gap, last + gap / 4, gap)
    return np.asarray(grid[grid > -0.02].clip(0), np.float64)


def _fine(times: npt.NDArray[np.float64], gap: float, start: float, onset: Line) -> tuple[float, float]:
    """The grid brought to a few milliseconds, by a line through the beginnings of sounds that lie on it."""
    kept = _strength(onset, times) > 0.25
    if int(kept.sum()) < LEAST_BEATS:
        return gap, start
    number = np.flatnonzero(kept)
    found = _on_onsets(times[kept], onset)
    for _ in range(3):
        gap, start = np.polyfit(number, found, 1)
        off = np.abs(found - (start + gap * number))
        near = off <= max(0.01, float(np.percentile(off, 70)))
        number, found = number[near], found[near]
        if len(number) < LEAST_BEATS:
            break
    return float(gap), float(start)


def _downs(power: Line, onset: Line) -> Line:
    """How likely a bar begins at each moment, between 0 and 1: harmony changes there, and low tones begin."""
    tones = np.fft.rfftfreq(WINDOW, 1 / RATE)
    sung = (tones > 60) & (tones < 2200)
    note = np.rint(12 * np.log2(tones[sung] / 440)).astype(int) % 12
    notes = np.stack([power[:, sung][:, note == n].sum(axis=1) for n in range(12)], axis=1)
    notes /= np.linalg.norm(notes, axis=1, keepdims=True) + 1e-6
    # The mean of what is sung for so long before and after each moment.
    sums = np.concatenate([np.zeros((1, 12)), np.cumsum(notes, axis=0)])
    here = np.arange(len(notes))
    before, after = np.maximum(0, here - CHORD), np.minimum(len(notes), here + CHORD)
    earlier = (sums[here] - sums[before]) / np.maximum(1, here - before)[:, None]
    later = (sums[after] - sums[here]) / np.maximum(1, after - here)[:, None]
    change = np.linalg.norm(later - earlier, axis=1)
    low = np.log1p(200 * power[:, tones < 150]).sum(axis=1)
    thump = np.maximum(0, np.diff(low, prepend=low[:1]))
    found = change / (np.percentile(change, 99) + 1e-9) + 0.5 * thump / (np.percentile(thump, 99.5) + 1e-9)
    return np.asarray(np.clip(found / 1.5, 0, 1) * np.clip(onset * 2, 0.1, 1), np.float32)


def _on_onsets(times: npt.NDArray[np.float64], onset: Line) -> npt.NDArray[np.float64]:
    """Each time where the sound around it begins most."""
    made = []
    for at in times:
        middle = round(float(at) * FPS)
        low, high = max(0, middle - 2), min(len(onset), middle + 4)
        part = onset[low:high]
        peak = low + int(np.argmax(part)) if len(part) and float(part.max()) > 0.15 else None
        made.append(float(at) + EARLY if peak is None else _between(onset, peak) / FPS)
    return np.maximum.accumulate(np.array(made))


def _between(onset: Line, peak: int) -> float:
    """A peak's place between hops, by the parabola through it and its neighbours."""
    if not 0 < peak < len(onset) - 1:
        return float(peak)
    before, here, after = (float(onset[peak + n]) for n in (-1, 0, 1))
    bend = before - 2 * here + after
    return peak + (0.5 * (before - after) / bend if bend < 0 else 0.0)


def _strongest(onset: Line, beats: npt.NDArray[np.float64]) -> list[float]:
    """The beats at which most begins, apart from one another, in order."""
    strength = _strength(onset, beats)
    chosen: list[float] = []
    for place in np.argsort(strength)[::-1]:
        if len(chosen) < STRONG and all(abs(beats[place] - other) > 1.5 for other in chosen):
            chosen.append(float(beats[place]))
    return sorted(chosen)


def _joints(power: Line, edges: list[int]) -> list[tuple[int, int, float]]:
    """Where to go from the end of one bar to the beginning of another: costs by how unlike what would be heard then is
    to what is heard there otherwise, on both sides of the joint."""
    bars = np.array([_heard_in(power, a, b) for a, b in zip(edges, edges[1:], strict=False)])
    spread = bars.std(axis=0) + 1e-6
    spread[:12] = np.maximum(spread[:12], spread[:12].mean())
    even = bars / spread
    away = np.sqrt(((even[:, None] - even[None]) ** 2).mean(axis=2))
    found = []
    count = len(bars)
    for before in range(count - 1):
        for after in range(1, count):
            if after != before + 1:
                cost = float(away[before + 1, after] + away[before, after - 1]) / 2
                found.append((before, after, round(cost, 3)))
    return sorted(found, key=lambda joint: joint[2])[:JOINTS]


def _heard_in(power: Line, first: int, last: int) -> npt.NDArray[np.float64]:
    """What a bar is like: its twelve notes, its ranges of tones, and how loud its quarters are."""
    part = power[first * FPS // SAMPLE_RATE : max(first * FPS // SAMPLE_RATE + 4, last * FPS // SAMPLE_RATE)]
    tones = np.fft.rfftfreq(WINDOW, 1 / RATE)
    mean = part.mean(axis=0)
    sung = (tones > 60) & (tones < 2200)
    notes = np.bincount(np.rint(12 * np.log2(tones[sung] / 440)).astype(int) % 12, mean[sung] ** 2, 12)
    notes = np.sqrt(notes / (notes.sum() + 1e-9))
    edges = np.searchsorted(tones, [60, 150, 350, 800, 1800, 4000, 9000])
    ranges = [float(np.log1p(100 * mean[a:b].mean())) for a, b in zip(edges, edges[1:], strict=False)]
    quarters = [float(np.log1p(100 * quarter.mean())) for quarter in np.array_split(part, 4)]
    return np.array([*notes, *ranges, *quarters])
