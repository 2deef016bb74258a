"""Sessions, hosts, bodies, presses and links, as somebody would misuse them."""

import base64
import hashlib
import re
import socket
import time
import uuid
from dataclasses import replace

import pytest
from sqlalchemy import select
from tools.stack import Stack

from glowreel.core.commands import InsertFiller
from glowreel.services import exports, promos
from glowreel.services.setup import Runtime
from glowreel.store.models import ExportFile, PromoRow, now
from glowreel.web.app import HEADERS, create_app
from glowreel.web.extensions import limiter
from tests.conftest import by

PASSWORD = "seven quiet lanterns"


@pytest.fixture(scope="module")
def app(runtime: Runtime):
    app = create_app(runtime)
    limiter.enabled = False
    return app


class Person:
    """Somebody with a browser of their own."""

    def __init__(self, app, email: str = "") -> None:
        self.client = app.test_client()
        self.client.environ_base["HTTP_ACCEPT"] = "text/html"
        self.email = email or f"{uuid.uuid4().hex}@people.example"

    def token(self) -> str:
        page = self.client.get("/welcome", follow_redirects=True).get_data(as_text=True)
        return re.search(r'name="csrf-token" content="([^"]+)"', page).group(1)

    def post(self, path: str, values: dict[str, object] | None = None):
        return self.client.post(path, data={**(values or {}), "csrf_token": self.token()})

    def sign_up(self):
        return self.post("/sign-up", {"name": "Ada", "email": self.email, "password": PASSWORD, "team": ""})

    def sign_in(self, password: str = PASSWORD):
        return self.post("/sign-in", {"email": self.email, "password": password})

    @property
    def inside(self) -> bool:
        return self.client.get("/exports").status_code == 200

    def cookies(self) -> dict[str, str]:
        return {cookie.key: cookie.value for cookie in self.client._cookies.values()}


@pytest.fixture
def ada(app) -> Person:
    person = Person(app)
    assert person.sign_up().status_code == 302
    return person


def test_a_cookie_opens_nothing_once_its_sign_in_has_ended(app, ada: Person) -> None:
    stolen = ada.cookies()
    assert {"session", "remember_token"} <= set(stolen)
    thief = Person(app)
    for key, value in stolen.items():
        thief.client.set_cookie(key, value)
    assert thief.inside
    ada.post("/sign-out")
    assert not ada.inside
    assert not thief.inside, "an old cookie still opens the door"


def test_somebody_sees_where_they_are_signed_in_and_ends_it(app, ada: Person) -> None:
    phone = Person(app, ada.email)
    phone.client.environ_base["HTTP_USER_AGENT"] = "Browser (iPhone; like)"
    assert phone.sign_in().status_code == 302
    page = ada.client.get("/account").get_data(as_text=True)
    assert "iPhone" in page
    (where,) = re.findall(r"/account/sign-ins/([\w-]+)/end", page)
    stranger = Person(app)
    stranger.sign_up()
    assert stranger.post(f"/account/sign-ins/{where}/end").status_code == 404
    assert phone.inside
    ada.post(f"/account/sign-ins/{where}/end")
    assert (phone.inside, ada.inside) == (False, True)


def test_a_changed_password_signs_out_everywhere_else(app, ada: Person) -> None:
    other = Person(app, ada.email)
    other.sign_in()
    assert ada.post("/account/password", {"old": "wrong", "password": "nine other lanterns"}).status_code == 422
    assert ada.post("/account/password", {"old": PASSWORD, "password": "password123"}).status_code == 422
    assert ada.post("/account/password", {"old": PASSWORD, "password": "nine other lanterns"}).status_code == 302
    assert (ada.inside, other.inside) == (True, False)
    assert other.sign_in().status_code == 422
    assert other.sign_in("nine other lanterns").status_code == 302


def test_a_team_says_how_it_works_and_the_demo_does_not(app, ada: Person) -> None:
    def ticked() -> bool:
        page = ada.client.get("/account").get_data(as_text=True)
        return "checked" in page.split('id="wish-photos_move"')[1].split("/>")[0]

    assert not ticked()
    assert ada.post("/account/team", {"photos_move": "on", "strange": "1"}).status_code == 302
    assert ticked()
    assert ada.post("/account/team", {}).status_code == 302
    assert not ticked()
    visitor = Person(app)
    visitor.post("/demo")
    assert visitor.post("/account/team", {"photos_move": "on"}).status_code == 422


def test_visitors_of_the_demo_see_nothing_of_one_another(app) -> None:
    first, second = Person(app), Person(app)
    first.client.environ_base["HTTP_USER_AGENT"] = "Browser (iPad; like)"
    for person in (first, second):
        assert person.post("/demo").status_code == 302
    assert "iPad" not in second.client.get("/account").get_data(as_text=True)
    assert second.post("/account/sign-ins/end").status_code == 422
    assert second.post("/account/password", {"old": "x", "password": PASSWORD}).status_code == 422
    assert first.inside


def test_signing_in_is_limited_for_an_account_whatever_address_it_is_tried_from(runtime: Runtime) -> None:
    app = create_app(runtime)
    victim = Person(app)
    victim.sign_up()
    answers = []
    limiter.enabled = True
    try:
        for n in range(12):
            person = Person(app, victim.email)
            person.client.environ_base["REMOTE_ADDR"] = f"10.1.2.{n}"
            answers.append(person.sign_in("wrong words entirely").status_code)
    finally:
        limiter.enabled = False
    assert answers[:9] == [422] * 9
    assert answers[-1] == 429


ELSEWHERE = (
    "//evil.example", "/\\evil.example", "/%0a//evil.example", "/\n//evil.example", "https://evil.example", "x",
    "/\x00", "//[", "http://[::1",
)  # fmt: skip


@pytest.mark.parametrize("target", ELSEWHERE)
def test_signing_in_leads_nowhere_else(app, target: str) -> None:
    answer = Person(app).post("/sign-up?" + "x=1", {
        "name": "Ada", "email": f"{uuid.uuid4().hex}@people.example", "password": PASSWORD, "next": target,
    })  # fmt: skip
    assert answer.status_code == 302
    assert answer.location in ("/", target)
    assert not answer.location.startswith(("//", "/\\", "h"))
    assert "\n" not in answer.location


def test_every_answer_is_hardened(app, ada: Person) -> None:
    for path in ("/", "/exports", "/nowhere", "/static/css/theme.css", "/account", "/storage"):
        answer = ada.client.get(path)
        assert {name: answer.headers.get(name) for name in HEADERS} == HEADERS, path
        answer.close()


def test_links_are_never_made_from_a_forged_host(runtime: Runtime) -> None:
    app = create_app(Runtime(replace(runtime.settings, address="https://reel.example"), runtime._send))
    assert app.test_client().get("/welcome", headers={"Host": "evil.example"}).status_code == 400
    assert app.test_client().get("/welcome", headers={"Host": "reel.example"}).status_code == 200
    assert app.test_client().get("/welcome", headers={"Host": "localhost:8810"}).status_code == 200


def test_what_is_pressed_twice_makes_one(app, ada: Person, runtime: Runtime) -> None:
    press = {"press": uuid.uuid4().hex}
    first = ada.post("/promos", {"name": "Once", "formats": "wide", **press})
    second = ada.post("/promos", {"name": "Once", "formats": "wide", **press})
    assert first.location == second.location
    other = ada.post("/promos", {"name": "Once", "formats": "wide", "press": uuid.uuid4().hex})
    assert other.location != first.location
    promo_id = first.location.rpartition("/")[2]
    with runtime.database.unit() as unit:
        team = unit.session.get_one(PromoRow, promo_id).team_id
        promos.edit(unit.session, promo_id, by(team), InsertFiller())
    values = {"formats": "wide", "resolution": "480", "press": uuid.uuid4().hex}
    for _ in range(3):
        assert ada.post(f"/promos/{promo_id}/exports", values).status_code == 200
    with runtime.database.unit() as unit:
        assert len(exports.list_exports(unit.session, by(team), promo_id)) == 1


def finished(runtime: Runtime, ada: Person) -> tuple[str, str, str]:
    """A finished film of hers: the promo, the film and the token of its link."""
    path = ada.post("/promos", {"name": "Shown", "formats": "wide"}).location
    promo_id = path.rpartition("/")[2]
    with runtime.database.unit() as unit:
        team = unit.session.get_one(PromoRow, promo_id).team_id
        promos.edit(unit.session, promo_id, by(team), InsertFiller())
        export = exports.start(unit, promo_id, by(team), ("wide",), 480, "Shown")
        unit.forget()
        file = unit.session.scalars(select(ExportFile).where(ExportFile.export_id == export.id)).one()
        file.state, file.size = "done", 4
        runtime.blobs.write(exports.file_blob(file.id), lambda out: out.write_bytes(b"film"))
        return promo_id, file.id, file.token


def test_a_watch_link_ends_when_it_is_ended_when_it_is_old_and_with_what_it_shows(
    app, ada: Person, runtime: Runtime
) -> None:
    promo_id, file_id, token = finished(runtime, ada)
    public = app.test_client()

    def opens(token: str) -> list[int]:
        answers = [public.get(f"/watch/{token}"), public.get(f"/watch/{token}/film.mp4")]
        for answer in answers:
            answer.close()
        return [answer.status_code for answer in answers]

    assert opens(token) == [200, 200]
    ada.post(f"/exports/{file_id}/link", {"on": "0"})
    assert opens(token) == [404, 404]
    ada.post(f"/exports/{file_id}/link", {"on": "1"})
    with runtime.database.unit() as unit:
        fresh = unit.session.get_one(ExportFile, file_id).token
    assert (opens(token), opens(fresh)) == ([404, 404], [200, 200])
    ada.post(f"/promos/{promo_id}/remove")
    assert opens(fresh) == [404, 404]
    ada.post(f"/promos/{promo_id}/restore")
    assert opens(fresh) == [200, 200]
    with runtime.database.unit() as unit:
        file = unit.session.get_one(ExportFile, file_id)
        kept, file.link_until = file.link_until, now()
        export_id = file.export_id
    assert opens(fresh) == [404, 404]
    with runtime.database.unit() as unit:
        unit.session.get_one(ExportFile, file_id).link_until = kept
    ada.post(f"/exports/{export_id}/remove")
    assert opens(fresh) == [404, 404]


def talk(path: str, data: bytes, wait: float = 10) -> bytes:
    """What a server answers to raw bytes on its socket, without the front before it."""
    with socket.socket(socket.AF_UNIX) as connection:
        connection.settimeout(wait)
        connection.connect(path)
        connection.sendall(data)
        return connection.recv(4096)


def test_a_large_form_is_refused_before_it_is_read(stack: Stack) -> None:
    head = (
        b"POST /sign-in HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/x-www-form-urlencoded\r\n"
        b"X-Glow: 1\r\nContent-Length: 400000000\r\n\r\n"
    )
    assert b" 413 " in talk(str(stack.front.web), head).split(b"\r\n")[0]


def test_a_file_that_came_in_changed_does_not_count(app, ada: Person) -> None:
    data = b"as it was sent"
    digest = base64.b64encode(hashlib.sha256(data).digest()).decode()
    headers = {
        "X-File-Name": "a.bin",
        "X-CSRFToken": ada.token(),
        "X-Glow": "1",
        "Content-Digest": f"sha-256=:{digest}:",
    }
    answer = ada.client.post(
        "/shelf/uploads", data=b"as it came in!", headers={**headers, "Accept": "application/json"}
    )
    assert (answer.status_code, answer.get_json()["code"]) == (422, "changed")
    assert ada.client.post("/shelf/uploads", data=data, headers=headers).status_code == 201


def test_a_file_may_be_larger_than_a_form(app, ada: Person) -> None:
    headers = {"X-File-Name": "large.bin", "X-CSRFToken": ada.token(), "Content-Type": "application/octet-stream"}
    large = bytes(6 * 1024**2)
    assert ada.client.post("/shelf/uploads", data=large, headers=headers).status_code == 201
    headers["Content-Type"] = "application/x-www-form-urlencoded"
    assert ada.client.post("/promos", data=large, headers=headers).status_code == 413


@pytest.mark.parametrize("size", ["zz", "-5", "ffffffffffffffffffff", ""])
def test_bad_sizes_of_chunks_are_answered_without_a_fault(stack: Stack, size: str) -> None:
    head = b"POST /sign-in HTTP/1.1\r\nHost: localhost\r\nTransfer-Encoding: chunked\r\n\r\n"
    answer = talk(str(stack.front.web), head + size.encode() + b"\r\nabc\r\n0\r\n\r\n")
    assert answer == b"" or answer.split(b" ")[1] in (b"400", b"413"), answer[:200]


def test_files_are_for_the_program_and_its_group_alone(stack: Stack, runtime: Runtime, ada: Person) -> None:
    finished(runtime, ada)
    for path in (stack.folder / "blobs").rglob("*"):
        assert not path.stat().st_mode & 0o007, path


def test_slow_connections_do_not_keep_others_from_working(stack: Stack) -> None:
    slow = []
    try:
        for _ in range(120):
            connection = socket.create_connection(("127.0.0.1", stack.port))
            connection.sendall(b"POST /sign-in HTTP/1.1\r\nHost: localhost\r\nContent-Length: 100000\r\n\r\nx")
            slow.append(connection)
        began = time.monotonic()
        with socket.create_connection(("127.0.0.1", stack.port), timeout=10) as quick:
            quick.sendall(b"GET /welcome HTTP/1.0\r\nHost: localhost\r\n\r\n")
            assert b" 200 " in quick.recv(200)
        assert time.monotonic() - began < 10
    finally:
        for connection in slow:
            connection.close()
