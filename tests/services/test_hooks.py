"""Addresses are told what happens: signed, again where they did not listen, and never where nobody may call."""

from __future__ import annotations

import hashlib
import hmac
import time
import uuid
from datetime import timedelta

import orjson
import pytest
import requests

from glowreel.core.errors import Missing, Refusal
from glowreel.services import hooks
from glowreel.services.access import Actor
from glowreel.services.brand_pages import stand_ins
from glowreel.services.setup import Runtime
from glowreel.store.models import Hook, HookCall, now
from tests.services.test_teams import in_team, somebody

HOST = "hollowmere.example"


@pytest.fixture
def owner(runtime: Runtime) -> Actor:
    return somebody(runtime)


def heard(runtime: Runtime, key: str, count: int, seconds: float = 180) -> list[dict[str, str]]:
    """What an address has been told, once that is so much."""
    port, end = stand_ins(runtime)[HOST], time.monotonic() + seconds
    while len(told := requests.get(f"http://127.0.0.1:{port}/told/{key}", timeout=10).json()) < count:
        assert time.monotonic() < end, told
        time.sleep(0.2)
    return list(told)


def test_a_call_is_signed_and_made_again_until_it_is_heard(runtime: Runtime, owner: Actor) -> None:
    key = f"deaf-{uuid.uuid4().hex}"
    with runtime.database.unit() as unit:
        row = hooks.begin(unit.session, owner, f"https://{HOST}/told/{key}", ["film", "post"])
        hook_id, secret = row.id, hooks.secret(runtime, row)
        hooks.tell(unit, owner, "film", {"film": "f-1"})
        hooks.tell(unit, owner, "note", {"promo": "not wanted"})
    heard(runtime, key, 1)
    for count in (2, 3):
        with runtime.database.unit() as unit:
            (call,) = hooks.calls(unit.session, owner, hook_id)
            assert (call.state, call.tries) == ("queued", count - 1)
            assert "answered 503" in call.error
            assert call.due_at > now(), "later each time"
            call.due_at = now() - timedelta(seconds=1)
            unit.later("glowreel.hook", call.id)
        told = heard(runtime, key, count)
    bodies = {one["body"] for one in told}
    assert len(bodies) == 1, "the same each time, by its id"
    body = orjson.loads(bodies.pop())
    assert (body["happening"], body["film"]) == ("film", "f-1")
    stamp, code = told[-1]["signature"].split(",")
    wanted = hmac.new(secret.encode(), f"{stamp[2:]}.{told[-1]['body']}".encode(), hashlib.sha256).hexdigest()
    assert code == f"v1={wanted}"
    assert abs(int(stamp[2:]) - time.time()) < 300
    with runtime.database.unit() as unit:
        end = time.monotonic() + 90
        while unit.session.get_one(HookCall, body["id"], populate_existing=True).state != "told":
            assert time.monotonic() < end
            time.sleep(0.1)
            unit.session.commit()


def test_private_addresses_are_not_called_and_hooks_are_a_team_s(runtime: Runtime, owner: Actor) -> None:
    with runtime.database.unit() as unit:
        for address in ("", "ftp://x.example", "nowhere", "https://[bad"):
            with pytest.raises(Refusal, match="no address"):
                hooks.begin(unit.session, owner, address, ["film"])
        with pytest.raises(Refusal, match="may not say who"):
            hooks.begin(unit.session, in_team(runtime, owner, "editor"), f"https://{HOST}/x", ["film"])
        row = hooks.begin(unit.session, owner, "http://127.0.0.1:5432/", ["film"])
        key = row.id
        with pytest.raises(Missing):
            hooks.find(unit.session, somebody(runtime), key)
        hooks.tell(unit, owner, "film", {})
        unit.forget()
        (call,) = hooks.calls(unit.session, owner, key)
        call_id = call.id
    hooks.carry(runtime, call_id)
    with runtime.database.unit() as unit:
        call = unit.session.get_one(HookCall, call_id)
        assert (call.state, call.tries) == ("failed", 1)
        hooks.end(unit.session, owner, key)
        hooks.tell(unit, owner, "film", {})
        assert unit.session.query(HookCall).filter_by(hook_id=key).count() == 1
        assert unit.session.get_one(Hook, key).ended_at is not None
