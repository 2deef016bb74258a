"""Work is shared out fairly between teams, and what ends its process twice is set aside."""

from collections import Counter
from dataclasses import replace
from datetime import timedelta
from pathlib import Path

import pytest
from attacks.files import heavy_filters
from sqlalchemy import update

from glowreel.core.commands import InsertFiller
from glowreel.core.farm import Waiting, turn
from glowreel.services import exports, pieces, promos, shelf
from glowreel.services.setup import Runtime
from glowreel.store.models import ExportPiece, MediaFile, new_key, now
from tests.conftest import by
from tests.limited.test_pool import kill_work
from tests.services.test_promos import edit, new_team
from tests.services.test_shelf import bring

HIDDEN = "hidden"


@pytest.fixture
def quiet(runtime: Runtime):
    """Keeps what other tests have waiting out of sight, so that turns can be counted."""
    with runtime.database.unit() as unit:
        waiting = update(MediaFile).where(MediaFile.state == "queued").values(state=HIDDEN)
        unit.session.execute(waiting)
    yield
    with runtime.database.unit() as unit:
        unit.session.execute(update(MediaFile).where(MediaFile.state == HIDDEN).values(state="queued"))


def waiting(runtime: Runtime, team: str, count: int) -> list[str]:
    """Files that wait, oldest first; nobody was sent to look at them."""
    with runtime.database.unit() as unit:
        rows = []
        for n in range(count):
            key = new_key("m")
            rows.append(
                MediaFile(id=key, team_id=team, name=key, hash=f"{hash(key):064x}"[-64:], size=1, sent_at=now())
            )
            rows[-1].created_at = now() - timedelta(days=400 - n)
        unit.session.add_all(rows)
        return [row.id for row in rows]


def test_no_team_has_every_worker_while_others_may_come(runtime: Runtime, quiet: None) -> None:
    greedy, modest = new_team(runtime), new_team(runtime)
    many, one = waiting(runtime, greedy, 3), waiting(runtime, modest, 1)
    with runtime.database.unit() as unit:
        taken = []
        while (row := shelf.claim(unit.session, imports=2)) is not None:
            taken.append(row.id)
        assert taken == [many[0], one[0]]
        assert shelf.claim(unit.session, imports=2) is None, "the second worker is free for somebody else"
        unit.session.get_one(MediaFile, many[0]).state = "ready"
        unit.session.flush()
        assert shelf.claim(unit.session, imports=2).id == many[1]
        for key in (*many, *one):
            unit.session.get_one(MediaFile, key).state = "failed"


def test_pieces_of_exports_take_turns_between_teams(runtime: Runtime) -> None:
    made: dict[str, list[int]] = {}
    teams = [new_team(runtime), new_team(runtime)]
    for team in teams:
        with runtime.database.unit() as unit:
            promo_id = promos.create(unit.session, by(team), "Long", ("wide",)).id
        edit(runtime, promo_id, team, InsertFiller(length=InsertFiller().length * 20))
        with runtime.database.unit() as unit:
            export = exports.start(unit, promo_id, by(team), ("wide",), 480, "Long")
            unit.forget()
            export.created_at = now() - timedelta(days=300)
            unit.session.flush()
            unit.session.refresh(export)
            file = export.files[0]
            file.state = "running"
            parts = [ExportPiece(file_id=file.id, number=n, first=n, count=1, key="x") for n in range(3)]
            for piece in parts:
                piece.sent_at = now()
            unit.session.add_all(parts)
            unit.session.flush()
            made[team] = [piece.id for piece in parts]
    with runtime.database.unit() as unit:
        taken = [pieces.claim(unit.session)[0].id for _ in range(6)]
        owner = {key: team for team, keys in made.items() for key in keys}
        # The rule that farms are simulated with is the one that the database is asked.
        left = [Waiting(team, at, number, 1.0) for at, team in enumerate(teams) for number in range(3)]
        in_hand = Counter[str]()
        for key in taken:
            first = turn(left, in_hand)
            assert made[first.team][first.number] == key
            left.remove(first)
            in_hand[first.team] += 1
        assert [owner[key] for key in taken] == [teams[0], teams[1]] * 3
        for team in teams:
            for export in exports.list_exports(unit.session, by(team)):
                exports.remove(unit.session, export.id, by(team))


def test_what_ends_its_process_twice_is_set_aside(runtime: Runtime, quiet: None, tmp_path: Path) -> None:
    alone = Runtime(replace(runtime.settings, limited=""), lambda task, args: None)
    path = tmp_path / "deadly.svg"
    path.write_bytes(heavy_filters(50))
    team = new_team(runtime)
    key = bring(alone, team, path)
    alone.limited.reach()
    states = []
    for _ in range(2):
        killer = kill_work(alone.limited)
        shelf.take_in(alone, key)
        killer.join()
        with runtime.database.unit() as unit:
            row = unit.session.get_one(MediaFile, key)
            states.append((row.state, row.error))
    alone.database.engine.dispose()
    assert states[0] == ("queued", "")
    assert states[1][0] == "failed"
    assert states[1][1].startswith("deadly.svg could not be read")
