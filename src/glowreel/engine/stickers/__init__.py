"""Stickers that come with the program: drawings by name, sharp at any size, in one colour where that is wanted.

`emoji.json` holds drawings of an open set (see its licence beside it), each with the group in which it is listed, in a
box of 32 by 32.
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
    """A drawing: what it is called, where it is listed, and its SVG."""

    name: str
    label: str
    group: str
    svg: str


@cache
def stickers() -> Mapping[str, Sticker]:
    """Every sticker by its name."""
    found = {}
    for name, row in orjson.loads((FOLDER / "emoji.json").read_bytes()).items():
        svg = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {BOX} {BOX}">{row["svg"]}</svg>'
        found[name] = Sticker(name, name.replace("-", " ").capitalize(), row["group"], svg)
    return found


@lru_cache(maxsize=256)
@part()
def draw_sticker(name: str, side: int, tint: str) -> Pixels | None:
    """A sticker as premultiplied BGRA, `side` pixels wide and high; all of it in one colour where one is given. None
    where there is none of that name."""
    sticker = stickers().get(name)
    if sticker is None:
        return None
    data = sticker.svg.encode()  # The stream only borrows it: it must live as long.
    dom: Any = skia.SVGDOM.MakeFromStream(skia.MemoryStream(data))
    dom.setContainerSize(skia.Size(BOX, BOX))
    pixels: Pixels = np.zeros((side, side, 4), np.uint8)
    info = skia.ImageInfo.Make(side, side, skia.kBGRA_8888_ColorType, skia.kPremul_AlphaType)
    canvas = skia.Surface.MakeRasterDirect(info, pixels, pixels.strides[0]).getCanvas()
    canvas.scale(side / BOX, side / BOX)
    dom.render(canvas)
    if tint:
        alpha = pixels[:, :, 3].astype(np.uint16)
        for channel, at in enumerate((5, 3, 1)):
            pixels[:, :, channel] = (alpha * int(tint[at : at + 2], 16) + 127) // 255
    return pixels
