"""From one picture to the next: what each kind of transition draws, and how layers come and go.

Progress runs from 0 to 1. Things that move are eased by 3p² − 2p³ (smoothstep), which starts and ends at rest; mixing
by opacity stays straight, so that a crossfade of two colours has their mean in the middle.
"""

from __future__ import annotations

import math

from glowreel.core.document import Motion, TransitionKind
from glowreel.core.formats import CANON
from glowreel.core.layout import Box
from glowreel.core.recipe.model import Composite, DrawPicture, DrawWords, Fill, Op, Window

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
    kind: TransitionKind, before: list[Op], behind: list[Op], progress: float, size: tuple[float, float]
) -> list[Op]:
    """One picture giving way to the next. Both are complete: drawn on the background first, they hide what is under."""
    name, _, way = kind.partition("-")
    if name == "dip":
        shown = before if progress < 0.5 else behind
        return [*shown, Fill("#000000" if way == "black" else "#FFFFFF", _r(1 - abs(2 * progress - 1)))]
    if way:
        return _moving(name, TOWARDS[way], before, behind, smooth(progress), size)
    return _mixing(name, before, behind, progress, size)


def _moving(
    name: str, towards: tuple[int, int], before: list[Op], behind: list[Op], eased: float, size: tuple[float, float]
) -> list[Op]:
    across, down = towards[0] * size[0], towards[1] * size[1]
    coming = Composite(tuple(behind), dx=_r(-across * (1 - eased)), dy=_r(-down * (1 - eased)), framed=True)
    if name == "push":
        return [Composite(tuple(before), dx=_r(across * eased), dy=_r(down * eased), framed=True), coming]
    if name == "slide":
        return [*before, coming]
    return [*before, Composite(tuple(behind), window=_wiped(Box(0, 0, *size), towards, eased))]


def _wiped(box: Box, towards: tuple[int, int], share: float) -> Window:
    """The part of a box that an edge moving one way has uncovered."""
    width = box.width * (share if towards[0] else 1)
    height = box.height * (share if towards[1] else 1)
    x = box.x + (box.width - width if towards[0] < 0 else 0)
    y = box.y + (box.height - height if towards[1] < 0 else 0)
    return Window(_r(x), _r(y), _r(width), _r(height))


def _mixing(name: str, before: list[Op], behind: list[Op], progress: float, size: tuple[float, float]) -> list[Op]:
    about = (size[0] / 2, size[1] / 2)
    eased = smooth(progress)
    if name == "blur":
        sigma = _r(BLUR * CANON * math.sin(math.pi * progress))
        return [
            Composite(tuple(before), blur=sigma, framed=True),
            Composite(tuple(behind), _r(progress), blur=sigma, framed=True),
        ]
    if name == "zoom":
        return [
            Composite(tuple(before), scale=_r(1 + 0.6 * eased), about=about, framed=True),
            Composite(tuple(behind), opacity=_r(eased), scale=_r(0.7 + 0.3 * eased), about=about, framed=True),
        ]
    if name == "spin":
        return [
            Composite(tuple(before), scale=_r(1 + eased), turn=_r(70 * eased), about=about, framed=True),
            Composite(
                tuple(behind), _r(eased), scale=_r(2 - eased), turn=_r(70 * (eased - 1)), about=about, framed=True
            ),
        ]
    if name == "iris":
        reach = math.hypot(*about) * eased
        hole = Window(_r(about[0] - reach), _r(about[1] - reach), _r(2 * reach), _r(2 * reach), round=True)
        return [*before, Composite(tuple(behind), window=hole)]
    return [*before, Composite(tuple(behind), _r(progress))]


def moved(op: DrawPicture | DrawWords, motion: Motion, eased: float, size: tuple[float, float], *, leaving: bool) -> Op:
    """A layer on its way: `eased` is how much of it is there, from 0 to 1. Opacity and rising are the caller's."""
    name, _, way = motion.partition("-")
    box = op.box
    if motion in ("none", "fade", "rise") or eased >= 1:
        return op
    about = (_r(box.x + box.width / 2), _r(box.y + box.height / 2))
    if name == "slide":
        across, down = TOWARDS[way]
        # Coming, it starts outside the edge it moves away from; going, it ends outside the one it moves to.
        far_x = box.x + box.width if (across < 0) == leaving else size[0] - box.x
        far_y = box.y + box.height if (down < 0) == leaving else size[1] - box.y
        sign = 1 if leaving else -1
        return Composite((op,), dx=_r(sign * across * far_x * (1 - eased)), dy=_r(sign * down * far_y * (1 - eased)))
    edge = MARGIN * CANON
    wide = Box(box.x - edge, box.y - edge, box.width + 2 * edge, box.height + 2 * edge)
    if name == "wipe":
        across, down = TOWARDS[way]
        return Composite((op,), window=_wiped(wide, (-across, -down) if leaving else (across, down), eased))
    if name == "iris":
        reach = math.hypot(wide.width, wide.height) / 2 * eased
        hole = Window(_r(about[0] - reach), _r(about[1] - reach), _r(2 * reach), _r(2 * reach), round=True)
        return Composite((op,), window=hole)
    if name == "blur":
        return Composite((op,), opacity=_r(eased), blur=_r(BLUR * CANON * (1 - eased)))
    turn = (-1 if leaving else 1) * -60 * (1 - eased) if name == "spin" else 0.0
    return Composite((op,), opacity=_r(eased), scale=_r(0.4 + 0.6 * eased), turn=_r(turn), about=about)


def _r(value: float) -> float:
    """Rounded, so that equal frames have equal hashes."""
    return round(value, 6)
