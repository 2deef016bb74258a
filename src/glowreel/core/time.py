"""Exact time: integer ticks, frame grids and sample positions.

One second is 705 600 000 ticks, which 24, 25, 30, 50, 60 and the 1000/1001 rates, and 44.1 and 48 kHz, all divide
without remainder. Spans are half open. Rounding happens only in functions named for it.
"""

from __future__ import annotations

import math
from fractions import Fraction
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

TICKS_PER_SECOND = 705_600_000
SAMPLE_RATE = 48_000
TICKS_PER_SAMPLE = TICKS_PER_SECOND // SAMPLE_RATE
MAX_TICKS = 6 * 3600 * TICKS_PER_SECOND

Ticks = Annotated[int, Field(ge=0, le=MAX_TICKS)]
Length = Annotated[int, Field(gt=0, le=MAX_TICKS)]


def ticks(seconds: float | Fraction | int) -> int:
    """Seconds to the nearest tick."""
    return round(Fraction(seconds) * TICKS_PER_SECOND)


def seconds(value: int) -> float:
    """Ticks to seconds, for showing only."""
    return value / TICKS_PER_SECOND


def sample_floor(value: int) -> int:
    """Index of the 48 kHz sample that is sounding at `value` ticks."""
    return value // TICKS_PER_SAMPLE


class Rate(BaseModel):
    """Frames per second as an exact fraction; its frames are whole numbers of ticks where the rate divides them."""

    model_config = ConfigDict(frozen=True)

    num: int = Field(gt=0, le=240_000)
    den: int = Field(gt=0, le=1001)

    @property
    def fraction(self) -> Fraction:
        return Fraction(self.num, self.den)

    def frame_start(self, index: int) -> int:
        """Ticks at which frame `index` begins: exact for the usual rates, else rounded up, so `floor` inverts it."""
        return -((-index * TICKS_PER_SECOND * self.den) // self.num)

    def frame_floor(self, value: int) -> int:
        """Index of the frame on show at `value` ticks."""
        return (value * self.num) // (TICKS_PER_SECOND * self.den)

    def frame_nearest(self, value: int) -> int:
        """Index of the frame boundary nearest to `value` ticks."""
        grid = TICKS_PER_SECOND * self.den
        return (2 * value * self.num + grid) // (2 * grid)

    def frame_ceil(self, value: int) -> int:
        """Number of frames needed to cover `value` ticks."""
        return -((-value * self.num) // (TICKS_PER_SECOND * self.den))

    def snap(self, value: int) -> int:
        """The frame boundary nearest to `value`, in ticks."""
        return self.frame_start(self.frame_nearest(value))

    @property
    def frame(self) -> int:
        """Length of one frame in ticks."""
        return self.frame_start(1)

    def __str__(self) -> str:
        return f"{float(self.fraction):.3f}".rstrip("0").rstrip(".")


def _rates() -> tuple[Rate, ...]:
    whole = tuple(Rate(num=n, den=1) for n in (24, 25, 30, 48, 50, 60))
    ntsc = tuple(Rate(num=n * 1000, den=1001) for n in (24, 30, 60))
    return tuple(sorted((*whole, *ntsc), key=lambda rate: rate.fraction))


RATES = _rates()
"""The frame rates a promo can have, slowest first: 23.976 to 60."""


def promo_rate(rate: Rate) -> Rate:
    """The promo's rate that suits footage of a rate best: the same, else a whole multiple or part, else the nearest.

    >>> str(promo_rate(Rate(num=15, den=1))), str(promo_rate(Rate(num=120, den=1)))
    ('30', '60')
    """

    def off(candidate: Rate, factor: Fraction) -> float:
        return abs(math.log(float(candidate.fraction / (rate.fraction * factor))))

    for factor in (Fraction(1), Fraction(2), Fraction(1, 2), Fraction(3), Fraction(4), Fraction(1, 4)):
        best = min(RATES, key=lambda candidate: off(candidate, factor))
        if off(best, factor) < 0.0004:
            return best
    return min(RATES, key=lambda candidate: off(candidate, Fraction(1)))


def clock(value: int, rate: Rate | None = None) -> str:
    """Ticks as `m:ss.hh`, or `m:ss:ff` where a rate is given.

    >>> clock(ticks(72.5))
    '1:12.50'
    """
    if rate is not None:
        frames = rate.frame_floor(value)
        whole = round(rate.fraction)
        return f"{frames // whole // 60}:{frames // whole % 60:02d}:{frames % whole:02d}"
    hundredths = value * 100 // TICKS_PER_SECOND
    return f"{hundredths // 6000}:{hundredths // 100 % 60:02d}.{hundredths % 100:02d}"
