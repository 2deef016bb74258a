"""Drawing a recipe: the one place where pixels of a frame are made, for the preview and the export alike."""

from __future__ import annotations

import math
import time
from collections import Counter
from dataclasses import replace
from typing import Any

import cv2
import numpy as np
import skia

import glowreel.engine.effects  # noqa: F401  (what draws effects registers itself)
from glowreel.core.errors import Refusal
from glowreel.core.layout import Box
from glowreel.core.recipe.model import Composite, DrawPicture, DrawShape, DrawWords, Fill, FrameRecipe, Op, Window
from glowreel.engine.drawing import EFFECTS, OPERATIONS, draws, part
from glowreel.engine.footage import Footage, Pixels
from glowreel.engine.memory import Cache, process
from glowreel.engine.sources import Sources, image_of
from glowreel.engine.typesetting import colour, draw_words

_LINEAR = skia.SamplingOptions(skia.FilterMode.kLinear)
_EXACT = skia.SamplingOptions(skia.FilterMode.kNearest)

BLUR_GRAIN = 3.0
"""A blurred frame is drawn so small that the blur still has this deviation, in pixels."""

MAX_SPRITE = 16_000_000


def scale_of(recipe: FrameRecipe, width: int, height: int) -> float:
    """Pixels to a canonical unit. Sizes are rounded to even numbers; the larger scale covers the frame to its edges."""
    return max(width / recipe.width, height / recipe.height)


class TooSlow(Refusal):
    """Drawing a frame took longer than it may."""

    def __init__(self) -> None:
        super().__init__(
            "too-slow",
            "This frame takes too long to be drawn for a preview.",
            "Take away some of its layers or effects.",
        )


class Canvas:
    """Draws recipes at one size into one buffer, which is used again for every frame."""

    def __init__(self, sources: Sources, width: int, height: int) -> None:
        self.width, self.height = width, height
        self._sources = sources
        self.pixels: Pixels = np.zeros((height, width, 4), np.uint8)
        info = skia.ImageInfo.Make(width, height, skia.kBGRA_8888_ColorType, skia.kPremul_AlphaType)
        self._surface = skia.Surface.MakeRasterDirect(info, self.pixels, self.pixels.strides[0])
        self._canvas = self._surface.getCanvas()
        self._sprites: Cache[Pixels] = Cache(process)
        # How often each source has been used in this frame: two uses of one file need a reader each.
        self._uses: Counter[str] = Counter()
        # Inside a group: whether it moves, and whether it is cut off at the frame before it does.
        self._moving: tuple[bool, bool] = (False, False)
        self._small: dict[tuple[int, int], Canvas] = {}
        self._scale = 1.0
        self._end = math.inf

    def draw(self, recipe: FrameRecipe, within: float = math.inf) -> Pixels:
        """The frame as BGRA. The array is overwritten by the next one. Raises `TooSlow` after `within` seconds."""
        self._end = time.monotonic() + within
        self._canvas.clear(0)
        self._scale = scale_of(recipe, self.width, self.height)
        self._uses.clear()
        depth = self._canvas.getSaveCount()
        try:
            self._run(recipe.ops)
        finally:
            # What was given up in the middle of a group leaves nothing behind for the next frame.
            self._canvas.restoreToCount(depth)
            self._moving = (False, False)
        return self.pixels

    def _run(self, ops: tuple[Op, ...]) -> None:
        for op in ops:
            if time.monotonic() > self._end:
                raise TooSlow()
            if op.opacity > 0:
                OPERATIONS[type(op)].function(self, op)

    @draws(Fill)
    def _fill(self, op: Fill) -> None:
        paint = skia.Paint(Color=colour(op.colour, op.opacity))
        self._canvas.drawRect(skia.Rect.MakeWH(self.width, self.height), paint)

    @draws(DrawShape)
    def _shape(self, op: DrawShape) -> None:
        """A plain shape, its edges smoothed."""
        box, radius = op.box, op.radius * self._scale
        rect = skia.Rect.MakeXYWH(*(v * self._scale for v in (box.x, box.y, box.width, box.height)))
        paint = skia.Paint(AntiAlias=True, Color=colour(op.colour, op.opacity))
        self._canvas.drawOval(rect, paint) if op.ellipse else self._canvas.drawRoundRect(rect, radius, radius, paint)

    @part()
    def _clip(self, window: Window, hole: Any) -> None:
        """Lets only what is in a window be seen."""
        if window.round:
            self._canvas.clipPath(skia.Path.Oval(hole), True)
        elif window.radius:
            radius = window.radius * self._scale
            self._canvas.clipRRect(skia.RRect.MakeRectXY(hole, radius, radius), True)
        else:
            self._canvas.clipRect(hole, True)

    @draws(Composite)
    def _group(self, op: Composite) -> None:
        """Operations moved, blurred and seen through a window together. See `Group` for the order."""
        canvas, scale = self._canvas, self._scale
        moving = bool(op.dx or op.dy or op.turn or op.scale != 1)
        if op.effects:
            self._with_effects(op)
            return
        if op.framed and op.blur * scale >= 2 * BLUR_GRAIN and not moving and op.window is None:
            self._blurred(op)
            return
        canvas.save()
        if op.window is not None:
            hole = skia.Rect.MakeXYWH(*(v * scale for v in (op.window.x, op.window.y)),
                                      *(v * scale for v in (op.window.width, op.window.height)))  # fmt: skip
            self._clip(op.window, hole)
        if op.opacity < 1 or op.blur > 0:
            paint = skia.Paint(Alphaf=op.opacity)
            if op.blur > 0:
                edge = skia.TileMode.kClamp if op.framed else skia.TileMode.kDecal
                paint.setImageFilter(skia.ImageFilters.Blur(op.blur * scale, op.blur * scale, edge))
            canvas.saveLayer(None, paint)
        else:
            canvas.save()
        if moving:
            x, y = op.about[0] * scale, op.about[1] * scale
            canvas.translate(op.dx * scale + x, op.dy * scale + y)
            canvas.rotate(op.turn)
            canvas.scale(op.scale, op.scale)
            canvas.translate(-x, -y)
        if op.framed:
            canvas.clipRect(skia.Rect.MakeWH(self.width, self.height), True)
        outer, self._moving = self._moving, (moving, op.framed)
        self._run(op.ops)
        self._moving = outer
        canvas.restore()
        canvas.restore()

    @part()
    def _apart(self, ops: tuple[Op, ...], size: tuple[int, int]) -> Pixels:
        """Operations drawn by themselves on nothing, in another size; the array is used again."""
        if size not in self._small:
            self._small[size] = Canvas(self._sources, *size)
        small = self._small[size]
        small._canvas.clear(0)
        small._end = self._end
        small._scale = self._scale * size[0] / self.width
        small._uses = self._uses
        small._run(ops)
        return small.pixels

    @part()
    def _with_effects(self, op: Composite) -> None:
        """What is drawn by itself, with its effects done one after another, then laid over like any group."""
        pixels = self._apart(op.ops, (self.width, self.height))
        for effect in op.effects:
            pixels = EFFECTS[effect.kind].function(pixels, dict(effect.values), self._scale)
        self._canvas.drawImage(image_of(pixels, opaque=False), 0, 0, _EXACT, skia.Paint(Alphaf=op.opacity))

    @part()
    def _blurred(self, op: Composite) -> None:
        """The whole frame, blurred: drawn small, as nothing fine is left of it, which is many times faster."""
        deviation = op.blur * self._scale
        times = min(16, int(deviation / BLUR_GRAIN))
        size = (max(2, self.width // times), max(2, self.height // times))
        pixels = self._apart(op.ops, size)
        soft: Any = cv2.GaussianBlur(pixels, (0, 0), deviation * size[0] / self.width, borderType=cv2.BORDER_REPLICATE)
        grown: Any = cv2.resize(soft, (self.width, self.height), interpolation=cv2.INTER_LINEAR)
        self._canvas.drawImage(image_of(grown, opaque=False), 0, 0, _EXACT, skia.Paint(Alphaf=op.opacity))

    @draws(DrawWords)
    def _words(self, op: DrawWords) -> None:
        """Words are set once and stamped from then on, to the quarter of a pixel: setting them, with a soft shadow,
        costs more than the whole rest of a frame."""
        left, top = (op.box.x - op.size) * self._scale, (op.box.y - op.size) * self._scale
        x, y = math.floor(left * 4) / 4, math.floor(top * 4) / 4
        width = math.ceil((op.box.width + 2 * op.size) * self._scale) + 2
        height = math.ceil((op.box.height + 2 * op.size) * self._scale) + 2
        if op.turn or width * height > MAX_SPRITE:
            self._canvas.save()
            self._canvas.scale(self._scale, self._scale)
            draw_words(self._canvas, op)
            self._canvas.restore()
            return
        key = (op.words, op.size, op.wrap, self._scale, x % 1, y % 1)
        sprite = self._sprites.get(key)
        if sprite is None:
            sprite = self._set_words(op, width, height, x % 1, y % 1)
            self._sprites.put(key, sprite, sprite.nbytes)
        paint = skia.Paint(Alphaf=op.opacity)
        sampling = _LINEAR if self._moving[0] else _EXACT
        self._canvas.drawImage(image_of(sprite, opaque=False), math.floor(x), math.floor(y), sampling, paint)

    @part()
    def _set_words(self, op: DrawWords, width: int, height: int, x: float, y: float) -> Pixels:
        """Words by themselves, a fraction of a pixel from the corner.

        Small ones are drawn large and shrunk: letters drawn small are moved to whole pixels, and a preview would show
        them up to half a pixel from where the export has them.
        """
        times = max(1, math.ceil(1 / self._scale - 1e-6))
        sprite: Pixels = np.zeros((height * times, width * times, 4), np.uint8)
        info = skia.ImageInfo.Make(width * times, height * times, skia.kBGRA_8888_ColorType, skia.kPremul_AlphaType)
        canvas = skia.Surface.MakeRasterDirect(info, sprite, sprite.strides[0]).getCanvas()
        canvas.scale(times, times)
        canvas.translate(x, y)
        canvas.scale(self._scale, self._scale)
        canvas.translate(op.size - op.box.x, op.size - op.box.y)
        draw_words(canvas, replace(op, opacity=1.0))
        if times == 1:
            return sprite
        return np.asarray(cv2.resize(sprite, (width, height), interpolation=cv2.INTER_AREA))

    @draws(DrawPicture)
    def _picture(self, op: DrawPicture) -> None:
        box = Box(*(v * self._scale for v in (op.box.x, op.box.y, op.box.width, op.box.height)))
        if op.still:
            pixels = self._sources.photo(op.source, max(1, round(box.width)), max(1, round(box.height)))
            self._stamp(pixels, box, op, opaque=False)
            return
        reader = self._sources.footage(op.source, "+" * self._uses[op.source])
        self._uses[op.source] += 1
        if isinstance(reader, Footage):
            frame = reader.frame(op.at)
            pixels = reader.bgra(frame, max(1, round(box.width)), max(1, round(box.height)))
            self._stamp(*self._enlarged(pixels, box, op.turn), op, opaque=not reader.clear)
        else:
            self._stamp(reader.frame(op.at), box, op, opaque=False)

    @part()
    def _enlarged(self, pixels: Pixels, box: Box, turn: float) -> tuple[Pixels, Box]:
        """Opaque pixels and where they go. What must grow is cropped to what is seen and enlarged smoothly:
        several times faster than letting the canvas do it for the whole picture."""
        high, wide = pixels.shape[:2]
        across, down = box.width / wide, box.height / high
        if (across <= 1.001 and down <= 1.001) or turn or self._moving == (True, False):
            return pixels, box
        left = max(0, math.floor(-box.x / across) - 1)
        top = max(0, math.floor(-box.y / down) - 1)
        right = min(wide, math.ceil((self.width - box.x) / across) + 1)
        bottom = min(high, math.ceil((self.height - box.y) / down) + 1)
        if right <= left or bottom <= top:
            return pixels, box
        seen = Box(box.x + left * across, box.y + top * down, (right - left) * across, (bottom - top) * down)
        size = (max(1, round(seen.width)), max(1, round(seen.height)))
        grown: Any = cv2.resize(pixels[top:bottom, left:right], size, interpolation=cv2.INTER_CUBIC)
        return grown, seen

    @part()
    def _stamp(self, pixels: Pixels, box: Box, op: DrawPicture, *, opaque: bool) -> None:
        image = image_of(pixels, opaque=opaque)
        target = skia.Rect.MakeXYWH(box.x, box.y, box.width, box.height)
        paint = skia.Paint(AntiAlias=bool(op.turn), Alphaf=op.opacity)
        whole = all(abs(v - round(v)) < 1e-3 for v in (box.x, box.y))
        same = abs(box.width - image.width()) < 1e-3 and abs(box.height - image.height()) < 1e-3
        exact = whole and same and not op.turn
        self._canvas.save()
        if op.turn:
            self._canvas.rotate(op.turn, box.x + box.width / 2, box.y + box.height / 2)
        self._canvas.drawImageRect(image, target, _EXACT if exact and not self._moving[0] else _LINEAR, paint)
        self._canvas.restore()
