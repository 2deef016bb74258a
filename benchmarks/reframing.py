"""How well a tall frame keeps the subject of wide footage in view, beside one that stays in the middle."""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
from tools.heads import PIECES, RATE, Piece, film_of

from glowreel.core.subject import Subject, focus_of
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.engine.subject import frames_of, subject_of_footage

VIEW = (9 / 16) ** 2
"""How much of the width of wide footage a tall frame shows."""
Show = Callable[[str, str, str, bool], None]


def followed(piece: Piece, subject: Subject | None) -> np.ndarray:
    """The middle of the view across, for each frame; in the middle where nothing is followed."""
    middles = []
    for n in range(round(piece.seconds * RATE)):
        at = round(n / RATE * TICKS_PER_SECOND)
        found = focus_of(subject, at, (VIEW, 1.0)) if subject is not None else None
        middles.append(min(1 - VIEW / 2, max(VIEW / 2, found[0] if found is not None else 0.5)))
    return np.array(middles)


def judged(piece: Piece, middles: np.ndarray) -> tuple[float, float, float]:
    """The mean distance of the subject from the view's middle (shares of the picture), the share of frames in which all
    of it is seen, and the mean jerk of the view (shares a second cubed). Of two, the one that is nearer counts."""
    times = np.arange(len(middles)) / RATE
    truths = [np.array([place(at)[0] for at in times]) for place in (piece.first, piece.second) if place is not None]
    away = np.min([np.abs(truth - middles) for truth in truths], axis=0)
    whole = np.mean(away + piece.width / 2 <= VIEW / 2 + 1e-9)
    third = np.diff(middles, 3) * RATE**3
    # Where the shot changes, the view may jump: that is no movement of it.
    jumps = np.abs(np.diff(middles)) > 0.1
    calm = ~(jumps[:-2] | jumps[1:-1] | jumps[2:])
    jerk = float(np.mean(np.abs(third[calm])))
    return float(away.mean()), float(whole), jerk


def reframing(folder: Path, show: Show) -> None:
    for piece in PIECES:
        film = film_of(piece, folder / f"{len(list(folder.iterdir()))}.mp4")
        began = time.process_time()
        wall = time.perf_counter()
        found = subject_of_footage(frames_of(film), lambda share: None, piece.seconds)
        took, cost = time.perf_counter() - wall, time.process_time() - began
        own, fixed = (judged(piece, followed(piece, one)) for one in (found, None))
        good = own[0] <= fixed[0] + 0.01 and own[1] >= fixed[1] - 0.01
        figure = f"away {own[0]:.3f} ({fixed[0]:.3f}) whole {own[1]:.0%} ({fixed[1]:.0%}) jerk {own[2]:.2f}"
        show(piece.name, figure, "no worse than the middle", good)
        show(f"  looked at, {piece.seconds:g} s", f"{piece.seconds / took:.1f} x real time, {cost:.1f} s of processors",
             ">= 4 x", took * 4 <= piece.seconds)  # fmt: skip
