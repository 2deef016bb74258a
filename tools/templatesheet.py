"""Contact sheets of the shipped templates: every scene in three shapes, in the designer's colours and in other brands.

`python -m tools.templatesheet FOLDER [KEY …]` writes one PNG for each template: a row for each scene, at two moments
of it where it moves, three shapes side by side for each brand.
"""

from __future__ import annotations

import sys
import tempfile
from itertools import count
from pathlib import Path

import cv2
import numpy as np

from glowreel.core.document import Promo
from glowreel.core.formats import FIRST_CHOICE, SHIPPED
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.roles import Brand
from glowreel.core.template.build import Kit, build, own_brand
from glowreel.core.template.logos import with_logos
from glowreel.core.timeline import timeline
from glowreel.demo.scenario import FERNHILL, HOLLOWMERE, LOGOS
from glowreel.designs import shipped
from glowreel.engine.draw import Canvas
from glowreel.engine.sources import Sources
from glowreel.engine.svg import draw_svg
from glowreel.engine.typesetting import measure
from glowreel.templates import patterns
from tools.sheet import Demo

HIGH = 150
GAP = 6
MOMENT = 0.72
"""How far into a scene it is looked at."""


class _Drawn(Demo):
    """The demo's files; drawings are drawn once into a folder."""

    def __init__(self, folder: Path) -> None:
        super().__init__()
        self._folder = folder

    def picture(self, source: str) -> Path:
        path = super().picture(source)
        if path.suffix != ".svg":
            return path
        out = self._folder / f"{source}.png"
        if not out.exists():
            cv2.imwrite(str(out), draw_svg(path, 1024))
        return out


def sheet(key: str, demo: _Drawn, out: Path) -> None:
    """Writes the sheet of one template."""
    pattern = patterns()[key]
    numbers = count()
    kit = Kit(demo.media, shipped(), lambda prefix: f"{prefix}{next(numbers)}")
    formats = tuple(SHIPPED[name] for name in FIRST_CHOICE)
    promo = build(pattern, formats, own_brand(pattern), kit)
    logos = {role: demo.media[name].id for role, name in LOGOS.items()}
    brands = (promo.brand, Brand(**HOLLOWMERE, logos=logos), Brand(**FERNHILL))
    canvases = {f.id: Canvas(Sources(demo, threads=2), *_size(f.canon)) for f in formats}
    known = {media.id: media for media in demo.media.values()}
    strips = [_strip(with_logos(promo.changed(brand=brand), known), canvases) for brand in brands]
    cv2.imwrite(str(out), _joined(strips, 0))


def _size(canon: tuple[int, int]) -> tuple[int, int]:
    wide, high = canon
    return round(HIGH * wide / high / 2) * 2, HIGH


def _strip(promo: Promo, canvases: dict[str, Canvas]) -> np.ndarray:
    """All scenes of a promo, one below another, each in every shape."""
    index, rows = timeline(promo), []
    for scene in promo.scenes:
        span = index.scene_span[scene.id]
        at = promo.rate.frame_start(promo.rate.frame_floor(span.start + int(span.length * MOMENT)))
        frames = [canvases[f.id].draw(frame_recipe(promo, f, at, measure)).copy() for f in promo.formats]
        rows.append(_joined([frame[:, :, :3] for frame in frames], 1))
    return _joined(rows, 0)


def _joined(parts: list[np.ndarray], axis: int) -> np.ndarray:
    """Pictures side by side (1) or one below another (0), with a gap."""
    shape = list(parts[0].shape)
    shape[axis] = GAP
    gap = np.full(shape, 240, np.uint8)
    return np.concatenate([piece for part in parts for piece in (part, gap)], axis=axis)


def main() -> None:
    folder, *keys = sys.argv[1:]
    out = Path(folder)
    out.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as drawn:
        demo = _Drawn(Path(drawn))
        for key in keys or patterns():
            sheet(key, demo, out / f"{key}.png")
            print(key)


if __name__ == "__main__":
    main()
