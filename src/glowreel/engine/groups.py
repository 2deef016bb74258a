"""How groups are drawn: by themselves where something is done to their pixels, else straight into what is there."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Any

import cv2
import skia

import glowreel.engine.effects  # noqa: F401  (what draws effects registers itself)
from glowreel.core.layout import Box
from glowreel.core.recipe.model import Composite, Window
from glowreel.engine import masks
from glowreel.engine.drawing import EFFECTS, Area, draws, part
from glowreel.engine.footage import Pixels
from glowreel.engine.sources import image_of
from glowreel.engine.stills import runs

if TYPE_CHECKING:
    from glowreel.engine.draw import Canvas

_LINEAR = skia.SamplingOptions(skia.FilterMode.kLinear)
_EXACT = skia.SamplingOptions(skia.FilterMode.kNearest)
BLUR_GRAIN = 3.0
"""A blurred frame is drawn so small that the blur still has this deviation, in pixels."""
BEYOND = 0.5
"""What moves is drawn as far as half a frame beyond its edges."""


@draws(Composite, 3)
def group(canvas: Canvas, op: Composite) -> None:
    """Operations changed, masked, moved, blurred and seen through a window together. See `Composite` for the order."""
    scale, paper = canvas._scale, canvas._canvas
    moving = bool(op.dx or op.dy or op.turn or op.scale != 1 or op.wide != 1 or op.high != 1)
    plain = not (op.effects or op.masks or op.blend != "normal")
    if plain and op.framed and op.blur * scale >= 2 * BLUR_GRAIN and not moving and op.window is None:
        blurred(canvas, op)
        return
    paper.save()
    if op.window is not None:
        see_through(paper, op.window, scale)
    soft = [mask for mask in op.masks if not masks.hard(mask)]
    layer = op.apart or op.opacity < 1 or op.blur > 0 or op.blend != "normal" or bool(soft)
    # What is already pixels is laid over with all of that at once.
    made = op.effects and not soft and not op.blur
    if layer and not made:
        paper.saveLayer(None, over(op, scale))
    else:
        paper.save()
    if moving:
        move(paper, op, scale)
    if op.framed:
        paper.clipRect(canvas._frame, True)
    for mask in op.masks:
        if masks.hard(mask):
            masks.clip(paper, mask, scale)
    if op.effects:
        changed(canvas, op, moving, over(op, scale) if made else skia.Paint())
    else:
        outer, canvas._moving = canvas._moving, (moving, op.framed)
        canvas.run(op.ops)
        canvas._moving = outer
    for mask in soft:
        masks.cut(paper, mask, scale, canvas._picture)
    paper.restore()
    paper.restore()


@part()
def over(op: Composite, scale: float) -> Any:
    """The paint with which a group is laid over what is there."""
    paint = skia.Paint(Alphaf=op.opacity, BlendMode=masks.BLEND_MODES[op.blend])
    if op.blur > 0:
        edge = skia.TileMode.kClamp if op.framed else skia.TileMode.kDecal
        paint.setImageFilter(skia.ImageFilters.Blur(op.blur * scale, op.blur * scale, edge))
    return paint


@part()
def move(paper: Any, op: Composite, scale: float) -> None:
    """Moves, turns and scales what is drawn from now on."""
    x, y = op.about[0] * scale, op.about[1] * scale
    paper.translate(op.dx * scale + x, op.dy * scale + y)
    paper.rotate(op.turn)
    paper.scale(op.scale * op.wide, op.scale * op.high)
    paper.translate(-x, -y)


@part()
def see_through(paper: Any, window: Window, scale: float) -> None:
    """Lets only what is in a window be seen."""
    hole = skia.Rect.MakeXYWH(*(v * scale for v in (window.x, window.y, window.width, window.height)))
    if window.round:
        paper.clipPath(skia.Path.Oval(hole), True)
    elif window.radius:
        radius = window.radius * scale
        paper.clipRRect(skia.RRect.MakeRectXY(hole, radius, radius), True)
    else:
        paper.clipRect(hole, True)


@part()
def changed(canvas: Canvas, op: Composite, moving: bool, paint: Any) -> None:
    """What is drawn by itself, with its effects done one after another; made once where it stays as it is."""
    rect = reached(canvas, op, moving)
    if rect is None:
        return
    still = not any(runs(inner) for inner in op.ops)
    key = (op.ops, op.effects, op.region, rect, canvas._scale)
    pixels = canvas.stills.get(key) if still else None
    if pixels is None:
        pixels = canvas.apart(op.ops, rect)
        region = op.region or Box(0, 0, canvas._frame.width() / canvas._scale, canvas._frame.height() / canvas._scale)
        scale = canvas._scale
        area = Area(
            scale, region.x * scale - rect[0], region.y * scale - rect[1], region.width * scale, region.height * scale
        )
        for effect in op.effects:
            values = dict(effect.values)
            if "source" in values:
                values["table"] = canvas._sources.look(values["source"])
            pixels = EFFECTS[effect.kind].function(pixels, values, area)
        if still:
            canvas.stills.put(key, pixels)
    sampling = _LINEAR if moving or canvas._moving[0] else _EXACT
    canvas._canvas.drawImage(image_of(pixels, opaque=False), rect[0], rect[1], sampling, paint)


@part()
def reached(canvas: Canvas, op: Composite, moving: bool) -> tuple[int, int, int, int] | None:
    """The rectangle in pixels in which a group with effects can show anything; None where that is nothing."""
    scale, frame = canvas._scale, canvas._frame
    spread = sum(EFFECTS[effect.kind].reach(dict(effect.values)) for effect in op.effects) * scale
    width, height = frame.width(), frame.height()
    if op.region is None:
        return 0, 0, math.ceil(width), math.ceil(height)
    free = moving or canvas._moving[0]
    beyond_x, beyond_y = (width * BEYOND, height * BEYOND) if free else (0.0, 0.0)
    left = max(op.region.x * scale, -beyond_x - spread) - spread
    top = max(op.region.y * scale, -beyond_y - spread) - spread
    right = min((op.region.x + op.region.width) * scale, width + beyond_x + spread) + spread
    bottom = min((op.region.y + op.region.height) * scale, height + beyond_y + spread) + spread
    x, y = math.floor(left + 1e-6), math.floor(top + 1e-6)
    wide, high = math.ceil(right - 1e-6) - x, math.ceil(bottom - 1e-6) - y
    return (x, y, wide, high) if wide > 0 and high > 0 and right > left and bottom > top else None


@part(2)
def blurred(canvas: Canvas, op: Composite) -> None:
    """The whole frame, blurred: drawn small, as nothing fine is left of it, which is many times faster."""
    deviation = op.blur * canvas._scale
    times = min(16, int(deviation / BLUR_GRAIN))
    whole = round(canvas._frame.width()), round(canvas._frame.height())
    size = (max(2, whole[0] // times), max(2, whole[1] // times))
    # By the larger of both, so that what covers the frame covers the last row and column of this as well.
    share = max(size[0] / whole[0], size[1] / whole[1])
    pixels = canvas.apart(op.ops, (0, 0, *size), canvas._scale * share)
    soft: Any = cv2.GaussianBlur(pixels, (0, 0), deviation * share, borderType=cv2.BORDER_REPLICATE)
    grown: Pixels = cv2.resize(soft, whole, interpolation=cv2.INTER_LINEAR)
    canvas._canvas.drawImage(image_of(grown, opaque=False), 0, 0, _EXACT, skia.Paint(Alphaf=op.opacity))
