"""Frames ready for the encoder: drawn, and in BT.709 limited-range 4:2:0."""

from __future__ import annotations

from typing import Any, Literal

import av
import numpy as np
from av.video.reformatter import VideoReformatter

from glowreel.core.layout import Box
from glowreel.core.recipe.model import Applied, Composite, DrawPicture, FrameRecipe, Op
from glowreel.engine.colour import BT709, convert, is_full_range, matrix_of
from glowreel.engine.draw import Canvas, scale_of
from glowreel.engine.effects.planes import PLANAR
from glowreel.engine.footage import Footage
from glowreel.engine.hdr import wide
from glowreel.engine.memory import Cache, process
from glowreel.engine.overlay import Overlay, can_lie_over, copied, lay_over, overlay_of, planes_of, reach
from glowreel.engine.reframed import covers, reframed
from glowreel.engine.sources import Sources


def _plain(op: Op) -> tuple[DrawPicture | None, tuple[Applied, ...]]:
    """The one picture of an operation, and the effects on it, where all of them can be done in planes."""
    if isinstance(op, DrawPicture):
        return op, ()
    if isinstance(op, Composite) and len(op.ops) == 1 and isinstance(op.ops[0], DrawPicture):
        alone = op == Composite(op.ops, effects=op.effects, region=op.region)
        if alone and all(effect.kind in PLANAR for effect in op.effects):
            return op.ops[0], op.effects
    return None, ()


def straight(pixels: Any) -> Any:
    """BGRA that colours were multiplied into by their opacity (H × W × 4) as RGBA in which they are not."""
    made = np.ascontiguousarray(pixels[..., [2, 1, 0, 3]])
    part = (made[..., 3] > 0) & (made[..., 3] < 255)
    if part.any():
        alpha = made[part][:, 3:].astype(np.uint16)
        made[part, :3] = np.minimum(255, (made[part][:, :3].astype(np.uint16) * 255 + alpha // 2) // alpha)
    return made


class FrameMaker:
    """Makes encoder frames at one size. Footage that fills it is not drawn but passed on, with words
    and pictures laid over it; everything else is drawn."""

    def __init__(self, sources: Sources, width: int, height: int) -> None:
        self.width, self.height = width, height
        self._sources = sources
        self._canvas = Canvas(sources, width, height)
        self._reformatter = VideoReformatter()
        self._overlays: Cache[Overlay | Literal[False]] = Cache(process)

    def make(self, recipe: FrameRecipe) -> Any:
        """A yuv420p frame for the recipe. It may be the decoder's own and must not be written to."""
        frame = self._passed_on(recipe)
        return self._tagged(frame if frame is not None else self._drawn(recipe))

    def _laid_over(self, frame: Any, recipe: FrameRecipe) -> Any:
        """The source's frame with the rest of the recipe over it."""
        made = copied(frame)
        scale = scale_of(recipe, self.width, self.height)
        for op in recipe.ops[1:]:
            overlay = self._overlay(op, recipe, scale)
            if overlay is not None:
                lay_over(made, overlay)
        return made

    def _overlay(self, op: Any, recipe: FrameRecipe, scale: float) -> Overlay | None:
        known = self._overlays.get(op)
        if known is not None:
            return known or None
        place = reach(op, scale, self.width, self.height)
        overlay = None
        if place is not None:
            left, top, right, bottom = place
            pixels = self._canvas.draw(FrameRecipe(recipe.width, recipe.height, (op,)))
            overlay = overlay_of(pixels[top:bottom, left:right], left, top)
        self._overlays.put(op, overlay or False, overlay.luma.nbytes * 3 if overlay else 64)
        return overlay

    def _drawn(self, recipe: FrameRecipe) -> Any:
        pixels = self._canvas.draw(recipe)
        frame = av.VideoFrame.from_numpy_buffer(pixels, format="bgra")
        return convert(self._reformatter, frame, "yuv420p", threads=0)

    def drawn(self, recipe: FrameRecipe, *, clear: bool = False) -> Any:
        """The frame as it is drawn, a copy: `bgra`, or with `clear` `rgba`, in which colours are not multiplied."""
        pixels = self._canvas.draw(recipe)
        if clear:
            return av.VideoFrame.from_ndarray(straight(pixels), format="rgba")
        return av.VideoFrame.from_ndarray(pixels, format="bgra")

    def _passed_on(self, recipe: FrameRecipe) -> Any:
        """The source's own frame, or the part of it that is seen, with what lies over it, where drawing the frame
        itself would only copy it: upright, covering the picture, of the same colours."""
        op, effects = _plain(recipe.ops[0])
        if op is None or not can_lie_over(recipe.ops[1:]):
            return None
        scale = scale_of(recipe, self.width, self.height)
        box = Box(*(value * scale for value in (op.box.x, op.box.y, op.box.width, op.box.height)))
        whole = (
            not (op.still or op.turn or op.crop or op.matte or op.between or op.steady or op.flip != (False, False))
            and op.opacity >= 1
        )
        if not whole or not covers(box, self.width, self.height):
            return None
        reader = self._sources.footage(op.source)
        if not isinstance(reader, Footage) or reader.clear:
            return None
        frame = reader.frame(op.at)
        plain = (
            frame.format.name == "yuv420p"
            and matrix_of(frame) == BT709
            and not is_full_range(frame)
            and not wide(frame)
        )
        if not plain or reader.turned or frame.width % 2 or frame.height % 2:
            return None
        fits = abs(box.width - self.width) < 1 and abs(box.height - self.height) < 1
        own = not fits or (frame.width, frame.height) != (self.width, self.height)
        if own:
            frame = reframed(frame, box, self.width, self.height)
        if effects:
            frame = frame if own else copied(frame)
            planes: Any = tuple(planes_of(frame))
            for effect in effects:
                PLANAR[effect.kind](planes, dict(effect.values), scale)
        return frame if len(recipe.ops) == 1 else self._laid_over(frame, recipe)

    def _tagged(self, frame: Any) -> Any:
        frame.colorspace, frame.color_range = 1, 1
        return frame
