"""Light and colour found by looking at a picture."""

import numpy as np
import pytest

from glowreel.engine.balance import _graded, _looks, _planes, balanced


def scene(seed: int = 1) -> np.ndarray:
    """Pixels of every brightness, of many colours that are grey on the whole."""
    rng = np.random.default_rng(seed)
    light = rng.beta(1.6, 1.6, (4000, 1)) * 255
    return np.clip(light + rng.normal(0, 28, (4000, 3)), 0, 255).astype(np.float32)


def looks(pixels: np.ndarray) -> np.ndarray:
    planes = _planes(pixels)
    return _looks(planes[0].astype(np.float32), planes[1], planes[2])


def after(pixels: np.ndarray, values: dict[str, float]) -> np.ndarray:
    return _graded(_planes(pixels), values)


@pytest.mark.parametrize(
    ("spoil", "names"),
    [(lambda p: p * 0.45, ("exposure", "shades")), (lambda p: 90 + p * 0.3, ("contrast",)),
     (lambda p: np.clip(p * (0.7, 1.0, 1.25), 0, 255), ("warmth",))],
)  # fmt: skip
def test_what_is_too_dark_flat_or_yellow_becomes_even(spoil, names: tuple[str, ...]) -> None:
    spoiled = spoil(scene()).astype(np.float32)
    values = balanced(spoiled)
    made, was, good = after(spoiled, values), looks(spoiled), looks(scene())
    assert np.abs(made[:7] - good[:7]).sum() < 0.75 * np.abs(was[:7] - good[:7]).sum()
    assert any(abs(values[name]) > 0.1 for name in names)


def test_an_even_picture_is_left_nearly_as_it_is() -> None:
    values = balanced(scene())
    assert np.abs(after(scene(), values)[:5] - looks(scene())[:5]).max() < 0.06


def test_colour_stays_where_it_is_what_the_picture_is_of() -> None:
    rng = np.random.default_rng(7)
    meadow = np.concatenate([
        np.clip(rng.normal((40, 150, 70), 25, (3000, 3)), 0, 255), scene()[:1000],
    ]).astype(np.float32)  # fmt: skip
    made, was = after(meadow, balanced(meadow)), looks(meadow)
    assert np.abs(made[5:7] - was[5:7]).max() < 0.3 * np.abs(was[5:7]).max(), "it stays as green"
    pale = (128 + (scene() - 128) * 0.4 + (0, 2, 5)).astype(np.float32)
    values = balanced(pale)
    assert values["saturation"] == 0, "a faint cast does not cost the colours"
    assert after(pale, values)[7] > 0.8 * looks(pale)[7]


def test_a_picture_becomes_like_another_one() -> None:
    cold = np.clip(scene() * (1.2, 1.0, 0.75) * 0.8, 0, 255).astype(np.float32)
    warm = scene(2)
    values = balanced(cold, warm)
    assert np.abs(after(cold, values) - looks(warm)).sum() < 0.35 * np.abs(looks(cold) - looks(warm)).sum()
    assert values["warmth"] > 0.2


def test_what_is_found_is_within_what_can_be_set() -> None:
    from glowreel.core.properties import PROPERTIES

    black = np.zeros((200, 3), np.float32)
    for pixels in (black, black + 255):
        for name, value in balanced(pixels).items():
            assert PROPERTIES[name].check(value) == value
