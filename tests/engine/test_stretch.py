"""Sound that runs at another speed: where it is, how high it sounds, and that any span of it is the same."""

import numpy as np
import pytest

from glowreel.core.commands import AddSound, Context, Freeze, InsertClips, SetCurve, SetSpeed, apply
from glowreel.core.document import Promo
from glowreel.core.recipe.sound import sound_length, sound_recipe
from glowreel.core.time import ticks
from glowreel.engine.mix import mix
from glowreel.engine.sources import Sources
from tests.conftest import Files, Folder
from tests.core.build import numbered
from tests.engine.build import promo_of

RATE = 48000


@pytest.fixture
def laid(files: Files, library: Folder):
    """Four seconds: a tone of 440 Hz, twice as loud in the second half; and a way to set its speed."""
    t = np.arange(4 * RATE) / RATE
    tone = np.sin(2 * np.pi * 440 * t) * np.where(t < 2, 0.25, 0.5)
    media = library.add(files.sound("tone.wav", np.stack([tone, tone], axis=1)))
    context = Context(numbered(), {media.id: media})
    edit = apply(promo_of(), AddSound(media=media.id), context)
    item = edit.select[0]

    def heard(*commands) -> np.ndarray:
        promo = edit.promo
        for command in commands:
            promo = apply(promo, command.model_copy(update={"item": item}), context).promo
        return mix(sound_recipe(promo, 0, sound_length(promo)), Sources(library))[:, 0]

    return heard


def pitch(samples: np.ndarray) -> float:
    """Hertz of the strongest tone."""
    spectrum = np.abs(np.fft.rfft(samples * np.hanning(len(samples))))
    return float(np.argmax(spectrum) * RATE / len(samples))


def loud(samples: np.ndarray) -> float:
    return float(np.sqrt(np.mean(samples**2)))


@pytest.mark.parametrize("speed", [500, 1500, 2000, 4000])
def test_the_pitch_is_kept_or_follows_as_asked(laid, speed: int) -> None:
    kept = laid(SetSpeed(item="x", speed=speed))
    follows = laid(SetSpeed(item="x", speed=speed, pitch="follows"))
    length = 4 * RATE * 1000 // speed
    assert abs(len(kept) - length) <= 1
    assert len(follows) == len(kept)
    middle = slice(length // 8, length * 3 // 8)
    assert pitch(kept[middle]) == pytest.approx(440, abs=6)
    assert pitch(follows[middle]) == pytest.approx(440 * speed / 1000, abs=6)
    # The step in loudness is in the middle of the material, and so in the middle of what is heard.
    for samples in (kept, follows):
        assert loud(samples[: length // 2 - 2000]) == pytest.approx(0.25 / np.sqrt(2), rel=0.06)
        assert loud(samples[length // 2 + 2000 :]) == pytest.approx(0.5 / np.sqrt(2), rel=0.06)


def test_half_the_speed_without_keeping_the_pitch_is_every_sample_twice(laid) -> None:
    slow = laid(SetSpeed(item="x", speed=500, pitch="follows"))
    plain = laid()
    assert np.allclose(slow[: 2 * RATE : 2], plain[:RATE], atol=1e-4)


def test_backwards_is_the_same_the_other_way_round(laid) -> None:
    back = laid(SetSpeed(item="x", backwards=True, pitch="follows"))
    plain = laid()
    assert np.allclose(back, plain[::-1], atol=1e-4)
    kept = laid(SetSpeed(item="x", backwards=True))
    assert loud(kept[: RATE * 2 - 4000]) > 1.8 * loud(kept[RATE * 2 + 4000 :])


def test_a_curve_is_heard_where_its_material_is(laid) -> None:
    ramp = laid(SetCurve(item="x", points=((0, 1000), (1, 3000))))
    # Mean speed 2: two seconds. Half of the material has passed when t + t²/2 = 2 s, at t = √5 − 1.
    assert abs(len(ramp) - 2 * RATE) <= 1
    step = round((np.sqrt(5) - 1) * RATE)
    assert loud(ramp[step - 6000 : step - 1500]) == pytest.approx(0.25 / np.sqrt(2), rel=0.1)
    assert loud(ramp[step + 1500 : step + 6000]) == pytest.approx(0.5 / np.sqrt(2), rel=0.1)


@pytest.mark.parametrize("pitch_kept", ["kept", "follows"])
def test_any_span_is_the_same_however_it_is_asked_for(files: Files, library: Folder, pitch_kept: str) -> None:
    rng = np.random.default_rng(4)
    noise = np.cumsum(rng.normal(0, 0.02, (3 * RATE, 2)), axis=0) % 0.8 - 0.4
    media = library.add(files.sound("noise.wav", noise))
    context = Context(numbered(), {media.id: media})
    edit = apply(promo_of(), AddSound(media=media.id), context)
    promo = apply(edit.promo, SetSpeed(item=edit.select[0], speed=1300, pitch=pitch_kept), context).promo
    total = sound_length(promo)
    whole = mix(sound_recipe(promo, 0, total), Sources(library))
    backwards = Sources(library)
    spans = [(at, min(30011, total - at)) for at in range(0, total, 30011)]
    for at, length in reversed(spans):
        assert np.allclose(mix(sound_recipe(promo, at, length), backwards), whole[at : at + length], atol=1e-5)


def test_a_held_frame_is_silent_and_the_sound_goes_on_after_it(files: Files, library: Folder) -> None:
    clip = library.add(files.footage("c.mp4", lambda n: (90, 90, 90), frames=90, tone=330))
    context = Context(numbered(), {clip.id: clip})
    promo: Promo = apply(promo_of(), InsertClips(media=(clip.id,)), context).promo
    promo = apply(promo, Freeze(at=ticks(1), length=ticks(1)), context).promo
    heard = mix(sound_recipe(promo, 0, sound_length(promo)), Sources(library))[:, 0]
    assert loud(heard[2000 : RATE - 2000]) > 0.05
    assert loud(heard[RATE + 2000 : 2 * RATE - 2000]) == 0
    assert loud(heard[2 * RATE + 2000 : 3 * RATE]) > 0.05
