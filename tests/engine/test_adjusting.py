"""Adjustments and words that are cut out of a sheet, seen in the pixels."""

from itertools import count

import numpy as np
import pytest

from glowreel.core import commands as c
from glowreel.core.commands import Context, apply
from glowreel.core.document import Promo
from glowreel.core.errors import Refusal
from glowreel.core.formats import SHIPPED
from glowreel.core.time import ticks
from glowreel.engine.sources import Sources
from glowreel.engine.still import draw_still
from tests.conftest import Files, Folder
from tests.core.build import numbered
from tests.engine.build import promo_of

WIDE = SHIPPED["wide"]
ROUNDS = count()
MIDDLE, CORNER = np.s_[88:92, 158:162], np.s_[:4, :4]


@pytest.fixture
def scene(files: Files, library: Folder) -> tuple[Promo, Sources]:
    """Four seconds of orange footage."""
    media = library.add(files.footage("orange.mp4", lambda _: (220, 120, 40), frames=120))
    return promo_of(media), Sources(library)


def done(promo: Promo, *commands: c.Command) -> Promo:
    context = Context(numbered(f"q{next(ROUNDS)}-"))
    for command in commands:
        promo = apply(promo, command, context).promo
    return promo


def seen(promo: Promo, sources: Sources, second: float, part=MIDDLE) -> np.ndarray:
    pixels = draw_still(promo, WIDE, ticks(second), 180, sources)
    return pixels[part].reshape(-1, 4).mean(axis=0)[2::-1]


def test_an_adjustment_changes_what_lies_behind_it_while_it_lasts_and_nothing_in_front(scene) -> None:
    promo, sources = scene
    promo = done(promo, c.AddAdjustment(at=ticks(1), length=ticks(1)))
    key = promo.layers[0].items[0].id
    grey = done(promo, c.Set(items=(key,), values={"saturation": -1.0}))
    before, within, after = (seen(grey, sources, at) for at in (0.5, 1.5, 2.5))
    assert np.ptp(before) > 100
    assert np.allclose(before, after, atol=1)
    assert np.ptp(within) < 3
    half = done(grey, c.Set(items=(key,), values={"opacity": 0.5}))
    assert np.allclose(seen(half, sources, 1.5), (before + within) / 2, atol=2)
    words = done(grey, c.AddWords(text="█", at=ticks(1), length=ticks(1)))
    values = {"colour": "#FF0000", "size": 0.5, "pin": (0.5, 0.5), "place": (0.0, 0.0), "arrives": "none",
              "leaves": "none", "shadow": 0.0, "text": "HHHH"}  # fmt: skip
    over = done(words, c.Set(items=(words.layers[0].items[0].id,), values=values))
    frame = draw_still(over, WIDE, ticks(1.5), 180, sources)
    assert (np.abs(frame[:, :, 2::-1].astype(int) - (255, 0, 0)).max(axis=2) < 8).any(), "red words stay red"


def test_an_adjustment_is_seen_through_a_shape_and_carries_effects(scene) -> None:
    promo, sources = scene
    promo = done(promo, c.AddAdjustment(whole=True))
    key = promo.layers[0].items[0].id
    promo = done(
        promo,
        c.AddEffect(items=(key,), effect="duotone", values={"dark": "#000000", "light": "#0000FF"}),
        c.Set(items=(key,), values={"mask": "ellipse", "mask_size": (0.5, 0.5)}),
    )
    assert seen(promo, sources, 2)[0] < 5, "no red where it is"
    assert np.allclose(seen(promo, sources, 2, CORNER), (220, 120, 40), atol=6), "and nothing outside"


def test_an_adjustment_lies_over_a_scene_and_needs_something_to_adjust(scene) -> None:
    promo, sources = scene
    promo = done(promo, c.SplitAt(at=ticks(2)), c.BreakScene(at=ticks(2)))
    promo = done(promo, c.AddAdjustment(scene=promo.scenes[1].id))
    promo = done(promo, c.Set(items=(promo.layers[0].items[0].id,), values={"filter": "charcoal"}))
    assert not np.allclose(seen(promo, sources, 3), seen(promo, sources, 1), atol=3)
    with pytest.raises(Refusal, match="nothing yet"):
        done(promo_of(), c.AddAdjustment())


def test_words_are_a_mask_for_the_footage_behind_them(scene) -> None:
    promo, sources = scene
    promo = done(promo, c.AddWords(text="HH", at=0, length=ticks(4)))
    values = {"sheet": "#102030", "size": 0.4, "weight": 800, "pin": (0.5, 0.5), "place": (0.0, 0.0), "arrives": "none",
              "leaves": "none"}  # fmt: skip
    promo = done(promo, c.Set(items=(promo.layers[0].items[0].id,), values=values))
    frame = draw_still(promo, WIDE, ticks(1), 180, sources)[:, :, 2::-1].astype(int)
    sheet = np.abs(frame - (16, 32, 48)).max(axis=2) < 3
    footage = np.abs(frame - (220, 120, 40)).max(axis=2) < 8
    assert sheet[:4].all(), "the sheet covers the frame"
    assert footage.sum() > 2000, "the footage shows in the letters"
    assert (sheet | footage).mean() > 0.93, "and nowhere else but at their edges"
