"""Frames ready for the encoder: drawn, and in BT.709 limited-range 4:2:0."""

from __future__ import annotations

from typing import Any

import av
from av.video.reformatter import VideoReformatter

from glowreel.core.recipe.model import DrawPicture, FrameRecipe
from glowreel.engine.colour import BT709, convert, is_full_range, matrix_of
from glowreel.engine.draw import Canvas
from glowreel.engine.footage import Footage
from glowreel.engine.sources import Sources


class FrameMaker:
    """Makes encoder frames at one size. A recipe that only passes footage on is not drawn: its frames go through."""

    def __init__(self, sources: Sources, width: int, height: int) -> None:
        self.width, self.height = width, height
        self._sources = sources
        self._canvas = Canvas(sources, width, height)
        self._reformatter = VideoReformatter()

    def make(self, recipe: FrameRecipe) -> Any:
        """A yuv420p frame for the recipe. It may be the decoder's own and must not be written to."""
        frame = self._passed_on(recipe)
        return self._tagged(frame if frame is not None else self._drawn(recipe))

    def _drawn(self, recipe: FrameRecipe) -> Any:
        pixels = self._canvas.draw(recipe)
        frame = av.VideoFrame.from_numpy_buffer(pixels, format="bgra")
        return convert(self._reformatter, frame, "yuv420p", threads=0)

    def _passed_on(self, recipe: FrameRecipe) -> Any:
        """The source's own frame where drawing would only copy it: alone, upright, the same size and colours."""
        if len(recipe.ops) != 1 or not isinstance(recipe.ops[0], DrawPicture):
            return None
        op = recipe.ops[0]
        scale = self.height / recipe.height
        fits = abs(op.box.width * scale - self.width) < 0.5 and abs(op.box.height * scale - self.height) < 0.5
        if op.still or op.turn or op.opacity < 1 or not fits or abs(op.box.x) > 0.01 or abs(op.box.y) > 0.01:
            return None
        reader = self._sources.footage(op.source)
        if not isinstance(reader, Footage):
            return None
        frame = reader.frame(op.at)
        plain = frame.format.name == "yuv420p" and matrix_of(frame) == BT709 and not is_full_range(frame)
        if not plain or (frame.width, frame.height) != (self.width, self.height) or reader.turned:
            return None
        return frame

    def _tagged(self, frame: Any) -> Any:
        frame.colorspace, frame.color_range = 1, 1
        return frame
