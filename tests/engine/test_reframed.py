"""Footage that a frame shows a part of: planes are cut and resized as drawing would, and move between pixels."""

from __future__ import annotations

import av
import cv2
import numpy as np
import pytest

from glowreel.core.formats import SHIPPED
from glowreel.core.layout import Box
from glowreel.core.recipe.picture import frame_recipe
from glowreel.demo.scenario import MEDIA
from glowreel.engine.frames import FrameMaker
from glowreel.engine.overlay import planes_of
from glowreel.engine.reframed import covers, reframed
from glowreel.engine.sources import Sources
from glowreel.engine.typesetting import measure
from tests.core.build import sets
from tests.engine.build import promo_of


def smooth(width: int = 640, height: int = 360, cell: int = 40) -> np.ndarray:
    """A picture without hard edges, in colours that change everywhere."""
    small = np.random.default_rng(5).integers(40, 215, (height // cell, width // cell, 3), np.uint8)
    return cv2.resize(small, (width, height), interpolation=cv2.INTER_CUBIC)


def yuv(picture: np.ndarray) -> av.VideoFrame:
    frame = av.VideoFrame.from_ndarray(picture, format="rgb24")
    return frame.reformat(format="yuv420p", dst_colorspace="itu709")


def rgb(frame) -> np.ndarray:
    return frame.reformat(format="rgb24", src_colorspace="itu709").to_ndarray().astype(np.int16)


@pytest.mark.parametrize("scale", [0.5, 1.0, 1.5, 1.78])
@pytest.mark.parametrize("shift", [(0.0, 0.0), (-100.3, 0.0), (-57.5, -20.25)])
def test_a_part_is_where_drawing_it_would_put_it(scale: float, shift: tuple[float, float]) -> None:
    picture = smooth()
    box = Box(*shift, 640 * scale, 360 * scale)
    width, height = 180, 140
    assert covers(box, width, height)
    made = rgb(reframed(yuv(picture), box, width, height))
    # Where the middle of each pixel lies in the picture, mixed from its four neighbours.
    across = (np.arange(width) + 0.5 - box.x) / scale - 0.5
    down = (np.arange(height) + 0.5 - box.y) / scale - 0.5
    maps = np.meshgrid(across.astype(np.float32), down.astype(np.float32))
    wanted = cv2.remap(picture, *maps, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE).astype(np.int16)
    apart = np.abs(made - wanted)[2:-2, 2:-2]
    # Made smaller, it is mixed from more than four.
    assert apart.mean() < (2.5 if scale >= 1 else 4)
    assert np.percentile(apart, 99) < (10 if scale >= 1 else 16)


def test_a_view_that_goes_along_slowly_moves_by_less_than_a_pixel_a_frame() -> None:
    frame = yuv(smooth(cell=8))
    lumas = [planes_of(reframed(frame, Box(-100 - n * 0.2, 0, 640, 360), 200, 360))[0].astype(float) for n in range(11)]
    steps = [np.abs(later - now).mean() for now, later in zip(lumas, lumas[1:], strict=False)]
    assert max(steps) < 2.5 * min(steps), "no frame stands still and none jumps"
    assert np.allclose(lumas[10][:, :-2], lumas[0][:, 2:], atol=1), "ten steps are two pixels"


def test_an_export_shows_a_cropped_part_as_a_drawn_frame_does(library) -> None:
    clip = library.add(MEDIA / "over-the-fields.mp4")
    promo = promo_of(clip)
    promo = promo_of(clip, commands=(sets(promo.clips[0].id, focus=(0.37, 0.5), zoom=1.2),))
    sources = Sources(library)
    for key, short in (("tall", 360), ("square", 200), ("tall", 1080)):
        width, height = SHIPPED[key].size(short)
        maker = FrameMaker(sources, width, height)
        recipe = frame_recipe(promo, SHIPPED[key], 0, measure)
        passed, drawn = maker._passed_on(recipe), maker._drawn(recipe)
        assert passed is not None, "it is not drawn"
        apart = np.abs(rgb(passed) - rgb(drawn))[3:-3, 3:-3]
        assert apart.mean() < 2.5, (key, short)
