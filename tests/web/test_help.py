"""The help opens beside the screen that it is about, at the part that somebody is looking at."""

from __future__ import annotations

from selenium.webdriver.common.keys import Keys

from tests.web.conftest import Browser

PANEL = "#help-panel:popover-open"


def test_the_help_opens_where_somebody_is(browser: Browser) -> None:
    browser.enter_demo()
    browser.click("#open-help")
    assert browser.find(f"{PANEL} h2").text == "The Desk"
    assert not browser.accessibility()
    browser.click(f'{PANEL} .help-others a[href$="/team"]')
    browser.until(lambda: browser.find(f"{PANEL} h2").text == "The team", "another page")
    browser.find("body").send_keys(Keys.ESCAPE)
    browser.until(lambda: not browser.all(PANEL), "it to be shut")
    browser.open_copy()
    browser.click("#tab-music")
    browser.find("body").send_keys(Keys.F1)
    browser.find(PANEL)
    far = "const at = (css) => document.querySelector(css).getBoundingClientRect().top;"
    far += "return at('#help-music') - at('#help-panel .help-words')"
    browser.until(lambda: abs(browser.js(far)) < 20, "the part about music")
    assert not browser.accessibility()
    browser.click("#open-help")
    browser.until(lambda: not browser.all(PANEL), "its second press to shut it")
    browser.go("/help/editor")
    assert browser.find("h1").text == "The editor"
    assert not browser.complaints()
