"""Drawn people, and footage of them whose every place is known: for tests and for measuring how well they are found."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import av
import cv2
import numpy as np

RATE = 25
SIZE = (640, 360)
Place = tuple[float, float]
"""Across and down, in shares of the picture."""


def head(where: int) -> np.ndarray:
    """A drawn person before a green wall, BGR, 240 by 320: a round head, hair, eyes and mouth, shoulders."""
    picture = np.full((320, 240, 3), (90, 140, 90), np.uint8)
    picture[:, ::24] = (80, 120, 80)
    cv2.ellipse(picture, (where, 300), (105, 90), 0, 0, 360, (120, 60, 40), -1)
    cv2.rectangle(picture, (where - 20, 180), (where + 20, 230), (130, 160, 205), -1)
    cv2.ellipse(picture, (where, 130), (52, 68), 0, 0, 360, (150, 180, 225), -1)
    cv2.ellipse(picture, (where, 95), (56, 45), 0, 180, 360, (30, 45, 70), -1)
    for side in (-20, 20):
        cv2.circle(picture, (where + side, 125), 6, (40, 40, 40), -1)
    cv2.ellipse(picture, (where, 165), (20, 8), 0, 0, 180, (60, 60, 160), -1)
    cv2.line(picture, (where, 130), (where, 148), (110, 140, 190), 3)
    return cv2.GaussianBlur(picture, (0, 0), 1.2)


@dataclass(frozen=True)
class Piece:
    """Footage of so many seconds: where the subject is by time, and how wide it is in shares of the picture; where a
    second one is, if any. `shows` says who is drawn: a person, a ball, or nobody."""

    name: str
    seconds: float
    first: Callable[[float], Place]
    width: float = 0.14
    second: Callable[[float], Place] | None = None
    shows: str = "person"


def _cut(at: float) -> Place:
    return (0.22, 0.5) if at < 2.5 else (0.76, 0.48)


PIECES: tuple[Piece, ...] = (
    Piece("one person who walks across", 6, lambda at: (0.2 + 0.1 * at, 0.5)),
    Piece("one person who stands at the side", 5, lambda at: (0.78 + 0.006 * np.sin(3 * at), 0.5)),
    Piece("two people near one another", 5, lambda at: (0.58, 0.5), second=lambda at: (0.72, 0.52)),
    Piece("two people at both sides", 5, lambda at: (0.2, 0.5), width=0.18, second=lambda at: (0.84, 0.5)),
    Piece("a fast person, there and back", 6, lambda at: (0.5 + 0.34 * np.sin(1.7 * at), 0.5)),
    Piece("a cut inside", 5, _cut),
    Piece("a ball that rolls", 5, lambda at: (0.25 + 0.1 * at, 0.62), width=0.16, shows="ball"),
    Piece("no subject", 4, lambda at: (0.5, 0.5), shows="nobody"),
)


def _ground(piece: Piece, at: float) -> Any:
    wide, high = SIZE
    made = np.full((high, wide, 3), (150, 150, 150), np.uint8)
    if piece.name == "a cut inside" and at >= 2.5:
        made[:] = (60, 70, 40)
    return made


def picture_of(piece: Piece, at: float) -> np.ndarray:
    """The frame of a piece at a time, BGR."""
    wide, high = SIZE
    made = _ground(piece, at)
    places = [piece.first(at), *([piece.second(at)] if piece.second is not None else [])]
    for across, down in places:
        if piece.shows == "ball":
            cv2.circle(
                made, (round(across * wide), round(down * high)), round(piece.width * wide / 2), (40, 90, 230), -1
            )
        if piece.shows == "person":
            size = round(piece.width * wide / 0.75 * 1.4)
            person = cv2.resize(head(120), (size * 3 // 4, size))
            left, top = round(across * wide - person.shape[1] / 2), round(down * high - size * 0.48)
            rows = slice(max(0, top), min(high, top + size))
            columns = slice(max(0, left), min(wide, left + person.shape[1]))
            made[rows, columns] = person[rows.start - top : rows.stop - top, columns.start - left : columns.stop - left]
    return made


def film_of(piece: Piece, path: Path) -> Path:
    """Writes a piece as a film."""
    with av.open(str(path), "w") as out:
        stream: Any = out.add_stream("libx264", rate=RATE, options={"crf": "18"})
        stream.width, stream.height, stream.pix_fmt = *SIZE, "yuv420p"
        for n in range(round(piece.seconds * RATE)):
            frame = av.VideoFrame.from_ndarray(picture_of(piece, n / RATE), format="bgr24")
            out.mux(stream.encode(frame))
        out.mux(stream.encode())
    return path
