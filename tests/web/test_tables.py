"""A table becomes promos on a page: pasted, matched, looked at, made, seen; and tokens are shown once."""

from __future__ import annotations

from tests.web.conftest import Browser

TABLE = "Town;Title;Price\nAhlen;Over Ahlen;89 €\nBork;Over Bork;95 €\nCappel;{};79 €\nDulmen;Two days;99 €"


def test_a_pasted_table_is_made_and_its_promos_are_seen(browser: Browser) -> None:
    browser.sign_up()
    browser.go("/tables?template=two-days-only")
    assert browser.accessibility() == []
    browser.js("arguments[0].value = arguments[1]", browser.find("#cells"), TABLE.format("x" * 60))
    browser.click("#begin-batch")
    browser.find("#make-first")
    assert "has room for 44 letters; this has 60" in browser.find("#batch-rows").text
    browser.click("#make-first")
    browser.until(lambda: len(browser.all("#batch-rows tr.is-made")) == 2, "the first rows", 180)
    seen = "one => one.complete && one.naturalWidth > 0"
    pictures = f"return [...document.querySelectorAll('#batch-rows img')].map({seen})"
    browser.until(lambda: browser.js(pictures) == [True, True], "their pictures", 120)
    assert len(browser.all("#batch-rows tr.is-failed")) == 1
    assert browser.accessibility() == []
    browser.click("#batch-rows tr.is-failed button")
    browser.find("#batch-rows tr.is-skipped")
    browser.click("#make-all")
    browser.until(lambda: len(browser.all("#batch-rows tr.is-made")) == 3, "the others", 180)
    assert browser.complaints() == []


def test_a_token_is_shown_once_and_ended(browser: Browser) -> None:
    browser.sign_up()
    browser.go("/team/programs")
    browser.find("#token-name").send_keys("Shop")
    browser.click("#make-token")
    given = browser.find("#given").text
    assert given.startswith("glow_")
    assert browser.accessibility() == []
    browser.go("/team/programs")
    assert given not in browser.driver.page_source
    browser.click("[data-token] button")
    browser.until(lambda: "ended" in browser.find("[data-token]").text, "the token to end")
    browser.go("/team/done")
    assert "ended the token “Shop”" in browser.find("main").text
