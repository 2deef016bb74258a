"""Whose voice it is, where several people speak: stretches of speech told apart by how they sound.

A simple, honest method: for every stretch between pauses, the mean and spread of its mel cepstrum and its pitch; two
groups of them are taken for two people only where they lie clearly apart. Where that is unsure, it is one.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

RATE = 16_000
PAUSE = 350
"""Milliseconds that end a stretch."""
SHORTEST = 900
"""A stretch shorter than this says too little; it is taken to be of the voice before it."""
APART = 1.9
"""How far the middles of two voices lie apart, in their own spread, so that they are two."""
MOST = 4
Line = npt.NDArray[np.float32]
Array = npt.NDArray[np.float64]


def tell_apart(mono: Line, words: Sequence[tuple[int, int]]) -> list[int]:
    """For each word (start and end in milliseconds) the number of its voice from 1 on; 0 for all where it is one."""
    turns = _turns(words)
    long = [n for n, turn in enumerate(turns) if words[turn[-1]][1] - words[turn[0]][0] >= SHORTEST]
    if len(long) < 2:
        return [0] * len(words)
    marks = np.array([_mark(mono, words[turns[n][0]][0], words[turns[n][-1]][1]) for n in long])
    groups = _groups(marks)
    if groups is None:
        return [0] * len(words)
    made, voice = [0] * len(words), 1
    order: dict[int, int] = {}
    for number, turn in enumerate(turns):
        if number in long:
            voice = order.setdefault(int(groups[long.index(number)]), len(order) + 1)
        for word in turn:
            made[word] = voice
    return made


def _turns(words: Sequence[tuple[int, int]]) -> list[list[int]]:
    turns: list[list[int]] = []
    for number, (start, _) in enumerate(words):
        if number and start - words[number - 1][1] < PAUSE:
            turns[-1].append(number)
        else:
            turns.append([number])
    return turns


def _mels() -> Array:
    edges = 700 * (10 ** (np.linspace(0, 2595 * np.log10(1 + 7600 / 700), 28) / 2595) - 1)
    bins = np.fft.rfftfreq(512, 1 / RATE)
    rows = []
    for low, middle, high in zip(edges, edges[1:], edges[2:], strict=False):
        rows.append(np.clip(np.minimum((bins - low) / (middle - low), (high - bins) / (high - middle)), 0, None))
    return np.array(rows)


MELS = _mels()


def _mark(mono: Line, start: int, end: int) -> Array:
    """How a stretch sounds: the middle of its cepstrum over what is loud, and its pitch."""
    from scipy.fft import dct  # Takes a second to come: only where it is needed.
    from scipy.signal import stft

    part = mono[start * RATE // 1000 : end * RATE // 1000].astype(np.float64)
    _, _, spectrum = stft(part, RATE, nperseg=400, noverlap=240, nfft=512)
    power = np.abs(spectrum) ** 2
    loud = power.sum(axis=0)
    power = power[:, loud > np.percentile(loud, 40)]
    shape = dct(np.log(MELS @ power + 1e-10), axis=0, norm="ortho")[1:14]
    return np.concatenate([shape.mean(axis=1), [12 * np.log2(_pitch(part) / 100)]])


def _pitch(part: Array) -> float:
    """The usual pitch of a stretch, in hertz: the strongest period of its loud frames."""
    size, found = 1024, []
    levels = [float((part[at : at + size] ** 2).mean()) for at in range(0, len(part) - size, size // 2)]
    floor = float(np.percentile(levels, 60)) if levels else 0.0
    for place, level in enumerate(levels):
        if level < floor:
            continue
        frame = part[place * size // 2 : place * size // 2 + size]
        spectrum = np.fft.rfft(frame - frame.mean(), 2 * size)
        alike = np.fft.irfft(np.abs(spectrum) ** 2)[:size]
        low, high = RATE // 400, RATE // 70
        peak = low + int(alike[low:high].argmax())
        if alike[peak] > 0.45 * alike[0]:
            found.append(RATE / peak)
    return float(np.median(found)) if found else 100.0


def _groups(marks: Array) -> npt.NDArray[np.int64] | None:
    """Which of two groups each belongs to, where they lie clearly apart; None where they do not."""
    scale = np.array([*np.linspace(1.0, 0.5, 13), 1.2])
    scaled = marks * scale
    far = np.linalg.norm(scaled[:, None] - scaled[None], axis=2)
    one, other = np.unravel_index(int(far.argmax()), far.shape)
    middles = scaled[[one, other]]
    group = np.zeros(len(marks), np.int64)
    for _ in range(20):
        group = np.linalg.norm(scaled[:, None] - middles[None], axis=2).argmin(axis=1)
        if not 0 < group.sum() < len(group):
            return None
        middles = np.array([scaled[group == n].mean(axis=0) for n in (0, 1)])
    spread = np.sqrt(np.mean(np.sum((scaled - middles[group]) ** 2, axis=1)))
    apart = float(np.linalg.norm(middles[0] - middles[1]))
    pitches = np.array([marks[group == n, -1].mean() for n in (0, 1)])
    # Different pitch as well: one person at another distance from the microphone has the same.
    return group if apart > APART * max(float(spread), 4.0) and abs(pitches[0] - pitches[1]) > 2.0 else None
