"""What is made from files on demand: once, with progress, cancelled and tried again, collected in the end."""

from __future__ import annotations

import time
from pathlib import Path
from types import SimpleNamespace
from typing import Any

import pytest
from sqlalchemy import select

from glowreel import tables
from glowreel.core.errors import Missing, Refusal
from glowreel.engine import makers
from glowreel.engine.makers import MAKERS, Maker, settings_key
from glowreel.limited.tasks import TASKS
from glowreel.services import derivation
from glowreel.services.blob_keys import derived
from glowreel.services.setup import Runtime
from glowreel.store.models import Derived, MediaFile, User
from tests.conftest import by
from tests.services.test_promos import new_team


@pytest.fixture
def shelf(runtime: Runtime) -> dict[str, Any]:
    """The demo's team and the identifiers of a song and a photo of it."""
    with runtime.database.unit() as unit:
        team = unit.session.scalars(select(User.team_id).where(User.email.like("%hollowmere%"))).first()
        rows = unit.session.scalars(select(MediaFile).where(MediaFile.team_id == team)).all()
        return {"team": team, **{row.name: row.id for row in rows}}


def wanted(runtime: Runtime, team: str, media: str, maker: str, **settings: Any) -> int:
    with runtime.database.unit() as unit:
        row = derivation.want(unit, media, by(team), maker, settings)
        unit.forget()
        return row.id


def row_of(runtime: Runtime, key: int) -> Derived:
    with runtime.database.unit() as unit:
        row = unit.session.get_one(Derived, key)
        unit.session.expunge(row)
        return row


def test_the_loudness_of_a_song_is_measured_once_for_all_who_want_it(runtime: Runtime, shelf) -> None:
    song = shelf["slow-ascent.m4a"]
    key = wanted(runtime, shelf["team"], song, "loudness")
    derivation.make(runtime, key)
    row = row_of(runtime, key)
    assert (row.state, row.progress, row.error) == ("ready", 1.0, "")
    assert -40 < row.facts["lufs"] < -5
    assert row.facts["peak"] <= 1
    assert wanted(runtime, shelf["team"], song, "loudness") == key
    with runtime.database.unit() as unit:
        assert derivation.facts_of(unit.session, row.hash, "loudness") == row.facts
        assert derivation.facts_of(unit.session, "0" * 64, "loudness") is None
        with pytest.raises(Missing):
            derivation.want(unit, song, by(new_team(runtime)), "loudness")
        with pytest.raises(Missing, match="makes"):
            derivation.want(unit, song, by(shelf["team"]), "proxy")
        with pytest.raises(Refusal, match="nothing like that"):
            derivation.want(unit, shelf["picnic.jpg"], by(shelf["team"]), "loudness")
        with pytest.raises(Refusal, match="no setting “louder”"):
            derivation.want(unit, song, by(shelf["team"]), "loudness", {"louder": 1})


def test_a_maker_is_one_row(runtime: Runtime, shelf, monkeypatch: pytest.MonkeyPatch) -> None:
    """Made with settings, with facts and files, shown in the tables, and collected when its version rises."""
    told: list[float] = []

    def make(material: makers.Material, settings: makers.Settings, folder: Path, tell: makers.Share) -> makers.Facts:
        tell(0.5)
        (folder / "first").write_bytes(material.original.read_bytes()[: settings["bytes"]])
        return {"kept": settings["bytes"]}

    head = Maker("its first bytes", "photo, footage", make, files=("first",), settings={"bytes": 8})
    monkeypatch.setitem(MAKERS, "head", head)

    def run(task: str, arguments: dict, folder: Path, name: str, progress, check) -> dict:
        """In this process: the limited one has not heard of the new row."""
        return TASKS[task](
            arguments, folder, SimpleNamespace(share=lambda share: (told.append(share), progress(share)))
        )

    monkeypatch.setattr(runtime, "limited", SimpleNamespace(run=run), raising=False)
    photo = shelf["picnic.jpg"]
    usual, other = (wanted(runtime, shelf["team"], photo, "head", **settings) for settings in ({}, {"bytes": 3}))
    assert usual != other
    for key in (usual, other):
        derivation.make(runtime, key)
    rows = [row_of(runtime, key) for key in (usual, other)]
    assert [row.facts for row in rows] == [{"kept": 8}, {"kept": 3}]
    assert told == [0.5, 0.5]
    blobs = [derivation.blob(row, "first") for row in rows]
    assert [len(runtime.blobs.local(blob).read_bytes()) for blob in blobs] == [8, 3]
    assert derived(rows[0].hash, f"head-{settings_key('head', {})}-first") == blobs[0]
    shown = next(row for row in tables.TABLES["makers"].rows() if row["name"] == "head")
    assert shown["when"] == "on demand, version 1"
    derivation.collect(runtime)
    assert runtime.blobs.has(blobs[0]), "what is of this version stays"
    monkeypatch.setitem(MAKERS, "head", Maker(head.meaning, head.of, make, 2, head.files, head.settings))
    assert wanted(runtime, shelf["team"], photo, "head") != usual
    assert derivation.collect(runtime) >= 2
    assert not any(runtime.blobs.has(blob) for blob in blobs)


def test_it_is_cancelled_and_begun_again(runtime: Runtime, shelf) -> None:
    key = wanted(runtime, shelf["team"], shelf["lantern-walk.m4a"], "loudness")
    with runtime.database.unit() as unit:
        derivation.cancel(unit.session, key, by(shelf["team"]))
        with pytest.raises(Missing):
            derivation.cancel(unit.session, key, by(new_team(runtime)))
    derivation.make(runtime, key)
    assert row_of(runtime, key).state == "stopped", "what is not wanted is not made"
    with runtime.database.unit() as unit:
        derivation.retry(unit, key, by(shelf["team"]))
        assert unit._later == [("glowreel.derive", (key,))]
    # A worker of the real stack makes it.
    for _ in range(600):
        if row_of(runtime, key).state in ("ready", "failed"):
            break
        time.sleep(0.1)
    assert row_of(runtime, key).state == "ready"


def test_what_was_forgotten_is_sent_again(runtime: Runtime, shelf) -> None:
    key = wanted(runtime, shelf["team"], shelf["landing.mp4"], "flow")
    with runtime.database.unit() as unit:
        derivation.sweep(unit)
        assert unit._later == [], "it was sent a moment ago"
        unit.session.get_one(Derived, key).sent_at = None
        derivation.sweep(unit)
        assert unit._later == [("glowreel.derive", (key,))]
        unit.forget()
        derivation.cancel(unit.session, key, by(shelf["team"]))
