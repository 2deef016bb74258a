"""The project's own art: every subject is drawn, moves, and is drawn again the same; music begins, goes on and ends."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from glowreel.core.colour import to_oklab
from glowreel.outside.art.air import HOURS, PALETTES, SEASONS, WEATHERS, of_colours
from glowreel.outside.art.painting import STYLES, SUBJECTS, Painting, Pixels, paint
from glowreel.outside.art.tunes import EFFECTS, MOODS, RATE, Tune, compose, effect

SIZE = (160, 90)


def apart(one: Pixels, other: Pixels) -> float:
    """How far two pictures are apart, in levels."""
    return float(np.abs(one.astype(np.int16) - other.astype(np.int16)).mean())


def light(pixels: Pixels) -> float:
    return float(pixels[..., :3].mean())


@pytest.mark.parametrize("subject", SUBJECTS)
def test_a_subject_fills_its_picture_and_is_the_same_again(subject: str) -> None:
    painting = Painting(subject, "harbour", seed=5)
    pixels = paint(painting, *SIZE, 1.0)
    assert (pixels[..., 3] == 255).all(), "nothing is left open"
    assert pixels[..., :3].std() > 3, "something is seen"
    assert (paint(painting, *SIZE, 1.0) == pixels).all(), "the same seed brings it back"
    tall = paint(painting, 90, 160, 1.0)
    assert (tall[..., 3] == 255).all()


@pytest.mark.parametrize("subject", SUBJECTS)
def test_a_subject_moves(subject: str) -> None:
    painting = Painting(subject, "meadow", seed=3)
    assert apart(paint(painting, *SIZE, 0.4), paint(painting, *SIZE, 2.3)) > 0.05


def test_hours_seasons_weathers_palettes_styles_and_seeds_are_seen() -> None:
    base = Painting("hills", seed=1)
    pictures = {"base": paint(base, *SIZE)}
    for field, values in (
        ("hour", HOURS), ("season", SEASONS), ("weather", WEATHERS), ("palette", PALETTES), ("style", STYLES),
        ("seed", (2, 3)),
    ):  # fmt: skip
        for value in values:
            other = replace(base, **{field: value})
            if other != base:
                pictures[f"{field} {value}"] = paint(other, *SIZE)
    names = list(pictures)
    for place, name in enumerate(names):
        for other in names[place + 1 :]:
            assert apart(pictures[name], pictures[other]) > 0.4, (name, other)
    assert light(pictures["hour night"]) < light(pictures["base"]) - 30
    assert light(pictures["season winter"]) > light(pictures["season autumn"])


def test_given_colours_are_those_of_the_picture() -> None:
    colours = ("#0B3D2E", "#F5F0E1", "#D7263D", "#1B998B")
    palette = of_colours(colours)
    assert {palette.accent, palette.second} == {"#D7263D", "#1B998B"}
    assert to_oklab(palette.dark)[0] < 0.4 < to_oklab(palette.pale)[0]
    for few in (("#777777",), ("#FFFFFF", "#000000")):
        assert paint(Painting("product", colours=few), *SIZE)[..., :3].std() > 3
    seen = paint(Painting("confetti", colours=colours, seed=4), 320, 180)[..., 2::-1].reshape(-1, 3).astype(int)
    wanted = np.array([[int(colour[at : at + 2], 16) for at in (1, 3, 5)] for colour in ("#D7263D", "#1B998B")])
    for colour in wanted:
        assert (np.abs(seen - colour).sum(axis=1) < 12).sum() > 20


@pytest.mark.parametrize("mood", MOODS)
def test_music_begins_goes_on_and_ends(mood: str) -> None:
    tune = Tune(mood, 2, 6, 4)
    sound = compose(tune)
    assert len(sound) == int(tune.seconds * RATE)
    assert 0.5 < np.abs(sound).max() <= 0.9
    loud = [float(np.sqrt((part**2).mean())) for part in np.array_split(sound, 8)]
    assert all(value > 0.005 for value in loud[:6]), "no hole in it"
    assert np.abs(sound[-200:]).max() < 0.02
    assert not np.array_equal(sound, compose(replace(tune, seed=5)))


@pytest.mark.parametrize("name", EFFECTS)
def test_effects_are_heard_and_have_takes(name: str) -> None:
    first, second = effect(name, 0), effect(name, 1)
    assert 0.5 < np.abs(first).max() <= 0.9
    assert np.isfinite(first).all()
    assert len(first) != len(second) or not np.array_equal(first, second)
