"""Brands that leave their team: as one open file, and by a link to a copy that is brought up to date."""

from __future__ import annotations

import io
import json
import zipfile
from pathlib import Path

import pytest

from glowreel.core.errors import Missing, Refusal
from glowreel.engine.type.faces import FOLDER
from glowreel.services import brand_sharing, brands, samples, shelf
from glowreel.services.setup import Runtime
from glowreel.store.models import MediaFile
from tests.conftest import by
from tests.services.test_promos import new_team

BOOK = {"colours": {"accent": "#2F6F87"}, "fonts": {"heading": "Fraunces"}, "never": ["cheap"], "palette": ["#123456"]}


def kept(runtime: Runtime, team: str) -> str:
    """A brand of a team with a logo."""
    with runtime.database.unit() as unit:
        sample = samples.by_name(unit.session)["hollowmere-mark.svg"]
        logo = shelf.lent(unit, by(team), unit.session.get_one(MediaFile, sample.id))
        assert logo.state == "ready"
        return brands.add(unit.session, by(team), "Saltwick", {**BOOK, "logos": {"logo": logo.id}}).id


def with_own_font(runtime: Runtime, team: str) -> str:
    """A brand whose headings are set in a font that it brought along."""
    with (FOLDER / "Lobster_400Regular.ttf").open("rb") as file:
        source, size = shelf.receive(runtime.blobs, Path(runtime.settings.cache) / "uploads", file)
    with runtime.database.unit() as unit:
        font = shelf.add(unit, by(team), "lobster.ttf", source, size).id
    assert shelf.looked_at(runtime, font)
    with runtime.database.unit() as unit:
        key = brands.add(unit.session, by(team), "Saltwick", BOOK).id
        brands.add_face(unit.session, key, by(team), font)
        brands.change(unit.session, key, by(team), fonts={"heading": "Lobster"})
    return key


def saved(runtime: Runtime, team: str, folder: Path) -> Path:
    out = io.BytesIO()
    with runtime.database.unit() as unit:
        name = brand_sharing.write(runtime, unit.session, kept(runtime, team), by(team), out)
    assert name == "Saltwick.brand.zip"
    path = folder / name
    path.write_bytes(out.getvalue())
    return path


def test_a_brand_goes_out_as_one_file_and_comes_back_in_another_team(runtime: Runtime, tmp_path: Path) -> None:
    team, other = new_team(runtime), new_team(runtime)
    path = saved(runtime, team, tmp_path)
    with zipfile.ZipFile(path) as bundle:
        assert set(bundle.namelist()) == {"brand.json", "logos/logo.svg"}
        (palette,) = json.loads(bundle.read("brand.json"))["palettes"]
        assert palette["colours"] == {"accent": "#2F6F87"}
    key, _ = brand_sharing.read(runtime, by(other), path)
    with runtime.database.unit() as unit:
        brand = brands.snapshot(brands.find(unit.session, key, by(other)))
        assert (brand.name, brand.colour("accent"), brand.font("heading")) == ("Saltwick", "#2F6F87", "Fraunces")
        assert (brand.never, brand.others) == (("cheap",), ("#123456",))
        logo = unit.session.get_one(MediaFile, brand.logos["logo"])
        assert (logo.team_id, logo.name) == (other, "logo.svg")


@pytest.mark.parametrize(("change", "sentence"), [
    ({"format": "something"}, "no brand file"), ({"version": 9}, "newer Glow Reel"),
    ({"palettes": [{"colours": {"accent": "red"}}]}, "that no brand has"), ({"version": {}}, "no brand file"),
    ({"logos": {"logo": "logos/none.svg"}}, "no brand file"), ({"manner": {"arrives": "jump"}}, "that no brand has"),
    ({"logos": {"hat": "logos/logo.svg"}}, "that no brand has"), ({"logos": ["logo.svg"]}, "no brand file"),
    ({"fonts": 7}, "no brand file"),
])  # fmt: skip
def test_what_is_no_brand_is_refused_in_a_sentence(
    runtime: Runtime, tmp_path: Path, change: dict, sentence: str
) -> None:
    team = new_team(runtime)
    good = saved(runtime, team, tmp_path)
    bad = tmp_path / "bad.zip"
    with zipfile.ZipFile(good) as old, zipfile.ZipFile(bad, "w") as new:
        told = json.loads(old.read("brand.json"))
        new.writestr("brand.json", json.dumps({**told, **change}))
        new.writestr("logos/logo.svg", old.read("logos/logo.svg"))
    with pytest.raises(Refusal, match=sentence):
        brand_sharing.read(runtime, by(team), bad)
    with zipfile.ZipFile(bad, "w") as new:
        new.writestr("brand.json", "[1, 2]")
    with pytest.raises(Refusal, match="no brand file"):
        brand_sharing.read(runtime, by(team), bad)
    bad.write_bytes(b"no zip at all")
    with pytest.raises(Refusal, match="no brand file"):
        brand_sharing.read(runtime, by(team), bad)


def test_fonts_and_material_of_a_brand_go_along(runtime: Runtime, tmp_path: Path) -> None:
    team, other = new_team(runtime), new_team(runtime)
    key = with_own_font(runtime, team)
    out = io.BytesIO()
    with runtime.database.unit() as unit:
        song = samples.by_name(unit.session)["hollowmere-mark.svg"]
        held = shelf.lent(unit, by(team), unit.session.get_one(MediaFile, song.id), "our mark.svg")
        brands.change(unit.session, key, by(team), material=[held.id])
        brand_sharing.write(runtime, unit.session, key, by(team), out)
        token = brand_sharing.share(unit.session, key, by(team), open_=True).token
    (tmp_path / "brand.zip").write_bytes(out.getvalue())
    read, _ = brand_sharing.read(runtime, by(other), tmp_path / "brand.zip")
    with runtime.database.unit() as unit:
        taken = brand_sharing.take_over(unit, token, by(other)).id
        for one in (read, taken):
            book = brands.book_of(brands.find(unit.session, one, by(other)))
            assert book.families == ("Lobster",)
            assert book.font("heading") == brands.snapshot(brands.find(unit.session, key, by(team))).font("heading")
            files = {unit.session.get_one(MediaFile, file).name for file in book.material}
            assert files == {"our mark.svg"}


def test_a_brand_is_taken_over_by_a_link_and_brought_up_to_date(runtime: Runtime) -> None:
    team, other = new_team(runtime), new_team(runtime)
    key = kept(runtime, team)
    with runtime.database.unit() as unit:
        token = brand_sharing.share(unit.session, key, by(team), open_=True).token
        with pytest.raises(Refusal, match="own already"):
            brand_sharing.take_over(unit, token, by(team))
        copy = brand_sharing.take_over(unit, token, by(other))
        assert brands.snapshot(copy).colour("accent") == "#2F6F87"
        assert unit.session.get_one(MediaFile, brands.snapshot(copy).logos["logo"]).team_id == other
        assert not brand_sharing.newer(unit.session, copy)
        brands.change(unit.session, key, by(team), palettes=[{"colours": {"accent": "#AA0000"}}], name="Saltwick Bay")
        assert brand_sharing.newer(unit.session, copy)
        brand_sharing.bring(unit, copy.id, by(other))
        assert (copy.name, brands.snapshot(copy).colour("accent")) == ("Saltwick Bay", "#AA0000")
        assert not brand_sharing.newer(unit.session, copy)
        brands.undo(unit.session, copy.id, by(other))
        assert (copy.name, brands.snapshot(copy).colour("accent")) == ("Saltwick", "#2F6F87"), "one undo"
        brand_sharing.share(unit.session, key, by(team), open_=False)
        for work in (lambda: brand_sharing.shared(unit.session, token),
                     lambda: brand_sharing.bring(unit, copy.id, by(other))):  # fmt: skip
            with pytest.raises(Missing, match="leads nowhere"):
                work()
        with pytest.raises(Missing):
            brand_sharing.share(unit.session, key, by(other), open_=True)
