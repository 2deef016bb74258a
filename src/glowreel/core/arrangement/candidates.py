"""The ways in which layers can be laid out anew in a shape: one function each, in a table.

A way answers with what is set for each layer, or None where it makes no sense. Blocks are what keeps together: a group,
or layers that lie over one another by intention.

```
wide                     tall, as a column      tall, moved in      tall, as one
|  [words]  [picture] |     |  [words]   |      | [words] |         |           |
                            | [picture]  |      |[picture]|         | [w] [pic] |
```
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from glowreel.core.arrangement.laid import Laid, Table, around, smallest
from glowreel.core.arrangement.order import in_order
from glowreel.core.arrangement.score import safe_of
from glowreel.core.formats import CANON, Format
from glowreel.core.layout import MARGIN, Box, common, pushed, wrap_width
from glowreel.core.place import Place

GAP = 0.035 * CANON
"""What is left free between layers."""
SMALLEST = 0.35
"""How much smaller a picture is made at the most."""

Values = dict[str, Any]
Ruling = dict[str, Values]


@dataclass(frozen=True)
class Block:
    """Layers that keep together, as they lie in the shape that they were made in, and the box around them."""

    members: tuple[Laid, ...]

    @property
    def box(self) -> Box:
        return around(one.box for one in self.members)

    @property
    def worded(self) -> bool:
        return any(one.worded for one in self.members)

    @property
    def pin(self) -> tuple[float, float]:
        """To which corner, edge or middle it is pinned."""
        across, down = self.members[0].item.read("pin")
        return across, down

    def least(self, format: Format) -> float:
        """How small it may be made so that its letters are legible, as a factor."""
        letters = [one.letters for one in self.members if one.worded]
        return min(1.0, smallest(format) / min(letters)) if letters else SMALLEST


@dataclass(frozen=True)
class Work:
    """What is to be laid out: blocks, in which shape they were made and for which they are laid out, the boxes of what
    stays where it is, and the table that draws."""

    table: Table
    blocks: tuple[Block, ...]
    made_in: Format
    format: Format
    taken: tuple[Box, ...] = ()
    room: Box = field(default_factory=lambda: Box(0, 0, 0, 0))

    @property
    def middle(self) -> tuple[float, float]:
        """Where the middle of all blocks was, in shares of the frame."""
        box, (wide, high) = around(block.box for block in self.blocks), self.made_in.canon
        return (box.x + box.width / 2) / wide, (box.y + box.height / 2) / high


@dataclass(frozen=True)
class Piece:
    """A block at a size: what is set of each of its layers, but for where they lie, and its box with those of its
    layers, the corner of the box being (0, 0)."""

    block: Block
    values: Mapping[str, Values]
    boxes: tuple[Box, ...]
    width: float
    height: float
    broken: float = 0.0


def sized(work: Work, block: Block, scale: float, width: float) -> Piece:
    """A block made smaller by a factor, or larger; words by themselves break anew within a width."""
    values: dict[str, Values] = {}
    boxes, broken = [], 0.0
    origin, alone = block.box, len(block.members) == 1
    for one in block.members:
        item = one.item
        given: Values = {"size": round(item.read("size", work.made_in.id) * scale, 5)}
        if "words" in item.content.traits:
            wrap = wrap_width(Place(wrap=item.read("wrap", work.made_in.id)), work.made_in)
            # A word that was broken where it was made need not be where its line has room.
            wrap *= 1 + one.broken * 1.02
            # Words that are alone keep their line width as far as there is room; in a block they shrink with it.
            wide = min(wrap, width) if alone else min(wrap * scale, max(width, 0.1 * CANON))
            given["wrap"] = round(wide / CANON, 5)
            if item.read("suits", work.made_in.id) != "fixed":
                given["tall"] = round(item.read("tall", work.made_in.id) * scale, 5)
        # What somebody set for this format alone stays.
        own = item.values_in.get(work.format.id, {})
        given = {name: value for name, value in given.items() if name not in own}
        values[item.id] = given
        laid = work.table.laid(item, work.format, given)
        size = laid.box if laid is not None else one.box
        broken = max(broken, laid.broken if laid is not None else 0.0)
        across, down = (one.box.x - origin.x) * scale, (one.box.y - origin.y) * scale
        # What came out narrower or wider than it was keeps its middle.
        across += 0.0 if alone else (one.box.width * scale - size.width) / 2
        down += 0.0 if alone else (one.box.height * scale - size.height) / 2
        boxes.append(Box(across, down, size.width, size.height))
    whole = around(boxes)
    moved = tuple(Box(box.x - whole.x, box.y - whole.y, box.width, box.height) for box in boxes)
    return Piece(block, values, moved, whole.width, whole.height, broken)


def fitted(work: Work, block: Block, width: float, height: float, most: float = 1.0) -> Piece:
    """A block as large as it was, or as fits into a room; letters no smaller than is legible, unless nothing else
    helps, and no less either."""
    least = block.least(work.format)
    letters = [one.letters for one in block.members if one.worded]
    # Letters that were large enough where they were made may be too small here.
    scale = max(most, smallest(work.format) / min(letters) * 1.001 if letters else 0.0)
    for _ in range(4):
        piece = sized(work, block, scale, width)
        share = min(width / piece.width, height / piece.height) if piece.width and piece.height else 1.0
        share = min(share, 1 / (1 + piece.broken))
        if share >= 0.999 or scale <= least:
            return piece
        scale = max(least, scale * share * 0.995)
    return sized(work, block, scale, width)


def put(work: Work, piece: Piece, x: float, y: float) -> Ruling:
    """What is set so that a block lies with its corner at a point."""
    made: Ruling = {}
    for one, box in zip(piece.block.members, piece.boxes, strict=True):
        pin = one.item.read("pin")
        lies = Box((x + box.x) / CANON, (y + box.y) / CANON, box.width / CANON, box.height / CANON)
        place = pushed(lies, work.format, Place(pin=pin)).push
        made[one.item.id] = {**piece.values[one.item.id], "place": (round(place[0], 5), round(place[1], 5))}
    return made


def kept_in(room: Box, x: float, y: float, piece: Piece) -> tuple[float, float]:
    """A corner moved so that a piece lies in a room, as far as it fits there; in its middle where it does not."""

    def along(start: float, length: float, at: float, size: float) -> float:
        return start + (length - size) / 2 if size > length else min(max(at, start), start + length - size)

    return along(room.x, room.width, x, piece.width), along(room.y, room.height, y, piece.height)


def where_pinned(work: Work, piece: Piece) -> tuple[float, float]:
    """Where a block lies when its layers are where they are pinned."""
    found = []
    for one in piece.block.members:
        laid = work.table.laid(one.item, work.format)
        found.append(laid.box if laid is not None else one.box)
    box = around(found)
    # From the corner, edge or middle that it is pinned to.
    pin = piece.block.pin
    return box.x + pin[0] * (box.width - piece.width), box.y + pin[1] * (box.height - piece.height)


def ordered(work: Work) -> list[Block]:
    """Blocks as they are read where they were made."""
    return [work.blocks[n] for n in in_order({n: block.box for n, block in enumerate(work.blocks)})]


def moved_in(work: Work) -> Ruling | None:
    """Each where it is pinned, made small enough and moved into the safe area."""
    made: Ruling = {}
    for block in work.blocks:
        piece = fitted(work, block, work.room.width, work.room.height)
        made |= put(work, piece, *kept_in(work.room, *where_pinned(work, piece), piece))
    return made


def moved_apart(work: Work) -> Ruling | None:
    """The same, and then each up or down to where it lies over nothing: what is pinned to the bottom upwards, the last
    first, so that the order stays."""
    made: Ruling = {}
    taken = list(work.taken)
    read = ordered(work)
    low = [block for block in read if block.pin[1] == 1]
    for block in [*(block for block in read if block.pin[1] < 1), *reversed(low)]:
        piece = fitted(work, block, work.room.width, work.room.height)
        x, y = kept_in(work.room, *where_pinned(work, piece), piece)
        ways = {0.0: (1, -1), 1.0: (-1, 1)}.get(block.pin[1], (1, -1))
        spot = _free(Box(x, y, piece.width, piece.height), taken, work.room, ways)
        if spot is None:
            return None
        taken.append(spot)
        made |= put(work, piece, spot.x, spot.y)
    return made


def _free(box: Box, taken: Sequence[Box], room: Box, ways: tuple[int, int]) -> Box | None:
    """The nearest place above or below where a box lies over nothing and in the room; one way before the other."""
    step = 0.01 * CANON
    for way in ways:
        for n in range(220):
            y = box.y + way * n * step
            if y < room.y - 1 or y + box.height > room.y + room.height + 1:
                continue
            grown = Box(box.x, y - GAP / 2, box.width, box.height + GAP)
            if not any(common(grown, other) for other in taken):
                return Box(box.x, y, box.width, box.height)
    return None


def _stacked(work: Work, blocks: Sequence[Block], room: Box) -> tuple[list[Piece], float] | None:
    """Blocks one under another in a room: pictures as large as is left, and how high all of it is."""
    gaps = GAP * (len(blocks) - 1)
    pieces = [fitted(work, block, room.width, room.height) for block in blocks]
    words = sum(piece.height for piece in pieces if piece.block.worded)
    pictures = sum(piece.height for piece in pieces if not piece.block.worded)
    over = words + pictures + gaps - room.height
    if over > 0 and pictures:
        share = max(SMALLEST, (room.height - words - gaps) / pictures)
        pieces = [
            piece if piece.block.worded else fitted(work, piece.block, room.width, piece.height * share)
            for piece in pieces
        ]
    total = sum(piece.height for piece in pieces) + gaps
    if total > room.height + 1:
        share = (room.height - gaps) / (total - gaps)
        pieces = [fitted(work, piece.block, room.width, piece.height * share) for piece in pieces]
        total = sum(piece.height for piece in pieces) + gaps
    return (pieces, total) if total <= room.height + 1 else None


def _column(work: Work, pieces: Sequence[Piece], room: Box, top: float) -> Ruling:
    """Pieces one under another from a height on: along the left where their words are, else about their middle; all of
    it where it is pinned, if that is one side."""
    made: Ruling = {}
    wide = max(piece.width for piece in pieces)
    sides = {piece.block.pin[0] for piece in pieces}
    share = sides.pop() if len(sides) == 1 else 0.5
    start = room.x + (room.width - wide) * share
    aligned = [one.item.read("align") for piece in pieces for one in piece.block.members
               if "words" in one.item.content.traits]  # fmt: skip
    left = bool(aligned) and all(way == "left" for way in aligned)
    for piece in pieces:
        x = start if left else start + (wide - piece.width) / 2
        made |= put(work, piece, x, top)
        top += piece.height + GAP
    return made


def as_column(work: Work) -> Ruling | None:
    """One under another, in the order in which they are read, about as high in the frame as they were."""
    stacked = _stacked(work, ordered(work), work.room)
    if stacked is None or len(work.blocks) < 2:
        return None
    pieces, total = stacked
    high = work.format.canon[1]
    top = min(max(work.middle[1] * high - total / 2, work.room.y), work.room.y + work.room.height - total)
    return _column(work, pieces, work.room, top)


def as_row(work: Work) -> Ruling | None:
    """Side by side in two columns: words in one and pictures in the other, where there are both."""
    read = ordered(work)
    if len(read) < 2 or work.room.width < work.room.height:
        return None
    words = [block for block in read if block.worded]
    others = [block for block in read if not block.worded]
    half = (len(read) + 1) // 2
    sides = [words, others] if words and others else [read[:half], read[half:]]
    sides.sort(key=lambda side: read.index(side[0]))
    wide = (work.room.width - GAP) / 2
    made: Ruling = {}
    for n, side in enumerate(sides):
        room = Box(work.room.x + n * (wide + GAP), work.room.y, wide, work.room.height)
        stacked = _stacked(work, side, room)
        if stacked is None:
            return None
        pieces, total = stacked
        made |= _column(work, pieces, room, room.y + (room.height - total) / 2)
    return made


def as_one(work: Work) -> Ruling | None:
    """All of it as it was, smaller, about where it was."""
    if len(work.blocks) < 2:
        return None
    block = Block(tuple(one for block in work.blocks for one in block.members))
    piece = fitted(work, block, work.room.width, work.room.height)
    wide, high = work.format.canon
    spot = (work.middle[0] * wide - piece.width / 2, work.middle[1] * high - piece.height / 2)
    return put(work, piece, *kept_in(work.room, *spot, piece))


WAYS: dict[str, Callable[[Work], Ruling | None]] = {
    "moved in": moved_in,
    "moved apart": moved_apart,
    "column": as_column,
    "row": as_row,
    "as one": as_one,
}
"""Every way to lay things out, the gentlest first."""


def room_for(work_format: Format, taken: Sequence[Box]) -> Box:
    """The safe area without what stays at its upper or lower edge."""
    safe = safe_of(work_format)
    margin = MARGIN * CANON
    left, right = max(safe.x, margin), min(safe.x + safe.width, work_format.canon[0] - margin)
    top, low = safe.y, safe.y + safe.height
    for box in taken:
        middle = box.y + box.height / 2
        if middle < safe.y + safe.height * 0.25:
            top = max(top, box.y + box.height + GAP)
        elif middle > safe.y + safe.height * 0.75:
            low = min(low, box.y - GAP)
    if low - top < safe.height * 0.4:
        top, low = safe.y, safe.y + safe.height
    return Box(left, top, right - left, low - top)
