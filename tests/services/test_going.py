"""Films shown in turn, the team's week, cutting alone, and what watch pages carry beside the film."""

from __future__ import annotations

import io
import os
from datetime import timedelta

import pytest
from PIL import Image
from werkzeug.datastructures import FileStorage

from glowreel.core.commands import Rename
from glowreel.core.errors import Missing, Refusal
from glowreel.services import (
    alone,
    delivering,
    driving,
    exports,
    promos,
    screening_notes,
    screenings,
    turns,
    watch_pages,
    week,
)
from glowreel.services.access import Actor
from glowreel.services.screening_notes import Written
from glowreel.services.setup import Runtime
from glowreel.services.watch_pages import Wanted
from glowreel.store.database import Unit
from glowreel.store.models import Delivery, ExportFile, Post, PromoRow, User, new_key, now
from tests.services.test_publishing import Wanted as Going
from tests.services.test_publishing import begin, connected
from tests.services.test_publishing import promo as promo
from tests.services.test_sources import allowed
from tests.services.test_teams import awaited, in_team, letters_to, somebody


@pytest.fixture
def owner(runtime: Runtime) -> Actor:
    return somebody(runtime)


@pytest.fixture
def films(runtime: Runtime, owner: Actor, promo: str) -> list[str]:
    """Two films; what they show does not matter."""
    with runtime.database.unit() as unit:
        made = exports.start(unit, promo, owner, ("wide", "tall"), 480, "Lanterns")
        for file in made.files:
            file.state = "done"
        unit.forget()
        return [file.id for file in made.files]


def test_visitors_see_films_in_turn_and_the_numbers_claim_no_more_than_they_hold(
    runtime: Runtime, owner: Actor, films: list[str]
) -> None:
    with runtime.database.unit() as unit:
        row = turns.begin(runtime, unit.session, owner, films)
        key = turns.key(runtime, row)
    with runtime.database.unit() as unit:
        row = turns.opened(unit.session, key)
        assert [turns.next_film(unit.session, row).id for _ in range(4)] == films * 2
        assert "Not enough yet" in turns.result(unit.session, owner, row.id).told
        for file_id, presses in ((films[0], 25), (films[1], 2)):
            for count in range(40):
                turns.count(unit.session, row, file_id, "play")
                turns.count(unit.session, row, file_id, "seen", 25)
                if count < presses:
                    turns.count(unit.session, row, file_id, "press")
        found = turns.result(unit.session, owner, row.id)
        assert (found.best, found.told) == (0, "A is pressed more often, and that is no chance.")
        assert [(one.pressed.times, one.pressed.of, one.watched) for one in found.films] == [
            (25, 40, 0.5),
            (2, 40, 0.5),
        ]
        with pytest.raises(Refusal, match="not counted"):
            turns.count(unit.session, row, "f-other", "play")
        with pytest.raises(Missing):
            turns.find(unit.session, somebody(runtime), row.id)
        # A film behind a password is left out, and no link is made to it.
        watch_pages.set_page(unit.session, owner, films[0], Wanted(password="four lanterns"))
        assert {turns.next_film(unit.session, row).id for _ in range(3)} == {films[1]}
        with pytest.raises(Refusal, match="has a password"):
            turns.begin(runtime, unit.session, owner, films)
        turns.end(unit.session, owner, row.id)
        with pytest.raises(Missing):
            turns.opened(unit.session, key)


def test_whoever_cuts_alone_is_not_disturbed_until_somebody_takes_over(
    runtime: Runtime, owner: Actor, promo: str
) -> None:
    editor, reviewer = in_team(runtime, owner, "editor", "Ivo Test"), in_team(runtime, owner, "reviewer")

    def edit(unit: Unit, who: Actor, name: str) -> None:
        promos.edit(unit.session, promo, who, Rename(name=name))

    with runtime.database.unit() as unit:
        assert alone.begin(unit.session, editor, promo).name == "Ivo Test"
        edit(unit, editor, "By Ivo")
        for act in (lambda: edit(unit, owner, "By Ada"), lambda: promos.step(unit.session, promo, owner, back=True)):
            with pytest.raises(Refusal, match="Ivo Test cuts this alone"):
                act()
        with pytest.raises(Refusal, match="may not change"):
            alone.begin(unit.session, reviewer, promo)
        alone.begin(unit.session, owner, promo)
        edit(unit, owner, "Taken over")
        with pytest.raises(Refusal, match="cuts this alone"):
            edit(unit, editor, "Too late")
        unit.session.get_one(PromoRow, promo).cut_until = now() - timedelta(seconds=1)
        edit(unit, editor, "After a while")
        alone.end(unit.session, owner, promo)
        assert alone.standing(unit.session, unit.session.get_one(PromoRow, promo)) is None


def test_a_promo_goes_through_the_week_from_draft_to_out(runtime: Runtime, owner: Actor, promo: str) -> None:
    def stage(unit: Unit) -> str:
        since = now() - timedelta(days=7)
        return next(
            key for key, rows in week.stages(unit.session, owner, since).items() if promo in [row.id for row in rows]
        )

    account = connected(runtime, owner, "passerby")
    with runtime.database.unit() as unit:
        row = unit.session.get_one(PromoRow, promo)
        assert stage(unit) == "draft"
        made = screenings.begin(runtime, unit.session, owner, promo, screenings.Wanted())
        assert stage(unit) == "review"
        screening_notes.write(
            unit.session, row, Written("Oda"), "Slower", revision=row.head_id, format_id="wide", at=0, screening=made
        )
        (asked,), count = week.to_answer(unit.session, owner)
        assert (asked.note.text, asked.promo.id, count) == ("Slower", promo, 1)
        screening_notes.decide(unit.session, row, Written("Oda"), row.head_id, approved=True, screening=made)
        assert stage(unit) == "approved"
        promos.edit(unit.session, promo, owner, Rename(name="Another"))
        assert stage(unit) == "review", "what was approved is not on show any more"
    begin(runtime, owner, promo, [Going(account, "tall", "Later")], now() + timedelta(days=2))
    with runtime.database.unit() as unit:
        assert stage(unit) == "planned"
        post = unit.session.query(Post).filter_by(promo_id=promo).one()
        post.state, post.live_at = "live", now()
        unit.session.flush()
        assert stage(unit) == "out"


def test_a_film_is_put_into_a_folder_of_the_drive_once(runtime: Runtime, owner: Actor, films: list[str]) -> None:
    with runtime.database.unit() as unit, pytest.raises(Refusal, match="not connected"):
        delivering.begin(unit, owner, films[0], "Films", "Lanterns")
    state, code = allowed(runtime, owner)
    folder, data = f"Films/{new_key('x')}", os.urandom(9_000_000)
    runtime.blobs.write(exports.file_blob(films[0]), lambda path: path.write_bytes(data) and None)
    with runtime.database.unit() as unit:
        driving.came_back(runtime, unit, owner, state, code)
        with pytest.raises(Refusal, match="Names in a drive"):
            delivering.begin(unit, owner, films[0], "../up", "Lanterns")
        row = delivering.begin(unit, owner, films[0], folder, "Lanterns", "Three nights")
        key = row.id

    def done() -> bool:
        with runtime.database.unit() as unit:
            row = unit.session.get_one(Delivery, key, populate_existing=True)
            assert not row.error
            return row.state == "done"

    assert awaited(done)
    delivering.carry(runtime, key)
    with runtime.database.unit() as unit:
        there = driving.listing(runtime, unit.session, owner, folder, "")
        assert [(file.name, file.size) for file in there.files] == [("Lanterns.mp4", len(data))]
        assert "Films" in driving.listing(runtime, unit.session, owner, "", "").folders
        with pytest.raises(Missing):
            delivering.find(unit.session, somebody(runtime), key)


def test_a_watch_page_has_links_a_picture_of_its_own_and_goes_out_by_mail(
    runtime: Runtime, owner: Actor, films: list[str]
) -> None:
    sent = io.BytesIO()
    Image.new("RGBA", (1600, 900), (200, 30, 30, 255)).save(sent, "PNG")
    sent.seek(0)
    watch_pages.set_picture(runtime, owner, films[0], FileStorage(sent, "cover.png"))
    with runtime.database.unit() as unit:
        file = unit.session.get_one(ExportFile, films[0])
        blob = watch_pages.page_of(unit.session, file).picture
        with Image.open(runtime.blobs.local(blob)) as kept:
            assert (kept.width, kept.format) == (1280, "JPEG")
            red, green, _ = kept.getpixel((640, 300))
            assert red > 180
            assert green < 60
        page = watch_pages.set_page(unit.session, owner, films[0], Wanted(links="All flights hollowmere.example/all\n"))
        assert page.links == [["All flights", "https://hollowmere.example/all"]]
        for wrong in ("nowhere", "Words javascript://x.example/", "\n".join(["a b.example"] * 13)):
            with pytest.raises(Refusal, match=r"no link|at most"):
                watch_pages.set_page(unit.session, owner, films[0], Wanted(links=wrong))
    with pytest.raises(Refusal, match="not a picture"):
        watch_pages.set_picture(runtime, owner, films[0], FileStorage(io.BytesIO(b"no picture"), "x.png"))
    with runtime.database.unit() as unit:
        address = unit.session.get_one(User, owner.user_id).email
        assert (
            watch_pages.send(unit, owner, films[0], f"{address}, {address.upper()}", "Have a look", "http://x/w") == 1
        )
        assert watch_pages.send(unit, owner, films[0], address, "Again", "http://x/w") == 0, "each once"
        with pytest.raises(Refusal, match="no address"):
            watch_pages.send(unit, owner, films[0], "nobody", "", "http://x/w")
        assert [one.to for one in watch_pages.sent_to(unit.session, owner, films[0])] == [address]
    assert awaited(lambda: any("Have a look" in one and "http://x/w" in one for one in letters_to(runtime, address)))
    watch_pages.set_picture(runtime, owner, films[0], None)
    assert not runtime.blobs.has(blob)
