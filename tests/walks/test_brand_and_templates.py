"""Walks with templates and a brand: designs from one picture, a template filled, a brand book by hand and by link."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from selenium.webdriver.common.keys import Keys

from tests.conftest import Files
from tests.walks.person import NAV, Person, exported, films, rows


def brand_value(person: Person, name: str) -> str:
    return person.browser.js("return document.querySelector(arguments[0])?.value ?? ''", f'#brand [name="{name}"]')


def test_20_a_brand_book_by_hand_and_by_link(person: Person, photos: list[Path], files: Files) -> None:
    browser = person.browser
    tune = files.sound("house-tune.wav", np.tile(0.3 * np.sin(np.arange(48_000 * 12) * 0.04)[:, None], (1, 2)))
    person.press(NAV, "Brand book")
    person.type("#new-brand", "Saltwick", Keys.ENTER)
    browser.until(lambda: brand_value(person, "name") == "Saltwick", "the brand")
    person.type("#brand-address", "hollowmere.example")
    person.press("#brand-look")
    browser.until(lambda: len(browser.all(".brand-proposal .brand-found")) > 9, "what the page has", 60)
    browser.until(
        lambda: browser.js("return fetch('/shelf/list').then((r) => r.text()).then((t) => t.includes('is-ready'))"),
        "its logo to be looked at", 60,
    )  # fmt: skip
    person.press("#brand-accept")
    browser.until(lambda: browser.all(".brand-logo-pic img"), "the logo")
    person.type('#brand [name="typed-accent"]', "#8A2BE2", Keys.TAB)
    browser.until(lambda: brand_value(person, "colour-accent").lower() == "#8a2be2", "the accent")
    person.choose('#brand [name="font-heading"]', "Fraunces")
    person.bring(tune, into="#material-files")
    browser.until(lambda: browser.all("#brand-material .brand-material li"), "the tune of the house", 60)
    person.press(NAV, "Desk")
    person.press("#start-blank")
    person.press("#create-promo")
    browser.ready()
    person.bring(photos[0])
    for name in ("coffee.png", "house-tune.wav"):
        ready = f'.shelf-item.is-ready[data-name="{name}"]'
        browser.until(lambda ready=ready: browser.all(ready), f"{name} to be looked at", 90)
    person.pick("", '[data-name="coffee.png"]')
    person.pick("", '[data-brand="logo"]')
    logo = rows(browser, "picture")[0]
    assert logo["length"] == browser.state()["length"]
    lies = browser.state()["boxes"]["wide"][logo["id"]]
    assert lies["y"] < 0.2, "it lands in the brand's corner"
    person.words("Coffee is ready")
    (words,) = rows(browser, "words")
    assert (words["start"], words["length"]) == (0, 3), "they come with the photo that was added"
    person.press("#tab-music")
    person.press("#library-list .piece.is-own [data-add-own]")
    browser.until(lambda: rows(browser, "sound"), "the tune")
    person.press("#open-export")
    person.type("#export-name", "Coffee at Saltwick")
    person.type("#export-caption", "Open from seven.")
    person.press("#export-choices [value='480'] + span")
    person.press("#start-export")
    made = films(person, 3)
    assert all(film.sounds for film in made)
    told = browser.find("#export-list .export").text
    assert "Coffee at Saltwick" in told
    assert "Open from seven." in told
    person.upto(20)


def filled(person: Person) -> None:
    person.browser.until(lambda: person.browser.find("#fill-saved").text == "saved", "it to be saved")


def test_8_a_template_of_myths_with_its_music(visitor: Person, photos: list[Path], footage: list[Path]) -> None:
    person, browser = visitor, visitor.browser
    person.press(NAV, "Templates")
    person.type("#gallery-find", "myth")
    person.press(".template-card", "Myth and fact")
    person.press("#template-fill")
    browser.find(".slot-card")
    steps = browser.js("return [...document.querySelectorAll('.fill-step')].map((s) => s.innerText.split('\\n')[0])")
    for number, label in enumerate(steps):
        slot, holds = browser.js("const d = document.querySelector('.slot-card').dataset; return [d.slot, d.holds]")
        if holds == "words":
            person.type(".slot-words", f"Line {number + 1}", Keys.ENTER)
        elif label == "Picture":
            path = footage[0] if number > 4 else photos[0]
            person.bring(path, into=".slot-card [data-bring]")
            browser.until(lambda path=path: browser.find(".slot-now strong").text == path.name, "it to stand there", 90)
            person.type(".slot-focus", Keys.ARROW_LEFT)
            person.press("#fill-next")
        else:
            person.press("#fill-next")
        if number < len(steps) - 1:
            now = "return document.querySelector('.slot-card')?.dataset.slot"
            browser.until(lambda slot=slot, now=now: browser.js(now) not in (slot, None), "the next slot")
        filled(person)
    assert browser.find("#fill-done").text == browser.find("#fill-total").text == str(len(steps))
    person.press(".fill-foot a", "Go on in the editor")
    browser.ready()
    person.pick("", '[data-brand="logo"]')
    logo = max(rows(browser, "picture"), key=lambda row: row["length"])
    assert logo["length"] == browser.state()["length"], "the logo is there throughout"
    assert rows(browser, "sound"), "with its music"
    assert any(row["label"].startswith("Line ") for row in rows(browser, lane="layer")), "with what was written"
    made = exported(person, "Square", "Tall")
    assert made[0].sounds
    person.upto(8)


def test_2_from_one_picture_to_three_promos(visitor: Person, photos: list[Path]) -> None:
    person, browser = visitor, visitor.browser
    person.press("#start-picture")
    browser.find(".hero-pick, .hero-bring")
    person.press(".hero-pick", "envelope")
    browser.find(".hero-bar")
    browser.until(lambda: not browser.all(".hero-waits"), "it to be cut out", 60)
    person.press(".template-card", "Two days only")
    person.press("#template-fill")
    browser.find(".slot-card")
    first = browser.driver.current_url
    assert "envelope.jpg" in browser.find(".fill-steps, .fill-side").text
    # A design in the manner of the brand.
    person.press(NAV, "Desk")
    person.press("#start-manner")
    browser.until(lambda: len(browser.all(".template-card")) == 8, "eight designs")
    person.press(".template-card")
    person.press("#template-fill")
    browser.find(".slot-card")
    assert browser.driver.current_url != first
    # One from the gallery, with a scene of another.
    person.press(NAV, "Templates")
    person.press(".template-card", "Just arrived")
    person.press("#template-fill")
    person.press(".fill-foot a", "Go on in the editor")
    browser.ready()
    before = len(browser.state()["scenes"])
    person.press('[data-menu="scenes"]')
    person.press("#menu button", "A scene of a promo or template")
    person.press('[data-scenes-from="templates"]')
    person.type("#scenes-find", "myth")
    browser.until(lambda: len(browser.all(".other-scene")) < 12, "those of that name")
    person.press(".other-scene", "Myth")
    browser.until(lambda: len(browser.state()["scenes"]) == before + 1, "the other template's scene")
    third = browser.driver.current_url
    # The same in another shape, with the first left as it is.
    person.press('[data-format-menu="tall"]')
    person.press("#menu button", "of its own in it")
    browser.until(lambda: browser.driver.current_url != third, "the copy")
    browser.ready()
    assert [format["id"] for format in browser.state()["formats"]] == ["tall"]
    assert len(browser.state()["scenes"]) == before + 1
    browser.driver.get(third)
    browser.ready()
    assert len(browser.state()["formats"]) == 3
    person.upto(2)
