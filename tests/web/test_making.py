"""What is being made for a picture, as Details show it; and what a choice would do, tried without making it."""

from __future__ import annotations

import json
import re
import struct
import time
import uuid
from datetime import timedelta

import pytest
from sqlalchemy import select, update

from glowreel.core.time import ticks
from glowreel.services import accounts
from glowreel.services.setup import Runtime
from glowreel.store.models import Derived, PromoRow, now
from glowreel.web.app import create_app
from glowreel.web.extensions import limiter
from tests.web.test_access import token

pytestmark = pytest.mark.long


@pytest.fixture
def client(runtime: Runtime):
    app = create_app(runtime)
    limiter.enabled = False
    client = app.test_client()
    client.post("/demo", data={"csrf_token": token(client)})
    return client


@pytest.fixture
def promo(client, runtime: Runtime) -> str:
    """A copy of a demo promo."""
    with runtime.database.unit() as unit:
        team = accounts.demo_user(unit.session).team_id
        key = unit.session.scalar(
            select(PromoRow.id).where(PromoRow.team_id == team, PromoRow.name == "Dawn flight vouchers").limit(1)
        )
    headers = {"X-CSRFToken": _token(client)}
    answer = client.post(f"/promos/{key}/copy", data={"press": uuid.uuid4().hex}, headers=headers)
    return answer.location.rstrip("/").rpartition("/")[2]


def _token(client) -> str:
    page = client.get("/account").get_data(as_text=True)
    return re.search(r'name="csrf-token" content="([^"]+)"', page).group(1)


def edit(client, promo: str, **command: object):
    headers = {"X-CSRFToken": _token(client), "X-Glow": "1"}
    return client.post(f"/promos/{promo}/edit", data={"command": json.dumps(command)}, headers=headers)


def first_clip(client, promo: str) -> str:
    page = client.get(f"/promos/{promo}").get_data(as_text=True)
    return re.search(r'"main": ?\[\{"id": ?"([^"]+)"', page).group(1)


def test_what_is_being_made_is_shown_stopped_and_begun_again(client, promo: str, runtime: Runtime) -> None:
    clip = first_clip(client, promo)
    assert client.get(f"/promos/{promo}/making?item={clip}").get_data(as_text=True).count("making-line") == 0
    assert edit(client, promo, do="set", items=[clip], values={"steady": 0.6}).status_code == 200

    def put(**values: object) -> int:
        with runtime.database.unit() as unit:
            row = unit.session.scalars(
                select(Derived).where(Derived.maker == "steady").order_by(Derived.id.desc())
            ).first()
            assert row is not None, "it was begun with the edit"
            unit.session.execute(update(Derived).where(Derived.id == row.id).values(**values))
            return int(row.id)

    headers = {"X-CSRFToken": _token(client), "X-Glow": "1"}
    # A worker is at it: what is written here must not be written over by what it ends with.
    for _ in range(600):
        with runtime.database.unit() as unit:
            newest = select(Derived.state).where(Derived.maker == "steady").order_by(Derived.id.desc()).limit(1)
            if unit.session.scalar(newest) == "ready":
                break
        time.sleep(0.1)
    key = put(state="running", progress=0.4, lease_until=now() + timedelta(hours=1))
    shown = client.get(f"/promos/{promo}/making?item={clip}").get_data(as_text=True)
    assert "How the camera moved is being found: 40 %" in shown
    assert 'hx-trigger="every 1s"' in shown
    stopped = client.post(f"/promos/{promo}/making/{key}/stop?item={clip}", headers=headers).get_data(as_text=True)
    assert "It was stopped. It is shown as it came." in stopped
    put(state="failed", error="It broke.")
    assert "It broke. It is shown" in client.get(f"/promos/{promo}/making?item={clip}").get_data(as_text=True)
    assert client.post(f"/promos/{promo}/making/{key}/again?item={clip}", headers=headers).status_code == 200
    with runtime.database.unit() as unit:
        assert unit.session.get_one(Derived, key).state in ("queued", "running", "ready")
    assert client.post(f"/promos/{promo}/making/999999/stop?item={clip}", headers=headers).status_code == 404
    assert client.get(f"/promos/{promo}/making?item=gone").status_code == 404


def test_a_choice_is_tried_in_frames_and_nothing_is_kept(client, promo: str) -> None:
    clip = first_clip(client, promo)
    before = client.get(f"/promos/{promo}").get_data(as_text=True)

    def tried(command: dict[str, object], **more: object):
        query = {"command": json.dumps(command), "format": "wide", "frame": 10, "count": 6, "step": 3, "short": 72}
        return client.get(f"/promos/{promo}/trial-run", query_string={**query, **more})

    def frames(data: bytes) -> list[bytes]:
        found, at = [], 0
        while at < len(data):
            (size,) = struct.unpack_from("<I", data, at)
            found.append(data[at + 4 : at + 4 + size])
            at += 4 + size
        return found

    plain = frames(tried({"do": "rename", "name": "Same"}).data)
    grey = frames(tried({"do": "set", "items": [clip], "values": {"saturation": -1.0}}).data)
    assert len(plain) == len(grey) == 6
    assert all(frame[:2] == b"\xff\xd8" for frame in grey if frame)
    assert grey[0] != plain[0]
    passing = frames(tried({"do": "set-edge", "edge": "start", "kind": "iris", "length": ticks(2)}).data)
    assert passing[0] != plain[0]
    assert tried({"do": "set", "items": ["gone"], "values": {"turn": 3}}).status_code in (404, 422)
    assert tried({"do": "nothing"}).status_code == 422
    assert tried({"do": "rename", "name": "x"}, short=73).status_code == 422
    assert re.search(r'"rev": ?(\d+)', before).group(1) == re.search(
        r'"rev": ?(\d+)', client.get(f"/promos/{promo}").get_data(as_text=True)
    ).group(1)
