"""How effects are drawn: one function for each row of the table in `core.effects`, under the same name.

A function is given what is drawn so far by itself, premultiplied BGRA the size of the frame, the parameters, and the
pixels to a canonical unit; it returns pixels of the same shape.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import cv2
import numpy as np

from glowreel.core.formats import CANON
from glowreel.engine.drawing import effect
from glowreel.engine.footage import Pixels

LUMA = (0.0722, 0.7152, 0.2126)
"""Shares of blue, green and red in brightness (ITU-R BT.709)."""


@effect("blur")
def blur(pixels: Pixels, values: Mapping[str, Any], scale: float) -> Pixels:
    """A Gaussian whose deviation is up to a tenth of the short side."""
    deviation = values["amount"] * 0.1 * CANON * scale
    if deviation < 0.1:
        return pixels
    # A wide blur leaves nothing fine: it is done small, where it is many times faster.
    times = max(1, int(deviation / 4))
    height, width = pixels.shape[:2]
    small: Any = pixels
    if times > 1:
        size = (max(2, width // times), max(2, height // times))
        small = cv2.resize(pixels, size, interpolation=cv2.INTER_AREA)
    soft: Any = cv2.GaussianBlur(
        small, (0, 0), deviation * small.shape[1] / width, borderType=cv2.BORDER_REPLICATE
    )  # fmt: skip
    return np.asarray(cv2.resize(soft, (width, height), interpolation=cv2.INTER_LINEAR) if times > 1 else soft)


@effect("grey")
def grey(pixels: Pixels, values: Mapping[str, Any], scale: float) -> Pixels:
    """Each channel on the way to the brightness of all three."""
    amount = values["amount"]
    matrix = np.zeros((4, 4), np.float32)
    for channel in range(3):
        matrix[channel, :3] = [share * amount for share in LUMA]
        matrix[channel, channel] += 1 - amount
    matrix[3, 3] = 1
    return np.asarray(cv2.transform(pixels, matrix))


@effect("pixels")
def squares(pixels: Pixels, values: Mapping[str, Any], scale: float) -> Pixels:
    """The mean of each square, in squares of up to an eighth of the short side."""
    side = max(1, round(values["amount"] * CANON / 8 * scale))
    height, width = pixels.shape[:2]
    if side == 1:
        return pixels
    high, wide = -(-height // side), -(-width // side)
    grown = cv2.copyMakeBorder(pixels, 0, high * side - height, 0, wide * side - width, cv2.BORDER_REPLICATE)
    small = cv2.resize(grown, (wide, high), interpolation=cv2.INTER_AREA)
    large: Any = cv2.resize(small, (wide * side, high * side), interpolation=cv2.INTER_NEAREST)
    return np.ascontiguousarray(large[:height, :width])
