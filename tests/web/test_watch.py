"""The watch page of a film: set by the team, seen on a telephone without a cookie, counted, asked and answered."""

from __future__ import annotations

import pytest

from tests.web.conftest import Browser
from tests.web.test_screenings import phone

pytestmark = pytest.mark.long

__all__ = ["phone"]


def filmed(browser: Browser) -> None:
    """Exports the first format of a copy, small, and opens what is set for its watch page."""
    browser.open_copy()
    browser.click("#open-export")
    for box in browser.all('#export-formats input[name="formats"]:checked')[1:]:
        browser.js("arguments[0].click()", box)
    browser.find("#export-form input[name=resolution][value='480']")
    browser.js("document.querySelector('#export-form input[name=resolution][value=\"480\"]').click()")
    browser.click("#start-export")
    browser.until(lambda: browser.all(".export-file.is-done"), "the film", 120)
    browser.go(browser.find('.export-file a[href$="/page"]').get_attribute("href").removeprefix(browser.address))


def test_a_film_has_a_page_with_chapters_a_call_to_action_questions_and_numbers(
    browser: Browser, phone: Browser
) -> None:
    filmed(browser)
    typed = {
        "title": "Fly at first light", "about": "See the valley at 0:05.", "action": "Book a flight",
        "leads_to": "hollowmere.example/book", "action_at": "2",
    }  # fmt: skip
    for name, value in typed.items():
        field = browser.find(f'[name="{name}"]')
        field.clear()
        field.send_keys(value)
    browser.click('[name="asks"]')
    browser.click("#keep-page")
    browser.until(lambda: "like that now" in browser.find("#toasts").text, "the page to be kept")
    assert not browser.accessibility()
    link = browser.find("[data-copy]").get_attribute("data-copy") or ""
    path = link[link.index("/watch/") :]
    phone.forget()
    phone.go(path)
    assert not phone.driver.get_cookies(), "whoever only watches is given no cookie"
    assert phone.find("h1").text == "Fly at first light"
    assert not phone.accessibility()
    assert phone.js("return document.documentElement.scrollWidth <= window.innerWidth"), "it fits a telephone"
    preview = phone.js("return document.querySelector('meta[property=\"og:image\"]').content")
    assert phone.js(f"return fetch('{preview}').then((answer) => answer.headers.get('content-type'))") == "image/jpeg"
    assert len(phone.all(".watch-chapters button")) == 5
    phone.js("document.getElementById('film').muted = true")
    phone.click(".watch-about .watch-moment")
    at = "return document.getElementById('film').currentTime"
    phone.until(lambda: phone.js(at) > 5.2, "it to play from there")
    assert phone.find("#action").is_displayed(), "the call to action has come"
    phone.js("document.getElementById('film').pause()")
    phone.js("document.getElementById('action-below').removeAttribute('target')")
    phone.js("document.getElementById('action-below').addEventListener('click', (event) => event.preventDefault())")
    phone.click("#action-below")
    phone.find("#ask-text").send_keys("Is it cold up there?")
    phone.find("#ask-who").send_keys("Oda")
    phone.click("#ask button")
    phone.until(lambda: "on its way" in phone.find("#said").text, "the question to be taken")
    phone.driver.refresh()
    assert not phone.all(".watch-questions li"), "nobody sees it before it is answered"
    browser.driver.refresh()
    browser.until(lambda: browser.find(".watch-numbers").text.split()[::2] == ["plays", "presses"], "the numbers")
    assert browser.find(".watch-numbers").text.split()[1::2] == ["1", "1"]
    browser.find(".watch-asked textarea").send_keys("No: the burner warms you, see 0:12.")
    browser.click(".watch-asked .btn-plain")
    phone.driver.refresh()
    assert "the burner warms you" in phone.find(".watch-questions li").text
    assert phone.find(".watch-answer .watch-moment").get_attribute("data-at") == "12"
    phone.go(f"{path}/embed")
    assert phone.find("video").get_attribute("src")
    browser.go(path)
    assert browser.find('a[href*="/promos/"]').text.strip() == "Edit again", "for somebody of the team"
    assert not browser.complaints()
    assert not phone.complaints()


def test_a_film_may_ask_for_a_password_and_keep_its_file(browser: Browser, phone: Browser) -> None:
    filmed(browser)
    browser.find('[name="password"]').send_keys("four lanterns")
    browser.click('[name="downloads"]')
    browser.click("#keep-page")
    browser.until(lambda: "like that now" in browser.find("#toasts").text, "the page to be kept")
    link = browser.find("[data-copy]").get_attribute("data-copy") or ""
    path = link[link.index("/watch/") :]
    phone.forget()
    phone.go(path)
    assert "Dawn flight" not in phone.find("body").text
    for place in ("film.mp4", "poster.jpg", "embed"):
        status = phone.js(f"return fetch('{path}/{place}').then((answer) => answer.status)")
        assert status == 422, place
    phone.find("#password").send_keys("wrong")
    phone.click("form .btn-main")
    phone.until(lambda: "not the password" in phone.find("body").text, "the refusal")
    phone.find("#password").send_keys("four lanterns")
    phone.click("form .btn-main")
    phone.until(lambda: phone.all("#film"), "the film")
    assert not phone.all('a[href*="download"]')
    assert phone.js(f"return fetch('{path}/film.mp4?download=1').then((answer) => answer.status)") == 404
