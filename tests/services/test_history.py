"""History: going to any step, naming, comparing, restoring."""

import pytest

from glowreel.core import commands as c
from glowreel.core.errors import Missing, Refusal
from glowreel.core.time import ticks
from glowreel.services import accounts, history, promos
from glowreel.services.setup import Runtime


@pytest.fixture
def made(runtime: Runtime):
    """A promo with three steps: started, two words added. Its identifier, team and revisions."""
    with runtime.database.unit() as unit:
        user = accounts.demo_user(unit.session)
        row = promos.create(unit.session, user.team_id, user.id, "History", ("wide",))
        revisions = [row.head_id]
        for n in range(2):
            opened, _ = promos.edit(
                unit.session, row.id, user.team_id, user.id, c.AddWords(text=f"Words {n}", at=ticks(n))
            )
            revisions.append(opened.revision)
    return row.id, user.team_id, user.id, revisions


def texts(opened: promos.Opened) -> list[str]:
    return sorted(item.content.text for item in opened.promo.items)


def test_any_step_can_be_gone_to_and_what_follows_it_redone(runtime: Runtime, made) -> None:
    promo, team, _, (first, second, third) = made
    with runtime.database.unit() as unit:
        assert texts(history.go(unit.session, promo, team, first)) == []
        steps, _ = history.steps(unit.session, promo, team)
        assert [(s.id, s.here, s.ahead) for s in steps] == [
            (third, False, True), (second, False, True), (first, True, False),
        ]  # fmt: skip
        assert steps[0].sentence == "Added the words “Words 1”"
        assert texts(promos.step(unit.session, promo, team, back=False)) == ["Words 0"]
        assert texts(history.go(unit.session, promo, team, third)) == ["Words 0", "Words 1"]


def test_a_branch_that_was_left_is_kept_and_can_be_gone_back_to(runtime: Runtime, made) -> None:
    promo, team, user, (_, second, third) = made
    with runtime.database.unit() as unit:
        history.go(unit.session, promo, team, second)
        promos.edit(unit.session, promo, team, user, c.AddWords(text="Other way"))
        steps, _ = history.steps(unit.session, promo, team)
        assert [s.id for s in steps if s.aside] == [third]
        assert texts(history.go(unit.session, promo, team, third)) == ["Words 0", "Words 1"]


def test_restoring_is_a_new_step_and_undo_takes_it_back(runtime: Runtime, made) -> None:
    promo, team, user, (first, _, third) = made
    with runtime.database.unit() as unit:
        history.name(unit.session, promo, team, first, "  Blank   page ")
        opened = history.restore(unit.session, promo, team, user, first)
        assert texts(opened) == []
        assert opened.undo == "Restored “Blank page”"
        assert opened.revision > third
        assert texts(promos.step(unit.session, promo, team, back=True)) == ["Words 0", "Words 1"]
        with pytest.raises(Refusal, match="on show"):
            history.restore(unit.session, promo, team, user, third)


def test_versions_are_compared_in_the_order_they_were_made(runtime: Runtime, made) -> None:
    promo, team, _, (first, _, third) = made
    with runtime.database.unit() as unit:
        found = history.compare(unit.session, promo, team, third, first)
        assert (found.first.id, found.second.id) == (first, third)
        assert [s for s in found.sentences if "is new" in s] == [
            "“Words 1” is new at 0:01.00.", "“Words 0” is new at 0:00.00.",
        ]  # fmt: skip
        for revision in (10**9, 1):
            with pytest.raises(Missing):
                history.go(unit.session, promo, team, revision)
        with pytest.raises(Missing):
            history.steps(unit.session, promo, "another team")


def test_who_edits_what_changed_meanwhile_is_told_and_nothing_is_lost(runtime: Runtime, made) -> None:
    promo, team, user, (_, _, third) = made
    with runtime.database.unit() as unit:
        opened, _ = promos.edit(unit.session, promo, team, user, c.SetWords(item=item_of(unit, made), text="Mine"))
        _, stale = promos.edit(
            unit.session, promo, team, user, c.SetWords(item=item_of(unit, made), text="Yours"), seen=third
        )
        assert "changed in another window" in stale.notice
        _, fresh = promos.edit(unit.session, promo, team, user, c.AddWords(text="New"), seen=third)
        assert fresh.notice == ""
        steps, _ = history.steps(unit.session, promo, team)
        assert [s.sentence for s in steps[1:3]] == ["Wrote “Yours”", "Wrote “Mine”"]


def item_of(unit, made) -> str:
    opened = promos.open_promo(unit.session, made[0], made[1])
    return opened.promo.items[0].id
