"""What makes a picture crisp or soft."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import cv2
import numpy as np

from glowreel.core.formats import CANON
from glowreel.engine.drawing import Area, effect, part
from glowreel.engine.footage import Pixels

WIDEST = 0.1 * CANON
"""The deviation of the widest blur, in canonical units."""


@part()
def softened(pixels: Any, deviation: float) -> Any:
    """A Gaussian. A wide one leaves nothing fine: it is done small, where it is many times faster."""
    if deviation < 0.1:
        return pixels
    height, width = pixels.shape[:2]
    times = max(1, int(deviation / 4))
    small = pixels
    if times > 1:
        size = (max(2, width // times), max(2, height // times))
        small = cv2.resize(pixels, size, interpolation=cv2.INTER_AREA)
    across, down = deviation * small.shape[1] / width, deviation * small.shape[0] / height
    soft = cv2.GaussianBlur(small, (0, 0), across, sigmaY=down, borderType=cv2.BORDER_REPLICATE)
    return cv2.resize(soft, (width, height), interpolation=cv2.INTER_LINEAR) if times > 1 else soft


def _spread(values: Mapping[str, Any]) -> float:
    return float(values["amount"]) * WIDEST * 2.5


@effect("blur", 2, _spread)
def blur(pixels: Pixels, values: Mapping[str, Any], area: Area) -> Pixels:
    """A Gaussian whose deviation is up to a tenth of the short side."""
    return np.asarray(softened(pixels, values["amount"] * WIDEST * area.scale))


@effect("soften", 1, _spread)
def soften(pixels: Pixels, values: Mapping[str, Any], area: Area) -> Pixels:
    """The same, as part of a picture's colour."""
    return np.asarray(softened(pixels, values["amount"] * WIDEST * area.scale))


@part()
def unsharp(pixels: Pixels, deviation: float, amount: float) -> Pixels:
    """What stands out from its neighbourhood, made stronger (unsharp mask). Transparency stays."""
    soft = softened(pixels, deviation)
    made: Pixels = np.asarray(cv2.addWeighted(pixels, 1 + amount, soft, -amount, 0))
    alpha = pixels[:, :, 3]
    made[:, :, 3] = alpha
    if int(alpha.min()) < 255:
        np.minimum(made[:, :, :3], alpha[:, :, None], out=made[:, :, :3])
    return made


@effect("sharpen")
def sharpen(pixels: Pixels, values: Mapping[str, Any], area: Area) -> Pixels:
    """Edges made crisp, at about a thousandth of the short side."""
    return unsharp(pixels, max(0.6, 1.2 * area.scale), 1.2 * values["amount"])


@effect("clarity")
def clarity(pixels: Pixels, values: Mapping[str, Any], area: Area) -> Pixels:
    """Neighbouring parts set off from each other, or brought together, over about a thirtieth of the short side."""
    return unsharp(pixels, 34 * area.scale, 0.6 * values["amount"])
