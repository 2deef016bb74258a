"""Contact sheets of the shipped designs and grids, each in three shapes, with the demo's own footage."""

from __future__ import annotations

from itertools import count
from pathlib import Path

import numpy as np

from glowreel.core import commands as c
from glowreel.core.collage.grids import GRIDS, MOST
from glowreel.core.design.model import GROUPS
from glowreel.core.document import Promo
from glowreel.core.formats import FIRST_CHOICE, SHIPPED
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.time import ticks
from glowreel.demo.scenario import FILES, MEDIA, probed
from glowreel.designs import shipped
from glowreel.engine.draw import Canvas
from glowreel.engine.sources import NothingMade, Sources
from glowreel.engine.still import encode
from glowreel.engine.typesetting import measure

FOOTAGE = "dawn-ridge.mp4"
PICTURES = ("over-the-fields.mp4", "lantern-night.mp4", "picnic.jpg")
HIGH = 130
COLUMNS = 3
GAP = 8
SECOND = 3.0
"""When all of a design has come."""
PAPER = (0xE7, 0xF1, 0xF6, 0xFF)


class Demo(NothingMade):
    """The demo's files, by hash."""

    def __init__(self) -> None:
        self.media = {name: probed(MEDIA / name) for name in FILES}
        self._paths = {media.hash: MEDIA / name for name, media in self.media.items()}

    def picture(self, source: str) -> Path:
        return self._paths[source]

    def samples(self, source: str) -> Path:
        raise NotImplementedError("sheets are silent")


def contact_sheet(out: Path) -> None:
    """Writes the sheet of designs as PNG: each with the first shapes side by side, when all of it has come."""
    demo = Demo()
    order = sorted(shipped(), key=lambda key: list(GROUPS).index(shipped()[key].group))
    _write(out, [_row(demo, _with_design(demo, key), SECOND) for key in order])


def grid_sheet(out: Path) -> None:
    """The same of the grids of collages, their cells filled, the last one with words."""
    demo = Demo()
    _write(out, [_row(demo, _with_grid(demo, key), SECOND) for key in GRIDS])


def _write(out: Path, cells: list[np.ndarray]) -> None:
    high, wide = cells[0].shape[0], max(cell.shape[1] for cell in cells)
    sheet = np.full((-(-len(cells) // COLUMNS) * high, wide * COLUMNS, 4), PAPER, np.uint8)
    for n, cell in enumerate(cells):
        top, left = n // COLUMNS * high, n % COLUMNS * wide
        sheet[top : top + high, left : left + cell.shape[1]] = cell
    out.write_bytes(encode(sheet, ".png"))


def _begun(demo: Demo) -> tuple[Promo, c.Context]:
    """An empty promo in the first shapes, and what its commands need."""
    numbers = count(1)
    context = c.Context(lambda prefix: f"{prefix}{next(numbers)}", {m.id: m for m in demo.media.values()}, shipped())
    return Promo(id="sheet", name="Sheet", formats=tuple(SHIPPED[key] for key in FIRST_CHOICE)), context


def _with_design(demo: Demo, key: str) -> Promo:
    promo, context = _begun(demo)
    promo = c.apply(promo, c.InsertClips(media=(demo.media[FOOTAGE].id,)), context).promo
    promo = c.apply(promo, c.AddDesign(design=key), context).promo
    item = promo.items[0].id
    cells = [name for name, field in shipped()[key].fields.items() if field.kind == "picture"]
    for name, picture in zip(cells, PICTURES, strict=False):
        promo = c.apply(promo, c.FillPicture(item=item, name=name, media=demo.media[picture].id), context).promo
    return promo


def _with_grid(demo: Demo, key: str) -> Promo:
    promo, context = _begun(demo)
    media = tuple(demo.media[name].id for name in (FOOTAGE, *PICTURES) * 3)
    promo = c.apply(promo, c.AddCollage(grid=key, media=media[:MOST], length=ticks(5)), context).promo
    clip = promo.clips[0]
    if len(clip.cells) > 1:
        written = c.FillCell(item=clip.id, cell=clip.cells[-1].id, words="Up at dawn")
        promo = c.apply(promo, written, context).promo
    return promo


def _row(demo: Demo, promo: Promo, second: float) -> np.ndarray:
    sources, frames = Sources(demo, threads=1), []
    for format in promo.formats:
        width, height = format.size(round(HIGH * min(1, format.wide / format.high) / 2) * 2)
        canvas = Canvas(sources, width, height)
        frame = canvas.draw(frame_recipe(promo, format, promo.rate.snap(ticks(second)), measure))
        cell = np.full((HIGH + GAP, width + GAP, 4), PAPER, np.uint8)
        cell[: min(HIGH, height), :width] = frame[:HIGH]
        frames.append(cell)
    return np.hstack(frames)
