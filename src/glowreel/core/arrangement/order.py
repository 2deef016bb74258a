"""In which order things are read that lie in a frame, and along which lines they stand."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import combinations

from glowreel.core.formats import CANON
from glowreel.core.layout import Box

IN_LINE = 0.015 * CANON
"""How far edges may be from one another and count as one line."""
OVERLAP = 0.1
"""By how much of the shorter one two things may reach past one another and still be apart."""

Key = int


def in_order(boxes: Mapping[Key, Box]) -> list[Key]:
    """Things as they are read: rows from the top, what stands in columns within a row from the left, and so on within
    these (the recursive cutting of pages by Nagy and Seth, 1984)."""
    return _cut(list(boxes), boxes, stuck=False)


def _cut(keys: list[Key], boxes: Mapping[Key, Box], *, stuck: bool, down: bool = True) -> list[Key]:
    if len(keys) < 2:
        return keys
    parts = _parted(keys, boxes, down=down)
    if len(parts) == 1 and stuck:
        return sorted(keys, key=lambda key: (boxes[key].y, boxes[key].x))
    return [key for part in parts for key in _cut(part, boxes, stuck=len(parts) == 1, down=not down)]


def _extent(box: Box, down: bool) -> tuple[float, float]:
    return (box.y, box.y + box.height) if down else (box.x, box.x + box.width)


def _parted(keys: list[Key], boxes: Mapping[Key, Box], *, down: bool) -> list[list[Key]]:
    """Things in rows, or in columns, that lie apart."""
    waiting = sorted(keys, key=lambda key: _extent(boxes[key], down))
    parts = [[waiting[0]]]
    for key in waiting[1:]:
        start, end = _extent(boxes[key], down)
        ends = [_extent(boxes[other], down) for other in parts[-1]]
        reached = max(stop for _, stop in ends)
        shorter = min(end - start, *(stop - begin for begin, stop in ends))
        if start >= reached - OVERLAP * shorter:
            parts.append([key])
        else:
            parts[-1].append(key)
    return parts


def disorder(there: Mapping[Key, Box], here: Mapping[Key, Box]) -> float:
    """How many pairs of things, of all, are read in another order (the distance of Kendall)."""
    was, now = in_order(there), in_order(here)
    place = {key: n for n, key in enumerate(now)}
    pairs = list(combinations(was, 2))
    return sum(place[first] > place[then] for first, then in pairs) / max(1, len(pairs))


def _lines(one: Box, other: Box) -> bool:
    """Whether two things one above the other stand in one line, by their edges or middles."""
    edges = (one.x - other.x, one.x + one.width - other.x - other.width,
             one.x + one.width / 2 - other.x - other.width / 2)  # fmt: skip
    return any(abs(apart) < IN_LINE for apart in edges)


def _above(one: Box, other: Box) -> bool:
    return one.y + one.height <= other.y + 1 or other.y + other.height <= one.y + 1


def out_of_line(there: Mapping[Key, Box], here: Mapping[Key, Box]) -> float:
    """How many pairs that stood above one another, of all such that still do, are not in one line any more."""
    kept = [(first, then) for first, then in combinations(there, 2)
            if _above(there[first], there[then]) and _lines(there[first], there[then])
            and _above(here[first], here[then])]  # fmt: skip
    return sum(not _lines(here[first], here[then]) for first, then in kept) / max(1, len(kept))


def slid(there: Sequence[tuple[float, float]], here: Sequence[tuple[float, float]], allowed: float) -> float:
    """How much further than allowed things are from where they were, up or down, in shares of the frame, on average;
    and all of them together across."""
    if not there:
        return 0.0
    down = [max(0.0, abs(one[1] - other[1]) - allowed) for one, other in zip(there, here, strict=True)]
    across = sum(one[0] for one in there) / len(there) - sum(one[0] for one in here) / len(here)
    return sum(down) / len(down) + max(0.0, abs(across) - allowed)
