"""Reading footage: the frame on show at a time, whatever the file's rate, rotation or pixel shape."""

from __future__ import annotations

from collections import deque
from contextlib import suppress
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import cv2
import numpy as np
import numpy.typing as npt
from av.video.reformatter import Interpolation, VideoReformatter

from glowreel.core.errors import BadMedia
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.engine.colour import convert
from glowreel.engine.reading import Pictures, open_media

Pixels = npt.NDArray[np.uint8]

TOLERANCE = Fraction(2, 1000)
"""Containers round frame times, some to whole milliseconds; a frame this much too late still counts as on time."""

BEHIND_BYTES = 128 * 1024**2
MAX_BEHIND = 240
DECODER_FRAMES = 6
"""How much is kept of decoded frames while going backwards: the more, the fewer runs through the same pictures."""

NEARLY = 0.8
"""Scaling by less than to this share takes ten times as long as converting the frame as it is."""

TURNS = {90: cv2.ROTATE_90_COUNTERCLOCKWISE, 180: cv2.ROTATE_180, 270: cv2.ROTATE_90_CLOCKWISE}


class Footage:
    """An open file. `at` is in ticks from its first frame; frames are held past either end.

    Going forwards decodes on; going back or far ahead seeks to the key frame before. Whoever goes back frame by frame
    is given the last few from memory, so that not every one costs a seek. Not for several threads at once.
    """

    def __init__(self, path: Path, threads: int = 0) -> None:
        self.path = path
        self._threads = threads
        self._open()
        base = self._stream.time_base
        if base is None:
            raise BadMedia("unreadable", f"{path.name} does not say how its time is counted.")
        self._base: Fraction = base
        self._zero = self._stream.start_time or 0
        self._frames: Any = None
        # Each with its time apart: whoever is given a frame may put another time on it.
        self._now: tuple[int, Any] | None = None
        self._next: tuple[int, Any] | None = None
        size = max(1, self._stream.width * self._stream.height * 3 // 2)
        if self._stream.codec_context.pix_fmt and "10" in self._stream.codec_context.pix_fmt:
            size *= 2
        self._frame_bytes = size
        self._behind: deque[tuple[int, Any]] = deque(maxlen=max(8, min(MAX_BEHIND, BEHIND_BYTES // size)))
        rate = self._stream.average_rate or self._stream.guessed_rate or Fraction(30)
        self._interval = Fraction(1) / rate if rate else Fraction(1, 30)
        self._reformatter = VideoReformatter()

    def _open(self) -> None:
        try:
            self._container = open_media(self.path)
            self._stream = self._container.streams.video[0]
        except (av.error.FFmpegError, IndexError, OSError) as error:
            raise BadMedia("unreadable", f"{self.path.name} cannot be read as footage.") from error
        self._pictures = Pictures(self._container, self._stream, self._threads)

    def close(self) -> None:
        self._container.close()

    def __enter__(self) -> Footage:
        return self

    def __exit__(self, *_: object) -> None:
        self.close()

    @property
    def nbytes(self) -> int:
        """Memory of the frames that are held: those kept for going backwards, and about as many as a decoder needs."""
        return self._frame_bytes * (len(self._behind) + DECODER_FRAMES)

    @property
    def clear(self) -> bool:
        """Whether pictures may be see-through: `bgra` is premultiplied then, and opaque otherwise."""
        return self._pictures.clear

    @property
    def turned(self) -> int:
        """Degrees, counter-clockwise, by which frames must be turned to be upright."""
        return int(getattr(self._now[1], "rotation", 0) or 0) % 360 if self._now is not None else 0

    def frame(self, at: int) -> Any:
        """The decoded frame on show at `at` ticks, as it is stored: not turned, in its own colours."""
        wanted = Fraction(at, TICKS_PER_SECOND) / self._base + self._zero
        limit = wanted + TOLERANCE / self._base
        if self._behind:
            if self._behind[0][0] <= limit < self._behind[-1][0]:
                return next(frame for pts, frame in reversed(self._behind) if pts <= limit)
            if limit >= self._behind[-1][0] + self._interval / self._base:
                self._behind.clear()
        if not self._near(wanted, limit):
            shown = self._behind[0] if self._behind else self._now
            backwards = shown is not None and 0 < (shown[0] - wanted) * self._base < 60 * self._interval
            self._seek(int(wanted))
            self._behind.clear()
            if backwards and self._now is not None:
                self._behind.append(self._now)
        while self._next is not None and self._next[0] <= limit:
            self._step()
            if self._behind and self._now is not None:
                self._behind.append(self._now)
        if self._now is None:
            raise BadMedia("broken", f"{self.path.name} is footage without a single picture that can be decoded.")
        return self._now[1]

    def _near(self, wanted: Fraction, limit: Fraction) -> bool:
        """Whether the frame is here, or so little ahead that decoding on is surely cheaper than seeking."""
        if self._now is None or limit < self._now[0]:
            return False
        if (wanted - self._now[0]) * self._base >= 40 * self._interval:
            return False
        # A key frame on the way is a shorter way; seeking to it costs about as much as two frames.
        known = self._stream.index_entries
        key = known.search_timestamp(int(wanted), backward=True)
        return key < 0 or (known[key].timestamp - self._now[0]) * self._base <= 2 * self._interval

    def _seek(self, pts: int) -> None:
        self._container.seek(max(pts, self._zero), stream=self._stream, backward=True, any_frame=False)
        self._frames = iter(self._pictures)
        self._now = self._next = None
        self._step()
        if self._now is None and self._next is None:
            # Some files cannot seek near their end, and damaged ones not at all: start over and decode through.
            self._container.close()
            self._open()
            self._frames = iter(self._pictures)
            self._step()
        if self._now is None:
            self._step()

    def _step(self) -> None:
        self._now, self._next = self._next if self._next is not None else self._now, None
        with suppress(StopIteration, av.error.FFmpegError):
            frame = next(self._frames)
            self._next = (frame.pts, frame)

    def bgra(self, frame: Any, width: int, height: int) -> Pixels:
        """A decoded frame as upright BGRA of at most native size: scaled down while it is converted, unless it would
        hardly be smaller: then drawing does that, of what is seen of it."""
        turn = self.turned
        if turn in (90, 270):
            width, height = height, width
        down = 2 if self._pictures.stacked else 1
        width = max(1, min(width, frame.width))
        height = max(1, min(height, frame.height // down)) * down
        if down == 1 and width >= NEARLY * frame.width and height >= NEARLY * frame.height:
            width, height = frame.width, frame.height
        scaled = (width, height) != (frame.width, frame.height)
        how = Interpolation.AREA if scaled else Interpolation.POINT
        pixels = plane_pixels(convert(self._reformatter, frame, "bgra", width, height, how))
        if down == 2:
            pixels = unstacked(pixels)
        elif self.clear:
            pixels = premultiply(pixels)
        return np.asarray(cv2.rotate(pixels, TURNS[turn])) if turn in TURNS else pixels


def stacked(pixels: Pixels) -> Pixels:
    """Premultiplied BGRA as an opaque picture twice as high: colours above, transparency as grey below."""
    opaque = np.full((2 * pixels.shape[0], pixels.shape[1], 4), 255, np.uint8)
    opaque[: pixels.shape[0], :, :3] = pixels[:, :, :3]
    opaque[pixels.shape[0] :, :, :3] = pixels[:, :, 3:4]
    return opaque


def unstacked(pixels: Pixels) -> Pixels:
    """What `stacked` made, as it was; no colour is left brighter than its transparency allows."""
    half = pixels.shape[0] // 2
    made: Pixels = pixels[:half].copy()
    made[:, :, 3] = pixels[half : 2 * half, :, 1]
    np.minimum(made[:, :, :3], made[:, :, 3:4], out=made[:, :, :3])
    return made


def premultiply(pixels: Pixels) -> Pixels:
    """Plain BGRA with its colours multiplied by its transparency."""
    alpha = pixels[:, :, 3]
    if int(alpha.min()) == 255:
        return pixels
    made: Pixels = np.empty_like(pixels)
    for channel in range(3):
        made[:, :, channel] = cv2.multiply(pixels[:, :, channel], alpha, scale=1 / 255)
    made[:, :, 3] = alpha
    return made


def plane_pixels(frame: Any) -> Pixels:
    """The pixels of a BGRA frame, without a copy; they keep the frame alive."""
    plane = frame.planes[0]
    rows = np.frombuffer(plane, np.uint8).reshape(plane.height, plane.line_size // 4, 4)
    return rows[:, : plane.width]
