"""How something gets from one state to the next: shares of the way for shares of the time."""

from __future__ import annotations

import math
import re
from collections.abc import Callable

EASINGS: dict[str, tuple[str, Callable[[float], float]]] = {
    "straight": ("evenly", lambda share: share),
    "in": ("starts slowly", lambda share: share**3),
    "out": ("ends slowly", lambda share: 1 - (1 - share) ** 3),
    "both": ("slow at both ends", lambda share: share * share * (3 - 2 * share)),
    "spring": ("springs beyond and back", lambda share: 1 - math.exp(-6 * share) * math.cos(9 * share) * (1 - share)),
    "hold": ("stays until the next point", lambda share: 0.0),
}
"""How a value gets from a point to the next: what it is called, and the share of the way for a share of the time."""


OWN = re.compile(r"(0|1|0?\.\d{1,4}) (-?\d(?:\.\d{1,4})?) (0|1|0?\.\d{1,4}) (-?\d(?:\.\d{1,4})?)")
"""A curve of one's own: the two middle points of a cubic Bézier, as in CSS Easing Functions: `0.3 0 0.2 1`."""
BISECTIONS = 24


def own_curve(ease: str) -> tuple[float, float, float, float] | None:
    """The four numbers of a curve of one's own; None for anything else."""
    found = OWN.fullmatch(ease)
    if found is None:
        return None
    first, up, second, down = map(float, found.groups())
    return first, up, second, down


def eased(ease: str, share: float) -> float:
    """The share of the way for a share of the time, by the name of an easing or by a curve of one's own."""
    known = EASINGS.get(ease)
    if known is not None:
        return known[1](share)
    own = own_curve(ease)
    return share if own is None else _bezier(*own, share)


def _bezier(x1: float, y1: float, x2: float, y2: float, share: float) -> float:
    """The height of a cubic Bézier from (0, 0) to (1, 1) where it is as far across as the share."""

    def along(first: float, second: float, at: float) -> float:
        return 3 * (1 - at) ** 2 * at * first + 3 * (1 - at) * at**2 * second + at**3

    low, high = 0.0, 1.0
    for _ in range(BISECTIONS):
        middle = (low + high) / 2
        low, high = (middle, high) if along(x1, x2, middle) < share else (low, middle)
    return along(y1, y2, (low + high) / 2)
