"""The Desk in order, on a real database: found, sorted, in folders, several at once, taken off and brought back."""

from __future__ import annotations

import pytest

from glowreel.core.errors import Missing, Refusal
from glowreel.core.formats import FIRST_CHOICE
from glowreel.services import folders, promos
from glowreel.services.setup import Runtime
from tests.conftest import by
from tests.services.test_promos import new_team


def names(rows: list) -> list[str]:
    return [row.name for row in rows]


def test_promos_are_found_sorted_and_put_into_folders(runtime: Runtime) -> None:
    team, other = new_team(runtime), new_team(runtime)
    with runtime.database.unit() as unit:
        session = unit.session
        ids = [
            promos.create(session, by(team), name, FIRST_CHOICE).id for name in ("Spring 100%", "Autumn", "spring b")
        ]
        assert names(folders.find(session, by(team), sort="name")) == ["Autumn", "Spring 100%", "spring b"]
        assert names(folders.find(session, by(team), "SPRING 100%")) == ["Spring 100%"]
        assert names(folders.find(session, by(team), "%")) == ["Spring 100%"], "what is typed means itself"
        before = folders.put(session, by(team), ids[:2], "  June   offers ")
        assert before == {ids[0]: "", ids[1]: ""}
        assert folders.folders(session, by(team)) == {"June offers": 2}
        assert set(names(folders.find(session, by(team), folder="June offers"))) == {"Spring 100%", "Autumn"}
        assert names(folders.find(session, by(team), folder="")) == ["spring b"]
        copies = folders.duplicate(session, by(team), ids[:1])
        assert folders.folders(session, by(team)) == {"June offers": 3}, "a copy lies where the first one does"
        assert len(copies) == 1
        with pytest.raises(Missing):
            folders.put(session, by(other), ids[:1], "Mine")
        with pytest.raises(Refusal, match="No promo is marked"):
            folders.remove(session, by(team), [])


def test_what_is_taken_off_can_be_brought_back_for_a_while(runtime: Runtime) -> None:
    team, other = new_team(runtime), new_team(runtime)
    with runtime.database.unit() as unit:
        session = unit.session
        ids = [promos.create(session, by(team), name, FIRST_CHOICE).id for name in ("One", "Two", "Three")]
        assert folders.remove(session, by(team), ids[:2]) == ids[:2]
        assert names(folders.find(session, by(team))) == ["Three"]
        gone = folders.taken_off(session, by(team))
        assert {row.name for row, _ in gone} == {"One", "Two"}
        assert all(28 < days <= 30 for _, days in gone)
        assert folders.taken_off(session, by(other)) == []
        with pytest.raises(Missing):
            folders.bring_back(session, by(other), ids)
        assert folders.bring_back(session, by(team), ids[:2]) == 2
        assert len(folders.find(session, by(team))) == 3
        for n in range(folders.MOST):
            folders.put(session, by(team), ids[:1], f"Folder {n}")
            promo = promos.create(session, by(team), "More", FIRST_CHOICE).id
            folders.put(session, by(team), [promo], f"Folder {n}")
        with pytest.raises(Refusal, match="at most 60 folders"):
            folders.put(session, by(team), ids[1:2], "One more")
