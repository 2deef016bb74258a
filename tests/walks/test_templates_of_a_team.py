"""A content lead's walk: a brand, three templates made with it, and one of them filled by a colleague."""

from __future__ import annotations

import wave
from pathlib import Path

import numpy as np
from PIL import Image
from selenium.webdriver.common.keys import Keys

from tests.walks.person import NAV, Person, films, rows
from tests.walks.test_team import come_in
from tests.web.conftest import Browser


def a_brand(person: Person, logo: Path) -> None:
    browser = person.browser
    person.press(NAV, "Brand book")
    person.type("#new-brand", "Saltwick", Keys.ENTER)
    browser.until(lambda: browser.find('#brand [name="name"]').get_attribute("value") == "Saltwick", "the brand")
    person.bring(logo, into="#brand-file")
    browser.until(lambda: browser.all(".brand-logo-pic img"), "the logo", 60)
    person.type('#brand [name="typed-second"]', "#8A2BE2", Keys.TAB)
    person.choose('#brand [name="font-heading"]', "Fraunces")


def nothing_selected(person: Person) -> None:
    """Details shows the promo itself."""
    if person.browser.all(".item.is-chosen"):
        person.key(Keys.ESCAPE)
    person.details()


def kept(person: Person, name: str, slots: int, rule: str = "") -> None:
    """The promo that is open, with so many things to be filled, is saved as a template."""
    browser = person.browser
    nothing_selected(person)
    person.press(".details a", "Save as a template")
    assert browser.find(".template-save .soft").text.startswith(f"{slots} thing")
    person.type('[name="name"]', name)
    if rule:
        person.press(f'[name="rule"][value="{rule}"]')
    person.press("#keep-template")
    browser.until(lambda: name in browser.find("h1").text, "the template")


def begun(person: Person, channel: str) -> None:
    """A new promo in the shape of a channel."""
    person.press(NAV, "Desk")
    person.press("#start-blank")
    person.press("#new-promo .pick", channel)
    person.press("#create-promo")
    person.browser.ready()


def asked_for(person: Person, what: str) -> None:
    """What is selected is to be filled by whoever uses the template."""
    person.details()
    person.group("slots")
    person.press('.details [data-group="slots"] button', f"Ask for {what}")


def a_story(person: Person) -> None:
    """A story that ships, in tall alone, on a ground of the brand's second colour."""
    browser = person.browser
    person.press(NAV, "Templates")
    person.press(".template-card", "The tour")
    person.press("#template-fill")
    person.press(".fill-foot a", "Go on in the editor")
    browser.ready()
    for format in ("wide", "square"):
        person.press(f'[data-format-menu="{format}"]')
        person.press("#menu button", "Remove it")
    assert [one["id"] for one in browser.state()["formats"]] == ["tall"]
    nothing_selected(person)
    person.press("#g-ground .choice", "a colour")
    came = browser.find("#g-ground_colour").get_attribute("value")
    person.press('[data-control*="ground_colour"] .swatch[title*="second"]')
    browser.until(lambda: browser.find("#g-ground_colour").get_attribute("value") != came, "its other ground")
    kept(person, "Salt story", 20)


def a_card(person: Person, cover: Path, logo: Path, talk: Path) -> None:
    """A wide card with a picture, a title, an arrow and the logo."""
    browser = person.browser
    begun(person, "Marquee")
    person.bring(cover, logo, talk)
    person.pick("", f'[data-name="{cover.name}"]')
    person.pick("", '[data-brand="logo"]')
    person.pick("shape", '[data-form="arrow"]')
    person.words("What is new")
    asked_for(person, "words")
    (sign,) = rows(browser, "picture")
    for item in (sign["id"], browser.state()["main"][0]["id"]):
        person.press(f'#lanes [data-id="{item}"]')
        asked_for(person, "picture")
    kept(person, "Salt card", 3)


def an_episode(person: Person, cover: Path, talk: Path) -> None:
    """Exactly a minute: a cover, somebody speaking, and a bar that says how far it is."""
    browser = person.browser
    begun(person, "Townsquare")
    person.pick("", f'[data-name="{cover.name}"]')
    person.pick("", f'[data-name="{talk.name}"]')
    assert rows(browser, "sound")[0]["start"] == 0
    person.details()
    person.number("#i-length", 60)
    asked_for(person, "sound")
    person.press(f'#lanes [data-id="{browser.state()["main"][0]["id"]}"]')
    person.number("#c-length", 60)
    asked_for(person, "picture")
    person.pick("design", '[data-design="progress-bar"]')
    person.details()
    person.press(".details .toggle button", "Whole")
    (bar,) = rows(browser, "design")
    assert (bar["start"], bar["length"]) == (0, 60)
    assert browser.state()["length"] == 60
    kept(person, "Salt minute", 2, "exact")


def filled_by(colleague: Person, mine: Path) -> None:
    """From the Desk to a film."""
    browser = colleague.browser
    colleague.press(".ready-row .template-card", "Salt minute")
    colleague.press("#template-fill")
    browser.until(lambda: browser.find(".slot-card h2").text.startswith("Sound"), "the talk to be asked for")
    colleague.press(".slot-card .material-item")
    colleague.press("#fill-next")
    browser.until(lambda: browser.find(".slot-card h2").text.startswith("Picture"), "the cover to be asked for")
    colleague.bring(mine, into=".slot-card [data-bring]")
    browser.until(lambda: browser.find("#fill-done").text == "2", "both to be filled", 40)
    colleague.press("#open-export")
    colleague.press("#export-choices [value='480'] + span")
    colleague.press("#start-export")
    (film,) = films(colleague, 1)
    assert film.wide == film.high
    assert abs(film.lasts - 60) < 0.02
    assert film.sounds
    assert browser.complaints() == []


def test_1_three_templates_of_a_team(person: Person, other: Browser, tmp_path: Path) -> None:
    browser = person.browser
    logo, cover, mine, talk = (tmp_path / name for name in ("salt-logo.png", "cover.png", "mine.png", "talk.wav"))
    Image.new("RGB", (400, 200), (0, 170, 119)).save(logo)
    Image.new("RGB", (900, 900), (40, 90, 120)).save(cover)
    Image.new("RGB", (800, 600), (200, 120, 30)).save(mine)
    with wave.open(str(talk), "wb") as out:
        out.setparams((1, 2, 8000, 0, "NONE", ""))
        out.writeframes((np.sin(np.arange(61 * 8000) * 0.3) * 9000).astype("<i2").tobytes())
    browser.go("/team")
    browser.click("#invite-by-link")
    invitation = browser.find("[data-invitation] [data-copy]").get_attribute("data-copy") or ""
    a_brand(person, logo)
    a_story(person)
    a_card(person, cover, logo, talk)
    an_episode(person, cover, talk)
    come_in(Person(other), invitation)
    colleague = Person(other)
    other.find(".card-promo")
    names = [one.text for one in other.all(".ready-row .template-card strong")]
    assert {"Salt story", "Salt card", "Salt minute"} <= set(names), "the team's own are on the colleague's Desk"
    filled_by(colleague, mine)
    assert colleague.actions <= 9
    person.with_those_of(colleague)
    person.upto(1)
