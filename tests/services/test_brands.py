"""Brands of a team on a real database: changed, undone, given, brought up to date in many promos at once."""

from __future__ import annotations

import pytest

from glowreel.core.commands import AddWords
from glowreel.core.errors import Missing, Refusal
from glowreel.core.formats import FIRST_CHOICE
from glowreel.services import brands, promos
from glowreel.services.setup import Runtime
from tests.conftest import by
from tests.services.test_promos import new_team


@pytest.fixture
def team(runtime: Runtime) -> str:
    return new_team(runtime)


def test_a_brand_is_changed_step_by_step_and_every_step_undone(runtime: Runtime, team: str) -> None:
    with runtime.database.unit() as unit:
        row = brands.add(unit.session, by(team), "  Hollowmere   ")
        assert (row.name, row.usual, row.version) == ("Hollowmere", True, 1), "the first one is the usual one"
        brands.change(unit.session, row.id, by(team), palettes=[{"colours": {"accent": "#2F6F87"}}])
        brands.change(unit.session, row.id, by(team), name="Saltwick", never=["cheap"])
        brands.change(unit.session, row.id, by(team), never=["cheap"])
        assert (row.name, row.version) == ("Saltwick", 3), "what changes nothing is no step"
        with pytest.raises(Refusal, match="there is no role"):
            brands.change(unit.session, row.id, by(team), palettes=[{"colours": {"mood": "#2F6F87"}}])
        with pytest.raises(Missing):
            brands.change(unit.session, row.id, by(team), logos={"logo": "nothing"})
        brands.undo(unit.session, row.id, by(team))
        assert (row.name, brands.snapshot(row).never) == ("Hollowmere", ())
        assert brands.snapshot(row).colour("accent") == "#2F6F87"
        brands.undo(unit.session, row.id, by(team))
        assert brands.snapshot(row).colour("accent") != "#2F6F87"
        with pytest.raises(Refusal, match="nothing to undo"):
            brands.undo(unit.session, row.id, by(team))


def test_another_team_has_another_book(runtime: Runtime, team: str) -> None:
    other = new_team(runtime)
    with runtime.database.unit() as unit:
        row = brands.add(unit.session, by(team), "Ours")
        assert brands.list_brands(unit.session, by(other)) == []
        with pytest.raises(Missing):
            brands.find(unit.session, row.id, by(other))


def test_one_brand_is_usual_and_what_is_removed_comes_back(runtime: Runtime, team: str) -> None:
    with runtime.database.unit() as unit:
        first = brands.add(unit.session, by(team), "First")
        copy = brands.duplicate(unit.session, first.id, by(team))
        assert not copy.usual
        brands.make_usual(unit.session, copy.id, by(team))
        assert [row.usual for row in brands.list_brands(unit.session, by(team))] == [True, False]
        brands.remove(unit.session, copy.id, by(team))
        assert brands.usual(unit.session, by(team)) is None
        brands.restore(unit.session, copy.id, by(team))
        assert {row.id for row in brands.list_brands(unit.session, by(team))} == {first.id, copy.id}


def test_promos_that_are_behind_are_brought_up_to_date_and_back_at_once(runtime: Runtime, team: str) -> None:
    with runtime.database.unit() as unit:
        row = brands.add(unit.session, by(team), "Hollowmere")
        held = brands.usual(unit.session, by(team))
        made = [promos.create(unit.session, by(team), f"Promo {n}", FIRST_CHOICE, held).id for n in range(3)]
        promos.create(unit.session, by(team), "Without", FIRST_CHOICE)
        assert not any(use.behind for use in brands.uses(unit.session, row.id, by(team)))
        brands.change(unit.session, row.id, by(team), palettes=[{"colours": {"accent": "#2F6F87"}}])
        behind = [use.row.id for use in brands.uses(unit.session, row.id, by(team)) if use.behind]
        assert set(behind) == set(made)
        done = brands.bring_up_to_date(unit.session, row.id, by(team), made[:2])
        assert set(done) == set(made[:2])
        colours = {key: promos.open_promo(unit.session, key, by(team)).promo.brand.colour("accent") for key in made}
        assert [colours[key] == "#2F6F87" for key in made] == [True, True, False]
        # What was worked on since is not undone.
        promos.edit(unit.session, made[0], by(team), AddWords(text="New"))
        assert brands.take_back(unit.session, row.id, by(team), done) == 1
        assert promos.open_promo(unit.session, made[1], by(team)).promo.brand.version == 1
        assert promos.open_promo(unit.session, made[0], by(team)).promo.brand.version == 2
