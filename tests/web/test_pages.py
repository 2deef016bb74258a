"""Pages and fragments as the server writes them, without a browser."""

import io
import json
import re
import time
import uuid

import cv2
import numpy as np
import pytest
from sqlalchemy import select

from glowreel.core.errors import BadMedia, Fault, Missing, Refusal
from glowreel.core.time import ticks
from glowreel.services import accounts
from glowreel.services.setup import Runtime
from glowreel.store.models import PromoRow
from glowreel.web.app import create_app, megabytes
from glowreel.web.editor import checking
from glowreel.web.extensions import limiter
from tests.conftest import Files

NASTY = '<img src=x onerror="alert(1)">&"\'</script>'


@pytest.fixture(scope="module")
def app(runtime: Runtime):
    app = create_app(runtime)
    limiter.enabled = False

    @app.get("/raise/<kind>")
    def raise_it(kind: str) -> str:
        kinds = {"refusal": Refusal, "missing": Missing, "media": BadMedia}
        if kind in kinds:
            raise kinds[kind](kind, "It cannot be done.", "Do this instead.")
        raise Fault("secret details of what broke") if kind == "fault" else ValueError("more secrets")

    return app


class Visitor:
    """A client that sends what a page of ours would send."""

    def __init__(self, client) -> None:
        self.client = client
        page = client.get("/welcome").get_data(as_text=True)
        self.token = re.search(r'name="csrf-token" content="([^"]+)"', page).group(1)

    def post(self, path: str, data=None, **headers: str):
        return self.client.post(path, data=data, headers={"X-CSRFToken": self.token, "X-Glow": "1", **headers})

    def page(self, path: str) -> str:
        answer = self.client.get(path)
        assert answer.status_code == 200, path
        return answer.get_data(as_text=True)

    def command(self, path: str, command: dict, selected: str = "") -> str:
        answer = self.post(path + "/edit", {"command": json.dumps(command), "selected": selected, "format": "wide"})
        assert answer.status_code == 200, answer.get_data(as_text=True)
        return answer.get_data(as_text=True)

    def new_promo(self, name: str = "Mine") -> str:
        return self.post("/promos", {"name": name, "formats": ["wide", "tall"]}).location


@pytest.fixture
def visitor(app) -> Visitor:
    visitor = Visitor(app.test_client())
    form = {"name": "Ada Test", "email": f"{uuid.uuid4().hex}@x.example", "password": "long enough words", "team": ""}
    assert visitor.post("/sign-up", form).status_code == 302
    return visitor


@pytest.fixture
def guest(app) -> Visitor:
    """In the demo."""
    visitor = Visitor(app.test_client())
    assert visitor.post("/demo").status_code == 302
    return visitor


def state_of(page: str) -> dict:
    """What the page's scripts are told."""
    return json.loads(re.search(r'<script type="application/json" id="state"[^>]*>(.*?)</script>', page).group(1))


def rows_of(state: dict) -> list[dict]:
    """Every clip and item."""
    return [*state["main"], *(row for track in state["tracks"] for row in track["rows"])]


def test_whatever_people_type_is_only_ever_text(visitor: Visitor) -> None:
    path = visitor.new_promo(NASTY)
    answers = [visitor.command(path, {"do": "add-words", "text": NASTY})]
    item = state_of(answers[0])["tracks"][0]["rows"][0]["id"]
    answers.append(visitor.command(path, {"do": "insert-filler"}))
    scene = state_of(answers[1])["scenes"][0]["id"]
    answers.append(visitor.command(path, {"do": "rename-scene", "scene": scene, "name": NASTY[:80]}))
    answers.append(visitor.command(path, {"do": "add-note", "text": NASTY}))
    answers += [visitor.page(path), visitor.page(f"{path}/details?selected={item}&format=wide"), visitor.page("/")]
    answers += [visitor.page(f"{path}/history")]
    for answer in answers:
        assert "<img src=x" not in answer
        assert "</script><" not in answer
        assert "&lt;img src=x" in answer


def test_an_edit_answers_with_every_part_that_may_have_changed(visitor: Visitor) -> None:
    answer = visitor.command(visitor.new_promo(), {"do": "add-words", "text": "Hello"})
    names = set(re.findall(r'id="([\w-]+)"[^>]*hx-swap-oob', answer))
    assert names == {"status", "wall", "lanes", "export-formats", "export-count", "state", "bench-details"}
    state = state_of(answer)
    assert state["sentence"] == "Added the words “Hello”"
    assert [row["kind"] for track in state["tracks"] for row in track["rows"]] == ["words"]
    assert set(state["boxes"]) == {"wide"}, "only those of the format that is worked in"


@pytest.mark.parametrize(
    ("name", "expected"),
    [
        ("over-the-fields", "Letterbox"),
        ("slow-ascent", "Fade in"),
        ("Breakfast", "Your words|Font"),
        ("hollowmere-logo", "Opacity"),
    ],
)
def test_details_fit_what_is_selected(guest: Visitor, runtime: Runtime, name: str, expected: str) -> None:
    with runtime.database.unit() as transaction:
        team = accounts.demo_user(transaction.session).team_id
        promo = transaction.session.scalar(
            select(PromoRow.id).where(PromoRow.team_id == team, PromoRow.name == "Dawn flight vouchers")
        )
    page = guest.page(f"/promos/{promo}")
    rows = rows_of(state_of(page))
    item = next(row["id"] for row in rows if row["label"].startswith(name))
    other = next(row["id"] for row in rows if row["id"] != item)
    details = guest.page(f"/promos/{promo}/details?selected={item}&format=tall")
    assert f'data-for="{item}"' in details
    assert re.search(expected, details)
    assert "Select something" in guest.page(f"/promos/{promo}/details?selected=&format=tall")
    assert "2 items selected" in guest.page(f"/promos/{promo}/details?selected={item},{other}")


def test_the_length_gauge_says_how_far_off_it_is(visitor: Visitor) -> None:
    path = visitor.new_promo()
    assert "15.0 s under 15–30 s" in visitor.page(path)
    for seconds, words in ((20, "within 15–30 s"), (15, "5.0 s over 15–30 s")):
        assert words in visitor.command(path, {"do": "insert-filler", "length": ticks(seconds)})


def test_undo_and_redo_over_the_wire(visitor: Visitor) -> None:
    path = visitor.new_promo()
    visitor.command(path, {"do": "insert-filler"})
    assert 'title="Redo: Added a filler"' in visitor.post(path + "/undo").get_data(as_text=True)
    assert 'title="Undo: Added a filler"' in visitor.post(path + "/redo").get_data(as_text=True)
    answer = visitor.post(path + "/redo")
    assert answer.status_code == 422
    assert answer.get_json() == {"code": "no-step", "sentence": "There is nothing to redo."}


def test_a_promo_is_copied_taken_off_and_brought_back(visitor: Visitor) -> None:
    path = visitor.new_promo("Offer")
    copy = visitor.post(path + "/copy").location
    assert "Offer (copy)" in visitor.page(copy)
    visitor.post(path + "/remove")
    page = visitor.page("/")
    assert "“Offer” is off the Desk." in page
    assert visitor.client.get(path).status_code == 404
    visitor.post(path + "/restore")
    assert visitor.client.get(path).status_code == 200


def test_uploads_are_listed_found_and_removed(visitor: Visitor, files: Files) -> None:
    import numpy as np

    song = files.sound("s.wav", np.full((4800, 2), 0.2)).read_bytes()
    made = visitor.client.post(
        "/shelf/uploads", data=song, headers={"X-CSRFToken": visitor.token, "X-File-Name": "M%C3%BCller%20%3Cb%3E.wav"}
    )
    assert made.status_code == 201
    assert made.get_json()["name"] == "Müller <b>.wav"
    assert "Müller &lt;b&gt;.wav" in visitor.page("/shelf/list")
    assert "Müller" in visitor.page("/shelf/list?find=ÜLL")
    assert "No file of that name" in visitor.page("/shelf/list?find=nothing")
    assert "Müller" not in visitor.post(f"/shelf/{made.get_json()['id']}/remove").get_data(as_text=True)


def test_timelines_open_through_the_desk_and_bad_ones_say_why(visitor: Visitor) -> None:
    path = visitor.new_promo("Out and in")
    visitor.command(path, {"do": "add-words", "text": "Kept"})
    bundle = visitor.client.get(path + "/bundle.otioz")
    assert bundle.headers["Content-Disposition"].endswith("Out-and-in.otioz")
    answer = visitor.post("/promos/open", {"file": (io.BytesIO(bundle.data), "a.otioz")})
    bundle.close()
    assert answer.status_code == 302
    assert "/openings/" in answer.location
    made = until_opened(visitor, answer.location)
    assert made.location != path
    assert "Kept" in visitor.page(made.location)
    answer = visitor.post("/promos/open", {"file": (io.BytesIO(b"{}"), "a.otio")})
    refused = until_opened(visitor, answer.location)
    assert "There is no timeline in that file." in refused.get_data(as_text=True)


def until_opened(visitor: Visitor, where: str):
    """The answer of an opening's page once a worker is done with it: a way on, or why not."""
    for _ in range(300):
        answer = visitor.client.get(where)
        if answer.status_code == 302 or "refusal" in answer.get_data(as_text=True):
            return answer
        time.sleep(0.1)
    raise AssertionError("it is not opened")


def test_a_frame_is_not_sent_again_while_its_recipe_is_the_same(visitor: Visitor) -> None:
    path = visitor.new_promo()
    visitor.command(path, {"do": "insert-filler"})
    first = visitor.client.get(f"{path}/frame.jpg?format=wide&frame=3&short=120")
    assert first.mimetype == "image/jpeg"
    etag = first.headers["ETag"]
    again = visitor.client.get(f"{path}/frame.jpg?format=wide&frame=40&short=120", headers={"If-None-Match": etag})
    assert again.status_code == 304, "a filler looks the same throughout"
    revision = state_of(visitor.page(path))["rev"]
    kept = visitor.client.get(f"{path}/frame.jpg?rev={revision}&frame=3&short=120")
    assert "immutable" in kept.headers["Cache-Control"], "a revision never changes, so neither do its frames"
    assert kept.headers["ETag"] == etag


def test_every_kind_of_error_has_one_answer(app, visitor: Visitor) -> None:
    for kind, status in (("refusal", 422), ("missing", 404), ("media", 422), ("fault", 500), ("bug", 500)):
        for_scripts = visitor.client.get(f"/raise/{kind}", headers={"X-Glow": "1"})
        for_people = visitor.client.get(f"/raise/{kind}", headers={"Accept": "text/html"})
        assert (for_scripts.status_code, for_people.status_code) == (status, status)
        sentence = for_scripts.get_json()["sentence"]
        assert sentence in for_people.get_data(as_text=True)
        assert "secret" not in sentence
        told = "It cannot be done. Do this instead."
        assert sentence == (
            told if status != 500 else "Something broke on our side. Nothing of yours is lost; try again."
        )


def test_a_missing_icon_begins_no_session_beside_that_of_the_page(app) -> None:
    stranger = app.test_client()
    icon = stranger.get("/favicon.ico", headers={"Accept": "image/*,*/*;q=0.8", "Sec-Fetch-Dest": "image"})
    assert (icon.status_code, "Set-Cookie" in icon.headers) == (404, False)
    page = stranger.get("/nowhere", headers={"Accept": "text/html", "Sec-Fetch-Dest": "document"})
    assert "nothing at this address" in page.get_data(as_text=True)


def test_sizes_read_well() -> None:
    assert [megabytes(n) for n in (400, 999_000, 2_140_000)] == ["1 kB", "999 kB", "2.1 MB"]


def test_what_takes_too_long_is_told_to_be_looked_at_again(visitor: Visitor, monkeypatch: pytest.MonkeyPatch) -> None:
    path = visitor.new_promo()
    visitor.command(path, {"do": "insert-filler"})
    visitor.command(path, {"do": "add-words", "text": "White on sand", "at": 0})
    monkeypatch.setattr(checking, "LOOKING", -1.0)
    hurried = visitor.client.get(f"{path}/checks")
    assert hurried.status_code == 200
    assert b'data-whole="false"' in hurried.data
    monkeypatch.setattr(checking, "LOOKING", 60.0)
    whole = visitor.client.get(f"{path}/checks")
    assert b'data-whole="true"' in whole.data
    assert b"hardly stands out" in whole.data
    assert b"hardly stands out" not in hurried.data


def test_a_design_plays_on_its_card(guest: Visitor) -> None:
    answer = guest.client.get("/designs/two-bars.webp")
    assert answer.status_code == 200
    done, loop = cv2.imdecodeanimation(np.frombuffer(answer.data, np.uint8))
    assert done
    assert len(loop.frames) >= 10
    assert 2500 <= sum(loop.durations) <= 5000, "frames that are alike are one"
    first, middle = (np.asarray(loop.frames[n], np.int16) for n in (0, len(loop.frames) // 2))
    assert np.abs(first - middle).mean() > 2, "something moves"
    assert guest.client.get("/designs/none-such.webp").status_code == 404


def test_words_never_to_use_keep_their_lines(visitor: Visitor) -> None:
    brand = visitor.post("/brands", {"name": "Ours"}).location
    sent = {"section": "never", "never": "cheap\r\n  once in a   lifetime \r\n\r\ncheap"}
    page = visitor.post(brand + "/change", sent).get_data(as_text=True)
    assert ">\ncheap\nonce in a lifetime</textarea>" in page


def test_a_proposal_with_a_colour_that_is_none_is_refused_in_a_sentence(visitor: Visitor) -> None:
    brand = visitor.post("/brands", {"name": "Ours"}).location
    answer = visitor.post(brand + "/accept", {"take": "accent", "colour-accent": "sunny"})
    assert answer.status_code == 422
    assert "is no colour such as" in answer.get_json()["sentence"]
