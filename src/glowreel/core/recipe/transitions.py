"""From one picture to the next: what each kind of transition draws, and how layers come and go.

Progress runs from 0 to 1. Things that move are eased by 3p² − 2p³ (smoothstep), which starts and ends at rest; mixing
by opacity stays straight, so that a crossfade of two colours has their mean in the middle.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from glowreel.core.formats import CANON
from glowreel.core.layout import Box
from glowreel.core.recipe.model import Composite, Fill, Op, Window

TOWARDS = {"left": (-1, 0), "right": (1, 0), "up": (0, -1), "down": (0, 1)}
BLUR = 0.05
"""The strongest blur, as the deviation of the Gaussian in fractions of the short side."""
RISE = 0.06
"""How far a rising layer travels, in fractions of the frame's short side."""
MARGIN = 0.1
"""Words reach beyond their box, by shadows and long letters; so far, in fractions of the short side."""


def smooth(progress: float) -> float:
    return progress * progress * (3 - 2 * progress)


def transition_ops(
    kind: str, before: list[Op], behind: list[Op], progress: float, size: tuple[float, float]
) -> list[Op]:
    """One picture giving way to the next. Both are complete: drawn on the background first, they hide what is under."""
    family, _, way = kind.partition("-")
    return PASSING[family](Pair(before, behind, progress, size, way))


@dataclass(frozen=True)
class Pair:
    """Two pictures, one giving way to the other: how far, in a frame of what size, and by which way or colour."""

    before: list[Op]
    behind: list[Op]
    progress: float
    size: tuple[float, float]
    way: str

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
        return Composite(tuple(self.behind), dx=_r(-across * left), dy=_r(-down * left), framed=True)


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
    return [*pair.before, Composite(tuple(pair.behind), _r(pair.progress))]


@passing("dip")
def _dip(pair: Pair) -> list[Op]:
    shown = pair.before if pair.progress < 0.5 else pair.behind
    return [*shown, Fill("#000000" if pair.way == "black" else "#FFFFFF", _r(1 - abs(2 * pair.progress - 1)))]


@passing("push")
def _push(pair: Pair) -> list[Op]:
    across, down = (_r(far * pair.eased) for far in pair.far)
    return [Composite(tuple(pair.before), dx=across, dy=down, framed=True), pair.coming]


@passing("slide")
def _slide(pair: Pair) -> list[Op]:
    return [*pair.before, pair.coming]


@passing("wipe")
def _wipe(pair: Pair) -> list[Op]:
    window = _wiped(Box(0, 0, *pair.size), TOWARDS[pair.way], pair.eased)
    return [*pair.before, Composite(tuple(pair.behind), window=window)]


@passing("blur")
def _blur(pair: Pair) -> list[Op]:
    sigma = _r(BLUR * CANON * math.sin(math.pi * pair.progress))
    return [
        Composite(tuple(pair.before), blur=sigma, framed=True),
        Composite(tuple(pair.behind), _r(pair.progress), blur=sigma, framed=True),
    ]


@passing("zoom")
def _zoom(pair: Pair) -> list[Op]:
    eased, about = pair.eased, pair.about
    return [
        Composite(tuple(pair.before), scale=_r(1 + 0.6 * eased), about=about, framed=True),
        Composite(tuple(pair.behind), opacity=_r(eased), scale=_r(0.7 + 0.3 * eased), about=about, framed=True),
    ]


@passing("spin")
def _spin(pair: Pair) -> list[Op]:
    eased, about = pair.eased, pair.about
    return [
        Composite(tuple(pair.before), scale=_r(1 + eased), turn=_r(70 * eased), about=about, framed=True),
        Composite(
            tuple(pair.behind), _r(eased), scale=_r(2 - eased), turn=_r(70 * (eased - 1)), about=about, framed=True
        ),
    ]


@passing("iris")
def _iris(pair: Pair) -> list[Op]:
    about, reach = pair.about, math.hypot(*pair.about) * pair.eased
    hole = Window(_r(about[0] - reach), _r(about[1] - reach), _r(2 * reach), _r(2 * reach), round=True)
    return [*pair.before, Composite(tuple(pair.behind), window=hole)]


def _wiped(box: Box, towards: tuple[int, int], share: float) -> Window:
    """The part of a box that an edge moving one way has uncovered."""
    width = box.width * (share if towards[0] else 1)
    height = box.height * (share if towards[1] else 1)
    x = box.x + (box.width - width if towards[0] < 0 else 0)
    y = box.y + (box.height - height if towards[1] < 0 else 0)
    return Window(_r(x), _r(y), _r(width), _r(height))


@dataclass(frozen=True)
class Way:
    """Something on its way: what it is, its box, how much of it is there, the frame, the direction, coming or going."""

    op: Op
    box: Box
    eased: float
    size: tuple[float, float]
    way: str
    leaving: bool

    @property
    def about(self) -> tuple[float, float]:
        return _r(self.box.x + self.box.width / 2), _r(self.box.y + self.box.height / 2)

    @property
    def wide(self) -> Box:
        """Its box with room for what reaches beyond it."""
        edge = MARGIN * CANON
        return Box(self.box.x - edge, self.box.y - edge, self.box.width + 2 * edge, self.box.height + 2 * edge)


Moving = Callable[[Way], Op]
MOVING: dict[str, Moving] = {}
"""What each family of motions draws, by the first word of their names."""


def moving(family: str) -> Callable[[Moving], Moving]:
    """Registers what a family of motions draws."""

    def register(function: Moving) -> Moving:
        MOVING[family] = function
        return function

    return register


def moved(op: Op, box: Box, motion: str, eased: float, size: tuple[float, float], *, leaving: bool) -> Op:
    """Something on its way, in its box: `eased` is how much of it is there, from 0 to 1."""
    family, _, way = motion.partition("-")
    return op if eased >= 1 else MOVING[family](Way(op, box, eased, size, way, leaving))


@moving("none")
@moving("fade")
@moving("rise")
def _as_it_is(way: Way) -> Op:
    """Opacity and rising are the caller's: a picture or words can be so without a group."""
    return way.op


@moving("slide")
def _sliding(way: Way) -> Op:
    across, down = TOWARDS[way.way]
    # Coming, it starts outside the edge it moves away from; going, it ends outside the one it moves to.
    box, left = way.box, 1 - way.eased
    far_x = box.x + box.width if (across < 0) == way.leaving else way.size[0] - box.x
    far_y = box.y + box.height if (down < 0) == way.leaving else way.size[1] - box.y
    sign = 1 if way.leaving else -1
    return Composite((way.op,), dx=_r(sign * across * far_x * left), dy=_r(sign * down * far_y * left))


@moving("wipe")
def _wiping(way: Way) -> Op:
    across, down = TOWARDS[way.way]
    towards = (-across, -down) if way.leaving else (across, down)
    return Composite((way.op,), window=_wiped(way.wide, towards, way.eased))


@moving("iris")
def _opening(way: Way) -> Op:
    about, reach = way.about, math.hypot(way.wide.width, way.wide.height) / 2 * way.eased
    hole = Window(_r(about[0] - reach), _r(about[1] - reach), _r(2 * reach), _r(2 * reach), round=True)
    return Composite((way.op,), window=hole)


@moving("blur")
def _blurring(way: Way) -> Op:
    return Composite((way.op,), opacity=_r(way.eased), blur=_r(BLUR * CANON * (1 - way.eased)))


@moving("zoom")
def _zooming(way: Way) -> Op:
    return Composite((way.op,), opacity=_r(way.eased), scale=_r(0.4 + 0.6 * way.eased), about=way.about)


@moving("spin")
def _spinning(way: Way) -> Op:
    turn = (-1 if way.leaving else 1) * -60 * (1 - way.eased)
    scale = _r(0.4 + 0.6 * way.eased)
    return Composite((way.op,), opacity=_r(way.eased), scale=scale, turn=_r(turn), about=way.about)


def _r(value: float) -> float:
    """Rounded, so that equal frames have equal hashes."""
    return round(value, 6)
