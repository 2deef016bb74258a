"""Sound as the program works with it: copies made one of another, loudness in what is exported, the library."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from sqlalchemy import select

from glowreel.core.commands import AddFormat, AddSound, RunSound, SetWhole
from glowreel.core.errors import Missing
from glowreel.core.recipe.sound import sound_length
from glowreel.engine.loudness import measure_file
from glowreel.services import derivation, library, needed, promos
from glowreel.services.library import Wanted, find
from glowreel.services.preview import Preview
from glowreel.services.setup import Runtime
from glowreel.store.models import Derived, ExportFile, MediaFile
from tests.conftest import Files, by
from tests.core.build import sets
from tests.services.test_exports import begin, film, wait
from tests.services.test_needed import promo_id, team
from tests.services.test_shelf import bring
from tests.services.test_shelf import wait as wait_for_files
from tests.voice import talk

__all__ = ["promo_id", "team"]


def edited(runtime: Runtime, team: str, promo: str, command):
    with runtime.database.unit() as unit:
        return promos.edit(unit.session, promo, by(team), command)


def laid_in(runtime: Runtime, team: str, promo: str, media: str) -> str:
    return edited(runtime, team, promo, AddSound(media=media))[1].select[0]


def voice_in(runtime: Runtime, team: str, promo: str, files: Files) -> tuple[str, str]:
    line, _ = talk(0.01)
    media = bring(runtime, team, files.sound("talk.wav", np.stack([line, line], axis=1)))
    wait_for_files(runtime, [media])
    return media, laid_in(runtime, team, promo, media)


def test_a_voice_waits_for_the_copy_without_noise_that_it_is_made_of(
    runtime: Runtime, team: str, promo_id: str, files: Files
) -> None:
    media, item = voice_in(runtime, team, promo_id, files)
    with runtime.database.unit() as unit:
        row = unit.session.get_one(MediaFile, media)
        assert row.facts["heard"] == "voice"
        assert len(row.facts["speech"]) >= 2
    promo = edited(runtime, team, promo_id, sets(item, noise=0.8, clear=0.5))[0].promo
    with runtime.database.unit() as unit:
        needed.begin(unit, promo, by(team))
        rows = {row.maker: row.id for row in unit.session.scalars(
            select(Derived).where(Derived.hash == promo.media[media].hash)
        )}  # fmt: skip
    assert {"noise", "voice"} <= set(rows)
    derivation.make(runtime, rows["voice"])
    (file_id,) = begin(runtime, team, promo_id, ("wide",), 480)
    assert wait(runtime, [file_id])[0][0] == "done", "an export waits for both"
    with runtime.database.unit() as unit:
        found = needed.look(unit.session, promo)
        assert (found.waiting, found.failed) == ((), "")
        assert {unit.session.get_one(Derived, key).attempts for key in rows.values()} == {1}


def test_every_format_of_an_export_has_the_loudness_that_is_wanted_and_says_so(
    runtime: Runtime, team: str, promo_id: str, files: Files
) -> None:
    voice_in(runtime, team, promo_id, files)
    edited(runtime, team, promo_id, AddFormat(format="square"))
    promo = edited(runtime, team, promo_id, SetWhole(loudness=-16))[0].promo
    found = begin(runtime, team, promo_id, ("wide", "square"), 480)
    assert {state for state, *_ in wait(runtime, found)} == {"done"}
    with runtime.database.unit() as unit:
        told = [unit.session.get_one(ExportFile, key) for key in found]
        assert [(abs(file.loudness + 16) < 0.3, file.peak <= -0.99) for file in told] == [(True, True)] * 2
    for key in found:
        heard = measure_file(Path(film(runtime, key)))
        assert abs(heard.loudness + 16) < 0.3
        assert heard.peak <= -0.99
    meters = Preview(runtime).meters
    with runtime.database.unit() as unit:
        known = needed.look(unit.session, promo).known
    assert meters.known(promo, known) is None
    measured = meters.measured(promo, known)
    assert meters.known(promo, known) == measured
    assert abs(measured.whole.loudness + 16) < 0.1
    # What is seen does not matter to it; what is heard does.
    assert meters.known(promo.changed(name="Another"), known) == measured
    assert meters.known(promo.changed(gain=-3.0), known) is None
    plain, _ = Preview(runtime).sound(promo.changed(loudness=None), 96_000, 48_000, known)
    louder, _ = Preview(runtime).sound(promo, 96_000, 48_000, known)
    rise = np.abs(np.frombuffer(louder, np.int16)).mean() / np.abs(np.frombuffer(plain, np.int16)).mean()
    assert 20 * np.log10(rise) == pytest.approx(measured.louder, abs=0.3), "the preview is as loud as the export"


def test_a_piece_of_the_library_comes_to_the_shelf_once_and_is_made_to_fit(
    runtime: Runtime, team: str, promo_id: str
) -> None:
    key = library.take(runtime, by(team), "two-bicycles")
    assert library.take(runtime, by(team), "two-bicycles") == key
    with runtime.database.unit() as unit:
        row = unit.session.get_one(MediaFile, key)
        assert (row.name, row.state, row.facts["heard"]) == ("Two Bicycles.ogg", "ready", "music")
    item = laid_in(runtime, team, promo_id, key)
    promo = edited(runtime, team, promo_id, RunSound(item=item, runs="fitted"))[0].promo
    (file_id,) = begin(runtime, team, promo_id, ("wide",), 480)
    assert wait(runtime, [file_id])[0][0] == "done", "beats are looked for first"
    with runtime.database.unit() as unit:
        known = needed.look(unit.session, promo).known
    data, waits = Preview(runtime).sound(promo, 0, min(96_000, sound_length(promo)), known)
    assert waits == ()
    assert np.abs(np.frombuffer(data, np.int16)).max() > 500
    with pytest.raises(Missing):
        library.take(runtime, by(team), "nothing")


def test_the_library_is_found_by_what_is_wanted() -> None:
    slow = find(Wanted(sort="song", mood="calm", tempo="slow"))
    assert [piece.name for piece in slow] == ["Still Water"]
    assert all(piece.length < 12 for piece in find(Wanted(length="short")))
    assert {piece.mood for piece in find(Wanted(words="applause"))} == {"crowd", "hit"}
    assert find(Wanted(favourites=True), frozenset({"red-shoes"}))[0].id == "red-shoes"
    assert find(Wanted(words="no such thing")) == []
    calmer = find(Wanted(like="red-shoes", turn="calmer"))
    assert calmer
    assert all(piece.sort == "song" for piece in calmer)
