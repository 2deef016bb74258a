"""Where the cells of a collage lie, for taking hold of them on the stage."""

from __future__ import annotations

from typing import Any

from glowreel.core.collage import GRIDS, dividers
from glowreel.core.content import Seen
from glowreel.core.content.collage import cell_boxes, cell_format
from glowreel.core.document import Cell, Clip, Part, Promo
from glowreel.core.formats import CANON, Format
from glowreel.core.layout import Box
from glowreel.core.recipe.picture import part_box
from glowreel.engine.typesetting import measure
from glowreel.web.editor.details import called


def fractions(box: Box) -> dict[str, float]:
    """A box in fractions of the frame's short side."""
    return {
        "x": round(box.x / CANON, 5),
        "y": round(box.y / CANON, 5),
        "w": round(box.width / CANON, 5),
        "h": round(box.height / CANON, 5),
    }


def laid_cells(promo: Promo, format: Format, clip: Clip, moment: int) -> dict[str, Any]:
    """The cells of a collage at a moment of its own time, with where the picture in each lies, and the lines between
    them. Boxes are in fractions of the short side; a picture's is from the corner of its cell."""
    seen = Seen(promo, clip, format, moment, measure, resting=True)
    boxes = cell_boxes(seen)
    lines = dividers(GRIDS[clip.grid or ""], format.canon, seen("gap") * CANON, seen("rim") * CANON, clip.shares)
    return {
        "id": clip.id, "format": format.id,
        "cells": [_cell(promo, format, cell, box, moment) for cell, box in zip(clip.inner, boxes, strict=True)],
        "lines": [
            {"path": line.path, "after": line.after, "across": line.across, "share": line.share,
             "of": sum(other.path == line.path for other in lines) + 1, "box": fractions(line.box),
             "room": fractions(line.room)}
            for line in lines
        ],
    }  # fmt: skip


def _cell(promo: Promo, format: Format, cell: Part, box: Box, moment: int) -> dict[str, Any]:
    assert isinstance(cell, Cell)
    told: dict[str, Any] = {"id": cell.id, "label": called(promo, cell), "kind": cell.kind, **fractions(box)}
    if "framed" in cell.traits:
        inside = part_box(promo, cell_format(format, box), cell, measure, moment)
        assert inside is not None
        read = {name: cell.read(name, format.id, moment) for name in ("zoom", "focus", "turn")}
        told |= {"picture": fractions(inside), **read}
    return told
