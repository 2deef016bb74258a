"""Reading photos, drawings and animated pictures as premultiplied BGRA."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import skia
from PIL import Image, ImageOps

from glowreel.core.errors import BadMedia
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.engine.footage import Pixels
from glowreel.engine.limits import MAX_ANIMATION_FRAMES, MAX_PIXELS, MAX_SVG_BYTES, WORK_SIDE

Image.MAX_IMAGE_PIXELS = MAX_PIXELS


def is_svg(path: Path) -> bool:
    with path.open("rb") as file:
        head = file.read(1024).lstrip(b"\xef\xbb\xbf \t\r\n")
    return head.startswith(b"<svg") or (head.startswith((b"<?xml", b"<!--", b"<!DOCTYPE svg")) and b"<svg" in head)


def premultiplied(image: Image.Image) -> Pixels:
    """An image of any mode as premultiplied BGRA."""
    if image.mode in ("I;16", "I", "F"):
        values = np.asarray(image, np.float32)
        image = Image.fromarray((values / max(1.0, float(values.max())) * 255).astype(np.uint8))
    rgba = np.asarray(image.convert("RGBA"))
    bgra: Pixels = np.ascontiguousarray(rgba[:, :, [2, 1, 0, 3]])
    if int(bgra[:, :, 3].min()) < 255:
        alpha = bgra[:, :, 3:4].astype(np.uint16)
        bgra[:, :, :3] = (bgra[:, :, :3] * alpha + 127) // 255
    return bgra


def load_photo(path: Path, side: int = WORK_SIDE) -> Pixels:
    """A photo upright by its EXIF flag, no larger than `side`; an SVG drawn at half that. Raises `BadMedia`."""
    if is_svg(path):
        return _load_svg(path, side // 2)
    try:
        with Image.open(path) as image:
            image.draft("RGB", (side, side))
            upright = ImageOps.exif_transpose(image)
            upright.thumbnail((side, side), Image.Resampling.LANCZOS)
            return premultiplied(upright)
    except Image.DecompressionBombError as error:
        raise BadMedia("too-large", f"{path.name} has more than {MAX_PIXELS // 10**6} million pixels.") from error
    except (OSError, ValueError, SyntaxError) as error:
        raise BadMedia("unreadable", f"{path.name} is damaged or is not a picture.") from error


def svg_size(path: Path) -> tuple[float, float]:
    """The drawing's own size in its units. Raises `BadMedia`."""
    return _svg(path)[1]


def _svg(path: Path) -> tuple[Any, tuple[float, float]]:
    if path.stat().st_size > MAX_SVG_BYTES:
        raise BadMedia("too-large", f"{path.name} is larger than a drawing may be (2 MB).")
    data = path.read_bytes()
    if b"<!ENTITY" in data:
        raise BadMedia("unreadable", f"{path.name} uses entities, which drawings here may not.")
    dom = skia.SVGDOM.MakeFromStream(skia.MemoryStream(data))
    if dom is None:
        raise BadMedia("unreadable", f"{path.name} is not a drawing that can be read.")
    size = dom.containerSize()
    width, height = float(size.width()), float(size.height())
    if not (0 < width < 100_000 and 0 < height < 100_000):
        raise BadMedia("unreadable", f"{path.name} does not say how large it is.", "Give it a width and a height.")
    return dom, (width, height)


def _load_svg(path: Path, side: int) -> Pixels:
    dom, (width, height) = _svg(path)
    scale = side / max(width, height)
    pixels: Pixels = np.zeros((max(1, round(height * scale)), max(1, round(width * scale)), 4), np.uint8)
    info = skia.ImageInfo.Make(pixels.shape[1], pixels.shape[0], skia.kBGRA_8888_ColorType, skia.kPremul_AlphaType)
    canvas = skia.Surface.MakeRasterDirect(info, pixels, pixels.strides[0]).getCanvas()
    canvas.scale(pixels.shape[1] / width, pixels.shape[0] / height)
    dom.render(canvas)
    return pixels


class Animation:
    """An animated GIF, PNG or WebP; frames are found by time and held past the end."""

    def __init__(self, path: Path, side: int = 1920) -> None:
        self.path = path
        self._side = side
        try:
            self._image = Image.open(path)
            count = min(getattr(self._image, "n_frames", 1), MAX_ANIMATION_FRAMES)
            ends, now = [], 0
            for n in range(count):
                self._image.seek(n)
                self._image.load()  # Some formats say how long a frame lasts only once it is decoded.
                now += max(20, int(self._image.info.get("duration", 100) or 100))
                ends.append(now * TICKS_PER_SECOND // 1000)
        except (OSError, ValueError, SyntaxError, EOFError) as error:
            raise BadMedia("unreadable", f"{path.name} is damaged or is not a picture.") from error
        self.ends = ends
        self._shown: tuple[int, Pixels] | None = None

    @property
    def nbytes(self) -> int:
        """Memory of the picture on show and of the one being decoded."""
        return 2 * self._image.width * self._image.height * 4

    @property
    def length(self) -> int:
        """Ticks of one run."""
        return self.ends[-1]

    def frame(self, at: int) -> Pixels:
        """The picture on show at `at` ticks, premultiplied BGRA."""
        number = next((n for n, end in enumerate(self.ends) if at < end), len(self.ends) - 1)
        if self._shown is None or self._shown[0] != number:
            self._image.seek(number)
            still = self._image.convert("RGBA")
            still.thumbnail((self._side, self._side))
            self._shown = (number, premultiplied(still))
        return self._shown[1]

    def close(self) -> None:
        self._image.close()
