"""What watch pages say and count, and what is asked there; nothing of who watches."""

from __future__ import annotations

import pytest

from glowreel.core.commands import InsertFiller
from glowreel.core.errors import Missing, Refusal
from glowreel.core.time import ticks
from glowreel.services import exports, promos, watch_pages
from glowreel.services.access import Actor
from glowreel.services.setup import Runtime
from glowreel.services.watch_pages import PARTS, Wanted
from glowreel.store.models import ExportFile, WatchCount
from tests.services.test_teams import in_team, somebody


@pytest.fixture
def owner(runtime: Runtime) -> Actor:
    return somebody(runtime)


@pytest.fixture
def film(runtime: Runtime, owner: Actor) -> str:
    """A film of ten seconds in two scenes; what it shows does not matter."""
    with runtime.database.unit() as unit:
        row = promos.create(unit.session, owner, "Lantern nights", ("wide",))
        for _ in range(2):
            promos.edit(unit.session, row.id, owner, InsertFiller(length=ticks(5)))
        made = exports.start(unit, row.id, owner, ("wide",), 480, "Lanterns", "Three nights of light")
        unit.forget()
        return made.files[0].id


def test_a_page_says_what_is_usual_until_somebody_says_otherwise(runtime: Runtime, owner: Actor, film: str) -> None:
    with runtime.database.unit() as unit:
        file = unit.session.get_one(ExportFile, film)
        assert watch_pages.page_of(unit.session, file).about == "Three nights of light"
        assert watch_pages.seconds(unit.session, file) == 10
        wanted = Wanted(
            title=" Light  nights ", action="Book", leads_to="hollowmere.example/book", action_at=4.0, poster=5.0,
            downloads=False, password="four lanterns",
        )  # fmt: skip
        page = watch_pages.set_page(unit.session, owner, film, wanted)
        assert (page.title, page.leads_to, page.poster) == ("Light nights", "https://hollowmere.example/book", 150)
        watch_pages.fits(page, "four lanterns")
        with pytest.raises(Refusal, match="not the password"):
            watch_pages.fits(page, "three lanterns")
        kept = watch_pages.set_page(unit.session, owner, film, Wanted(title="x"))
        assert kept.password, "it stays unless it is taken away"
        assert watch_pages.set_page(unit.session, owner, film, Wanted(unlock=True)).password == ""


@pytest.mark.parametrize(
    ("wanted", "said"),
    [
        (Wanted(action="Book"), "words and an address"), (Wanted(leads_to="x.example"), "words and an address"),
        (Wanted(action="Book", leads_to="javascript://x.example/%0aalert(1)"), "no address"),
        (Wanted(action="Book", leads_to="https://[bad"), "no address"),
        (Wanted(action="Book", leads_to="nowhere"), "no address"), (Wanted(action_at=11.0), "10.0 s long"),
        (Wanted(poster=-1.0), "10.0 s long"), (Wanted(password="abc"), "4 to 200"),
    ],
)  # fmt: skip
def test_what_cannot_stand_on_a_page_is_refused(
    runtime: Runtime, owner: Actor, film: str, wanted: Wanted, said: str
) -> None:
    with runtime.database.unit() as unit, pytest.raises(Refusal, match=said):
        watch_pages.set_page(unit.session, owner, film, wanted)


def test_only_who_may_export_sets_a_page_and_nobody_else_sees_its_numbers(
    runtime: Runtime, owner: Actor, film: str
) -> None:
    reviewer, stranger = in_team(runtime, owner, "reviewer"), somebody(runtime)
    with runtime.database.unit() as unit:
        with pytest.raises(Refusal, match="may not export"):
            watch_pages.set_page(unit.session, reviewer, film, Wanted())
        assert watch_pages.numbers(unit.session, reviewer, film).plays == 0
        for attempt in (watch_pages.numbers, lambda *given: watch_pages.set_page(*given, Wanted())):
            with pytest.raises(Missing):
                attempt(unit.session, stranger, film)


def test_plays_presses_and_how_far_are_counted_and_people_are_not(runtime: Runtime, owner: Actor, film: str) -> None:
    with runtime.database.unit() as unit:
        file = unit.session.get_one(ExportFile, film)
        for reached in (PARTS, PARTS // 2, PARTS // 2, 1):
            watch_pages.count(unit.session, file, "play")
            watch_pages.count(unit.session, file, "seen", range(reached))
        watch_pages.count(unit.session, file, "press")
        for what, place in (("nonsense", 0), ("seen", PARTS), ("seen", -1)):
            with pytest.raises(Refusal, match="not counted"):
                watch_pages.count(unit.session, file, what, (place,))
        found = watch_pages.numbers(unit.session, owner, film)
        assert (found.plays, found.presses) == (4, 1)
        assert found.seen[0] == 1
        assert found.seen[PARTS // 2 - 1] == 0.75
        assert found.seen[-1] == 0.25
        assert found.days[-1][1:] == (4, 1)
        assert sum(plays for _, plays, _ in found.days) == 4
        rows = unit.session.query(WatchCount).filter_by(file_id=film).count()
        assert rows == PARTS + 2, "a row for each part of each day, however many watch"


def test_a_question_is_seen_once_it_is_answered(runtime: Runtime, owner: Actor, film: str) -> None:
    stranger = somebody(runtime)
    with runtime.database.unit() as unit:
        file = unit.session.get_one(ExportFile, film)
        with pytest.raises(Refusal, match="not taken here"):
            watch_pages.ask(unit.session, file, "Oda", 4.2, "Is it cold up there?")
        watch_pages.set_page(unit.session, owner, film, Wanted(asks=True))
        asked = watch_pages.ask(unit.session, file, "Oda", 4.2, "Is it cold up there?")
        for who, text in (("", "What?"), ("Oda", " "), ("Oda", "x" * 501)):
            with pytest.raises(Refusal):
                watch_pages.ask(unit.session, file, who, 0, text)
        assert watch_pages.questions(unit.session, file, answered=True) == []
        with pytest.raises(Missing):
            watch_pages.answer(unit.session, stranger, asked.id, "No.", "Eve")
        watch_pages.answer(unit.session, owner, asked.id, "No: the burner warms you. See 0:05.", "Ada")
        (seen,) = watch_pages.questions(unit.session, file, answered=True)
        assert (seen.text, seen.answered_by) == ("Is it cold up there?", "Ada")
        watch_pages.answer(unit.session, owner, asked.id, "", "Ada")
        assert watch_pages.questions(unit.session, file, answered=True) == []
        watch_pages.forget(unit.session, owner, asked.id)
        assert watch_pages.questions(unit.session, file) == []
