"""How well layers lie in a shape, in numbers.

Each fault is a share between 0 (none) and 1 or more; a score is 100 without any, less by what each weighs.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, fields

from glowreel.core.arrangement.laid import Laid, smallest
from glowreel.core.formats import Format
from glowreel.core.layout import Box, common

WEIGHTS = {
    "overlap": 60.0,
    "cut_heads": 50.0,
    "outside": 60.0,
    "unsafe": 25.0,
    "small": 60.0,
    "unbalanced": 40.0,
    "disordered": 40.0,
    "unaligned": 14.0,
}
"""What a whole fault of each kind takes off 100."""
LEAST_COMMON, LEAST_OUTSIDE = 0.02, 0.01
"""Shares of a layer that may lie over another one, or outside, and count for nothing."""
LEGIBLE_ROOM = 0.98
"""Letters that are hardly too small are let pass."""

Pair = frozenset[str]


@dataclass(frozen=True)
class Score:
    """What is wrong with how things lie: how much of layers lies over others, of faces or subjects is cut off, lies
    outside the frame or is broken within a word, outside the safe area, how much too small letters are, and how far
    all of it has slid from where it was wanted; of pairs that stood before or above one another, or along one line, how
    many do not any more."""

    overlap: float = 0.0
    cut_heads: float = 0.0
    outside: float = 0.0
    unsafe: float = 0.0
    small: float = 0.0
    unbalanced: float = 0.0
    disordered: float = 0.0
    unaligned: float = 0.0

    @property
    def faults(self) -> float:
        """What all faults weigh; 0 for none."""
        return float(sum(WEIGHTS[one.name] * getattr(self, one.name) for one in fields(self)))

    @property
    def points(self) -> float:
        """Of 100."""
        return max(0.0, 100.0 - self.faults)

    @property
    def sound(self) -> bool:
        """Whether nothing lies over another, outside the frame, or is too small to be read."""
        return not (self.overlap or self.outside or self.small)


def share_outside(box: Box, room: Box) -> float:
    """How much of a box lies outside of another one."""
    size = box.width * box.height
    return 1 - common(box, room) / size if size else 0.0


def frame_of(format: Format) -> Box:
    return Box(0, 0, *format.canon)


def safe_of(format: Format) -> Box:
    """The safe area of a format, canonical."""
    (wide, high), (left, top, right, low) = format.canon, format.safe
    return Box(left * wide, top * high, (1 - left - right) * wide, (1 - top - low) * high)


def overlaps(laid: Sequence[Laid], meant: Collection[Pair]) -> dict[Pair, float]:
    """Which layers lie over others, by how much of the smaller one, without those that are meant to."""
    found = {}
    for n, one in enumerate(laid):
        for other in laid[n + 1 :]:
            pair = frozenset((one.item.id, other.item.id))
            smaller = min(one.box.width * one.box.height, other.box.width * other.box.height) or 1.0
            share = common(one.box, other.box) / smaller
            if share > LEAST_COMMON and pair not in meant:
                found[pair] = share
    return found


def rate(
    laid: Sequence[Laid],
    format: Format,
    meant: Collection[Pair] = (),
    usual: Mapping[str, tuple[float, float]] | None = None,
) -> Score:
    """The score of layers that are on show together. `meant` are pairs that lie over one another by intention, `usual`
    how much of each layer lies outside of the frame, and of the safe area, by intention."""
    frame, safe, least = frame_of(format), safe_of(format), smallest(format)
    outside = unsafe = small = 0.0
    for one in laid:
        out_of_frame, out_of_safe = (usual or {}).get(one.item.id, (0.0, 0.0))
        over = share_outside(one.box, frame) - out_of_frame
        outside += (over if over > LEAST_OUTSIDE else 0.0) + one.broken
        if one.worded or one.logo:
            over = share_outside(one.box, safe) - out_of_safe
            unsafe += over if over > LEAST_OUTSIDE else 0.0
        if one.worded and one.letters < least * LEGIBLE_ROOM:
            small += 1 - one.letters / least
    return Score(sum(overlaps(laid, meant).values()), 0.0, outside, unsafe, small)
