"""Files from services outside: stock with licences and credits, pictures from words, a drive that was allowed."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import TypeVar
from urllib.parse import parse_qs, urlsplit

import pytest
import requests
from sqlalchemy import select

from glowreel.core.errors import Missing, Refusal
from glowreel.outside.maker.port import Wish
from glowreel.outside.stock.catalogue import catalogue
from glowreel.outside.stock.entries import Query
from glowreel.outside.stock.port import Stock
from glowreel.outside.stock.searching import search
from glowreel.services import driving, picturing, shelf, stock
from glowreel.services.access import Actor
from glowreel.services.setup import Runtime
from glowreel.store.models import MediaFile, Upload, User
from tests.conftest import by
from tests.services.test_promos import new_team

Value = TypeVar("Value")


@pytest.fixture
def team(runtime: Runtime) -> str:
    return new_team(runtime)


def until(true: Callable[[], Value | None], seconds: float = 60.0) -> Value:
    for _ in range(int(seconds * 10)):
        if found := true():
            return found
        time.sleep(0.1)
    raise AssertionError("waited in vain")


def came(runtime: Runtime, upload: str) -> MediaFile:
    """What became of something that was taken, once it was looked at."""

    def there() -> MediaFile | None:
        with runtime.database.unit() as unit:
            row = unit.session.get_one(Upload, upload)
            assert not row.error, row.error
            media = unit.session.get(MediaFile, row.media_id) if row.media_id else None
            if media is None or not media.usable:
                return None
            unit.session.expunge(media)
            return media

    return until(there)


def entry(**wanted: object) -> str:
    """An entry of the catalogue of which something holds."""
    found = (recipe.entry for recipe in catalogue().values())
    return next(one.id for one in found if all(getattr(one, key) == value for key, value in wanted.items()))


def test_stock_is_taken_once_credited_and_found_on_the_shelf(runtime: Runtime, team: str) -> None:
    assert stock.search(runtime, by(team), Query(words="waterfall", kind="photo")).entries[0].words.startswith("water")
    key = entry(kind="photo", price=0)
    assert stock.small(runtime, key, "poster.jpg").kind == "image/jpeg"
    with runtime.database.unit() as unit:
        taken = stock.take(runtime, unit, by(team), key)
    media = came(runtime, taken.upload)
    assert media.facts is not None
    assert (media.facts["kind"], media.facts["width"]) == ("photo", catalogue()[key].entry.width)
    with runtime.database.unit() as unit:
        assert stock.take(runtime, unit, by(team), key).media == media.id
        rows = stock.credited(unit.session, by(team), [media.id])
        assert stock.on_shelf(unit.session, by(new_team(runtime))) == {}
        assert stock.credited(unit.session, by(new_team(runtime)), [media.id]) == []
    text = stock.credit_text(rows)
    assert catalogue()[key].entry.credit in text
    assert "with credit" in text


def test_stock_is_found_by_what_words_mean_and_not_by_letters_typed_at_random(runtime: Runtime) -> None:
    model = runtime.models.path("meaning")
    for words, wanted in (("something warm to drink", "coffee"), ("people celebrating", "applause clapping")):
        entries = search(Query(words=words), model).entries
        assert wanted in entries[0].words
    for words in ("asdfgh", "xkcd qwrt", "blorf"):
        assert search(Query(words=words), model).total == 0


def test_what_is_paid_for_needs_a_licence_once_for_a_team(runtime: Runtime, team: str) -> None:
    key = next(one.entry.id for one in catalogue().values() if one.entry.price and one.entry.kind == "photo")
    with runtime.database.unit() as unit, pytest.raises(Refusal, match="paid for"):
        stock.take(runtime, unit, by(team), key)
    for forged in ("", "somebody.0000", f"{team}.{'0' * 24}"):
        with pytest.raises(Refusal, match="licence"):
            Stock(runtime.settings.stock).save(key, forged, None, 10, lambda size: None)  # type: ignore[arg-type]
    with runtime.database.unit() as unit:
        taken = stock.take(runtime, unit, by(team), key, agreed=True)
    media = came(runtime, taken.upload)
    with runtime.database.unit() as unit:
        shelf.remove(unit.session, media.id, by(team))
    with runtime.database.unit() as unit:
        again = stock.take(runtime, unit, by(team), key)
        assert again.upload, "the licence was taken, it is not asked for again"
    with runtime.database.unit() as unit, pytest.raises(Refusal, match="paid for"):
        stock.take(runtime, unit, by(new_team(runtime)), key)


@pytest.mark.long
def test_footage_and_music_of_the_catalogue_are_as_long_as_it_says(runtime: Runtime, team: str) -> None:
    keys = ["footage-waves-1", entry(kind="effect"), entry(kind="music", mood="playful")]
    with runtime.database.unit() as unit:
        taken = [stock.take(runtime, unit, by(team), key, agreed=True) for key in keys]
    for key, one in zip(keys, taken, strict=True):
        media = came(runtime, one.upload)
        assert media.facts is not None
        assert media.facts["length"] / 705_600_000 == pytest.approx(catalogue()[key].entry.seconds, abs=0.08)


def test_what_the_catalogue_does_not_have_or_a_reviewer_asks_for_is_refused(runtime: Runtime, team: str) -> None:
    reviewer = Actor("person", team, "reviewer")
    with runtime.database.unit() as unit:
        with pytest.raises(Refusal, match="does not have"):
            stock.take(runtime, unit, by(team), "photo-nothing-9")
        for refused in (
            lambda: stock.take(runtime, unit, reviewer, "footage-sea-1"),
            lambda: picturing.propose(runtime, reviewer, Wish(words="the sea")),
            lambda: driving.opened(runtime, unit.session, reviewer),
        ):
            with pytest.raises(Refusal, match="You may not"):
                refused()


def test_a_picture_from_words_is_marked_and_its_seed_brings_it_back(runtime: Runtime, team: str) -> None:
    wish = Wish(words="A mountain lake in winter", seed=4711, shape="square")
    offered = picturing.propose(runtime, by(team), wish)
    assert offered.seeds[0] == 4711
    assert "winter" in offered.understood
    assert picturing.small(runtime, wish).data == picturing.small(runtime, wish).data
    assert picturing.small(runtime, wish).data != picturing.small(runtime, wish.model_copy(update={"seed": 5})).data
    with runtime.database.unit() as unit:
        first, again = (picturing.take(unit, by(team), wish).id for _ in range(2))
    media = came(runtime, first)
    assert came(runtime, again).id == media.id, "the same bytes"
    assert media.facts is not None
    assert media.facts["machine"] is True
    assert (media.facts["width"], media.facts["height"]) == (1440, 1440)
    with runtime.database.unit() as unit:
        assert "made by a machine" in stock.credit_text(stock.credited(unit.session, by(team), [media.id]))
    for odd in (Wish(words=" "), Wish(words="x", shape="round"), Wish(words="x", style="odd")):
        with pytest.raises(Refusal):
            picturing.check(odd)


def allowed(runtime: Runtime, actor: Actor) -> tuple[str, str]:
    """Goes to the drive as a person does and allows the program in; the state and code they come back with."""
    address = driving.asked_at(runtime, actor, "http://glowreel.example/drive/back", "/shelf")
    page = requests.get(address, timeout=10)
    assert "glowreel.example" in page.text
    query = parse_qs(urlsplit(address).query)
    form = {"back": query["back"][0], "state": query["state"][0]}
    answer = requests.post(address, data=form, timeout=10, allow_redirects=False)
    came_back = parse_qs(urlsplit(answer.headers["Location"]).query)
    return came_back["state"][0], came_back["code"][0]


def test_a_drive_is_connected_looked_through_and_taken_from(runtime: Runtime, team: str) -> None:
    with runtime.database.unit() as unit:
        user = unit.session.scalar(select(User.id).where(User.team_id == team))
    actor = by(team, user)
    with runtime.database.unit() as unit, pytest.raises(Refusal, match="not connected"):
        driving.listing(runtime, unit.session, actor, "", "")
    state, code = allowed(runtime, actor)
    stranger = by(new_team(runtime), user)
    with runtime.database.unit() as unit:
        for who, wrong in ((stranger, state), (actor, "forged")):
            with pytest.raises(Refusal, match="not connected"):
                driving.came_back(runtime, unit, who, wrong, code)
        assert driving.came_back(runtime, unit, actor, state, code) == "/shelf"
    with runtime.database.unit() as unit, pytest.raises(Refusal):
        driving.came_back(runtime, unit, actor, state, code)
    with runtime.database.unit() as unit:
        there = driving.listing(runtime, unit.session, actor, "Autumn flights", "")
        assert there.folders == ("Autumn flights/Raw footage",)
        found = driving.listing(runtime, unit.session, actor, "", "lake")
        assert {file.name for file in found.files} == {"Lake pass.mp4", "Frame of the lake.jpg"}
        with pytest.raises(Refusal, match="gone"):
            driving.listing(runtime, unit.session, actor, "No such folder", "")
        with pytest.raises(Refusal, match="picked"):
            driving.take(runtime, unit, actor, [])
        photos = [file.id for file in there.files if file.kind == "image/jpeg"][:2]
        taken = [row.id for row in driving.take(runtime, unit, actor, photos)]
    names = [came(runtime, key).name for key in taken]
    assert names == [file.name for file in there.files if file.kind == "image/jpeg"][:2]
    with runtime.database.unit() as unit:
        assert driving.connection(unit.session, by(team, None)) is None
        driving.leave(runtime, unit.session, actor)
    with runtime.database.unit() as unit, pytest.raises(Refusal, match="not connected"):
        driving.small(runtime, unit.session, actor, photos[0])


def test_a_file_that_is_not_there_any_more_says_so(runtime: Runtime, team: str) -> None:
    with runtime.database.unit() as unit, pytest.raises((Refusal, Missing)):
        driving.take(runtime, unit, by(team), ["no-such-file"])
