"""A brand in a browser: palettes, fonts and material of its own, and how they come first wherever they are of use."""

from __future__ import annotations

import random
from pathlib import Path

import pytest
import requests
from fontTools.ttLib import TTFont
from PIL import Image
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.select import Select

from glowreel.engine.type.faces import FOLDER
from tests.web.conftest import Browser
from tests.web.test_brands import chosen, replaced, typed, value
from tests.web.test_picture import shown

pytestmark = pytest.mark.long


def own_font(folder: Path) -> Path:
    """A font under a name that no shipped one has, packed for the web."""
    font = TTFont(FOLDER / "Lobster_400Regular.ttf")
    for record in [r for r in font["name"].names if r.nameID in (1, 16)]:
        record.string = "Salt Script"
    font.flavor = "woff2"
    font.save(folder / "salt.woff2")
    return folder / "salt.woff2"


def new_brand(browser: Browser, name: str) -> None:
    browser.go("/brands")
    browser.find("#new-brand").send_keys(name, Keys.ENTER)
    browser.until(lambda: value(browser, "name") == name, "the brand")


def new_promo(browser: Browser) -> None:
    browser.go("/")
    browser.click("#start-blank")
    browser.click("#create-promo")
    browser.ready()


def others(browser: Browser) -> list[str]:
    return browser.js("return [...document.querySelectorAll('#brand [name=others]')].map((i) => i.value)")


def sent(browser: Browser, command: str) -> None:
    """Does a command in the editor, as its scripts do."""
    browser.driver.execute_async_script(
        "const done = arguments[0]; import('/static/js/editor/commands.js').then(async ({send}) => {"
        f"const {{model}} = await import('/static/js/editor/model.js'); await send({command}); done() }})"
    )
    browser.settled()


def test_palettes_have_names_and_their_colours_an_order(browser: Browser, tmp_path: Path) -> None:
    browser.sign_up()
    new_brand(browser, "Saltwick")
    for colour in ("#112233", "#445566", "200, 100, 50"):
        typed(browser, "new", colour)
    assert others(browser) == ["#112233", "#445566", "#c86432"]
    browser.js("document.querySelectorAll('#brand [name=others]')[2].focus()")
    left = ActionChains(browser.driver).key_down(Keys.SHIFT).send_keys(Keys.ARROW_LEFT).key_up(Keys.SHIFT)
    replaced(browser, left.perform)
    assert others(browser) == ["#112233", "#c86432", "#445566"]
    picture = tmp_path / "red.png"
    Image.new("RGB", (320, 200), (180, 20, 40)).save(picture)
    replaced(browser, lambda: browser.find("#material-files").send_keys(str(picture)))
    assert "red.png" in browser.find(".brand-material").text
    browser.click("[data-pick-picture]")
    browser.click(".pick-file")
    browser.until(lambda: browser.js("return document.querySelector('.pick-canvas').width") != 640, "the picture")
    replaced(browser, lambda: browser.click(".pick-canvas"))
    red, green, blue = (int(others(browser)[-1][at : at + 2], 16) for at in (1, 3, 5))
    assert abs(red - 180) + abs(green - 20) + abs(blue - 40) < 12, "what was pressed in the picture"
    replaced(browser, lambda: browser.click("#brand-more-palettes"))
    assert len(browser.all(".brand-palette-form")) == 2
    name = browser.all(".brand-palette-head [name=name]")[1]
    browser.js("arguments[0].scrollIntoView({block: 'center'}); arguments[0].select()", name)
    replaced(browser, lambda: name.send_keys("Night", Keys.TAB))
    second = browser.all('[name="typed-accent"]')[1]
    browser.js("arguments[0].scrollIntoView({block: 'center'})", second)
    replaced(browser, lambda: second.send_keys("#00CCFF", Keys.TAB))
    assert not browser.accessibility()
    # A promo wears one or the other.
    new_promo(browser)
    browser.click("#tab-details")
    Select(browser.find("#p-palette")).select_by_visible_text("Night")
    browser.until(lambda: "Night" in (browser.find("#undo").get_attribute("title") or ""), "it to be a step")
    assert not browser.complaints()


def test_fonts_logo_and_material_of_a_brand_come_first_in_its_promos(browser: Browser, tmp_path: Path) -> None:
    browser.sign_up()
    new_brand(browser, "Saltwick")
    replaced(browser, lambda: browser.find("#font-files").send_keys(str(own_font(tmp_path))))
    chosen(browser, "font-heading", "Salt Script")
    logo = tmp_path / "salt-logo.png"
    Image.new("RGB", (400, 200), (0, 170, 119)).save(logo)
    replaced(browser, lambda: browser.find("#brand-file").send_keys(str(logo)))
    typed_size = browser.find('#brand [name="size"]')
    browser.js("arguments[0].scrollIntoView({block: 'center'}); arguments[0].select()", typed_size)
    replaced(browser, lambda: typed_size.send_keys("20", Keys.TAB))
    browser.js("document.querySelector('[name=corner][value=bottom-left]').scrollIntoView({block: 'center'})")
    replaced(browser, lambda: browser.click("[name=corner][value=bottom-left]"))
    song = tmp_path / "grey.png"
    Image.new("RGB", (640, 360), (120, 120, 120)).save(song)
    new_promo(browser)
    browser.find("#file-input").send_keys(str(song))
    browser.until(lambda: len(browser.all(".shelf-item.is-ready")) == 2, "the file", 40)
    first = browser.find(".shelf-item")
    assert first.get_attribute("data-name") == "salt-logo.png", "what is the brand's comes before what is newer"
    assert first.find_elements("css selector", ".tag-brand")
    browser.all(".shelf-item")[1].find_element("css selector", ".shelf-pick").click()
    browser.until(lambda: browser.state()["main"], "the clip")
    browser.find(".shelf-item .shelf-pick").click()
    browser.until(lambda: browser.state()["tracks"], "the logo")
    (row,) = [row for track in browser.state()["tracks"] for row in track["rows"]]
    assert row["length"] == browser.state()["length"], "the logo lasts the whole promo"
    box = browser.state()["boxes"]["wide"][row["id"]]
    assert (round(box["h"], 2), box["x"] < 0.1, box["y"] > 0.6) == (0.2, True, True), "in the brand's corner"
    # New words begin as headings, in the brand's own font, on the stage as well.
    browser.click("#add-words")
    browser.until(lambda: browser.all(".stage-words"), "the words")
    face = browser.js("return getComputedStyle(document.querySelector('.stage-words')).fontFamily")
    assert "fonts-" in face, f"the brand's own file, and not {face}"
    browser.until(lambda: browser.js("return [...document.fonts].some((f) => f.family.includes('fonts-') && "
                                     "f.status === 'loaded')"), "the page to have it")  # fmt: skip
    ActionChains(browser.driver).send_keys(Keys.ESCAPE).perform()
    assert browser.find("#p-font").get_attribute("aria-label") == "Font: heading"
    browser.click("#p-font")
    names = browser.js("return [...document.querySelectorAll('.is-fonts .choice')].map((c) => c.title)")
    assert names[names.index("The brand’s aside") + 1] == "Salt Script", "after the roles come the brand's own"
    browser.until(
        lambda: browser.js("return document.querySelector('.is-fonts .choice img').naturalWidth > 0"), "its letters"
    )
    # A colour is picked from the stage.
    browser.click("#p-font")
    shown(browser)
    press = browser.find("[data-pick-stage]")
    browser.js("arguments[0].scrollIntoView({block: 'center'})", press)
    press.click()
    frame = browser.find("#frame")
    ActionChains(browser.driver).move_to_element_with_offset(frame, 60, -60).click().perform()
    browser.settled()
    colour = browser.js(
        "return document.querySelector('[data-pick-stage]').parentElement.querySelector('.colour').value"
    )
    assert all(abs(int(colour[at : at + 2], 16) - 120) < 6 for at in (1, 3, 5)), f"the grey of the picture: {colour}"
    assert not browser.complaints()


def test_a_brand_file_of_many_megabytes_is_saved_and_opened(browser: Browser, tmp_path: Path) -> None:
    browser.sign_up()
    new_brand(browser, "Saltwick")
    noise = tmp_path / "noise.png"
    Image.frombytes("RGB", (1600, 1200), random.Random(3).randbytes(1600 * 1200 * 3)).save(noise)
    assert noise.stat().st_size > 5 * 1024**2, "more than a form may be"
    replaced(browser, lambda: browser.find("#material-files").send_keys(str(noise)))
    cookies = {cookie["name"]: cookie["value"] for cookie in browser.driver.get_cookies()}
    saved = browser.find('a[href$="brand.zip"]').get_attribute("href")
    (tmp_path / "salt.brand.zip").write_bytes(requests.get(saved, cookies=cookies, timeout=30).content)
    browser.find('form[action$="/read"] input[type=file]').send_keys(str(tmp_path / "salt.brand.zip"))
    browser.until(lambda: "is in the book" in browser.find("#toasts").text, "the brand of the file", 40)
    assert len(browser.all(".brand-entry")) == 2
    assert "noise.png" in browser.find(".brand-material").text
    assert not browser.complaints()


def test_a_change_of_the_brand_goes_into_several_promos_with_one_undo(browser: Browser) -> None:
    browser.sign_up()
    new_brand(browser, "Saltwick")
    for _ in range(7):
        new_promo(browser)
    browser.go("/brands")
    typed(browser, "typed-ground", "#5B1A4A")
    assert len(browser.all(".brand-use")) == 7
    browser.click(".brand-use input")
    browser.click("#brand-bring")
    browser.until(lambda: "6 promos brought up to date" in browser.find("#toasts").text, "it to be told", 40)
    assert len(browser.all(".brand-use")) == 1, "the one that was not ticked"
    browser.click("#toasts .btn")
    browser.until(lambda: len(browser.all(".brand-use")) == 7, "all to be as before")
    assert not browser.complaints()
