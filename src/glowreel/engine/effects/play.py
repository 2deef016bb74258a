"""Effects that are put on: each a row of `core.effects.EFFECTS`. Those that move are given `at`, the moment in ticks.

Whatever looks random is made from the moment and numbers that never change, so that a frame is always the same.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from functools import lru_cache
from typing import Any

import cv2
import numpy as np

from glowreel.core.formats import CANON
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.engine.drawing import Area, effect, part
from glowreel.engine.effects.edges import coloured, laid_over
from glowreel.engine.effects.film import darkened, grain, vignette_plane
from glowreel.engine.effects.grade import plain_colours, with_transparency
from glowreel.engine.footage import Pixels

Values = Mapping[str, Any]
LUMA = (0.0722, 0.7152, 0.2126)
"""Shares of blue, green and red in brightness (ITU-R BT.709)."""


def seconds_of(values: Values) -> float:
    return float(values["at"]) / TICKS_PER_SECOND


def dice(seed: int) -> np.random.Generator:
    """Numbers that look random and are the same for the same seed."""
    return np.random.default_rng(abs(seed) + 11)


@part()
def shifted(pixels: Any, across: float, down: float, zoom: float = 1.0, turn: float = 0.0) -> Any:
    """Moved by pixels, enlarged and turned about its middle; its edges are mirrored into what would be empty."""
    high, wide = pixels.shape[:2]
    matrix = cv2.getRotationMatrix2D((wide / 2, high / 2), -turn, zoom)
    matrix[:, 2] += (across, down)
    return cv2.warpAffine(pixels, matrix, (wide, high), flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT_101)


def brightness(pixels: Pixels) -> Any:
    """How light each pixel is, as bytes, where it is opaque."""
    return cv2.transform(np.ascontiguousarray(pixels[:, :, :3]), np.array([LUMA], np.float32))


@effect("grey")
def grey(pixels: Pixels, values: Values, area: Area) -> Pixels:
    """Each channel on the way to the brightness of all three."""
    amount = values["amount"]
    matrix = np.zeros((4, 4), np.float32)
    for channel in range(3):
        matrix[channel, :3] = [share * amount for share in LUMA]
        matrix[channel, channel] += 1 - amount
    matrix[3, 3] = 1
    return np.asarray(cv2.transform(pixels, matrix))


@effect("pixels")
def squares(pixels: Pixels, values: Values, area: Area) -> Pixels:
    """The mean of each square, in squares of up to an eighth of the short side."""
    side = max(1, round(values["amount"] * CANON / 8 * area.scale))
    height, width = pixels.shape[:2]
    if side == 1:
        return pixels
    high, wide = -(-height // side), -(-width // side)
    grown = cv2.copyMakeBorder(pixels, 0, high * side - height, 0, wide * side - width, cv2.BORDER_REPLICATE)
    small = cv2.resize(grown, (wide, high), interpolation=cv2.INTER_AREA)
    large: Any = cv2.resize(small, (wide * side, high * side), interpolation=cv2.INTER_NEAREST)
    return np.ascontiguousarray(large[:height, :width])


@effect("glitch")
def glitch(pixels: Pixels, values: Values, area: Area) -> Pixels:
    """Bands torn to the side and colours that part, in bursts: anew twelve times a second, still now and then."""
    step, amount = int(seconds_of(values) * 12), values["amount"]
    random = dice(step)
    if random.random() > 0.35 + 0.6 * amount:
        return pixels
    made = pixels.copy()
    high, reach = pixels.shape[0], amount * 90 * area.scale
    for _ in range(2 + int(6 * amount)):
        top = int(random.random() * high)
        bottom = min(high, top + max(2, int(random.random() * high * 0.12)))
        made[top:bottom] = np.roll(pixels[top:bottom], round(float(random.normal()) * reach), 1)
    part_by = round(amount * 16 * area.scale * (1 if step % 2 else -1))
    made[:, :, 2] = np.roll(made[:, :, 2], part_by, 1)
    made[:, :, 0] = np.roll(made[:, :, 0], -part_by, 1)
    np.minimum(made[:, :, :3], made[:, :, 3:4], out=made[:, :, :3])
    return made


@effect("light-leak")
def light_leak(pixels: Pixels, values: Values, area: Area) -> Pixels:
    """Light that falls in from a side and wanders, added to what is there (screen)."""
    time, high, wide = seconds_of(values), *pixels.shape[:2]
    small = 96
    across, down = np.meshgrid(np.linspace(0, 1, small, dtype=np.float32), np.linspace(0, 1, small, dtype=np.float32))
    light = np.zeros((small, small), np.float32)
    for n, size in enumerate((0.55, 0.35, 0.25)):
        x = 0.5 + 0.75 * math.cos(0.5 * time + 2.1 * n)
        y = 0.5 + 0.6 * math.sin(0.37 * time + 1.3 * n)
        light += np.exp(-(((across - x) ** 2 + (down - y) ** 2) / (2 * size * size))).astype(np.float32) * (
            0.9 - 0.2 * n
        )
    light = np.clip(light * values["amount"], 0, 1)
    colour = [int(values["colour"][n : n + 2], 16) for n in (5, 3, 1)]
    layer = np.dstack([light * channel for channel in colour]).astype(np.uint8)
    grown: Any = cv2.resize(layer, (wide, high), interpolation=cv2.INTER_LINEAR)
    added = cv2.multiply(255 - pixels[:, :, :3], grown, scale=1 / 255)
    pixels[:, :, :3] = np.minimum(cv2.add(pixels[:, :, :3], added), pixels[:, :, 3:4])
    return pixels


@effect("dust")
def dust(pixels: Pixels, values: Values, area: Area) -> Pixels:
    """Specks and hairs, other ones twelve times a second."""
    random = dice(int(seconds_of(values) * 12) + 500)
    high, wide = pixels.shape[:2]
    layer: Pixels = np.zeros((high, wide), np.uint8)
    for _ in range(int(4 + 40 * values["amount"] * random.random())):
        spot = int(random.random() * wide), int(random.random() * high)
        size = max(1, round((1 + 4 * random.random()) * area.scale))
        cv2.circle(layer, spot, size, 200, -1, cv2.LINE_AA)
    for _ in range(int(3 * values["amount"] * random.random() + 0.5)):
        spots = np.cumsum(random.normal(0, 14 * area.scale, (9, 2)), 0) + random.random(2) * (wide, high)
        cv2.polylines(layer, [spots.astype(np.int32)], False, 150, max(1, round(1.6 * area.scale)), cv2.LINE_AA)
    layer = cv2.min(layer, np.ascontiguousarray(pixels[:, :, 3]))
    return laid_over(coloured(layer, "#F5F0E6"), pixels)


@effect("shake")
def shake(pixels: Pixels, values: Values, area: Area) -> Pixels:
    """As if held by hand: moved and turned a little, enlarged so that no edge shows."""
    time, amount = seconds_of(values) * values["rate"], values["amount"]
    swing = [math.sin(time * a + b) + 0.5 * math.sin(time * a * 2.3 + b * 3) for a, b in ((6.1, 0), (7.3, 1), (5.2, 2))]
    reach = 26 * amount * area.scale
    return np.asarray(shifted(pixels, swing[0] * reach, swing[1] * reach, 1 + 0.09 * amount, swing[2] * 0.9 * amount))


@effect("flash")
def flash(pixels: Pixels, values: Values, area: Area) -> Pixels:
    """A flash of light that dies away, again and again."""
    since = seconds_of(values) % (1 / values["rate"])
    light = values["amount"] * math.exp(-since * 9)
    if light < 0.004:
        return pixels
    colour = [int(values["colour"][n : n + 2], 16) for n in (5, 3, 1)]
    target = np.empty_like(pixels)
    for channel, value in enumerate(colour):
        target[:, :, channel] = cv2.convertScaleAbs(pixels[:, :, 3], alpha=value / 255)
    target[:, :, 3] = pixels[:, :, 3]
    return np.asarray(cv2.addWeighted(pixels, 1 - light, target, light, 0))


@effect("pulse")
def pulse(pixels: Pixels, values: Values, area: Area) -> Pixels:
    """Enlarged with a beat, and back."""
    since = seconds_of(values) % (1 / values["rate"])
    zoom = 1 + 0.25 * values["amount"] * math.exp(-since * 7)
    return pixels if zoom < 1.0005 else np.asarray(shifted(pixels, 0, 0, zoom))


@effect("halftone")
def halftone(pixels: Pixels, values: Values, area: Area) -> Pixels:
    """Dots of ink on paper, larger where it is dark; at 45°, as in print."""
    step = max(3.0, values["size"] * 60 * area.scale)
    plain, alpha = plain_colours(pixels)
    high, wide = pixels.shape[:2]
    dark = 255 - cv2.GaussianBlur(brightness(pixels), (0, 0), step / 3)
    x, y = np.meshgrid(np.arange(wide, dtype=np.float32), np.arange(high, dtype=np.float32))
    wave = np.cos((x + y) * np.float32(math.pi * math.sqrt(0.5) / step * math.sqrt(2) / 1)) + np.cos(
        (x - y) * np.float32(math.pi / step)
    )
    edge = np.clip((wave / 2 + dark.astype(np.float32) / 127.5 - 1) * np.float32(step / 2) + 0.5, 0, 1)
    ink, paper = ([int(values[key][n : n + 2], 16) for n in (5, 3, 1)] for key in ("ink", "paper"))
    made = np.dstack([paper[n] + (ink[n] - paper[n]) * edge for n in range(3)])
    return with_transparency(np.rint(made).astype(np.uint8), alpha, pixels)


@lru_cache(maxsize=64)
def _two_colours(first: str, second: str) -> Any:
    ends = [[int(hexed[n : n + 2], 16) for n in (5, 3, 1)] for hexed in (first, second)]
    steps = np.linspace(0, 1, 256)[:, None]
    return np.rint(np.array(ends[0]) * (1 - steps) + np.array(ends[1]) * steps).astype(np.uint8)[:, None, :]


@effect("duotone")
def duotone(pixels: Pixels, values: Values, area: Area) -> Pixels:
    """Dark parts in one colour, light ones in another, all others in between."""
    plain, alpha = plain_colours(pixels)
    light = cv2.transform(np.ascontiguousarray(plain), np.array([LUMA], np.float32))
    made: Any = cv2.LUT(cv2.merge([light] * 3), _two_colours(values["dark"], values["light"]))
    mixed = cv2.addWeighted(made, values["amount"], np.ascontiguousarray(plain), 1 - values["amount"], 0)
    return with_transparency(mixed, alpha, pixels)


@effect("old-film")
def old_film(pixels: Pixels, values: Values, area: Area) -> Pixels:
    """Brown, grainy, dusty, not quite steady, its light flickering."""
    amount, random = values["amount"], dice(int(seconds_of(values) * 16) + 90)
    down = float(random.normal()) * 3 * amount * area.scale
    made = grey(np.asarray(shifted(pixels, 0, down, 1 + 0.01 * amount)), {"amount": amount}, area)
    tint = np.array([0.78, 0.94, 1.05, 1.0]) * (1 + 0.06 * amount * float(random.normal()))
    tint[3] = 1
    made = np.asarray(cv2.transform(made, np.diag(1 + (tint - 1) * [amount, amount, amount, 0]).astype(np.float32)))
    np.minimum(made[:, :, :3], made[:, :, 3:4], out=made[:, :, :3])
    made = grain(made, {"amount": 0.5 * amount, "at": values["at"]}, area)
    made = dust(made, {"amount": 0.6 * amount, "at": values["at"]}, area)
    box = (area.x, area.y, area.width, area.height)
    return darkened(made, vignette_plane(made.shape[:2], box, 0.6 * amount))


@effect("scan-lines")
def scan_lines(pixels: Pixels, values: Values, area: Area) -> Pixels:
    """Dark lines across, rolling slowly, as on a tube."""
    step = max(2.0, 7 * area.scale)
    rows = np.arange(pixels.shape[0], dtype=np.float32) + np.float32(seconds_of(values) * 20 * area.scale)
    wave = 0.5 + 0.5 * np.cos(rows * np.float32(2 * math.pi / step))
    left = np.rint(255 * (1 - 0.75 * values["amount"] * wave)).astype(np.uint8)
    return darkened(pixels, np.ascontiguousarray(np.repeat(left[:, None], pixels.shape[1], 1)))


@lru_cache(maxsize=8)
def _kaleidoscope_map(shape: tuple[int, int], parts: int, turn: float) -> tuple[Any, Any]:
    high, wide = shape
    x, y = np.meshgrid(np.arange(wide, dtype=np.float32), np.arange(high, dtype=np.float32))
    x, y = x - (wide - 1) / 2, y - (high - 1) / 2
    far, angle = np.hypot(x, y), np.arctan2(y, x)
    wedge = 2 * math.pi / parts
    angle = np.abs((angle % wedge) - wedge / 2) + np.float32(turn)
    return (far * np.cos(angle) + (wide - 1) / 2).astype(np.float32), (far * np.sin(angle) + (high - 1) / 2).astype(
        np.float32
    )


@effect("kaleidoscope")
def kaleidoscope(pixels: Pixels, values: Values, area: Area) -> Pixels:
    """A wedge of it, mirrored around the middle."""
    maps = _kaleidoscope_map(pixels.shape[:2], int(values["parts"]), round(math.radians(values["turn"]), 4))
    return np.asarray(cv2.remap(pixels, *maps, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT_101))


@effect("mirror")
def mirror(pixels: Pixels, values: Values, area: Area) -> Pixels:
    """One half of it, and its mirror image in place of the other."""
    made = pixels.copy()
    x = min(pixels.shape[1], max(0, round(area.x + area.width / 2)))
    y = min(pixels.shape[0], max(0, round(area.y + area.height / 2)))
    room_x, room_y = min(x, pixels.shape[1] - x), min(y, pixels.shape[0] - y)
    keep = values["keep"]
    if keep == "left":
        made[:, x : x + room_x] = pixels[:, x - room_x : x][:, ::-1]
    elif keep == "right":
        made[:, x - room_x : x] = pixels[:, x : x + room_x][:, ::-1]
    elif keep == "top":
        made[y : y + room_y] = pixels[y - room_y : y][::-1]
    else:
        made[y - room_y : y] = pixels[y : y + room_y][::-1]
    return made


@effect("edge-glow")
def edge_glow(pixels: Pixels, values: Values, area: Area) -> Pixels:
    """Its edges as lines of light, the rest in the dark."""
    light = cv2.GaussianBlur(brightness(pixels), (0, 0), max(0.5, 1.5 * area.scale))
    across, down = (cv2.Sobel(light, cv2.CV_32F, *way, ksize=3) for way in ((1, 0), (0, 1)))
    lines = cv2.convertScaleAbs(cv2.magnitude(across, down), alpha=1.2)
    soft = cv2.GaussianBlur(lines, (0, 0), max(0.8, 6 * area.scale))
    lines = cv2.min(cv2.add(lines, soft), np.ascontiguousarray(pixels[:, :, 3]))
    amount = values["amount"]
    dark = cv2.convertScaleAbs(pixels, alpha=1 - 0.8 * amount)
    dark[:, :, 3] = pixels[:, :, 3]
    return laid_over(coloured(cv2.convertScaleAbs(lines, alpha=amount), values["colour"]), dark)


PAPER = ("#F6B73C", "#C8430B", "#2F6F87", "#7A4B7D", "#4F7A57", "#FFFCF6")


@effect("confetti")
def confetti(pixels: Pixels, values: Values, area: Area) -> Pixels:
    """Slips of paper that rain down and turn."""
    time, random = seconds_of(values), dice(3)
    made = pixels.copy()
    high, wide, scale = area.height, area.width, area.scale
    for n in range(int(150 * values["amount"])):
        x, speed, turn, size, sway = random.random(5)
        fall = (time * (0.22 + 0.28 * speed) + random.random() * 1.3) % 1.3 - 0.15
        middle = area.x + wide * (x + 0.02 * math.sin(time * 3 + 9 * sway)), area.y + high * fall
        long, angle = (10 + 12 * size) * scale, (turn * 360 + time * 200 * (speed - 0.5))
        flat = abs(math.cos(time * 5 * (0.5 + speed) + 7 * turn)) * 0.9 + 0.1
        corners = cv2.boxPoints((middle, (long, long * 0.6 * flat), angle))
        hexed = PAPER[n % len(PAPER)]
        colour = [int(hexed[k : k + 2], 16) for k in (5, 3, 1)]
        cv2.fillConvexPoly(made, np.rint(corners * 8).astype(np.int32), (*colour, 255), cv2.LINE_AA, 3)
    return made


@effect("burst")
def burst(pixels: Pixels, values: Values, area: Area) -> Pixels:
    """A splash of drops that flies apart from the middle, again and again."""
    since = seconds_of(values) % (1 / values["rate"])
    share = 1 - math.exp(-since * 3.2)
    if since > 1.6:
        return pixels
    random, layer = dice(21), np.zeros(pixels.shape[:2], np.uint8)
    middle = area.x + area.width / 2, area.y + area.height / 2
    reach = max(area.width, area.height) * 0.62
    for _ in range(90):
        angle, far, size = random.random() * 2 * math.pi, 0.25 + 0.75 * random.random(), random.random()
        spot = [middle[0] + math.cos(angle) * reach * far * share, middle[1] + math.sin(angle) * reach * far * share]
        radius = max(0.6, (4 + 26 * size * size) * area.scale * (1 - share) * (0.3 + values["amount"]))
        cv2.circle(layer, [round(v * 8) for v in spot], round(radius * 8), 255, -1, cv2.LINE_AA, 3)
    return laid_over(coloured(layer, values["colour"]), pixels)
