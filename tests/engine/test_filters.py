"""What is done to a voice and to the whole mix, by analysis of the samples."""

from __future__ import annotations

import numpy as np
import pyloudnorm
import pytest
from scipy.signal import resample_poly

from glowreel.core import commands as c
from glowreel.core.document import Promo
from glowreel.core.equaliser import FLAT, PRESETS, response
from glowreel.core.recipe.model import MASTER_MARGIN, Master
from glowreel.core.recipe.sound import sound_length, sound_recipe
from glowreel.engine.equalise import SPEECH
from glowreel.engine.filmsound import render_sound
from glowreel.engine.loudness import measure_blocks, measure_file
from glowreel.engine.master import mastered, true_peaks
from glowreel.engine.meters import measure
from glowreel.engine.mix import mix
from glowreel.engine.sources import Sources
from tests.conftest import Files, Folder
from tests.core.build import numbered, sets
from tests.engine.build import promo_of

RATE = 48_000
CURVES = [(bands, 0.0, 0.0) for _, bands in PRESETS.values()] + [
    (((90.0, 9.0, 0.5), (1000.0, -15.0, 0.5)), 0.0, 0.0),
    (FLAT, 70.0, 9000.0),
]


def laid_in(library: Folder, files: Files, name: str, samples: np.ndarray, **facts: object) -> tuple[Promo, c.Context]:
    media = library.add(files.sound(f"{name}.wav", samples)).changed(**facts)
    context = c.Context(numbered(), {media.id: media})
    return c.apply(promo_of(), c.AddSound(media=media.id), context).promo, context


@pytest.mark.parametrize("curve", CURVES, ids=lambda curve: str(curve[0])[:40])
def test_an_equaliser_answers_as_its_curve_is_drawn(curve, library: Folder, files: Files) -> None:
    impulse = np.zeros((RATE * 2, 2))
    impulse[RATE] = 0.06
    promo, context = laid_in(library, files, "impulse", impulse)
    bands, low, high = curve
    item = promo.items[0].id
    promo = c.apply(promo, sets(item, bands=bands, low_cut=low, high_cut=high), context).promo
    sources = Sources(library)
    heard = mix(sound_recipe(promo, 0, RATE * 2), sources)
    given = round(0.06 * 32767) / 32768
    tones = np.fft.rfftfreq(RATE * 2, 1 / RATE)
    level = 20 * np.log10(np.abs(np.fft.rfft(heard[:, 0])) / given + 1e-9)
    wanted = np.array([response(bands, low, high, max(5.0, hz)) for hz in tones])
    told = (tones > 40) & (tones < 18_000) & (wanted > -24)
    assert np.abs(level - wanted)[told].max() < 0.5
    pieces = [mix(sound_recipe(promo, at, 5000), sources) for at in range(RATE - 20_000, RATE + 20_000, 5000)]
    assert np.abs(np.concatenate(pieces) - heard[RATE - 20_000 : RATE + 20_000]).max() < 1e-5, "every span is equal"


def spoken_over(library: Folder, files: Files, band: str) -> tuple[np.ndarray, np.ndarray]:
    """Music with a low, a middle and a high tone under a voice from 2 to 3 s, and the same without a voice."""
    t = np.arange(RATE * 6) / RATE
    music = sum(0.1 * np.sin(2 * np.pi * hz * t) for hz in (60, 1000, 9000))
    tune = library.add(files.sound("tune.wav", np.stack([music, music], 1))).changed(heard="music")
    voice = library.add(files.sound("voice.wav", np.full((RATE * 6, 2), 0.0001))).changed(
        heard="voice", speech=((200, 300),)
    )
    context = c.Context(numbered(), {tune.id: tune, voice.id: voice})
    promo = promo_of()
    for command in (c.AddSound(media=tune.id), c.AddSound(media=voice.id)):
        promo = c.apply(promo, command, context).promo
    promo = c.apply(promo, sets(promo.items[0].id, dip_band=band), context).promo
    plain = c.apply(promo, sets(promo.items[1].id, muted=True), context).promo
    sources = Sources(library)
    whole = mix(sound_recipe(promo, 0, RATE * 6), sources)
    pieces = [mix(sound_recipe(promo, at, 12_000), sources) for at in range(RATE, RATE * 4, 12_000)]
    assert np.abs(np.concatenate(pieces) - whole[RATE : RATE * 4]).max() < 1e-5
    return whole[:, 0], mix(sound_recipe(plain, 0, RATE * 6), sources)[:, 0]


def tone(samples: np.ndarray, hz: float) -> float:
    t = np.arange(len(samples)) / RATE
    return float(2 * abs(np.mean(samples * np.exp(-2j * np.pi * hz * t))))


def test_music_dips_where_somebody_speaks_and_nowhere_else(library: Folder, files: Files) -> None:
    dipped, plain = spoken_over(library, files, "all")
    size = 480
    power = lambda line: np.sqrt((line.reshape(-1, size) ** 2).mean(axis=1))  # noqa: E731
    down = power(dipped) / power(plain)
    full = np.flatnonzero(down < 10 ** (-11.5 / 20)) * size / RATE
    assert abs(full[0] - 2.0) < 0.04
    assert abs(full[-1] + size / RATE - 3.0) < 0.04
    assert np.allclose(down[: int(1.69 * 100)], 1, atol=0.02)
    assert np.allclose(down[int(3.82 * 100) :], 1, atol=0.02)
    assert np.abs(np.diff(down)).max() < 0.2, "it does not jump"


def test_in_the_band_of_speech_the_rest_of_the_music_keeps_its_life(library: Folder, files: Files) -> None:
    dipped, plain = spoken_over(library, files, "speech")
    inner = slice(int(2.2 * RATE), int(2.8 * RATE))
    changed = {hz: 20 * np.log10(tone(dipped[inner], hz) / tone(plain[inner], hz)) for hz in (60, 1000, 9000)}
    assert SPEECH[0] < 1000 < SPEECH[1]
    assert abs(changed[1000] + 12) < 0.5
    assert abs(changed[60]) < 0.5
    assert abs(changed[9000]) < 0.5


def lively(seconds: float, seed: int = 3) -> np.ndarray:
    """Something like music: noise and tones that swell, with peaks that stand out."""
    chance = np.random.default_rng(seed)
    t = np.arange(int(seconds * RATE)) / RATE
    swell = 0.3 + 0.2 * np.sin(2 * np.pi * 0.4 * t)
    # An encoder takes away what nobody hears above 16 kHz: of music that is next to nothing.
    noise = np.convolve(chance.standard_normal(len(t)), np.hanning(9) / 2, "same")
    line = swell * (0.2 * noise + 0.4 * np.sin(2 * np.pi * 220 * t))
    for at in range(RATE // 2, len(t) - 2000, RATE):
        line[at : at + 1500] += 0.8 * np.exp(-np.arange(1500) / 300) * np.sin(np.arange(1500) * 0.9)
    return np.clip(np.stack([line, np.roll(line, 50)], axis=1) * 0.5, -1, 1)


def peak_of(samples: np.ndarray) -> float:
    """The true peak in dB by another way: eight times as many samples."""
    return float(20 * np.log10(max(np.abs(resample_poly(samples[:, side], 8, 1)).max() for side in (0, 1))))


@pytest.mark.parametrize("wanted", [-14.0, -20.0, -10.0])
def test_the_whole_has_the_loudness_that_is_wanted_and_no_peak_above(
    wanted: float, library: Folder, files: Files, tmp_path
) -> None:
    promo, context = laid_in(library, files, "lively", lively(9))
    promo = c.apply(promo, c.SetWhole(loudness=wanted), context).promo
    sources = Sources(library)
    told = measure(promo, sources)
    total = sound_length(promo)
    whole = mix(sound_recipe(promo, 0, total, louder=told.louder), sources)
    judge = pyloudnorm.Meter(RATE)
    assert abs(judge.integrated_loudness(whole) - wanted) < 0.2
    assert abs(told.whole.loudness - wanted) < 0.1
    assert peak_of(whole) <= -1.0
    assert abs(told.whole.peak - peak_of(whole)) < 0.3
    assert abs(told.before - judge.integrated_loudness(lively(9))) < 0.2
    pieces = [mix(sound_recipe(promo, at, 9001, louder=told.louder), sources) for at in range(0, total - 9001, 9001)]
    assert np.abs(np.concatenate(pieces) - whole[: 9001 * len(pieces)]).max() < 1e-5
    said = render_sound(promo, sources, tmp_path / "whole.mp4")
    found = measure_file(tmp_path / "whole.mp4")
    assert abs(found.loudness - wanted) < 0.3, "in the file as well"
    assert found.peak <= -1.0
    assert said == found
    assert len(told.whole.momentary) == len(told.whole.short) == 90
    assert len(told.strips[promo.sounds[0].id]) == 180
    assert max(told.strips[promo.sounds[0].id]) == pytest.approx(20 * np.log10(np.abs(lively(9)).max()), abs=0.2)


def test_loudness_agrees_with_a_reference_on_other_material() -> None:
    judge = pyloudnorm.Meter(RATE)
    for seed, gain in ((1, 0.05), (2, 0.4), (5, 0.9)):
        samples = (lively(6, seed) * gain).astype(np.float32)
        found = measure_blocks(iter(np.array_split(samples, 7)))
        assert abs(found.loudness - judge.integrated_loudness(samples)) < 0.2
        assert abs(found.peak - peak_of(samples)) < 0.3
    assert measure_blocks(iter([np.zeros((RATE, 2), np.float32)])).loudness is None


def test_the_limiter_holds_a_peak_between_samples_and_leaves_the_rest_alone() -> None:
    t = np.arange(RATE) / RATE
    # Between its samples this tone is 3 dB louder than at them.
    line = np.sin(2 * np.pi * RATE / 4 * t + np.pi / 4) * np.where((t > 0.4) & (t < 0.5), 0.9, 0.1)
    around = np.stack([line, line], axis=1).astype(np.float32)
    assert np.abs(around).max() < 0.64
    assert true_peaks(around).max() > 0.88
    made = mastered(around, Master(1.0, 0.7))
    assert peak_of(made) <= 20 * np.log10(0.7)
    quiet = slice(0, int(0.37 * RATE) - MASTER_MARGIN)
    assert np.abs(made[quiet] - around[MASTER_MARGIN:][quiet]).max() < 1e-6


def test_a_promo_that_wants_no_loudness_is_mixed_as_it_is(library: Folder, files: Files) -> None:
    promo, context = laid_in(library, files, "lively", lively(3))
    sources = Sources(library)
    plain = mix(sound_recipe(promo, 0, RATE * 3), sources)
    assert measure(promo, sources).louder == 0
    quieter = c.apply(promo, c.SetWhole(gain=-6.0206), context).promo
    assert np.allclose(mix(sound_recipe(quieter, 0, RATE * 3), sources), plain / 2, atol=1e-4)
    silent = c.apply(promo, sets(promo.items[0].id, muted=True), context).promo
    silent = c.apply(silent, c.SetWhole(loudness="channels"), context).promo
    assert silent.loudness_wanted == -14
    assert measure(silent, sources).whole.loudness is None
