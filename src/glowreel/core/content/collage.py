"""A collage: a clip whose frame is divided into cells, each with content of its own (see `core.collage`)."""

from __future__ import annotations

from typing import TYPE_CHECKING, cast

from glowreel.core.collage import GRIDS, arranged
from glowreel.core.content.kind import Drawn, Kind
from glowreel.core.content.seen import Seen
from glowreel.core.easing import eased
from glowreel.core.formats import CANON, Format
from glowreel.core.layout import Box
from glowreel.core.recipe.finish import finished
from glowreel.core.recipe.model import Composite, Fill, Op, Window
from glowreel.core.recipe.motions import RISE, moved

if TYPE_CHECKING:
    from glowreel.core.document import Cell, Clip, Part
    from glowreel.core.media import Media


class CellFormat(Format):
    """A cell as if it were a frame: what fills a frame fills it, and words are as large as elsewhere."""

    box: tuple[float, float]

    @property
    def canon(self) -> tuple[float, float]:
        return self.box


def cell_boxes(seen: Seen) -> tuple[Box, ...]:
    """Where the cells of a collage lie at the moment."""
    clip = cast("Clip", seen.part)
    return arranged(
        GRIDS[clip.grid or ""], seen.format.canon, seen("gap") * CANON, seen("rim") * CANON, clip.shares
    )  # fmt: skip


def cell_format(format: Format, box: Box) -> CellFormat:
    """The frame that the content of a cell sees, under the name of the format it is in."""
    return CellFormat(id=format.id, name=format.name, wide=1, high=1, box=(max(1.0, box.width), max(1.0, box.height)))


def _draws(seen: Seen) -> Drawn:
    clip = cast("Clip", seen.part)
    ops: list[Op] = []
    for place, (cell, box) in enumerate(zip(clip.inner, cell_boxes(seen), strict=True)):
        if box.width >= 1 and box.height >= 1 and (inside := _cell_ops(seen, cast("Cell", cell), place, box)):
            radius = round(seen("cell_round") * min(box.width, box.height) / 2, 6)
            window = Window(box.x, box.y, box.width, box.height, radius=radius)
            ops.append(Composite(tuple(inside), dx=box.x, dy=box.y, window=window))
    return Drawn(tuple(ops), Box(0, 0, *seen.format.canon))


def _cell_ops(outer: Seen, cell: Cell, place: int, box: Box) -> list[Op]:
    """What is seen in a cell, from its own corner: its colour, its content with all that is done to it, on its way
    while it comes."""
    format = cell_format(outer.format, box)
    seen = Seen(outer.promo, cell, format, outer.moment, outer.measure, outer.resting)
    waited = outer.moment - place * outer("step") - seen("arrive_delay")
    if (waited < 0 and not outer.resting) or not seen("shown"):
        return []
    ops: list[Op] = [Fill(seen.colour("fill"))]
    drawn = cell.content.draws(seen)
    if drawn is not None:
        inner: Op = Composite(finished(seen, drawn.ops, drawn.box), opacity=round(seen("opacity"), 6), turn=drawn.turn,
                              about=(format.box[0] / 2, format.box[1] / 2) if drawn.turn else (0.0, 0.0))  # fmt: skip
        ops.append(inner)
    way, lasts = seen("arrives"), seen("arrive_length")
    if way == "none" or waited >= lasts or outer.resting:
        return ops
    there = eased(seen("arrive_ease"), waited / max(1, lasts))
    whole, strength = Composite(tuple(ops)), seen("arrive_strength")
    frame = Box(0, 0, *format.box)
    if way in ("fade", "rise"):
        shift = RISE * strength * CANON * (1 - there) if way == "rise" else 0.0
        return [Composite(whole.ops, opacity=round(max(0.0, min(1.0, there)), 6), dy=round(shift, 6))]
    return [moved(whole, frame, way, there, format.box, leaving=False, strength=strength)]


def _called(part: Part, media: Media | None) -> str:
    return part.name or "A collage"


COLLAGE = Kind(
    "collage", "Collage", "several pictures, colours and words in a grid, on the main track", "main",
    frozenset({"seen", "collage"}), frozenset(), _called, _draws,
)  # fmt: skip
