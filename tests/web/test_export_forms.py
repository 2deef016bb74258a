"""Exports other than the usual film, chosen in the sheet."""

from __future__ import annotations

import io
import urllib.request

import pytest
from PIL import Image
from selenium.webdriver.support.select import Select

from tests.web.conftest import Browser
from tests.web.test_values import click

pytestmark = pytest.mark.long


def taken(browser: Browser, address: str) -> bytes:
    """What a link of the page leads to, fetched as its person."""
    cookies = "; ".join(f"{one['name']}={one['value']}" for one in browser.driver.get_cookies())
    asked = urllib.request.Request(address, headers={"Cookie": cookies})
    with urllib.request.urlopen(asked) as answer:
        return bytes(answer.read())


def test_a_gif_is_told_its_size_and_a_picture_of_the_moment_is_taken(browser: Browser) -> None:
    browser.open_copy()
    browser.click("#open-export")
    browser.until(lambda: "together" in browser.find("#export-expected").text, "the size of three films")
    Select(browser.find("#export-kind")).select_by_value("gif")
    browser.until(lambda: browser.all("#export-choices [value='240']"), "its resolutions")
    for format in ("wide", "square"):
        click(browser, f'#export-formats [value="{format}"]')
    click(browser, "#export-choices [value='240']")
    click(browser, ".export-more summary")
    click(browser, "[name=limit][value=megabytes]")
    field = browser.find("[name=megabytes]")
    field.clear()
    field.send_keys("0.05")
    browser.until(lambda: "between" in browser.find("#export-expected").text, "the refusal")
    field.clear()
    field.send_keys("1")
    browser.until(lambda: "kB" in browser.find("#export-expected").text, "its size")
    Select(browser.find("#export-kind")).select_by_value("still")
    browser.until(lambda: not browser.all(".export-more"), "what a picture has no choice of to go")
    click(browser, "#export-choices [value='480']")
    browser.click("#start-export")
    link = browser.until(lambda: browser.find("#export-list .export-acts a[href*=download]"), "the file", 150)
    with Image.open(io.BytesIO(taken(browser, link.get_attribute("href")))) as picture:
        assert (picture.format, picture.size) == ("PNG", (480, 854))
    assert not browser.all("#export-list a[href*='/watch/']"), "a picture has no watch page"
    browser.driver.refresh()
    browser.ready()
    browser.click("#open-export")
    chosen = lambda: Select(browser.find("#export-kind")).first_selected_option.text  # noqa: E731
    browser.until(lambda: chosen() == "One picture", "what was chosen before")
    assert browser.complaints() == []
