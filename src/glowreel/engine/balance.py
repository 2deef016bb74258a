"""Which light and colour a picture needs to be even, or like another one: found by trying, with the same tables that
grade it in the end.

What is compared is how light the darkest, the middle and the lightest parts are, to which side the colours lean, and
how strong they are. The weights say how much a difference in each disturbs.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

from glowreel.engine.effects.grade import TO_YUV, grade_of, graded_colour

Floats = npt.NDArray[np.float32]

PERCENTILES = (3, 25, 50, 75, 97)
WEIGHTS = np.array([1.0, 1.0, 1.6, 1.0, 1.0, 3.0, 3.0, 1.5], np.float32)
LIMITS: dict[str, tuple[float, float]] = {
    "exposure": (-2.0, 2.0), "contrast": (-0.6, 0.8), "warmth": (-0.8, 0.8), "tint": (-0.8, 0.8),
    "saturation": (-0.7, 0.6), "shades": (-0.5, 0.8), "highlights": (-0.8, 0.5),
}  # fmt: skip
"""How far each value is moved at the most."""
STEPS = (0.4, 0.2, 0.1, 0.05, 0.02)
NEUTRAL, LEAST = 26.0, 0.03
"""How far from grey, of 255, a colour may be to say something of the light; and what share must be about so."""
EVEN = np.array([0.03, 0.27, 0.47, 0.68, 0.94], np.float32)
"""How light an even picture is at the percentiles, in shares of white."""


def _planes(sample: Floats) -> tuple[npt.NDArray[np.uint8], Floats, Floats]:
    yuv: Any = cv2.transform(sample.reshape(-1, 1, 3), TO_YUV)
    light = np.rint(np.clip(yuv[:, :, 0], 0, 255)).astype(np.uint8)
    return light, np.ascontiguousarray(yuv[:, :, 1]), np.ascontiguousarray(yuv[:, :, 2])


def _looks(light: Floats, blue: Floats, red: Floats) -> Floats:
    """What is compared: percentiles of light, both means of colour and how strong it is; in shares of 255."""
    marks = np.percentile(light, PERCENTILES)
    leaning = float(np.mean(blue)), float(np.mean(red))
    # How strong they are, whichever way all of them lean.
    strength = float(np.mean(np.hypot(blue - leaning[0], red - leaning[1])))
    made: Floats = (np.array([*marks, *leaning, strength]) / 255).astype(np.float32)
    return made


def _cast(light: Floats, blue: Floats, red: Floats) -> Floats:
    """To which side grey things lean, in shares of 255: the mean colour of what has little of it and is neither black
    nor white. What is strongly coloured says nothing of the light that falls on it: a meadow stays green."""
    near = np.exp(-((blue**2 + red**2) / NEUTRAL**2)) * ((light > 25) & (light < 240))
    total = float(near.sum())
    if total < LEAST * light.size:
        return np.zeros(2, np.float32)
    return np.array([(blue * near).sum(), (red * near).sum()], np.float32) / (total * 255)


def _graded(planes: tuple[Any, Floats, Floats], values: Mapping[str, float]) -> Floats:
    light, blue, red = planes
    tables = grade_of(tuple(sorted(values.items())))
    made: Any = cv2.LUT(light, tables.light * np.float32(255))
    if tables.coloured:
        blue, red = graded_colour(blue.copy(), red.copy(), light, tables)
    return _looks(made, blue, red)


def balanced(sample: Floats, like: Floats | None = None) -> dict[str, float]:
    """The values of light and colour with which a sample of pixels (n × 3: blue, green, red, 0 to 255) is even, or like
    another sample."""
    planes = _planes(np.ascontiguousarray(sample, np.float32))
    now = _looks(planes[0].astype(np.float32), planes[1], planes[2])
    if like is not None:
        other = _planes(np.ascontiguousarray(like, np.float32))
        wanted = _looks(other[0].astype(np.float32), other[1], other[2])
    else:
        # Part of the way only: a night stays a night, and a sunset red.
        wanted = now.copy()
        wanted[:5] += (EVEN - now[:5]) * 0.7
        wanted[5:7] -= 0.8 * _cast(planes[0].astype(np.float32), planes[1], planes[2])
    # A cast is taken out by its opposite, never by taking colour away.
    limits = LIMITS if like is not None else {**LIMITS, "saturation": (0.0, 0.0)}
    values = dict.fromkeys(LIMITS, 0.0)

    def cost(tried: Mapping[str, float]) -> float:
        far = np.abs(_graded(planes, tried) - wanted) * WEIGHTS
        # Of two ways that lead as near, the shorter one.
        return float(far.sum()) + 0.006 * sum(abs(value) for value in tried.values())

    best = cost(values)
    for step in STEPS:
        for _ in range(4):
            before = best
            for name, (low, high) in limits.items():
                for way in (step, -step):
                    tried = {**values, name: round(min(high, max(low, values[name] + way)), 3)}
                    found = cost(tried)
                    if found < best - 1e-6:
                        values, best = tried, found
            if best >= before - 1e-6:
                break
    return values
