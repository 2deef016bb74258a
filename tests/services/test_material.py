"""The Shelf: what looks like a picture, one file in the place of another everywhere, missing files found again."""

from __future__ import annotations

from pathlib import Path

import pytest

from glowreel.core.commands import InsertClips, InsertFiller
from glowreel.core.errors import Missing, Refusal
from glowreel.outside.art.files import picture
from glowreel.outside.art.painting import Painting
from glowreel.services import material, promos, shelf
from glowreel.services.access import Actor
from glowreel.services.blob_keys import derived
from glowreel.services.setup import Runtime
from glowreel.store.models import MediaFile
from tests.conftest import by
from tests.services.test_promos import new_team


@pytest.fixture
def team(runtime: Runtime) -> str:
    return new_team(runtime)


def photo(runtime: Runtime, team: str, name: str, painting: Painting, folder: Path) -> str:
    """A picture on the Shelf, once it was looked at."""
    path = folder / name
    path.write_bytes(picture(painting, 320, 200, ".png"))
    with path.open("rb") as stream:
        source, size = shelf.receive(runtime.blobs, folder, stream)
    with runtime.database.unit() as unit:
        key = shelf.add(unit, by(team), name, source, size).id
    assert shelf.looked_at(runtime, key)
    return key


def test_what_looks_like_a_picture_comes_after_it_most_alike_first(runtime: Runtime, team: str, tmp_path: Path) -> None:
    sea, forest, other_sea = (
        photo(runtime, team, name, painting, tmp_path)
        for name, painting in (
            ("a.png", Painting("sea", "harbour", seed=1)), ("b.png", Painting("forest", "ember", "night", seed=1)),
            ("c.png", Painting("sea", "harbour", seed=2)),
        )
    )  # fmt: skip
    seen = material.looks_kept(runtime.blobs)
    assert seen("0" * 64) is None, "a sound has no look"
    with runtime.database.unit() as unit:
        found = material.find(unit.session, by(team), material.Wanted(like=sea), seen)
        assert [row.id for row in found.files] == [sea, other_sea, forest]
        hashes = [row.hash for row in found.files]
        assert all(runtime.blobs.has(derived(one, "look")) for one in hashes), "described once"
        again = material.find(unit.session, by(team), material.Wanted(like=forest, words="c.png"), seen)
        assert [row.id for row in again.files] == [other_sea], "other wishes count as well"
        with pytest.raises(Missing):
            material.find(unit.session, by(new_team(runtime)), material.Wanted(like=sea), seen)


def test_a_file_is_replaced_in_every_promo_and_each_can_undo_it(runtime: Runtime, team: str, tmp_path: Path) -> None:
    old = photo(runtime, team, "old.png", Painting("street", seed=1), tmp_path)
    new = photo(runtime, team, "new.png", Painting("street", seed=2), tmp_path)
    with runtime.database.unit() as unit:
        keys = [promos.create(unit.session, by(team), name, ("wide",)).id for name in ("One", "Two", "Three")]
        for key in keys[:2]:
            promos.edit(unit.session, key, by(team), InsertClips(media=(old, old)))
        promos.edit(unit.session, keys[2], by(team), InsertClips(media=(new,)))
    with runtime.database.unit() as unit:
        assert (new, "new.png") in material.others(unit.session, by(team), unit.session.get_one(MediaFile, old))
        with pytest.raises(Refusal, match="same file"):
            material.replace_everywhere(unit.session, by(team), old, old)
        with pytest.raises(Missing):
            material.replace_everywhere(unit.session, by(new_team(runtime)), old, new)
        with pytest.raises(Refusal):
            material.replace_everywhere(unit.session, Actor("person", team, "reviewer"), old, new)
    with runtime.database.unit() as unit:
        assert set(material.replace_everywhere(unit.session, by(team), old, new)) == {"One", "Two"}
    with runtime.database.unit() as unit:
        opened = promos.open_promo(unit.session, keys[0], by(team))
        assert [clip.media for clip in opened.promo.clips] == [new, new]
        promos.step(unit.session, keys[0], by(team), back=True)
        assert [clip.media for clip in promos.open_promo(unit.session, keys[0], by(team)).promo.clips] == [old, old]
    lonely = photo(runtime, team, "lonely.png", Painting("street", seed=3), tmp_path)
    with runtime.database.unit() as unit, pytest.raises(Refusal, match="No promo"):
        material.replace_everywhere(unit.session, by(team), lonely, old)


def test_missing_files_are_found_by_their_names(runtime: Runtime, team: str, tmp_path: Path) -> None:
    with runtime.database.unit() as unit:
        key = promos.create(unit.session, by(team), "Gaps", ("wide",)).id
        promos.edit(unit.session, key, by(team), InsertFiller())
        promo = promos.open_promo(unit.session, key, by(team)).promo
    (filler,) = promo.clips
    scene = promo.scenes[0]
    promo = promo.changed(scenes=(scene.changed(clips=(filler.changed(name="lost.png"),)),))
    with runtime.database.unit() as unit:
        assert material.found_again(unit.session, by(team), promo) == {}
    found = photo(runtime, team, "lost.png", Painting("rays"), tmp_path)
    with runtime.database.unit() as unit:
        assert material.found_again(unit.session, by(team), promo) == {filler.id: found}
        assert material.found_again(unit.session, by(new_team(runtime)), promo) == {}
