"""Frames between the frames of footage, for slow motion: made by following what moves (optical flow by dense inverse
search; Kroeger, Timofte, Dai and Van Gool, 2016), once, in a file with four times as many frames.

A frame between two is both of them, each moved its part of the way, mixed by how near it is to each. Where too much
differs to be followed, as at a cut, the nearer one is shown.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import cv2
import numpy as np
import numpy.typing as npt

from glowreel.core.errors import BadMedia
from glowreel.engine.footage import TURNS, Pixels, plane_pixels
from glowreel.engine.reading import Pictures, open_media

TIMES = 4
"""How many frames there are for each one of the source."""
TALLEST = 1080
WORKING = 360
"""The short side of what is made, and of the pictures in which movement is looked for."""
LOST = 28.0
"""The mean difference of grey, of 255, between what was moved and what should be there, above which it is a cut."""
CLOCK = Fraction(1, 90_000)


def moved(pixels: Pixels, flow: npt.NDArray[np.float32], share: float) -> Pixels:
    """A picture moved along a flow (pixels, for all of the way) by a share of it."""
    high, wide = pixels.shape[:2]
    y, x = np.mgrid[0:high, 0:wide].astype(np.float32)
    return np.asarray(cv2.remap(pixels, x - share * flow[:, :, 0], y - share * flow[:, :, 1], cv2.INTER_LINEAR,
                                borderMode=cv2.BORDER_REPLICATE))  # fmt: skip


class Between:
    """Makes the pictures between two, BGR of the same size."""

    def __init__(self) -> None:
        self._flow = cv2.DISOpticalFlow.create(cv2.DISOPTICAL_FLOW_PRESET_FAST)

    def _way(self, first: Pixels, second: Pixels) -> npt.NDArray[np.float32]:
        made: npt.NDArray[np.float32] = np.asarray(self._flow.calc(first, second, None))
        return made

    def pictures(self, first: Pixels, second: Pixels, shares: tuple[float, ...]) -> list[Pixels]:
        high, wide = first.shape[:2]
        scale = min(1.0, WORKING / max(1, min(high, wide)))
        size = (max(16, round(wide * scale)), max(16, round(high * scale)))
        small = [cv2.cvtColor(cv2.resize(p, size, interpolation=cv2.INTER_AREA), cv2.COLOR_BGR2GRAY)
                 for p in (first, second)]  # fmt: skip
        there, back = self._way(small[0], small[1]), self._way(small[1], small[0])
        arrived = moved(small[0], there, 1.0)
        if float(np.abs(arrived.astype(np.float32) - small[1]).mean()) > LOST:
            return [first if share < 0.5 else second for share in shares]
        grow = np.array([wide / size[0], high / size[1]], np.float32)
        flows = [np.asarray(cv2.resize(flow, (wide, high), interpolation=cv2.INTER_LINEAR)) * grow
                 for flow in (there, back)]  # fmt: skip
        return [
            np.asarray(cv2.addWeighted(
                moved(first, flows[0], share), 1 - share, moved(second, flows[1], 1 - share), share, 0
            ))
            for share in shares
        ]  # fmt: skip


def _upright(original: Path) -> Iterator[tuple[Fraction, Pixels, float]]:
    """Every frame of footage, upright, with its time from the first one and how far it is, in shares."""
    with open_media(original) as source:
        stream = source.streams.video[0]
        length = float((stream.duration or 0) * (stream.time_base or 0)) or float(source.duration or 0) / 1_000_000
        begin: Fraction | None = None
        for frame in Pictures(source, stream, 0):
            turn = int(getattr(frame, "rotation", 0) or 0) % 360
            scale = min(1.0, TALLEST / max(1, min(frame.width, frame.height)))
            size = (max(2, round(frame.width * scale / 2) * 2), max(2, round(frame.height * scale / 2) * 2))
            pixels = plane_pixels(frame.reformat(*size, "bgra"))
            if turn in TURNS:
                pixels = np.asarray(cv2.rotate(pixels, TURNS[turn]))
            at = Fraction(frame.pts) * (frame.time_base or stream.time_base or CLOCK)
            begin = at if begin is None else begin
            yield (
                at - begin,
                np.asarray(cv2.cvtColor(pixels, cv2.COLOR_BGRA2BGR)),
                float(at - begin) / length if length else 0.5,
            )


def make_between(original: Path, out: Path, tell: Callable[[float], None]) -> dict[str, Any]:
    """Makes a film of footage with four times as many frames, at the times of its own. Answers with how many."""
    between, shares = Between(), tuple(n / TIMES for n in range(1, TIMES))
    count, last = 0, -1
    with av.open(str(out), "w", format="mp4") as target:
        stream: Any = None

        def put(pixels: Pixels, at: Fraction) -> None:
            nonlocal stream, count, last
            if stream is None:
                stream = target.add_stream("libx264", options={"preset": "veryfast", "crf": "15", "bf": "0"})
                stream.width, stream.height, stream.pix_fmt = pixels.shape[1], pixels.shape[0], "yuv420p"
                stream.codec_context.time_base, stream.codec_context.gop_size = CLOCK, 16
                context = stream.codec_context
                context.colorspace, context.color_primaries, context.color_trc, context.color_range = 1, 1, 1, 1
            frame = av.VideoFrame.from_ndarray(pixels, format="bgr24")
            frame = frame.reformat(format="yuv420p", dst_colorspace=1, dst_color_range=1)
            frame.pts, frame.time_base = max(last + 1, round(at / CLOCK)), CLOCK
            last, count = int(frame.pts), count + 1
            target.mux(stream.encode(frame))

        before: tuple[Fraction, Pixels] | None = None
        for at, pixels, share in _upright(original):
            if before is not None and before[1].shape == pixels.shape:
                made = between.pictures(before[1], pixels, shares)
                for part, picture in zip(shares, made, strict=True):
                    put(picture, before[0] + (at - before[0]) * Fraction(part))
            put(pixels, at)
            before = (at, pixels)
            tell(min(1.0, share))
        if stream is None:
            raise BadMedia("broken", f"{original.name} has no picture that can be decoded.")
        target.mux(stream.encode(None))
    return {"frames": count}
