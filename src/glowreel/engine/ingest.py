"""What is made from a file when it comes in: poster, film strip, sound copy, peaks and the stand-in for previews."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import closing
from dataclasses import dataclass, replace
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import cv2
import numpy as np
from av.video.reformatter import Interpolation, VideoReformatter

from glowreel.core.errors import BadMedia
from glowreel.core.time import SAMPLE_RATE, TICKS_PER_SAMPLE, TICKS_PER_SECOND
from glowreel.engine.colour import convert
from glowreel.engine.footage import TURNS, Footage, Pixels, plane_pixels, premultiply, stacked, unstacked
from glowreel.engine.limits import MAX_SECONDS, PROXY_SIDE
from glowreel.engine.photo import Animation
from glowreel.engine.probe import Facts
from glowreel.engine.reading import STACKED, Pictures, open_media
from glowreel.engine.still import encode

POSTER_SIDE = 320
STRIP_HEIGHT = 54
STRIP_TILES = 60
PEAKS_PER_SECOND = 100

Progress = Callable[[float], None]
"""Told the share that is done, 0 to 1; may raise to stop the work."""


@dataclass(frozen=True)
class Strip:
    """A film strip: `tiles` pictures side by side, one every `step` ticks of the source."""

    tiles: int
    step: int


def flattened(pixels: Pixels) -> Pixels:
    """Transparent pictures on paper, or on dusk where they are bright themselves, for small pictures of them."""
    alpha = pixels[:, :, 3:4].astype(np.float32) / 255
    seen = float(alpha.sum()) or 1.0
    bright = float(pixels[:, :, :3].mean(axis=2).sum()) / seen > 150
    ground = np.array([74, 42, 44] if bright else [227, 236, 241], np.float32)
    flat = pixels[:, :, :3].astype(np.float32) + ground * (1 - alpha)
    return np.dstack([np.clip(flat, 0, 255).astype(np.uint8), np.full(pixels.shape[:2], 255, np.uint8)])


def shrunk(pixels: Pixels, width: int, height: int) -> Pixels:
    small: Any = cv2.resize(pixels, (max(1, width), max(1, height)), interpolation=cv2.INTER_AREA)
    return small


def make_poster(pixels: Pixels, out: Path) -> None:
    """A JPEG of at most 320 pixels."""
    high, wide = pixels.shape[:2]
    scale = min(1.0, POSTER_SIDE / max(high, wide))
    out.write_bytes(encode(flattened(shrunk(pixels, round(wide * scale), round(high * scale))), ".jpg", 85))


class _StandIn:
    """A stand-in while it is written: H.264, short side 540, key frames close together, upright, square pixels.

    What may be see-through is twice as high, with its transparency below.
    """

    def __init__(self, target: Any, width: int, height: int, clear: bool) -> None:
        self.size = (width, height)
        self._clear = clear
        self._target = target
        options = {"preset": "ultrafast", "crf": "21", "tune": "fastdecode"}
        self._stream: Any = target.add_stream("libx264", rate=30, options=options)
        self._stream.width, self._stream.height = width, height * (2 if clear else 1)
        self._stream.pix_fmt = "yuv420p"
        context = self._stream.codec_context
        context.time_base, context.gop_size, context.max_b_frames = Fraction(1, 90_000), 10, 0
        context.colorspace, context.color_primaries, context.color_trc, context.color_range = 1, 1, 1, 1
        self._time_base = context.time_base
        self._reformatter = VideoReformatter()

    def put(self, frame: Any, turn: int, at: Fraction) -> Any:
        """Adds a decoded frame at a time in seconds; answers with the small one."""
        small = self._cleared(frame, turn) if self._clear else _upright(self._reformatter, frame, turn, *self.size)
        return self._mux(small, at)

    def put_pixels(self, pixels: Pixels, at: Fraction) -> Any:
        """Adds premultiplied BGRA of this size."""
        drawn = av.VideoFrame.from_ndarray(np.ascontiguousarray(stacked(pixels)), format="bgra")
        return self._mux(convert(self._reformatter, drawn, "yuv420p"), at)

    def _cleared(self, frame: Any, turn: int) -> Any:
        width, height = self.size
        across, down = (height, width) if turn in (90, 270) else (width, height)
        pixels = premultiply(plane_pixels(convert(self._reformatter, frame, "bgra", across, down, Interpolation.AREA)))
        if turn in TURNS:
            pixels = np.ascontiguousarray(cv2.rotate(pixels, TURNS[turn]))
        drawn = av.VideoFrame.from_ndarray(stacked(pixels), format="bgra")
        return convert(self._reformatter, drawn, "yuv420p")

    def _mux(self, small: Any, at: Fraction) -> Any:
        small.pts, small.time_base, small.pict_type = round(at * 90_000), self._time_base, 0
        self._target.mux(self._stream.encode(small))
        return small

    def pixels(self, small: Any) -> Pixels:
        """A frame that was put in, as BGRA."""
        pixels = plane_pixels(convert(self._reformatter, small, "bgra"))
        return unstacked(pixels) if self._clear else pixels

    def end(self) -> None:
        self._target.mux(self._stream.encode(None))


class _FilmStrip:
    """Small pictures side by side, gathered on the way."""

    def __init__(self, facts: Facts) -> None:
        self.step = max(TICKS_PER_SECOND // 2, -(-facts.length // STRIP_TILES))
        self._width = max(8, min(400, round(STRIP_HEIGHT * facts.width / facts.height)))
        self._tiles: list[Pixels] = []

    def due(self, at: Fraction) -> bool:
        return at * TICKS_PER_SECOND >= len(self._tiles) * self.step and len(self._tiles) < 4 * STRIP_TILES

    def add(self, pixels: Pixels) -> None:
        self._tiles.append(flattened(shrunk(pixels, self._width, STRIP_HEIGHT)))

    def write(self, out: Path) -> Strip:
        if not self._tiles:
            raise BadMedia("broken", "The footage has no picture that can be decoded.")
        out.write_bytes(encode(np.ascontiguousarray(np.hstack(self._tiles)), ".jpg", 80))
        return Strip(len(self._tiles), self.step)


def stand_in_size(width: int, height: int) -> tuple[int, int]:
    """Even, and with a short side of at most 540."""
    scale = min(1.0, PROXY_SIDE / min(width, height))
    return max(2, round(width * scale / 2) * 2), max(2, round(height * scale / 2) * 2)


def make_proxy(path: Path, facts: Facts, out: Path, strip_out: Path, progress: Progress) -> tuple[Facts, Strip]:
    """The stand-in and the film strip of footage, in one pass.

    Answers with the facts put right by what was seen: the true length, and no rate where frames are uneven.
    """
    with Footage(path) as footage:
        base = footage.frame(0).time_base
        turn = footage.turned
    strip, times = _FilmStrip(facts), list[Fraction]()
    with open_media(path) as source, av.open(str(out), "w", format="mp4") as target:
        stream = source.streams.video[0]
        pictures = Pictures(source, stream)
        if pictures.clear:
            target.metadata["comment"] = STACKED
        stand_in = _StandIn(target, *stand_in_size(facts.width, facts.height), pictures.clear)
        zero = stream.start_time or 0
        for frame in pictures:
            at = (frame.pts - zero) * base
            if times and at <= times[-1]:
                continue
            if at > MAX_SECONDS:
                raise BadMedia("too-long", "The footage is longer than two hours.", "Cut it into parts first.")
            times.append(at)
            small = stand_in.put(frame, turn, at)
            if strip.due(at):
                strip.add(stand_in.pixels(small))
            if facts.length:
                progress(min(1.0, float(at * TICKS_PER_SECOND / facts.length)))
        stand_in.end()
    return _put_right(facts, times), strip.write(strip_out)


def make_animation_proxy(path: Path, facts: Facts, out: Path, strip_out: Path, progress: Progress) -> Strip:
    """The same for an animated picture, whose frames last as long as the picture says."""
    strip = _FilmStrip(facts)
    width, height = stand_in_size(facts.width, facts.height)
    with closing(Animation(path)) as animation, av.open(str(out), "w", format="mp4") as target:
        target.metadata["comment"] = STACKED
        stand_in = _StandIn(target, width, height, True)
        at = 0
        for end in animation.ends:
            seconds = Fraction(at, TICKS_PER_SECOND)
            pixels = shrunk(animation.frame(at), width, height)
            stand_in.put_pixels(pixels, seconds)
            if strip.due(seconds):
                strip.add(pixels)
            progress(end / animation.length)
            at = end
        # A last one, where it ends: a container does not say how long its last frame is shown.
        stand_in.put_pixels(pixels, Fraction(animation.length, TICKS_PER_SECOND) - Fraction(1, 1000))
        stand_in.end()
    return strip.write(strip_out)


def _upright(reformatter: VideoReformatter, frame: Any, turn: int, width: int, height: int) -> Any:
    """A frame as the stand-in stores it: small, upright, BT.709 limited range."""
    across, down = (height, width) if turn in (90, 270) else (width, height)
    if not turn:
        return convert(reformatter, frame, "yuv420p", across, down, Interpolation.BICUBIC)
    bgra = convert(reformatter, frame, "bgra", across, down, Interpolation.BICUBIC)
    pixels = np.ascontiguousarray(cv2.rotate(plane_pixels(bgra), TURNS[turn]))
    return convert(reformatter, av.VideoFrame.from_ndarray(pixels, format="bgra"), "yuv420p")


def _put_right(facts: Facts, times: list[Fraction]) -> Facts:
    """Length and evenness as seen. Uneven means that a frame is off its place by more than a third of a frame."""
    if len(times) < 2:
        return replace(facts, length=max(facts.length, TICKS_PER_SECOND // 30))
    step = (times[-1] - times[0]) / (len(times) - 1)
    length = round((times[-1] + step) * TICKS_PER_SECOND)
    if facts.rate is None:
        return replace(facts, length=length)
    even = all(abs(at * facts.rate.fraction - n) < Fraction(1, 3) for n, at in enumerate(times))
    if not even:
        return replace(facts, length=length, rate=None)
    return replace(facts, length=facts.rate.frame_start(len(times)))


def with_length(facts: Facts, samples: Path) -> Facts:
    """The facts of a sound with the length that was really decoded."""
    return replace(facts, length=samples.stat().st_size // 4 * TICKS_PER_SAMPLE)


def make_samples(path: Path, out: Path, progress: Progress = lambda share: None) -> None:
    """The sound copy: 16-bit stereo at 48 kHz, from the picture's first frame on.

    Sound that starts before the picture is cut, sound that starts after it is preceded by silence.
    """
    with open_media(path) as container, out.open("wb") as file:
        if not container.streams.audio:
            return
        stream = container.streams.audio[0]
        videos = container.streams.video
        base = stream.time_base or Fraction(1, SAMPLE_RATE)
        zero = (stream.start_time or 0) * base
        if videos and videos[0].start_time is not None and videos[0].time_base is not None:
            zero = videos[0].start_time * videos[0].time_base
        # One channel is kept as one and doubled: letting the resampler spread it would lose three decibels.
        channels = 1 if stream.codec_context.channels == 1 else 2
        layout = "mono" if channels == 1 else "stereo"
        resampler = av.AudioResampler(format="s16", layout=layout, rate=SAMPLE_RATE)
        seconds = float(Fraction(container.duration or 0, 1_000_000)) or 1.0
        track = _SoundTrack(file, channels)
        for frame in _blocks(container, stream):
            track.stand(frame.pts * frame.time_base - zero)
            for block in resampler.resample(frame):
                track.put(block)
            if track.written > MAX_SECONDS * SAMPLE_RATE:
                raise BadMedia("too-long", "The sound is longer than two hours.", "Cut it into parts first.")
            progress(min(1.0, track.written / SAMPLE_RATE / seconds))
        for block in resampler.resample(None):
            track.put(block)


class _SoundTrack:
    """Samples written where their times say: what is missing between them, such as what a busy machine did not record,
    is silence, and what overlaps is dropped, so that sound never drifts from the picture. Differences below `LATE` are
    how containers round."""

    LATE = SAMPLE_RATE // 40
    LONGEST = 600 * SAMPLE_RATE

    def __init__(self, file: Any, channels: int) -> None:
        self._file, self._channels = file, channels
        self.written = 0
        self._skip = 0
        self._begun = False

    def stand(self, at: Fraction) -> None:
        """Says at which second the next samples are due, before they are put."""
        late = round(at * SAMPLE_RATE) - self.written + self._skip
        if self._begun and abs(late) <= self.LATE:
            return
        self._begun = True
        self._skip = max(0, -late)
        silence = min(max(0, late), self.LONGEST)
        self._file.write(bytes(4 * silence))
        self.written += silence

    def put(self, block: Any) -> None:
        samples = np.repeat(block.to_ndarray().reshape(-1, self._channels), 3 - self._channels, axis=1)
        dropped = min(self._skip, len(samples))
        samples[dropped:].tofile(self._file)
        self.written += len(samples) - dropped
        self._skip -= dropped


def _blocks(container: Any, stream: Any) -> Iterator[Any]:
    """Decoded sound; what is damaged is passed over."""
    frames = container.decode(stream)
    while True:
        try:
            frame = next(frames)
        except (StopIteration, av.error.EOFError):
            return
        except av.error.InvalidDataError:
            continue
        if frame.pts is not None:
            yield frame


def make_peaks(samples: Path, out: Path, progress: Progress = lambda share: None) -> None:
    """Loudest excursion in each hundredth of a second, one byte each, 255 for full scale; a minute at a time."""
    step = 2 * SAMPLE_RATE // PEAKS_PER_SECOND
    size = samples.stat().st_size
    with samples.open("rb") as source, out.open("wb") as target:
        while len(stored := np.fromfile(source, np.int16, 60 * PEAKS_PER_SECOND * step)):
            padded = np.pad(stored, (0, -len(stored) % step)).reshape(-1, step)
            loudest = np.abs(padded.astype(np.int32)).max(axis=1)
            (loudest * 255 // 32768).astype(np.uint8).tofile(target)
            progress(source.tell() / size)


FINE_PER_SECOND, FINE_SECONDS = 2000, 4


def fine_peaks(samples: Path, tile: int) -> bytes:
    """Loudest excursion in each two-thousandth of a second, one byte each, 255 for full scale: of the four seconds of a
    sound copy that begin `tile` times four seconds in; less at its end, nothing beyond."""
    step = 2 * SAMPLE_RATE // FINE_PER_SECOND
    count = FINE_PER_SECOND * FINE_SECONDS * step
    with samples.open("rb") as source:
        source.seek(2 * count * min(tile, MAX_SECONDS))
        stored = np.fromfile(source, np.int16, count)
    padded = np.pad(stored, (0, -len(stored) % step)).reshape(-1, step)
    return (np.abs(padded.astype(np.int32)).max(axis=1) * 255 // 32768).astype(np.uint8).tobytes()
