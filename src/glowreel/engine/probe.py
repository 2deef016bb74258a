"""What a file really is: sniffed and opened, never trusted by its name."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
from PIL import Image, ImageOps, UnidentifiedImageError

from glowreel.core.errors import BadMedia
from glowreel.core.media import HeardAs, MediaKind, Transfer
from glowreel.core.subject import Subject
from glowreel.core.time import TICKS_PER_SECOND, Rate
from glowreel.engine import limits
from glowreel.engine.cube import is_cube, read_cube
from glowreel.engine.fontfile import is_font, read_font
from glowreel.engine.photo import Animation
from glowreel.engine.reading import first_picture, has_alpha, open_media
from glowreel.engine.svg import is_svg, measure_svg

PHOTO_FORMATS = {"JPEG", "MPO", "PNG", "WEBP", "GIF", "BMP", "TIFF", "HEIF", "AVIF"}
TRANSFERS: dict[int, Transfer] = {16: "pq", 18: "hlg"}
"""Transfer characteristics of high dynamic range (ITU-T H.273, table 3)."""


@dataclass(frozen=True)
class Facts:
    """What was measured. `width` and `height` are as shown: turned upright, with square pixels. `length` in ticks."""

    kind: MediaKind
    length: int = 0
    width: int = 0
    height: int = 0
    rate: Rate | None = None
    sounding: bool = False
    alpha: bool = False
    animated: bool = False
    drawn: bool = False
    transfer: Transfer = ""
    family: str = ""
    weight: int = 0
    italic: bool = False
    subject: Subject | None = None
    heard: HeardAs = ""
    speech: tuple[tuple[int, int], ...] | None = None


def probe(path: Path, name: str) -> Facts:
    """Facts about a file, or `BadMedia` with a sentence that names it."""
    size = path.stat().st_size
    if size == 0:
        raise BadMedia("empty", f"{name} is empty.", "Choose it again from where it was made.")
    if size > limits.MAX_BYTES:
        raise BadMedia("too-large", f"{name} is larger than 2 GB.", "Export a smaller copy first.")
    if is_svg(path):
        width, height = measure_svg(path)
        scale = limits.SVG_SIDE / max(width, height)
        wide, high = max(1, round(width * scale)), max(1, round(height * scale))
        return Facts("photo", width=wide, height=high, alpha=True, drawn=True)
    if is_cube(path):
        read_cube(path, name)
        return Facts("look")
    if is_font(path):
        face = read_font(path, name)
        return Facts("font", family=face.family, weight=face.weight, italic=face.italic)
    picture = _probe_picture(path, name)
    return picture if picture is not None else _probe_av(path, name)


def _probe_picture(path: Path, name: str) -> Facts | None:
    try:
        with Image.open(path) as image:
            if image.format not in PHOTO_FORMATS:
                return None
            width, height = image.size
            if width * height > limits.MAX_PIXELS or max(width, height) > limits.MAX_SIDE:
                raise BadMedia("too-large", f"{name} is {width} × {height} pixels, more than can be used.")
            animated = getattr(image, "n_frames", 1) > 1 and image.format in ("GIF", "WEBP", "PNG")
            alpha = image.mode in ("RGBA", "LA", "PA") or "transparency" in image.info
            if not animated:
                upright = ImageOps.exif_transpose(image)
                upright.load()
                width, height = upright.size
    except Image.DecompressionBombError as error:
        raise BadMedia("too-large", f"{name} has more pixels than can be used.") from error
    except BadMedia:
        raise
    except UnidentifiedImageError:
        return None
    except (OSError, ValueError, SyntaxError, EOFError) as error:
        raise BadMedia("broken", f"{name} is a picture, but it is damaged.", "Save it again and retry.") from error
    if animated:
        animation = Animation(path)
        length = animation.length
        animation.close()
        return Facts("footage", length=length, width=width, height=height, alpha=True, animated=True)
    return Facts("photo", width=width, height=height, alpha=alpha)


def _probe_av(path: Path, name: str) -> Facts:
    try:
        with open_media(path) as container:
            return _facts_of(container, name)
    except BadMedia:
        raise
    except (av.error.FFmpegError, OSError, ValueError, UnicodeDecodeError) as error:
        raise BadMedia(
            "unknown", f"{name} is not footage, a picture or sound that can be read.", "Try MP4, JPEG, PNG, WAV or MP3."
        ) from error


def _facts_of(container: Any, name: str) -> Facts:
    if len(container.streams) > limits.MAX_STREAMS:
        raise BadMedia("too-many", f"{name} holds more than {limits.MAX_STREAMS} streams.")
    videos = [s for s in container.streams.video if not _is_cover(s)]
    rates = [s.codec_context.sample_rate for s in container.streams.audio if s.codec_context is not None]
    if any(rate > limits.MAX_SAMPLE_RATE for rate in rates):
        raise BadMedia("too-fast", f"{name} has more samples a second than can be used.")
    sounding = any(rates)
    if not videos and not sounding:
        raise BadMedia("nothing", f"{name} holds neither picture nor sound that can be read.")
    if not videos:
        seconds = _seconds(container, container.streams.audio[0])
        _check_length(seconds, name)
        return Facts("sound", length=round(seconds * TICKS_PER_SECOND), sounding=True)
    stream = videos[0]
    first = first_picture(container, stream, name)
    if max(first.width, first.height) > limits.MAX_VIDEO_SIDE:
        raise BadMedia("too-large", f"{name} is {first.width} × {first.height}, more than can be used.")
    aspect = stream.sample_aspect_ratio or Fraction(1)
    width, height = max(2, round(first.width * aspect)), first.height
    if (getattr(first, "rotation", 0) or 0) % 180:
        width, height = height, width
    if max(width, height) > limits.MAX_SIDE:
        raise BadMedia("too-large", f"{name} has pixels too stretched to be used.")
    seconds = _seconds(container, stream)
    _check_length(seconds, name)
    rate = stream.average_rate or stream.guessed_rate
    usable = rate is not None and 1 <= rate <= 240 and rate.denominator <= 1001
    return Facts(
        "footage",
        length=round(seconds * TICKS_PER_SECOND),
        width=width,
        height=height,
        rate=Rate(num=rate.numerator, den=rate.denominator) if rate is not None and usable else None,
        sounding=sounding,
        alpha=has_alpha(first.format.name),
        transfer=TRANSFERS.get(int(getattr(first, "color_trc", 0) or 0), ""),
    )


def _is_cover(stream: Any) -> bool:
    return bool(int(stream.disposition) & 0x400) if hasattr(stream, "disposition") else False


def _seconds(container: Any, stream: Any) -> Fraction:
    if stream.duration and stream.time_base:
        return Fraction(stream.duration) * stream.time_base
    return Fraction(container.duration or 0, 1_000_000)


def _check_length(seconds: Fraction, name: str) -> None:
    if seconds > limits.MAX_SECONDS:
        raise BadMedia("too-long", f"{name} is longer than two hours.", "Cut it into parts first.")
