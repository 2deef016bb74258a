"""Grain, vignette and wash: what lies over a picture as on film or print."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

from glowreel.core.time import TICKS_PER_SECOND
from glowreel.engine.drawing import Area, effect, part
from glowreel.engine.footage import Pixels

Shares = npt.NDArray[np.float32]
TILE = 512
GRAINS = 12
"""How many pictures of grain there are for each second. An encoder keeps each grain of every new one: twice as
many make an export half again as long, and its file half again as large."""


@lru_cache(maxsize=8)
def grain_tile(scale: float) -> Any:
    """Grain of about two canonical units, mean 0, deviation 1, in a tile that repeats without a seam."""
    noise = np.random.default_rng(7).standard_normal((TILE, TILE)).astype(np.float32)
    wrapped = np.pad(noise, 16, mode="wrap")
    soft = cv2.GaussianBlur(wrapped, (0, 0), max(0.3, 0.8 * scale))[16:-16, 16:-16]
    return (soft / soft.std()).astype(np.float32)


@part()
def grain_plane(shape: tuple[int, int], scale: float, at: int, amount: float) -> Any:
    """What is added to each byte of light, as signed 16-bit, for a moment in ticks."""
    step = at * GRAINS // TICKS_PER_SECOND
    across, down = (step * 7919) % TILE, (step * 104729) % TILE
    tile = np.roll(grain_tile(round(scale, 3)), (down, across), (0, 1))
    high, wide = shape
    whole = np.tile(tile, (-(-high // TILE), -(-wide // TILE)))[:high, :wide]
    # Drawn small, several grains fall on a pixel and even each other out.
    return np.rint(whole * np.float32(20 * amount * min(1.0, 2 * scale))).astype(np.int16)


@effect("grain")
def grain(pixels: Pixels, values: Mapping[str, Any], area: Area) -> Pixels:
    """Grain in the light of each pixel, another one twelve times a second."""
    added = grain_plane(pixels.shape[:2], area.scale, int(values["at"]), values["amount"])
    alpha = pixels[:, :, 3]
    if int(alpha.min()) < 255:
        added = added * (alpha.astype(np.int16) // 2) // 127
    made = np.clip(pixels[:, :, :3].astype(np.int16) + added[:, :, None], 0, alpha[:, :, None])
    pixels[:, :, :3] = made.astype(np.uint8)
    return pixels


@lru_cache(maxsize=16)
def vignette_plane(shape: tuple[int, int], box: tuple[float, float, float, float], amount: float) -> Any:
    """What is left of the light of each pixel, as bytes: from all in the middle to `1 - amount` in the corners of a box
    (x, y, width, height)."""
    high, wide = shape
    x, y, width, height = box
    across = (np.arange(wide, dtype=np.float32) + 0.5 - x) / width * 2 - 1
    down = (np.arange(high, dtype=np.float32) + 0.5 - y) / height * 2 - 1
    far = np.sqrt((across[None, :] ** 2 + down[:, None] ** 2) / 2)
    share = np.clip((far - 0.35) / 0.65, 0, 1)
    share = share * share * (3 - 2 * share)
    return np.rint(255 * (1 - amount * share)).astype(np.uint8)


def darkened(pixels: Pixels, left: Any) -> Pixels:
    """Colours multiplied by what is left of them, in bytes."""
    alpha = pixels[:, :, 3].copy()
    made: Pixels = np.asarray(cv2.multiply(pixels, cv2.merge([left] * 4), scale=1 / 255))
    made[:, :, 3] = alpha
    return made


@effect("vignette")
def vignette(pixels: Pixels, values: Mapping[str, Any], area: Area) -> Pixels:
    """Darker towards its corners."""
    box = (area.x, area.y, area.width, area.height)
    return darkened(pixels, vignette_plane(pixels.shape[:2], box, values["amount"]))


@effect("wash")
def wash(pixels: Pixels, values: Mapping[str, Any], area: Area) -> Pixels:
    """A dark wash from one side, or over all of it: `amount` of black at that side, none at three fifths of the way."""
    left = wash_plane(pixels.shape[:2], (area.x, area.y, area.width, area.height), values["amount"], values["side"])
    return darkened(pixels, left)


@lru_cache(maxsize=16)
def wash_plane(shape: tuple[int, int], box: tuple[float, float, float, float], amount: float, side: str) -> Any:
    """What is left of the light of each pixel, as bytes."""
    high, wide = shape
    x, y, width, height = box
    across = np.clip((np.arange(wide, dtype=np.float32) + 0.5 - x) / width, 0, 1)
    down = np.clip((np.arange(high, dtype=np.float32) + 0.5 - y) / height, 0, 1)
    zero = np.zeros((high, wide), np.float32)
    far = {
        "above": zero + down[:, None], "below": zero + 1 - down[:, None], "left": zero + across[None, :],
        "right": zero + 1 - across[None, :], "all": zero,
    }[side]  # fmt: skip
    share = np.clip(1 - far / 0.6, 0, 1)
    share = share * share * (3 - 2 * share)
    return np.rint(255 * (1 - amount * share)).astype(np.uint8)


@effect("one-colour")
def one_colour(pixels: Pixels, values: Mapping[str, Any], area: Area) -> Pixels:
    """All of it in one colour, as see-through as it was."""
    alpha = pixels[:, :, 3].astype(np.uint16)
    for channel, at in enumerate((5, 3, 1)):
        pixels[:, :, channel] = (alpha * int(values["colour"][at : at + 2], 16) + 127) // 255
    return pixels
