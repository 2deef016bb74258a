"""A frame as a picture file."""

from __future__ import annotations

from collections.abc import Sequence

import cv2
import numpy as np

from glowreel.core.document import Promo
from glowreel.core.errors import Fault
from glowreel.core.formats import Format
from glowreel.core.recipe.picture import frame_recipe
from glowreel.engine.draw import Canvas
from glowreel.engine.footage import Pixels
from glowreel.engine.sources import Sources
from glowreel.engine.typesetting import measure


def encode(pixels: Pixels, suffix: str = ".jpg", quality: int = 88) -> bytes:
    """BGRA pixels as a JPEG, PNG or WebP file. PNG keeps transparency, unpremultiplied as that format wants."""
    options = {".jpg": [cv2.IMWRITE_JPEG_QUALITY, quality], ".webp": [cv2.IMWRITE_WEBP_QUALITY, quality]}
    if suffix == ".png":
        alpha = np.maximum(pixels[:, :, 3:4].astype(np.float32), 1)
        plain = pixels.copy()
        plain[:, :, :3] = np.minimum(255, np.round(pixels[:, :, :3].astype(np.float32) * 255 / alpha))
        done, data = cv2.imencode(".png", plain, [cv2.IMWRITE_PNG_COMPRESSION, 2])
    else:
        done, data = cv2.imencode(suffix, cv2.cvtColor(pixels, cv2.COLOR_BGRA2BGR), options[suffix])
    if not done:
        raise Fault(f"could not encode a picture as {suffix}")
    return data.tobytes()


def encode_loop(frames: Sequence[Pixels], each: int) -> bytes:
    """BGRA frames as an animated WebP that runs round and round, each shown for so many milliseconds."""
    loop = cv2.Animation()
    loop.frames = [cv2.cvtColor(frame, cv2.COLOR_BGRA2BGR) for frame in frames]
    loop.durations = [each] * len(frames)
    done, data = cv2.imencodeanimation(".webp", loop, [cv2.IMWRITE_WEBP_QUALITY, 62])
    if not done:
        raise Fault("could not encode pictures that move")
    return data.tobytes()


def draw_still(promo: Promo, format: Format, at: int, short_side: int, sources: Sources) -> Pixels:
    """One frame of a promo, BGRA, drawn for this use alone."""
    width, height = format.size(short_side)
    return Canvas(sources, width, height).draw(frame_recipe(promo, format, at, measure))
