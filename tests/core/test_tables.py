"""Tables are whole, and the reference in docs/ is made from them."""

import json
from pathlib import Path

import pytest
from click.testing import CliRunner

from glowreel import tables
from glowreel.cli import main
from glowreel.core.recipe.motions import MOVING
from glowreel.core.recipe.transitions import PASSING
from glowreel.core.vocabulary import MOTIONS, TRANSITIONS

REFERENCE = Path(__file__).parents[2] / "docs" / "reference.md"


def test_every_kind_of_passing_and_of_moving_is_drawn() -> None:
    assert {kind.partition("-")[0] for kind in TRANSITIONS} == set(PASSING)
    assert {kind.partition("-")[0] for kind in MOTIONS} == set(MOVING)


@pytest.mark.parametrize("name", tables.TABLES)
def test_every_row_says_what_it_is(name: str) -> None:
    table = tables.TABLES[name]
    rows = table.rows()
    assert rows
    assert len({row["name"] for row in rows}) == len(rows)
    for row in rows:
        assert set(row) == set(table.columns), row
        assert all(row[column] for column in table.columns if column != "parameters"), row


def test_the_reference_is_made_from_the_tables() -> None:
    assert REFERENCE.read_text() == tables.as_document(), "run `glowreel tables --document > docs/reference.md`"


def test_tables_are_printed_for_people_and_for_programs() -> None:
    run = CliRunner().invoke
    assert "trim" in run(main, ["tables", "commands"]).output
    found = json.loads(run(main, ["tables", "--json"]).output)
    assert set(found) == set(tables.TABLES)
    trim = next(row for row in found["commands"] if row["name"] == "trim")
    assert "edge: start / end" in trim["parameters"]
    wrong = run(main, ["tables", "nonsense"])
    assert wrong.exit_code == 2
    assert "transitions" in wrong.output
