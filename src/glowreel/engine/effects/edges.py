"""What goes along the edge of a thing, whatever its shape: border, shadow, glow, reflection."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

import cv2
import numpy as np

from glowreel.engine.drawing import Area, effect, part
from glowreel.engine.effects.crisp import softened
from glowreel.engine.footage import Pixels


def _channels(hexed: str) -> tuple[int, int, int]:
    """Blue, green, red of `#RRGGBB`."""
    return int(hexed[5:7], 16), int(hexed[3:5], 16), int(hexed[1:3], 16)


@part()
def coloured(alpha: Any, hexed: str) -> Pixels:
    """One colour, as see-through as bytes say; premultiplied BGRA."""
    made: Pixels = np.empty((*alpha.shape, 4), np.uint8)
    for channel, value in enumerate(_channels(hexed)):
        made[:, :, channel] = cv2.multiply(alpha, np.full_like(alpha, value), scale=1 / 255)
    made[:, :, 3] = alpha
    return made


@part()
def laid_over(top: Pixels, below: Pixels) -> Pixels:
    """Premultiplied pixels over others (Porter and Duff, 1984)."""
    left = cv2.merge([255 - top[:, :, 3]] * 4)
    return np.asarray(cv2.add(top, cv2.multiply(below, left, scale=1 / 255)))


def _shadow_reach(values: Mapping[str, Any]) -> float:
    return float(values["away"]) + 3 * float(values["soft"])


@effect("drop", 1, _shadow_reach)
def drop(pixels: Pixels, values: Mapping[str, Any], area: Area) -> Pixels:
    """A shadow beside it: its own shape in one colour, moved and blurred."""
    away, angle = values["away"] * area.scale, math.radians(values["angle"])
    shift = np.array([[1, 0, away * math.cos(angle)], [0, 1, away * math.sin(angle)]], np.float32)
    high, wide = pixels.shape[:2]
    alpha = cv2.warpAffine(np.ascontiguousarray(pixels[:, :, 3]), shift, (wide, high), flags=cv2.INTER_LINEAR)
    alpha = softened(alpha, values["soft"] * area.scale)
    alpha = cv2.convertScaleAbs(alpha, alpha=values["amount"])
    return laid_over(pixels, coloured(alpha, values["colour"]))


@effect("glow", 1, lambda values: 3 * float(values["soft"]))
def glow(pixels: Pixels, values: Mapping[str, Any], area: Area) -> Pixels:
    """Light around it: its own shape in one colour, blurred twice, wide and narrow."""
    alpha = np.ascontiguousarray(pixels[:, :, 3])
    wide = softened(alpha, values["soft"] * area.scale)
    near = softened(alpha, values["soft"] * area.scale / 3)
    light = cv2.addWeighted(wide, 1.1 * values["amount"], near, 0.7 * values["amount"], 0)
    return laid_over(pixels, coloured(light, values["colour"]))


@effect("border", 1, lambda values: float(values["width"]))
def border(pixels: Pixels, values: Mapping[str, Any], area: Area) -> Pixels:
    """A line around it, outside its edge: its shape grown by the width, in one colour, below it."""
    width = values["width"] * area.scale
    alpha = np.ascontiguousarray(pixels[:, :, 3])
    # How far each pixel lies from what is at least half there; the line ends smoothly over one pixel.
    far: Any = cv2.distanceTransform(np.where(alpha >= 128, 0, 255).astype(np.uint8), cv2.DIST_L2, 5)
    line = np.rint(np.clip(width + 0.5 - far, 0, 1) * 255).astype(np.uint8)
    return laid_over(pixels, coloured(np.maximum(line, alpha), values["colour"]))


def _mirror_reach(values: Mapping[str, Any]) -> float:
    return 400.0


@effect("reflection", 1, _mirror_reach)
def reflection(pixels: Pixels, values: Mapping[str, Any], area: Area) -> Pixels:
    """Its mirror image below it, fading out over two fifths of its height."""
    floor = max(1, min(pixels.shape[0], round(area.y + area.height)))
    room = min(pixels.shape[0] - floor, max(1, round(0.4 * area.height)), floor)
    if room < 1:
        return pixels
    mirrored = pixels[floor - room : floor][::-1]
    left = np.linspace(255 * values["amount"], 0, room, dtype=np.float32)
    factor = np.rint(np.repeat(left[:, None], pixels.shape[1], 1)).astype(np.uint8)
    below: Pixels = np.zeros_like(pixels)
    below[floor : floor + room] = cv2.multiply(np.ascontiguousarray(mirrored), cv2.merge([factor] * 4), scale=1 / 255)
    return laid_over(pixels, below)
