"""Tone and colour, in Y′CbCr as BT.709 has it: one curve for how light a pixel is, and factors and offsets of its
colour that depend on how light it is. Footage is stored so, and a film can therefore be graded without leaving it.

Y is between 0 and 1, the two chroma values around 0, between −0.5 and 0.5.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

from glowreel.engine.drawing import Area, effect, part
from glowreel.engine.footage import Pixels

Floats = npt.NDArray[np.float32]
Points = tuple[tuple[float, float], ...]

RED, BLUE = 0.2126, 0.0722
GREEN = 1 - RED - BLUE
GAMMA = 2.2
"""Light is about the stored value to this power: a stop is a factor of 2^(1/2.2) of it."""
TO_YUV: Floats = np.array(
    [
        [BLUE, GREEN, RED],
        [0.5, -0.5 * GREEN / (1 - BLUE), -0.5 * RED / (1 - BLUE)],
        [-0.5 * BLUE / (1 - RED), -0.5 * GREEN / (1 - RED), 0.5],
    ],
    np.float32,
)
"""From blue, green, red to Y, Cb, Cr (ITU-R BT.709-6, 3.2 and 3.3), all in full range."""
TO_BGR: Floats = np.linalg.inv(TO_YUV).astype(np.float32)
STEPS = 256


@part()
def smooth_curve(points: Points, at: Floats) -> Floats:
    """A curve through points that rises where they rise (Fritsch and Carlson, 1980); level before and after them."""
    if not points:
        return at
    if len(points) == 1:
        return np.clip(at + points[0][1] - points[0][0], 0, 1).astype(np.float32)
    x, y = (np.array(values, np.float64) for values in zip(*points, strict=True))
    steps, slopes = np.diff(x), np.diff(y) / np.diff(x)
    tangents = np.concatenate([slopes[:1], (slopes[:-1] + slopes[1:]) / 2, slopes[-1:]])
    for n, slope in enumerate(slopes):
        if abs(slope) < 1e-9:
            tangents[n] = tangents[n + 1] = 0.0
            continue
        first, second = tangents[n] / slope, tangents[n + 1] / slope
        if first < 0 or second < 0 or first * first + second * second > 9:
            limit = 3 / max(1e-9, float(np.hypot(first, second)))
            tangents[n] = max(0.0, min(first, limit * first)) * slope
            tangents[n + 1] = max(0.0, min(second, limit * second)) * slope
    spot = np.clip(np.searchsorted(x, at, "right") - 1, 0, len(steps) - 1)
    share = np.clip((at - x[spot]) / steps[spot], 0, 1)
    h00, h10 = (1 + 2 * share) * (1 - share) ** 2, share * (1 - share) ** 2
    h01, h11 = share**2 * (3 - 2 * share), share**2 * (share - 1)
    made = (
        h00 * y[spot] + h10 * steps[spot] * tangents[spot] + h01 * y[spot + 1] + h11 * steps[spot] * tangents[spot + 1]
    )
    return np.clip(made, 0, 1).astype(np.float32)


@part()
def tones(values: Mapping[str, Any], light: Floats) -> Floats:
    """How light something is, from how light it was."""
    get = values.get
    made = light * np.float32(2 ** (get("exposure", 0.0) / GAMMA))
    # What grows beyond white is held softly from four fifths on.
    if get("exposure", 0.0) > 0:
        above = made > 0.8
        made = np.where(above, 0.8 + 0.2 * np.tanh((made - 0.8) / 0.2 * 0.8) / np.tanh(np.float32(4.0)), made)
    made = np.clip(made, 0, 1)
    rest = 1 - made
    made = made + get("blacks", 0.0) * 0.2 * rest**4 + get("whites", 0.0) * 0.2 * made**4
    made = np.clip(made, 0, 1)
    rest = 1 - made
    made = made + 0.2 * 6.75 * (get("shades", 0.0) * made * rest**2 + get("highlights", 0.0) * made**2 * rest)
    made = np.clip(made, 0, 1)
    # An S, or the reverse of one: black and white stay where they are.
    made = made + get("contrast", 0.0) * 0.95 * made * (1 - made) * (2 * made - 1)
    faded = get("fade", 0.0)
    made = faded * 0.2 + np.clip(made, 0, 1) * (1 - 0.26 * faded)
    return smooth_curve(tuple(map(tuple, get("curve", ()))), made.astype(np.float32))


@dataclass(frozen=True)
class Grade:
    """By how light a pixel is, in 256 steps: how light it becomes, the factor of its colour and what is added to it;
    and how strong weak colours become."""

    light: Floats
    strength: Floats
    blue: Floats
    red: Floats
    vibrance: float

    @property
    def coloured(self) -> bool:
        """Whether it does anything to colours."""
        return bool(self.vibrance or np.any(self.strength != 1) or np.any(self.blue) or np.any(self.red))


@lru_cache(maxsize=64)
def grade_of(values: tuple[tuple[str, Any], ...]) -> Grade:
    """The tables of settings."""
    given = dict(values)
    light = np.linspace(0, 1, STEPS, dtype=np.float32)
    made = tones(given, light)
    # Colours grow with the light, or else a picture would pale where it becomes lighter.
    ratio = np.where(light > 1 / 255, made / np.maximum(light, 1 / 255), 1.0)
    strength = np.clip(ratio, 0.25, 2.5) ** 0.8 * max(0.0, 1 + given.get("saturation", 0.0))
    warmth, tint = given.get("warmth", 0.0), given.get("tint", 0.0)
    dark, bright = given.get("dark", (0.0, 0.0)), given.get("light", (0.0, 0.0))
    dim = (1 - made) ** 2 * np.minimum(1, made * 6)
    blue = made * (-0.11 * warmth + 0.1 * tint) + dim * dark[0] + made**2 * bright[0] * (1 - made**8)
    red = made * (0.10 * warmth + 0.1 * tint) + dim * dark[1] + made**2 * bright[1] * (1 - made**8)
    light, strength, blue, red = (table.astype(np.float32) for table in (made, strength, blue, red))
    return Grade(light, strength, blue, red, float(given.get("vibrance", 0.0)))


@part()
def graded_colour(blue: Floats, red: Floats, light: Pixels, grade: Grade) -> tuple[Floats, Floats]:
    """Chroma planes (in shares of 255, around 0) by how light they were, as bytes."""
    if grade.vibrance:
        strong = cv2.magnitude(blue, red) * np.float32(1 / (0.3 * 255))
        factor = 1 + np.float32(grade.vibrance) * (1 - np.minimum(1, strong))
        blue, red = blue * factor, red * factor
    if np.any(grade.strength != 1):
        strength: Any = cv2.LUT(light, grade.strength)
        blue, red = blue * strength, red * strength
    for values, table in ((blue, grade.blue), (red, grade.red)):
        if np.any(table):
            values += cv2.LUT(light, table * np.float32(255))
    return blue, red


def _bytes(table: Floats) -> Pixels:
    made: Pixels = np.rint(np.clip(table, 0, 1) * 255).astype(np.uint8)
    return made


def as_bytes(values: Any) -> Any:
    """Numbers rounded to bytes, those beyond held at the nearest."""
    return cv2.add(values, 0, dtype=cv2.CV_8U)


def plain_colours(pixels: Pixels) -> tuple[Pixels, Pixels | None]:
    """Pixels as they are without their transparency, and that transparency where there is any."""
    alpha = cv2.extractChannel(pixels, 3)
    if int(alpha.min()) == 255:
        return np.asarray(cv2.cvtColor(pixels, cv2.COLOR_BGRA2BGR)), None
    shares = np.maximum(alpha, 1)[:, :, None]
    plain = np.minimum(255, (pixels[:, :, :3].astype(np.uint16) * 255 + shares // 2) // shares).astype(np.uint8)
    return plain, alpha


def with_transparency(plain: Any, alpha: Pixels | None, pixels: Pixels) -> Pixels:
    """Colours put back into premultiplied pixels, of which the array is used again."""
    if alpha is None:
        return np.asarray(cv2.cvtColor(plain, cv2.COLOR_BGR2BGRA))
    for channel in range(3):
        pixels[:, :, channel] = cv2.multiply(np.ascontiguousarray(plain[:, :, channel]), alpha, scale=1 / 255)
    return pixels


@effect("grade")
def grade(pixels: Pixels, values: Mapping[str, Any], area: Area) -> Pixels:
    """Tone and colour of each pixel, by tables."""
    tables = grade_of(tuple(sorted(values.items())))
    plain, alpha = plain_colours(pixels)
    yuv: Any = cv2.transform(plain.astype(np.float32), TO_YUV)
    light, blue, red = cv2.split(yuv)
    steps: Any = as_bytes(light)
    made: Any = cv2.LUT(steps, tables.light * np.float32(255))
    if tables.coloured:
        blue, red = graded_colour(blue, red, steps, tables)
    colours: Any = cv2.transform(cv2.merge([made, blue, red]), TO_BGR)
    return with_transparency(as_bytes(colours), alpha, pixels)


@effect("channels")
def channels(pixels: Pixels, values: Mapping[str, Any], area: Area) -> Pixels:
    """Curves of blue, green and red by themselves."""
    light = np.linspace(0, 1, STEPS, dtype=np.float32)
    table: Pixels = np.empty((STEPS, 1, 3), np.uint8)
    for channel, name in enumerate(("curve_blue", "curve_green", "curve_red")):
        table[:, 0, channel] = _bytes(smooth_curve(tuple(map(tuple, values.get(name, ()))), light))
    plain, alpha = plain_colours(pixels)
    return with_transparency(cv2.LUT(np.ascontiguousarray(plain), table), alpha, pixels)


# ---- in the planes of a film: limited range, colours half as wide and high ----


def luma_table(tables: Grade) -> Pixels:
    """The curve of light for stored luma, 16 to 235 (BT.709); what lies outside is held."""
    stored = np.arange(STEPS, dtype=np.float32)
    light = np.clip((stored - 16) / 219, 0, 1)
    made = np.interp(light, np.linspace(0, 1, STEPS), tables.light)
    table: Pixels = np.rint(16 + 219 * made).astype(np.uint8)
    return table


@lru_cache(maxsize=16)
def colour_tables(values: tuple[tuple[str, Any], ...]) -> tuple[Pixels, Pixels]:
    """What becomes of stored chroma by stored luma (luma times 256, plus chroma): of blue and of red. For grades in
    which neither depends on the other."""
    tables = grade_of(values)
    light = np.rint(np.clip((np.arange(STEPS) - 16) * (255 / 219), 0, 255)).astype(np.uint8)
    stored = (np.arange(STEPS, dtype=np.float32) - 128) * np.float32(255 / 224)
    grid = np.broadcast_to(stored, (STEPS, STEPS)).copy()
    rows = np.repeat(light[:, None], STEPS, axis=1)
    made = graded_colour(grid, grid.copy(), np.ascontiguousarray(rows), tables)
    blue, red = (
        np.rint(np.clip(colour * np.float32(224 / 255) + 128, 16, 240)).astype(np.uint8).ravel() for colour in made
    )
    return blue, red


@part()
def grade_planes(luma: Pixels, blue: Pixels, red: Pixels, values: tuple[tuple[str, Any], ...]) -> None:
    """Grades the three planes of a yuv420p frame in limited range, in place."""
    tables = grade_of(tuple(sorted(values)))
    if tables.coloured and not tables.vibrance:
        shrunk: Any = cv2.resize(luma, (blue.shape[1], blue.shape[0]), interpolation=cv2.INTER_AREA)
        row = shrunk.astype(np.uint16) << 8
        for plane, table in zip((blue, red), colour_tables(tuple(sorted(values))), strict=True):
            np.copyto(plane, np.take(table, row | plane))
    elif tables.coloured:
        half: Any = cv2.resize(luma, (blue.shape[1], blue.shape[0]), interpolation=cv2.INTER_AREA)
        light = np.rint(np.clip((half.astype(np.float32) - 16) * (255 / 219), 0, 255)).astype(np.uint8)
        planes = [(plane.astype(np.float32) - 128) * np.float32(255 / 224) for plane in (blue, red)]
        made = graded_colour(planes[0], planes[1], light, tables)
        for plane, colour in zip((blue, red), made, strict=True):
            np.copyto(plane, np.rint(np.clip(colour * np.float32(224 / 255) + 128, 16, 240)).astype(np.uint8))
    np.copyto(luma, cv2.LUT(luma, luma_table(tables)))
