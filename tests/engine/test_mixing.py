"""Samples by analysis."""

from pathlib import Path

import av
import numpy as np
import pytest

from glowreel.core.commands import AddPoint, AddSound, Context, MoveItem, SetBus, SplitAt, apply
from glowreel.core.document import Promo
from glowreel.core.properties import PROPERTIES
from glowreel.core.properties.rows.sound import CHANNELS, FADE_CURVES
from glowreel.core.recipe.model import Voice
from glowreel.core.recipe.sound import sound_length, sound_recipe
from glowreel.core.time import ticks
from glowreel.engine.mix import CURVES, fade_envelope, mix, to_pcm
from glowreel.engine.soundfiles import write_sound, write_stems
from glowreel.engine.sources import Sources
from tests.conftest import Files, Folder
from tests.core.build import numbered, sets
from tests.engine.build import promo_of


@pytest.fixture
def laid(files: Files, library: Folder) -> tuple[Promo, Sources, str, Context]:
    """Two seconds of a steady level, laid in at half a second."""
    media = library.add(files.sound("steady.wav", np.full((96000, 2), 0.5)))
    context = Context(numbered(), {media.id: media})
    edit = apply(promo_of(), AddSound(media=media.id, at=ticks(0.5)), context)
    return edit.promo, Sources(library), edit.select[0], context


def test_a_sound_is_where_it_was_laid_to_the_sample(laid) -> None:
    promo, sources, _, _ = laid
    heard = mix(sound_recipe(promo, 0, 130000), sources)
    assert np.abs(heard[:24000]).max() == 0
    assert np.allclose(heard[24000:120000], 0.5, atol=1e-4)
    assert np.abs(heard[120000:]).max() == 0


def test_minus_six_decibels_halve_the_samples(laid) -> None:
    promo, sources, item, context = laid
    promo = apply(promo, sets(item, gain=-6.0206), context).promo
    assert np.allclose(mix(sound_recipe(promo, 48000, 100), sources), 0.25, atol=1e-3)


def test_fades_are_straight_and_spans_join_without_a_click(laid) -> None:
    promo, sources, item, context = laid
    promo = apply(promo, sets(item, fade_in=ticks(1), fade_out=ticks(0.5)), context).promo
    whole = mix(sound_recipe(promo, 0, 120000), sources)
    assert np.allclose(whole[24000 + 24000, 0], 0.25, atol=1e-3)
    assert np.allclose(whole[120000 - 12000, 0], 0.25, atol=1e-3)
    pieces = np.concatenate([mix(sound_recipe(promo, at, 7000), sources) for at in range(0, 119000, 7000)])
    assert np.allclose(pieces, whole[:119000], atol=1e-6)


def test_two_sounds_add_up_and_full_scale_is_held(laid, files: Files, library: Folder) -> None:
    promo, sources, item, context = laid
    media = library.add(files.sound("other.wav", np.full((96000, 2), 0.75)))
    context = Context(context.new_id, {media.id: media})
    edit = apply(promo, AddSound(media=media.id), context)
    promo = apply(edit.promo, MoveItem(item=edit.select[0], at=ticks(0.5)), context).promo
    heard = mix(sound_recipe(promo, 48000, 100), sources)
    assert np.allclose(heard, 1.25, atol=1e-3)
    assert to_pcm(heard).max() == 32767


def test_crossing_fades_keep_their_power() -> None:
    out = fade_envelope(Voice("a", 0, 1000, 0, 1.0, 0, 1000, True), 0, 1000)
    into = fade_envelope(Voice("b", 0, 1000, 0, 1.0, 1000, 0, True), 0, 1000)
    assert out is not None
    assert into is not None
    assert np.allclose(out**2 + into**2, 1, atol=1e-3)
    assert fade_envelope(Voice("c", 0, 1000, 0, 1.0, 10, 10), 100, 900) is None


def test_a_library_without_sound_is_silence(tmp_path: Path) -> None:
    assert not mix(sound_recipe(promo_of(), 0, 4800), Sources(Folder(tmp_path))).any()


def test_a_gain_that_changes_is_heard_at_its_points_and_the_same_in_any_span(laid) -> None:
    promo, sources, item, context = laid
    for at, value in ((0.5, 0.0), (1.5, -12.0412), (2.0, -60)):
        promo = apply(promo, AddPoint(item=item, name="gain", at=ticks(at), value=value), context).promo
    whole = mix(sound_recipe(promo, 0, 120000), sources)
    # Half way in decibels lies half the amplitude: from 0.5 over 0.25 to 0.125, then to silence.
    for at, level in ((24000, 0.5), (48000, 0.25), (71999, 0.125), (95900, 0.0)):
        assert whole[at, 0] == pytest.approx(level, abs=4e-3)
    pieces = np.concatenate([mix(sound_recipe(promo, at, 7000), sources) for at in range(0, 119000, 7000)])
    assert np.allclose(pieces, whole[:119000], atol=1e-6)
    split = apply(promo, SplitAt(item=item, at=ticks(1.2)), context).promo
    assert np.abs(mix(sound_recipe(split, 0, 120000), sources) - whole).max() < 2e-3


def test_a_bus_carries_what_is_heard_as_it_and_nothing_else(laid) -> None:
    promo, sources, item, context = laid
    plain = mix(sound_recipe(promo, 48000, 100), sources)
    quiet = apply(promo, SetBus(bus="music", gain=-6.0206), context).promo
    assert np.allclose(mix(sound_recipe(quiet, 48000, 100), sources), plain / 2, atol=1e-3)
    spoken = apply(quiet, sets(item, bus="voice"), context).promo
    assert np.allclose(mix(sound_recipe(spoken, 48000, 100), sources), plain)


def sided(laid, files: Files, library: Folder, **values: object) -> np.ndarray:
    """What is heard of a sound that is 0.5 on the left and 0.2 on the right."""
    promo, sources, _, context = laid
    media = library.add(files.sound("sides.wav", np.tile([0.5, 0.2], (96000, 1))))
    edit = apply(promo.changed(sounds=()), AddSound(media=media.id), Context(context.new_id, {media.id: media}))
    promo = apply(edit.promo, sets(edit.select[0], **values), context).promo
    return mix(sound_recipe(promo, 24000, 100), sources)[50]


@pytest.mark.parametrize(("values", "heard"), [
    ({"pan": 0.0}, (0.5, 0.2)), ({"channels": "swapped"}, (0.2, 0.5)), ({"channels": "mixed"}, (0.35, 0.35)),
    ({"channels": "left"}, (0.5, 0.5)), ({"channels": "right"}, (0.2, 0.2)), ({"pan": -1.0}, (0.5, 0.0)),
    ({"pan": 0.5}, (0.25, 0.2)), ({"channels": "mixed", "pan": 1.0}, (0.0, 0.35)),
])  # fmt: skip
def test_sides_are_heard_where_they_are_wanted(laid, files: Files, library: Folder, values, heard) -> None:
    assert np.allclose(sided(laid, files, library, **values), heard, atol=1e-3)


@pytest.mark.parametrize(("curve", "half"), [("straight", 0.5), ("even", 0.7071), ("late", 0.25), ("soft", 0.5)])
def test_fades_rise_along_their_curve_and_meet_both_ends(laid, curve: str, half: float) -> None:
    promo, sources, item, context = laid
    fades = {"fade_in": ticks(1), "fade_in_curve": curve, "fade_out": ticks(0.5), "fade_out_curve": curve}
    promo = apply(promo, sets(item, **fades), context).promo
    whole = mix(sound_recipe(promo, 24000, 96000), sources)[:, 0] / 0.5
    assert whole[0] < 0.02
    assert whole[24000] == pytest.approx(half, abs=2e-3)
    assert whole[96000 - 12000] == pytest.approx(half, abs=2e-3)
    assert whole[60000] == pytest.approx(1, abs=1e-3)
    assert (np.diff(whole[:48000]) > -1e-4).all(), "it never falls while it comes in"
    pieces = np.concatenate([mix(sound_recipe(promo, at, 7000), sources) for at in range(24000, 115000, 7000)])
    assert np.allclose(pieces[:90000, 0], whole[:90000] * 0.5, atol=1e-6)


def test_every_curve_of_a_fade_is_drawn() -> None:
    assert set(CURVES) == set(FADE_CURVES) == {key for key, _ in PROPERTIES["fade_in_curve"].choices}
    assert set(CHANNELS) == {key for key, _ in PROPERTIES["channels"].choices}


@pytest.mark.parametrize("suffix", [".wav", ".m4a"])
def test_the_mix_is_written_as_a_file_as_it_is_heard(laid, tmp_path: Path, suffix: str) -> None:
    promo, sources, _, _ = laid
    out = tmp_path / f"mix{suffix}"
    write_sound(promo, sources, out)
    with av.open(str(out)) as container:
        stream = container.streams.audio[0]
        assert (stream.rate, stream.channels) == (48000, 2)
        heard = np.concatenate(
            [frame.to_ndarray().astype(np.float64).reshape(-1) for frame in container.decode(stream)]
        )
    if suffix == ".wav":
        whole = mix(sound_recipe(promo, 0, 130000), sources)
        assert np.allclose(heard.reshape(-1, 2) / 32767, whole[: len(heard) // 2], atol=1e-4)
    assert len(heard) / 2 >= sound_length(promo)


def test_stems_add_up_to_the_mix(laid, files: Files, library: Folder, tmp_path: Path) -> None:
    promo, sources, item, context = laid
    media = library.add(files.sound("other.wav", np.full((96000, 2), 0.25)))
    edit = apply(promo, AddSound(media=media.id), Context(context.new_id, {media.id: media}))
    promo = apply(edit.promo, sets(edit.select[0], bus="voice"), context).promo
    paths = write_stems(promo, sources, tmp_path / "stem.wav")
    assert [path.name for path in paths] == ["stem-voice.wav", "stem-music.wav"]
    sums = 0
    for path in paths:
        with av.open(str(path)) as container:
            sums = sums + np.concatenate(
                [f.to_ndarray().astype(np.int64).reshape(-1) for f in container.decode(audio=0)]
            )
    whole = mix(sound_recipe(promo, 0, len(sums) // 2), sources)
    assert np.allclose(sums.reshape(-1, 2) / 32767, whole, atol=1e-4)
