"""Paintings and sounds as files: JPEG and PNG, H.264 in MP4 with BT.709 tags, AAC; and small moving previews."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import cv2
import numpy as np
from av.video.reformatter import VideoReformatter

from glowreel.engine.colour import convert
from glowreel.engine.still import encode, encode_loop
from glowreel.outside.art.painting import Painting, paint
from glowreel.outside.art.tunes import RATE, Sound

FRAMES = 24
FINE = 700
"""How high pictures are painted at least."""
PREVIEW = (320, 10, 24)
"""Small pictures: their longer side, how many a second, how many in all."""


def picture(painting: Painting, width: int, height: int, suffix: str) -> bytes:
    """A picture as a file; it is painted as it looks in the middle of its movement. Small ones are painted larger:
    grain and lines of ink are as fine in them as they are seen in large ones."""
    scale = max(1, -(-FINE // height))
    pixels = paint(painting, width * scale, height * scale, 1.5)
    if scale > 1:
        pixels = np.asarray(cv2.resize(pixels, (width, height), interpolation=cv2.INTER_AREA), np.uint8)
    return encode(pixels, suffix, 92)


def small_size(width: int, height: int) -> tuple[int, int]:
    share = PREVIEW[0] / max(width, height)
    return max(2, round(width * share)), max(2, round(height * share))


def preview(painting: Painting, width: int, height: int, seconds: float) -> bytes:
    """A small loop of pictures as animated WebP."""
    _, rate, most = PREVIEW
    size = small_size(width, height)
    frames = [paint(painting, *size, number / rate) for number in range(min(most, round(seconds * rate)))]
    return encode_loop(frames, 1000 // rate)


def film(
    painting: Painting, width: int, height: int, seconds: float, path: Path, tell: Callable[[float], None]
) -> None:
    """Footage of a painting, without sound."""
    reformatter, count = VideoReformatter(), round(seconds * FRAMES)
    with av.open(str(path), "w", format="mp4", options={"movflags": "+faststart"}) as out:
        video: Any = out.add_stream("libx264", rate=FRAMES, options={"preset": "veryfast", "crf": "19"})
        video.width, video.height, video.pix_fmt = width, height, "yuv420p"
        context = video.codec_context
        context.colorspace, context.color_primaries, context.color_trc, context.color_range = 1, 1, 1, 1
        context.time_base = Fraction(1, FRAMES)
        for number in range(count):
            pixels = paint(painting, width, height, number / FRAMES)
            frame = convert(reformatter, av.VideoFrame.from_numpy_buffer(pixels, format="bgra"), "yuv420p")
            frame.pts, frame.time_base = number, context.time_base
            out.mux(video.encode(frame))
            tell((number + 1) / count)
        out.mux(video.encode(None))


def sound(samples: Sound, path: Path, bits: int = 160_000) -> None:
    """Samples as AAC in an MP4 file."""
    with av.open(str(path), "w", format="ipod") as out:
        stream: Any = out.add_stream("aac", rate=RATE, layout="stereo")
        stream.bit_rate = bits
        sing(out, stream, samples)


def sing(out: Any, stream: Any, samples: Sound) -> None:
    """Encodes samples into a stream of an open file, to the end."""
    for at in range(0, len(samples), 1024):
        block = np.ascontiguousarray(samples[at : at + 1024].T)
        frame = av.AudioFrame.from_ndarray(block, format="fltp", layout="stereo")
        frame.sample_rate, frame.pts, frame.time_base = RATE, at, Fraction(1, RATE)
        out.mux(stream.encode(frame))
    out.mux(stream.encode(None))
