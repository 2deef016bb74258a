"""Masks and ways of blending, as Skia knows them."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

import skia
from fontTools.pens.basePen import BasePen
from fontTools.svgLib.path import parse_path

from glowreel.core.recipe.model import Mask
from glowreel.engine.drawing import part

BLEND_MODES: dict[str, Any] = {
    "normal": skia.BlendMode.kSrcOver,
    "multiply": skia.BlendMode.kMultiply,
    "screen": skia.BlendMode.kScreen,
    "overlay": skia.BlendMode.kOverlay,
    "soft-light": skia.BlendMode.kSoftLight,
    "hard-light": skia.BlendMode.kHardLight,
    "add": skia.BlendMode.kPlus,
    "lighten": skia.BlendMode.kLighten,
    "darken": skia.BlendMode.kDarken,
    "difference": skia.BlendMode.kDifference,
    "colour": skia.BlendMode.kColor,
    "erase": skia.BlendMode.kDstOut,
    "keep": skia.BlendMode.kDstIn,
}
"""By the names of `core.vocabulary.BLENDS`; and one that takes away what it covers."""


class _SkiaPen(BasePen):
    """Draws what it is told into a Skia path."""

    def __init__(self) -> None:
        super().__init__(None)
        self.builder = skia.PathBuilder()

    def _moveTo(self, spot: tuple[float, float]) -> None:
        self.builder.moveTo(*spot)

    def _lineTo(self, spot: tuple[float, float]) -> None:
        self.builder.lineTo(*spot)

    def _curveToOne(self, *spots: tuple[float, float]) -> None:
        self.builder.cubicTo(*(value for spot in spots for value in spot))

    def _closePath(self) -> None:
        self.builder.close()


@lru_cache(maxsize=512)
def path_of(text: str) -> Any:
    """A Skia path of SVG path data; the unit square where it cannot be read."""
    pen = _SkiaPen()
    try:
        parse_path(text, pen)
    except (ValueError, IndexError, AssertionError, TypeError, ZeroDivisionError):
        return skia.Path.Rect(skia.Rect.MakeWH(1, 1))
    found = pen.builder.detach()
    return found if found.countVerbs() and found.isFinite() else skia.Path.Rect(skia.Rect.MakeWH(1, 1))


@part()
def outline(mask: Mask, scale: float) -> Any:
    """The shape of a mask in pixels."""
    box = mask.box
    if not mask.path:
        rect = skia.Rect.MakeXYWH(*(v * scale for v in (box.x, box.y, box.width, box.height)))
        path = skia.Path().addRoundRect(rect, mask.radius * scale, mask.radius * scale)
    else:
        path = skia.Path(path_of(mask.path))
        # A path of another size than the unit square is brought to it.
        bounds = path.computeTightBounds()
        within = skia.Rect.MakeLTRB(-0.01, -0.01, 1.01, 1.01)
        source = skia.Rect.MakeWH(1, 1) if within.contains(bounds) else bounds
        target = skia.Rect.MakeXYWH(*(v * scale for v in (box.x, box.y, box.width, box.height)))
        path.transform(skia.Matrix.MakeRectToRect(source, target, skia.Matrix.ScaleToFit.kFill_ScaleToFit))
    if mask.turn:
        middle = (box.x + box.width / 2) * scale, (box.y + box.height / 2) * scale
        path.transform(skia.Matrix.RotateDeg(mask.turn, skia.Point(*middle)))
    return path


@part()
def clip(canvas: Any, mask: Mask, scale: float) -> None:
    """Lets only what is in a hard-edged mask be seen from now on."""
    how = skia.ClipOp.kDifference if mask.inverted else skia.ClipOp.kIntersect
    canvas.clipPath(outline(mask, scale), how, True)


def hard(mask: Mask) -> bool:
    """Whether a mask is a plain shape with a sharp edge, which costs next to nothing."""
    return mask.picture is None and mask.feather <= 0


@part()
def cut(canvas: Any, mask: Mask, scale: float, draw_picture: Any) -> None:
    """Takes away what a mask hides of all that is drawn in the current layer. `draw_picture` draws a picture."""
    paint = skia.Paint(BlendMode=skia.BlendMode.kDstOut if mask.inverted else skia.BlendMode.kDstIn)
    if mask.picture is not None and mask.by == "brightness":
        paint.setColorFilter(skia.LumaColorFilter.Make())
    canvas.saveLayer(None, paint)
    if mask.picture is not None:
        canvas.clipPath(outline(mask, scale), skia.ClipOp.kIntersect, True)
        draw_picture(mask.picture)
    else:
        shape = skia.Paint(AntiAlias=True, Color=skia.ColorWHITE)
        if mask.feather > 0:
            shape.setMaskFilter(skia.MaskFilter.MakeBlur(skia.BlurStyle.kNormal_BlurStyle, mask.feather * scale))
        canvas.drawPath(outline(mask, scale), shape)
    canvas.restore()
