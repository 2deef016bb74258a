"""From a design and the values of its fields to drawing operations, laid out by rule in any shape of frame.

Each box first says how large it wants to be in the room there is; then it is given a rectangle and draws itself there.
All lengths in canonical units (short side 1080).
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field, replace

from glowreel.core.design.code import code_path
from glowreel.core.design.model import Box, Design
from glowreel.core.easing import eased
from glowreel.core.formats import CANON
from glowreel.core.layout import Box as Rect
from glowreel.core.layout import Measure
from glowreel.core.letters import LETTER_WAYS, Play, counted
from glowreel.core.recipe.model import (
    Composite,
    DrawGradient,
    DrawPath,
    DrawPicture,
    DrawShape,
    DrawWave,
    DrawWords,
    Mask,
    Op,
    SoundRecipe,
    Window,
)
from glowreel.core.recipe.motions import RISE, moved, stayed
from glowreel.core.shapes import SHAPES
from glowreel.core.words import Shade, Words, cased

SHRINK = 0.94
SMALLEST = 0.4
"""Words that have more lines than they may, or a word wider than its room, are set smaller by steps, to no less than
this share of their size."""
ENDLESS = 100.0 * CANON
"""Wider than any word."""


@dataclass(frozen=True)
class Filled:
    """What a design is resolved with: its fields, and what fills roles; `aside` is how much of the frame's width stays
    free beside it on either side. `picture` gives the operation that draws a
    field's picture over a rectangle, or nothing where the field is empty."""

    text: Callable[[str], str]
    colour: Callable[[str], str]
    font: Callable[[str], str]
    picture: Callable[[str, Rect, bool], DrawPicture | None]
    measure: Measure
    frame: tuple[float, float]
    aside: float
    scale: float
    since: float
    """Seconds of the part's own time; past all motion where it is shown at rest."""
    resting: bool = False
    share: float = 1.0
    """How much of the part's whole time has gone by."""
    left: float = 0.0
    """Seconds of it that are left."""
    chapters: tuple[tuple[str, float, float], ...] = ()
    """The scenes that go by in its time: what each is called, from which share of its time to which."""
    heard: Callable[[], SoundRecipe] | None = None
    """What is heard at the moment."""


@dataclass
class Laid:
    """A box with the room it wants, and its children's."""

    box: Box
    width: float
    height: float
    words: Words | None = None
    size: float = 0.0
    wrap: float = 0.0
    children: list[Laid] = field(default_factory=list)


def resolve(design: Design, filled: Filled) -> tuple[tuple[float, float], Callable[[float, float], list[Op]]]:
    """The size that a design takes, and how it is drawn with its top left corner at a point."""
    laid = laid_out(design, filled)

    def draw(x: float, y: float) -> list[Op]:
        return _drawn(laid, Rect(x, y, laid.width, laid.height), filled)

    return (laid.width, laid.height), draw


def laid_out(design: Design, filled: Filled) -> Laid:
    """The arrangement of a design for its frame, with the room that each box wants."""
    width, height = filled.frame
    root = design.for_shape(width / height)
    if design.frame == "full":
        return replace(_wanted(root, width, height, filled), width=width, height=height)
    room = max(CANON * 0.2, width - 2 * filled.aside)
    if root.kind not in ("words", "stack", "grid") and isinstance(root.width, float | int):
        room = max(room, _units(root.width, filled))  # What is so large by itself may reach into the margin.
    return _wanted(root, room, height, filled)


def _units(value: float, filled: Filled) -> float:
    return value * CANON * filled.scale


def _wanted(box: Box, room: float, high: float, filled: Filled) -> Laid:
    """How large a box wants to be, in the room there is."""
    if isinstance(box.width, float | int):
        room = min(room, _units(box.width, filled))
    if box.kind == "words":
        return _words(box, room, filled)
    if box.kind in ("stack", "grid"):
        return _stacked(box, room, high, filled)
    width = _extent(box.width, room, filled)
    height = width if box.kind in ("code", "ring") else _extent(box.height, high, filled)
    return Laid(box, width, height)


def _extent(extent: float | str, room: float, filled: Filled) -> float:
    if isinstance(extent, str):
        return room if extent == "fill" else 0.0
    return min(room, _units(extent, filled)) if extent else 0.0


def _words(box: Box, room: float, filled: Filled) -> Laid:
    text = (filled.text(box.field) if box.field else box.text).replace("{left}", _clock(filled.left))
    text = text.replace("{chapter}", _chapter(filled))
    if not text.strip():
        return Laid(box, 0.0, 0.0)
    words = _lettered(box, cased(text, box.case), filled)
    size = _units(box.size, filled)
    least = size * SMALLEST
    if box.lines and not box.arc:
        longest = replace(words, text=max(words.text.split(), key=len))
        while size > least and filled.measure(longest, size, ENDLESS)[0] > room:
            size *= SHRINK
    width, height = filled.measure(words, size, room)
    while box.lines and not box.arc and size > least and height > (box.lines + 0.5) * size * box.line:
        size *= SHRINK
        width, height = filled.measure(words, size, room)
    return Laid(box, room if box.width == "fill" else width, height, words, size, room)


def _lettered(box: Box, text: str, filled: Filled) -> Words:
    """The words of a box with everything about their letters decided."""
    shades: tuple[Shade, ...] = ()
    if box.cast:
        shades = (Shade(round(box.cast * 0.7, 5), round(box.cast * 0.7, 5), 0.0, filled.colour(box.cast_colour), 1.0),)
    if box.glow:
        light = filled.colour(box.second or box.colour)
        shades = (*shades, *(Shade(0.0, 0.0, soft, light, box.glow) for soft in (0.3, 0.12, 0.05)))
    return Words(
        text, filled.font(box.font), box.weight, filled.colour(box.colour), box.align, box.line,
        box=filled.colour(box.box) if box.box else "", box_of=box.box_of, pad=(0.3, 0.08), round=0.12,
        shadow=box.shadow, italic=box.italic, spacing=box.spacing,
        second=filled.colour(box.second) if box.second and not box.glow else "", angle=box.angle, outline=box.outline,
        outline_colour=filled.colour(box.outline_colour), shades=shades, under=box.under,
        under_colour=filled.colour(box.under_colour), arc=box.arc,
    )  # fmt: skip


def _stacked(box: Box, room: float, high: float, filled: Filled) -> Laid:
    pad_x, pad_y = (_units(pad, filled) for pad in box.pad)
    gap = _units(box.gap, filled)
    inner = max(1.0, room - 2 * pad_x)
    count = max(1, len(box.boxes))
    if box.kind == "grid":
        rows = -(-count // box.columns)
        cell = (inner - gap * (box.columns - 1)) / box.columns, (high - 2 * pad_y - gap * (rows - 1)) / rows
        children = [_wanted(child, cell[0], cell[1], filled) for child in box.boxes]
        return Laid(box, room, high, children=children)
    rooms = _rooms(box, inner, gap, high - 2 * pad_y, filled)
    children = [_wanted(child, wide, high - 2 * pad_y, filled) for child, wide in zip(box.boxes, rooms, strict=True)]
    shown = [child for child in children if not says_nothing(child)]
    gaps = gap * max(0, len(shown) - 1)
    # What fills the room takes that of the others.
    widths = [child.width for child in shown if child.box.width != "fill"] or [0.0]
    heights = [child.height for child in shown if child.box.height != "fill"] or [0.0]
    width = sum(widths) + gaps if box.direction == "across" else max(widths)
    height = sum(heights) + gaps if box.direction == "down" else max(heights)
    width = room if box.width == "fill" else width + 2 * pad_x
    height = high if box.height == "fill" else height + 2 * pad_y
    if isinstance(box.width, float | int) and box.width:
        width = room
    if isinstance(box.height, float | int) and box.height:
        height = _units(box.height, filled)
    return Laid(box, width, height, children=children)


def _rooms(box: Box, inner: float, gap: float, high: float, filled: Filled) -> list[float]:
    """How wide each child of a stack may be. Beside one another, those of a size take theirs in turn, and what fills
    the rest shares what they leave."""
    if box.direction != "across":
        return [inner] * len(box.boxes)
    left, rooms = inner - gap * max(0, len(box.boxes) - 1), []
    filling = sum(child.width == "fill" for child in box.boxes)
    for child in box.boxes:
        rooms.append(max(1.0, left))
        if child.width != "fill":
            left -= _wanted(child, max(1.0, left), high, filled).width
    return [max(1.0, left / filling) if child.width == "fill" else room
            for child, room in zip(box.boxes, rooms, strict=True)]  # fmt: skip


def says_nothing(laid: Laid) -> bool:
    """Whether it is words that say nothing, or a stack of which all words that can be filled say nothing: they take no
    room and no gap."""
    if laid.box.kind == "words":
        return laid.words is None
    fields = [one for one in _inside(laid) if one.box.kind in ("words", "picture") and one.box.field]
    return bool(fields) and all(one.box.kind == "words" and one.words is None for one in fields)


def _inside(laid: Laid) -> list[Laid]:
    return [inner for child in laid.children for inner in (child, *_inside(child))]


def _drawn(laid: Laid, rect: Rect, filled: Filled) -> list[Op]:
    """A box in a rectangle, as it is at this moment of its coming."""
    box = laid.box
    ops = _itself(laid, rect, filled)
    for child, place in zip(laid.children, places(laid, rect, filled), strict=True):
        if not says_nothing(child):
            ops += _drawn(child, place, filled)
    if box.stays != "none" and not filled.resting and ops:
        ops = [stayed(Composite(tuple(ops)), rect, box.stays, filled.since, rate=1.0, strength=1.0)]
    if box.opacity < 1 or box.turn:
        about = (rect.x + rect.width / 2, rect.y + rect.height / 2)
        ops = [Composite(tuple(ops), opacity=box.opacity, turn=box.turn, about=about)] if ops else []
    return _coming(box, ops, rect, filled) if box.comes is not None and ops else ops


def _itself(laid: Laid, rect: Rect, filled: Filled) -> list[Op]:
    box = laid.box
    if laid.words is not None:
        height = filled.measure(laid.words, laid.size, laid.wrap)[1]
        width = filled.measure(laid.words, laid.size, laid.wrap)[0]
        aside = {"left": 0.0, "centre": (rect.width - width) / 2, "right": rect.width - width}[box.align]
        place = Rect(rect.x + aside, rect.y, width, height)
        words, plays = _pieces(box, laid.words, filled)
        return [DrawWords(words, laid.size, laid.wrap, place, plays=plays)] if words is not None else []
    if box.kind == "plate":
        return _plate(box, replace(rect, width=rect.width * filled.share) if box.grows else rect, filled)
    if box.kind == "ring":
        return _ring(box, rect, filled)
    if box.kind == "code":
        return _code(box, rect, filled)
    if box.kind == "shape":
        mask = Mask(rect, SHAPES[box.shape].outline(box.points, box.depth))
        return [Composite((DrawShape(rect, filled.colour(box.colour)),), masks=(mask,), region=rect)]
    if box.kind == "wave":
        sound = filled.heard() if filled.heard is not None else None
        return [DrawWave(rect, sound, box.bars, filled.colour(box.colour), _units(box.radius, filled))]
    if box.kind == "chapters":
        return _chapters(box, rect, filled)
    if box.kind == "picture" and box.field:
        op = filled.picture(box.field, rect, box.whole)
        if op is None:
            return [DrawShape(rect, filled.colour(box.colour), _units(box.radius, filled), box.round == "ellipse")]
        if box.whole:
            return [op]
        window = Window(
            rect.x, rect.y, rect.width, rect.height, round=box.round == "ellipse", radius=_units(box.radius, filled)
        )
        cut = [DrawShape(rect, filled.colour(box.colour), _units(box.radius, filled), window.round)] if op.matte else []
        return [*cut, Composite((op,), window=window)]
    return []


def _plate(box: Box, rect: Rect, filled: Filled) -> list[Op]:
    """A plate of one colour, or of one that fades into another; or only the line around it."""
    radius, ellipse, edge = _units(box.radius, filled), box.round == "ellipse", _units(box.line_only, filled)
    if box.fades:
        colour = filled.colour(box.colour)
        shade = DrawGradient((colour, colour), box.angle, opacities=(0.0, 1.0), box=rect)
        return [Composite((shade,), masks=(Mask(rect, radius=radius),), region=rect)]
    if box.second:
        whole: Op = DrawGradient((filled.colour(box.colour), filled.colour(box.second)), box.angle, box=rect)
        shape = SHAPES["ellipse"].outline(5, 0.5) if ellipse else ""
        return [Composite((whole,), masks=(Mask(rect, shape, radius=radius),), region=rect)]
    plate = DrawShape(rect, filled.colour(box.colour), radius, ellipse)
    if not edge:
        return [plate]
    inner = Rect(rect.x + edge, rect.y + edge, max(0.0, rect.width - 2 * edge), max(0.0, rect.height - 2 * edge))
    hole = DrawShape(inner, "#FFFFFF", max(0.0, radius - edge), ellipse)
    return [Composite((plate, Composite((hole,), blend="erase")), apart=True)]


def _clock(left: float) -> str:
    """Seconds that are left, as they are counted down: whole ones, from a minute on with minutes."""
    whole = max(0, math.ceil(left - 1e-6))
    return f"{whole // 60}:{whole % 60:02d}" if whole >= 60 else str(whole)


def _chapter(filled: Filled) -> str:
    """What the scene is called that is on show."""
    now = [name for name, first, last in filled.chapters if first <= filled.share < last]
    return now[0] if now else (filled.chapters[-1][0] if filled.chapters else "")


def _chapters(box: Box, rect: Rect, filled: Filled) -> list[Op]:
    """A bar for each scene that goes by, as wide as its share of the time, filled as far as that has gone by."""
    chapters = filled.chapters or (("", 0.0, 1.0),)
    gap, radius = _units(box.gap, filled), _units(box.radius, filled)
    spare = max(1.0, rect.width - gap * (len(chapters) - 1))
    ops: list[Op] = []
    x = rect.x
    for _, first, last in chapters:
        wide = spare * (last - first)
        gone = min(1.0, max(0.0, (filled.share - first) / max(1e-9, last - first)))
        ops.append(DrawShape(Rect(x, rect.y, wide, rect.height), filled.colour(box.second or "ink"), radius))
        if gone > 0:
            ops.append(DrawShape(Rect(x, rect.y, wide * gone, rect.height), filled.colour(box.colour), radius))
        x += wide + gap
    return ops


def _ring(box: Box, rect: Rect, filled: Filled) -> list[Op]:
    """A faint ring, and over it as much of it as time has gone by, from the top on."""
    edge = _units(box.line_only or 0.015, filled)
    inner = Rect(rect.x + edge / 2, rect.y + edge / 2, max(1.0, rect.width - edge), max(1.0, rect.height - edge))
    path = "M0.5 0 A0.5 0.5 0 1 1 0.5 1 A0.5 0.5 0 1 1 0.5 0"
    colour = filled.colour(box.colour)
    ground = DrawPath(path, inner, True, "", width=edge, line=colour, opacity=0.25)
    return [ground, DrawPath(path, inner, True, "", width=edge, line=colour, drawn=round(filled.share, 6))]


def _code(box: Box, rect: Rect, filled: Filled) -> list[Op]:
    """A QR code on a light plate that leaves it the room it needs to be read."""
    text = filled.text(box.field) if box.field else box.text
    if not text.strip():
        return []
    plate = DrawShape(rect, filled.colour(box.second or "#FFFFFF"), _units(box.radius, filled))
    return [plate, DrawPath(code_path(text.strip()), rect, True, filled.colour(box.colour))]


def _pieces(box: Box, words: Words, filled: Filled) -> tuple[Words | None, tuple[Play, ...]]:
    """The words as they are said at the moment, and how their letters move; nothing before they come."""
    pieces = box.pieces
    if pieces is None or filled.resting:
        return words, ()
    share = (filled.since - pieces.after) / pieces.over
    if pieces.way == "count":
        return replace(words, text=counted(words.text, 0.0, eased("out", max(0.0, min(1.0, share))))), ()
    way = LETTER_WAYS[pieces.way]
    if share >= 1 and not way.sweeps:
        return words, ()
    if share <= 0 and not way.sweeps:
        return None, ()
    colour = filled.colour("accent") if way.colour else ""
    overlap = 0.0 if way.sweeps else pieces.overlap
    there = round(max(0.0, min(1.0, share)), 6)
    return words, (Play(pieces.way, pieces.by, there, pieces.order, overlap, colour=colour),)


def places(laid: Laid, rect: Rect, filled: Filled) -> list[Rect]:
    """Where the children of a box lie in its rectangle."""
    box = laid.box
    pad_x, pad_y = (_units(pad, filled) for pad in box.pad)
    gap = _units(box.gap, filled)
    inner = Rect(rect.x + pad_x, rect.y + pad_y, rect.width - 2 * pad_x, rect.height - 2 * pad_y)
    if box.kind == "grid":
        return _cells(laid, inner, gap)
    if box.direction == "over":
        return [_kept(child, rect if _fills(child) else inner, box.keep) for child in laid.children]
    found, at = [], 0.0
    down = box.direction == "down"
    shown = [child for child in laid.children if not says_nothing(child)]
    lengths = [child.height if down else child.width for child in shown]
    fixed = [
        n for child, n in zip(shown, lengths, strict=True) if (child.box.height if down else child.box.width) != "fill"
    ]
    spare = (inner.height if down else inner.width) - sum(fixed) - gap * max(0, len(shown) - 1)
    share = max(0.0, spare / max(1, len(shown) - len(fixed)))
    for child in laid.children:
        length = share if _extent_along(child, down) == "fill" else child.height if down else child.width
        across = inner.width if down else inner.height
        wide = across if _extent_along(child, not down) == "fill" else child.width if down else child.height
        aside = {"start": 0.0, "middle": (across - wide) / 2, "end": across - wide}[box.keep]
        place = (
            Rect(inner.x + aside, inner.y + at, wide, length)
            if down
            else Rect(inner.x + at, inner.y + aside, length, wide)
        )
        found.append(place)
        at += 0.0 if says_nothing(child) else length + gap
    return found


def _extent_along(laid: Laid, down: bool) -> float | str:
    return laid.box.height if down else laid.box.width


def _fills(laid: Laid) -> bool:
    return laid.box.width == "fill" and laid.box.height == "fill"


def _kept(child: Laid, inner: Rect, keep: str) -> Rect:
    width = inner.width if child.box.width == "fill" else child.width
    height = inner.height if child.box.height == "fill" else child.height
    share = {"start": 0.0, "middle": 0.5, "end": 1.0}[keep]
    return Rect(inner.x + (inner.width - width) * share, inner.y + (inner.height - height) * share, width, height)


def _cells(laid: Laid, inner: Rect, gap: float) -> list[Rect]:
    columns = laid.box.columns
    rows = -(-max(1, len(laid.children)) // columns)
    width = (inner.width - gap * (columns - 1)) / columns
    height = (inner.height - gap * (rows - 1)) / rows
    found = []
    for n, _ in enumerate(laid.children):
        row, column = divmod(n, columns)
        # The last row shares the whole width among those it has.
        left = len(laid.children) - row * columns
        wide = width if left >= columns else (inner.width - gap * (left - 1)) / left
        found.append(Rect(inner.x + column * (wide + gap), inner.y + row * (height + gap), wide, height))
    return found


def _coming(box: Box, ops: list[Op], rect: Rect, filled: Filled) -> list[Op]:
    """Operations on their way, by the same motions as layers have."""
    comes = box.comes
    assert comes is not None
    share = (filled.since - comes.after) / comes.over
    if share >= 1:
        return ops
    if share <= 0:
        return []
    there = round(1 - (1 - share) ** 3, 6)
    if comes.way in ("fade", "rise"):
        shift = RISE * CANON * (1 - there) if comes.way == "rise" else 0.0
        return [Composite(tuple(ops), opacity=there, dy=round(shift, 6))]
    whole: Op = Composite(tuple(ops))
    return [moved(whole, rect, comes.way, there, filled.frame, leaving=False)]
