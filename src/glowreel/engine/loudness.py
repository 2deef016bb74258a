"""How loud a sound is, by ITU-R BS.1770 and EBU R 128, measured by libavfilter's `ebur128`."""

from __future__ import annotations

import math
from collections.abc import Callable
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np

from glowreel.core.time import SAMPLE_RATE

BLOCK = SAMPLE_RATE


def measure_loudness(samples: Path, tell: Callable[[float], None]) -> dict[str, Any]:
    """Integrated loudness in LUFS, loudness range in LU and true peak in dBTP of a sound copy (interleaved 16-bit
    stereo at 48 kHz). Silence has none of them."""
    graph = av.filter.Graph()
    source = graph.add_abuffer(
        sample_rate=SAMPLE_RATE, format="s16", layout="stereo", time_base=Fraction(1, SAMPLE_RATE)
    )  # fmt: skip
    meter = graph.add("ebur128", "metadata=1:peak=true")
    sink = graph.add("abuffersink")
    source.link_to(meter)
    meter.link_to(sink)
    graph.configure()
    data = np.memmap(samples, np.int16, "r") if samples.stat().st_size else np.zeros(0, np.int16)
    stereo = data[: len(data) // 2 * 2].reshape(-1, 2)
    last: dict[str, str] = {}
    for first in range(0, len(stereo), BLOCK):
        block = np.ascontiguousarray(stereo[first : first + BLOCK]).reshape(1, -1)
        frame = av.AudioFrame.from_ndarray(block, format="s16", layout="stereo")
        frame.sample_rate, frame.pts = SAMPLE_RATE, first
        graph.push(frame)
        last = _drained(graph, last)
        tell((first + BLOCK) / max(1, len(stereo)))
    return {
        "lufs": _number(last.get("lavfi.r128.I")),
        "range": _number(last.get("lavfi.r128.LRA")),
        # The filter tells the peak of each channel as a factor.
        "peak": _peak([last.get(f"lavfi.r128.true_peaks_ch{n}") for n in (0, 1)]),
    }


def _drained(graph: Any, last: dict[str, str]) -> dict[str, str]:
    """The newest figures of the meter."""
    while True:
        try:
            last = dict(graph.pull().metadata)
        except (av.error.BlockingIOError, EOFError, av.error.EOFError):
            return last


def _number(text: str | None) -> float | None:
    value = float(text) if text else math.nan
    return round(value, 2) if math.isfinite(value) and value > -70 else None


def _peak(factors: list[str | None]) -> float | None:
    highest = max((float(factor) for factor in factors if factor), default=0.0)
    return round(20 * math.log10(highest), 2) if highest > 0 else None
