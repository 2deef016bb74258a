"""What is looked at in frames: faces, what is calm, what flashes, which colours there are."""

from __future__ import annotations

import cv2
import numpy as np
import numpy.typing as npt
import pytest
from tools.heads import head

from glowreel.core.layout import Box
from glowreel.core.matching import distance, matching
from glowreel.engine.calm import calmest, costs
from glowreel.engine.faces import faces_in
from glowreel.engine.flashes import SIZE, light_of, turns, worst_second
from glowreel.engine.palette import palette_of

Pixels = npt.NDArray[np.uint8]


def frame(wide: int, high: int, colour: tuple[int, int, int] = (150, 150, 150)) -> Pixels:
    return np.full((high, wide, 4), (*colour, 255), np.uint8)


def with_head(wide: int, high: int, left: int, top: int, size: int) -> Pixels:
    """A frame with a drawn person in it, `size` pixels high."""
    made = frame(wide, high)
    person = cv2.resize(head(120), (size * 3 // 4, size))
    made[top : top + size, left : left + size * 3 // 4, :3] = person
    return made


@pytest.mark.parametrize(("left", "top", "size"), [(30, 20, 300), (400, 40, 300), (500, 150, 110)])
def test_a_face_is_found_where_it_is_however_small(left: int, top: int, size: int) -> None:
    (face,) = faces_in(with_head(640, 360, left, top, size))
    # The drawn face has its middle half way across and at 0.43 of the picture's height, and is 0.33 of it wide.
    assert face.x + face.width / 2 == pytest.approx(left + size * 0.375, abs=0.06 * size)
    assert face.y + face.height / 2 == pytest.approx(top + size * 0.43, abs=0.08 * size)
    assert 0.15 * size < face.width < 0.5 * size


def test_where_nobody_is_no_face_is_found() -> None:
    picture = frame(640, 360)
    cv2.circle(picture, (320, 180), 90, (40, 90, 220, 255), -1)
    assert faces_in(picture) == []


def test_the_calmest_place_is_without_detail_faces_and_what_stands_there() -> None:
    rng = np.random.default_rng(1)
    picture = frame(480, 270)
    picture[:, :240, :3] = rng.integers(0, 255, (270, 240, 3))
    room = Box(20, 20, 440, 230)
    cost = costs([picture], [Box(340, 40, 60, 60)], [])
    x, y = calmest(cost, (120, 60), room, (60.0, 100.0))
    assert x >= 240, "on the side without detail"
    assert x > 421 or y >= 121 or x + 120 <= 319, "and not over the face, with room around it"
    taken = costs([picture], [], [Box(240, 20, 240, 115)])
    assert calmest(taken, (120, 60), room, (300.0, 30.0))[1] >= 135
    even = costs([frame(480, 270)], [], [])
    near = calmest(even, (120, 60), room, (200.0, 100.0))
    assert near == pytest.approx((200, 100), abs=5), "where all is alike, it stays"


def test_what_does_not_fit_lies_in_the_middle() -> None:
    cost = costs([frame(480, 270)], [], [])
    assert calmest(cost, (600, 60), Box(20, 20, 440, 230), (0.0, 0.0))[0] == pytest.approx(20, abs=1)


def seconds(*levels: float) -> npt.NDArray[np.float32]:
    return np.stack([np.full((SIZE[1], SIZE[0]), level, np.float32) for level in levels])


def test_flashes_are_counted_as_pairs_of_opposing_changes() -> None:
    blinking = [0.1 if n // 3 % 2 else 0.6 for n in range(30)]
    assert worst_second(seconds(*blinking), 30)[1] == 4
    assert worst_second(seconds(*([0.2] * 10 + [0.7] * 20)), 30)[1] == 0, "light comes once"
    assert worst_second(seconds(*([0.2, 0.25] * 15)), 30)[1] == 0, "less than a tenth is no flash"
    assert worst_second(seconds(*([0.85, 1.0] * 15)), 30)[1] == 0, "light of what is light already is none"


def test_light_that_comes_in_small_steps_turns_once_and_only_over_enough_of_the_picture() -> None:
    rises = [n / 20 for n in range(14)]
    (up, lighter), (down, darker) = turns(seconds(*rises, *reversed(rises)))
    assert (lighter, darker) == (1, -1)
    assert up in (2, 3)
    assert 15 <= down <= 17, "as soon as a tenth of the light is gone"
    corner = seconds(*([0.1] * 12))
    corner[::2, :4, :8] = 0.9
    assert turns(corner) == []


def test_the_light_of_pixels_is_their_relative_luminance() -> None:
    assert light_of(frame(64, 36, (255, 255, 255))).mean() == pytest.approx(1.0, abs=1e-3)
    # sRGB 188 is half of the light.
    assert light_of(frame(64, 36, (188, 188, 188))).mean() == pytest.approx(0.5, abs=0.01)


def test_matching_colours_come_from_the_colours_of_a_picture() -> None:
    picture = frame(90, 60, (30, 40, 200))
    picture[:, 60:, :3] = (160, 110, 40)
    jpeg = cv2.imencode(".jpg", picture[:, :, :3], [cv2.IMWRITE_JPEG_QUALITY, 95])[1].tobytes()
    palette = palette_of(jpeg)
    assert sum(share for _, share in palette) == pytest.approx(1)
    found = {one.label: one.colour for one in matching(palette)}
    assert distance(found["Picture 1"], "#C8281E") < 0.05
    assert distance(found["Picture 2"], "#286EA0") < 0.05
    assert distance(found["Opposite"], "#00A4A6") < 0.15, "across from red lies a blue green"
    assert palette_of(jpeg) == palette, "the same picture has the same colours"
    assert matching(palette_of(b"nothing")) == []
