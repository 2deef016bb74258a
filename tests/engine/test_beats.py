"""Beats of pieces whose beats are known, and pieces that are made to fit."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from glowreel.core import commands as c
from glowreel.core.recipe.sound import sound_length, sound_recipe
from glowreel.engine.beats import find_beats
from glowreel.engine.ingest import make_samples
from glowreel.engine.mix import mix
from glowreel.engine.soundcopy import stored_samples
from glowreel.engine.sources import Sources
from glowreel.library import Piece, alike, pieces
from tests.conftest import Files, Folder
from tests.core.build import S, numbered
from tests.engine.build import promo_of

RATE = 48_000
SONGS = [piece for piece in pieces().values() if piece.sort == "song"]


def known_beats(piece: Piece) -> np.ndarray:
    """Where the generator struck them: from the first moment on, to the last chord, a bar and three seconds before the
    end."""
    beat = 60 / piece.pace
    bars = round((piece.length - 3) / (4 * beat)) - 1
    return np.arange(4 * bars + 1) * beat


@pytest.mark.long
def test_beats_are_found_in_nine_of_ten_pieces(tmp_path: Path) -> None:
    right = []
    # Every second one: the benchmark looks at all of them.
    for piece in SONGS[::2]:
        make_samples(piece.path, tmp_path / "samples")
        facts = find_beats(tmp_path / "samples", lambda share: None)
        found = np.array(facts["beats"]) / RATE
        off = np.abs(known_beats(piece)[:, None] - found[None]).min(axis=1) if len(found) else np.full(1, 9.0)
        right.append(float((off < 0.03).mean()))
        assert set(facts["bars"]) <= set(facts["beats"])
        assert facts["strong"] == sorted(facts["strong"])
    assert np.mean(np.array(right) >= 0.9) >= 0.9


def test_in_speech_noise_and_silence_there_is_no_beat_to_be_relied_on(tmp_path: Path, files: Files) -> None:
    for name, samples in (("none", np.zeros((RATE * 8, 2))), ("short", np.ones((RATE, 2)) * 0.1)):
        make_samples(files.sound(f"{name}.wav", samples), tmp_path / name)
        assert find_beats(tmp_path / name, lambda share: None)["beats"] == []


@pytest.mark.parametrize("seconds", [20, 33.3, 71])
def test_a_fitted_piece_has_its_ending_and_no_click(seconds: float, library: Folder, tmp_path: Path) -> None:
    piece = next(piece for piece in SONGS if piece.id == "two-bicycles")
    media = library.add(piece.path).changed(heard="music")
    make_samples(piece.path, tmp_path / "samples")
    facts = find_beats(tmp_path / "samples", lambda share: None)
    context = c.Context(numbered(), {media.id: media})
    promo = promo_of()
    promo = c.apply(promo, c.AddSound(media=media.id), context).promo
    item = promo.items[0].id
    promo = c.apply(promo, c.RunSound(item=item, runs="fitted"), context).promo
    promo = c.apply(promo, c.Trim(item=item, edge="end", length=round(seconds * S)), context).promo
    sources, total = Sources(library), sound_length(promo)
    assert total == round(seconds * RATE)
    whole = mix(sound_recipe(promo, 0, total, lambda need: facts), sources)
    source = stored_samples(tmp_path / "samples").astype(np.float32) / 32768
    # The last chord is the piece's own, as loud as it is there.
    level = lambda line: float(np.sqrt((line**2).mean()))  # noqa: E731
    assert abs(20 * np.log10(level(whole[-RATE * 4 : -RATE]) / level(source[-RATE * 4 : -RATE]))) < 2.5
    assert level(whole[-2000:]) < 0.01, "it has died away"
    joints = [voice.at for voice in sound_recipe(promo, 0, total, lambda need: facts).voices[1:]]
    assert joints
    steepest = np.abs(np.diff(source[:, 0])).max()
    for at in joints:
        assert np.abs(np.diff(whole[at - 1000 : at + 2000, 0])).max() <= steepest * 1.05
    pieces_of_it = [mix(sound_recipe(promo, at, 9600, lambda need: facts), sources) for at in range(0, 192_000, 9600)]
    assert np.abs(np.concatenate(pieces_of_it) - whole[:192_000]).max() < 1e-4


def test_the_library_has_what_it_says() -> None:
    everything = pieces().values()
    assert len(SONGS) == 36
    assert len({piece.mood for piece in SONGS}) == 12
    assert all({piece.tempo for piece in SONGS if piece.mood == mood} >= {"slow", "quick"}
               for mood in {piece.mood for piece in SONGS})  # fmt: skip
    assert sum(piece.sort == "effect" for piece in everything) >= 80
    assert {piece.sort for piece in everything} == {"song", "loop", "sting", "effect"}
    assert sum(piece.path.stat().st_size for piece in everything) < 60e6
    calm = next(piece for piece in SONGS if piece.id == "red-shoes")
    nearest = alike(calm, "calmer")
    force = lambda piece: piece.features[2] + piece.features[3]  # noqa: E731
    assert all(force(piece) + piece.features[0] / 2 < force(calm) + calm.features[0] / 2 for piece in nearest)
    assert alike(calm)[0].sort == "song"
