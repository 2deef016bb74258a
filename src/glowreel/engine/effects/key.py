"""Taking a colour out of a picture."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import cv2
import numpy as np

from glowreel.engine.drawing import Area, effect, part
from glowreel.engine.effects.grade import TO_BGR, TO_YUV, plain_colours
from glowreel.engine.footage import Pixels

WIDEST = 0.5
"""The distance in chroma (shares of its whole range) at which a tolerance of all ends."""
SPILLED = 0.25
"""How far beyond what is taken out, in chroma, the colour may have spilled."""


REACH = 7.0
"""How far the edge is moved at the most, about, in canonical units."""


@part()
def moved_edge(shares: Any, grow: float) -> Any:
    """Shares whose edge is moved outwards, or inwards: taken where they are low, or high, but never so gently that
    nothing becomes something."""
    middle = 0.5 - 0.45 * grow
    steep = max(2.2, 0.5 / min(middle, 1 - middle))
    return np.clip((shares - np.float32(middle)) * np.float32(steep) + np.float32(0.5), 0, 1)


@effect("key", 2)
def key(pixels: Pixels, values: Mapping[str, Any], area: Area) -> Pixels:
    """Takes out what has nearly the hue and saturation of a colour, however light it is: by the distance in chroma
    (BT.709). What is left of the colour in the rest is taken back along its direction (spill)."""
    plain, alpha = plain_colours(pixels)
    wanted = np.array([int(values["colour"][n : n + 2], 16) for n in (5, 3, 1)], np.float32)
    _, blue_key, red_key = TO_YUV @ wanted
    yuv: Any = cv2.transform(np.ascontiguousarray(plain, np.float32), TO_YUV)
    light, blue, red = cv2.split(yuv)
    far = cv2.magnitude(blue - np.float32(blue_key), red - np.float32(red_key)) / np.float32(255)
    inner = np.float32(values["tolerance"] * WIDEST)
    width = np.float32(max(0.004, values["soft"] * WIDEST * 0.6))
    stays = np.clip((far - inner) / width, 0, 1)
    if values.get("grow"):
        # Softened a little, its edge is taken where more, or less, is kept.
        grow = float(values["grow"])
        stays = cv2.GaussianBlur(stays, (0, 0), max(0.5, REACH * abs(grow) * area.scale))
        stays = moved_edge(stays, grow)
    if values["spill"] > 0:
        length = max(1e-6, float(np.hypot(blue_key, red_key)))
        toward = (np.float32(blue_key / length), np.float32(red_key / length))
        part = np.maximum(0, blue * toward[0] + red * toward[1]) * np.float32(values["spill"])
        # What is far from the colour has none of it: it keeps its own.
        part *= np.clip(1 - (far - inner - width) / np.float32(SPILLED), 0, 1)
        blue, red = blue - part * toward[0], red - part * toward[1]
    colours: Any = cv2.transform(cv2.merge([light, blue, red]), TO_BGR)
    if alpha is not None:
        stays = stays * (alpha.astype(np.float32) / np.float32(255))
    made = np.empty_like(pixels)
    made[:, :, :3] = np.rint(np.clip(colours, 0, 255) * stays[:, :, None]).astype(np.uint8)
    made[:, :, 3] = np.rint(stays * 255).astype(np.uint8)
    np.minimum(made[:, :, :3], made[:, :, 3:4], out=made[:, :, :3])
    return made
