"""History: going to any step, naming, comparing, restoring."""

import pytest
from sqlalchemy import event, select, update

from glowreel.core import commands as c
from glowreel.core.errors import Missing, Refusal
from glowreel.core.time import ticks
from glowreel.services import accounts, history, promos
from glowreel.services.setup import Runtime
from glowreel.store import documents
from glowreel.store.models import PromoRow, Revision
from tests.conftest import by
from tests.core.build import sets


@pytest.fixture
def made(runtime: Runtime):
    """A promo with three steps: started, two words added. Its identifier, team and revisions."""
    with runtime.database.unit() as unit:
        user = accounts.demo_user(unit.session)
        row = promos.create(unit.session, by(user.team_id, user.id), "History", ("wide",))
        revisions = [row.head_id]
        for n in range(2):
            opened, _ = promos.edit(
                unit.session, row.id, by(user.team_id, user.id), c.AddWords(text=f"Words {n}", at=ticks(n))
            )
            revisions.append(opened.revision)
    return row.id, user.team_id, user.id, revisions


def texts(opened: promos.Opened) -> list[str]:
    return sorted(item.read("text") for item in opened.promo.items)


def test_any_step_can_be_gone_to_and_what_follows_it_redone(runtime: Runtime, made) -> None:
    promo, team, _, (first, second, third) = made
    with runtime.database.unit() as unit:
        assert texts(history.go(unit.session, promo, by(team), first)) == []
        steps, _ = history.steps(unit.session, promo, by(team))
        assert [(s.id, s.here, s.ahead) for s in steps] == [
            (third, False, True), (second, False, True), (first, True, False),
        ]  # fmt: skip
        assert steps[0].sentence == "Added the words “Words 1”"
        assert texts(promos.step(unit.session, promo, by(team), back=False)) == ["Words 0"]
        assert texts(history.go(unit.session, promo, by(team), third)) == ["Words 0", "Words 1"]


def test_a_branch_that_was_left_is_kept_and_can_be_gone_back_to(runtime: Runtime, made) -> None:
    promo, team, user, (_, second, third) = made
    with runtime.database.unit() as unit:
        history.go(unit.session, promo, by(team), second)
        promos.edit(unit.session, promo, by(team, user), c.AddWords(text="Other way"))
        steps, _ = history.steps(unit.session, promo, by(team))
        assert [s.id for s in steps if s.aside] == [third]
        assert texts(history.go(unit.session, promo, by(team), third)) == ["Words 0", "Words 1"]


def test_restoring_is_a_new_step_and_undo_takes_it_back(runtime: Runtime, made) -> None:
    promo, team, user, (first, _, third) = made
    with runtime.database.unit() as unit:
        history.name(unit.session, promo, by(team), first, "  Blank   page ")
        opened = history.restore(unit.session, promo, by(team, user), first)
        assert texts(opened) == []
        assert opened.undo == "Restored “Blank page”"
        assert opened.revision > third
        assert texts(promos.step(unit.session, promo, by(team), back=True)) == ["Words 0", "Words 1"]
        with pytest.raises(Refusal, match="on show"):
            history.restore(unit.session, promo, by(team, user), third)


def test_versions_are_compared_in_the_order_they_were_made(runtime: Runtime, made) -> None:
    promo, team, _, (first, _, third) = made
    with runtime.database.unit() as unit:
        found = history.compare(unit.session, promo, by(team), third, first)
        assert (found.first.id, found.second.id) == (first, third)
        assert [s for s in found.sentences if "is new" in s] == [
            "“Words 1” is new at 0:01.00.", "“Words 0” is new at 0:00.00.",
        ]  # fmt: skip
        for revision in (10**9, 1):
            with pytest.raises(Missing):
                history.go(unit.session, promo, by(team), revision)
        with pytest.raises(Missing):
            history.steps(unit.session, promo, by("another team"))


def test_who_edits_what_changed_meanwhile_is_told_and_nothing_is_lost(runtime: Runtime, made) -> None:
    promo, team, user, (_, _, third) = made
    with runtime.database.unit() as unit:
        opened, _ = promos.edit(unit.session, promo, by(team, user), sets(item_of(unit, made), text="Mine"))
        _, stale = promos.edit(unit.session, promo, by(team, user), sets(item_of(unit, made), text="Yours"), seen=third)
        assert "changed in another window" in stale.notice
        _, fresh = promos.edit(unit.session, promo, by(team, user), c.AddWords(text="New"), seen=third)
        assert fresh.notice == ""
        steps, _ = history.steps(unit.session, promo, by(team))
        assert [s.sentence for s in steps[1:3]] == ["Wrote “Yours”", "Wrote “Mine”"]


def item_of(unit, made) -> str:
    opened = promos.open_promo(unit.session, made[0], by(made[1]))
    return opened.promo.items[0].id


def type_into(unit, made, text: str, **how):
    promo, team, user, _ = made
    now = promos.open_promo(unit.session, promo, by(team))
    command = c.Set(items=(now.promo.items[0].id,), values={"text": text}, **how)
    return promos.edit(unit.session, promo, by(team, user), command, seen=now.revision)[0]


def test_typing_that_goes_on_is_one_step(runtime: Runtime, made) -> None:
    promo, team, user, (*_, third) = made
    with runtime.database.unit() as unit:
        for text in ("F", "Fl", "Fly", "Fly at"):
            type_into(unit, made, text)
        steps, _ = history.steps(unit.session, promo, by(team))
        assert [step.sentence for step in steps][:2] == ["Wrote “Fly at”", "Added the words “Words 1”"]
        assert promos.step(unit.session, promo, by(team), back=True).revision == third
        assert texts(promos.step(unit.session, promo, by(team), back=False)) == ["Fly at", "Words 0"]
        # What has a name, what somebody made a film of, and what is typed into another format, stays a step.
        head = promos.open_promo(unit.session, promo, by(team)).revision
        history.name(unit.session, promo, by(team), head, "Keep this")
        type_into(unit, made, "Fly at first")
        other = type_into(unit, made, "Up", format="wide", only=True)
        assert promos.document(unit.session, other.row, other.revision).items[0].read("text", "wide") == "Up"
        steps, _ = history.steps(unit.session, promo, by(team))
        assert len(steps) == 6


def test_steps_are_kept_as_what_is_different_and_read_in_one_query(runtime: Runtime, made) -> None:
    promo, team, user, _ = made
    with runtime.database.unit() as unit:
        for n in range(60):
            promos.edit(unit.session, promo, by(team, user), c.AddWords(text=f"More {n}", at=ticks(n)))
        rows = unit.session.scalars(select(Revision).where(Revision.promo_id == promo).order_by(Revision.id)).all()
        assert rows[0].base_id is None
        later = [len(row.document) for row in rows if row.base_id is not None]
        assert len(later) > 55
        assert max(later) <= documents.MAX_DIFFERENCE
        last = rows[-1]
        whole = promos.document(unit.session, unit.session.get_one(PromoRow, promo), last.id)
        documents._cached.clear()
        counted = []
        event.listen(runtime.database.engine, "before_cursor_execute", lambda *args: counted.append(args[2]))
        assert documents.document(unit.session, last.id) == whole
        assert len(counted) == 1
        unit.session.execute(update(Revision).where(Revision.id == rows[0].id).values(document=b"broken"))
        documents._cached.clear()
        documents._texts.clear()
        with pytest.raises(Refusal, match="cannot be read"):
            documents.document(unit.session, rows[1].id)
        unit.session.rollback()
