"""Editing on a real database: saved as it is made, undone tomorrow, nothing lost."""

import threading
import uuid

import pytest

from glowreel.core.commands import AddWords, InsertFiller, Remove, Rename
from glowreel.core.errors import Missing, Refusal
from glowreel.core.formats import FIRST_CHOICE
from glowreel.core.reading import read_document
from glowreel.services import accounts, promos
from glowreel.services.setup import Runtime
from glowreel.store import documents
from tests.conftest import by
from tests.core.build import sets


def new_team(runtime: Runtime) -> str:
    with runtime.database.unit() as unit:
        email = f"{uuid.uuid4().hex}@team.example"
        return accounts.sign_up(unit.session, "Ada Test", email, "long enough words", "").team_id


@pytest.fixture(scope="module")
def team(runtime: Runtime) -> str:
    return new_team(runtime)


@pytest.fixture
def promo_id(runtime: Runtime, team: str) -> str:
    with runtime.database.unit() as unit:
        return promos.create(unit.session, by(team), "  Spring   offer ", FIRST_CHOICE).id


def edit(runtime: Runtime, promo_id: str, team: str, command):
    with runtime.database.unit() as unit:
        return promos.edit(unit.session, promo_id, by(team), command)


def opened(runtime: Runtime, promo_id: str, team: str):
    documents._cached.clear()  # As after a restart: everything comes from the database.
    with runtime.database.unit() as unit:
        return promos.open_promo(unit.session, promo_id, by(team))


def test_every_edit_is_there_after_a_restart_and_undo_is_exact(runtime: Runtime, promo_id: str, team: str) -> None:
    states = [opened(runtime, promo_id, team).promo]
    for command in (InsertFiller(), AddWords(text="One"), Rename(name="Other")):
        states.append(edit(runtime, promo_id, team, command)[0].promo)
    assert opened(runtime, promo_id, team).promo == states[-1]
    for state in reversed(states[:-1]):
        with runtime.database.unit() as unit:
            promos.step(unit.session, promo_id, by(team), back=True)
        assert opened(runtime, promo_id, team).promo == state
    with pytest.raises(Refusal, match="nothing to undo"), runtime.database.unit() as unit:
        promos.step(unit.session, promo_id, by(team), back=True)
    for state in states[1:]:
        with runtime.database.unit() as unit:
            promos.step(unit.session, promo_id, by(team), back=False)
        assert opened(runtime, promo_id, team).promo == state
    assert opened(runtime, promo_id, team).redo is None


def test_undo_and_redo_are_named_by_what_was_done(runtime: Runtime, promo_id: str, team: str) -> None:
    edit(runtime, promo_id, team, AddWords(text="Hello"))
    assert opened(runtime, promo_id, team).undo == "Added the words “Hello”"
    with runtime.database.unit() as unit:
        after = promos.step(unit.session, promo_id, by(team), back=True)
    assert after.redo == "Added the words “Hello”"
    edit(runtime, promo_id, team, AddWords(text="Instead"))
    assert opened(runtime, promo_id, team).redo is None


def test_a_refused_edit_changes_nothing(runtime: Runtime, promo_id: str, team: str) -> None:
    before = opened(runtime, promo_id, team)
    with pytest.raises(Missing):
        edit(runtime, promo_id, team, Remove(items=("nothing",)))
    after = opened(runtime, promo_id, team)
    assert (after.revision, after.promo) == (before.revision, before.promo)


def test_an_edit_that_changes_nothing_makes_no_step(runtime: Runtime, promo_id: str, team: str) -> None:
    item = edit(runtime, promo_id, team, AddWords(text="Same"))[1].select[0]
    before = opened(runtime, promo_id, team).revision
    edit(runtime, promo_id, team, sets(item, text="Same"))
    assert opened(runtime, promo_id, team).revision == before


def test_edits_at_the_same_moment_are_all_kept(runtime: Runtime, promo_id: str, team: str) -> None:
    def add(n: int) -> None:
        edit(runtime, promo_id, team, AddWords(text=f"Words {n}"))

    threads = [threading.Thread(target=add, args=(n,)) for n in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    texts = {item.read("text") for item in opened(runtime, promo_id, team).promo.items}
    assert texts == {f"Words {n}" for n in range(8)}


def test_a_stranger_finds_nothing(runtime: Runtime, promo_id: str) -> None:
    stranger = new_team(runtime)
    with pytest.raises(Missing):
        opened(runtime, promo_id, stranger)
    with pytest.raises(Missing):
        edit(runtime, promo_id, stranger, Rename(name="Mine now"))


def test_a_promo_taken_off_the_desk_comes_back(runtime: Runtime, promo_id: str, team: str) -> None:
    with runtime.database.unit() as unit:
        promos.remove(unit.session, promo_id, by(team))
    with pytest.raises(Missing):
        opened(runtime, promo_id, team)
    with runtime.database.unit() as unit:
        promos.restore(unit.session, promo_id, by(team))
    assert opened(runtime, promo_id, team).promo.name == "Spring offer"


def test_a_newer_document_is_refused_in_a_sentence() -> None:
    with pytest.raises(Refusal, match="newer Glow Reel"):
        read_document({"version": 99})


def test_sign_up_and_in(runtime: Runtime) -> None:
    email = f"{uuid.uuid4().hex}@team.example"
    with runtime.database.unit() as unit:
        made = accounts.sign_up(unit.session, "Ada", email.upper(), "long enough words", "Team")
        assert accounts.sign_in(unit.session, email, "long enough words").id == made.id
    for address, password in ((email, "wrong password"), ("nobody@team.example", "long enough words")):
        with pytest.raises(Refusal, match="do not belong together"), runtime.database.unit() as unit:
            accounts.sign_in(unit.session, address, password)
    for name, address, password in (
        ("", email, "long enough words"),
        ("A", "none", "long enough words"),
        ("A", email, "short"),
    ):
        with pytest.raises(Refusal), runtime.database.unit() as unit:
            accounts.sign_up(unit.session, name, address, password, "")
