"""Publishing as a person does it: channels connected, one sheet for all, the calendar, and the Desk that follows."""

from __future__ import annotations

import re
from datetime import date, timedelta

import pytest

from tests.web.conftest import Browser

pytestmark = pytest.mark.long


def connect(browser: Browser, channel: str) -> None:
    browser.click(f"#connect-{channel}")
    browser.until(lambda: "Allow" in browser.find("form button").text, "the channel to ask")
    browser.click("form button")
    browser.find("#main")


def test_a_promo_is_planned_moved_by_a_drag_sent_and_seen_there(browser: Browser) -> None:
    browser.open_copy()
    browser.click("#open-export")
    browser.click("#open-publish")
    browser.find("#publish-form")
    for channel in ("marquee", "passerby"):
        if browser.all(f"#connect-{channel}"):
            connect(browser, channel)
    browser.find("#publish-form")
    assert browser.accessibility() == []
    sheets = {re.split(r"\s", sheet.text)[0]: sheet for sheet in browser.all(".going-sheet")}
    assert {"Marquee", "Passerby"} <= set(sheets)
    title = browser.find('.going-sheet:has(select option[value^="tall"]) input[name^="title-"]')
    title.clear()
    title.send_keys("x" * 61)
    assert browser.until(lambda: browser.all(".going-count.is-over"), "the counter")[0].text == "1 too many"
    title.clear()
    title.send_keys("Up before the sun")
    day = date.today() + timedelta(days=8)
    browser.js("arguments[0].value = arguments[1]", browser.find("#publish-at"), f"{day}T09:30")
    browser.js("document.querySelector('[name=when][value=planned]').checked = true")
    browser.click("#publish")
    chip = f'td[data-day="{day}"] .going-post.is-planned'
    browser.find(chip)
    assert len(browser.all(chip)) >= 2
    assert browser.accessibility() == []
    target = day + timedelta(days=2)
    post = browser.find(chip).get_attribute("data-post")
    browser.js(
        "const data = new DataTransfer(); const fire = (node, kind) => node.dispatchEvent("
        "new DragEvent(kind, {bubbles: true, cancelable: true, dataTransfer: data}));"
        "fire(arguments[0], 'dragstart'); fire(arguments[1], 'dragover'); fire(arguments[1], 'drop')",
        browser.find(f'[data-post="{post}"]'), browser.find(f'td[data-day="{target}"]'),
    )  # fmt: skip
    browser.find(f'td[data-day="{target}"] [data-post="{post}"]')
    browser.click(f'[data-post="{post}"]')
    browser.find("#post-title")
    assert target.strftime("%d %B %Y, 09:30") in browser.find(".going-state").text
    for field in browser.all("#post-tags"):
        field.send_keys(" dawn")
    browser.click("form .btn-main")
    browser.find("#going")
    # Both are put aside again: nothing goes out next week.
    for _ in range(2):
        browser.click(".going-post.is-planned")
        browser.click("form.going-acts button")
        browser.find("#going")
    assert browser.complaints() == []


def test_the_desk_shows_the_week_and_a_note_at_once(browser: Browser) -> None:
    browser.enter_demo()
    days = browser.all("#desk-week .week-days li")
    assert len(days) == 7
    assert len(browser.all("#desk-week .week-days .is-today")) == 1
    assert "In the making" in browser.find("#desk-week .week-stages").text
    assert browser.accessibility() == []
