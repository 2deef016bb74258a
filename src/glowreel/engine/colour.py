"""Colours: what a frame was made with, and converting it to the one way they are held here (BT.709)."""

from __future__ import annotations

from typing import Any

import av
from av.video.reformatter import ColorRange, Colorspace, Interpolation, VideoReformatter

from glowreel.engine.hdr import toned, wide
from glowreel.engine.reading import has_alpha

BT709 = int(Colorspace.ITU709)
_NAMED = {
    1: Colorspace.ITU709,
    4: Colorspace.FCC,
    5: Colorspace.ITU601,
    6: Colorspace.ITU601,
    7: Colorspace.SMPTE240M,
    9: Colorspace.BT2020,
    10: Colorspace.BT2020,
}


RGB_FORMATS = ("rgb", "bgr", "argb", "abgr", "gbr", "pal8")
"""How the names of pixel formats begin that hold red, green and blue, in full range."""


def matrix_of(frame: Any) -> int:
    """The YCbCr matrix a frame was made with; where it is not said, HD is taken for BT.709 and less for BT.601."""
    unsaid = Colorspace.ITU709 if frame.height >= 720 else Colorspace.ITU601
    return int(_NAMED.get(int(frame.colorspace), unsaid))


def is_full_range(frame: Any) -> bool:
    return int(frame.color_range) == 2 or frame.format.name.startswith(("yuvj", *RGB_FORMATS))


def convert(
    reformatter: VideoReformatter,
    frame: Any,
    form: str,
    width: int | None = None,
    height: int | None = None,
    how: Interpolation = Interpolation.POINT,
    threads: int = 1,
) -> Any:
    """A frame in another pixel format and size: `bgra` in full range, `yuv420p` in BT.709 limited range.

    Without scaling, POINT is exact for luma and several times faster than the other kinds.
    """
    if wide(frame) and not has_alpha(frame.format.name):
        return _toned(reformatter, frame, form, width, height, how, threads)
    rgb_in = frame.format.name.startswith(RGB_FORMATS)
    return reformatter.reformat(
        frame,
        width=width,
        height=height,
        format=form,
        src_colorspace=BT709 if rgb_in else matrix_of(frame),
        dst_colorspace=BT709,
        src_color_range=int(ColorRange.JPEG if is_full_range(frame) else ColorRange.MPEG),
        dst_color_range=int(ColorRange.JPEG if form == "bgra" else ColorRange.MPEG),
        interpolation=int(how),
        threads=threads,
    )


def _toned(
    reformatter: VideoReformatter, frame: Any, form: str, width: int | None, height: int | None, how: Interpolation,
    threads: int,
) -> Any:  # fmt: skip
    """The same for what has more brightness or other colours than BT.709."""
    deep = reformatter.reformat(
        frame, width=width, height=height, format="rgb48le", src_colorspace=matrix_of(frame), dst_colorspace=BT709,
        src_color_range=int(ColorRange.JPEG if is_full_range(frame) else ColorRange.MPEG),
        dst_color_range=int(ColorRange.JPEG), interpolation=int(how), threads=threads,
    )  # fmt: skip
    stored: Any = deep.to_ndarray(format="rgb48le")
    pixels = toned(stored, int(frame.color_trc), int(frame.color_primaries))
    made = av.VideoFrame.from_ndarray(pixels, format="bgra")
    made.pts, made.time_base = frame.pts, frame.time_base
    return made if form == "bgra" else convert(reformatter, made, form, threads=threads)
