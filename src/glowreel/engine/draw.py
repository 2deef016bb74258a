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

import glowreel.engine.groups  # noqa: F401  (what draws groups and effects registers itself)
from glowreel.core.derived import Need
from glowreel.core.errors import Refusal
from glowreel.core.layout import Box
from glowreel.core.recipe.model import (
    DrawGradient,
    DrawPath,
    DrawPattern,
    DrawPicture,
    DrawShape,
    DrawSticker,
    DrawWave,
    DrawWords,
    Fill,
    FrameRecipe,
    Op,
)
from glowreel.engine.drawing import OPERATIONS, draws, part
from glowreel.engine.footage import Footage, Pixels
from glowreel.engine.lines import draw_path
from glowreel.engine.masks import path_of
from glowreel.engine.mattes import cut_by, fitted
from glowreel.engine.memory import Cache, process
from glowreel.engine.sources import Sources, image_of
from glowreel.engine.steady import steadied
from glowreel.engine.stickers import draw_sticker
from glowreel.engine.stills import Stills
from glowreel.engine.type.pieces import draw_pieces
from glowreel.engine.typesetting import colour, draw_words
from glowreel.engine.wave import draw_wave

_LINEAR = skia.SamplingOptions(skia.FilterMode.kLinear)
_EXACT = skia.SamplingOptions(skia.FilterMode.kNearest)

WARPED = 120_000
"""How many pixels a picture has at least that is brought to the frame's pixels before it is drawn."""
MAX_SPRITE = 16_000_000
MAX_STICKER = 2160
MAX_PARTS = 12


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
        # The whole frame in pixels, of which this may be a part that begins at `_corner`.
        self._frame = skia.Rect.MakeWH(width, height)
        self._corner = (0, 0)
        self._sprites: Cache[Pixels] = Cache(process)
        self.stills = Stills()
        # How often each source has been used in this frame: two uses of one file need a reader each.
        self._uses: Counter[str] = Counter()
        # What of footage was decoded for this frame: two uses of the same moment need it once.
        self._decoded: dict[tuple[str, int, Need | None], tuple[Any, Any]] = {}
        # Inside a group: whether it moves, and whether it is cut off at the frame before it does.
        self._moving: tuple[bool, bool] = (False, False)
        self._parts: dict[tuple[int, int], Canvas] = {}
        self._scale = 1.0
        self._end = math.inf

    def draw(self, recipe: FrameRecipe, within: float = math.inf) -> Pixels:
        """The frame as BGRA. The array is overwritten by the next one. Raises `TooSlow` after `within` seconds."""
        self._end = time.monotonic() + within
        self._canvas.clear(0)
        self._scale = scale_of(recipe, self.width, self.height)
        self._uses.clear()
        self._decoded.clear()
        depth = self._canvas.getSaveCount()
        try:
            self.run(recipe.ops)
        finally:
            # What was given up in the middle of a group leaves nothing behind for the next frame.
            self._canvas.restoreToCount(depth)
            self._moving = (False, False)
        return self.pixels

    def apart(self, ops: tuple[Op, ...], rect: tuple[int, int, int, int], scale: float | None = None) -> Pixels:
        """Operations drawn by themselves on nothing: a rectangle (left, top, width, height) of the frame in pixels,
        which may reach beyond it; at another scale where one is given. The array is used again by the next that is as
        large."""
        left, top, width, height = rect
        if (width, height) not in self._parts:
            if len(self._parts) >= MAX_PARTS:
                self._parts.clear()
            self._parts[width, height] = Canvas(self._sources, width, height)
        small = self._parts[width, height]
        small._canvas.clear(0)
        small._end, small._uses, small.stills = self._end, self._uses, self.stills
        small._decoded = self._decoded
        small._scale = self._scale if scale is None else scale
        ratio = small._scale / self._scale
        small._frame = skia.Rect.MakeWH(self._frame.width() * ratio, self._frame.height() * ratio)
        small._corner, small._moving = (left, top), (False, False)
        depth = small._canvas.save()
        try:
            small._canvas.translate(-left, -top)
            small.run(ops)
        finally:
            small._canvas.restoreToCount(depth)
        return small.pixels

    def run(self, ops: tuple[Op, ...]) -> None:
        """Draws operations over what is there. Raises `TooSlow` where it has taken too long."""
        for op in ops:
            if time.monotonic() > self._end:
                raise TooSlow()
            if op.opacity > 0:
                OPERATIONS[type(op)].function(self, op)

    @draws(Fill)
    def _fill(self, op: Fill) -> None:
        self._canvas.drawPaint(skia.Paint(Color=colour(op.colour, op.opacity)))

    @draws(DrawGradient)
    def _gradient(self, op: DrawGradient) -> None:
        """Straight across the middle of what it fills, so long that both colours just reach its corners."""
        box = op.box
        rect = self._frame if box is None else skia.Rect.MakeXYWH(
            *(v * self._scale for v in (box.x, box.y, box.width, box.height))
        )  # fmt: skip
        across, down = math.cos(math.radians(op.angle)), math.sin(math.radians(op.angle))
        far = (abs(across) * rect.width() + abs(down) * rect.height()) / 2
        ends = [skia.Point(rect.centerX() + way * across * far, rect.centerY() + way * down * far) for way in (-1, 1)]
        colours = [colour(value, part * op.opacity) for value, part in zip(op.colours, op.opacities, strict=True)]
        self._canvas.drawRect(rect, skia.Paint(Shader=skia.GradientShader.MakeLinear(ends, colours), Dither=True))

    @draws(DrawPattern)
    def _pattern(self, op: DrawPattern) -> None:
        """A tile, drawn once as a shader over the whole frame."""
        side = max(2.0, op.tile * self._scale)
        recorder = skia.PictureRecorder()
        canvas = recorder.beginRecording(skia.Rect.MakeWH(side, side * op.ratio))
        canvas.scale(side, side * op.ratio)
        paint = skia.Paint(AntiAlias=True, Color=colour(op.colour, op.opacity))
        if op.width:
            paint.setStyle(skia.Paint.kStroke_Style)
            paint.setStrokeWidth(op.width)
        canvas.drawPath(path_of(op.path), paint)
        picture = recorder.finishRecordingAsPicture()
        repeat = skia.TileMode.kRepeat
        turn = skia.Matrix.RotateDeg(op.angle, skia.Point(self._frame.centerX(), self._frame.centerY()))
        tile = skia.Rect.MakeWH(side, side * op.ratio)
        shader = picture.makeShader(repeat, repeat, skia.FilterMode.kLinear, turn, tile)
        self._canvas.drawPaint(skia.Paint(Shader=shader))

    @draws(DrawShape)
    def _shape(self, op: DrawShape) -> None:
        """A plain shape, its edges smoothed."""
        box, radius = op.box, op.radius * self._scale
        rect = skia.Rect.MakeXYWH(*(v * self._scale for v in (box.x, box.y, box.width, box.height)))
        paint = skia.Paint(AntiAlias=True, Color=colour(op.colour, op.opacity))
        self._canvas.drawOval(rect, paint) if op.ellipse else self._canvas.drawRoundRect(rect, radius, radius, paint)

    @draws(DrawPath)
    def _path(self, op: DrawPath) -> None:
        """A path in a box, filled, and drawn as a line."""
        draw_path(self._canvas, op, self._scale)

    @draws(DrawSticker)
    def _sticker(self, op: DrawSticker) -> None:
        """A drawing, drawn as large as it is seen and stamped from then on."""
        box = op.box
        side = min(MAX_STICKER, max(1, math.ceil(max(box.width, box.height) * self._scale)))
        pixels = draw_sticker(op.name, side, op.tint)
        if pixels is None:
            return
        edges = (box.x, box.y, box.x + box.width, box.y + box.height)
        target = skia.Rect.MakeLTRB(*(edge * self._scale for edge in edges))
        paint = skia.Paint(AntiAlias=True, Alphaf=op.opacity)
        self._canvas.drawImageRect(image_of(pixels, opaque=False), target, _LINEAR, paint)

    @draws(DrawWave)
    def _wave(self, op: DrawWave) -> None:
        """Bars that move with what is heard."""
        paint = skia.Paint(AntiAlias=True, Color=colour(op.colour, op.opacity))
        draw_wave(self._canvas, op, self._scale, paint, self._sources)

    @draws(DrawWords, 2)
    def _words(self, op: DrawWords) -> None:
        """Words are set once and stamped from then on, to the quarter of a pixel: setting them, with a soft shadow,
        costs more than the whole rest of a frame."""
        if op.plays:
            draw_pieces(self._canvas, op, self._scale, self._sprites)
            return
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

    @draws(DrawPicture, 2)
    def _picture(self, op: DrawPicture) -> None:
        box = Box(*(v * self._scale for v in (op.box.x, op.box.y, op.box.width, op.box.height)))
        left, top, right, bottom = op.crop or (0.0, 0.0, 0.0, 0.0)
        # The size that the whole picture would have of which this is what is left.
        width = max(1, round(box.width / max(0.01, 1 - left - right)))
        height = max(1, round(box.height / max(0.01, 1 - top - bottom)))
        if op.still:
            self._stamp(
                cut_out(self._cut(self._sources.photo(op.source, width, height), op), op), box, op, opaque=False
            )
            return
        reader, frame = self._moment(op)
        if isinstance(reader, Footage):
            whole = reader.bgra(frame, width, height)
            made = self._held_still(self._cut(whole, op), op)
            placed = self._enlarged(cut_out(made, op), box, op.turn)
            self._stamp(*placed, op, opaque=made is whole and not reader.clear)
        else:
            self._stamp(cut_out(self._cut(frame, op), op), box, op, opaque=False)

    def _moment(self, op: DrawPicture) -> tuple[Any, Any]:
        """A reader, and what it has decoded of footage at a moment."""
        key = (op.source, op.at, op.between)
        known = self._decoded.get(key)
        if known is None:
            use = "+" * self._uses[op.source]
            more = self._sources.between(op.between, use) if op.between is not None else None
            reader = more or self._sources.footage(op.source, use)
            self._uses[op.source] += 1
            known = self._decoded[key] = reader, reader.frame(op.at)
        return known

    @part()
    def _cut(self, pixels: Pixels, op: DrawPicture) -> Pixels:
        """What the matte of a picture leaves of it; all of it where there is none yet."""
        if op.matte is None:
            return pixels
        matte = self._sources.matte(op.matte.need, op.at, "+" * self._uses[op.source])
        if matte is None:
            return pixels
        return cut_by(pixels, fitted(matte, op.matte, pixels.shape[1], pixels.shape[0]))

    def _held_still(self, pixels: Pixels, op: DrawPicture) -> Pixels:
        """A frame without the shaking of the camera, where that is known."""
        path = self._sources.path(op.steady.need) if op.steady is not None else None
        return pixels if path is None or op.steady is None else steadied(pixels, path, op.at, op.steady.amount)

    @part()
    def _enlarged(self, pixels: Pixels, box: Box, turn: float) -> tuple[Pixels, Box]:
        """Opaque pixels and where they go. What must grow is cropped to what is seen and enlarged smoothly:
        several times faster than letting the canvas do it for the whole picture."""
        high, wide = pixels.shape[:2]
        across, down = box.width / wide, box.height / high
        if (across <= 1.001 and down <= 1.001) or turn or self._moving == (True, False):
            return pixels, box
        begin_x, begin_y = self._corner
        left = max(0, math.floor((begin_x - box.x) / across) - 1)
        top = max(0, math.floor((begin_y - box.y) / down) - 1)
        right = min(wide, math.ceil((begin_x + self.width - box.x) / across) + 1)
        bottom = min(high, math.ceil((begin_y + self.height - box.y) / down) + 1)
        if right <= left or bottom <= top:
            return pixels, box
        seen = Box(box.x + left * across, box.y + top * down, (right - left) * across, (bottom - top) * down)
        size = (max(1, round(seen.width)), max(1, round(seen.height)))
        grown: Any = cv2.resize(pixels[top:bottom, left:right], size, interpolation=cv2.INTER_CUBIC)
        return grown, seen

    @part(2)
    def _stamp(self, pixels: Pixels, box: Box, op: DrawPicture, *, opaque: bool) -> None:
        if (op.turn or self._moving[0]) and self._warped(pixels, box, op):
            return
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

    @part()
    def _warped(self, pixels: Pixels, box: Box, op: DrawPicture) -> bool:
        """Draws a large picture that is turned, scaled or moved by fractions of a pixel: brought to the frame's own
        pixels first, which takes a tenth of the time that the canvas would. Small ones are left to it."""
        if box.width * box.height < WARPED:
            return False
        high, wide = pixels.shape[:2]
        total = self._canvas.getTotalMatrix()
        if op.turn:
            middle = skia.Point(box.x + box.width / 2, box.y + box.height / 2)
            total = skia.Matrix.Concat(total, skia.Matrix.RotateDeg(op.turn, middle))
        place = skia.Matrix.Translate(box.x, box.y)
        place.preScale(box.width / wide, box.height / high)
        total = skia.Matrix.Concat(total, place)
        clip = self._canvas.getDeviceClipBounds()
        seen = total.mapRect(skia.Rect.MakeWH(wide, high)).roundOut()
        if not seen.intersect(clip):
            return True
        across, down = seen.left(), seen.top()
        wide_x, high_x, wide_y, high_y = total.getScaleX(), total.getSkewX(), total.getSkewY(), total.getScaleY()
        # Here the middles of pixels lie on whole numbers; on the canvas half a pixel further.
        begin_x = total.getTranslateX() - across + (wide_x + high_x) / 2 - 0.5
        begin_y = total.getTranslateY() - down + (wide_y + high_y) / 2 - 0.5
        matrix = np.array([[wide_x, high_x, begin_x], [wide_y, high_y, begin_y]], np.float64)
        made = np.asarray(cv2.warpAffine(pixels, matrix, (seen.width(), seen.height()), flags=cv2.INTER_LINEAR,
                                         borderMode=cv2.BORDER_CONSTANT))  # fmt: skip
        self._canvas.save()
        self._canvas.resetMatrix()
        self._canvas.drawImage(image_of(made, opaque=False), across, down, _EXACT, skia.Paint(Alphaf=op.opacity))
        self._canvas.restore()
        return True


@part()
def cut_out(pixels: Pixels, op: DrawPicture) -> Pixels:
    """What is left of a picture when it is cropped, to the pixel, and mirrored."""
    if op.crop is not None:
        high, wide = pixels.shape[:2]
        left, top, right, bottom = op.crop
        x, y = min(wide - 1, round(left * wide)), min(high - 1, round(top * high))
        pixels = pixels[y : max(y + 1, round((1 - bottom) * high)), x : max(x + 1, round((1 - right) * wide))]
    if op.flip != (False, False):
        pixels = np.asarray(cv2.flip(pixels, -1 if op.flip == (True, True) else 1 if op.flip[0] else 0))
    return pixels
