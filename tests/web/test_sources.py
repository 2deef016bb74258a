"""Stock, pictures from words and the drive, as a person uses them on the bench of an editor and on their pages."""

from __future__ import annotations

from pathlib import Path

import opentimelineio as otio
import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from glowreel.outside.art.files import picture
from glowreel.outside.art.painting import Painting
from glowreel.outside.drive.kept import kept
from tests.web.conftest import Browser
from tests.web.test_bringing import on_shelf

pytestmark = pytest.mark.long

STOCK, MAKE, DRIVE = ('[data-from*="/stock"]', '[data-from*="/make"]', '[data-from*="/drive"]')


def find_stock(browser: Browser, words: str, kind: str = "") -> None:
    """Looks for something in the catalogue, on the bench."""
    browser.click(STOCK)
    browser.until(lambda: browser.all("#stock-filter"), "the catalogue")
    if kind:
        Select(browser.find('#stock-filter [name="kind"]')).select_by_value(kind)
    field = browser.find("#stock-words")
    field.clear()
    field.send_keys(words)
    browser.until(lambda: words in first(browser).lower(), f"{words} in front")
    browser.settled()


def first(browser: Browser) -> str:
    offers = browser.all("#stock-found .offer")
    return offers[0].text + (offers[0].get_attribute("data-name") or "") if offers else ""


def length(browser: Browser, lane: str) -> int:
    return len(browser.state()[lane])


def test_stock_is_found_seen_moving_and_put_at_the_playhead_or_where_it_is_dropped(browser: Browser) -> None:
    browser.open_copy()
    find_stock(browser, "waves", "footage")
    before = length(browser, "main")
    offer = browser.find("#stock-found .offer:not([data-price])")
    ActionChains(browser.driver).move_to_element(offer).perform()
    browser.until(lambda: browser.all('#stock-found .offer img[src*="loop.webp"]'), "it to move")
    browser.click("#stock-found .offer:not([data-price]) .shelf-pick")
    browser.until(lambda: length(browser, "main") == before + 1, "it on the main track", 90)
    # A picture lands where it is dropped: on the stage it is a layer.
    find_stock(browser, "coffee", "photo")
    layers = set(browser.state()["boxes"]["wide"])
    offer = browser.find("#stock-found .offer:not([data-price]) .shelf-pick")
    hand = ActionChains(browser.driver).click_and_hold(offer).move_by_offset(-20, 10)
    hand.move_to_element(browser.find("#stage")).pause(0.2).release().perform()
    browser.until(lambda: set(browser.state()["boxes"]["wide"]) > layers, "a layer", 90)
    browser.click('[data-from=""]')
    browser.until(lambda: browser.all('#shelf-list [data-name^="Coffee"]'), "it on the Shelf")
    browser.find("body").send_keys(Keys.ESCAPE)
    browser.click("#tab-details")
    browser.click("#open-credits")
    credits = browser.until(lambda: browser.find("#credits-text").get_attribute("value"), "the credits")
    assert credits.count("Tallow Lane Archive") == 2
    assert not browser.complaints()


def test_what_is_paid_for_asks_for_its_licence_first(browser: Browser) -> None:
    browser.enter_demo()
    browser.go("/stock?licence=paid&kind=photo")
    address = browser.find("#stock-found .offer:not([data-media])").get_attribute("data-offer")
    offer = f'#stock-found .offer[data-offer="{address}"]'
    ActionChains(browser.driver).move_to_element(browser.find(offer)).perform()
    browser.click(f"{offer} [data-take]")
    browser.until(lambda: browser.all("#licence-sheet[open]"), "the licence")
    assert str(browser.find(offer).get_attribute("data-name")) in browser.find("#licence-sheet").text
    assert not browser.accessibility()
    browser.click("#licence-sheet [data-close]")
    assert not browser.all(f"{offer}[data-media], {offer}.is-coming")
    browser.click(f"{offer} [data-take]")
    browser.click("#licence-agree")
    browser.until(lambda: browser.all(f"{offer}[data-media]"), "it on the Shelf", 60)
    assert not browser.accessibility()
    browser.go("/stock?kind=music&shape=wide")
    browser.click("[data-all-stock]")
    browser.until(lambda: len(browser.all("#stock-found .offer")) > 20, "everything")
    assert not browser.complaints()


def test_four_pictures_are_made_from_words_and_a_seed_brings_one_back(browser: Browser) -> None:
    browser.open_copy()
    browser.click(MAKE)
    browser.find("#make-words").send_keys("A forest in the snow, at night")
    browser.click("#make-ask .btn-main")
    browser.until(lambda: len(browser.all("#make-found .offer")) == 4, "four pictures")
    assert "forest, night, snow, winter" in browser.find("#make-found").text
    shown = "return [...document.querySelectorAll('#make-found img')].every((one) => one.naturalWidth > 100)"
    browser.until(lambda: browser.js(shown), "them to be seen")
    third = browser.all("#make-found [data-seed]")[2]
    seed = third.get_attribute("data-seed")
    third.click()
    browser.until(lambda: browser.all(f'#make-found .offer:first-child [data-seed="{seed}"]'), "it in front")
    before = length(browser, "main")
    browser.click("#make-found .offer .shelf-pick")
    browser.until(lambda: length(browser, "main") == before + 1, "it on the main track", 60)
    assert not browser.complaints()


def test_a_drive_is_allowed_there_and_several_files_come_from_it(browser: Browser) -> None:
    browser.open_copy()
    promo = browser.driver.current_url
    browser.click(DRIVE)
    browser.click("#outside .source-connect .btn-main")
    browser.until(lambda: "/allow" in browser.driver.current_url, "the drive's own page")
    browser.click("form button")
    browser.until(lambda: browser.driver.current_url == promo, "the promo again")
    browser.ready()
    browser.until(lambda: browser.all("#drive-found .drive-folders button"), "its folders, where one had left")
    browser.find("#drive-find").send_keys("breakfast")
    browser.until(lambda: len(browser.all("#drive-found .drive-file")) == 1, "what was found")
    browser.find("#drive-find").clear()
    browser.find("#drive-find").send_keys("valley")
    browser.until(lambda: "valley" in browser.find("#drive-found").text, "the other")
    browser.click("#drive-found .drive-file")
    browser.click("#drive-take")
    browser.click('[data-from=""]')
    on_shelf(browser, "The valley at dusk.jpg")
    browser.go("/drive")
    browser.click(".source-account .btn")
    browser.until(lambda: browser.all(".source-connect"), "it to be asked for again")
    assert not browser.complaints()


def test_a_part_of_footage_is_added_and_likeness_and_replacing_are_asked_on_the_shelf(browser: Browser) -> None:
    browser.open_copy()
    before = [row["id"] for row in browser.state()["main"]]
    browser.click('#shelf-list [data-name="landing.mp4"] .shelf-more')
    browser.until(lambda: browser.all("#menu .menu-item"), "the menu")
    next(one for one in browser.all("#menu .menu-item") if one.text.startswith("A part of it")).click()
    browser.until(lambda: browser.all("#trim-sheet[open]"), "the small player")
    browser.js(
        "for (const [id, at] of [['trim-in', 2], ['trim-out', 3.5]]) { const end = document.getElementById(id);"
        " end.value = at; end.dispatchEvent(new Event('input')); }"
    )
    assert browser.find("#trim-length").text == "1.5 s"
    assert not browser.accessibility()
    browser.click("#trim-add")
    browser.until(lambda: len(browser.state()["main"]) == len(before) + 1, "the part")
    row = next(row for row in browser.state()["main"] if row["id"] not in before)
    assert abs(row["length"] - 1.5) < 0.05
    assert abs(row["before"] - 2) < 0.05
    browser.go("/shelf")
    browser.click('[data-name="dawn-ridge.mp4"] .material-open')
    browser.until(lambda: browser.all("#material-facts [data-like]"), "the facts")
    browser.click("#material-facts [data-like]")
    browser.until(lambda: "looks like" in browser.find("#material-files-list").text, "what looks like it")
    names = [card.get_attribute("data-name") for card in browser.all("#material-items [data-media]")]
    assert names[0] == "dawn-ridge.mp4"
    assert "ridge-square.jpg" in names[1:4], "the same valley as a photo"
    browser.click("#material-files-list [data-everything]")
    browser.until(lambda: "looks like" not in browser.find("#material-files-list").text, "everything")
    assert not browser.complaints()


def test_the_slides_of_a_talk_become_scenes_with_their_pictures_and_what_is_said(
    browser: Browser, tmp_path: Path
) -> None:
    talk = tmp_path / "Autumn talk.pptx"
    next(one for one in kept().values() if one.name.endswith(".pptx")).write(talk)
    browser.enter_demo()
    browser.go("/start/script")
    browser.js("document.getElementById('slides-file').closest('details').open = true")
    assert not browser.accessibility()
    browser.find("#slides-file").send_keys(str(talk))
    browser.until(lambda: len(browser.all(".script-line")) == 4, "a scene of each slide", 90)
    assert browser.find(".script-line [name=key]").get_attribute("value") == "Autumn over the valley"
    assert (browser.find(".script-line [name=text]").get_attribute("value") or "").startswith("Welcome.")
    picked = ".script-line:last-of-type .script-pictures input:checked"
    last = browser.js(f"return document.querySelector('{picked}').closest('label').querySelector('img').src")
    Select(browser.find("#voice")).select_by_value("")
    browser.click("#make-it")
    browser.until(lambda: browser.all('#editor[data-ready="1"]'), "the promo", 60)
    state = browser.state()
    assert len(state["main"]) == 4
    assert state["main"][-1]["media"] in last, "the picture of its slide"
    assert [one["label"] for one in state["tracks"][0]["rows"]][:2] == [
        "Autumn over the valley",
        "Three things to know",
    ]
    assert not browser.complaints()


def test_a_file_that_was_missing_is_offered_its_place_when_it_comes_in(browser: Browser, tmp_path: Path) -> None:
    timeline = otio.schema.Timeline("Cut elsewhere")
    track = otio.schema.Track("V1", kind=otio.schema.TrackKind.Video)
    timeline.tracks.append(track)
    span = otio.opentime.TimeRange(otio.opentime.RationalTime(0, 25), otio.opentime.RationalTime(50, 25))
    link = otio.schema.ExternalReference("file:///from/elsewhere/lost%20view.png")
    track.append(otio.schema.Clip("opening shot", link, span))
    path = tmp_path / "cut.otio"
    otio.adapters.write_to_file(timeline, str(path))
    browser.enter_demo()
    browser.go("/")
    browser.find('.start-form input[name="file"]').send_keys(str(path))
    browser.until(lambda: browser.all('#editor[data-ready="1"], #opening a[href*="/promos/"]'), "the promo", 60)
    if not browser.all("#editor"):
        browser.click('#opening a[href*="/promos/"]')
    browser.ready()
    (filler,) = browser.state()["main"]
    assert filler["label"] == "lost view.png"
    assert not browser.all("[data-found]")
    found = tmp_path / "lost view.png"
    found.write_bytes(picture(Painting("lake"), 640, 360, ".png"))
    browser.find("#file-input").send_keys(str(found))
    browser.until(lambda: browser.all("[data-found]"), "its place to be offered", 60)
    browser.click("[data-found]")
    browser.until(lambda: browser.state()["main"][0].get("media"), "it in its place")
    assert browser.state()["main"][0]["length"] == filler["length"]
    browser.until(lambda: not browser.all("[data-found]"), "the offer to go")
    browser.click("#undo")
    browser.until(lambda: not browser.state()["main"][0].get("media"), "the filler again")
    assert not browser.complaints()
