"""A walk of a team: somebody is invited, a promo shared, shown for notes, changed, and approved."""

from __future__ import annotations

import uuid

from selenium.webdriver.common.keys import Keys

from tests.walks.person import Person, rows
from tests.web.conftest import Browser

PICTURE = "return Number(document.getElementById('picture').dataset.shown ?? -1)"


def come_in(colleague: Person, link: str) -> None:
    """Signs up by an invitation."""
    colleague.browser.driver.get(link)
    colleague.press("main .btn-main", "Sign up")
    colleague.type("#name", "Ines Farrow")
    colleague.type("#email", f"{uuid.uuid4().hex}@team.example")
    colleague.type("#password", "seven quiet lanterns")
    colleague.press("form .btn-main")


def test_9_a_team_shares_shows_changes_and_approves(person: Person, other: Browser) -> None:
    browser, colleague = person.browser, Person(other)
    browser.go("/templates/how-it-was")
    browser.click("#template-fill")
    browser.find(".slot-card")
    browser.go("/")
    person.press(".bar-nav a", "Team")
    person.press("#invite-by-link")
    come_in(colleague, person.see("[data-invitation] [data-copy]").get_attribute("data-copy") or "")
    person.press("[data-invitation] [data-copy]")
    other.until(lambda: other.all(".card-promo"), "the team's promo on the colleague's Desk")
    # Kept to oneself, and shared again.
    person.press(".bar-nav a", "Desk")
    browser.driver.refresh()
    person.press(".share-press")
    browser.until(lambda: "only you" in browser.find(".share-press").text, "it to be private")
    other.go("/")
    assert not other.all(".card-promo")
    person.press(".share-press")
    browser.until(lambda: "shared by you" in browser.find(".share-press").text, "it to be shared")
    # Shown for a week, with notes at moments.
    person.press(".card-promo-link")
    browser.ready()
    person.press("#open-review")
    person.press("#open-screenings")
    person.choose('.screening-new [name="days"]', "a week")
    person.press("#make-screening")
    link = person.see("[data-screening] [data-copy]").get_attribute("data-copy") or ""
    person.press("[data-screening] [data-copy]")
    person.press("#screenings-sheet [data-close]")
    other.driver.get(link)
    other.until(lambda: other.js(PICTURE) >= 0, "the first frame")
    for share, text in ((0.3, "Bigger here, please"), (0.7, "This is lovely")):
        across, down = other.js("const r = document.getElementById('at').getBoundingClientRect();"
                                "return [r.x + r.width * arguments[0], r.y + r.height / 2]", share)  # fmt: skip
        colleague.tap(across, down, "a moment")
        colleague.type("#note-text", text)
        colleague.press("#send-note")
        other.until(lambda text=text: text in other.find("#notes").text, "the note in the list")
    browser.until(lambda: len(browser.all("#review .review-note")) == 2, "the notes in the editor")
    assert all(browser.js("return [...document.querySelectorAll('#review .note-when')].map((b) => b.dataset.go > 0)"))
    # A new version, an answer, and the approval of what is there now.
    person.key(Keys.SHIFT, "n")
    browser.until(lambda: browser.find(".review-note").is_displayed(), "the notes to be open")
    person.words("Twelve years on")
    assert rows(browser, "words")
    person.type(".review-answer input", "Bigger now.", Keys.ENTER)
    person.press("#review .review-note:not(.is-done) [data-done]")
    other.until(lambda: "Bigger now." in other.find("#notes").text, "the answer at the screening")
    colleague.press('[data-decide="approve"]')
    browser.until(lambda: "Approved by Ines Farrow" in browser.find("#review").text, "the approval of this version")
    person.with_those_of(colleague)
    person.upto(9)
