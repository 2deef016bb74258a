"""A second factor: set up with a device, asked for at every way in, each code once, codes on paper, taken away."""

from __future__ import annotations

import re
import time

import cv2
import numpy as np
import pyotp
import pytest
from selenium.webdriver.common.keys import Keys

from glowreel.services import resets
from glowreel.services.setup import Runtime
from glowreel.web.app import create_app
from glowreel.web.extensions import limiter
from tests.web.conftest import Browser
from tests.web.test_security import PASSWORD, Person


@pytest.fixture(scope="module")
def app(runtime: Runtime):
    app = create_app(runtime)
    limiter.enabled = False
    return app


def now(device: pyotp.TOTP, later: int = 0) -> str:
    return device.at(int(time.time()) + 30 * later)


@pytest.fixture
def guarded(app) -> tuple[Person, pyotp.TOTP, list[str]]:
    """Somebody whose device makes codes, and their codes on paper."""
    ada = Person(app)
    ada.sign_up()
    page = ada.client.get("/account/second").get_data(as_text=True)
    assert "<svg" in page
    device = pyotp.TOTP(re.search(r'<code class="num">(\w+)</code>', page).group(1))
    assert ada.post("/account/second", {"code": "000000"}).status_code == 422
    shown = ada.post("/account/second", {"code": now(device, -1)}).get_data(as_text=True)
    paper = re.findall(r"<li><code>([0-9a-f-]+)</code></li>", shown)
    assert len(paper) == 8
    return ada, device, paper


def test_a_password_alone_opens_nothing_and_no_code_passes_twice(app, guarded) -> None:
    ada, device, _ = guarded
    other = Person(app, ada.email)
    answer = other.sign_in()
    assert answer.headers["Location"].startswith("/sign-in/code")
    assert not other.inside
    assert other.post("/sign-in/code", {"code": ""}).status_code == 422
    assert other.post("/sign-in/code", {"code": "123"}).status_code == 422
    code = now(device)
    assert other.post("/sign-in/code", {"code": code}).status_code == 302
    assert other.inside
    third = Person(app, ada.email)
    third.sign_in()
    assert third.post("/sign-in/code", {"code": code}).status_code == 422, "it was used before"
    assert third.post("/sign-in/code", {"code": now(device, 1)}).status_code == 302


def test_the_square_on_the_page_can_be_read_by_a_device(browser: Browser) -> None:
    browser.sign_up()
    browser.go("/account/second")
    shown = cv2.imdecode(np.frombuffer(browser.find(".second-square").screenshot_as_png, np.uint8), cv2.IMREAD_COLOR)
    read, *_ = cv2.QRCodeDetector().detectAndDecode(shown)
    device = pyotp.parse_uri(read)
    assert (device.issuer, device.secret) == ("Glow Reel", browser.find(".second-steps code").text)
    browser.find("#code").send_keys(device.now(), Keys.ENTER)
    browser.until(lambda: len(browser.all("#paper li")) == 8, "the codes on paper")
    assert browser.accessibility() == []


def test_a_code_on_paper_opens_once(app, guarded) -> None:
    ada, _, paper = guarded
    for passes in (True, False):
        person = Person(app, ada.email)
        person.sign_in()
        person.post("/sign-in/code", {"code": paper[3].upper()})
        assert person.inside is passes


def test_the_sheet_of_a_page_asks_for_the_code_in_place(app, guarded) -> None:
    ada, device, _ = guarded
    script = Person(app, ada.email)
    script.client.environ_base["HTTP_ACCEPT"] = "*/*"
    answers = {"email": ada.email, "password": PASSWORD, "csrf_token": script.token()}
    asked = script.client.post("/sign-in", data=answers, headers={"X-Glow": "1"})
    assert (asked.status_code, "second-factor" in asked.get_data(as_text=True)) == (422, True)
    done = script.client.post("/sign-in", data={**answers, "code": now(device)}, headers={"X-Glow": "1"})
    assert done.status_code == 200
    assert script.inside


def test_a_new_password_by_mail_does_not_go_round_the_device(app, guarded, runtime: Runtime) -> None:
    ada, device, _ = guarded
    keys: list[str] = []
    with runtime.database.unit() as unit:
        resets.ask(unit, ada.email, lambda key: keys.append(key) or "https://studio.example/reset")
    thief = Person(app, ada.email)
    answer = thief.post(f"/reset/{keys[0]}", {"password": "eleven new lanterns"})
    assert answer.headers["Location"] == "/sign-in/code"
    assert not thief.inside
    assert thief.post("/sign-in/code", {"code": now(device)}).status_code == 302


def test_it_is_taken_away_with_the_password(app, guarded) -> None:
    ada, _, _ = guarded
    assert ada.post("/account/second/end", {"password": "wrong"}).status_code == 422
    assert ada.post("/account/second/end", {"password": PASSWORD}).status_code == 302
    other = Person(app, ada.email)
    other.sign_in()
    assert other.inside


def test_nobody_sets_one_up_for_the_demo(app) -> None:
    guest = Person(app)
    guest.post("/demo")
    assert guest.client.get("/account/second").status_code == 422
