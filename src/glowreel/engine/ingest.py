"""What is made from a file when it comes in: poster, film strip, sound copy, peaks and the stand-in for previews."""

from __future__ import annotations

from collections.abc import Callable
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
from glowreel.engine.footage import TURNS, Footage, Pixels, plane_pixels
from glowreel.engine.limits import MAX_SECONDS, PROXY_SIDE
from glowreel.engine.photo import Animation, load_photo
from glowreel.engine.probe import Facts
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


def make_poster(path: Path, facts: Facts, out: Path) -> None:
    """A JPEG of at most 320 pixels: the photo, or footage a third of the way in, where something is usually seen."""
    if facts.kind == "photo":
        pixels = load_photo(path, 1024)
    elif facts.animated:
        animation = Animation(path)
        pixels = animation.frame(facts.length // 3).copy()
        animation.close()
    else:
        footage = Footage(path)
        frame = footage.frame(facts.length // 3)
        pixels = footage.bgra(frame, facts.width, facts.height).copy()
        footage.close()
    scale = POSTER_SIDE / max(facts.width, facts.height)
    small = shrunk(flattened(pixels), round(facts.width * scale), round(facts.height * scale))
    out.write_bytes(encode(small, ".jpg", 85))


def make_proxy(path: Path, facts: Facts, out: Path, strip_out: Path, progress: Progress) -> tuple[Facts, Strip]:
    """The stand-in (short side 540, key frames close together, upright, square pixels) and the film strip, in one pass.

    Answers with the facts put right by what was seen: the true length, and no rate where frames are uneven.
    """
    footage = Footage(path)
    first = footage.frame(0)
    turn = footage.turned
    scale = min(1.0, PROXY_SIDE / min(facts.width, facts.height))
    width, height = (max(2, round(side * scale / 2) * 2) for side in (facts.width, facts.height))
    step = max(TICKS_PER_SECOND // 2, -(-facts.length // STRIP_TILES))
    tile_width = max(8, round(STRIP_HEIGHT * facts.width / facts.height))
    tiles: list[Pixels] = []
    times: list[Fraction] = []
    reformatter = VideoReformatter()
    base = first.time_base
    with av.open(str(path)) as source, av.open(str(out), "w", format="mp4") as target:
        stream = source.streams.video[0]
        stream.thread_type = "AUTO"
        video: Any = target.add_stream(
            "libx264", rate=30, options={"preset": "ultrafast", "crf": "21", "tune": "fastdecode"}
        )
        video.width, video.height, video.pix_fmt = width, height, "yuv420p"
        context = video.codec_context
        context.time_base, context.gop_size, context.max_b_frames = Fraction(1, 90_000), 10, 0
        context.colorspace, context.color_primaries, context.color_trc, context.color_range = 1, 1, 1, 1
        zero = stream.start_time or 0
        for frame in _decoded(source, stream):
            at = (frame.pts - zero) * base
            if times and at <= times[-1]:
                continue
            if at > MAX_SECONDS:
                raise BadMedia("too-long", "The footage is longer than two hours.", "Cut it into parts first.")
            times.append(at)
            small = _upright(reformatter, frame, turn, width, height)
            small.pts, small.time_base, small.pict_type = round(at * 90_000), context.time_base, 0
            target.mux(video.encode(small))
            if at * TICKS_PER_SECOND >= len(tiles) * step and len(tiles) < 4 * STRIP_TILES:
                bgra = convert(reformatter, small, "bgra")
                tiles.append(shrunk(plane_pixels(bgra), tile_width, STRIP_HEIGHT))
            if facts.length:
                progress(min(1.0, float(at * TICKS_PER_SECOND / facts.length)))
        target.mux(video.encode(None))
    footage.close()
    if not tiles:
        raise BadMedia("broken", "The footage has no picture that can be decoded.")
    strip_out.write_bytes(encode(np.ascontiguousarray(np.hstack(tiles)), ".jpg", 80))
    return _put_right(facts, times), Strip(len(tiles), step)


def _decoded(container: Any, stream: Any) -> Any:
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
    with av.open(str(path)) as container, out.open("wb") as file:
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
        written = 0
        seconds = float(Fraction(container.duration or 0, 1_000_000)) or 1.0
        for frame in _decoded(container, stream):
            if written == 0:
                lead = round((frame.pts * frame.time_base - zero) * SAMPLE_RATE)
                skip = max(0, -lead)
                if lead > 0:
                    file.write(bytes(4 * min(lead, SAMPLE_RATE * 60)))
                    written += lead
            for block in resampler.resample(frame):
                written, skip = _write_block(file, block, channels, written, skip)
            if written > MAX_SECONDS * SAMPLE_RATE:
                raise BadMedia("too-long", "The sound is longer than two hours.", "Cut it into parts first.")
            progress(min(1.0, written / SAMPLE_RATE / seconds))
        for block in resampler.resample(None):
            written, skip = _write_block(file, block, channels, written, skip)


def _write_block(file: Any, block: Any, channels: int, written: int, skip: int) -> tuple[int, int]:
    samples = np.repeat(block.to_ndarray().reshape(-1, channels), 3 - channels, axis=1)
    dropped = min(skip, len(samples))
    samples[dropped:].tofile(file)
    return written + len(samples) - dropped, skip - dropped


def make_peaks(samples: Path, out: Path) -> None:
    """Loudest excursion in each hundredth of a second, one byte each, 255 for full scale."""
    stored = np.fromfile(samples, np.int16)
    step = 2 * SAMPLE_RATE // PEAKS_PER_SECOND
    padded = np.pad(stored, (0, -len(stored) % step)).reshape(-1, step)
    loudest = np.abs(padded.astype(np.int32)).max(axis=1) if len(padded) else np.zeros(0, np.int32)
    out.write_bytes((loudest * 255 // 32768).astype(np.uint8).tobytes())
