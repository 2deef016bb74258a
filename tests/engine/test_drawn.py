"""Everything that recipes can say is drawn, and what draws says when it comes to draw something else."""

from __future__ import annotations

import json
from typing import get_args

import numpy as np
import pytest

from glowreel.core.effects import EFFECTS as KINDS
from glowreel.core.effects import FINISHES
from glowreel.core.recipe.model import Applied, Box, Composite, DrawShape, Fill, FrameRecipe, Op, Window
from glowreel.engine.draw import Canvas
from glowreel.engine.drawing import EFFECTS, OPERATIONS, digest
from glowreel.engine.sources import Sources
from tests.engine.drawn import LEDGER, now


def test_every_operation_and_every_effect_is_drawn_and_documented() -> None:
    assert set(OPERATIONS) == set(get_args(Op))
    assert set(EFFECTS) == {name for name, kind in KINDS.items() if not kind.earlier} | set(FINISHES)
    assert all(kind.__doc__ and "(" not in kind.__doc__[:12] for kind in OPERATIONS), "say what an operation is"
    assert all(drawn.function.__doc__ for drawn in EFFECTS.values())


def test_what_draws_otherwise_has_another_version() -> None:
    known = json.loads(LEDGER.read_text())
    for name, (version, code) in now().items():
        assert name in known, f"{name} is new: run `python -m tests.engine.drawn`"
        if code != known[name][1]:
            assert version > known[name][0], f"{name} changed: raise its version where it draws something else"
            raise AssertionError(f"{name} has a new version: run `python -m tests.engine.drawn`")
    assert set(known) == set(now())


def test_what_is_kept_goes_by_the_versions(monkeypatch: pytest.MonkeyPatch) -> None:
    before = digest()
    digest.cache_clear()
    monkeypatch.setitem(EFFECTS, "blur", type(EFFECTS["blur"])(EFFECTS["blur"].function, 99))
    assert digest() != before
    digest.cache_clear()


def drawn(*ops: Op, side: int = 120) -> np.ndarray:
    """A square frame, BGR."""
    return Canvas(Sources(None), side, side).draw(FrameRecipe(1080, 1080, ops)).copy()[:, :, :3].astype(int)


HALVES = (Fill("#000000"), DrawShape(Box(540, 0, 540, 1080), "#FFFFFF"))


def test_a_shape_has_its_colour_its_corners_and_its_ellipse() -> None:
    plain = drawn(Fill("#000000"), DrawShape(Box(270, 270, 540, 540), "#C8430B"))
    assert plain[60, 60].tolist() == [0x0B, 0x43, 0xC8]
    assert plain[31, 31].tolist() == [0x0B, 0x43, 0xC8]
    assert plain[20, 60].tolist() == [0, 0, 0]
    rounded = drawn(Fill("#000000"), DrawShape(Box(270, 270, 540, 540), "#C8430B", radius=200))
    assert rounded[31, 31].tolist() == [0, 0, 0]
    round_one = drawn(Fill("#000000"), DrawShape(Box(0, 0, 1080, 1080), "#FFFFFF", ellipse=True))
    assert round_one.mean() / 255 == pytest.approx(np.pi / 4, abs=0.01)
    window = Window(270, 270, 540, 540, radius=200)
    seen = drawn(Fill("#000000"), Composite((Fill("#C8430B"),), window=window))
    assert np.abs(seen - rounded).max() <= 12


def test_a_blur_spreads_an_edge_by_its_deviation_and_keeps_flat_ground() -> None:
    soft = drawn(Composite(HALVES, effects=(Applied("blur", (("amount", 0.5),)),)))
    # An edge seen through a Gaussian of deviation s is the normal distribution: 84 % one deviation in.
    deviation = 0.5 * 0.1 * 120
    assert soft[60, 60].mean() / 255 == pytest.approx(0.5, abs=0.06)
    assert soft[60, round(60 + deviation)].mean() / 255 == pytest.approx(0.84, abs=0.06)
    flat = drawn(Composite((Fill("#C8430B"),), effects=(Applied("blur", (("amount", 1.0),)),)))
    assert np.abs(flat - [0x0B, 0x43, 0xC8]).max() <= 1


def test_grey_keeps_the_brightness_and_takes_the_colour() -> None:
    grey = drawn(Composite((Fill("#C8430B"),), effects=(Applied("grey", (("amount", 1.0),)),)))
    luma = 0.2126 * 0xC8 + 0.7152 * 0x43 + 0.0722 * 0x0B
    assert grey[60, 60].tolist() == pytest.approx([luma] * 3, abs=1.5)
    half = drawn(Composite((Fill("#C8430B"),), effects=(Applied("grey", (("amount", 0.5),)),)))
    assert half[60, 60].tolist() == pytest.approx([(0x0B + luma) / 2, (0x43 + luma) / 2, (0xC8 + luma) / 2], abs=1.5)


def test_pixels_are_squares_of_the_mean() -> None:
    squares = drawn(Composite(HALVES, effects=(Applied("pixels", (("amount", 1.0),)),)))
    side = round(120 / 8)
    blocks = squares.reshape(120 // side, side, 120 // side, side, 3)
    assert np.ptp(blocks, axis=(1, 3)).max() == 0, "a square has more than one colour"
    assert squares.mean() / 255 == pytest.approx(0.5, abs=0.02)


def test_effects_are_done_in_their_order() -> None:
    first = Applied("pixels", (("amount", 1.0),))
    second = Applied("blur", (("amount", 0.3),))
    ways = [drawn(Composite(HALVES, effects=order)) for order in ((first, second), (second, first))]
    assert np.abs(ways[0] - ways[1]).max() > 20
