"""A promo for each row of a table: made, exported as a set, made anew where rows change, and nothing else."""

from __future__ import annotations

import io
import time

import pytest
from sqlalchemy import select

from glowreel.core.batch import Table
from glowreel.core.errors import Missing, Refusal
from glowreel.services import batch_work, batches, promos, templates
from glowreel.services.access import Actor
from glowreel.services.setup import Runtime
from glowreel.store.models import Batch, BatchRow, PromoRow
from tests.services.test_teams import in_team, somebody

TEMPLATE = "two-days-only"


@pytest.fixture
def owner(runtime: Runtime) -> Actor:
    return somebody(runtime)


def words_of(runtime: Runtime, owner: Actor) -> tuple[list[str], list[str]]:
    """The slots for words of the template: their labels, and how they are known."""
    with runtime.database.unit() as unit:
        _, promo = templates.find(unit.session, TEMPLATE, owner)
        slots = [slot for slot in promo.slots if slot.kind in ("words", "price", "date")]
        labels = [f"{slot.label} {at}" for at, slot in enumerate(slots)]
        return labels, [slot.id for slot in slots]


def wait(runtime: Runtime, batch_id: str, seconds: float = 180) -> list[tuple[str, str | None, str]]:
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        with runtime.database.unit() as unit:
            row = unit.session.get_one(Batch, batch_id)
            if row.state != "running":
                return [(one.state, one.promo_id, one.error) for one in row.rows]
        time.sleep(0.2)
    raise AssertionError("the table is not done")


def test_rows_become_promos_and_only_what_changed_is_made_again(runtime: Runtime, owner: Actor) -> None:
    labels, _ = words_of(runtime, owner)
    rows = [[f"Row {at}", *("x" for _ in labels[1:])] for at in range(5)]
    with runtime.database.unit() as unit:
        made = batches.begin(unit, owner, TEMPLATE, Table(tuple(labels), tuple(map(tuple, rows))))
        key = made.id
        assert len(made.matching) == len(labels)
        batches.make(unit, owner, key, batches.FIRST)
    first = wait(runtime, key)
    assert [state for state, _, _ in first] == ["made", "made", "made", "open", "open"]
    with runtime.database.unit() as unit:
        row = unit.session.get_one(PromoRow, first[1][1])
        promo = promos.document(unit.session, row)
        assert row.name.endswith("Row 1")
        assert promo.origin is not None
        assert "Row 1" in promo.model_dump_json()
        batches.skip(unit.session, owner, key, 4, skipped=True)
        batches.make(unit, owner, key)
    second = wait(runtime, key)
    assert [state for state, _, _ in second] == ["made"] * 4 + ["skipped"]
    assert [promo for _, promo, _ in second][:3] == [promo for _, promo, _ in first][:3]
    heads = heads_of(runtime, key)
    rows[2][1] = "another"
    with runtime.database.unit() as unit:
        table = Table(tuple(labels), tuple(map(tuple, [*rows, ["New", *rows[0][1:]]])))
        _, changed = batches.again(unit, owner, key, table)
        assert changed == 2
        batches.make(unit, owner, key)
    wait(runtime, key)
    after = heads_of(runtime, key)
    assert [at for at in range(4) if after[at] != heads[at]] == [2], "the changed row alone, at its place"
    assert len([head for head in after if head]) == 5


def heads_of(runtime: Runtime, key: str) -> list[tuple[str, int] | None]:
    with runtime.database.unit() as unit:
        rows = unit.session.scalars(select(BatchRow).where(BatchRow.batch_id == key).order_by(BatchRow.number))
        found = [unit.session.get(PromoRow, row.promo_id) if row.promo_id else None for row in rows]
        return [(row.id, row.head_id) if row is not None else None for row in found]


def test_what_is_wrong_with_a_row_keeps_no_other_and_a_set_is_exported(runtime: Runtime, owner: Actor) -> None:
    labels, _ = words_of(runtime, owner)
    fine = tuple("ok" for _ in labels)
    with runtime.database.unit() as unit:
        made = batches.begin(unit, owner, TEMPLATE, Table(tuple(labels), (("y" * 900, *fine[1:]), fine)))
        key, slots = made.id, dict(made.matching)
        batches.set_matching(unit.session, owner, key, slots, "Set {#}", ("tall",), 480)
        looked = batches.looked(unit.session, owner, made)
        assert "room for" in looked[0].problems[0]
        assert looked[1].name == "Set 2"
        batches.make(unit, owner, key, exports=True)
    states = wait(runtime, key)
    assert [state for state, _, _ in states] == ["failed", "made"]
    assert "room for" in states[0][2]
    batch_work.carry(runtime, key)
    with runtime.database.unit() as unit:
        rows = unit.session.get_one(Batch, key).rows
        assert (rows[0].export_id, bool(rows[1].export_id)) == (None, True)


def test_tables_are_of_a_team_and_refused_where_they_are_none(runtime: Runtime, owner: Actor) -> None:
    with runtime.database.unit() as unit:
        made = batches.begin(unit, owner, TEMPLATE, Table(("Title",), (("x",),)))
        with pytest.raises(Missing):
            batches.find(unit.session, somebody(runtime), made.id)
        with pytest.raises(Refusal, match="may not fill"):
            batches.make(unit, in_team(runtime, owner, "reviewer"), made.id)
        with pytest.raises(Refusal, match="No column"):
            batches.set_matching(unit.session, owner, made.id, {"q-none": 0}, "x", ("tall",), 480)
        unit.session.rollback()
    table = batches.read_sent(runtime, owner, "towns.csv", io.BytesIO("Town;Price\nÄhlen;89 €\n".encode("cp1252")))
    assert table == Table(("Town", "Price"), (("Ählen", "89 €"),))
    for name, data in (("towns.exe", b"x"), ("towns.xlsx", b"PK\x03\x04broken"), ("towns.csv", b"\x00\x01\x02")):
        with pytest.raises(Refusal):
            batches.read_sent(runtime, owner, name, io.BytesIO(data))
