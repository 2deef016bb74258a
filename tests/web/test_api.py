"""Programs at work for a team: let in by a token, kept to what it may do, told everything in its own description."""

from __future__ import annotations

import io
import json
import os
import re
import subprocess
import sys
import time
import uuid
from pathlib import Path
from typing import Any

import pytest
from PIL import Image
from tools.stack import Stack

from glowreel.services import promos, tokens
from glowreel.services.access import Actor
from glowreel.services.setup import Runtime
from glowreel.store.models import ApiToken, Member, now
from glowreel.web.api.operations import OPERATIONS
from glowreel.web.app import create_app
from glowreel.web.extensions import limiter
from tests.services.test_publishing import connected
from tests.services.test_teams import in_team, somebody

TEMPLATE = "two-days-only"


@pytest.fixture(scope="module")
def client(runtime: Runtime) -> Any:
    app = create_app(runtime)
    limiter.enabled = False
    return app.test_client()


class Program:
    """A program with a token."""

    def __init__(self, client: Any, token: str) -> None:
        self.client, self.headers = client, {"Authorization": f"Bearer {token}"}

    def ask(self, method: str, path: str, status: int = 200, **sent: Any) -> Any:
        answer = self.client.open(f"/api/v1{path}", method=method, headers=self.headers, json=sent or None)
        assert answer.status_code == status, (method, path, answer.status_code, answer.get_data(as_text=True)[:300])
        return answer.get_json()


def made(runtime: Runtime, client: Any, actor: Actor, *scopes: str) -> Program:
    with runtime.database.unit() as unit:
        return Program(client, tokens.begin(unit.session, actor, "Test", scopes or ("look", "make", "send"), 30)[1])


@pytest.fixture
def owner(runtime: Runtime) -> Actor:
    return somebody(runtime)


def test_a_program_fills_a_template_with_a_file_it_sends_and_exports_it(
    runtime: Runtime, client: Any, owner: Actor
) -> None:
    program = made(runtime, client, owner)
    promo = program.ask("POST", "/promos", name="From a program", template=TEMPLATE, formats=["tall"])
    slots = program.ask("GET", f"/promos/{promo['id']}/slots")
    words = next(one for one in slots if one["kind"] == "words")
    picture = next(one for one in slots if one["holds"] == "picture")
    photo = io.BytesIO()
    Image.effect_noise((900, 900), 80).convert("RGB").save(photo, "PNG")
    data = photo.getvalue()
    upload = program.ask("POST", "/uploads", name=f"{uuid.uuid4().hex}.png", size=len(data))
    for at in (0, len(data) // 2):
        part = data[at : len(data) // 2 if not at else len(data)]
        answer = client.put(f"/api/v1/uploads/{upload['id']}?at={at}", data=part, headers=program.headers)
        assert answer.get_json()["received"] == at + len(part)
    media = answer.get_json()["media"]
    end = time.monotonic() + 300
    while program.ask("GET", f"/files/{media}")["state"] != "ready":
        assert time.monotonic() < end
        time.sleep(0.2)
    fills = [{"slot": words["id"], "text": "Hello"}, {"slot": picture["id"], "media": media}]
    program.ask("POST", f"/promos/{promo['id']}/slots", fills=fills)
    filled = {one["id"] for one in program.ask("GET", f"/promos/{promo['id']}/slots") if one["filled"]}
    assert filled >= {words["id"], picture["id"]}
    nonsense = [fills[0], {"slot": "q-none", "text": "x"}]
    before = program.ask("GET", f"/promos/{promo['id']}")["revision"]
    assert program.ask("POST", f"/promos/{promo['id']}/slots", 404, fills=nonsense)["code"] == "gone"
    assert program.ask("GET", f"/promos/{promo['id']}")["revision"] == before, "all or none"
    export = program.ask("POST", f"/promos/{promo['id']}/exports", formats=["tall"], resolution=480)
    film = export["films"][0]["id"]
    end = time.monotonic() + 400
    while (now_is := program.ask("GET", f"/exports/{export['id']}")["films"][0])["state"] != "done":
        assert now_is["state"] != "failed", now_is
        assert time.monotonic() < end
        time.sleep(0.5)
    with client.get(f"/api/v1/films/{film}", headers=program.headers) as came:
        assert len(came.data) == now_is["size"]
        assert came.data[4:8] == b"ftyp"
    assert client.get(now_is["watch"].replace("http://localhost", "")).status_code == 200


def test_a_program_plans_a_post_shows_a_draft_and_makes_a_table(runtime: Runtime, client: Any, owner: Actor) -> None:
    connected(runtime, owner, "passerby")
    program = made(runtime, client, owner)
    (account,) = program.ask("GET", "/accounts")
    promo = program.ask("POST", "/promos", name="Later", template=TEMPLATE, formats=["tall"])
    path = f"/promos/{promo['id']}/posts"
    at = (now().replace(microsecond=0).replace(second=0)).isoformat().replace("+00:00", "")
    sent = {"account": account["id"], "format": "tall", "title": "Later"}
    assert program.ask("POST", path, 422, **sent, at=at)["code"] == "zone"
    later = (now().replace(year=now().year + (now().month > 11), month=now().month % 12 + 1, day=1)).isoformat()
    post = program.ask("POST", path, **sent, at=later)
    assert program.ask("GET", f"/posts/{post['id']}")["state"] == "planned"
    shown = program.ask("POST", f"/promos/{promo['id']}/screenings")
    assert "/screening/" in shown["address"]
    table = program.ask("POST", "/tables", template=TEMPLATE, rows=[["Title", "Price"], ["One", "89"], ["Two", "95"]])
    assert table["matching"]
    program.ask("POST", f"/tables/{table['id']}/make", first=1)
    end = time.monotonic() + 300
    while (told := program.ask("GET", f"/tables/{table['id']}"))["state"] == "running":
        assert time.monotonic() < end
        time.sleep(0.2)
    assert [row["state"] for row in told["rows"]] == ["made", "open"]
    program.ask("DELETE", f"/promos/{promo['id']}")
    program.ask("GET", f"/promos/{promo['id']}", 404)


def filled_path(path: str) -> str:
    return re.sub(r"<\w+>", "x-none", path)


def test_nobody_is_let_in_without_a_good_token_and_none_does_more_than_it_may(
    runtime: Runtime, client: Any, owner: Actor
) -> None:
    for operation in OPERATIONS:
        for headers in ({}, {"Authorization": "Bearer glow_made-up"}, {"Authorization": "x"}):
            answer = client.open(f"/api/v1{filled_path(operation.path)}", method=operation.method, headers=headers)
            assert (answer.status_code, answer.get_json()["code"]) == (401, "no-token"), operation.name
    looks = made(runtime, client, owner, "look")
    for operation in OPERATIONS:
        answer = client.open(
            f"/api/v1{filled_path(operation.path)}", method=operation.method, headers=looks.headers, json={}
        )
        wanted = {403} if operation.verb != "see" else {200, 404}
        assert answer.status_code in wanted, operation.name
    with runtime.database.unit() as unit:
        mine = promos.create(unit.session, somebody(runtime), "Elsewhere", ("wide",)).id
    strange = made(runtime, client, owner)
    for method, path in (("GET", ""), ("DELETE", ""), ("GET", "/slots"), ("POST", "/screenings")):
        strange.ask(method, f"/promos/{mine}{path}", 404)


def test_a_token_ends_with_its_time_its_person_and_by_a_press(runtime: Runtime, client: Any, owner: Actor) -> None:
    program = made(runtime, client, owner)
    program.ask("GET", "/promos")
    with runtime.database.unit() as unit:
        (row,) = tokens.standing(unit.session, owner)
        key, used = row.id, row.used_at
        assert used is not None
        row.until = now()
    program.ask("GET", "/promos", 401)
    with runtime.database.unit() as unit:
        unit.session.get_one(ApiToken, key).until = None
    program.ask("GET", "/promos")
    editor = in_team(runtime, owner, "editor")
    with runtime.database.unit() as unit:
        unit.session.get_one(Member, (owner.user_id, owner.team_id)).role = "reviewer"
    program.ask("GET", "/promos")
    assert program.ask("POST", "/promos", 403, name="x")["code"] == "no-right", "no more than its person may"
    with runtime.database.unit() as unit:
        unit.session.get_one(Member, (owner.user_id, owner.team_id)).role = "owner"
        private = promos.create(unit.session, editor, "Private", ("wide",))
        private.private = True
        hidden = private.id
    program.ask("GET", f"/promos/{hidden}", 404)
    assert hidden not in [one["id"] for one in program.ask("GET", "/promos")]
    with runtime.database.unit() as unit:
        tokens.end(unit.session, owner, key)
    program.ask("GET", "/promos", 401)


def test_the_description_tells_every_operation_and_nonsense_is_refused_in_a_sentence(
    runtime: Runtime, client: Any, owner: Actor
) -> None:
    told = client.get("/api/v1/openapi.json").get_json()
    named = {one["operationId"] for path in told["paths"].values() for one in path.values()}
    assert named == {operation.name for operation in OPERATIONS}
    schemas = told["components"]["schemas"]
    for reference in set(re.findall(r"#/components/schemas/(\w+)", client.get("/api/v1/openapi.json").text)):
        assert reference in schemas, reference
    program = made(runtime, client, owner)
    for path, data in (
        ("/promos", b"{"), ("/promos", b'{"nmae": "x"}'), ("/promos", b'{"name": "\\u0000"}'), ("/promos", b"[]"),
        ("/uploads", b'{"name": "x.mp4", "size": -1}'), ("/tables", b'{"template": "none", "rows": [["a"], ["b"]]}'),
        ("/files", b'{"address": "http://127.0.0.1:1/x"}'),
    ):  # fmt: skip
        answer = client.post(f"/api/v1{path}", data=data, headers=program.headers)
        assert answer.status_code in (200, 404, 422), (path, data, answer.status_code)
        assert answer.status_code == 200 or answer.get_json()["sentence"].endswith((".", "?")), (path, data)


def test_an_installation_is_used_from_a_terminal(runtime: Runtime, stack: Stack, owner: Actor, tmp_path: Path) -> None:
    with runtime.database.unit() as unit:
        _, token = tokens.begin(unit.session, owner, "Terminal", ["look", "make", "send"], 30)
    environment = {**os.environ, "GLOWREEL_ADDRESS": stack.address, "GLOWREEL_TOKEN": token}

    def call(*arguments: str, status: int = 0) -> Any:
        done = subprocess.run(
            [str(Path(sys.executable).parent / "glowreel"), *arguments, "--json"], env=environment, capture_output=True,
            text=True, timeout=300,
        )  # fmt: skip
        assert done.returncode == status, done.stderr
        return json.loads(done.stdout if status == 0 else done.stderr.splitlines()[-1])

    photo = tmp_path / f"{uuid.uuid4().hex}.png"
    Image.effect_noise((700, 700), 90).convert("RGB").save(photo)
    (file,) = call("push", str(photo))
    assert (file["state"], file["facts"]["width"]) == ("ready", 700)
    promo = call("fill", TEMPLATE, "Title=From a terminal", "--name", "Terminal", "--format", "tall")
    assert (promo["name"], promo["formats"]) == ("Terminal", ["tall"])
    films = call("export", promo["id"], "--height", "480", "-o", str(tmp_path / "films"))["films"]
    assert (tmp_path / "films" / "tall.mp4").stat().st_size == films[0]["size"]
    (tmp_path / "towns.csv").write_text("Title;Price\nAhlen;89\nBork;95\n")
    table = call("batch", TEMPLATE, str(tmp_path / "towns.csv"))
    assert [row["state"] for row in table["rows"]] == ["made", "made"]
    assert call("fill", TEMPLATE, "Nothing=x", status=1)["code"] == "no-slot"
    assert call("pull", "f-none", str(tmp_path / "x.mp4"), status=1)["code"] == "not-yours"
    environment["GLOWREEL_TOKEN"] = "glow_wrong"
    assert call("push", str(photo), status=1)["code"] == "no-token"
