"""Reading photos and animated pictures as premultiplied BGRA."""

from __future__ import annotations

import io
from pathlib import Path

import numpy as np
import pillow_heif
from PIL import Image, ImageCms, ImageOps

from glowreel.core.errors import BadMedia
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.engine.footage import Pixels
from glowreel.engine.limits import MAX_ANIMATION_FRAMES, MAX_ANIMATION_PIXELS, MAX_PIXELS, WORK_SIDE

Image.MAX_IMAGE_PIXELS = MAX_PIXELS
pillow_heif.register_heif_opener(thumbnails=False)


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


def plain_colours(image: Image.Image) -> Image.Image:
    """An image in the colours of sRGB, where it says that it has others; as it is where what it says cannot be read."""
    profile = image.info.get("icc_profile")
    if not profile or image.mode not in ("RGB", "RGBA", "CMYK", "L"):
        return image
    mode = "RGBA" if image.mode == "RGBA" else "RGB"
    try:
        own = ImageCms.ImageCmsProfile(io.BytesIO(profile))
        made = ImageCms.profileToProfile(image, own, ImageCms.createProfile("sRGB"), outputMode=mode)
    except (ImageCms.PyCMSError, OSError, ValueError):
        return image
    return made if made is not None else image


def load_photo(path: Path, side: int = WORK_SIDE) -> Pixels:
    """A photo upright by its EXIF flag, no larger than `side`. Raises `BadMedia`."""
    try:
        with Image.open(path) as image:
            image.draft("RGB", (side, side))
            upright = ImageOps.exif_transpose(image)
            upright.thumbnail((side, side), Image.Resampling.LANCZOS)
            return premultiplied(plain_colours(upright))
    except Image.DecompressionBombError as error:
        raise BadMedia("too-large", f"{path.name} has more than {MAX_PIXELS // 10**6} million pixels.") from error
    except (OSError, ValueError, SyntaxError) as error:
        raise BadMedia("unreadable", f"{path.name} is damaged or is not a picture.") from error


class Animation:
    """An animated GIF, PNG or WebP; frames are found by time and held past the end."""

    def __init__(self, path: Path, side: int = 1920) -> None:
        self.path = path
        self._side = side
        try:
            self._image = Image.open(path)
            count = min(getattr(self._image, "n_frames", 1), MAX_ANIMATION_FRAMES)
            if count * self._image.width * self._image.height > MAX_ANIMATION_PIXELS:
                raise BadMedia("too-large", f"{path.name} has more pixels in all its frames than can be used.")
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
            try:
                self._go_to(number)
                still = self._image.convert("RGBA")
            except (OSError, ValueError, SyntaxError, EOFError) as error:
                raise BadMedia("unreadable", f"{self.path.name} is damaged or is not a picture.") from error
            still.thumbnail((self._side, self._side))
            self._shown = (number, premultiplied(still))
        return self._shown[1]

    def _go_to(self, number: int) -> None:
        if number < self._image.tell():
            # Going back within an open file is not sound in every format: it is opened again.
            self._image.close()
            self._image = Image.open(self.path)
        self._image.seek(number)

    def close(self) -> None:
        self._image.close()
