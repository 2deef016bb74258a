"""From one picture to the next: what each kind of transition draws.

Progress runs from 0 to 1. Things that move are eased by 3p² − 2p³ (smoothstep), which starts and ends at rest; mixing
by opacity stays straight, so that a crossfade of two colours has their mean in the middle.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

from glowreel.core.formats import CANON
from glowreel.core.layout import Box
from glowreel.core.recipe.model import Applied, Composite, Fill, Mask, Op, Window
from glowreel.core.shapes import SHAPES

TOWARDS = {"left": (-1, 0), "right": (1, 0), "up": (0, -1), "down": (0, 1)}
BLUR = 0.05
"""The strongest blur, as the deviation of the Gaussian in fractions of the short side."""


def smooth(progress: float) -> float:
    return progress * progress * (3 - 2 * progress)


def transition_ops(
    kind: str, before: list[Op], behind: list[Op], progress: float, size: tuple[float, float]
) -> list[Op]:
    """One picture giving way to the next. Both are complete: drawn on the background first, they hide what is under."""
    family, _, way = kind.partition("-")
    return PASSING[family](Pair(before, behind, progress, size, way))


def layer_transition(kind: str, before: list[Op], behind: list[Op], progress: float, box: Box) -> Op:
    """One layer giving way to the next, in the box in which both lie; what is behind them shows through as it does
    through each of them alone."""
    family, _, way = kind.partition("-")

    def here(ops: list[Op]) -> list[Op]:
        return [Composite(tuple(ops), dx=rounded(-box.x), dy=rounded(-box.y))]

    pair = Pair(here(before), here(behind), progress, (box.width, box.height), way, clear=True)
    x, y, width, height = (rounded(v) for v in (box.x, box.y, box.width, box.height))
    window = Window(x, y, width, height) if family in BOXED else None
    return Composite(tuple(PASSING[family](pair)), dx=x, dy=y, window=window)


BOXED = ("push", "slide", "wipe")
"""Families whose pictures move through the box of both, and are not seen outside it."""


@dataclass(frozen=True)
class Pair:
    """Two pictures, one giving way to the other: how far, in a frame of what size, and by which way or colour."""

    before: list[Op]
    behind: list[Op]
    progress: float
    size: tuple[float, float]
    way: str
    clear: bool = False
    """Whether they may be see-through: what is behind them is then never covered by one of them alone."""

    def mixed(self, first: tuple[Op, ...], second: Composite, share: float) -> list[Op]:
        """Two pictures of which the second covers the first by its share. Those that may be see-through are added up,
        each by its share, so that together they cover as much as each of them alone."""
        if not self.clear:
            return [*first, replace(second, opacity=rounded(share))]
        rest = Composite(first, opacity=rounded(1 - share))
        return [Composite((rest, replace(second, opacity=rounded(share), blend="add")), apart=True)]

    def under(self, window: Window) -> list[Op]:
        """The first picture where the second does not cover it, as a window shows it: all of it where both are
        complete."""
        if not self.clear:
            return self.before
        width, height = self.size
        if window.round:
            hole = Mask(Box(window.x, window.y, window.width, window.height), SHAPES["ellipse"].outline(5, 0.5),
                        inverted=True)  # fmt: skip
            return [Composite(tuple(self.before), masks=(hole,))]
        rest = [
            Window(0, 0, window.x, height), Window(window.x + window.width, 0, width - window.x - window.width, height),
            Window(0, 0, width, window.y), Window(0, window.y + window.height, width,
                   height - window.y - window.height),
        ]  # fmt: skip
        left = max(rest, key=lambda side: side.width * side.height)
        return [Composite(tuple(self.before), window=left)] if left.width * left.height > 0 else []

    @property
    def eased(self) -> float:
        return smooth(self.progress)

    @property
    def about(self) -> tuple[float, float]:
        return self.size[0] / 2, self.size[1] / 2

    @property
    def far(self) -> tuple[float, float]:
        """A whole frame in the direction."""
        across, down = TOWARDS[self.way]
        return across * self.size[0], down * self.size[1]

    @property
    def coming(self) -> Composite:
        """The second picture moving in."""
        across, down = self.far
        left = 1 - self.eased
        return Composite(tuple(self.behind), dx=rounded(-across * left), dy=rounded(-down * left), framed=True)


Passing = Callable[[Pair], list[Op]]
PASSING: dict[str, Passing] = {}
"""What each family of transitions draws, by the first word of their names."""


def passing(family: str) -> Callable[[Passing], Passing]:
    """Registers what a family of transitions draws."""

    def register(function: Passing) -> Passing:
        PASSING[family] = function
        return function

    return register


@passing("crossfade")
def _crossfade(pair: Pair) -> list[Op]:
    return pair.mixed(tuple(pair.before), Composite(tuple(pair.behind)), pair.progress)


@passing("dip")
def _dip(pair: Pair) -> list[Op]:
    shown = pair.before if pair.progress < 0.5 else pair.behind
    veil, share = "#000000" if pair.way == "black" else "#FFFFFF", rounded(1 - abs(2 * pair.progress - 1))
    if not pair.clear:
        return [*shown, Fill(veil, share)]
    return [
        Composite(tuple(shown), effects=(Applied("duotone", (("amount", share), ("dark", veil), ("light", veil))),))
    ]


@passing("push")
def _push(pair: Pair) -> list[Op]:
    across, down = (rounded(far * pair.eased) for far in pair.far)
    return [Composite(tuple(pair.before), dx=across, dy=down, framed=True), pair.coming]


@passing("slide")
def _slide(pair: Pair) -> list[Op]:
    across, down = pair.far
    left = 1 - pair.eased
    covered = Window(
        rounded(max(0.0, -across * left)), rounded(max(0.0, -down * left)),
        rounded(pair.size[0] - abs(across) * left), rounded(pair.size[1] - abs(down) * left),
    )  # fmt: skip
    return [*pair.under(covered), pair.coming]


@passing("wipe")
def _wipe(pair: Pair) -> list[Op]:
    window = wiped(Box(0, 0, *pair.size), TOWARDS[pair.way], pair.eased)
    return [*pair.under(window), Composite(tuple(pair.behind), window=window)]


@passing("blur")
def _blur(pair: Pair) -> list[Op]:
    sigma = rounded(BLUR * CANON * math.sin(math.pi * pair.progress))
    before = Composite(tuple(pair.before), blur=sigma, framed=True)
    return pair.mixed((before,), Composite(tuple(pair.behind), blur=sigma, framed=True), pair.progress)


@passing("zoom")
def _zoom(pair: Pair) -> list[Op]:
    eased, about = pair.eased, pair.about
    before = Composite(tuple(pair.before), scale=rounded(1 + 0.6 * eased), about=about, framed=True)
    behind = Composite(tuple(pair.behind), scale=rounded(0.7 + 0.3 * eased), about=about, framed=True)
    return pair.mixed((before,), behind, eased)


@passing("spin")
def _spin(pair: Pair) -> list[Op]:
    eased, about = pair.eased, pair.about
    before = Composite(
        tuple(pair.before), scale=rounded(1 + eased), turn=rounded(70 * eased), about=about, framed=True
    )  # fmt: skip
    behind = Composite(
        tuple(pair.behind), scale=rounded(2 - eased), turn=rounded(70 * (eased - 1)), about=about, framed=True
    )
    return pair.mixed((before,), behind, eased)


@passing("iris")
def _iris(pair: Pair) -> list[Op]:
    about, reach = pair.about, math.hypot(*pair.about) * pair.eased
    hole = Window(
        rounded(about[0] - reach), rounded(about[1] - reach), rounded(2 * reach), rounded(2 * reach), round=True
    )
    return [*pair.under(hole), Composite(tuple(pair.behind), window=hole)]


def rounded(value: float) -> float:
    """Rounded, so that equal frames have equal hashes."""
    return round(value, 6)


def wiped(box: Box, towards: tuple[int, int], share: float) -> Window:
    """The part of a box that an edge moving one way has uncovered."""
    width = box.width * (share if towards[0] else 1)
    height = box.height * (share if towards[1] else 1)
    x = box.x + (box.width - width if towards[0] < 0 else 0)
    y = box.y + (box.height - height if towards[1] < 0 else 0)
    return Window(rounded(x), rounded(y), rounded(width), rounded(height))
