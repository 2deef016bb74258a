"""Somebody in the editor, and somebody else without an account at a screening, at the same time."""

from __future__ import annotations

import time
from collections.abc import Iterator

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys
from tools.stack import Stack

from tests.web.conftest import Browser, opened

pytestmark = pytest.mark.long


@pytest.fixture(scope="module")
def phone(stack: Stack) -> Iterator[Browser]:
    """Somebody else's browser, as wide as a telephone."""
    with opened(stack, 420, 860) as browser:
        yield browser


def shown_to(browser: Browser, **ticked: bool) -> str:
    """Makes a screening of the promo in the editor; answers with its link."""
    browser.click("#open-review")
    browser.click("#open-screenings")
    browser.find("#make-screening")
    for name, on in ticked.items():
        if on:
            browser.click(f'.screening-new [name="{name}"]')
    before = len(browser.all("[data-screening]"))
    browser.click("#make-screening")
    browser.until(lambda: len(browser.all("[data-screening]")) == before + 1, "the new screening")
    link = browser.find("[data-screening] [data-copy]").get_attribute("data-copy") or ""
    assert not browser.accessibility()
    browser.click("#screenings-sheet [data-close]")
    return link[link.index("/screening/") :]


def test_a_reviewer_without_an_account_writes_and_it_appears_in_the_editor_at_once(
    browser: Browser, phone: Browser
) -> None:
    browser.open_copy()
    link = shown_to(browser)
    phone.forget()
    phone.go(link)
    phone.until(lambda: phone.js("return document.getElementById('picture').dataset.shown"), "the first frame")
    assert not phone.accessibility()
    assert phone.js("return document.documentElement.scrollWidth <= window.innerWidth"), "it fits a telephone"
    phone.js("const at = document.getElementById('at'); at.value = 120; at.dispatchEvent(new Event('input'))")
    phone.until(lambda: phone.js("return document.getElementById('picture').dataset.shown") == "120", "that frame")
    phone.click("#draw")
    ActionChains(phone.driver).drag_and_drop_by_offset(phone.find("#strokes"), 60, 20).perform()
    phone.find("#note-text").send_keys("The balloon is cut off here")
    phone.click("#send-note")
    phone.until(lambda: phone.find("#who").is_displayed(), "who it is, which is asked once")
    phone.find("#who").send_keys("Oda Lindt")
    phone.click("#send-note")
    browser.until(lambda: browser.all(".note.is-review"), "the note on the lane, by itself", 5)
    flag = browser.find(".note.is-review")
    assert "Oda Lindt at 4.0 s" in (flag.get_attribute("aria-label") or "")
    phone.until(lambda: phone.all("#notes .screening-note"), "it in the viewer's own list")
    assert phone.all("#strokes polyline"), "what was drawn"
    browser.find("body").send_keys(Keys.SHIFT, "n")
    browser.until(lambda: abs(browser.js("return Number(document.getElementById('frame').dataset.shown)") - 120) < 1,
                  "the place of the note")  # fmt: skip
    row = browser.find("#review .review-note")
    assert "The balloon is cut off here" in row.text
    browser.find(".review-answer input").send_keys("Moved it.", Keys.ENTER)
    phone.until(lambda: "Moved it." in phone.find("#notes").text, "the answer at the screening")
    browser.click("[data-done]")
    phone.until(lambda: phone.all("#notes .is-done"), "that it is done")
    browser.until(lambda: browser.find("#open-notes").text == "", "no open note")
    phone.click('[data-decide="approve"]')
    browser.until(lambda: "Approved by Oda Lindt" in browser.find("#review").text, "the approval")
    browser.click("[popovertargetaction=hide]")
    browser.find("body").send_keys("w")
    browser.settled()
    browser.until(
        lambda: "approved an earlier version" in browser.js("return document.getElementById('review').textContent"),
        "the approval to be for what was seen",
    )
    phone.until(lambda: "it has changed since" in phone.find("#notes").text, "the viewer to know")
    assert not browser.complaints()
    assert not phone.complaints()


def test_a_screening_plays_in_every_format_and_compares_versions(browser: Browser, phone: Browser) -> None:
    browser.open_copy()
    browser.click("#open-history")
    browser.click("#steps [data-name-step]")
    browser.find(".step-naming").send_keys("First cut", Keys.ENTER)
    browser.until(lambda: "First cut" in browser.find("#steps").text, "its name")
    browser.find("body").send_keys(Keys.ESCAPE)
    browser.find("body").send_keys("w")
    browser.settled()
    phone.forget()
    phone.go(shown_to(browser))
    phone.until(lambda: phone.js("return document.getElementById('picture').dataset.shown"), "the first frame")
    phone.click('[data-shape="tall"]')
    phone.until(
        lambda: phone.js("const c = document.getElementById('picture'); return c.height > c.width"), "the tall one"
    )
    phone.click("#start")
    phone.until(lambda: phone.js("return Number(document.getElementById('at').value)") > 20, "it to play")
    phone.until(lambda: phone.js("return document.getElementById('screening').dataset.short"), "its pace")
    phone.click("#play")
    phone.js("const s = document.getElementById('beside'); s.selectedIndex = 2; s.dispatchEvent(new Event('change'))")
    phone.until(lambda: phone.js("return document.querySelector('#other-screen img').naturalWidth > 0"), "both")
    assert phone.find("#other-screen figcaption").text == "First cut"
    assert not phone.complaints()


def test_a_password_an_end_and_a_stranger(browser: Browser, phone: Browser) -> None:
    browser.open_copy()
    browser.click("#open-review")
    browser.click("#open-screenings")
    browser.find('.screening-new [name="password"]').send_keys("four lanterns")
    browser.click("#make-screening")
    link = browser.find("[data-screening] [data-copy]").get_attribute("data-copy") or ""
    link = link[link.index("/screening/") :]
    phone.forget()
    phone.go(link)
    assert not phone.accessibility()
    assert "Dawn flight" not in phone.find("body").text, "nothing is told before"
    assert phone.js(f"return fetch('{link}/frame.jpg?frame=0').then((answer) => answer.status)") == 422
    phone.find("#password").send_keys("wrong", Keys.ENTER)
    phone.until(lambda: "not the password" in phone.find("body").text, "the refusal")
    phone.find("#password").send_keys("four lanterns", Keys.ENTER)
    phone.until(lambda: phone.all("#picture"), "the film")
    browser.click("[data-screening] [data-end]")
    browser.until(lambda: not browser.all("[data-screening]"), "its end")
    phone.go(link)
    assert "This screening is over" in phone.find("body").text


def test_somebody_comes_into_the_team_by_a_link_and_does_what_their_role_allows(
    browser: Browser, phone: Browser
) -> None:
    browser.sign_up()
    browser.go("/team")
    assert not browser.accessibility()
    browser.click("#invite-by-link")
    browser.until(lambda: browser.all("[data-invitation] [data-copy]"), "the link")
    link = browser.find("[data-invitation] [data-copy]").get_attribute("data-copy") or ""
    phone.forget()
    phone.go(link[link.index("/join/") :])
    assert "invites you as editor" in phone.find("main").text.replace("\n", " ")
    assert not phone.accessibility()
    phone.find("main .btn-main").click()
    for name, value in (("name", "Ines Farrow"), ("email", f"{time.time_ns()}@x.example"),
                        ("password", "seven quiet lanterns")):  # fmt: skip
        phone.find(f"#{name}").send_keys(value)
    phone.click("form .btn-main")
    phone.find("#start-blank").click()
    phone.find("#promo-name").send_keys("By Ines", Keys.ENTER)
    phone.ready()
    browser.go("/")
    browser.until(lambda: "By Ines" in browser.find("#desk-promos").text, "what she made")
    phone.go("/")
    phone.click(".share-press")
    phone.until(lambda: "only you" in phone.find(".share-press").text, "it to be hers alone")
    browser.go("/")
    assert not browser.all(".card-promo")
    phone.click(".share-press")
    phone.until(lambda: "shared by you" in phone.find(".share-press").text, "it to be shared")
    browser.go("/")
    assert "shared by Ines Farrow" in browser.find(".share-press").text
    browser.go("/team")
    role = '[data-member]:nth-child(2) select[name="role"]'
    browser.js(
        f"const s = document.querySelector('{role}'); s.value = 'reviewer';"
        "s.dispatchEvent(new Event('change', {bubbles: true}))"
    )
    browser.until(lambda: "htmx-request" not in (browser.find(role).get_attribute("class") or ""), "the new role")
    browser.settled()
    phone.go("/")
    phone.find(".card-promo")
    assert not phone.all("#start-blank"), "a reviewer starts nothing"
    browser.click("[data-member]:nth-child(2) .menu summary")
    next(one for one in browser.all(".menu-card button") if "Take them out" in one.text).click()
    browser.until(lambda: "Ines Farrow is not in the team" in browser.find("#toasts").text, "the word of it")
    phone.go("/")
    assert not phone.all(".card-promo"), "she works in a team of her own now"
    assert not browser.complaints()
