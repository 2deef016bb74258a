"""Everything that can be done to a picture, each with what must come of it, worked out by hand."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from glowreel.core.effects import EFFECTS as KINDS
from glowreel.core.looks import LOOKS
from glowreel.core.patterns import PATTERNS
from glowreel.core.recipe.finish import _look
from glowreel.core.recipe.model import (
    Applied,
    Box,
    Composite,
    DrawGradient,
    DrawPattern,
    DrawPicture,
    DrawShape,
    Fill,
    FrameRecipe,
    Mask,
    Op,
)
from glowreel.core.shapes import SHAPES
from glowreel.core.time import ticks
from glowreel.core.vocabulary import BLENDS
from glowreel.engine.draw import Canvas
from glowreel.engine.effects.grade import TO_YUV, grade_of, grade_planes, smooth_curve
from glowreel.engine.frames import FrameMaker
from glowreel.engine.masks import path_of
from glowreel.engine.sources import Sources
from tests.conftest import Files, Folder

SIDE = 120
FRAME = Box(0, 0, 1080, 1080)
HALF = Box(270, 270, 540, 540)


def drawn(*ops: Op) -> np.ndarray:
    """A square frame, BGR."""
    return Canvas(Sources(None), SIDE, SIDE).draw(FrameRecipe(1080, 1080, ops)).copy()[:, :, :3].astype(int)


def flat(hexed: str, *effects: Applied) -> np.ndarray:
    """The colour in the middle of a frame of one colour with effects done to it; red, green, blue."""
    return drawn(Composite((Fill(hexed),), effects=effects, region=FRAME))[60, 60, ::-1]


def grade(**values: Any) -> Applied:
    return Applied("grade", tuple(values.items()))


def light(colour: np.ndarray) -> float:
    return float(TO_YUV[0] @ colour[::-1])


# ---- tone and colour ----


@pytest.mark.parametrize("stops", [-2, -1, -0.5])
def test_a_stop_less_is_half_the_light(stops: float) -> None:
    assert flat("#808080", grade(exposure=stops)) == pytest.approx(128 * 2 ** (stops / 2.2), abs=1.5)


def test_a_stop_more_is_twice_the_light_and_nothing_burns_out_at_once() -> None:
    assert flat("#404040", grade(exposure=1.0)) == pytest.approx(64 * 2 ** (1 / 2.2), abs=1.5)
    near_white = flat("#E0E0E0", grade(exposure=1.0))
    assert (near_white > 224).all()
    assert (near_white <= 255).all()


def test_contrast_leaves_black_middle_and_white_and_parts_what_lies_between() -> None:
    for same in ("#000000", "#FFFFFF"):
        assert flat(same, grade(contrast=1.0)).tolist() == flat(same).tolist()
    assert flat("#808080", grade(contrast=1.0)) == pytest.approx(128, abs=1.5)
    y = 64 / 255
    for amount in (1.0, -1.0):
        assert flat("#404040", grade(contrast=amount)) == pytest.approx(
            255 * (y + amount * 0.95 * y * (1 - y) * (2 * y - 1)), abs=1.5
        )


@pytest.mark.parametrize(
    ("name", "dark", "bright"), [("shades", 1, 0), ("highlights", 0, 1), ("blacks", 1, 0), ("whites", 0, 1)]
)
def test_shadows_and_lights_are_moved_by_themselves(name: str, dark: int, bright: int) -> None:
    change = {key: abs(flat(key, grade(**{name: 1.0}))[0] - flat(key)[0]) for key in ("#202020", "#E0E0E0")}
    more, less = (change["#202020"], change["#E0E0E0"]) if dark else (change["#E0E0E0"], change["#202020"])
    assert more > 3 * max(1, less)


def test_without_saturation_there_is_grey_as_light_as_before() -> None:
    before = flat("#C8430B")
    after = flat("#C8430B", grade(saturation=-1.0))
    assert after == pytest.approx(light(before), abs=1.5)


def test_saturation_doubles_the_distance_from_grey() -> None:
    before, after = flat("#9C8070"), flat("#9C8070", grade(saturation=1.0))
    assert after - light(after) == pytest.approx(2 * (before - light(before)), abs=2.5)


def test_vibrance_is_for_weak_colours() -> None:
    def colourful(hexed: str, **values: float) -> float:
        colour = flat(hexed, grade(**values)) if values else flat(hexed)
        return float(np.ptp(colour))

    assert colourful("#908480", vibrance=1.0) / colourful("#908480") > 1.7
    assert colourful("#C83010", vibrance=1.0) / colourful("#C83010") < 1.1


def test_warm_is_more_red_than_blue_and_as_light_as_before() -> None:
    warm, cool = flat("#808080", grade(warmth=1.0)), flat("#808080", grade(warmth=-1.0))
    assert warm[0] > 145 > 110 > warm[2]
    assert cool[2] > 145 > 110 > cool[0]
    assert light(warm) == pytest.approx(128, abs=2)
    magenta = flat("#808080", grade(tint=1.0))
    assert magenta[1] < 122 < 135 < min(magenta[0], magenta[2])


def test_fade_lifts_black() -> None:
    assert flat("#000000", grade(fade=1.0)) == pytest.approx(0.2 * 255, abs=1.5)


def test_a_curve_goes_through_its_points_and_never_back() -> None:
    points = ((0.0, 0.1), (0.25, 0.2), (0.6, 0.8), (1.0, 0.9))
    at = np.linspace(0, 1, 1001, dtype=np.float32)
    made = smooth_curve(points, at)
    assert (np.diff(made) >= -1e-6).all()
    for x, y in points:
        assert made[round(x * 1000)] == pytest.approx(y, abs=1e-3)
    assert flat("#404040", grade(curve=((0.0, 0.0), (64 / 255, 0.5), (1.0, 1.0)))) == pytest.approx(127.5, abs=1.5)
    red = flat("#404040", Applied("channels", (("curve_red", ((0.0, 0.0), (64 / 255, 0.75), (1.0, 1.0))),)))
    assert red == pytest.approx([0.75 * 255, 64, 64], abs=1.5)


@given(st.lists(st.tuples(st.floats(0, 1), st.floats(0, 1)), max_size=6, unique_by=lambda point: round(point[0], 2)))
def test_any_curve_stays_between_black_and_white(points: list[tuple[float, float]]) -> None:
    made = smooth_curve(tuple(sorted(points)), np.linspace(0, 1, 256, dtype=np.float32))
    assert np.isfinite(made).all()
    assert made.min() >= 0
    assert made.max() <= 1


def test_looks_are_all_different_and_as_strong_as_said() -> None:
    colours = ("#3A2A20", "#7A8C5A", "#D8C0A0", "#2F6F87")
    seen = {}
    for name in LOOKS:
        seen[name] = np.concatenate([flat(colour, *_look(name, 1.0)) for colour in colours])
    plain = np.concatenate([flat(colour) for colour in colours])
    seen["none"] = plain
    names = list(seen)
    for n, first in enumerate(names):
        for second in names[n + 1 :]:
            assert np.abs(seen[first] - seen[second]).max() > 5, f"{first} looks like {second}"
    assert _look("harvest", 0) == ()
    half = flat("#7A8C5A", *_look("silver", 0.5))
    assert np.ptp(half) == pytest.approx(np.ptp(flat("#7A8C5A")) / 2, abs=4)


@settings(max_examples=25)
@given(st.sampled_from(list(LOOKS)), st.integers(0, 255), st.integers(0, 255), st.integers(0, 255))
def test_a_film_is_graded_in_its_planes_as_a_picture_is(name: str, red: int, green: int, blue: int) -> None:
    (applied,) = _look(name, 1.0)
    picture = flat(f"#{red:02X}{green:02X}{blue:02X}", applied)
    y, cb, cr = TO_YUV @ np.array([blue, green, red], np.float32)
    luma = np.full((4, 4), round(16 + y * 219 / 255), np.uint8)
    planes = [np.full((2, 2), round(128 + value * 224 / 255), np.uint8) for value in (cb, cr)]
    grade_planes(luma, *planes, applied.values)
    shown = np.array([(luma[0, 0] - 16.0) * 255 / 219, *((plane[0, 0] - 128.0) * 255 / 224 for plane in planes)])
    made = np.clip(np.linalg.inv(TO_YUV) @ shown, 0, 255)[::-1]
    assert np.abs(made - picture).max() <= 14, "rounding to whole steps of a stored film, three times over"
    assert np.abs(made - picture).mean() <= 5


def test_nothing_set_is_nothing_done() -> None:
    tables = grade_of(())
    assert np.allclose(tables.light, np.linspace(0, 1, 256), atol=1e-6)
    assert not tables.coloured


# ---- masks, edges, blending ----


def test_each_shape_lets_through_what_its_area_says() -> None:
    areas = {"rectangle": 1.0, "ellipse": np.pi / 4, "arch": 0.5 + np.pi / 8, "polygon": 5 / 8 * np.sin(2 * np.pi / 5)}
    for name, shape in SHAPES.items():
        seen = drawn(Fill("#000000"), Composite((Fill("#FFFFFF"),), masks=(Mask(FRAME, shape.outline(5, 0.5)),)))
        share = seen.mean() / 255
        assert 0.1 < share <= 1, name
        if name in areas:
            assert share == pytest.approx(areas[name], abs=0.01), name
        inside_out = drawn(
            Fill("#000000"), Composite((Fill("#FFFFFF"),), masks=(Mask(FRAME, shape.outline(5, 0.5), inverted=True),))
        )
        assert inside_out.mean() / 255 == pytest.approx(1 - share, abs=0.01), name


def test_a_feather_is_half_there_at_the_edge() -> None:
    seen = drawn(Fill("#000000"), Composite((Fill("#FFFFFF"),), masks=(Mask(HALF, feather=60.0),)))
    assert seen[60, 30, 0] == pytest.approx(127, abs=14)
    assert seen[60, 60, 0] > 250
    assert seen[60, 5, 0] < 5


def test_a_path_of_any_size_fills_its_box_and_nonsense_is_a_rectangle() -> None:
    diamond = drawn(
        Fill("#000000"), Composite((Fill("#FFFFFF"),), masks=(Mask(FRAME, "M100 0 L200 100 L100 200 L0 100 Z"),))
    )
    assert diamond.mean() / 255 == pytest.approx(0.5, abs=0.01)
    assert path_of("M zzz").computeTightBounds() == path_of("M0 0 H1 V1 H0 Z").computeTightBounds()


def test_two_masks_let_through_what_is_in_both() -> None:
    left, top = Box(0, 0, 540, 1080), Box(0, 0, 1080, 540)
    seen = drawn(Fill("#000000"), Composite((Fill("#FFFFFF"),), masks=(Mask(left), Mask(top, feather=0.001))))
    assert seen[30, 30].tolist() == [255, 255, 255]
    assert seen[30, 90].tolist() == seen[90, 30].tolist() == [0, 0, 0]


FORMULAS = {
    "normal": lambda a, b: a,
    "multiply": lambda a, b: a * b,
    "screen": lambda a, b: a + b - a * b,
    "overlay": lambda a, b: np.where(b <= 0.5, 2 * a * b, 1 - 2 * (1 - a) * (1 - b)),
    "hard-light": lambda a, b: np.where(a <= 0.5, 2 * a * b, 1 - 2 * (1 - a) * (1 - b)),
    "add": lambda a, b: np.minimum(1, a + b),
    "lighten": np.maximum,
    "darken": np.minimum,
    "difference": lambda a, b: np.abs(a - b),
}


@pytest.mark.parametrize("name", BLENDS)
def test_ways_of_blending_follow_their_formulas(name: str) -> None:
    top, below = np.array([200, 67, 11]) / 255, np.array([47, 111, 135]) / 255
    seen = drawn(Fill("#2F6F87"), Composite((Fill("#C8430B"),), blend=name))[60, 60, ::-1] / 255
    if name in FORMULAS:
        assert seen == pytest.approx(FORMULAS[name](top, below), abs=0.008)
    elif name == "colour":
        assert light(seen) == pytest.approx(light(below), abs=0.1)
        assert seen.argmax() == 0
    else:
        gentle, hard = seen - below, FORMULAS["hard-light"](top, below) - below
        assert (np.sign(gentle) == np.sign(hard)).all()
        assert (np.abs(gentle) <= np.abs(hard)).all()


def square(*effects: Applied, **more: Any) -> tuple[Op, ...]:
    group = Composite((DrawShape(HALF, "#C8430B"),), effects=effects, region=HALF, **more)
    return Fill("#FFFFFF"), group


def test_a_border_lies_outside_and_is_as_wide_as_said() -> None:
    seen = drawn(*square(Applied("border", (("width", 90.0), ("colour", "#0000FF")))))
    assert seen[60, 25].tolist() == [255, 0, 0]
    assert seen[60, 18].tolist() == [255, 255, 255]
    assert seen[60, 31].tolist() == [0x0B, 0x43, 0xC8]


def test_a_shadow_falls_to_its_side_and_is_as_dark_as_said() -> None:
    values = (("amount", 0.5), ("soft", 0.0), ("away", 90.0), ("angle", 0.0), ("colour", "#000000"))
    seen = drawn(*square(Applied("drop", values)))
    assert seen[60, 94] == pytest.approx([127, 127, 127], abs=2)
    assert seen[60, 25].tolist() == [255, 255, 255]
    assert seen[60, 80].tolist() == [0x0B, 0x43, 0xC8], "the thing lies over its shadow"


def test_a_glow_fades_with_the_distance() -> None:
    dark = (Fill("#000000"), *square(Applied("glow", (("amount", 1.0), ("soft", 60.0), ("colour", "#FFFFFF"))))[1:])
    seen = drawn(*dark)[60, :, 0]
    assert seen[28] > seen[22] > seen[14] > 0
    assert seen[2] < 8


def test_a_reflection_is_upside_down_below_and_fades() -> None:
    halves = (DrawShape(Box(270, 270, 540, 270), "#00FF00"), DrawShape(Box(270, 540, 540, 270), "#FF0000"))
    group = Composite(halves, effects=(Applied("reflection", (("amount", 1.0),)),), region=HALF)
    seen = drawn(Fill("#000000"), group)
    assert seen[89, 60, 2] == 255
    column = seen[90:114, 60, 2]
    assert (np.diff(column) <= 0).all()
    assert column[0] > 230 > 30 > column[-1]
    assert seen[90:114, 60, 1].max() == 0, "what lies lowest is mirrored first"


def test_what_has_effects_is_turned_moved_and_seen_through_like_the_rest() -> None:
    none = Applied("blur", (("amount", 0.0),))
    for more in ({"turn": 30.0, "about": (540.0, 540.0)}, {"dx": 90.0, "dy": -45.0}, {"opacity": 0.5}, {"scale": 0.5}):
        with_it = drawn(*square(none, **more))
        plain = drawn(Fill("#FFFFFF"), Composite((DrawShape(HALF, "#C8430B"),), **more))
        assert np.abs(with_it - plain).mean() < 1.0, more


# ---- effects that are put on ----


def picture(seed: int = 0) -> tuple[Op, ...]:
    """Something with light and dark parts and colours, not the same on any side."""
    return (
        DrawGradient(("#2C2A4A", "#F6B73C"), 20.0), DrawShape(Box(200, 150, 300, 200), "#C8430B", ellipse=True),
        DrawShape(Box(600, 600, 350, 250), "#FFFCF6"),
    )  # fmt: skip


def applied(name: str, at: float = 0.0, **values: Any) -> Applied:
    kind = KINDS[name]
    given = tuple((row.name, values.get(row.name, row.default)) for row in kind.parameters)
    return Applied(name, (*given, ("at", ticks(at))) if kind.timed else given)


DRAWN = [name for name, kind in KINDS.items() if not kind.earlier]


@pytest.mark.parametrize("name", DRAWN)
def test_each_effect_does_something_always_the_same_and_only_to_its_own(name: str) -> None:
    """On what fills the frame and on a small thing with a hole; never brighter than its transparency."""
    plain = drawn(*picture())
    times = (0.02, 0.05, 0.31, 0.62, 1.11, 2.05) if KINDS[name].timed else (0.0,)
    made = [drawn(Composite(picture(), effects=(applied(name, at),), region=FRAME)) for at in times]
    assert max(np.abs(one - plain).mean() for one in made) > 1
    again = drawn(Composite(picture(), effects=(applied(name, times[0]),), region=FRAME))
    assert (again == made[0]).all()
    small = Composite((DrawShape(Box(400, 400, 200, 200), "#FFFFFF", ellipse=True),), effects=(applied(name, 0.31),),
                      region=Box(400, 400, 200, 200))  # fmt: skip
    canvas = Canvas(Sources(None), SIDE, SIDE)
    pixels = canvas.draw(FrameRecipe(1080, 1080, (small,)))
    assert (pixels[:, :, :3] <= pixels[:, :, 3:4]).all(), "premultiplied"
    assert pixels[5, 5].tolist() == [0, 0, 0, 0], "far away nothing happens"


def test_effects_that_have_an_answer_give_it() -> None:
    two = flat("#FFFFFF", applied("duotone")), flat("#000000", applied("duotone"))
    assert two[0].tolist() == [0xF6, 0xB7, 0x3C]
    assert two[1].tolist() == [0x2C, 0x2A, 0x4A]
    mirrored = drawn(Composite(picture(), effects=(applied("mirror", keep="left"),), region=FRAME))
    assert (mirrored == mirrored[:, ::-1]).all()
    assert (mirrored[:, :60] == drawn(*picture())[:, :60]).all()
    lit = flat("#204060", applied("flash", 0.0, amount=1.0, colour="#FFFFFF"))
    assert lit.tolist() == [255, 255, 255]
    assert flat("#204060", applied("flash", 0.9, amount=1.0)).tolist() == flat("#204060").tolist()
    parts = drawn(Composite(picture(), effects=(applied("kaleidoscope", parts=4),), region=FRAME))
    assert np.abs(parts - np.rot90(parts, 2)).mean() < 4, "half a turn of an even number of wedges is the same"


def test_one_colour_takes_the_place_of_every_other_and_leaves_what_is_see_through() -> None:
    half = DrawShape(Box(0, 0, 540, 1080), "#336699", opacity=0.5)
    whole = DrawShape(Box(540, 0, 270, 1080), "#88AA22")
    tinted = Applied("one-colour", (("colour", "#FF0000"),))
    seen = drawn(Fill("#000000"), Composite((half, whole), effects=(tinted,), region=FRAME))
    assert seen[60, 30].tolist() == pytest.approx([0, 0, 128], abs=2)
    assert seen[60, 75].tolist() == [0, 0, 255]
    assert seen[60, 110].tolist() == [0, 0, 0]


def test_a_vignette_and_a_wash_leave_what_is_said() -> None:
    corner = drawn(Composite((Fill("#FFFFFF"),), effects=(Applied("vignette", (("amount", 0.8),)),), region=FRAME))
    assert corner[60, 60].tolist() == [255, 255, 255]
    assert corner[0, 0, 0] == pytest.approx(255 * 0.2, abs=6)
    washed = drawn(
        Composite((Fill("#FFFFFF"),), effects=(Applied("wash", (("amount", 0.7), ("side", "below"))),), region=FRAME)
    )
    assert washed[119, 60, 0] == pytest.approx(255 * 0.3, abs=3)
    assert washed[40, 60].tolist() == [255, 255, 255]


def test_grain_is_even_and_another_one_at_another_moment() -> None:
    def at(moment: float) -> np.ndarray:
        grain = Applied("grain", (("amount", 1.0), ("at", ticks(moment))))
        return drawn(Composite((Fill("#808080"),), effects=(grain,), region=FRAME))

    assert at(0).mean() == pytest.approx(128, abs=0.7)
    assert at(0).std() > 2
    assert (at(0) == at(0.03)).all()
    assert (at(0) != at(0.5)).any()


# ---- grounds ----


def test_a_gradient_goes_from_corner_to_corner() -> None:
    down = drawn(DrawGradient(("#000000", "#FFFFFF"), 90.0))[:, 60, 0]
    assert down == pytest.approx(np.linspace(1, 254, SIDE), abs=2)
    slant = drawn(DrawGradient(("#000000", "#FFFFFF"), 45.0))
    assert slant[0, 0, 0] < 4
    assert slant[119, 119, 0] > 251
    assert slant[60, 60, 0] == pytest.approx(128, abs=3)


@pytest.mark.parametrize("name", PATTERNS)
def test_each_pattern_repeats_and_has_both_colours(name: str) -> None:
    pattern = PATTERNS[name]
    seen = drawn(Fill("#000000"), DrawPattern(pattern.path, pattern.width, pattern.ratio, 270.0, 0.0, "#FFFFFF"))
    share = seen.mean() / 255
    assert 0.02 < share < 0.98
    assert np.abs(seen[:, :30] - seen[:, 30:60]).mean() < 3, "a tile is 30 pixels wide"


# ---- in the planes of a film ----


def test_footage_graded_in_its_planes_looks_as_if_it_were_drawn(files: Files, library: Folder) -> None:
    """Look, grain, vignette and wash on footage that fills the frame, with words' worth of room over it."""
    colours = ((60, 90, 140), (200, 180, 120), (30, 160, 60), (220, 40, 90))
    media = library.add(files.footage("graded.mp4", lambda n: colours[n % 4], frames=8, size=(640, 360)))
    picture = DrawPicture(media.hash, False, ticks(3 / 30), Box(0, 0, 1920, 1080))
    effects = (
        *_look("harvest", 1.0), Applied("vignette", (("amount", 0.6),)), Applied("wash", (("amount", 0.4), ("side",
        "left"))),
        Applied("grain", (("amount", 0.4), ("at", ticks(0.4)))),
    )  # fmt: skip
    recipe = FrameRecipe(1920, 1080, (Composite((picture,), effects=effects, region=Box(0, 0, 1920, 1080)),))
    maker = FrameMaker(Sources(library), 640, 360)
    assert maker._passed_on(recipe) is not None
    film = maker.make(recipe).to_ndarray(format="bgr24").astype(int)
    drawn_one = Canvas(Sources(library), 640, 360).draw(recipe)[:, :, :3].astype(int)
    assert np.abs(film - drawn_one).mean() < 2
    plain = maker.make(FrameRecipe(1920, 1080, (picture,))).to_ndarray(format="bgr24").astype(int)
    assert np.abs(film - plain).mean() > 10, "it was graded"


@pytest.mark.parametrize("grow", [-1.0, -0.4, 0.4, 1.0])
def test_the_edge_of_what_is_left_of_a_colour_is_moved(grow: float) -> None:
    scene = (Fill("#00B140"), DrawShape(Box(390, 390, 300, 300), "#C04020"))
    values = {"colour": "#00B140", "tolerance": 0.3, "soft": 0.1, "spill": 0.0}

    def kept(**more: float) -> float:
        keyed = Composite(scene, effects=(Applied("key", tuple({**values, **more}.items())),), region=FRAME)
        pixels = Canvas(Sources(None), SIDE * 3, SIDE * 3).draw(FrameRecipe(1080, 1080, (keyed,)))
        assert pixels[:60, :, 3].max() < 3, "far from it nothing comes to be seen"
        return float(pixels[:, :, 3].sum()) / 255

    units = 1080 / (SIDE * 3)
    by = (kept(grow=grow) ** 0.5 - kept() ** 0.5) / 2 * units
    assert by * grow > 0, "outwards for more, inwards for less"
    assert 1 < abs(by) < 16, "by a few units"
