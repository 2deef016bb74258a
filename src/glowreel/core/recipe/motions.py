"""How layers come, stay and go.

```
coming   share 0 ── 1 by its easing        going   share 1 ── 0         staying   by the seconds since it began
```
A motion is a function from something on its way to an operation. Strength is how strongly it moves, 1 as it is meant.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from glowreel.core.formats import CANON
from glowreel.core.layout import Box
from glowreel.core.recipe.model import Composite, Op, Window
from glowreel.core.recipe.transitions import BLUR, TOWARDS, rounded, wiped

RISE = 0.06
"""How far a rising layer travels, in fractions of the frame's short side."""
MARGIN = 0.1
"""Words reach beyond their box, by shadows and long letters; so far, in fractions of the short side."""


@dataclass(frozen=True)
class Way:
    """Something on its way: what it is, its box, how much of it is there, the frame, the direction, coming or going,
    and how strongly it moves."""

    op: Op
    box: Box
    eased: float
    size: tuple[float, float]
    way: str
    leaving: bool
    strength: float = 1.0

    @property
    def left(self) -> float:
        """How far it is from where it belongs."""
        return 1 - self.eased

    @property
    def there(self) -> float:
        """How much of it is seen, where that goes along; never more than all of it, whatever swings beyond."""
        return rounded(max(0.0, min(1.0, self.eased)))

    @property
    def about(self) -> tuple[float, float]:
        return rounded(self.box.x + self.box.width / 2), rounded(self.box.y + self.box.height / 2)

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


def moved(
    op: Op, box: Box, motion: str, eased: float, size: tuple[float, float], *, leaving: bool, strength: float = 1.0
) -> Op:
    """Something on its way, in its box: `eased` is how much of it is there, 0 to 1 and a little beyond where it
    swings."""
    family, _, way = motion.partition("-")
    return op if eased == 1 else MOVING[family](Way(op, box, eased, size, way, leaving, strength))


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
    box, left = way.box, way.left
    far_x = box.x + box.width if (across < 0) == way.leaving else way.size[0] - box.x
    far_y = box.y + box.height if (down < 0) == way.leaving else way.size[1] - box.y
    sign = 1 if way.leaving else -1
    return Composite((way.op,), dx=rounded(sign * across * far_x * left), dy=rounded(sign * down * far_y * left))


@moving("wipe")
def _wiping(way: Way) -> Op:
    across, down = TOWARDS[way.way]
    towards = (-across, -down) if way.leaving else (across, down)
    return Composite((way.op,), window=wiped(way.wide, towards, way.there))


@moving("iris")
def _opening(way: Way) -> Op:
    about, reach = way.about, math.hypot(way.wide.width, way.wide.height) / 2 * way.there
    hole = Window(
        rounded(about[0] - reach), rounded(about[1] - reach), rounded(2 * reach), rounded(2 * reach), round=True
    )
    return Composite((way.op,), window=hole)


@moving("blur")
def _blurring(way: Way) -> Op:
    return Composite((way.op,), opacity=way.there, blur=rounded(BLUR * CANON * max(0.0, way.left) * way.strength))


def _scale(way: Way, far: float) -> float:
    """From a scale to the whole: `far` at the beginning, as strongly as is wanted."""
    return max(0.01, rounded(1 + (far - 1) * way.left * way.strength))


@moving("zoom")
def _zooming(way: Way) -> Op:
    return Composite((way.op,), opacity=way.there, scale=_scale(way, 0.4), about=way.about)


@moving("shrink")
def _shrinking(way: Way) -> Op:
    return Composite((way.op,), opacity=way.there, scale=_scale(way, 2.2), about=way.about)


@moving("pop")
def _popping(way: Way) -> Op:
    """Grows from nothing, a little too large, and springs back."""
    share = way.there
    beyond = 1.4 * way.strength
    scale = 1 + (beyond + 1) * (share - 1) ** 3 + beyond * (share - 1) ** 2
    return Composite((way.op,), opacity=min(1.0, rounded(share * 4)), scale=max(0.01, rounded(scale)), about=way.about)


@moving("drop")
def _dropping(way: Way) -> Op:
    """Falls in from above and bounces; going, it falls out of the frame."""
    if way.leaving:
        return Composite((way.op,), dy=rounded((way.size[1] - way.box.y) * way.left))
    far = way.box.y + way.box.height
    return Composite((way.op,), dy=rounded(-far * (1 - _bounced(way.there))))


def _bounced(share: float) -> float:
    """Where something is that falls and bounces twice: 0 at the top, 1 on the ground (parabolas, each lower)."""
    for begin, end, high in ((0.0, 0.45, 1.0), (0.45, 0.8, 0.18), (0.8, 1.0, 0.04)):
        if share <= end:
            if begin == 0:
                return (share / end) ** 2
            middle = (share - begin) / (end - begin) * 2 - 1
            return 1 - high * (1 - middle * middle)
    return 1.0


@moving("spin")
def _spinning(way: Way) -> Op:
    turn = (-1 if way.leaving else 1) * -60 * way.left * way.strength
    return Composite((way.op,), opacity=way.there, scale=_scale(way, 0.4), turn=rounded(turn), about=way.about)


@moving("flip")
def _flipping(way: Way) -> Op:
    """Turns like a card about its own middle: from its edge to its face."""
    wide = max(0.001, rounded(math.sin(way.there * math.pi / 2)))
    return Composite((way.op,), opacity=min(1.0, rounded(way.there * 3)), wide=wide, about=way.about)


@moving("unfold")
def _unfolding(way: Way) -> Op:
    """Opens downwards from its upper edge."""
    return Composite((way.op,), high=max(0.001, way.there), about=(way.about[0], rounded(way.box.y)))


@moving("roll")
def _rolling(way: Way) -> Op:
    """Rolls in from the side that is nearer, turning as it goes."""
    from_left = way.box.x + way.box.width / 2 < way.size[0] / 2
    side = -1 if from_left else 1
    far = (way.box.x + way.box.width) if from_left else way.size[0] - way.box.x
    turn = side * 180 * way.left * way.strength
    return Composite((way.op,), dx=rounded(side * far * way.left), turn=rounded(turn), about=way.about)


# ---- while it is on show ----


@dataclass(frozen=True)
class Stay:
    """Something on show: its box, the seconds since it began, how fast (1 as it is meant) and how strongly it moves."""

    op: Op
    box: Box
    since: float
    rate: float
    strength: float

    @property
    def about(self) -> tuple[float, float]:
        return rounded(self.box.x + self.box.width / 2), rounded(self.box.y + self.box.height / 2)

    def wave(self, often: float, begin: float = 0.0) -> float:
        """A swing between −1 and 1, so often in a second, from 0 on."""
        return math.sin(2 * math.pi * (self.since * self.rate * often + begin))


Staying = Callable[[Stay], Op]
STAYING: dict[str, Staying] = {}
"""What each motion of something on show draws."""


def staying(name: str) -> Callable[[Staying], Staying]:
    """Registers what something on show does."""

    def register(function: Staying) -> Staying:
        STAYING[name] = function
        return function

    return register


def stayed(op: Op, box: Box, motion: str, since: float, *, rate: float, strength: float) -> Op:
    """Something on show, so many seconds after it began."""
    return STAYING[motion](Stay(op, box, since, rate, strength))


@staying("none")
def _still(stay: Stay) -> Op:
    return stay.op


@staying("pulse")
def _pulsing(stay: Stay) -> Op:
    scale = 1 + 0.05 * stay.strength * max(0.0, stay.wave(1.0))
    return Composite((stay.op,), scale=rounded(scale), about=stay.about)


@staying("float")
def _floating(stay: Stay) -> Op:
    return Composite((stay.op,), dy=rounded(-0.018 * CANON * stay.strength * stay.wave(0.35)))


@staying("sway")
def _swaying(stay: Stay) -> Op:
    return Composite((stay.op,), turn=rounded(4 * stay.strength * stay.wave(0.4)), about=stay.about)


@staying("wobble")
def _wobbling(stay: Stay) -> Op:
    turn, scale = 3 * stay.wave(1.3), 0.02 * stay.wave(1.7)
    return Composite(
        (stay.op,), turn=rounded(turn * stay.strength), scale=rounded(1 + scale * stay.strength), about=stay.about
    )


@staying("drift")
def _drifting(stay: Stay) -> Op:
    far = 0.02 * CANON * stay.strength * stay.since * stay.rate
    return Composite((stay.op,), dx=rounded(far))


@staying("blink")
def _blinking(stay: Stay) -> Op:
    return Composite((stay.op,), opacity=1.0 if stay.wave(0.5) >= 0 else rounded(max(0.0, 1 - 0.9 * stay.strength)))


@staying("shake")
def _shaking(stay: Stay) -> Op:
    far = 0.006 * CANON * stay.strength
    return Composite((stay.op,), dx=rounded(far * stay.wave(7.0)), dy=rounded(far * stay.wave(9.0, 0.3)))


@staying("slow-zoom")
def _growing(stay: Stay) -> Op:
    return Composite((stay.op,), scale=rounded(1 + 0.03 * stay.strength * stay.since * stay.rate), about=stay.about)
