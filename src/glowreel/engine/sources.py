"""From a content hash to pixels and samples: open files and pictures kept ready while they are used."""

from __future__ import annotations

from collections import OrderedDict
from pathlib import Path
from typing import Any, Protocol

import cv2
import numpy as np
import numpy.typing as npt
import skia

from glowreel.core.recipe.model import Voice
from glowreel.engine.footage import Footage, Pixels
from glowreel.engine.photo import Animation, load_photo
from glowreel.engine.stretch import Stretch

MAX_OPEN = 12
MAX_CACHED_BYTES = 384 * 1024**2


class Library(Protocol):
    """Where files are found by the hash of their bytes. Paths are local; a missing one raises `Missing`."""

    def picture(self, source: str) -> Path:
        """The file that pictures are read from: the original, or its stand-in for previews."""
        ...

    def samples(self, source: str) -> Path:
        """The working copy of a source's sound: interleaved 16-bit stereo at 48 kHz, nothing else."""
        ...


class Sources:
    """Readers and decoded photos for one thread. Least used ones are let go."""

    def __init__(self, library: Library, threads: int = 0) -> None:
        self._library = library
        self._threads = threads
        self._open: OrderedDict[str, Footage | Animation] = OrderedDict()
        self._images: OrderedDict[tuple[str, int, int], Pixels] = OrderedDict()
        self._bytes = 0
        self._sounds: OrderedDict[str, npt.NDArray[np.int16]] = OrderedDict()
        self._stretches: OrderedDict[object, Stretch] = OrderedDict()

    def again(self) -> Sources:
        """Readers of the same library for another thread."""
        return Sources(self._library, self._threads)

    def close(self) -> None:
        for reader in self._open.values():
            reader.close()
        self._open.clear()
        self._images.clear()
        self._sounds.clear()
        self._stretches.clear()
        self._bytes = 0

    def footage(self, source: str, lane: str = "") -> Footage | Animation:
        """An open reader. `lane` keeps two uses of one file apart, so that neither makes the other seek."""
        key = source + lane
        if key in self._open:
            self._open.move_to_end(key)
            return self._open[key]
        path = self._library.picture(source)
        with path.open("rb") as file:
            head = file.read(16)
        animated = head[:4] == b"GIF8" or head[8:12] == b"WEBP" or head[:4] == b"\x89PNG"
        reader: Footage | Animation = Animation(path) if animated else Footage(path, self._threads)
        self._open[key] = reader
        if len(self._open) > MAX_OPEN:
            self._open.popitem(last=False)[1].close()
        return reader

    def photo(self, source: str, width: int, height: int) -> Pixels:
        """A photo at a size in pixels (never above its own), premultiplied BGRA."""
        key = (source, width, height)
        if key in self._images:
            self._images.move_to_end(key)
            return self._images[key]
        pixels = self._images.get((source, 0, 0))
        if pixels is None:
            pixels = self._keep((source, 0, 0), load_photo(self._library.picture(source)))
        if width >= pixels.shape[1] or height >= pixels.shape[0]:
            return pixels
        return self._keep(key, np.asarray(cv2.resize(pixels, (width, height), interpolation=cv2.INTER_AREA)))

    def _keep(self, key: tuple[str, int, int], pixels: Pixels) -> Pixels:
        self._images[key] = pixels
        self._bytes += pixels.nbytes
        while self._bytes > MAX_CACHED_BYTES and len(self._images) > 1:
            self._bytes -= self._images.popitem(last=False)[1].nbytes
        return pixels

    def sound(self, source: str) -> npt.NDArray[np.int16]:
        """All samples of a source, shape (n, 2), mapped and not read until used."""
        if source not in self._sounds:
            path = self._library.samples(source)
            size = path.stat().st_size // 4
            mapped = np.memmap(path, np.int16, "r", shape=(size, 2)) if size else np.zeros((0, 2), np.int16)
            self._sounds[source] = mapped
            if len(self._sounds) > 64:
                self._sounds.popitem(last=False)
        return self._sounds[source]

    def stretch(self, voice: Voice) -> Stretch:
        """A voice with its pitch kept; where its windows are is found once."""
        key = (voice.source, voice.warp)
        if key not in self._stretches:
            self._stretches[key] = Stretch(voice, self.sound(voice.source))
            if len(self._stretches) > 64:
                self._stretches.popitem(last=False)
        self._stretches.move_to_end(key)
        return self._stretches[key]


def image_of(pixels: Pixels, *, opaque: bool) -> Any:
    """A Skia image that shares BGRA pixels; they must stay alive and unchanged while it is used.

    Said to be opaque or premultiplied, never unpremultiplied, which would make drawing thirty times slower.
    """
    alpha = skia.kOpaque_AlphaType if opaque else skia.kPremul_AlphaType
    info = skia.ImageInfo.Make(pixels.shape[1], pixels.shape[0], skia.kBGRA_8888_ColorType, alpha)
    return skia.Image.MakeFromRaster(skia.Pixmap(info, pixels, pixels.strides[0]))
