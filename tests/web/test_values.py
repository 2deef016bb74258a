"""What a person sets of things: over time, for one format, for several at once, from one to another."""

from __future__ import annotations

import json
import re
from typing import Any

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tests.web.conftest import Browser

pytestmark = pytest.mark.long


def row(browser: Browser, label: str) -> dict[str, Any]:
    rows = [row for track in browser.state()["tracks"] for row in track["rows"]]
    return next(row for row in rows if row["label"].startswith(label))


def choose(browser: Browser, label: str) -> None:
    key = row(browser, label)["id"]
    browser.click(f'[data-id="{key}"]')
    browser.find(f'.details[data-for="{key}"]')


def go_to(browser: Browser, seconds: float) -> None:
    browser.driver.execute_async_script(
        "const [at, done] = arguments; import('/static/js/editor/model.js').then((m) => {"
        "m.moveTo(Math.round(at * m.model.fps)); setTimeout(done, 400); })",
        seconds,
    )


def enter(browser: Browser, field: str, value: str) -> None:
    """Types a number over the one in a field, which may just be drawn anew."""

    def typed() -> bool:
        element = browser.find(field)
        browser.js("arguments[0].scrollIntoView({block: 'center'}); arguments[0].select()", element)
        element.send_keys(value, Keys.ENTER)
        return True

    browser.until(typed, f"{field} to be typed into")
    browser.settled()


def click(browser: Browser, selector: str) -> None:
    """Presses what is there now: Details may just be drawn anew."""
    browser.find(selector)
    browser.js(
        "const e = document.querySelector(arguments[0]); e.scrollIntoView({block: 'center'}); e.click()", selector
    )
    browser.settled()


def press(browser: Browser, label: str) -> None:
    click(browser, f'[aria-label="{label}"]')


def test_a_title_grows_and_fades_over_time_and_its_points_are_dragged(browser: Browser) -> None:
    browser.open_copy()
    choose(browser, "Two hours")
    start = row(browser, "Two hours")["start"]
    go_to(browser, start + 0.5)
    press(browser, "Size: a point here")
    go_to(browser, start + 1.5)
    enter(browser, "#p-size", "30")
    (curve,) = row(browser, "Two hours")["curves"]
    assert (curve["label"], [round(at, 3) for at, _ in curve["points"]]) == ("Size", [0.5, 1.5])
    go_to(browser, start + 1.0)
    browser.until(lambda: browser.find("#p-size").get_attribute("value").startswith("21."), "the size half way")
    # The lane has a point for each; the second one is dragged, the first one moved by key, then taken away.
    points = browser.all(".tl-points .point")
    assert len(points) == 2
    ActionChains(browser.driver, duration=60).drag_and_drop_by_offset(points[1], -15, 0).perform()
    browser.settled()
    browser.until(lambda: row(browser, "Two hours")["curves"][0]["points"][1][0] < 1.4, "the point to have moved")
    browser.all(".tl-points .point")[0].send_keys(Keys.ARROW_RIGHT)
    browser.until(lambda: row(browser, "Two hours")["curves"][0]["points"][0][0] > 0.51, "the point a frame on")
    browser.all(".tl-points .point")[0].send_keys(Keys.DELETE)
    browser.until(lambda: len(row(browser, "Two hours")["curves"][0]["points"]) == 1, "the point to go")
    browser.click("#undo")
    browser.until(lambda: len(row(browser, "Two hours")["curves"][0]["points"]) == 2, "the point to be back")
    assert browser.complaints() == []


def test_other_words_and_another_size_in_tall_alone_each_undone_by_itself(browser: Browser) -> None:
    browser.open_copy()
    browser.click('.wall-pick[data-format="tall"]')
    choose(browser, "Give someone")
    browser.click("#for-one")
    enter(browser, "#p-size", "20")
    text = browser.find("#words-text")
    text.clear()
    text.send_keys("A sunrise")
    browser.settled()
    browser.js("document.activeElement.blur()")
    boxes = browser.state()["boxes"]
    key = row(browser, "Give someone")["id"]
    assert (boxes["tall"][key]["size"], boxes["wide"][key]["size"]) == (0.2, 0.12)
    browser.until(lambda: browser.state()["boxes"]["tall"][key]["w"] < boxes["wide"][key]["w"] * 3, "other words")
    press(browser, "Size differs in this format: let it follow the others")
    assert browser.state()["boxes"]["tall"][key]["size"] == 0.12
    press(browser, "Words differ in this format: let them follow the others")
    browser.until(lambda: browser.find("#words-text").get_attribute("value").startswith("Give someone"), "its words")
    browser.click("#for-one")
    click(browser, "#p-shown")
    assert browser.all('[aria-label="Shown differs in this format: let it follow the others"]')
    assert browser.accessibility() == []


def test_the_look_of_one_title_is_given_to_two_others_and_a_logo_is_replaced(browser: Browser) -> None:
    browser.open_copy()
    choose(browser, "hollowmere.example")
    browser.js("document.querySelector('[data-copy-look]').click()")
    choose(browser, "Three nights")
    other = browser.find(f'[data-id="{row(browser, "Two hours")["id"]}"]')
    ActionChains(browser.driver).key_down(Keys.SHIFT).click(other).key_up(Keys.SHIFT).perform()
    browser.until(lambda: browser.find(".details h2").text == "2 items selected", "both to be selected")
    browser.js("document.querySelector('[data-give-look]').click()")
    browser.settled()
    boxes, keys = (
        browser.state()["boxes"]["wide"],
        [row(browser, label)["id"] for label in ("Three", "Two", "hollowmere.")],
    )
    assert len({boxes[key]["size"] for key in keys}) == 1
    choose(browser, "hollowmere-logo")
    browser.click("[data-replace]")
    browser.find("dialog[open] .material-item")
    pick = next(m for m in browser.all("dialog[open] .material-item") if "picnic" in m.text)
    pick.click()
    browser.until(
        lambda: any(part["label"] == "picnic.jpg" for t in browser.state()["tracks"] for part in t["rows"]),
        "the photo in the logo’s place",
    )
    assert row(browser, "picnic")["tied"] == "whole"
    assert browser.complaints() == []


def test_what_the_page_is_told_of_steps_adds_up_to_what_there_is(browser: Browser) -> None:
    """Only what changed travels; after any steps the page knows what a page opened anew would."""
    browser.open_copy()
    address = re.sub(r"[#?].*", "", browser.driver.current_url)
    clips = [part["id"] for part in browser.state()["main"]]
    words = [part["id"] for track in browser.state()["tracks"] for part in track["rows"] if part["kind"] == "words"]
    second = 705_600_000
    steps: list[dict[str, Any] | str] = [
        {"do": "trim", "item": clips[0], "length": 2 * second},
        {"do": "move-clips", "clips": [clips[3]], "before": clips[1]},
        {"do": "split-at", "at": 7 * second},
        {"do": "set", "items": words[:3], "values": {"size": 0.2, "text": "Other"}, "format": "tall", "only": True},
        {"do": "add-words", "at": 0, "text": "New"},
        "undo",
        {"do": "remove", "items": [words[0], clips[2]]},
        {"do": "set-transition", "after": clips[0], "kind": "iris"},
        {"do": "break-scene", "at": 5 * second},
        {"do": "add-note", "at": 3 * second, "text": "Look"},
        {"do": "duplicate", "items": clips[:2]},
        {"do": "add-point", "item": words[4], "name": "place", "at": 18 * second},
        {"do": "add-format", "format": "cinema"},
        {"do": "set-edge", "edge": "start", "kind": "crossfade"},
        {"do": "rename", "name": "Other name"},
        "undo",
        "redo",
    ]
    for step in steps:
        asked = f"post({json.dumps(step)})" if isinstance(step, str) else f"send({json.dumps(step)})"
        assert browser.driver.execute_async_script(
            f"const done = arguments[0]; import('/static/js/editor/commands.js').then((m) => m.{asked}).then(done)"
        ), step
        told = browser.state()
        whole = browser.driver.execute_async_script(
            "const [url, done] = arguments; fetch(url + '/now', {headers: {'X-Glow': '1'}}).then((r) => r.text())"
            ".then((t) => { const e = document.createElement('template'); e.innerHTML = t;"
            "done(JSON.parse(e.content.querySelector('#state').textContent)); })",
            address,
        )
        layers = set(told["front"])
        told["boxes"] = {f: {k: b for k, b in told["boxes"][f].items() if k in layers} for f in whole["boxes"]}
        for each in (told, whole):
            for passing in ("select", "sentence", "notice"):
                each.pop(passing)
        assert {key: told[key] for key in whole} == whole, step
