"""A contact sheet of the shipped designs, each in three shapes, over the demo's own footage."""

from __future__ import annotations

from itertools import count
from pathlib import Path

import numpy as np

from glowreel.core import commands as c
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


class _Demo(NothingMade):
    """The demo's files, by hash."""

    def __init__(self) -> None:
        self.media = {name: probed(MEDIA / name) for name in FILES}
        self._paths = {media.hash: MEDIA / name for name, media in self.media.items()}

    def picture(self, source: str) -> Path:
        return self._paths[source]

    def samples(self, source: str) -> Path:
        raise NotImplementedError("sheets are silent")


def contact_sheet(out: Path) -> None:
    """Writes the sheet as PNG: every design with the first shapes side by side, when all of it has come; a few designs
    beside one another."""
    demo = _Demo()
    cells = [_row(demo, key) for key in sorted(shipped(), key=lambda key: list(GROUPS).index(shipped()[key].group))]
    high, wide = cells[0].shape[0], max(cell.shape[1] for cell in cells)
    sheet = np.full((-(-len(cells) // COLUMNS) * high, wide * COLUMNS, 4), PAPER, np.uint8)
    for n, cell in enumerate(cells):
        top, left = n // COLUMNS * high, n % COLUMNS * wide
        sheet[top : top + high, left : left + cell.shape[1]] = cell
    out.write_bytes(encode(sheet, ".png"))


def _row(demo: _Demo, key: str) -> np.ndarray:
    numbers = count(1)
    context = c.Context(lambda prefix: f"{prefix}{next(numbers)}", {m.id: m for m in demo.media.values()}, shipped())
    promo = Promo(id="sheet", name="Sheet", formats=tuple(SHIPPED[key] for key in FIRST_CHOICE))
    promo = c.apply(promo, c.InsertClips(media=(demo.media[FOOTAGE].id,)), context).promo
    promo = c.apply(promo, c.AddDesign(design=key), context).promo
    item = promo.items[0].id
    cells = [name for name, field in shipped()[key].fields.items() if field.kind == "picture"]
    for name, picture in zip(cells, PICTURES, strict=False):
        promo = c.apply(promo, c.FillPicture(item=item, name=name, media=demo.media[picture].id), context).promo
    sources, frames = Sources(demo, threads=1), []
    for format in promo.formats:
        width, height = format.size(round(HIGH * min(1, format.wide / format.high) / 2) * 2)
        canvas = Canvas(sources, width, height)
        frame = canvas.draw(frame_recipe(promo, format, promo.rate.snap(ticks(SECOND)), measure))
        cell = np.full((HIGH + GAP, width + GAP, 4), PAPER, np.uint8)
        cell[: min(HIGH, height), :width] = frame[:HIGH]
        frames.append(cell)
    return np.hstack(frames)
