"""Screenings: who may watch what for how long; notes that stay at their moment; what was decided; letters about it."""

from __future__ import annotations

import re
from datetime import timedelta

import pytest

from glowreel.core.commands import InsertFiller, Remove, RemoveRange
from glowreel.core.errors import Missing, Refusal
from glowreel.core.time import ticks
from glowreel.services import history, promos, screening_notes, screenings
from glowreel.services.access import Actor
from glowreel.services.screening_notes import Written
from glowreel.services.screenings import Wanted
from glowreel.services.setup import Runtime
from glowreel.store.models import PromoRow, Screening, ScreeningNote, User, now
from tests.services.test_teams import awaited, in_team, letters_to, somebody

ODA = Written("Oda")


@pytest.fixture
def owner(runtime: Runtime) -> Actor:
    return somebody(runtime)


@pytest.fixture
def promo(runtime: Runtime, owner: Actor) -> str:
    """Three fillers of four seconds each."""
    with runtime.database.unit() as unit:
        row = promos.create(unit.session, owner, "Lantern nights", ("wide", "tall"))
        for _ in range(3):
            promos.edit(unit.session, row.id, owner, InsertFiller(length=ticks(4)))
        return row.id


def begun(runtime: Runtime, owner: Actor, promo: str, **wanted: object) -> Screening:
    with runtime.database.unit() as unit:
        return screenings.begin(runtime, unit.session, owner, promo, Wanted(**wanted))  # type: ignore[arg-type]


def test_a_link_opens_one_promo_until_it_ends(runtime: Runtime, owner: Actor, promo: str) -> None:
    made = begun(runtime, owner, promo, formats=("tall", "nonsense"))
    key = screenings.key(runtime, made)
    assert len(key) == 32, "192 bits"
    assert key not in made.digest
    with runtime.database.unit() as unit:
        opened = screenings.opened(unit.session, key)
        assert screenings.formats_of(opened, screenings.shown(unit.session, opened, None)) == ["tall"]
        screenings.count_view(unit.session, opened)
        with pytest.raises(Missing):
            screenings.end(unit.session, somebody(runtime), made.id)
        fresh = screenings.another_link(runtime, unit.session, owner, made.id)
        with pytest.raises(Missing, match="is over"):
            screenings.opened(unit.session, key)
        key = screenings.key(runtime, fresh)
        assert screenings.opened(unit.session, key).views == 1
        fresh.until = now() - timedelta(seconds=1)
        with pytest.raises(Missing, match="is over"):
            screenings.opened(unit.session, key)
        fresh.until = None
        screenings.opened(unit.session, key)
        screenings.end(unit.session, owner, made.id)
        with pytest.raises(Missing, match="is over"):
            screenings.opened(unit.session, key)


def test_what_cannot_be_a_screening_is_refused(runtime: Runtime, owner: Actor, promo: str) -> None:
    reviewer = in_team(runtime, owner, "reviewer")
    with runtime.database.unit() as unit:
        for actor, wanted, said in (
            (owner, Wanted(days=3), "how long"), (owner, Wanted(password="abc"), "4 to 200"),
            (owner, Wanted(viewers="oda@x.example, nobody"), "“nobody” is not"), (reviewer, Wanted(), "may not export"),
        ):  # fmt: skip
            with pytest.raises(Refusal, match=said):
                screenings.begin(runtime, unit.session, actor, promo, wanted)
        with pytest.raises(Missing):
            screenings.begin(runtime, unit.session, somebody(runtime), promo, Wanted())


def test_a_password_and_named_viewers_keep_everybody_else_out(runtime: Runtime, owner: Actor, promo: str) -> None:
    made = begun(runtime, owner, promo, password="four lanterns", viewers="Oda@x.example")
    with pytest.raises(Refusal, match="not the password"):
        screenings.let_in(made, "three lanterns")
    screenings.let_in(made, "four lanterns")
    with runtime.database.unit() as unit:
        row = unit.session.get_one(Screening, made.id)
        for address in ("oda@x.example", "eve@x.example"):
            screenings.send_way_in(runtime, unit, row, address, "https://reel.example/screening/k")
    (text,) = awaited(lambda: letters_to(runtime, "oda@x.example"))
    assert letters_to(runtime, "eve@x.example") == []
    way = re.search(r"way=(\S+)", text)[1]
    assert screenings.named_viewer(runtime, made, "oda@x.example", way) == "oda@x.example"
    for address, wrong in (("eve@x.example", way), ("oda@x.example", way[:-1] + "A" if way[-1] != "A" else "B")):
        with pytest.raises(Refusal, match="not for you"):
            screenings.named_viewer(runtime, made, address, wrong)


def test_only_named_versions_and_the_newest_are_shown(runtime: Runtime, owner: Actor, promo: str) -> None:
    made = begun(runtime, owner, promo)
    with runtime.database.unit() as unit:
        steps, _ = history.steps(unit.session, promo, owner)
        old, newest = steps[1].id, steps[0].id
        history.name(unit.session, promo, owner, old, "Before the change")
        row = unit.session.get_one(Screening, made.id)
        assert [(one.revision, one.name) for one in screenings.versions(unit.session, row)] == [
            (newest, "Newest"), (old, "Before the change"),
        ]  # fmt: skip
        assert len(screenings.shown(unit.session, row, old).clips) == 2
        other = promos.create(unit.session, owner, "Another", ("wide",))
        for revision in (other.head_id, 10**9):
            with pytest.raises(Missing, match="not shown here"):
                screenings.shown(unit.session, row, revision)


def test_a_note_stays_at_its_moment_and_says_when_its_place_is_gone(runtime: Runtime, owner: Actor, promo: str) -> None:
    with runtime.database.unit() as unit:
        row = unit.session.get_one(PromoRow, promo)
        stroke = [[[0.1, 0.2], [0.3, 0.4]]]
        made = screening_notes.write(
            unit.session, row, ODA, "Too long?", revision=row.head_id, format_id="wide", at=ticks(9), lasts=ticks(2),
            strokes=stroke,
        )  # fmt: skip
        screening_notes.answer(unit.session, row, Written("Ada", owner.user_id), made.id, "Shorter now.")
        promos.edit(unit.session, promo, owner, RemoveRange(start=ticks(1), end=ticks(3)))
        (shown,) = screening_notes.of_promo(unit.session, row)
        assert (shown.seconds, shown.found.there, shown.row.strokes) == (7.0, True, stroke)
        assert [reply.who for reply in shown.answers] == ["Ada"]
        text = screening_notes.told([shown], row.name)
        assert "0:07.00  Oda: Too long?" in text
        last = promos.document(unit.session, row).clips[-1].id
        promos.edit(unit.session, promo, owner, Remove(items=(last,)))
        (shown,) = screening_notes.of_promo(unit.session, row)
        assert not shown.found.there
        assert "(the place was cut out)" in screening_notes.told([shown], row.name)
        screening_notes.set_done(unit.session, row, Written("Ada"), made.id, done=True)
        assert "Too long" not in screening_notes.told(screening_notes.of_promo(unit.session, row), row.name)
        with pytest.raises(Refusal, match="Oda wrote this"):
            screening_notes.remove(unit.session, row, Written("Eve"), made.id, any_of_them=False)
        screening_notes.remove(unit.session, row, Written("Eve"), made.id, any_of_them=True)
        assert screening_notes.of_promo(unit.session, row) == []


@pytest.mark.parametrize(
    "strokes", ["x", [["x"]], [[[0.1]]], [[[0.1, 9]]], [[[float("nan"), 0]]], [[[0, 0]] * 401], [[]] * 31]
)
def test_what_is_no_drawing_is_refused(strokes: object) -> None:
    with pytest.raises(Refusal, match="cannot be read"):
        screening_notes.clean_strokes(strokes)


def test_an_approval_holds_for_what_was_seen_unless_it_is_to_stay(runtime: Runtime, owner: Actor, promo: str) -> None:
    made = begun(runtime, owner, promo, keeps=True)
    with runtime.database.unit() as unit:
        row = unit.session.get_one(PromoRow, promo)
        assert screening_notes.standing(unit.session, row) is None
        screening_notes.decide(unit.session, row, ODA, row.head_id, approved=True)
        assert screening_notes.standing(unit.session, row).holds
        promos.edit(unit.session, promo, owner, InsertFiller(length=ticks(1)))
        assert not screening_notes.standing(unit.session, row).holds
        promos.step(unit.session, promo, owner, back=True)
        assert screening_notes.standing(unit.session, row).holds, "undone: it is what was approved again"
        kept = unit.session.get_one(Screening, made.id)
        screening_notes.decide(unit.session, row, ODA, row.head_id, approved=True, screening=kept)
        promos.edit(unit.session, promo, owner, InsertFiller(length=ticks(1)))
        assert screening_notes.standing(unit.session, row).holds
        screening_notes.decide(unit.session, row, ODA, row.head_id, approved=False, text="Shorter")
        last = screening_notes.standing(unit.session, row).verdict
        assert (last.approved, last.text) == (False, "Shorter")


def test_one_letter_tells_of_several_notes_and_calls_who_is_mentioned(
    runtime: Runtime, owner: Actor, promo: str
) -> None:
    begun(runtime, owner, promo, home="https://reel.example")
    called = in_team(runtime, owner, "editor", "Ivo Test")
    with runtime.database.unit() as unit:
        row = unit.session.get_one(PromoRow, promo)
        for text in ("First", "@ivo, second"):
            screening_notes.write(unit.session, row, ODA, text, revision=row.head_id, format_id="wide", at=0)
        addresses = [unit.session.get_one(User, one.user_id).email for one in (owner, called)]
    with runtime.database.unit() as unit:
        screening_notes.tell(unit)
        waiting = unit.session.query(ScreeningNote).filter_by(promo_id=promo).all()
        assert all(one.told_at is None for one in waiting), "somebody may still be writing"
        for one in waiting:
            one.created_at = now() - timedelta(minutes=3)
    for address in addresses:
        (text,) = awaited(lambda address=address: letters_to(runtime, address), 40)
        assert "Oda: First" in text
        assert "second" in text
        assert f"https://reel.example/promos/{promo}" in text
