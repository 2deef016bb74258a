"""Every route: strangers find nothing, changes need a token, answers are hardened."""

import json
import re
import uuid

import pytest
from sqlalchemy import select

from glowreel.core import batch as core_batch
from glowreel.core.template import Facts
from glowreel.services import (
    accounts,
    batches,
    brands,
    derivation,
    exports,
    hooks,
    invitations,
    promos,
    screening_notes,
    screenings,
    sign_ins,
    templates,
    tokens,
    upload_links,
    uploads,
)
from glowreel.services.setup import Runtime
from glowreel.store.models import (
    ChannelAccount,
    ExportFile,
    MediaFile,
    Opening,
    Post,
    PromoRow,
    Turn,
    WatchQuestion,
    new_key,
    now,
)
from glowreel.web.app import create_app
from glowreel.web.extensions import limiter
from tests.conftest import by
from tests.services.test_teams import awaited, letters_to

OPEN = {
    "static",
    "desk.desk",
    "account.welcome",
    "account.sign_in",
    "account.token",
    "account.sign_up",
    "account.forgotten",
    "account.reset",
    "account.demo",
    "account.licence_list",
    "account.second",
    "machines.figures",
    "team.join",
    "uploads.telephone",
    "uploads.create_by_link",
    "uploads.piece_by_link",
}


@pytest.fixture(scope="module")
def app(runtime: Runtime):
    app = create_app(runtime)
    limiter.enabled = False
    return app


def token(client) -> str:
    page = client.get("/sign-in").get_data(as_text=True)
    return re.search(r'name="csrf_token" value="([^"]+)"', page).group(1)


@pytest.fixture
def stranger(app):
    """Signed in, with a team of their own."""
    client = app.test_client()
    answers = {
        "name": "Stranger",
        "email": f"{uuid.uuid4().hex}@x.example",
        "password": "long enough words",
        "team": "",
    }
    assert client.post("/sign-up", data={**answers, "csrf_token": token(client)}).status_code == 302
    return client


def routes(app):
    for rule in app.url_map.iter_rules():
        if rule.endpoint in OPEN or rule.endpoint.startswith(("watching.", "watch.", "api.")):
            continue
        for method in sorted(rule.methods - {"HEAD", "OPTIONS"}):
            yield rule, method


def test_who_is_not_signed_in_is_sent_to_sign_in_and_a_script_is_told_so(app) -> None:
    client = app.test_client()
    headers = {"X-CSRFToken": token(client), "Accept": "text/html"}
    for rule, method in routes(app):
        path = re.sub(r"<[^>]+>", "x", re.sub(r"<int:[^>]+>", "1", rule.rule))
        answer = client.open(path, method=method, headers=headers)
        assert answer.status_code == 302, (method, path)
        assert "/sign-in" in answer.location, (method, path)
        answer = client.open(path, method=method, headers={**headers, "X-Glow": "1"})
        assert (answer.status_code, answer.get_json()["code"]) == (401, "signed-out"), (method, path)


def test_what_belongs_to_another_team_is_not_there(app, stranger, runtime: Runtime) -> None:
    with runtime.database.unit() as transaction:
        team = accounts.demo_user(transaction.session).team_id
        promo = transaction.session.scalar(select(PromoRow.id).where(PromoRow.team_id == team).limit(1))
        media, facts = transaction.session.execute(
            select(MediaFile.id, MediaFile.facts).where(MediaFile.team_id == team, MediaFile.state == "ready").limit(1)
        ).one()
        picture = facts["kind"] != "sound"
        # One of each kind of thing: a stranger who finds nothing where nothing is proves nothing.
        made = exports.start(transaction, promo, by(team), ("wide",), 480, "Private")
        file = transaction.session.scalar(select(ExportFile.id).where(ExportFile.export_id == made.id))
        exports.cancel(transaction.session, transaction.session.get_one(ExportFile, file))
        assert all((promo, media, file)), "something is missing to keep strangers from"
        revision = str(transaction.session.get(PromoRow, promo).head_id)
        opening = Opening(id=new_key("o"), team_id=team, name="private.otioz", state="failed")
        transaction.session.add(opening)
        user = accounts.demo_user(transaction.session)
        sign_ins.begin(transaction.session, user, "", "")
        sign_in = sign_ins.list_active(transaction.session, user.id)[0]
        wanted = derivation.want(transaction, media, by(team), "people" if picture else "loudness")
        derivation.cancel(transaction.session, wanted.id, by(team))
        brand = brands.add(transaction.session, by(team), "Private")
        upload = uploads.begin(runtime, transaction, by(team), "private.mp4", 100)
        link = upload_links.make(transaction.session, by(team, user.id), None, 24, 20)
        invitation = invitations.by_link(runtime, transaction, by(team, user.id), "editor")
        screening = screenings.begin(runtime, transaction.session, by(team, user.id), promo, screenings.Wanted())
        row = transaction.session.get_one(PromoRow, promo)
        note = screening_notes.write(
            transaction.session, row, screening_notes.Written("Oda"), "Private", revision=row.head_id, format_id="wide",
            at=0, screening=screening,
        )  # fmt: skip
        question = WatchQuestion(id=new_key("q"), file_id=file, who="Oda", at=1.0, text="Private?")
        transaction.session.add(question)
        account = ChannelAccount(
            id=new_key("ca"), team_id=team, user_id=user.id, channel="marquee", account=new_key("x"), token="t" * 9,
            refresh="t" * 9, until=now(),
        )  # fmt: skip
        transaction.session.add(account)
        transaction.session.flush()
        post = Post(
            id=new_key("po"), team_id=team, promo_id=promo, user_id=user.id, set_id="ps", account_id=account.id,
            file_id=file, title="Private", state="live", at=now(), due_at=now(),
        )  # fmt: skip
        turn = Turn(id=new_key("tu"), team_id=team, promo_id=promo, user_id=user.id, digest=new_key("d"), name="x",
                    files=[file])  # fmt: skip
        transaction.session.add_all([post, turn])
        table = core_batch.Table(("Title",), (("Private",),))
        batch = batches.begin(transaction, by(team, user.id), "two-days-only", table)
        hook = hooks.begin(transaction.session, by(team, user.id), "https://hollowmere.example/told", ["film"])
        opener, _ = tokens.begin(transaction.session, by(team, user.id), "Private", ["look"], 30)
        template = templates.save(transaction.session, by(team), promo, "Private", Facts())
    known = {
        "promo_id": promo, "revision": revision, "media_id": media, "file_id": file, "name": "poster.jpg",
        "derived_id": str(wanted.id), "export_id": made.id, "opening_id": opening.id, "sign_in_id": sign_in.id,
        "brand_id": brand.id, "key": "two-bars", "slot": "nothing", "source": "0" * 64, "template": template.id,
        "tile": "0", "form": "srt", "lane_id": "k-private", "design": "follow", "upload_id": upload.id,
        "link_id": link.id, "invitation_id": invitation.id, "member_id": user.id, "kind": "promo", "thing": promo,
        "screening_id": screening.id, "note_id": note.id, "question_id": question.id,
        "post_id": post.id, "account_id": account.id, "turn_id": turn.id, "channel": "marquee",
        "batch_id": batch.id, "number": "0", "token_id": opener.id, "hook_id": hook.id,
    }  # fmt: skip
    headers = {
        "X-CSRFToken": token(stranger), "X-Glow": "1", "Tus-Resumable": "1.0.0", "Upload-Offset": "0",
        "Content-Type": "application/x-www-form-urlencoded",
    }  # fmt: skip
    checked = 0
    for rule, method in routes(app):
        named = {"name", "revision", "key", "slot", "source", "tile", "form", "lane_id", "design", "kind", "channel"}
        if not set(rule.arguments) & (set(known) - named - {"number"}):
            continue
        path = re.sub(r"<(?:\w+:)?(\w+)>", lambda m: known[m.group(1)], rule.rule)
        form = {"command": '{"do": "rename", "name": "Mine"}', "formats": "wide", "resolution": "480"}
        query = {"start": "0", "length": "100", "frame": "0", "format": "wide", "first": revision, "second": revision}
        answer = stranger.open(
            path,
            method=method,
            headers=headers,
            data=form if method == "POST" else None,
            query_string=query if method == "GET" else None,
        )
        assert answer.status_code == 404, (method, path, answer.status_code)
        checked += 1
    assert checked > 15


def test_a_screening_answers_nobody_without_its_key_its_password_or_after_its_end(app, runtime: Runtime) -> None:
    with runtime.database.unit() as transaction:
        user = accounts.demo_user(transaction.session)
        actor = by(user.team_id, user.id)
        promo = transaction.session.scalar(select(PromoRow.id).where(PromoRow.team_id == user.team_id).limit(1))
        wanted = screenings.Wanted(password="four lanterns")
        made = screenings.begin(runtime, transaction.session, actor, promo, wanted)
        key, promo_id = screenings.key(runtime, made), made.promo_id
        other = promos.create(transaction.session, actor, "Another", ("wide",))
        elsewhere = screening_notes.write(
            transaction.session, other, screening_notes.Written("Eve"), "Not for you", revision=other.head_id,
            format_id="wide", at=0,
        )  # fmt: skip
    client = app.test_client()
    headers = {"X-CSRFToken": token(client), "X-Glow": "1"}
    asked = [
        (method, rule.rule, rule.endpoint) for rule in app.url_map.iter_rules()
        if rule.endpoint.startswith("watching.") for method in rule.methods - {"HEAD", "OPTIONS"}
    ]  # fmt: skip
    assert len(asked) > 10

    def answers(given: str) -> dict[str, int]:
        told = {}
        for method, rule, endpoint in asked:
            path = rule.replace("<key>", given).replace("<note_id>", elsewhere.id).replace("<file_id>", "f-x")
            data = {"text": "x", "who": "Eve"} if method == "POST" else None
            told[f"{method} {endpoint}"] = client.open(path, method=method, headers=headers, data=data).status_code
        return told

    assert set(answers("x" * 32).values()) == {404}
    before = answers(key)
    open_ones = {"GET watching.page", "POST watching.enter"}
    assert {before[one] for one in open_ones} == {200}
    assert {status for one, status in before.items() if one not in open_ones} == {422}
    assert (
        client.post(f"/screening/{key}/enter", headers=headers, data={"password": "four lanterns"}).status_code == 302
    )
    inside = answers(key)
    assert inside["GET watching.state"] == 200
    assert {inside[f"POST watching.{one}"] for one in ("answer", "remove")} == {404}, "notes of another promo"
    assert client.get(f"/promos/{promo_id}", headers=headers).status_code == 401, "a link opens its page and no more"
    with runtime.database.unit() as transaction:
        screenings.end(transaction.session, by(user.team_id, user.id), made.id)
    assert set(answers(key).values()) == {404}


def test_a_screening_for_some_with_a_password_asks_for_both_one_after_the_other(app, runtime: Runtime) -> None:
    with runtime.database.unit() as transaction:
        user = accounts.demo_user(transaction.session)
        promo = transaction.session.scalar(select(PromoRow.id).where(PromoRow.team_id == user.team_id).limit(1))
        wanted = screenings.Wanted(password="four lanterns", viewers="oda+film@x.example")
        made = screenings.begin(runtime, transaction.session, by(user.team_id, user.id), promo, wanted)
        key = screenings.key(runtime, made)
        screenings.send_way_in(runtime, transaction, made, "oda+film@x.example", f"/screening/{key}")
    (text,) = awaited(lambda: letters_to(runtime, "oda+film@x.example"))
    client = app.test_client()
    assert 'name="address"' in client.get(f"/screening/{key}").get_data(as_text=True)
    came = client.get(re.search(r"/screening/\S+", text)[0], follow_redirects=True).get_data(as_text=True)
    assert 'name="password"' in came
    assert 'name="address"' not in came
    headers = {"X-CSRFToken": token(client)}
    client.post(f"/screening/{key}/enter", headers=headers, data={"password": "four lanterns"})
    assert 'id="picture"' in client.get(f"/screening/{key}").get_data(as_text=True)


def test_a_pasted_fragment_cannot_bring_in_another_teams_media(app, stranger, runtime: Runtime) -> None:
    with runtime.database.unit() as transaction:
        team = accounts.demo_user(transaction.session).team_id
        promo = transaction.session.scalar(select(PromoRow.id).where(PromoRow.team_id == team).limit(1))
        opened = promos.open_promo(transaction.session, promo, by(team))
        piece = promos.fragment(transaction.session, promo, by(team), {opened.promo.clips[0].id}, None)
    headers = {"X-CSRFToken": token(stranger), "X-Glow": "1"}
    made = stranger.post("/promos", data={"name": "Mine", "formats": ["wide"]}, headers=headers)
    command = json.dumps({"do": "paste", "fragment": piece.model_dump(mode="json"), "at": 0})
    answer = stranger.post(made.location + "/edit", data={"command": command}, headers=headers)
    assert answer.status_code == 404
    assert "not on the Shelf" in answer.get_json()["sentence"]
    query = {"command": command, "around": "x"}
    assert stranger.get(made.location + "/try.jpg", query_string=query, headers=headers).status_code == 404


def test_a_change_without_a_token_is_refused_in_a_sentence(app, stranger) -> None:
    answer = stranger.post("/promos", data={"name": "x"}, headers={"X-Glow": "1"})
    assert answer.status_code == 400
    assert "out of date" in answer.get_json()["sentence"]


def test_every_answer_is_hardened(app, stranger) -> None:
    for path in ("/", "/welcome", "/exports", "/nothing", "/static/js/page.js"):
        answer = stranger.get(path)
        answer.close()
        headers = answer.headers
        policy = headers["Content-Security-Policy"]
        assert "unsafe" not in policy
        assert "default-src 'none'" in policy
        assert headers["X-Content-Type-Options"] == "nosniff"
    page = stranger.get("/").get_data(as_text=True)
    assert not re.search(r'<script(?![^>]*src=)|\sstyle="|\son\w+="', page)


def test_absurd_requests_get_a_sentence(app, stranger) -> None:
    headers = {"X-CSRFToken": token(stranger), "X-Glow": "1"}
    made = stranger.post("/promos", data={"name": "Mine", "formats": ["wide"]}, headers=headers)
    base = made.location
    for path in (
        "/frame.jpg?frame=-4",
        "/frame.jpg?frame=1e9",
        "/frame.jpg?short=5000",
        "/sound?start=0&length=99999999",
    ):
        assert stranger.get(base + path, headers=headers).get_json()["sentence"].endswith(".")
    assert stranger.get(base + "/frame.jpg?frame=99999999", headers=headers).status_code == 200, (
        "held at the last frame"
    )
    for command in ("", "{}", '{"do":"trim"}', "[]", '{"do":"add-words","text":"' + "x" * 5000 + '"}'):
        answer = stranger.post(base + "/edit", data={"command": command}, headers=headers)
        assert answer.status_code == 422
        assert answer.get_json()["sentence"]
    answer = stranger.post("/shelf/uploads", data=b"", headers={**headers, "X-File-Name": "empty.mp4"})
    assert "empty" in answer.get_json()["sentence"]


def test_a_link_for_files_opens_its_page_and_its_uploads_and_ends(app, runtime: Runtime) -> None:
    with runtime.database.unit() as transaction:
        user = accounts.demo_user(transaction.session)
        link = upload_links.make(transaction.session, by(user.team_id, user.id), None, 24, 5)
        other = uploads.begin(runtime, transaction, by(user.team_id), "private.mp4", 100)
    client = app.test_client()
    assert "Photos and footage" in client.get(f"/send/{link.token}").get_data(as_text=True)
    headers = {"X-CSRFToken": token(client), "X-Glow": "1", "Tus-Resumable": "1.0.0"}
    told = {"Upload-Length": "4", "Upload-Metadata": "filename YS50eHQ="}
    made = client.post(f"/send/{link.token}/tus", headers={**headers, **told})
    assert made.status_code == 201
    assert client.head(f"/send/{link.token}/tus/{other.id}", headers=headers).status_code == 404
    assert client.head(made.location, headers=headers).headers["Upload-Offset"] == "0"
    piece = {**headers, "Upload-Offset": "0", "Content-Type": "application/offset+octet-stream"}
    assert client.patch(made.location, data=b"ab", headers={**piece, "Upload-Offset": "3"}).status_code == 409
    wrong = {**piece, "Upload-Checksum": "sha1 AAAAAAAAAAAAAAAAAAAAAAAAAAA="}
    assert client.patch(made.location, data=b"ab", headers=wrong).status_code == 460
    assert client.patch(made.location, data=b"ab", headers=piece).headers["Upload-Offset"] == "2"
    with runtime.database.unit() as transaction:
        upload_links.end(transaction.session, by(link.team_id, link.user_id), link.id)
    assert client.head(made.location, headers=headers).status_code == 404
    assert client.get(f"/send/{link.token}").status_code == 404
    assert client.post("/shelf/tus", headers={**headers, **told}).status_code == 401
