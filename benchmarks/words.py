"""Words: animated titles played small, and what a gallery of designs shows first."""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path

from benchmarks.material import Maker, Shop, camera_footage
from glowreel.core import commands as c
from glowreel.core.formats import SHIPPED
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.time import ticks
from glowreel.designs import shipped
from glowreel.engine.draw import Canvas
from glowreel.engine.sources import Sources
from glowreel.engine.still import encode
from glowreel.engine.typesetting import measure

WIDE = SHIPPED["wide"]
TITLES, SPAN, GALLERY, TRIED = 20, 20, 36, 45
Show = Callable[[str, str, str, bool], None]


def words(folder: Path, show: Show) -> None:
    """Twenty animated titles in twenty seconds over footage; the first frame of each of 36 designs; one played."""
    shop = Shop(folder)
    camera = shop.add(camera_footage(folder), stand_in=True)
    maker = Maker(shop)
    maker.context = c.Context(maker.context.new_id, maker.context.media, shipped())
    maker.clip(camera, 1, SPAN)
    titles = [design for design in shipped().values() if design.purpose in ("title", "end-card")]
    for n, design in enumerate(titles[:TITLES]):
        maker.do(c.AddDesign(design=design.id, at=ticks(n)))
    promo = maker.promo
    shop.preview = True
    canvas = Canvas(Sources(shop, threads=1), 640, 360)

    def frame(n: int) -> bytes:
        return encode(canvas.draw(frame_recipe(promo, WIDE, promo.rate.frame_start(n), measure)))

    began = time.perf_counter()
    for n in range(SPAN * 30):
        frame(n)
    rate = SPAN * 30 / (time.perf_counter() - began)
    show("playing 20 animated titles in 20 s, 640x360, drawing", f"{rate:.0f} frames a second", ">= 30", rate >= 30)
    small = Canvas(Sources(shop, threads=1), 320, 180)
    plain = maker.promo.changed(layers=())
    tried = [c.apply(plain, c.AddDesign(design=design.id, at=0), maker.context).promo for design in titles[:GALLERY]]

    def first(one: int) -> bytes:
        at = promo.rate.frame_start(30)
        return encode(small.draw(frame_recipe(tried[one], WIDE, at, measure)))

    began = time.perf_counter()
    for one in range(len(tried)):
        first(one)
    took = (time.perf_counter() - began) * 1000
    show("a frame of each of 36 designs", f"{took:.0f} ms", "<= 400 ms", took <= 400)
    began = time.perf_counter()
    for n in range(0, TRIED * 2, 2):
        encode(small.draw(frame_recipe(tried[0], WIDE, promo.rate.frame_start(n), measure)))
    took = (time.perf_counter() - began) * 1000
    show("three seconds of a tried design, drawn at 320x180", f"{took:.0f} ms", "<= 3000 ms", took <= 3000)
