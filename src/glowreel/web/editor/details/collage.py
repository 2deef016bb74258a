"""Details of a collage: what there is to do with all of it."""

from __future__ import annotations

from collections.abc import Iterable

from glowreel.core.collage import GRIDS
from glowreel.core.commands.collage import blank
from glowreel.core.document import Cell, Clip, Part, Promo
from glowreel.core.formats import Format, shape_of
from glowreel.core.timeline import timeline
from glowreel.web.editor.details.control import Control


def called(promo: Promo, cell: Part) -> str:
    """What a cell holds, in a few words."""
    if isinstance(cell, Cell) and blank(cell):
        return "empty"
    if "filler" in cell.content.traits:
        return "a colour"
    return cell.content.called(cell, promo.media.get(cell.media or ""))


def collage_controls(promo: Promo, format: Format, clip: Clip) -> Iterable[Control]:
    """What is done to the whole of a collage."""
    item = {"item": clip.id}
    filled = sum(not blank(cell) for cell in clip.cells)
    grids = [grid for grid in GRIDS.values() if grid.count >= filled]
    yield Control(
        "p-grid", "Grid", "grids", clip.grid, {"do": "arrange-cells", **item, "grid": ""}, "grid",
        choices=tuple((grid.name, grid.label) for grid in grids), find="arrange layout cells",
    )  # fmt: skip
    if any(timeline(promo).material(cell) is not None for cell in clip.inner):
        yield Control("p-fit-collage", "", "press", "As long as the longest in it", {"do": "fit-collage", **item})
    if any(key.startswith(f"{shape_of(format.wide, format.high)}:") for key in clip.shares):
        command = {"do": "move-divider", **item, "format": format.id}
        yield Control("p-even", "", "press", "Divide it evenly again", command, find="reset dividers")
    yield Control("p-free", "", "press", "Turn it into free layers", {"do": "free-collage", **item}, find="ungroup")
