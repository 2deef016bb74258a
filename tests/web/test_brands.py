"""The brand book in a browser: a brand is made from a logo, given to a promo, changed, and brought up to date."""

from __future__ import annotations

from pathlib import Path

import pytest
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.select import Select

from tests.web.conftest import Browser
from tests.web.test_picture import pixel, shown
from tests.web.test_values import go_to

pytestmark = pytest.mark.long


def value(browser: Browser, name: str) -> str:
    return browser.js("return document.querySelector(arguments[0])?.value", f'#brand [name="{name}"]')


def replaced(browser: Browser, work) -> None:
    """Does something and waits until the brand is shown anew."""
    browser.js("document.getElementById('brand').dataset.old = '1'")
    work()
    browser.until(lambda: browser.js("return !document.getElementById('brand').dataset.old"), "the brand to be kept")


def typed(browser: Browser, name: str, text: str) -> None:
    def work() -> None:
        field = browser.find(f'#brand [name="{name}"]')
        browser.js("arguments[0].scrollIntoView({block: 'center'})", field)
        browser.js("arguments[0].focus(); arguments[0].select()", field)
        field.send_keys(text, Keys.TAB)

    replaced(browser, work)


def chosen(browser: Browser, name: str, label: str) -> None:
    def work() -> None:
        field = browser.find(f'#brand [name="{name}"]')
        browser.js("arguments[0].scrollIntoView({block: 'center'})", field)
        Select(field).select_by_visible_text(label)

    replaced(browser, work)


def test_a_brand_is_found_in_a_logo_given_to_a_promo_and_brought_up_to_date(browser: Browser) -> None:
    browser.open_copy()
    promo = browser.driver.current_url
    browser.go("/brands")
    browser.find("#new-brand").send_keys("Saltwick")
    browser.click("#add-brand")
    browser.until(lambda: value(browser, "name") == "Saltwick", "the brand")
    chosen(browser, "logo-logo", "hollowmere-mark.svg")
    replaced(browser, lambda: browser.click("#brand-find"))
    assert len(browser.all(".brand-found")) == 6
    assert all(one.text.split("\n")[1] for one in browser.all(".brand-found")), "each says why"
    assert not browser.accessibility()
    replaced(browser, lambda: browser.click("#brand-accept"))
    accent = value(browser, "colour-accent").upper()
    assert accent.startswith("#F"), f"the yellow of the balloon, and not {accent}"
    typed(browser, "typed-ground", "16, 58, 92")
    assert value(browser, "colour-ground") == "#103a5c"
    chosen(browser, "font-heading", "Fraunces")
    browser.until(
        lambda: browser.js("return [...document.querySelectorAll('.brand-samples img')].every((i) => i.naturalWidth)"),
        "the samples",
    )
    # It is given to a promo, which is behind as soon as the brand changes.
    browser.driver.get(promo)
    browser.ready()
    browser.click("#tab-details")
    Select(browser.find("#p-brand")).select_by_visible_text("Saltwick")
    browser.settled()
    browser.until(lambda: "Saltwick" in (browser.find("#undo").get_attribute("title") or ""), "it to be a step")
    browser.driver.execute_async_script(
        "const done = arguments[0]; import('/static/js/editor/commands.js').then(async ({send}) => {"
        "await send({do: 'add-shape', form: 'rectangle', at: 0});"
        "const {model} = await import('/static/js/editor/model.js');"
        "await send({do: 'set', items: [...model.selected], values: {ink: 'ground', size: 1.2, arrives: 'none'}});"
        "done() })"
    )
    go_to(browser, 1.2)
    shown(browser)
    browser.until(lambda: max(abs(a - b) for a, b in zip(pixel(browser, 0.5, 0.4), (16, 58, 92), strict=True)) < 8,
                  "the ground of the brand")  # fmt: skip
    browser.go("/brands")
    browser.js("[...document.querySelectorAll('.brand-entry')].find((e) => e.textContent.includes('Saltwick')).click()")
    browser.until(lambda: value(browser, "name") == "Saltwick", "the brand")
    typed(browser, "typed-ground", "#5B1A4A")
    pair = browser.find(".brand-pair")
    browser.js("arguments[0].scrollIntoView({block: 'center'})", pair)
    browser.until(
        lambda: browser.js("return [...document.querySelectorAll('.brand-pair img')].every((i) => i.naturalWidth > 0)"),
        "a frame before and after",
    )
    browser.click("#brand-bring")
    browser.until(lambda: "1 promo brought up to date" in browser.find("#toasts").text, "it to be told")
    assert not browser.all("#brand-bring")
    browser.click("#toasts .btn")
    browser.until(lambda: browser.all("#brand-bring"), "it to be undone")
    replaced(browser, lambda: browser.click("#brand-undo"))
    assert value(browser, "colour-ground") == "#103a5c"
    assert browser.complaints() == []


def test_a_new_team_brings_in_its_logo_and_takes_a_shared_brand_over(browser: Browser, tmp_path: Path) -> None:
    browser.enter_demo()
    browser.go("/brands")
    browser.click("#brand-share")
    link = browser.find("#brand-link").get_attribute("value")
    browser.sign_up()
    browser.driver.get(link)
    browser.click("#take-over")
    browser.until(lambda: value(browser, "name") == "Hollowmere", "the copy")
    assert value(browser, "colour-accent") == "#f6b73c"
    browser.find("#new-brand").send_keys("Own")
    browser.click("#add-brand")
    browser.until(lambda: value(browser, "name") == "Own", "a brand of their own")
    logo = tmp_path / "own-logo.svg"
    logo.write_text('<svg xmlns="http://www.w3.org/2000/svg" width="200" height="100">'
                    '<rect width="200" height="100" fill="#0A7"/></svg>')  # fmt: skip
    replaced(browser, lambda: browser.find("#brand-file").send_keys(str(logo)))
    assert browser.find(".brand-logo-pic img")
    replaced(browser, lambda: browser.click("#brand-find"))
    replaced(browser, lambda: browser.click("#brand-accept"))
    assert value(browser, "colour-accent")[:6] == "#00aa7", "the green of the logo"
    assert not browser.accessibility()
    assert not browser.complaints()


def test_what_is_no_colour_is_said_in_a_sentence_and_nothing_is_lost(browser: Browser) -> None:
    browser.enter_demo()
    browser.go("/brands")
    browser.find("#new-brand").send_keys("Plain")
    browser.click("#add-brand")
    browser.until(lambda: value(browser, "name") == "Plain", "the brand")
    before = value(browser, "colour-accent")
    field = browser.find('#brand [name="typed-accent"]')
    field.send_keys("sunny", Keys.TAB)
    browser.until(lambda: "is no colour such as" in browser.find("#toasts").text, "it to be refused")
    assert value(browser, "colour-accent") == before
    typed(browser, "typed-accent", "fc0")
    assert value(browser, "colour-accent") == "#ffcc00"
    assert all("Error Code 422" in one for one in browser.complaints()), "nothing but that refusal"


def test_a_new_team_sets_its_brand_from_its_own_page(browser: Browser) -> None:
    browser.sign_up()
    browser.go("/brands")
    browser.find("#new-brand").send_keys("Hollowmere", Keys.ENTER)
    browser.until(lambda: value(browser, "name") == "Hollowmere", "the brand")
    browser.find("#brand-address").send_keys("http://127.0.0.1/")
    browser.click("#brand-look")
    browser.until(lambda: "not one of the open web" in browser.find("#toasts").text, "why not")
    browser.js("document.getElementById('brand-address').value = ''")
    browser.find("#brand-address").send_keys("hollowmere.example")
    replaced(browser, lambda: browser.click("#brand-look"))
    assert len(browser.all(".brand-proposal .brand-found")) > 9, "colours, fonts, the logo and words"
    assert not browser.accessibility()
    browser.until(lambda: browser.js("return fetch('/shelf/list').then((r) => r.text()).then((t) => "
                                     "t.includes('is-ready'))"), "the logo to be looked at", 40)  # fmt: skip
    replaced(browser, lambda: browser.click("#brand-accept"))
    assert (value(browser, "colour-accent"), value(browser, "colour-paper")) == ("#f6b73c", "#f6f1e7")
    assert browser.find(".brand-logo-pic img")
    assert "quiet" in browser.find("#brand-tone").get_attribute("value")
    browser.go("/templates")
    browser.until(lambda: "In Hollowmere" in browser.find("#gallery-brand").text, "templates in that brand")
    assert not browser.complaints()
