"""From a content hash to pixels and samples: open files and pictures kept ready while they are used."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any, Protocol

import cv2
import numpy as np
import numpy.typing as npt
import skia

from glowreel.core.derived import Need
from glowreel.core.errors import BadMedia, Missing, Unreadable
from glowreel.core.recipe.model import Voice
from glowreel.engine.cube import read_cube
from glowreel.engine.footage import Footage, Pixels
from glowreel.engine.limits import SVG_SIDE
from glowreel.engine.memory import MEGABYTE, Budget, Cache, process
from glowreel.engine.photo import Animation, load_photo
from glowreel.engine.soundcopy import stored_samples
from glowreel.engine.stretch import Stretch
from glowreel.engine.svg import draw_svg, is_svg

READER_BYTES = 4 * MEGABYTE
"""What an open decoder takes besides its frames, roughly."""
MAX_SOUNDS = 64


class Library(Protocol):
    """Where files are found by the hash of their bytes. Paths are local; a missing one raises `Missing`."""

    def picture(self, source: str) -> Path:
        """The file that pictures are read from: the original, or its stand-in for previews."""
        ...

    def samples(self, source: str) -> Path:
        """The working copy of a source's sound: interleaved 16-bit stereo at 48 kHz, nothing else."""
        ...

    def made(self, need: Need, name: str) -> Path:
        """A file that a maker made of a source; `Missing` as long as it is not there."""
        ...


class NothingMade:
    """The part of a library for which nothing is made on demand."""

    def made(self, need: Need, name: str) -> Path:
        raise Missing("not-made", "Nothing is made on demand here.")


class Sources:
    """Readers and decoded photos for one thread. Least used ones are let go."""

    def __init__(self, library: Library, threads: int = 0, budget: Budget = process) -> None:
        self._library = library
        self._threads = threads
        self._budget = budget
        self._open: Cache[Footage | Animation] = Cache(budget)
        self._images: Cache[Pixels] = Cache(budget)
        self._sounds: OrderedDict[object, npt.NDArray[np.int16]] = OrderedDict()
        self._stretches: OrderedDict[object, Stretch] = OrderedDict()
        self._paths: OrderedDict[Need, npt.NDArray[np.float32]] = OrderedDict()

    def again(self) -> Sources:
        """Readers of the same library for another thread."""
        return Sources(self._library, self._threads, self._budget)

    def close(self) -> None:
        """Lets go of everything; files close with their last reader."""
        self._open.clear()
        self._images.clear()
        self._sounds.clear()
        self._stretches.clear()
        self._paths.clear()

    def footage(self, source: str, use: str = "") -> Footage | Animation:
        """An open reader. `use` keeps two uses of one file apart, so that neither makes the other seek."""
        key = source + use
        reader = self._open.get(key)
        if reader is None:
            with _naming(source):
                path = self._library.picture(source)
                with path.open("rb") as file:
                    head = file.read(16)
                animated = head[:4] == b"GIF8" or head[8:12] == b"WEBP" or head[:4] == b"\x89PNG"
                reader = Animation(path) if animated else Footage(path, self._threads)
        # Put again at every use: what it keeps of decoded frames comes and goes.
        return self._open.put(key, reader, READER_BYTES + reader.nbytes)

    def photo(self, source: str, width: int, height: int) -> Pixels:
        """A photo at a size in pixels (never above its own), premultiplied BGRA."""
        key = (source, width, height)
        known = self._images.get(key)
        if known is not None:
            return known
        pixels = self._images.get((source, 0, 0))
        if pixels is None:
            with _naming(source):
                path = self._library.picture(source)
                pixels = draw_svg(path, SVG_SIDE) if is_svg(path) else load_photo(path)
            self._images.put((source, 0, 0), pixels, pixels.nbytes)
        if width >= pixels.shape[1] or height >= pixels.shape[0]:
            return pixels
        small = np.asarray(cv2.resize(pixels, (width, height), interpolation=cv2.INTER_AREA))
        return self._images.put(key, small, small.nbytes)

    def matte(self, need: Need, at: int, use: str = "") -> Pixels | None:
        """The matte of a source at a time of it, in ticks, grey; None where it is not made yet."""
        still = self._images.get((need, 0, 0))
        if still is not None:
            return still
        key = f"{need.source}{need.maker}{need.settings}{use}"
        reader = self._open.get(key)
        if reader is None:
            try:
                path = self._library.made(need, "matte")
            except Missing:
                return None
            with path.open("rb") as file:
                head = file.read(4)
            if head == b"\x89PNG":
                picture: Pixels = np.asarray(cv2.imread(str(path), cv2.IMREAD_GRAYSCALE))
                return self._images.put((need, 0, 0), picture, picture.nbytes)
            reader = Footage(path, 1)
        self._open.put(key, reader, READER_BYTES + reader.nbytes)
        assert isinstance(reader, Footage)
        plane = reader.frame(at).planes[0]
        grey: Pixels = np.frombuffer(plane, np.uint8).reshape(plane.height, plane.line_size)[:, : plane.width]
        return grey

    def look(self, source: str) -> Pixels:
        """The table of colours of a look that came in a file."""
        known = self._images.get((source, "look"))
        if known is not None:
            return known
        with _naming(source):
            table = read_cube(self._library.picture(source))
        return self._images.put((source, "look"), table, table.nbytes)

    def between(self, need: Need, use: str = "") -> Footage | None:
        """A reader of the film with more frames that was made of a source; None where it is not made yet."""
        key = f"{need.source}{need.maker}{use}"
        reader = self._open.get(key)
        if reader is None:
            try:
                reader = Footage(self._library.made(need, "between"), self._threads)
            except Missing:
                return None
        self._open.put(key, reader, READER_BYTES + reader.nbytes)
        assert isinstance(reader, Footage)
        return reader

    def path(self, need: Need) -> npt.NDArray[np.float32] | None:
        """How the camera moved in a source (see `engine.steady`); None where it is not found yet."""
        known = self._paths.get(need)
        if known is None:
            try:
                known = np.load(self._library.made(need, "path"), allow_pickle=False)
            except Missing:
                return None
            self._paths[need] = known
            if len(self._paths) > MAX_SOUNDS:
                self._paths.popitem(last=False)
        return known

    def sound(self, source: str) -> npt.NDArray[np.int16]:
        """All samples of a source, shape (n, 2), mapped and not read until used."""
        with _naming(source):
            return self._mapped(source, lambda: self._library.samples(source))

    def copied(self, need: Need) -> npt.NDArray[np.int16]:
        """All samples of a copy of a source's sound that was made on demand, like `sound`."""
        return self._mapped(need, lambda: self._library.made(need, "sound"))

    def _mapped(self, key: object, find: Callable[[], Path]) -> npt.NDArray[np.int16]:
        if key not in self._sounds:
            self._sounds[key] = stored_samples(find())
            if len(self._sounds) > MAX_SOUNDS:
                self._sounds.popitem(last=False)
        return self._sounds[key]

    def stretch(self, voice: Voice) -> Stretch:
        """A voice with its pitch kept; where its windows are is found once."""
        key = (voice.source, voice.copy, voice.warp)
        if key not in self._stretches:
            stored = self.copied(voice.copy) if voice.copy is not None else self.sound(voice.source)
            self._stretches[key] = Stretch(voice, stored)
            if len(self._stretches) > MAX_SOUNDS:
                self._stretches.popitem(last=False)
        self._stretches.move_to_end(key)
        return self._stretches[key]


@contextmanager
def _naming(source: str) -> Iterator[None]:
    """What goes wrong with a source says which one it was."""
    try:
        yield
    except Unreadable:
        raise
    except Missing as error:
        raise Unreadable(source, "is missing from the store") from error
    except BadMedia as error:
        raise Unreadable(source, "cannot be read") from error


def image_of(pixels: Pixels, *, opaque: bool) -> Any:
    """A Skia image that shares BGRA pixels; they must stay alive and unchanged while it is used.

    Said to be opaque or premultiplied, never unpremultiplied, which would make drawing thirty times slower.
    """
    alpha = skia.kOpaque_AlphaType if opaque else skia.kPremul_AlphaType
    info = skia.ImageInfo.Make(pixels.shape[1], pixels.shape[0], skia.kBGRA_8888_ColorType, alpha)
    return skia.Image.MakeFromRaster(skia.Pixmap(info, pixels, pixels.strides[0]))
