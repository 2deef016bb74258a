"""SVG drawings: measured before anything else looks at them, then drawn to pixels, once.

A drawing of a few hundred bytes can ask for a thousand million shapes, by referring to groups that refer to groups. So
elements are counted as they will be drawn, references followed, before the drawing library sees them.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from xml.parsers import expat

import numpy as np
import skia

from glowreel.core.errors import BadMedia
from glowreel.engine.footage import Pixels
from glowreel.engine.limits import MAX_SVG_BYTES, MAX_SVG_DEPTH, MAX_SVG_ELEMENTS

FILTER_WEIGHT = 200
"""A filtered element counts as so many plain ones: filters work on whole areas, again and again."""
UNITS = {"": 1.0, "px": 1.0, "pt": 4 / 3, "pc": 16.0, "mm": 96 / 25.4, "cm": 96 / 2.54, "in": 96.0, "em": 16.0}
"""CSS pixels in each unit of length (CSS Values 4, 6.2)."""
_LENGTH = re.compile(r"\s*([0-9.]+(?:e[+-]?[0-9]+)?)\s*([a-z%]*)\s*", re.IGNORECASE)
_REFERENCE = re.compile(r"url\(\s*['\"]?#([^'\")\s]+)")


def is_svg(path: Path) -> bool:
    with path.open("rb") as file:
        head = file.read(1024).lstrip(b"\xef\xbb\xbf \t\r\n")
    return head.startswith(b"<svg") or (head.startswith((b"<?xml", b"<!--", b"<!DOCTYPE svg")) and b"<svg" in head)


@dataclass
class _Element:
    weight: int = 1
    parts: list[_Element] = field(default_factory=list)
    refers: list[str] = field(default_factory=list)
    total: int = -1


class _Counting:
    """Reads a drawing element by element, and refuses it as soon as it is too deep or too long."""

    def __init__(self, name: str) -> None:
        self.name = name
        self.root: dict[str, str] = {}
        self._stack = [_Element(0)]
        self._named: dict[str, _Element] = {}
        self._count = 0

    def read(self, data: bytes) -> None:
        parser = expat.ParserCreate()
        parser.StartElementHandler = self._start
        parser.EndElementHandler = lambda tag: self._stack.pop()
        parser.EntityDeclHandler = self._entity
        try:
            parser.Parse(data, True)
        except expat.ExpatError as error:
            raise BadMedia("unreadable", f"{self.name} is not a drawing that can be read.") from error

    def _entity(self, *_: object) -> None:
        raise BadMedia("unreadable", f"{self.name} uses entities, which drawings here may not.")

    def _start(self, tag: str, attributes: dict[str, str]) -> None:
        self._count += 1
        if self._count > MAX_SVG_ELEMENTS:
            raise self.too_much()
        if len(self._stack) > MAX_SVG_DEPTH:
            raise BadMedia("too-deep", f"{self.name} has more than {MAX_SVG_DEPTH} groups in one another.")
        if self._count == 1:
            self.root = attributes
        element = _Element()
        for key, value in attributes.items():
            if key.rpartition(":")[2] == "href" and value.startswith("#"):
                element.refers.append(value[1:])
            for found in _REFERENCE.findall(value):
                element.refers.append(found)
                if key == "filter" or "filter" in value:
                    element.weight += FILTER_WEIGHT
        self._stack[-1].parts.append(element)
        self._stack.append(element)
        if "id" in attributes:
            self._named.setdefault(attributes["id"], element)

    def expanded(self) -> int:
        """How many elements are drawn when every reference is followed. Refuses circles."""
        return self._total(self._stack[0], set())

    def _total(self, element: _Element, above: set[int]) -> int:
        if element.total >= 0:
            return element.total
        if id(element) in above or len(above) > 4 * MAX_SVG_DEPTH:
            raise BadMedia("circle", f"{self.name} refers to itself.")
        above.add(id(element))
        targets = [self._named[key] for key in element.refers if key in self._named]
        total = element.weight + sum(self._total(part, above) for part in (*element.parts, *targets))
        above.discard(id(element))
        element.total = total
        return total

    def too_much(self) -> BadMedia:
        return BadMedia("too-large", f"{self.name} draws more than {MAX_SVG_ELEMENTS:,} shapes.", "Simplify it first.")


def _length(text: str | None) -> float | None:
    """A length in CSS pixels; None where it is not said or relative to what it stands in."""
    found = _LENGTH.fullmatch(text or "")
    if not found or found[2].lower() not in UNITS:
        return None
    try:
        return float(found[1]) * UNITS[found[2].lower()] or None
    except ValueError:
        return None


def _size(root: dict[str, str], name: str) -> tuple[float, float]:
    """Width and height of a drawing: as said, else by its view box (SVG 2, 8.2)."""
    width, height = _length(root.get("width")), _length(root.get("height"))
    box = [float(part) for part in root.get("viewBox", "").replace(",", " ").split()[:4]]
    if len(box) == 4 and box[2] > 0 and box[3] > 0:
        ratio = box[2] / box[3]
        if width is None and height is None:
            width, height = box[2], box[3]
        width = width if width is not None else (height or 0) * ratio
        height = height if height is not None else width / ratio
    if width is None or height is None:
        raise BadMedia("unreadable", f"{name} does not say how large it is.", "Give it a width and a height.")
    if not (0 < width < 100_000 and 0 < height < 100_000) or not 0.01 <= width / height <= 100:
        raise BadMedia("unreadable", f"{name} has a size that cannot be used.")
    return width, height


def measure_svg(path: Path) -> tuple[float, float]:
    """The drawing's own size in CSS pixels, after it was found fit to be drawn. Raises `BadMedia`."""
    if path.stat().st_size > MAX_SVG_BYTES:
        raise BadMedia("too-large", f"{path.name} is larger than a drawing may be (2 MB).")
    counting = _Counting(path.name)
    try:
        counting.read(path.read_bytes())
        size = _size(counting.root, path.name)
    except ValueError as error:
        raise BadMedia("unreadable", f"{path.name} is not a drawing that can be read.") from error
    if counting.expanded() > MAX_SVG_ELEMENTS:
        raise counting.too_much()
    return size


def draw_svg(path: Path, side: int) -> Pixels:
    """A drawing as premultiplied BGRA, `side` pixels on its longer side. Raises `BadMedia`."""
    width, height = measure_svg(path)
    data = path.read_bytes()  # The stream only borrows it: it must live as long.
    dom: Any = skia.SVGDOM.MakeFromStream(skia.MemoryStream(data))
    if dom is None:
        raise BadMedia("unreadable", f"{path.name} is not a drawing that can be read.")
    dom.setContainerSize(skia.Size(width, height))
    scale = side / max(width, height)
    pixels: Pixels = np.zeros((max(1, round(height * scale)), max(1, round(width * scale)), 4), np.uint8)
    info = skia.ImageInfo.Make(pixels.shape[1], pixels.shape[0], skia.kBGRA_8888_ColorType, skia.kPremul_AlphaType)
    canvas = skia.Surface.MakeRasterDirect(info, pixels, pixels.strides[0]).getCanvas()
    canvas.scale(pixels.shape[1] / width, pixels.shape[0] / height)
    dom.render(canvas)
    return pixels
