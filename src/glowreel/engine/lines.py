"""Shapes and lines: paths that are filled, fade, are broken into dashes, and draw themselves."""

from __future__ import annotations

import math
from typing import Any

import skia

from glowreel.core.recipe.model import DrawPath
from glowreel.engine.drawing import part
from glowreel.engine.masks import path_of
from glowreel.engine.type.letters import colour


@part()
def placed_path(op: DrawPath) -> Any:
    """The path where it lies, in canonical units."""
    box = op.box
    if op.radius > 0:
        rect = skia.Rect.MakeXYWH(box.x, box.y, box.width, box.height)
        return skia.Path.RRect(skia.RRect.MakeRectXY(rect, op.radius, op.radius))
    path = skia.Path(path_of(op.path))
    matrix = skia.Matrix.Translate(box.x, box.y)
    if op.unit:
        matrix = matrix.preScale(box.width, box.height)
    path.transform(matrix)
    return path


@part()
def draw_path(canvas: Any, op: DrawPath, scale: float) -> None:
    """Draws a path; the canvas is in pixels, `scale` of them to a canonical unit."""
    path = placed_path(op)
    canvas.save()
    canvas.scale(scale, scale)
    if op.colour:
        canvas.drawPath(path, _fill(op))
    if op.width > 0 and op.drawn > 0:
        canvas.drawPath(path, _line(op))
    canvas.restore()


def _fill(op: DrawPath) -> Any:
    paint = skia.Paint(AntiAlias=True, Color=colour(op.colour, op.opacity))
    if op.second:
        box, angle = op.box, math.radians(op.angle)
        across, down = math.cos(angle), math.sin(angle)
        far = (abs(across) * box.width + abs(down) * box.height) / 2
        x, y = box.x + box.width / 2, box.y + box.height / 2
        ends = [skia.Point(x + way * across * far, y + way * down * far) for way in (-1, 1)]
        colours = [colour(op.colour, op.opacity), colour(op.second, op.opacity)]
        paint.setShader(skia.GradientShader.MakeLinear(ends, colours))
    return paint


def _line(op: DrawPath) -> Any:
    paint = skia.Paint(AntiAlias=True, Color=colour(op.line, op.opacity))
    paint.setStyle(skia.Paint.kStroke_Style)
    paint.setStrokeWidth(op.width)
    paint.setStrokeCap(skia.Paint.kRound_Cap)
    paint.setStrokeJoin(skia.Paint.kRound_Join)
    effect = None
    if op.dash > 0:
        # A round end reaches beyond its piece by half a width on either side: the gap is longer by that.
        effect = skia.DashPathEffect.Make([op.dash * op.width, (op.dash + 1) * op.width], 0)
    if op.drawn < 1:
        trimmed = skia.TrimPathEffect.Make(0.0, op.drawn)
        effect = skia.PathEffect.MakeCompose(effect, trimmed) if effect is not None else trimmed
    if effect is not None:
        paint.setPathEffect(effect)
    return paint
