"""How loud a sound is, by ITU-R BS.1770 and EBU R 128, measured by libavfilter's `ebur128`."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np
import numpy.typing as npt

from glowreel.core.time import SAMPLE_RATE
from glowreel.engine.soundcopy import stored_samples

TENTH = SAMPLE_RATE // 10
BLOCK = SAMPLE_RATE
Samples = npt.NDArray[np.float32]


@dataclass(frozen=True)
class Whole:
    """Of a mix: integrated loudness (LUFS), range (LU) and true peak (dBTP), None for silence; momentary and short-term
    loudness (LUFS, −99 for silence) every tenth of a second."""

    loudness: float | None
    range: float | None
    peak: float | None
    momentary: tuple[float, ...] = ()
    short: tuple[float, ...] = ()


def measure_loudness(samples: Path, tell: Callable[[float], None]) -> dict[str, Any]:
    """Integrated loudness in LUFS, loudness range in LU and true peak in dBTP of a sound copy. Silence has none of
    them."""
    stored = stored_samples(samples)

    def blocks() -> Iterator[Samples]:
        for first in range(0, len(stored), BLOCK):
            yield np.asarray(stored[first : first + BLOCK], np.float32) / np.float32(32768)
            tell(min(1.0, (first + BLOCK) / len(stored)))

    found = measure_blocks(blocks())
    return {"lufs": found.loudness, "range": found.range, "peak": found.peak}


def measure_blocks(blocks: Iterator[Samples], *, lines: bool = False) -> Whole:
    """How loud samples are that come in blocks, held at full scale as they are where they are encoded."""
    graph = av.filter.Graph()
    source = graph.add_abuffer(
        sample_rate=SAMPLE_RATE, format="flt", layout="stereo", time_base=Fraction(1, SAMPLE_RATE)
    )  # fmt: skip
    meter, sink = graph.add("ebur128", "metadata=1:peak=true"), graph.add("abuffersink")
    source.link_to(meter)
    meter.link_to(sink)
    graph.configure()
    last: dict[str, str] = {}
    momentary: list[float] = []
    short: list[float] = []
    at, rest = 0, np.zeros((0, 2), np.float32)

    def push(block: Samples) -> None:
        nonlocal at, last
        held = np.ascontiguousarray(np.clip(block, -1, 1), np.float32).reshape(1, -1)
        frame = av.AudioFrame.from_ndarray(held, format="flt", layout="stereo")
        frame.sample_rate, frame.pts = SAMPLE_RATE, at
        graph.push(frame)
        at += len(block)
        while True:
            try:
                last = dict(graph.pull().metadata) or last
            except (av.error.BlockingIOError, EOFError, av.error.EOFError):
                return
            if lines and last:
                momentary.append(_at_once(last.get("lavfi.r128.M")))
                short.append(_at_once(last.get("lavfi.r128.S")))

    for block in blocks:
        rest = np.concatenate([rest, block])
        while len(rest) >= TENTH:
            push(rest[:TENTH])
            rest = rest[TENTH:]
    if len(rest):
        push(np.pad(rest, ((0, TENTH - len(rest)), (0, 0))))
    loudness, spread = (_told(last.get(f"lavfi.r128.{name}")) for name in ("I", "LRA"))
    return Whole(loudness, spread, _peak_of(last), tuple(momentary), tuple(short))


def measure_file(path: Path) -> Whole:
    """How loud the sound of a finished file is, as whoever plays it decodes it."""

    def blocks() -> Iterator[Samples]:
        with av.open(str(path)) as container:
            resampler = av.AudioResampler(format="flt", layout="stereo", rate=SAMPLE_RATE)
            for decoded in container.decode(container.streams.audio[0]):
                for frame in resampler.resample(decoded):
                    yield np.asarray(frame.to_ndarray().reshape(-1, 2))

    return measure_blocks(blocks())


def _at_once(text: str | None) -> float:
    found = float(text) if text else -99.0
    return round(found, 1) if np.isfinite(found) and found > -99 else -99.0


def _told(text: str | None) -> float | None:
    """A figure that the meter tells; None for silence."""
    value = float(text) if text else math.nan
    return round(value, 2) if math.isfinite(value) and value > -70 else None


def _peak_of(figures: dict[str, str]) -> float | None:
    """The true peak of both channels in dBTP. The filter tells that of each as a factor."""
    factors = [figures.get(f"lavfi.r128.true_peaks_ch{n}") for n in (0, 1)]
    highest = max((float(factor) for factor in factors if factor), default=0.0)
    return round(20 * math.log10(highest), 2) if highest > 0 else None
