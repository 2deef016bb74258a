"""Films go out to channels when they are due, each exactly once, whatever dies on the way."""

from __future__ import annotations

import os
import signal
import time
import uuid
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from urllib.parse import parse_qs, urlsplit

import orjson
import pytest
import requests
from sqlalchemy import select
from tools.stack import Stack

from glowreel.core.commands import InsertFiller
from glowreel.core.errors import Missing, Refusal
from glowreel.core.time import ticks
from glowreel.services import channels, promos, publishing
from glowreel.services.access import Actor
from glowreel.services.publishing import Wanted
from glowreel.services.setup import Runtime
from glowreel.store.models import ChannelAccount, Post, PromoRow, User, now
from tests.services.test_teams import in_team, letters_to, somebody

BACK = "http://reel.example/channels/back"


def connected(runtime: Runtime, actor: Actor, channel: str) -> str:
    """An account on a channel, as a person who allows it would connect it."""
    address = channels.asked_at(runtime, actor, channel, BACK, "/going-out")
    asked = {key: value[0] for key, value in parse_qs(urlsplit(address).query).items()}
    answer = requests.post(address.partition("?")[0], data=asked, allow_redirects=False, timeout=10)
    come = parse_qs(urlsplit(answer.headers["Location"]).query)
    with runtime.database.unit() as unit:
        row, then = channels.came_back(runtime, unit, actor, come["state"][0], come["code"][0])
        assert then == "/going-out"
        return row.id


@pytest.fixture
def owner(runtime: Runtime) -> Actor:
    return somebody(runtime)


@pytest.fixture
def promo(runtime: Runtime, owner: Actor) -> str:
    with runtime.database.unit() as unit:
        row = promos.create(unit.session, owner, "Lantern nights", ("wide", "tall"))
        promos.edit(unit.session, row.id, owner, InsertFiller(length=ticks(5)))
        return row.id


def title() -> str:
    """One that nobody else posts."""
    return f"Lanterns {uuid.uuid4().hex[:8]}"


def until(true: Callable[[], object], seconds: float = 180.0) -> None:
    end = time.monotonic() + seconds
    while not true():
        assert time.monotonic() < end, "waited in vain"
        time.sleep(0.2)


def standing(runtime: Runtime, set_id: str) -> list[Post]:
    with runtime.database.unit() as unit:
        rows = list(unit.session.scalars(select(Post).where(Post.set_id == set_id).order_by(Post.created_at)))
        unit.session.expunge_all()
        return rows


def ended(runtime: Runtime, set_id: str, *states: str) -> Callable[[], bool]:
    return lambda: all(post.state in states for post in standing(runtime, set_id))


def there(stack: Stack, channel: str, name: str) -> list[dict[str, object]]:
    """What a channel shows under a title."""
    rows = [orjson.loads(path.read_bytes()) for path in (stack.folder / "outside" / channel / "posts").glob("*.json")]
    return [row for row in rows if row["title"] == name]


def begin(runtime: Runtime, owner: Actor, promo: str, wanted: list[Wanted], at: datetime | None = None) -> str:
    with runtime.database.unit() as unit:
        return publishing.publish(unit, owner, promo, wanted, at, "Europe/Vienna", "http://reel.example")[0].set_id


def test_one_promo_goes_to_several_channels_is_replaced_and_taken_down(
    runtime: Runtime, stack: Stack, owner: Actor, promo: str
) -> None:
    wide, tall = connected(runtime, owner, "marquee"), connected(runtime, owner, "passerby")
    name = title()
    made = begin(runtime, owner, promo, [
        Wanted(wide, "wide", name, "Three nights", "#lanterns, dusk lanterns", 1.5), Wanted(tall, "tall", name),
    ])  # fmt: skip
    until(ended(runtime, made, "live"))
    posts = standing(runtime, made)
    (seen,) = there(stack, "marquee", name)
    assert (seen["text"], seen["tags"], seen["still"]) == ("Three nights", ["lanterns", "dusk"], 1.5)
    assert len(there(stack, "passerby", name)) == 1
    page = requests.get(posts[0].address, timeout=10)
    assert page.status_code == 200
    assert name in page.text
    with runtime.database.unit() as unit:
        address = unit.session.get_one(User, owner.user_id).email
    until(lambda: any("is there" in letter and posts[1].address in letter for letter in letters_to(runtime, address)))
    with runtime.database.unit() as unit, pytest.raises(Refusal, match="has not changed"):
        publishing.replace(unit, owner, posts[0].id)
    with runtime.database.unit() as unit:
        promos.edit(unit.session, promo, owner, InsertFiller(length=ticks(2)))
        publishing.replace(unit, owner, posts[0].id)
    until(ended(runtime, made, "live"))
    (again,) = there(stack, "marquee", name)
    assert again["film"] != seen["film"], "another film"
    assert standing(runtime, made)[0].address == posts[0].address, "at the same address"
    with runtime.database.unit() as unit:
        gone = publishing.end(runtime, unit, owner, posts[0].id)
        assert gone is not None
        assert gone.state == "gone"
    assert there(stack, "marquee", name) == []


def test_nothing_goes_out_twice_when_workers_and_pages_are_killed(
    runtime: Runtime, stack: Stack, owner: Actor, promo: str
) -> None:
    name = title()
    accounts = [connected(runtime, owner, channel) for channel in ("marquee", "passerby")]
    made = begin(runtime, owner, promo, [Wanted(accounts[0], "wide", name), Wanted(accounts[1], "tall", name)])
    deaths = 0
    for wanted in (("sending", "processing", "live"), ("processing", "live"), ("live",)):
        until(lambda wanted=wanted: any(post.state in wanted for post in standing(runtime, made)))
        for process in ("errands", "web"):
            os.killpg(stack.processes[process].pid, signal.SIGKILL)
            stack.processes[process].wait()
            deaths += 1
        stack.make_whole()
    until(ended(runtime, made, "live"))
    assert deaths == 6
    assert [len(there(stack, channel, name)) for channel in ("marquee", "passerby")] == [1, 1]


def test_what_goes_wrong_on_the_way_is_tried_again_and_what_a_channel_refuses_is_said(
    runtime: Runtime, stack: Stack, owner: Actor, promo: str
) -> None:
    name, account = title(), connected(runtime, owner, "marquee")
    trouble = stack.folder / "outside" / "marquee" / "trouble"
    trouble.write_text("/films 503\n/posts 429\n")
    made = begin(runtime, owner, promo, [Wanted(account, "wide", name)])
    until(ended(runtime, made, "live"))
    assert trouble.read_text() == ""
    assert len(there(stack, "marquee", name)) == 1
    with runtime.database.unit() as unit:
        # The token is past its time: the next one is brought without a word.
        row = unit.session.get_one(ChannelAccount, account)
        row.until, before = now() - timedelta(hours=1), row.token
    channels.let_in(runtime, account)
    with runtime.database.unit() as unit:
        assert unit.session.get_one(ChannelAccount, account).token != before
        channels.leave(runtime, unit.session, owner, account)
        with pytest.raises(Missing, match="not connected"):
            channels.find(unit.session, owner, account)
    with pytest.raises(Refusal, match="Connect it again"):
        channels.let_in(runtime, account)


def test_what_a_channel_does_not_take_is_refused_before_anything_is_made(
    runtime: Runtime, owner: Actor, promo: str
) -> None:
    tall = connected(runtime, owner, "passerby")
    with runtime.database.unit() as unit:
        for wanted, said in (
            (Wanted(tall, "wide", "x"), "tall; Wide is neither"), (Wanted(tall, "tall", "x" * 61), "at most 60"),
            (Wanted(tall, "tall", " "), "needs a title"), (Wanted(tall, "tall", "x", "y" * 301), "at most 300"),
            (Wanted(tall, "tall", "x", tags=" ".join(map(str, range(13)))), "up to 12 tags"),
            (Wanted(tall, "tall", "x", still=9.0), "not in the film"),
        ):  # fmt: skip
            with pytest.raises(Refusal, match=said):
                publishing.publish(unit, owner, promo, [wanted])
        with pytest.raises(Refusal, match="posts a promo once"):
            publishing.publish(unit, owner, promo, [Wanted(tall, "tall", "x")] * 2)
        contributor = Actor("person", owner.team_id, "contributor", owner.user_id)
        with pytest.raises(Refusal, match="may not publish"):
            publishing.publish(unit, contributor, promo, [Wanted(tall, "tall", "x")])
        unit.session.rollback()


def test_what_is_planned_waits_is_moved_changed_and_ended(runtime: Runtime, owner: Actor, promo: str) -> None:
    account = connected(runtime, owner, "passerby")
    week = now() + timedelta(days=7)
    made = begin(runtime, owner, promo, [Wanted(account, "tall", "Later")], week)
    with runtime.database.unit() as unit:
        (post,) = publishing.between(unit.session, owner, now(), week + timedelta(days=1))
        clock = post.at.astimezone(publishing.zone_of(post.zone)).time()
        day = (week + timedelta(days=3)).date().isoformat()
        publishing.move(unit.session, owner, post.id, day)
        there_it_is = post.at.astimezone(publishing.zone_of(post.zone))
        assert (there_it_is.date().isoformat(), there_it_is.time().replace(second=0, microsecond=0)) == (
            day, clock.replace(second=0, microsecond=0),
        )  # fmt: skip
        publishing.change(
            unit.session, owner, post.id, Wanted(account, "tall", "Sooner"), now() + timedelta(days=1), "UTC"
        )
        assert post.title == "Sooner"
        other = in_team(runtime, owner, "reviewer")
        with pytest.raises(Refusal, match="may not publish"):
            publishing.end(runtime, unit, other, post.id)
        with pytest.raises(Missing):
            publishing.end(runtime, unit, somebody(runtime), post.id)
        assert publishing.end(runtime, unit, owner, post.id) is None
    assert standing(runtime, made) == []
    with runtime.database.unit() as unit:
        private = unit.session.get_one(PromoRow, promo)
        private.private = True
        private.user_id = owner.user_id
        unit.session.flush()
        assert publishing.between(unit.session, in_team(runtime, owner, "editor"), now(), week) == []


@pytest.mark.parametrize(("local", "zone", "said"), [
    ("2020-01-01T09:00", "UTC", "passed"), ("2999-01-01T09:00", "UTC", "year away"), ("soon", "UTC", "no date"),
    ("2020-01-01T09:00", "Nowhere/Land", "no time zone"), ("9999-12-31T23:59", "Pacific/Pago_Pago", "no date|year"),
])  # fmt: skip
def test_times_that_cannot_be_are_refused(local: str, zone: str, said: str) -> None:
    with pytest.raises(Refusal, match=said):
        publishing.moment(local, zone)


def test_a_time_is_that_of_the_clocks_there() -> None:
    summer = (datetime.now(UTC) + timedelta(days=200)).date()
    for zone in ("Europe/Vienna", "Asia/Tokyo", "America/St_Johns"):
        came = publishing.moment(f"{summer}T09:00", zone)
        assert came.astimezone(publishing.zone_of(zone)).strftime("%H:%M") == "09:00"


def test_a_stranger_brings_no_code_back_that_was_asked_by_another(runtime: Runtime, owner: Actor) -> None:
    address = channels.asked_at(runtime, owner, "marquee", BACK, "/")
    state = parse_qs(urlsplit(address).query)["state"][0]
    with runtime.database.unit() as unit:
        with pytest.raises(Refusal, match="somebody else"):
            channels.came_back(runtime, unit, somebody(runtime), state, "code")
        with pytest.raises(Refusal, match="took too long"):
            channels.came_back(runtime, unit, owner, state + "x", "code")
        with pytest.raises(Refusal, match="not allowed"):
            channels.came_back(runtime, unit, owner, state, "")
        with pytest.raises(Refusal, match="too long"):
            channels.came_back(runtime, unit, owner, state, "made-up")
