"""Films: whether the size that is told beforehand and the time that is said to be left are true."""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path

from tests.core.build import numbered

from benchmarks.material import Shop
from glowreel.core.document import Promo
from glowreel.core.film_forms import FILM_FORMS, as_made, expected_bytes, read_making
from glowreel.core.formats import SHIPPED
from glowreel.demo.scenario import FILES, MEDIA, finished
from glowreel.engine.export import name_piece, plan, render_file, render_pieces
from glowreel.engine.filming import Out
from glowreel.engine.sources import Sources

Show = Callable[[str, str, str, bool], None]
WIDE, SIDE = SHIPPED["wide"], 720
TOLD_FROM = 0.1


def films(folder: Path, show: Show) -> None:
    shop = Shop(folder)
    media = {name: shop.add(MEDIA / name) for name in FILES}
    for one in media.values():
        if one.sounding:
            shop.samples(one.hash)
    promo = finished(media, numbered())
    for key, form in FILM_FORMS.items():
        if form.picture and not form.frames and key != "png":
            _size(promo, shop, folder, key, show)
    _left(promo, shop, folder, show)


def _size(promo: Promo, shop: Shop, folder: Path, key: str, show: Show) -> None:
    """A file of a form beside what was told of its size, nothing of the promo having been made before."""
    form, making = FILM_FORMS[key], read_making(key)
    side = SIDE if SIDE in form.sides else form.sides[2]
    if form.most_seconds:
        side = 360
    out = folder / f"film{form.suffix}"
    told = expected_bytes(making, promo, WIDE.size(side))
    began = time.monotonic()
    render_file(promo, WIDE, side, Sources(shop), out, folder, making=making)
    took, size = time.monotonic() - began, out.stat().st_size
    ratio = told / size
    figure = f"{told / 1e6:.1f} MB of {size / 1e6:.1f}: {ratio:.2f} x"
    what = f"size told of {form.label}, 20 s {side}p, {took:.0f} s"
    show(what, figure, "0.50–2.00 x", 0.5 <= ratio <= 2)


def _left(promo: Promo, shop: Shop, folder: Path, show: Show) -> None:
    """The time that is said to be left once a tenth is done, beside what it took, by pieces in their order."""
    making = read_making()
    made = as_made(promo, making)
    runs = plan(made, making)
    costs = [name_piece(made, WIDE, SIDE, run, making).cost for run in runs]
    sources, took = Sources(shop), []
    for number, run in enumerate(runs):
        began = time.monotonic()
        render_pieces(made, [Out(WIDE, SIDE, folder / f"left-{number}.mp4", making)], run, sources)
        took.append(time.monotonic() - began)
    worst = 0.0
    for done in range(1, len(runs)):
        share = sum(costs[:done]) / sum(costs)
        if share < TOLD_FROM:
            continue
        said = sum(took[:done]) / share
        worst = max(worst, abs(said - sum(took)) / sum(took))
    show("time left, worst after a tenth, of all it took", f"{worst:.0%} of {sum(took):.0f} s", "<= 20 %", worst <= 0.2)
