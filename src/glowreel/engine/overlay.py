"""Laying words and pictures straight over a video frame, without taking the whole frame to RGB and back.

Drawing goes through RGB; an export of footage with a logo and a title would spend more on converting frames than on
everything else but the encoder. What lies over the footage is converted instead, once, and only where it is.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import av
import cv2
import numpy as np

from glowreel.core.recipe.model import DrawPicture, DrawWords, Op
from glowreel.engine.footage import Pixels

# BT.709, RGB in full range to Y, Cb, Cr in limited range (ITU-R BT.709-6, 3.2 to 3.5), columns B, G, R, alpha.
_RED, _BLUE = 0.2126, 0.0722
_GREEN = 1 - _RED - _BLUE
_LUMA, _CHROMA = 219 / 255, 224 / 255
TO_YUV = np.array(
    [
        [_BLUE * _LUMA, _GREEN * _LUMA, _RED * _LUMA, 16 / 255],
        [
            0.5 * _CHROMA,
            -_GREEN / (2 * (1 - _BLUE)) * _CHROMA,
            -_RED / (2 * (1 - _BLUE)) * _CHROMA,
            128 / 255,
        ],
        [
            -_BLUE / (2 * (1 - _RED)) * _CHROMA,
            -_GREEN / (2 * (1 - _RED)) * _CHROMA,
            0.5 * _CHROMA,
            128 / 255,
        ],
    ],
    np.float32,
)


@dataclass(frozen=True)
class Overlay:
    """What lies over a frame at (x, y), both even: premultiplied Y, Cb, Cr, and how much of the frame stays."""

    x: int
    y: int
    luma: Pixels
    luma_kept: Pixels
    chroma: tuple[Pixels, Pixels]
    chroma_kept: Pixels


def reach(op: DrawPicture | DrawWords, scale: float, width: int, height: int) -> tuple[int, int, int, int] | None:
    """The even rectangle (left, top, right, bottom) in pixels that an operation may touch; None if outside."""
    box = op.box
    margin = 2.0
    if isinstance(op, DrawWords):
        # Letters that move leave their box.
        margin = op.size * (4 if op.plays else 1)
    if op.turn:
        margin += math.hypot(box.width, box.height) / 2
    left = max(0, math.floor((box.x - margin) * scale) // 2 * 2)
    top = max(0, math.floor((box.y - margin) * scale) // 2 * 2)
    right = min(width, -(-math.ceil((box.x + box.width + margin) * scale) // 2) * 2)
    bottom = min(height, -(-math.ceil((box.y + box.height + margin) * scale) // 2) * 2)
    return (left, top, right, bottom) if right > left and bottom > top else None


def can_lie_over(ops: tuple[Op, ...]) -> bool:
    """Whether all of these are words and still pictures, which are worth converting once."""
    return all(isinstance(op, DrawWords) or (isinstance(op, DrawPicture) and op.still) for op in ops)


def overlay_of(pixels: Pixels, left: int, top: int) -> Overlay | None:
    """Premultiplied BGRA as an overlay, cut to what is not empty; None if nothing is."""
    rows = np.flatnonzero(pixels[:, :, 3].any(axis=1))
    columns = np.flatnonzero(pixels[:, :, 3].any(axis=0))
    if not len(rows):
        return None
    high = slice(int(rows[0]) // 2 * 2, -(-(int(rows[-1]) + 1) // 2) * 2)
    wide = slice(int(columns[0]) // 2 * 2, -(-(int(columns[-1]) + 1) // 2) * 2)
    pixels = np.ascontiguousarray(pixels[high, wide])
    yuv: Any = cv2.transform(pixels.astype(np.float32), TO_YUV)
    half = (pixels.shape[1] // 2, pixels.shape[0] // 2)
    small: Any = cv2.resize(yuv[:, :, 1:], half, interpolation=cv2.INTER_AREA)
    kept = 255 - pixels[:, :, 3]
    byte = np.uint8
    return Overlay(
        left + wide.start,
        top + high.start,
        np.ascontiguousarray(np.rint(yuv[:, :, 0]).clip(0, 255).astype(byte)),
        np.ascontiguousarray(kept),
        (
            np.ascontiguousarray(np.rint(small[:, :, 0]).clip(0, 255).astype(byte)),
            np.ascontiguousarray(np.rint(small[:, :, 1]).clip(0, 255).astype(byte)),
        ),
        np.asarray(cv2.resize(kept, half, interpolation=cv2.INTER_AREA)),
    )


def planes_of(frame: Any) -> list[Pixels]:
    """The three planes of a yuv420p frame as arrays on its own memory."""
    return [
        np.frombuffer(plane, np.uint8).reshape(plane.height, plane.line_size)[:, : plane.width]
        for plane in frame.planes
    ]


def copied(frame: Any) -> Any:
    """A frame of its own with the same pixels: the decoder still needs the ones it gave out."""
    made = av.VideoFrame(frame.width, frame.height, "yuv420p")
    for target, source in zip(planes_of(made), planes_of(frame), strict=True):
        np.copyto(target, source)
    return made


def lay_over(frame: Any, overlay: Overlay) -> None:
    """Lays an overlay over a frame that may be written to: kept · frame + premultiplied, plane by plane."""
    luma, cb, cr = planes_of(frame)
    _blend(luma, overlay.x, overlay.y, overlay.luma, overlay.luma_kept)
    for plane, chroma in zip((cb, cr), overlay.chroma, strict=True):
        _blend(plane, overlay.x // 2, overlay.y // 2, chroma, overlay.chroma_kept)


def _blend(plane: Pixels, x: int, y: int, added: Pixels, kept: Pixels) -> None:
    part = plane[y : y + added.shape[0], x : x + added.shape[1]]
    part[:] = cv2.add(cv2.multiply(part, kept, scale=1 / 255), added)
