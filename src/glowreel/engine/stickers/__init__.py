"""Stickers that come with the program: drawings by name, sharp at any size, in one colour where that is wanted.

`paper.json` holds drawings of our own, as if cut out of coloured paper and printed: what is filled, what is filled
with a second colour, and the lines of ink over it, which lie a little aside. `emoji.json` holds those of an open
set (see its licence beside it). Each says in which group it is listed; the box is 32 by 32.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache, lru_cache
from pathlib import Path
from typing import Any

import numpy as np
import orjson
import skia

from glowreel.engine.drawing import part
from glowreel.engine.footage import Pixels

FOLDER = Path(__file__).parent
BOX = 32


@dataclass(frozen=True)
class Sticker:
    """A drawing: what it is called, where it is listed, its SVG, and by which other words it is found. Of one with
    `inks`, only what is filled with the first of them takes another colour."""

    name: str
    label: str
    group: str
    svg: str
    find: str = ""
    inks: bool = False

    @property
    def described(self) -> str:
        """Everything by which it is found, in small letters."""
        return f"{self.label} {self.group} {self.find}".lower()


@cache
def stickers() -> Mapping[str, Sticker]:
    """Every sticker by its name."""
    found = {name: _printed(name, row) for name, row in orjson.loads((FOLDER / "paper.json").read_bytes()).items()}
    for name, row in orjson.loads((FOLDER / "emoji.json").read_bytes()).items():
        svg = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {BOX} {BOX}">{row["svg"]}</svg>'
        found[name] = Sticker(name, name.replace("-", " ").capitalize(), row["group"], svg)
    return found


MAIN, SECOND, INK, PAPER = "#F6B73C", "#C8430B", "#23201C", "#FFFCF6"
ASIDE = 0.7
"""How far what is filled lies from its lines, as where colours were printed one after another."""


def _printed(name: str, row: dict[str, Any]) -> Sticker:
    """A drawing of our own: an edge of paper around all of it, colours, and lines of ink over them."""
    fill, second, line = (" ".join(row[key]) for key in ("fill", "second", "line"))
    edge = f'<path d="{fill} {second}" fill="{PAPER}" stroke="{PAPER}" stroke-width="3.4" stroke-linejoin="round"/>'
    edge += f'<path d="{line}" fill="none" stroke="{PAPER}" stroke-width="4.6" stroke-linecap="round"/>' if line else ""
    colours = "".join(
        f'<path d="{path}" fill="{colour}" transform="translate({ASIDE} {ASIDE})"/>'
        for path, colour in ((fill, MAIN), (second, SECOND)) if path
    )  # fmt: skip
    ink = f'<path d="{fill} {second} {line}" fill="none" stroke="{INK}" stroke-width="1.3" stroke-linecap="round"'
    drawing = f'{edge}{colours}{ink} stroke-linejoin="round"/>'
    # A little smaller than its box, so that the edge of paper has room.
    svg = (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {BOX} {BOX}">'
        f'<g transform="translate(1.6 1.6) scale(0.9)">{drawing}</g></svg>'
    )
    label = name.removeprefix("paper-").replace("-", " ").capitalize()
    return Sticker(name, label, row["group"], svg, f"{row['find']} paper cut", inks=True)


@lru_cache(maxsize=256)
@part(2)
def draw_sticker(name: str, side: int, tint: str) -> Pixels | None:
    """A sticker as premultiplied BGRA, `side` pixels wide and high; all of it, or its first ink, in one colour
    where one is given. None where there is none of that name."""
    sticker = stickers().get(name)
    if sticker is None:
        return None
    svg = sticker.svg.replace(MAIN, tint) if tint and sticker.inks else sticker.svg
    data = svg.encode()  # The stream only borrows it: it must live as long.
    dom: Any = skia.SVGDOM.MakeFromStream(skia.MemoryStream(data))
    dom.setContainerSize(skia.Size(BOX, BOX))
    pixels: Pixels = np.zeros((side, side, 4), np.uint8)
    info = skia.ImageInfo.Make(side, side, skia.kBGRA_8888_ColorType, skia.kPremul_AlphaType)
    canvas = skia.Surface.MakeRasterDirect(info, pixels, pixels.strides[0]).getCanvas()
    canvas.scale(side / BOX, side / BOX)
    dom.render(canvas)
    if tint and not sticker.inks:
        alpha = pixels[:, :, 3].astype(np.uint16)
        for channel, at in enumerate((5, 3, 1)):
            pixels[:, :, channel] = (alpha * int(tint[at : at + 2], 16) + 127) // 255
    return pixels
