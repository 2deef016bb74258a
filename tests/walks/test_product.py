"""A walk with everything moving: a product commercial from the pictures of a site."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from selenium.webdriver.common.keys import Keys

from tests.walks.person import Person, exported, rows
from tests.web.test_picture import pixel, shown
from tests.web.test_values import go_to

PLACES = ((0.03, 0.03), (0.12, 0.5), (0.5, 0.5), (0.88, 0.5), (0.97, 0.97))


def from_the_site(person: Person) -> list[str]:
    """Three pictures of a page, picked and taken; answers with how the Shelf calls them."""
    browser = person.browser
    person.press("[data-by-link]")
    person.press("[data-address]")
    browser.until(lambda: len(browser.all(".link-one")) >= 5, "what the page shows", 40)
    for place in (1, 2, 3):
        person.press(f".link-one:nth-of-type({place})")
    person.press("#link-take")
    browser.until(lambda: browser.all("#link-begun"), "the word that they come")
    person.press("#link-sheet [data-close]")
    names = "return [...document.querySelectorAll('.shelf-item.is-ready[data-kind=photo]')].map((i) => i.dataset.name)"
    return browser.until(lambda: browser.js(names) if len(browser.js(names)) >= 3 else None, "them on the Shelf", 90)


def product(person: Person, name: str, at: float, across: float) -> str:
    """A picture that is cut out and pops in, with its name behind it."""
    browser = person.browser
    before = {row["id"] for row in rows(browser, "picture")}
    person.go_to(at)
    if browser.find("#bench-shelf").get_attribute("hidden") is not None:
        person.press("#tab-shelf")
    person.press(f'.shelf-item[data-name="{name}"] .shelf-more')
    person.press("#menu button", "As a layer at the playhead")
    (key,) = {row["id"] for row in rows(browser, "picture")} - before
    person.group("cutout")
    person.choose("#p-cutout", "the thing in it")
    person.press("#p-arrives .choice", "pop")
    person.press("#p-leaves .choice", "pop")
    person.spot(across, 0.5)
    person.words(name.rpartition(".")[0][:14])
    words = max(rows(browser, "words"), key=lambda row: row["start"])["id"]
    person.key(Keys.CONTROL, Keys.ARROW_DOWN)
    front = browser.state()["front"]
    assert front.index(words) > front.index(key), "the name stands behind the picture"
    return key


def test_17_a_commercial_from_the_pictures_of_a_site(person: Person, footage: list[Path]) -> None:
    browser = person.browser
    person.press("#start-blank")
    person.press("#create-promo")
    browser.ready()
    names = from_the_site(person)
    person.press("#add-filler")
    ground = browser.state()["main"][0]["id"]
    person.press(f'#lanes [data-id="{ground}"]')
    person.number("#c-length", 12)
    keys = [product(person, name, 1 + 2 * place, (0, 0.5, 1)[place]) for place, name in enumerate(names[:3])]
    through_the_words(person, footage[0])
    # A splash of colour in screen blend, the first picture once more and turned, a glitch at the end.
    person.go_to(8)
    person.pick("shape", '[data-form="blob"]')
    person.choose("#p-blend", "screen")
    person.press(f'#lanes [data-id="{keys[0]}"]')
    person.key(Keys.CONTROL, "d")
    browser.until(lambda: len(rows(browser, "picture")) == 4, "the copy")
    person.number("#p-turn", 15)
    person.go_to(10)
    person.press("#tab-shelf")
    person.press("#add-adjustment")
    person.group("effects")
    person.press("#p-add-effect .choice", "Glitch")
    person.press("#tab-music")
    person.press("#library-list .piece [data-add-piece]")
    browser.until(lambda: rows(browser, "sound"), "the music")
    browser.until(lambda: not browser.all(".making progress"), "what is cut out to be made", 60)
    go_to(browser, 7)
    shown(browser)
    seen = [pixel(browser, *place) for place in PLACES]
    made = exported(person)
    assert {(film.wide, film.high) for film in made} == {(854, 480), (480, 480), (480, 854)}
    assert all(abs(film.lasts - 12) < 0.1 and film.sounds for film in made)
    wide = next(film for film in made if film.wide > film.high)
    film = wide.frame(7)
    for (across, down), colour in zip(PLACES, seen, strict=True):
        found = film[int(down * 480), int(across * 854)]
        assert np.abs(found - colour).max() < 24, f"exported as seen at {across}, {down}: {found} for {colour}"
    assert np.abs(wide.frame(0.2) - wide.frame(2.5)).mean() > 1, "something has come"
    turned = {round(browser.state()["boxes"]["wide"][row["id"]]["turn"]) for row in rows(browser, "picture")}
    assert turned == {0, 15}
    person.upto(17)


def through_the_words(person: Person, footage: Path) -> None:
    """Footage is seen through the first of the names."""
    browser = person.browser
    person.press("#tab-shelf")
    person.bring(footage)
    browser.until(lambda: browser.all(f'.shelf-item.is-ready[data-name="{footage.name}"]'), "the footage", 60)
    words = rows(browser, "words")[0]["id"]
    person.press(f'#lanes [data-id="{words}"]')
    person.press('[data-control*="values/letters_of"] button', "A picture")
    person.press("#p-letters_of-picture")
    person.press(f'#replace-sheet [data-name="{footage.name}"]')
    browser.until(lambda: footage.name in browser.find("#p-letters_of-picture").text, "the footage in the letters")
