"""Quotas, ends of what grows, backups and looking over, on real databases and stores."""

import os
import shutil
import subprocess
import time
from collections.abc import Callable, Iterator
from dataclasses import replace
from datetime import timedelta
from pathlib import Path

import numpy as np
import psycopg
import pytest
from sqlalchemy import make_url, select, text

from glowreel.core.commands import AddWords, InsertFiller, Rename
from glowreel.core.errors import NoRoom, Refusal
from glowreel.services import brands, doctor, exports, promos, retention, shelf, storage, thinning, upkeep
from glowreel.services.blob_keys import derived, original
from glowreel.services.derivation import make, want
from glowreel.services.setup import Runtime
from glowreel.store import documents
from glowreel.store.blobs import Blobs
from glowreel.store.models import Derived, Export, ExportFile, MediaFile, PromoRow, Revision, Verdict, new_key, now
from tests.conftest import Files, by
from tests.services.test_promos import edit, new_team
from tests.services.test_shelf import bring

LONG_AGO = timedelta(days=400)


def sound(files: Files, name: str) -> Path:
    return files.sound(name, np.random.default_rng(len(name)).uniform(-0.1, 0.1, (4800, 2)))


@pytest.fixture
def team(runtime: Runtime) -> str:
    return new_team(runtime)


def ready(runtime: Runtime, team: str, path: Path) -> MediaFile:
    key = bring(runtime, team, path)
    shelf.take_in(runtime, key)
    for _ in range(600):
        with runtime.database.unit() as unit:
            row = unit.session.get_one(MediaFile, key)
        if row.state == "ready":
            return row
        time.sleep(0.1)
    raise AssertionError(row.state)


def test_a_team_has_so_much_room_and_a_disk_too(runtime: Runtime, team: str, files: Files) -> None:
    row = ready(runtime, team, sound(files, "a.wav"))
    with runtime.database.unit() as unit:
        assert storage.usage(runtime, unit.session, by(team)).media == row.size
        storage.check_room(runtime, unit.session, by(team), 1000)
        with pytest.raises(Refusal, match="50 GB"):
            storage.check_room(runtime, unit.session, by(team), 51 * storage.GIGABYTE)
        shelf.remove(unit.session, row.id, by(team))
        assert storage.usage(runtime, unit.session, by(team)).media == 0
    greedy = Runtime(replace(runtime.settings, reserve_mb=10**9), runtime._send)
    with pytest.raises(NoRoom, match="no room left on the disk"):
        storage.check_disk(greedy, 1)


def test_removed_files_go_for_good_once_nothing_uses_them(runtime: Runtime, team: str, files: Files) -> None:
    used, unused = ready(runtime, team, sound(files, "used.wav")), ready(runtime, team, sound(files, "unused.wav"))
    from glowreel.core.commands import AddSound

    with runtime.database.unit() as unit:
        promo_id = promos.create(unit.session, by(team), "Keeps a sound", ("wide",)).id
    edit(runtime, promo_id, team, AddSound(media=used.id))
    with runtime.database.unit() as unit:
        promos.step(unit.session, promo_id, by(team), back=True)
        for row in (used, unused):
            unit.session.get_one(MediaFile, row.id).removed_at = now() - LONG_AGO
    counts = retention.tidy(runtime)
    assert counts["media"] == 1
    assert runtime.blobs.has(original(used.hash)), "a file that a step of the history uses is gone"
    assert not runtime.blobs.has(original(unused.hash))
    assert not runtime.blobs.has(derived(unused.hash, "samples"))


def test_removed_promos_take_their_history_and_exports_along(runtime: Runtime, team: str) -> None:
    with runtime.database.unit() as unit:
        kept = promos.create(unit.session, by(team), "Kept", ("wide",)).id
        gone = promos.create(unit.session, by(team), "Gone", ("wide",)).id
    for promo_id in (kept, gone):
        edit(runtime, promo_id, team, InsertFiller())
    with runtime.database.unit() as unit:
        export = exports.start(unit, gone, by(team), ("wide",), 480, "Gone")
        unit.forget()
        file_id = unit.session.scalar(select(ExportFile.id).where(ExportFile.export_id == export.id))
        runtime.blobs.write(exports.file_blob(file_id), lambda out: out.write_bytes(b"film"))
        unit.session.get_one(PromoRow, gone).removed_at = now() - LONG_AGO
    retention.tidy(runtime)
    with runtime.database.unit() as unit:
        assert unit.session.get(PromoRow, gone) is None
        assert unit.session.get(Export, export.id) is None
        assert unit.session.get(PromoRow, kept) is not None
        left = unit.session.scalars(select(Revision.promo_id).where(Revision.promo_id.in_((kept, gone)))).all()
        assert left == [kept, kept]
    assert not runtime.blobs.has(exports.file_blob(file_id))


def test_a_long_history_loses_its_oldest_unnamed_steps_only(runtime: Runtime, team: str, monkeypatch) -> None:
    monkeypatch.setattr(thinning, "MOST_STEPS", 4)
    with runtime.database.unit() as unit:
        promo_id = promos.create(unit.session, by(team), "Long", ("wide",)).id
        head = unit.session.get_one(PromoRow, promo_id).head_id
        unit.session.get_one(Revision, head).name = "First"
    for n in range(8):
        edit(runtime, promo_id, team, Rename(name=f"Name {n}"))
    with runtime.database.unit() as unit:
        verdict = unit.session.scalars(
            select(Revision.id).where(Revision.promo_id == promo_id).order_by(Revision.id).offset(2)
        ).first()
        unit.session.add(Verdict(id=new_key("v"), team_id=team, promo_id=promo_id, who="Ada", revision_id=verdict,
                                 approved=True))  # fmt: skip
    retention.tidy(runtime)
    with runtime.database.unit() as unit:
        assert unit.session.get(Revision, verdict) is not None, "somebody decided on it"
        rows = unit.session.scalars(select(Revision).where(Revision.promo_id == promo_id).order_by(Revision.id)).all()
        assert [row.name for row in rows] == ["First", None, None, None, None, None, None]
        for name in ("Name 6", "Name 5", "Name 4", "Name 3", "Name 1", "Long"):
            assert promos.step(unit.session, promo_id, by(team), back=True).promo.name == name
        with pytest.raises(Refusal, match="nothing to undo"):
            promos.step(unit.session, promo_id, by(team), back=True)


def test_what_cut_off_work_left_behind_goes_after_a_day(runtime: Runtime) -> None:
    cache = Path(runtime.settings.cache)
    old, fresh = cache / "work" / "old-work", cache / "uploads" / "upload-fresh"
    old.mkdir(parents=True)
    (old / "big").write_bytes(b"x")
    fresh.parent.mkdir(exist_ok=True)
    fresh.write_bytes(b"x")
    runtime.blobs.write("media/aa/x/original", lambda out: out.write_bytes(b"x"))
    part = runtime.blobs.local("media/aa/x/original").with_name("original.1234.part")
    part.write_bytes(b"x")
    for path in (old, part):
        os.utime(path, (time.time() - 200_000,) * 2)
    retention.tidy(runtime)
    assert (old.exists(), part.exists(), fresh.exists()) == (False, False, True)


def test_a_disk_that_fills_up_is_told_and_keeps_no_parts(tmp_path: Path) -> None:
    disk = tmp_path / "disk"
    disk.mkdir()
    mounted = subprocess.run(["mount", "-t", "tmpfs", "-o", "size=2m", "none", str(disk)], capture_output=True)
    if mounted.returncode:
        pytest.skip("a small disk cannot be made here")
    try:
        blobs = Blobs(str(disk / "blobs"), tmp_path / "cache")
        blobs.write("a/small", lambda out: out.write_bytes(bytes(500_000)))
        with pytest.raises(NoRoom):
            blobs.write("a/large", lambda out: out.write_bytes(bytes(4_000_000)))
        assert [path.name for path in (disk / "blobs").rglob("*") if path.is_file()] == ["small"]
        assert not list((tmp_path / "cache").glob("part-*"))
        blobs.write("a/other", lambda out: out.write_bytes(bytes(500_000)))
    finally:
        subprocess.run(["umount", str(disk)], check=True)


@pytest.fixture
def installations(runtime: Runtime, workplace: Path) -> Iterator[Callable[[str], Runtime]]:
    """Makes empty installations beside the one of the tests, on the same server."""
    url = make_url(runtime.settings.database)
    where = f"host={url.host} port={url.port} user={url.username} password={url.password} dbname=postgres"
    made: dict[str, Runtime] = {}

    def make(name: str) -> Runtime:
        with psycopg.connect(where, autocommit=True) as connection:
            connection.execute(f"CREATE DATABASE {name}")
        settings = replace(
            runtime.settings, database=url.set(database=name).render_as_string(hide_password=False),
            blobs=str(workplace / name / "blobs"), cache=str(workplace / name / "cache"),
        )  # fmt: skip
        made[name] = Runtime(settings, lambda task, args: None)
        return made[name]

    yield make
    for name, other in made.items():
        other.database.engine.dispose()
        with psycopg.connect(where, autocommit=True) as connection:
            connection.execute(f"DROP DATABASE {name}")
        shutil.rmtree(workplace / name, ignore_errors=True)


def wrong(runtime: Runtime) -> list[str]:
    return [finding.sentence for finding in doctor.examine(runtime, deep=True) if not finding.well]


def state_of(runtime: Runtime, key: int) -> str:
    with runtime.database.unit() as unit:
        return unit.session.get_one(Derived, key).state


def test_a_backup_brings_everything_back_elsewhere(
    installations: Callable[[str], Runtime], files: Files, tmp_path: Path
) -> None:
    first, second = installations("first"), installations("second")
    first.database.migrate()
    team = new_team(first)
    row = ready(first, team, sound(files, "kept.wav"))
    with first.database.unit() as unit:
        promo_id = promos.create(unit.session, by(team), "Backed up", ("wide",)).id
    edit(first, promo_id, team, AddWords(text="Still here"))
    with first.database.unit() as unit:
        loud = want(unit, row.id, by(team), "loudness")
        brands.add(unit.session, by(team), "Kept")
    make(first, loud.id)
    assert wrong(first) == []
    assert upkeep.backup(first, tmp_path / "all.tar") == 1
    assert [path.name for path in tmp_path.glob("all*")] == ["all.tar"]
    with pytest.raises(Refusal, match="not empty"):
        upkeep.restore(first, tmp_path / "all.tar")
    assert upkeep.restore(second, tmp_path / "all.tar") == 1
    with second.database.unit() as unit:
        assert promos.open_promo(unit.session, promo_id, by(team)).promo.items[0].read("text") == "Still here"
    make(second, loud.id)
    assert state_of(second, loud.id) == "queued", "nothing is made of a file before it was looked at"
    shelf.take_in(second, row.id)
    make(second, loud.id)
    assert state_of(second, loud.id) == "ready"
    with second.database.unit() as unit:
        assert unit.session.get_one(MediaFile, row.id).facts == row.facts
        assert [one.name for one in brands.list_brands(unit.session, by(team))] == ["Kept"]
    assert wrong(second) == []
    (tmp_path / "other.tar").write_bytes((tmp_path / "all.tar").read_bytes()[:5000])
    with pytest.raises(Refusal, match=r"not a backup|not empty"):
        upkeep.restore(installations("third"), tmp_path / "other.tar")


def test_looking_over_finds_what_is_wrong(installations: Callable[[str], Runtime], files: Files) -> None:
    other = installations("wrong")
    other.database.migrate()
    team = new_team(other)
    changed, missing, unmade = (ready(other, team, sound(files, name)) for name in ("a.wav", "bb.wav", "ccc.wav"))
    with other.database.unit() as unit:
        promo_id = promos.create(unit.session, by(team), "Damaged", ("wide",)).id
    assert wrong(other) == []
    path = other.blobs.local(original(changed.hash))
    path.write_bytes(path.read_bytes()[:-1] + b"!")
    other.blobs.remove(original(missing.hash))
    other.blobs.remove(derived(unmade.hash, "samples"))
    with other.database.unit() as unit:
        head = unit.session.get_one(PromoRow, promo_id).head_id
        unit.session.get_one(Revision, head).document = b"nothing"
        lost = unit.session.get_one(MediaFile, unmade.id)
        unit.session.add(MediaFile(**{
            "id": "m-lost", "team_id": team, "name": "x", "hash": lost.hash[::-1], "size": 1, "state": "running",
            "lease_until": now() - LONG_AGO, "removed_at": now(),
        }))  # fmt: skip
        made = Derived(hash=changed.hash, media_id=changed.id, team_id=team, maker="denoise", version=1, key="k",
                       settings={}, state="running", lease_until=now() - LONG_AGO)  # fmt: skip
        unit.session.add(made)
    assert wrong(other) == [
        "1 files being looked at have lost their worker.",
        "1 things being made of files have lost their worker.",
        "1 files are missing from the store.",
        "1 files are not what they were.",
        "1 files lack what is made of them.",
        "1 promos cannot be read.",
    ]
    # A promo that cannot be read is said to be so, and breaks no list.
    with other.database.unit() as unit:
        assert [row.name for row in promos.list_promos(unit.session, by(team))] == ["Damaged"]
        documents._cached.clear()
        with pytest.raises(Refusal, match="cannot be read"):
            promos.open_promo(unit.session, promo_id, by(team))


def test_a_newer_database_is_refused_in_a_sentence(installations: Callable[[str], Runtime]) -> None:
    other = installations("newer")
    other.database.migrate()
    with other.database.engine.begin() as connection:
        connection.execute(text("UPDATE alembic_version SET version_num = '9999'"))
    with pytest.raises(Refusal, match="newer Glow Reel"):
        other.database.migrate()
    assert [f.sentence for f in doctor.examine(other)] == [
        "The database was made by a newer Glow Reel. Update this one to use it."
    ]
