"""Work in the hands of workers: whoever lost it writes nothing, and what ended stays ended."""

from __future__ import annotations

import threading
from datetime import timedelta

import pytest
from sqlalchemy import event, select, update

from glowreel.core import commands as c
from glowreel.core.errors import Refusal
from glowreel.core.time import ticks
from glowreel.services import accounts, exports, promos, shelf
from glowreel.services.leases import Lease, Stopped, beating
from glowreel.services.setup import Runtime
from glowreel.store import documents
from glowreel.store.models import ExportFile, MediaFile, PromoRow, new_key, now
from tests.conftest import by


@pytest.fixture(scope="module")
def team(runtime: Runtime) -> str:
    with runtime.database.unit() as unit:
        user = accounts.sign_up(unit.session, "Lea Se", f"{new_key('x')}@lease.example", "long enough words", "Leases")
        return user.team_id


@pytest.fixture
def file(runtime: Runtime, team: str) -> str:
    """A file that is being looked at. No worker knows of it."""
    with runtime.database.unit() as unit:
        row = MediaFile(id=new_key("m"), team_id=team, name="f.mp4", hash=new_key("").ljust(64, "0")[:64], size=1)
        unit.session.add(row)
        unit.session.flush()
        return row.id


def claimed(runtime: Runtime, file: str) -> Lease:
    with runtime.database.unit() as unit:
        row = shelf.claim(unit.session, file)
        assert row is not None
        return Lease(runtime, MediaFile, file, row.attempts, ("running",))


def lapse(runtime: Runtime, file: str) -> None:
    with runtime.database.unit() as unit:
        past = now() - timedelta(seconds=1)
        unit.session.execute(update(MediaFile).where(MediaFile.id == file).values(lease_until=past))


def state(runtime: Runtime, file: str) -> str:
    with runtime.database.unit() as unit:
        return unit.session.get_one(MediaFile, file).state


def test_a_worker_that_lost_its_file_cannot_turn_ready_into_failed(runtime: Runtime, file: str) -> None:
    first = claimed(runtime, file)
    lapse(runtime, file)
    second = claimed(runtime, file)
    assert second.finish(state="ready")
    assert not first.finish(state="failed", error="too late")
    assert state(runtime, file) == "ready"
    with pytest.raises(Stopped):
        first.renew()
    with pytest.raises(Stopped):
        first.check()


def test_a_lease_is_renewed_while_the_work_is_silent(runtime: Runtime, file: str, monkeypatch) -> None:
    monkeypatch.setattr("glowreel.services.leases.EVERY", 0.05)
    lease = claimed(runtime, file)
    lapse(runtime, file)
    renewed = threading.Event()
    really = lease.renew
    monkeypatch.setattr(lease, "renew", lambda **values: (really(**values), renewed.set()))
    with beating(lease):
        assert renewed.wait(10)
        with runtime.database.unit() as unit:
            assert shelf.claim(unit.session, file) is None, "nobody else gets it meanwhile"


def test_a_clock_that_was_set_back_keeps_nothing_waiting(runtime: Runtime, file: str) -> None:
    """A worker that died held its file until later than anybody could from now on, and it was sent later than now."""
    first = claimed(runtime, file)
    tomorrow = now() + timedelta(days=1)
    with runtime.database.unit() as unit:
        held = update(MediaFile).where(MediaFile.id == file)
        unit.session.execute(held.values(lease_until=tomorrow, sent_at=tomorrow))
    with runtime.database.unit() as unit:
        sent: list[tuple[str, tuple[object, ...]]] = []
        unit.later = lambda task, *args: sent.append((task, args))  # type: ignore[method-assign]
        shelf.sweep(unit)
        assert ("glowreel.ingest", (file,)) in sent
    assert claimed(runtime, file).finish(state="ready")
    with pytest.raises(Stopped):
        first.renew()


def test_what_is_off_the_shelf_is_not_worked_on(runtime: Runtime, team: str, file: str) -> None:
    with runtime.database.unit() as unit:
        shelf.remove(unit.session, file, by(team))
    with runtime.database.unit() as unit:
        assert shelf.claim(unit.session, file) is None


def test_the_same_bytes_sent_at_the_same_moment_are_there_once(runtime: Runtime, team: str) -> None:
    source = new_key("").ljust(64, "1")[:64]
    barrier = threading.Barrier(6)
    ids = []

    def add() -> None:
        barrier.wait()
        with runtime.database.unit() as unit:
            ids.append(shelf.add(unit, by(team), "same.mp4", source, 10).id)

    threads = [threading.Thread(target=add) for _ in range(6)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert len(ids) == 6
    assert len(set(ids)) == 1


def test_cancelling_does_not_overwrite_what_is_done(runtime: Runtime, team: str) -> None:
    with runtime.database.unit() as unit:
        row = promos.create(unit.session, by(team), "Cancel", ("wide",))
        promos.edit(unit.session, row.id, by(team), c.InsertFiller(length=ticks(1)))
        export = exports.start(unit, row.id, by(team), ("wide",), 480, "Cancel")
        unit.forget()
        file_id = unit.session.scalar(select(ExportFile.id).where(ExportFile.export_id == export.id))
    with runtime.database.unit() as unit:
        stale = unit.session.get_one(ExportFile, file_id)
        with runtime.database.unit() as other:
            other.session.execute(update(ExportFile).where(ExportFile.id == file_id).values(state="done"))
        with pytest.raises(Refusal, match="already ended"):
            exports.cancel(unit.session, stale)
    with runtime.database.unit() as unit:
        assert unit.session.get_one(ExportFile, file_id).state == "done"


class Queries:
    """Counts the statements that are sent to the database."""

    def __init__(self, runtime: Runtime) -> None:
        self._engine = runtime.database.engine
        self.count = 0

    def _one_more(self, *_: object) -> None:
        self.count += 1

    def __enter__(self) -> Queries:
        event.listen(self._engine, "before_cursor_execute", self._one_more)
        return self

    def __exit__(self, *_: object) -> None:
        event.remove(self._engine, "before_cursor_execute", self._one_more)


def test_opening_far_back_in_the_history_takes_as_few_queries_as_at_its_end(runtime: Runtime, team: str) -> None:
    with runtime.database.unit() as unit:
        row = promos.create(unit.session, by(team), "Far back", ("wide",))
        for n in range(40):
            promos.edit(unit.session, row.id, by(team), c.Rename(name=f"Name {n}"))
    with runtime.database.unit() as unit, Queries(runtime) as at_the_end:
        promos.open_promo(unit.session, row.id, by(team))
    with runtime.database.unit() as unit:
        for _ in range(35):
            promos.step(unit.session, row.id, by(team), back=True)
    with runtime.database.unit() as unit, Queries(runtime) as far_back:
        opened = promos.open_promo(unit.session, row.id, by(team))
    assert opened.redo == "Renamed the promo to “Name 5”"
    assert far_back.count <= at_the_end.count + 1


def test_scenes_of_other_promos_are_listed_without_opening_any(runtime: Runtime, team: str, monkeypatch) -> None:
    with runtime.database.unit() as unit:
        here = promos.create(unit.session, by(team), "Here", ("wide",))
        for n in range(20):
            row = promos.create(unit.session, by(team), f"Other {n}", ("wide",))
            promos.edit(unit.session, row.id, by(team), c.InsertFiller(length=ticks(n + 1)))
    documents._cached.clear()
    monkeypatch.setattr(documents, "unpack", lambda data: pytest.fail("a document was opened"))
    with runtime.database.unit() as unit, Queries(runtime) as queries:
        found = promos.scenes_of_others(unit.session, here.id, by(team))
    assert queries.count <= 3
    lengths = {row.name: scenes[0]["length"] for row, scenes in found if scenes}
    assert lengths["Other 4"] == ticks(5)


def test_a_press_sent_twice_is_carried_out_once(runtime: Runtime, team: str) -> None:
    with runtime.database.unit() as unit:
        row = promos.create(unit.session, by(team), "Twice", ("wide",))
        for _ in range(2):
            opened, _ = promos.edit(unit.session, row.id, by(team), c.AddNote(text="once"), press="one-press")
        assert len(opened.promo.notes) == 1
        opened, _ = promos.edit(unit.session, row.id, by(team), c.AddNote(text="again"), press="another-press")
        assert len(opened.promo.notes) == 2
        assert unit.session.get_one(PromoRow, row.id).head_id == opened.revision


def test_an_undo_sent_twice_steps_once(runtime: Runtime, team: str) -> None:
    with runtime.database.unit() as unit:
        row = promos.create(unit.session, by(team), "Undo twice", ("wide",))
        for n in range(3):
            seen = promos.edit(unit.session, row.id, by(team), c.AddNote(text=str(n)))[0].revision
        promos.step(unit.session, row.id, by(team), back=True)
        opened = promos.step(unit.session, row.id, by(team), back=True, again_from=seen)
        assert len(opened.promo.notes) == 2
        opened = promos.step(unit.session, row.id, by(team), back=True, again_from=opened.revision)
        assert len(opened.promo.notes) == 1, "one that had not arrived is carried out"
