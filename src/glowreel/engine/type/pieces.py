"""Drawing words whose letters move: each unit is drawn once by itself and stamped from then on, in its state."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import reduce
from typing import Any

import cv2
import numpy as np
import skia

from glowreel.core.letters import Play, State, both, states
from glowreel.core.recipe.model import DrawWords
from glowreel.core.words import Words
from glowreel.engine.drawing import part
from glowreel.engine.footage import Pixels
from glowreel.engine.memory import Cache
from glowreel.engine.sources import image_of
from glowreel.engine.type.letters import colour, draw_behind, draw_letters
from glowreel.engine.type.setting import Set, Setting, set_words, units_of

LINEAR = skia.SamplingOptions(skia.FilterMode.kLinear)
ROOM = 0.45
"""Room around a unit for what reaches beyond its letters, in letter sizes; with shadows, more."""


MARKED = 0.14
"""How far a highlight reaches beyond letters: words that stand beside one another share one."""


@dataclass(frozen=True)
class _Unit:
    """Letters that move together: their extent in canonical units from the corner of the words."""

    letters: tuple[Set, ...]
    left: float
    top: float
    right: float
    low: float

    @property
    def middle(self) -> tuple[float, float]:
        return (self.left + self.right) / 2, (self.top + self.low) / 2


def _unit(letters: Sequence[Set]) -> _Unit:
    rise = max(one.letter.face.rise[0] * one.letter.size for one in letters)
    fall = max(one.letter.face.rise[1] * one.letter.size for one in letters)
    tall = (rise + fall) / 2 if any(one.turn for one in letters) else 0.0
    return _Unit(
        tuple(letters), min(one.x - one.before for one in letters) - tall, min(one.y for one in letters) - rise - tall,
        max(one.x + one.letter.width for one in letters) + tall, max(one.y for one in letters) + fall + tall,
    )  # fmt: skip


def _finest(plays: Sequence[Play]) -> str:
    """The smallest unit that any of the ways needs."""
    return min((play.unit for play in plays), key=("letter", "word", "line").index)


@part()
def states_of(setting: Setting, plays: Sequence[Play]) -> tuple[list[list[Set]], list[State]]:
    """The units of words and what becomes of each."""
    units = units_of(setting, _finest(plays))
    found: list[State] = [State()] * len(units)
    for play in plays:
        own = units_of(setting, play.unit)
        given = states(play, len(own))
        spot = {one.letter.start: n for n, group in enumerate(own) for one in group}
        found = [both(old, given[spot[unit[0].letter.start]]) for old, unit in zip(found, units, strict=True)]
    return units, found


@part()
def draw_pieces(canvas: Any, op: DrawWords, scale: float, sprites: Cache[Pixels]) -> None:
    """Draws words whose letters move; the canvas is in pixels, `scale` of them to a canonical unit."""
    setting = set_words(op.words, op.size, op.wrap)
    units, found = states_of(setting, op.plays)
    canvas.save()
    if op.turn:
        canvas.rotate(op.turn, (op.box.x + op.box.width / 2) * scale, (op.box.y + op.box.height / 2) * scale)
    canvas.translate(op.box.x * scale, op.box.y * scale)
    if op.opacity < 1:
        canvas.saveLayerAlpha(None, round(op.opacity * 255))
    _behind(canvas, op, setting, found, scale)
    second = next((play.colour for play in op.plays if play.colour), "")
    boxes = [_unit(unit) for unit in units]
    for box, state in zip(boxes, found, strict=True):
        if state.mark > 0:
            _marked(canvas, op, box, state.mark, second, scale)
    # Drawn unit by unit, so that a later one lies over an earlier one.
    for n, (box, state) in enumerate(zip(boxes, found, strict=True)):
        other = boxes[(n + state.swap) % len(boxes)] if state.swap else box
        _stamped(canvas, op, setting, (box, other), state, second, scale, sprites)
    _caret(canvas, op, boxes, found, scale)
    if op.opacity < 1:
        canvas.restore()
    canvas.restore()


def _behind(canvas: Any, op: DrawWords, setting: Setting, found: Sequence[State], scale: float) -> None:
    """The box and highlights behind words, there as soon as the first letters are."""
    if not (op.words.box or any(run.mark for run in op.words.runs)) or not found:
        return
    there = min(1.0, max(state.opacity * state.seen for state in found))
    share = sum(state.opacity * state.seen for state in found) / len(found)
    canvas.saveLayerAlpha(None, round(255 * min(1.0, there * 1.5)))
    canvas.scale(scale, scale)
    draw_behind(canvas, op.words, op.size, setting, share)
    canvas.restore()


def _marked(canvas: Any, op: DrawWords, box: _Unit, share: float, second: str, scale: float) -> None:
    """A highlight behind a unit, as far along as it is."""
    size = op.size
    width = (box.right - box.left + 2 * MARKED * size) * share
    base = box.letters[0].y
    rect = skia.Rect.MakeXYWH(box.left - MARKED * size, base - 0.86 * size, width, 1.14 * size)
    rect = skia.Rect.MakeLTRB(*(edge * scale for edge in (rect.left(), rect.top(), rect.right(), rect.bottom())))
    canvas.drawRect(rect, skia.Paint(AntiAlias=True, Color=colour(second or "#F6B73C")))


def _stamped(
    canvas: Any, op: DrawWords, setting: Setting, boxes: tuple[_Unit, _Unit], state: State, second: str, scale: float,
    sprites: Cache[Pixels],
) -> None:  # fmt: skip
    """A unit in its state; or another one in its place."""
    if state.opacity <= 0.002 or state.scale <= 0.002 or state.seen <= 0:
        return
    box, drawn = boxes
    x, y = box.middle
    canvas.save()
    canvas.translate((x + state.dx * op.size) * scale, (y + state.dy * op.size) * scale)
    canvas.rotate(state.turn)
    canvas.scale(state.scale, state.scale)
    canvas.translate(-drawn.middle[0] * scale, -drawn.middle[1] * scale)
    room = _room(op)
    if state.seen < 1:
        wide = drawn.right - drawn.left + 2 * room
        _window(canvas, drawn, room, 0.0, wide * state.seen, scale)
    paint = skia.Paint(Alphaf=min(1.0, state.opacity))
    sung = replace(op.words, colour=second, second="", runs=tuple(replace(run, colour="") for run in op.words.runs))
    share = state.sung if second else 0.0
    # What is sung lies at the side at which it is begun to be read.
    back = drawn.letters[0].letter.level % 2 == 1
    edge = room + (drawn.right - drawn.left) * (1 - share if back else share)
    whole = drawn.right - drawn.left + 2 * room
    for words, there, (start, end) in (
        (sung, share > 0, (edge, whole) if back else (0.0, edge)),
        (op.words, share < 1, (0.0, edge) if back else (edge, whole)),
    ):
        if not there:
            continue
        canvas.save()
        if 0 < share < 1:
            _window(canvas, drawn, room, start, end - start, scale)
        _put(canvas, op, setting, drawn, words, state.blur, scale, sprites, paint)
        canvas.restore()
    canvas.restore()


def _window(canvas: Any, box: _Unit, room: float, start: float, width: float, scale: float) -> None:
    """Lets only part of a unit be seen, from `start` on, in canonical units from where its room begins."""
    left = box.left - room + start
    rect = skia.Rect.MakeLTRB(left, box.top - 2 * room, left + width, box.low + 2 * room)
    canvas.clipRect(skia.Rect.MakeLTRB(*(v * scale for v in (rect.left(), rect.top(), rect.right(), rect.bottom()))))


def _room(op: DrawWords) -> float:
    reach = [0.0, op.words.outline, 0.5 if op.words.shadow else 0.0]
    reach += [math.hypot(shade.across, shade.down) + 3 * shade.soft for shade in op.words.shades]
    return (ROOM + max(reach)) * op.size


def _put(
    canvas: Any, op: DrawWords, setting: Setting, box: _Unit, words: Words, blur: float, scale: float,
    sprites: Cache[Pixels], paint: Any,
) -> None:  # fmt: skip
    """The picture of a unit, from what is kept."""
    room = _room(op) + (3 * blur * op.size)
    left, top = math.floor((box.left - room) * scale), math.floor((box.top - room) * scale)
    key = (words, op.size, op.wrap, scale, box.letters[0].letter.start, len(box.letters), blur)
    sprite = sprites.get(key)
    if sprite is None:
        width = math.ceil((box.right + room) * scale) - left + 1
        height = math.ceil((box.low + room) * scale) - top + 1
        sprite = draw_unit(words, op.size, setting, box.letters, (left, top, width, height), scale)
        if blur:
            sprite = np.asarray(cv2.GaussianBlur(sprite, (0, 0), max(0.1, blur * op.size * scale)))
        sprites.put(key, sprite, sprite.nbytes)
    canvas.drawImage(image_of(sprite, opaque=False), left, top, LINEAR, paint)


@part()
def draw_unit(
    words: Words, size: float, setting: Setting, letters: Sequence[Set], rect: tuple[int, int, int, int], scale: float
) -> Pixels:
    """Letters by themselves: a rectangle (left, top, width, height) in pixels. Small ones are drawn large and shrunk,
    as words that stand still are."""
    left, top, width, height = rect
    times = max(1, math.ceil(1 / scale - 1e-6))
    pixels: Pixels = np.zeros((height * times, width * times, 4), np.uint8)
    info = skia.ImageInfo.Make(width * times, height * times, skia.kBGRA_8888_ColorType, skia.kPremul_AlphaType)
    paper = skia.Surface.MakeRasterDirect(info, pixels, pixels.strides[0]).getCanvas()
    paper.scale(times, times)
    paper.translate(-left, -top)
    paper.scale(scale, scale)
    draw_letters(paper, words, size, setting, letters)
    if times == 1:
        return pixels
    return np.asarray(cv2.resize(pixels, (width, height), interpolation=cv2.INTER_AREA))


def _caret(canvas: Any, op: DrawWords, boxes: Sequence[_Unit], found: Sequence[State], scale: float) -> None:
    """A caret behind the last letter that is there, while letters are typed."""
    at = [box for box, state in zip(boxes, found, strict=True) if state.caret]
    if not at:
        return
    last = reduce(lambda a, b: b, at)
    one = last.letters[-1]
    x = one.x if one.letter.level % 2 else one.x + one.letter.width
    rect = skia.Rect.MakeXYWH(x + 0.04 * op.size, one.y - 0.8 * op.size, 0.06 * op.size, op.size)
    rect = skia.Rect.MakeLTRB(*(edge * scale for edge in (rect.left(), rect.top(), rect.right(), rect.bottom())))
    canvas.drawRect(rect, skia.Paint(AntiAlias=True, Color=colour(op.words.colour)))
