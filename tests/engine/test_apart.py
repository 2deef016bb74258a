"""Designs taken apart, and collages turned into layers: they look as before, in every format, by pixels."""

from __future__ import annotations

from itertools import count

import numpy as np
import numpy.typing as npt
import pytest

from glowreel.core import commands as c
from glowreel.core.design.model import Box
from glowreel.core.document import Promo
from glowreel.core.formats import FIRST_CHOICE, SHIPPED
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.time import ticks
from glowreel.designs import shipped
from glowreel.engine.draw import Canvas
from glowreel.engine.sources import NothingMade, Sources
from glowreel.engine.typesetting import measure

SHORT = 180
HARD_EDGES = 0.012
"""The share of pixels that may differ clearly: edges are smoothed otherwise by a mask than by a path."""


def table() -> tuple[Promo, c.Context]:
    numbers = count(1)
    context = c.Context(lambda prefix: f"{prefix}{next(numbers)}", designs=shipped(), measure=measure)
    promo = Promo(id="p", name="Apart", formats=tuple(SHIPPED[key] for key in FIRST_CHOICE))
    promo = c.apply(promo, c.InsertFiller(length=ticks(12)), context).promo
    filled = c.Set(items=(promo.clips[0].id,), values={"fill": "#336688"})
    return c.apply(promo, filled, context).promo, context


def drawn(promo: Promo, format: str, at: int, short: int = SHORT) -> npt.NDArray[np.int16]:
    """A frame with every layer at rest."""
    width, height = SHIPPED[format].size(short)
    canvas = Canvas(Sources(NothingMade(), threads=1), width, height)  # type: ignore[arg-type]
    rest = [item.id for item in promo.items]
    return canvas.draw(frame_recipe(promo, SHIPPED[format], at, measure, rest))[:, :, :3].astype(np.int16)


def turned(box: Box) -> bool:
    """Whether words in it are turned with what they stand in: then they are resampled there, and drawn afresh apart."""
    return bool(box.boxes and box.turn) or any(turned(inner) for inner in box.boxes)


@pytest.mark.parametrize("key", sorted(shipped()))
def test_a_design_taken_apart_looks_as_before(key: str) -> None:
    promo, context = table()
    promo = c.apply(promo, c.AddDesign(design=key), context).promo
    apart = c.apply(promo, c.TakeApart(item=promo.items[0].id), context).promo
    assert all(item.design != key for item in apart.items)
    at = promo.rate.snap(ticks(shipped()[key].length * 0.6))
    bare = promo.changed(layers=())
    for format in FIRST_CHOICE:
        before, after = drawn(promo, format, at), drawn(apart, format, at)
        differs = np.abs(before - after).max(axis=-1)
        edges = HARD_EDGES * (2 if turned(shipped()[key].for_shape(SHIPPED[format].wide / SHIPPED[format].high)) else 1)
        assert (differs > 40).mean() < edges, f"{key} looks otherwise in {format}"
        assert np.abs(before - drawn(bare, format, at)).max(axis=-1).mean() > differs.mean(), "nothing of it is left"


@pytest.mark.parametrize("format", FIRST_CHOICE)
def test_a_collage_turned_into_layers_looks_as_before(format: str) -> None:
    promo, context = table()
    promo = c.apply(promo, c.AddCollage(grid="five-cross"), context).promo
    clip = promo.clips[-1]
    for cell, said in zip(clip.cells, ("Up at dawn", "Two hours", "", "Breakfast"), strict=False):
        command = c.FillCell(item=clip.id, cell=cell.id, words=said) if said else None
        promo = c.apply(promo, command, context).promo if command else promo
    looks = {"cell_round": 0.2, "gap": 0.03, f"{clip.cells[0].id}.fill": "#C8430B"}
    promo = c.apply(promo, c.Set(items=(clip.id,), values=looks), context).promo
    loose = c.apply(promo, c.FreeCollage(item=clip.id), context).promo
    assert len(loose.items) == 8
    at = promo.rate.snap(ticks(13))
    differs = np.abs(drawn(promo, format, at, 360) - drawn(loose, format, at, 360)).max(axis=-1)
    assert (differs > 40).mean() < HARD_EDGES
