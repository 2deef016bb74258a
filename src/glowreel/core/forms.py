"""Forms that can be put in front of the picture: closed shapes, lines, arrows, and what a hand draws.

A form gives the data of an SVG path for a box of a size, in canonical units from its corner. Those of `core.shapes` are
scaled to the box; lines keep their manner however long they are.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from glowreel.core.shapes import SHAPES

Draw = Callable[[float, float, int, float], str]
"""From a width, a height, a number of points and a depth between 0 and 1 to a path."""


@dataclass(frozen=True)
class Form:
    """What a form is called and does, how many times as wide as high a new one is, and its path. `open` ones are lines
    without an inside; `points` and `depth` say whether it has these settings."""

    label: str
    meaning: str
    draw: Draw
    ratio: float = 1.0
    open: bool = False
    points: bool = False
    depth: bool = False


def _number(value: float) -> str:
    return f"{value:.2f}".rstrip("0").rstrip(".") or "0"


def _path(*parts: str | float) -> str:
    return " ".join(part if isinstance(part, str) else _number(part) for part in parts)


def _head(x: float, y: float, angle: float, long: float) -> str:
    """The two strokes of an arrow's head at a spot, pointing along an angle in radians."""
    spots = [(x - long * math.cos(angle + turn), y - long * math.sin(angle + turn)) for turn in (0.5, -0.5)]
    (ax, ay), (bx, by) = spots
    return _path("M", ax, ay, "L", x, y, "L", bx, by)


def _line(w: float, h: float, points: int, depth: float) -> str:
    return _path("M", 0.0, h / 2, "L", w, h / 2)


def _arrow(w: float, h: float, points: int, depth: float) -> str:
    return _line(w, h, points, depth) + " " + _head(w, h / 2, 0.0, h * 0.9)


def _double(w: float, h: float, points: int, depth: float) -> str:
    return _arrow(w, h, points, depth) + " " + _head(0.0, h / 2, math.pi, h * 0.9)


def _curved(w: float, h: float, points: int, depth: float) -> str:
    """From the lower left up and over to the right; the head lies along its end."""
    bend = _path("M", 0.0, h, "Q", w * 0.1, h * 0.1, w, h * 0.3)
    return bend + " " + _head(w, h * 0.3, math.atan2(h * 0.2, w * 0.9), min(w, h) * 0.32)


def _wave(w: float, h: float, points: int, depth: float) -> str:
    path = _path("M", 0.0, h / 2)
    for n in range(2 * points):
        start, step = w * n / (2 * points), w / (2 * points)
        path += " " + _path("Q", start + step / 2, 0.0 if n % 2 else h, start + step, h / 2)
    return path


def _zigzag(w: float, h: float, points: int, depth: float) -> str:
    spots = [(w * n / (2 * points), h if n % 2 else 0.0) for n in range(2 * points + 1)]
    return "M " + " L ".join(_path(x, y) for x, y in spots)


def _bracket(w: float, h: float, points: int, depth: float) -> str:
    """Two corners that hold what lies between them."""
    arm = min(w, h) * 0.25
    left = _path("M", arm, 0.0, "L", 0.0, 0.0, "L", 0.0, h, "L", arm, h)
    return left + " " + _path("M", w - arm, 0.0, "L", w, 0.0, "L", w, h, "L", w - arm, h)


def _corners(w: float, h: float, points: int, depth: float) -> str:
    arm, parts = min(w, h) * 0.22, []
    for x, inward in ((0.0, 1.0), (w, -1.0)):
        for y, down in ((0.0, 1.0), (h, -1.0)):
            parts.append(_path("M", x + inward * arm, y, "L", x, y, "L", x, y + down * arm))
    return " ".join(parts)


def _through(spots: list[tuple[float, float]]) -> str:
    """A smooth open curve through spots (Catmull-Rom, as cubic Béziers)."""
    path, last = _path("M", *spots[0]), len(spots) - 1
    for n in range(last):
        before, here, there, behind = (spots[max(0, min(last, n + k))] for k in (-1, 0, 1, 2))
        first = [a + (b - c) / 6 for a, b, c in zip(here, there, before, strict=True)]
        second = [b - (c - a) / 6 for a, b, c in zip(here, there, behind, strict=True)]
        path += " " + _path("C", *first, *second, *there)
    return path


def _hand_circle(w: float, h: float, points: int, depth: float) -> str:
    """Once around and a little more, never quite on the same line."""
    spots = []
    for n in range(27):
        angle, far = math.radians(-110 + n * 15.5), 0.44 + 0.012 * math.sin(n * 0.8 + 1) + 0.05 * n / 26
        spots.append((w * (0.5 + far * math.cos(angle)), h * (0.5 + far * math.sin(angle))))
    return _through(spots)


def _hand_line(w: float, h: float, points: int, depth: float) -> str:
    """There and back below it."""
    there = [(w * n / 6, h * (0.3 + 0.16 * math.sin(n * 2.1))) for n in range(7)]
    back = [(w * (1 - n / 6) * 0.92 + w * 0.05, h * (0.72 + 0.14 * math.sin(n * 1.7 + 1))) for n in range(1, 6)]
    return _through([*there, *back])


def _tick(w: float, h: float, points: int, depth: float) -> str:
    return _path("M", 0.0, h * 0.55, "L", w * 0.36, h, "L", w, 0.0)


def _cross(w: float, h: float, points: int, depth: float) -> str:
    return _path("M", 0.0, 0.0, "L", w, h, "M", w, 0.0, "L", 0.0, h)


def _bubble(w: float, h: float, points: int, depth: float) -> str:
    """A rounded box with a tail at its lower left."""
    low, round_ = h * 0.8, min(w, h) * (0.08 + 0.3 * depth)
    right, tail = w - round_, w * 0.22
    return _path(
        "M", round_, 0.0, "H", right, "A", round_, round_, 0.0, 0.0, 1.0, w, round_, "V", low - round_,
        "A", round_, round_, 0.0, 0.0, 1.0, right, low, "H", tail + w * 0.14, "L", tail * 0.6, h, "L", tail, low,
        "H", round_, "A", round_, round_, 0.0, 0.0, 1.0, 0.0, low - round_, "V", round_,
        "A", round_, round_, 0.0, 0.0, 1.0, round_, 0.0, "Z",
    )  # fmt: skip


def _fat_arrow(w: float, h: float, points: int, depth: float) -> str:
    neck, edge = w - min(w * 0.6, h * 0.7), h * (0.36 - 0.24 * depth)
    return _path("M", 0.0, edge, "H", neck, "V", 0.0, "L", w, h / 2, "L", neck, h, "V", h - edge, "H", 0.0, "Z")


def _shape(key: str) -> Draw:
    """A shape of the unit square, as wide and high as the box."""

    def draw(w: float, h: float, points: int, depth: float) -> str:
        return SHAPES[key].outline(points, depth)

    return draw


IN_SQUARE = frozenset(SHAPES)
"""Forms whose path is in the unit square."""
RATIOS = {"brush": 3.2, "ticket": 1.8, "arch": 0.8}
FORMS: dict[str, Form] = {
    **{
        key: Form(shape.label, shape.meaning, _shape(key), RATIOS.get(key, 1.0), False, shape.points, shape.depth)
        for key, shape in SHAPES.items()
    },
    "bubble": Form("Speech bubble", "a rounded box with a tail", _bubble, 1.4, depth=True),
    "fat-arrow": Form("Broad arrow", "an arrow with an inside", _fat_arrow, 1.6, depth=True),
    "line": Form("Line", "straight from side to side", _line, 8.0, open=True),
    "arrow": Form("Arrow", "a line with a head", _arrow, 5.0, open=True),
    "double": Form("Arrow both ways", "a line with a head at either end", _double, 5.0, open=True),
    "curved": Form("Curved arrow", "up and over to what it points at", _curved, 1.6, open=True),
    "wave": Form("Wavy line", "a line in waves", _wave, 8.0, open=True, points=True),
    "zigzag": Form("Zigzag", "a line with corners", _zigzag, 8.0, open=True, points=True),
    "bracket": Form("Brackets", "two brackets around something", _bracket, 1.4, open=True),
    "corners": Form("Corners", "four corners around something", _corners, 1.4, open=True),
    "hand-circle": Form("Circle by hand", "drawn around something by hand", _hand_circle, 1.5, open=True),
    "hand-line": Form("Underline by hand", "drawn under something by hand, there and back", _hand_line, 6.0, open=True),
    "tick": Form("Tick", "done", _tick, 1.1, open=True),
    "cross": Form("Cross", "not so", _cross, 1.0, open=True),
}  # fmt: skip
"""Every form by its name."""
