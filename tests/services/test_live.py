"""Word of changes reaches every open window: with the commit, after a break, and for hundreds of them at once."""

from __future__ import annotations

import asyncio
import json
from collections.abc import AsyncIterator

import pytest
from sqlalchemy import text

from glowreel.core import commands as c
from glowreel.core.errors import Refusal
from glowreel.live.hub import MAX_PER_PERSON, Hub
from glowreel.services import accounts, promos
from glowreel.services.live import announce_work
from glowreel.services.setup import Runtime
from tests.conftest import by


@pytest.fixture
def promo(runtime: Runtime) -> tuple[str, str, str]:
    with runtime.database.unit() as unit:
        user = accounts.demo_user(unit.session)
        row = promos.create(unit.session, by(user.team_id, user.id), "Live", ("wide",))
        return row.id, user.team_id, user.id


def words(runtime: Runtime, promo: tuple[str, str, str], said: str) -> int:
    with runtime.database.unit() as unit:
        return promos.edit(unit.session, promo[0], by(*promo[1:]), c.AddWords(text=said))[0].revision


async def told(stream: AsyncIterator[str]) -> dict[str, object]:
    async with asyncio.timeout(10):
        event = await anext(stream)
    return json.loads(event.rpartition("data: ")[2])


def heard(runtime: Runtime, check) -> None:
    """Runs a check with a hub that listens."""

    async def run() -> None:
        hub = Hub(runtime.settings.database)
        listening = asyncio.create_task(hub.listen())
        try:
            await hub.listening.wait()
            await check(hub)
        finally:
            listening.cancel()
            await hub.close()

    asyncio.run(run())


def test_a_change_is_told_with_its_commit_and_none_without(runtime: Runtime, promo) -> None:
    async def check(hub: Hub) -> None:
        stream = hub.events(f"promo:{promo[0]}", "ada")
        first = await told(stream)
        with pytest.raises(Refusal), runtime.database.unit() as unit:
            promos.edit(unit.session, promo[0], by(*promo[1:]), c.AddWords(text="Never"))
            raise Refusal("stop", "Rolled back.")
        revision = words(runtime, promo, "Heard")
        event = await told(stream)
        assert event["rev"] == revision > first["rev"]
        assert "Added the words" in str(event["sentence"])

    heard(runtime, check)


def test_what_was_missed_while_the_database_was_away_is_told_after(runtime: Runtime, promo) -> None:
    async def check(hub: Hub) -> None:
        stream = hub.events(f"promo:{promo[0]}", "ada")
        await told(stream)
        with runtime.database.unit() as unit:
            ended = "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE query LIKE 'LISTEN%'"
            assert unit.session.execute(text(ended)).all()
        revision = words(runtime, promo, "Missed")
        while (event := await told(stream))["rev"] != revision:
            assert event["rev"] < revision

    heard(runtime, check)


def test_work_of_a_team_is_told_to_that_team_alone(runtime: Runtime) -> None:
    async def check(hub: Hub) -> None:
        ours, theirs = hub.events("team:ours", "ada"), hub.events("team:theirs", "bob")
        await told(ours)
        await told(theirs)
        with runtime.database.unit() as unit:
            announce_work(unit.session, by("ours"))
        assert (await told(ours))["topic"] == "team:ours"
        with pytest.raises(TimeoutError):
            await asyncio.wait_for(anext(theirs), 0.3)

    heard(runtime, check)


def test_one_person_cannot_take_every_place(runtime: Runtime) -> None:
    async def check(hub: Hub) -> None:
        streams = [hub.events("team:x", "greedy") for _ in range(MAX_PER_PERSON)]
        for stream in streams:
            await told(stream)
        refusal = await anext(hub.events("team:x", "greedy"))
        assert "event: refused" in refusal
        assert "Close some" in refusal
        await told(hub.events("team:x", "modest"))
        await streams[0].aclose()
        await told(hub.events("team:x", "greedy"))

    heard(runtime, check)
