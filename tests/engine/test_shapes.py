"""Shapes: where they lie, what fills them, their lines, by pixels."""

from __future__ import annotations

from itertools import count

import cv2
import numpy as np
import numpy.typing as npt
import pytest

from glowreel.core.commands import AddDesign, AddShape, AddSticker, Context, Set, apply
from glowreel.core.document import Promo
from glowreel.core.formats import FIRST_CHOICE, SHIPPED
from glowreel.core.forms import FORMS
from glowreel.core.recipe.picture import frame_recipe, part_box
from glowreel.core.time import ticks
from glowreel.designs import shipped
from glowreel.engine.draw import Canvas
from glowreel.engine.sources import NothingMade, Sources
from glowreel.engine.stickers import draw_sticker, stickers
from glowreel.engine.typesetting import measure

WIDE, HIGH = 640, 360


def shaped(form: str, box: tuple[float, float, float, float] | None = None, **values: object) -> Promo:
    numbers = count(1)
    context = Context(lambda prefix: f"{prefix}{next(numbers)}", measure=measure)
    promo = Promo(id="p", name="Shapes", formats=tuple(SHIPPED[key] for key in FIRST_CHOICE))
    promo = apply(promo, AddShape(form=form, format="wide", box=box), context).promo
    values = {"arrives": "none", "ink": "#FF0000", **values}
    return apply(promo, Set(items=(promo.items[0].id,), values=values), context).promo


def drawn(promo: Promo) -> npt.NDArray[np.int16]:
    """The first frame on black, as red, green, blue."""
    canvas = Canvas(Sources(NothingMade(), threads=1), WIDE, HIGH)  # type: ignore[arg-type]
    frame = canvas.draw(frame_recipe(promo, SHIPPED["wide"], ticks(1), measure))
    return frame[:, :, 2::-1].astype(np.int16)


def extent(seen: npt.NDArray[np.bool_]) -> tuple[float, float, float, float]:
    """Where something is seen, in fractions of the short side: left, top, right, bottom."""
    rows, columns = np.flatnonzero(seen.any(axis=1)), np.flatnonzero(seen.any(axis=0))
    return columns[0] / HIGH, rows[0] / HIGH, (columns[-1] + 1) / HIGH, (rows[-1] + 1) / HIGH


@pytest.mark.parametrize("form", list(FORMS))
def test_a_shape_lies_in_the_box_in_which_it_was_drawn(form: str) -> None:
    box = (0.3, 0.2, 0.9, 0.45)
    promo = shaped(form, box)
    lies = part_box(promo, SHIPPED["wide"], promo.items[0], measure)
    assert lies is not None
    assert (lies.x, lies.y, lies.width, lies.height) == pytest.approx([edge * 1080 for edge in box], abs=0.5)
    seen = drawn(promo)[:, :, 0] > 100
    left, top, right, low = extent(seen)
    # Lines reach beyond by half their width, with round ends.
    room = 0.02 if FORMS[form].open else 0.006
    assert left >= box[0] - room
    assert top >= box[1] - room
    assert right <= box[0] + box[2] + room
    assert low <= box[1] + box[3] + room
    assert right - left > 0.5 * box[2]


def test_a_rectangle_is_filled_to_its_edges_and_a_line_lies_half_outside() -> None:
    plain = drawn(shaped("rectangle", (0.5, 0.25, 0.5, 0.5)))[:, :, 0] > 128
    assert plain.sum() == pytest.approx((0.5 * HIGH) ** 2, rel=0.02)
    lined = drawn(shaped("rectangle", (0.5, 0.25, 0.5, 0.5), stroke=0.04, stroke_colour="#00FF00"))
    assert extent(lined[:, :, 1] > 128) == pytest.approx((0.48, 0.23, 1.02, 0.77), abs=0.006)
    assert (lined[:, :, 0] > 128).sum() == pytest.approx((0.46 * HIGH) ** 2, rel=0.03)
    hollow = drawn(shaped("rectangle", (0.5, 0.25, 0.5, 0.5), ink="", stroke=0.04, stroke_colour="#00FF00"))
    assert hollow[HIGH // 2, round(0.75 * HIGH)].max() == 0


def test_corners_are_as_round_as_is_said() -> None:
    box = (0.5, 0.25, 0.5, 0.5)
    square, pill = (float((drawn(shaped("rectangle", box, rounding=share))[:, :, 0] > 128).sum()) for share in (0, 1))
    assert pill / square == pytest.approx(np.pi / 4, rel=0.01)


def test_a_fill_fades_across_the_shape() -> None:
    pixels = drawn(shaped("rectangle", (0.2, 0.4, 1.2, 0.2), ink_second="#0000FF", ink_angle=0.0))
    row = pixels[HIGH // 2, round(0.21 * HIGH) : round(1.39 * HIGH)]
    assert (np.diff(row[:, 0]) <= 2).all()
    assert row[0, 0] > 240
    assert row[-1, 2] > 240
    assert row[len(row) // 2, 0] == pytest.approx(row[len(row) // 2, 2], abs=6)


def test_a_line_draws_itself_and_can_be_broken() -> None:
    def reached(share: float) -> float:
        return extent(drawn(shaped("line", (0.3, 0.45, 1.0, 0.1), drawn=share))[:, :, 0] > 128)[2]

    assert [reached(share) for share in (0.25, 0.5, 1.0)] == pytest.approx([0.55, 0.8, 1.3], abs=0.02)
    assert drawn(shaped("line", (0.3, 0.45, 1.0, 0.1), drawn=0.0)).max() == 0
    whole, broken = (drawn(shaped("line", (0.3, 0.45, 1.0, 0.1), dash=dash))[HIGH // 2, :, 0] for dash in (0, 4))
    pieces = np.flatnonzero(np.diff((broken > 128).astype(int)) == 1)
    assert (whole > 128).sum() > (broken > 128).sum()
    assert len(pieces) > 5


def test_a_shape_is_as_large_in_every_format() -> None:
    promo = shaped("star", (0.3, 0.2, 0.4, 0.4))
    boxes = [part_box(promo, format, promo.items[0], measure) for format in promo.formats]
    sizes = {(round(box.width), round(box.height)) for box in boxes if box is not None}
    assert sizes == {(432, 432)}


@pytest.mark.parametrize("format", FIRST_CHOICE)
@pytest.mark.parametrize(
    "link", ["https://hollowmere.example/dawn", "https://hollowmere.example/" + "long-" * 16 + "link"]
)
def test_a_code_can_be_scanned_from_the_drawn_frame(format: str, link: str) -> None:
    numbers = count(1)
    context = Context(lambda prefix: f"{prefix}{next(numbers)}", designs=shipped(), measure=measure)
    promo = Promo(id="p", name="Code", formats=tuple(SHIPPED[key] for key in FIRST_CHOICE), background="#5B6B86")
    promo = apply(promo, AddDesign(design="scan-code", fields={"link": link}), context).promo
    size = SHIPPED[format].size(720)
    canvas = Canvas(Sources(NothingMade(), threads=1), *size)  # type: ignore[arg-type]
    frame = canvas.draw(frame_recipe(promo, SHIPPED[format], ticks(2.5), measure))
    said, _, _ = cv2.QRCodeDetector().detectAndDecode(np.ascontiguousarray(frame[:, :, :3]))
    assert said == link


def test_there_are_many_stickers_and_each_is_drawn() -> None:
    assert len(stickers()) >= 120
    for name in stickers():
        pixels = draw_sticker(name, 32, "")
        assert pixels is not None
        assert (pixels[:, :, 3] > 128).mean() > 0.05, f"{name} is empty"
    assert draw_sticker("nowhere", 32, "") is None


def test_a_sticker_lies_in_its_box_sharp_and_in_one_colour_where_that_is_wanted() -> None:
    numbers = count(1)
    context = Context(lambda prefix: f"{prefix}{next(numbers)}", measure=measure)
    promo = Promo(id="p", name="Stickers", formats=(SHIPPED["wide"],))
    promo = apply(promo, AddSticker(sticker="red-heart"), context).promo
    values = {"arrives": "none", "size": 0.5, "one_colour": "#00FF00"}
    promo = apply(promo, Set(items=(promo.items[0].id,), values=values), context).promo
    pixels = drawn(promo)
    left, top, right, low = extent(pixels.max(axis=2) > 100)
    assert 0.4 < right - left <= 0.505
    assert 0.35 < low - top <= 0.505
    assert (left + right) / 2 == pytest.approx(16 / 9 / 2, abs=0.02)
    assert pixels[:, :, 0].max() == 0
    assert pixels[:, :, 1].max() > 250
    # Drawn at the size at which it is seen: its edge is a pixel wide.
    edge = pixels[round((top + low) / 2 * HIGH), :, 1]
    assert ((edge > 20) & (edge < 235)).sum() <= 6
