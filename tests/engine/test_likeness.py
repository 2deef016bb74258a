"""Pictures that look alike are near each other."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest

from glowreel.engine.likeness import SIZE, apart, describe
from glowreel.outside.art.painting import Painting, paint

SUBJECTS = ("sea", "forest", "city", "portrait", "coffee", "pattern", "mountains", "bouquet")
PICTURES = {(name, seed): paint(Painting(name, "harbour", seed=seed), 320, 180) for name in SUBJECTS for seed in (1, 2)}


def test_a_picture_is_nearest_to_itself_smaller_darker_and_cropped() -> None:
    described = {key: describe(pixels) for key, pixels in PICTURES.items()}
    keys = list(described)
    for key, pixels in PICTURES.items():
        assert described[key].shape == (SIZE,)
        changed = cv2.resize(pixels[8:-8, 12:-12], (100, 60))
        changed = np.clip(changed.astype(np.float32) * 0.85, 0, 255).astype(np.uint8)
        distances = apart(describe(changed), [described[one] for one in keys])
        assert keys[int(distances.argmin())] == key
    assert apart(described[keys[0]], []).shape == (0,)


@pytest.mark.parametrize("name", SUBJECTS)
def test_another_picture_of_the_same_thing_is_among_the_nearest(name: str) -> None:
    one = describe(PICTURES[name, 1])
    others = [key for key in PICTURES if key != (name, 1)]
    order = np.argsort(apart(one, [describe(PICTURES[key]) for key in others]))
    assert (name, 2) in [others[n] for n in order[:3]]


def test_colours_count() -> None:
    base = Painting("hills", "meadow", seed=4)
    same = describe(paint(replace(base, seed=5), 320, 180))
    night = describe(paint(replace(base, hour="night"), 320, 180))
    near, far = apart(describe(paint(base, 320, 180)), [same, night])
    assert near < far
