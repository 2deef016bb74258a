"""Walks of somebody's first days: material brought in every way there is, and the whole path from template to post."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from tests.walks.person import Person, exported, rows
from tests.walks.test_recorded import shortened
from tests.web.conftest import Browser

DRIVE, STOCK = '[data-from*="/drive"]', '[data-from*="/stock"]'


def main_rows(person: Person) -> list[str]:
    return [row["id"] for row in person.browser.state()["main"]]


def from_a_phone(person: Person, phone: Browser, path: Path) -> None:
    """What somebody's telephone sends appears on the Shelf."""
    browser = person.browser
    person.press("[data-phone]")
    address = browser.find("#phone-links input[readonly]").get_attribute("value") or ""
    phone.driver.get(address)
    phone.find("#send-files").send_keys(str(path))
    person.did("send a photo from the phone")
    browser.until(lambda: browser.all(f'.shelf-item.is-ready[data-name="{path.name}"]'), "it on the Shelf", 180)
    person.key("\ue00c")


def from_the_drive(person: Person) -> None:
    """A file of a drive that is connected for it."""
    browser = person.browser
    person.press(DRIVE)
    person.press("#outside .source-connect a")
    browser.until(lambda: "/allow" in browser.driver.current_url, "the drive's own page")
    person.press("form button")
    browser.ready()
    person.press("#drive-found .drive-file")
    person.press("#drive-take")


def test_16_a_first_day(person: Person, other: Browser, photos: list[Path], footage: list[Path]) -> None:
    browser = person.browser
    person.press("#start-blank")
    person.press(".pick", "Passerby")
    person.press("#create-promo")
    browser.ready()
    from_the_drive(person)
    person.press(STOCK)
    person.press("#stock-found .offer:not([data-price]) [data-take]")
    person.press('[data-from=""]')
    browser.drop_on_window(footage[0])
    person.did("drop footage")
    ready = '.shelf-item.is-ready[data-name="{}"]'.format
    browser.until(lambda: browser.all(ready("bigbuckbunny.mp4")), "the footage", 180)
    from_a_phone(person, other, photos[0])
    # The demo may still be being looked at.
    browser.until(lambda: len(browser.all("#shelf-list .shelf-item.is-ready")) >= 4, "all of it to be looked at", 180)
    person.press("#put-all")
    count = len(browser.until(lambda: len(main_rows(person)) >= 4 and main_rows(person), "everything in order"))
    first, second = browser.state()["main"][:2]
    shortened(person, first["id"], 0.3)
    assert browser.state()["main"][0]["length"] < first["length"]
    # Split by a key at the playhead, and where it is pressed with another held.
    person.go_to(1)
    person.key("/")
    browser.until(lambda: len(main_rows(person)) == count + 1, "two of the first")
    left, right, middle, _ = person.box(second["id"])
    person.tap((left + right) / 2, middle, "the second clip in its middle, S held", held="s")
    browser.until(lambda: len(main_rows(person)) == count + 2, "two of the second")
    # A transition by a key on the nearest cut, and by pushing a clip over its neighbour.
    person.key("c")
    left, right, middle, _ = person.box(second["id"])
    person.drag(((left + right) / 2, middle), ((left + right) / 2 - 30, middle), "the second over the first")
    browser.until(lambda: len(browser.state()["cuts"]) == 2, "two transitions")
    person.words("First day")
    for way, kind, lasts in (("arrives", "slide left", 0.5), ("leaves", "fade", 0.7)):
        person.press(f"#p-{way} .choice", kind)
        person.number(f"#p-{way[:-1]}_length", lasts)
    (words,) = rows(browser, "words")
    length = browser.state()["length"]
    (film,) = exported(person, short_side=1080)
    assert (film.wide, film.high) == (1080, 1920)
    assert abs(film.lasts - length) < 0.1
    changed = np.abs(film.frame(words["start"]) - film.frame(words["start"] + 0.7)).max(axis=2) > 60
    assert changed.sum() > 2000, "the words come"
    person.upto(16)
