"""Sound that does not run by itself: faster, slower, backwards, along a curve; with its pitch kept or not.

Without keeping the pitch the source is read along its positions. With the pitch kept, short windows of the source are
laid over one another at an even pace (waveform similarity overlap-add, after Verhelst and Roelands, 1993): each window
is taken from near where the time map says, moved to where it best continues the one before. Windows are found one after
another from the voice's beginning and remembered, so that any span of it comes out the same however it is asked for.
"""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from glowreel.core.recipe.model import Voice

Samples = npt.NDArray[np.float32]
Positions = npt.NDArray[np.float64]

WINDOW = 2048
HOP = WINDOW // 2
SEARCH = 512
COARSE = 4
"""The likeness of windows is looked for in every fourth sample first, then refined."""
QUIET = 480
"""Samples over which sound goes before a held frame and comes after it."""


def positions(voice: Voice, start: int, end: int) -> Positions:
    """Where in the source the samples `start` to `end` of a warped voice are; straight on beyond its knots.

    Between two knots the speed changes evenly: p(n) = p₀ + v₀·n + (v₁ − v₀)·n² / 2N.
    """
    knots = voice.warp
    n = np.arange(start, end, dtype=np.float64)
    found = knots[0][1] + knots[0][2] * (n - knots[0][0])
    for (at, source, speed), (until, _, last) in zip(knots, knots[1:], strict=False):
        if until <= at:
            continue
        here = n >= at
        into = n[here] - at
        found[here] = source + speed * into + (last - speed) * into**2 / (2 * (until - at))
    at, source, speed = knots[-1]
    beyond = n >= at
    found[beyond] = source + speed * (n[beyond] - at)
    # Going backwards from the end of a sample, it is the one before it that is heard.
    return found - 1 if any(knot[2] < 0 for knot in knots) else found


def heard_level(voice: Voice, start: int, end: int) -> Samples | None:
    """0 while a frame is held, 1 elsewhere, with short ramps; None where nothing is held."""
    pairs = zip(voice.warp, voice.warp[1:], strict=False)
    held = [(a[0], b[0]) for a, b in pairs if a[2] == 0 and b[2] == 0 and b[0] > a[0]]
    if not held:
        return None
    n = np.arange(start, end, dtype=np.float32)
    level = np.ones(end - start, np.float32)
    for first, last in held:
        away = np.maximum(first - n, n - (last - 1))
        level = np.minimum(level, np.clip(away / QUIET, 0, 1))
    return level


def read_along(stored: npt.NDArray[np.int16], where: Positions) -> Samples:
    """The source at positions that go on evenly, shape (n − 1, 2): between samples when slow; when fast, the mean of
    what is passed over, which keeps out most of what would fold back as false tones."""
    low, high = int(np.floor(where.min())) - 1, int(np.ceil(where.max())) + 2
    part = _padded(stored, low, high)
    steps = np.diff(where)
    at = where - low
    out = np.empty((len(where) - 1, 2), np.float32)
    fast = np.abs(steps) > 1.02
    sums = np.concatenate([np.zeros((1, 2)), np.cumsum(part, axis=0, dtype=np.float64)]) if fast.any() else None
    grid = np.arange(len(part), dtype=np.float64)
    for channel in (0, 1):
        out[:, channel] = np.interp(at[:-1], grid, part[:, channel])
        if sums is not None:
            passed = np.diff(np.interp(at, np.arange(len(sums), dtype=np.float64), sums[:, channel]))
            out[fast, channel] = passed[fast] / steps[fast]
    return out


def _padded(stored: npt.NDArray[np.int16], low: int, high: int) -> Samples:
    """Samples `low` to `high` of a source, ±1, silence beyond its ends."""
    out = np.zeros((high - low, 2), np.float32)
    first, last = max(0, low), min(len(stored), high)
    if last > first:
        out[first - low : last - low] = stored[first:last].astype(np.float32) / 32768
    return out


class Stretch:
    """A voice with its pitch kept. Remembers where its windows were found."""

    def __init__(self, voice: Voice, stored: npt.NDArray[np.int16]) -> None:
        self._voice = voice
        self._stored = stored
        self._way = -1 if any(speed < 0 for _, _, speed in voice.warp) else 1
        self._middles: list[int] = []
        self._window = np.hanning(WINDOW + 1)[:-1].astype(np.float32)[:, None]

    def span(self, start: int, end: int) -> Samples:
        """Samples `start` to `end` of the voice, shape (n, 2)."""
        first, last = start // HOP, -(-end // HOP)
        self._find(last + 1)
        out = np.zeros(((last - first + 2) * HOP, 2), np.float32)
        for n in range(first, last + 1):
            # Window n has its middle at sample n · HOP of the voice.
            begin = (n - first) * HOP
            out[begin : begin + WINDOW] += self._around(self._middles[n], -HOP, HOP) * self._window
        offset = start - first * HOP + HOP
        return out[offset : offset + end - start]

    def _around(self, middle: int, first: int, last: int) -> Samples:
        """The source from `first` to `last` samples after a middle, in the direction of the voice."""
        if self._way > 0:
            return _padded(self._stored, middle + first, middle + last)
        return _padded(self._stored, middle - last + 1, middle - first + 1)[::-1]

    def _find(self, count: int) -> None:
        known = len(self._middles)
        if count <= known:
            return
        wanted = positions(self._voice, 0, 1) if not known else None
        if wanted is not None:
            self._middles.append(round(float(wanted[0])))
        aims = np.array([positions(self._voice, k * HOP, k * HOP + 1)[0] for k in range(len(self._middles), count)])
        for aim in aims:
            self._middles.append(self._best(self._middles[-1], round(float(aim))))

    def _best(self, last: int, aim: int) -> int:
        """The middle within reach of the aim whose window is most like what would come after the last one."""
        follows = self._around(last, 0, WINDOW).sum(axis=1)
        if abs(last + self._way * HOP - aim) < 2:
            return last + self._way * HOP
        field = self._around(aim, -HOP - SEARCH, HOP + SEARCH).sum(axis=1)
        coarse = np.correlate(field[::COARSE], follows[::COARSE], "valid")
        spot = int(np.argmax(coarse)) * COARSE
        tries = range(max(0, spot - COARSE), min(2 * SEARCH, spot + COARSE) + 1)
        scores = [float(np.dot(field[t : t + WINDOW], follows)) for t in tries]
        spot = tries[int(np.argmax(scores))]
        return aim + self._way * (spot - SEARCH)
