"""Bars that move with the sound: the band of a tone is high, silence rests, louder is higher."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from glowreel.core.layout import Box
from glowreel.core.recipe.model import Bus, DrawWave, FrameRecipe, SoundRecipe, Voice
from glowreel.core.recipe.sound import LISTENED
from glowreel.engine.draw import Canvas
from glowreel.engine.sources import NothingMade, Sources
from glowreel.engine.wave import HIGHEST, LOWEST, RESTS, levels_of

RATE, BARS = 48_000, 12


def tone(hertz: float, level: float) -> np.ndarray:
    at = np.arange(LISTENED) / RATE
    return np.repeat((10 ** (level / 20) * np.sin(2 * np.pi * hertz * at)).astype(np.float32)[:, None], 2, axis=1)


@pytest.mark.parametrize("bar", [0, 3, 6, 11])
def test_a_tone_raises_the_bar_of_its_band_most(bar: int) -> None:
    hertz = LOWEST * (HIGHEST / LOWEST) ** (bar / (BARS - 1))
    levels = levels_of(tone(hertz, -20), BARS)
    assert levels.argmax() == bar
    assert levels[bar] > 0.6
    assert np.delete(levels, [max(0, bar - 1), bar, min(BARS - 1, bar + 1)]).max() < 0.25


def test_louder_is_higher_and_silence_rests() -> None:
    heights = [levels_of(tone(500, level), BARS).max() for level in (-60, -40, -20)]
    assert heights == sorted(heights)
    assert heights[0] < 0.2 < heights[2]
    assert not levels_of(np.zeros((LISTENED, 2), np.float32), BARS).any()


class Heard(NothingMade):
    """A library with one sound of a single tone."""

    def __init__(self, folder: Path) -> None:
        self.path = folder / "tone"
        (tone(500, -12) * 32767).astype(np.int16).tofile(self.path)

    def samples(self, source: str) -> Path:
        return self.path


def test_bars_are_drawn_as_high_as_it_is_heard(tmp_path: Path) -> None:
    voice = Voice("f" * 64, 0, LISTENED, 0, 1.0)
    canvas = Canvas(Sources(Heard(tmp_path), threads=1), 480, 270)  # type: ignore[arg-type]

    def heights(sound: SoundRecipe | None) -> np.ndarray:
        wave = DrawWave(Box(0, 0, 1920, 1080), sound, BARS, "#FFFFFF")
        return (canvas.draw(FrameRecipe(1920, 1080, (wave,)))[:, :, 0] > 128).sum(axis=0)

    loud = heights(SoundRecipe(LISTENED, (Bus("music", 1.0, (voice,)),)))
    soft = heights(SoundRecipe(LISTENED, (Bus("music", 0.05, (voice,)),)))
    rests = heights(None)
    assert rests.max() == pytest.approx(270 * RESTS, abs=2)
    assert loud.max() > soft.max() > rests.max()
