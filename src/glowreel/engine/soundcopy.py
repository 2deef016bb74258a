"""Sound copies: all samples of a source, interleaved 16-bit stereo at 48 kHz and nothing else, mapped into memory."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import numpy.typing as npt


def stored_samples(path: Path) -> npt.NDArray[np.int16]:
    """The samples of a copy, shape (n, 2); not read until used."""
    count = path.stat().st_size // 4
    return np.memmap(path, np.int16, "r", shape=(count, 2)) if count else np.zeros((0, 2), np.int16)
