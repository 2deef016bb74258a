"""Shapes that masks and graphics take: one row each, as an SVG path in the unit square, y downwards."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from dataclasses import dataclass

MAX_PATH = 4000
PATH = re.compile(r"\s*[Mm][MmLlHhVvCcSsQqTtAaZz0-9eE+\-., \n]*")
"""What may stand in the data of an SVG path (SVG 1.1, 8.3): commands and numbers."""

Outline = Callable[[int, float], str]
"""From a number of points and a depth between 0 and 1 to a path. Most shapes use neither."""


@dataclass(frozen=True)
class Shape:
    """What a shape is called and its outline; `points` and `depth` say whether it has these settings."""

    label: str
    meaning: str
    outline: Outline
    points: bool = False
    depth: bool = False


def _number(value: float) -> str:
    return f"{value:.5f}".rstrip("0").rstrip(".") or "0"


def _closed(spots: list[tuple[float, float]]) -> str:
    """Straight lines from spot to spot."""
    return "M" + " L".join(f"{_number(x)} {_number(y)}" for x, y in spots) + " Z"


def _around(count: int, radius: Callable[[int], float]) -> list[tuple[float, float]]:
    """Spots around the middle, the first at the top."""
    angles = (2 * math.pi * n / count - math.pi / 2 for n in range(count))
    return [(0.5 + radius(n) * math.cos(a), 0.5 + radius(n) * math.sin(a)) for n, a in enumerate(angles)]


def _smooth(spots: list[tuple[float, float]]) -> str:
    """A closed curve through spots (Catmull-Rom, as cubic Béziers)."""
    count, path = len(spots), f"M{_number(spots[0][0])} {_number(spots[0][1])}"
    for n in range(count):
        before, here, there, behind = (spots[(n + k) % count] for k in (-1, 0, 1, 2))
        first = [h + (t - b) / 6 for h, t, b in zip(here, there, before, strict=True)]
        second = [t - (f - h) / 6 for t, f, h in zip(there, behind, here, strict=True)]
        path += " C" + " ".join(_number(value) for value in (*first, *second, *there))
    return path + " Z"


def _polygon(points: int, depth: float) -> str:
    return _closed(_around(points, lambda n: 0.5))


def _star(points: int, depth: float) -> str:
    return _closed(_around(2 * points, lambda n: 0.5 if n % 2 == 0 else 0.5 * (1 - depth)))


def _blob(points: int, depth: float) -> str:
    return _smooth(_around(points, lambda n: 0.5 - 0.5 * depth * (0.5 + 0.5 * math.sin(n * 2.4 + 1))))


def _brush(points: int, depth: float) -> str:
    """A broad stroke: its ends are frayed, its long sides a little uneven."""
    rough = [math.sin(n * 12.9898 + 4) * 43758.5453 % 1 for n in range(64)]
    top = [(0.06 + 0.88 * n / 12, 0.10 + 0.05 * rough[n]) for n in range(13)]
    right = [(1 - 0.10 * rough[20 + n] * (n % 2), 0.16 + 0.68 * n / 9) for n in range(10)]
    bottom = [(0.94 - 0.88 * n / 12, 0.90 - 0.05 * rough[34 + n]) for n in range(13)]
    left = [(0.10 * rough[48 + n] * (n % 2), 0.84 - 0.68 * n / 9) for n in range(10)]
    return _closed([*top, *right, *bottom, *left])


def _ticket(points: int, depth: float) -> str:
    notch = 0.05 + 0.15 * depth
    high, low = _number(0.5 - notch), _number(0.5 + notch)
    arc = f"A{_number(notch)} {_number(notch)} 0 0 0"
    return f"M0 0 H1 V{high} {arc} 1 {low} V1 H0 V{low} {arc} 0 {high} Z"


def _fixed(path: str) -> Outline:
    return lambda points, depth: path


SHAPES: dict[str, Shape] = {
    "rectangle": Shape("Rectangle", "straight sides; its corners may be rounded", _fixed("M0 0 H1 V1 H0 Z")),
    "ellipse": Shape("Ellipse", "a circle or an oval", _fixed("M0.5 0 A0.5 0.5 0 1 1 0.5 1 A0.5 0.5 0 1 1 0.5 0 Z")),
    "polygon": Shape("Polygon", "three corners or more, all alike", _polygon, points=True),
    "star": Shape("Star", "points around the middle", _star, points=True, depth=True),
    "heart": Shape("Heart", "a heart", _fixed(
        "M0.5 0.97 C0.44 0.9 0.02 0.64 0.01 0.31 C0 0.13 0.13 0.03 0.26 0.03 C0.37 0.03 0.46 0.1 0.5 0.2 "
        "C0.54 0.1 0.63 0.03 0.74 0.03 C0.87 0.03 1 0.13 0.99 0.31 C0.98 0.64 0.56 0.9 0.5 0.97 Z")),
    "blob": Shape("Blob", "soft and uneven", _blob, points=True, depth=True),
    "arch": Shape("Arch", "a doorway: round above, straight below", _fixed(
        "M0 1 V0.5 A0.5 0.5 0 0 1 1 0.5 V1 Z")),
    "brush": Shape("Brush stroke", "a broad stroke with frayed ends", _brush),
    "pin": Shape("Map pin", "where something is", _fixed(
        "M0.5 1 C0.42 0.86 0.1 0.62 0.1 0.38 A0.4 0.38 0 1 1 0.9 0.38 C0.9 0.62 0.58 0.86 0.5 1 Z "
        "M0.5 0.24 A0.14 0.14 0 1 0 0.5 0.52 A0.14 0.14 0 1 0 0.5 0.24 Z")),
    "bell": Shape("Bell", "rings when there is something new", _fixed(
        "M0.5 0 A0.07 0.07 0 0 1 0.57 0.08 C0.74 0.11 0.83 0.25 0.83 0.44 C0.83 0.62 0.87 0.69 0.96 0.78 H0.04 "
        "C0.13 0.69 0.17 0.62 0.17 0.44 C0.17 0.25 0.26 0.11 0.43 0.08 A0.07 0.07 0 0 1 0.5 0 Z "
        "M0.37 0.84 H0.63 A0.13 0.14 0 0 1 0.37 0.84 Z")),
    "chevron": Shape("Chevron", "points upwards", _fixed("M0 0.62 L0.5 0.12 L1 0.62 L0.86 0.76 L0.5 0.4 L0.14 0.76 Z")),
    "plus": Shape("Plus", "one more", _fixed(
        "M0.38 0 H0.62 V0.38 H1 V0.62 H0.62 V1 H0.38 V0.62 H0 V0.38 H0.38 Z")),
    "ticket": Shape("Ticket", "a card with a notch on either side", _ticket, depth=True),
}  # fmt: skip
"""Every shape by its name."""


def checked_path(text: str) -> str:
    """The data of an SVG path, or `ValueError` with words for whoever gave it."""
    if len(text) > MAX_PATH:
        raise ValueError(f"a path has at most {MAX_PATH} letters")
    if text and not PATH.fullmatch(text):
        raise ValueError("a path is what stands in the “d” of an SVG path, such as M0 0 L1 0 L1 1 Z")
    return text
