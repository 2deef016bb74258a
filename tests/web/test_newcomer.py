"""The first ten minutes of a stranger: the first page, the demo, files of one's own in order, words, a film.

Presses are counted as a person would: a press, a drop, a typed field each count one.
"""

from __future__ import annotations

import base64
import io
import json
import os
import signal
import uuid
from collections.abc import Iterator
from contextlib import contextmanager
from fractions import Fraction
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from tools.stack import Stack

from tests.conftest import Files
from tests.web.conftest import Browser

pytestmark = pytest.mark.long

COLOURS = {
    "one": (200, 30, 30),
    "two": (30, 160, 60),
    "three": (30, 60, 200),
    "four": (230, 200, 40),
    "five": (20, 20, 20),
}


@pytest.fixture
def own_files(files: Files) -> list[Path]:
    """Two pieces of footage at 25 frames a second and three photos, each of its own colour."""
    made = []
    for n, (name, colour) in enumerate(COLOURS.items()):
        if n < 2:
            made.append(files.footage(f"{name}.mp4", lambda _, c=colour: c, frames=50, rate=Fraction(25)))
        else:
            path = files.folder / f"{name}.png"
            Image.new("RGB", (320, 180), colour).save(path)
            made.append(path)
    return made


class Counted:
    """A browser whose presses are counted."""

    def __init__(self, browser: Browser) -> None:
        self.browser = browser
        self.presses = 0

    def press(self, css: str) -> None:
        self.presses += 1
        self.browser.click(css)

    def type(self, css: str, text: str) -> None:
        self.presses += 1
        self.browser.find(css).send_keys(text)


def labels(browser: Browser) -> list[str]:
    return [row["label"] for row in browser.state()["main"]]


def stage(browser: Browser) -> np.ndarray:
    """The pixels on the stage, RGB."""
    data = browser.js("return document.getElementById('frame').toDataURL('image/png')").split(",")[1]
    return np.asarray(Image.open(io.BytesIO(base64.b64decode(data))).convert("RGB")).astype(int)


def changed(browser: Browser, before: np.ndarray) -> int:
    """How many pixels of the stage are clearly others than before."""
    now = stage(browser)
    if now.shape != before.shape:
        return 0
    return int((np.abs(now.astype(int) - before).max(axis=2) > 30).sum())


def test_the_first_page_plays_the_real_thing_and_leads_into_the_demo_with_one_press(browser: Browser) -> None:
    browser.driver.delete_all_cookies()
    browser.go("/")
    films = "return [...document.querySelectorAll('.welcome-films video')].map((v) => [v.currentTime, v.videoWidth])"
    browser.until(lambda: all(at > 0.3 for at, _ in browser.js(films)), "three films to play")
    assert [width for _, width in browser.js(films)] == [568, 320, 320]
    assert browser.accessibility() == []
    focused = "return document.activeElement.id"
    for _ in range(8):
        if browser.js(focused) != "enter-demo":
            ActionChains(browser.driver).send_keys(Keys.TAB).perform()
    assert browser.js(focused) == "enter-demo", "reached by the keys"
    ring, ground = browser.js(
        "const s = getComputedStyle(document.activeElement); return [s.outlineStyle, s.backgroundColor]"
    )
    assert ring == "solid", "the keys' place is seen on a button"
    assert ground not in ("rgba(0, 0, 0, 0)", "transparent"), "and it stays the button that it is"
    person = Counted(browser)
    person.press("#enter-demo")
    browser.find(".card-promo")
    assert person.presses == 1
    assert browser.complaints() == []


def test_five_own_files_in_order_words_seen_while_typed_and_a_film(browser: Browser, own_files: list[Path]) -> None:
    browser.driver.delete_all_cookies()
    browser.go("/")
    person = Counted(browser)
    person.press('a[href$="/sign-up"]')
    person.type("#name", "Nia New")
    person.type("#email", f"{uuid.uuid4().hex}@new.example")
    person.type("#password", "long enough words")
    person.press("form .btn-main")
    assert browser.find(".teach").text.count("\n") >= 5, "a Desk with little on it teaches"
    person.press("#start-blank")
    person.press("#create-promo")
    browser.ready()
    browser.find("#file-input").send_keys("\n".join(map(str, own_files)))
    person.presses += 1
    browser.until(lambda: "in this order" in browser.find("#put-all").text, "all files to be ready", 60)
    assert "all 5" in browser.find("#put-all").text
    person.press("#put-all")
    browser.until(lambda: len(labels(browser)) == 5, "five clips")
    assert labels(browser) == [path.name for path in own_files]
    assert browser.state()["rate"] == [25, 1], "the promo runs as its first footage does"

    before = stage(browser).astype(int)
    person.press("#add-words")
    browser.until(lambda: browser.js("return document.activeElement.className") == "stage-words", "a field")
    person.type(".stage-words", "Seen at once")
    browser.settled()
    person.type(".stage-words", Keys.ESCAPE)
    browser.until(lambda: changed(browser, before) > 500, "the words to be seen at their first frame")

    person.press("#open-export")
    person.press("#export-sheet .btn-main")
    browser.until(lambda: browser.all(".export-file.is-done"), "a finished film", 120)
    assert person.presses <= 15
    assert browser.complaints() == []


def test_pressed_one_after_another_files_stand_in_that_order(browser: Browser, own_files: list[Path]) -> None:
    browser.sign_up()
    browser.click("#start-blank")
    browser.click("#create-promo")
    browser.ready()
    browser.find("#file-input").send_keys("\n".join(map(str, own_files)))
    browser.until(lambda: len(browser.all(".shelf-item.is-ready")) == 5, "five files to be ready", 60)
    for path in own_files:
        # Pressed at once, without waiting for what came before.
        browser.js(
            "const pick = document.querySelector(arguments[0]);"
            "pick.dispatchEvent(new PointerEvent('pointerdown', {bubbles: true, clientX: 5, clientY: 5}));"
            "window.dispatchEvent(new PointerEvent('pointerup', {clientX: 5, clientY: 5}))",
            f'.shelf-item[data-name="{path.name}"] .shelf-pick',
        )
    browser.until(lambda: len(labels(browser)) == 5, "five clips")
    browser.settled()
    assert labels(browser) == [path.name for path in own_files]
    browser.until(lambda: abs(stage(browser)[5, 5] - np.array(COLOURS["five"])).max() < 12, "the last one on the stage")


def test_a_folder_dropped_on_the_desk_starts_a_promo(browser: Browser, own_files: list[Path]) -> None:
    browser.sign_up()
    browser.drop_on_window(*own_files[2:])
    browser.ready()
    browser.until(lambda: "all 3" in browser.find("#put-all").text, "the files to be offered", 60)
    browser.click("#put-all")
    browser.until(lambda: labels(browser) == [path.name for path in own_files[2:]], "them in their order")


def test_no_letter_is_lost_between_two_fields_or_when_the_tab_goes(browser: Browser) -> None:
    browser.open_copy()
    first, second = [
        row["id"] for track in browser.state()["tracks"] for row in track["rows"] if row["kind"] == "words"
    ][:2]
    browser.js(
        "const type = (id, text) => { const field = document.createElement('textarea'); field.dataset.words = id;"
        "document.getElementById('bench-details').append(field); field.value = text;"
        "field.dispatchEvent(new Event('input', {bubbles: true})); };"
        "type(arguments[0], 'First letters'); type(arguments[1], 'Second letters')",
        first, second,
    )  # fmt: skip
    said = lambda: {row["id"]: row["label"] for track in browser.state()["tracks"] for row in track["rows"]}  # noqa: E731
    browser.until(lambda: (said()[first], said()[second]) == ("First letters", "Second letters"), "both to be kept")
    address = browser.driver.current_url
    browser.js(
        "const field = document.createElement('textarea'); field.dataset.words = arguments[0];"
        "document.getElementById('bench-details').append(field); field.value = 'Typed and gone';"
        "field.dispatchEvent(new Event('input', {bubbles: true}))",
        first,
    )
    browser.go("/exports")
    browser.driver.get(address)
    browser.ready()
    browser.until(
        lambda: said()[first] == "Typed and gone" or browser.driver.refresh(), "what waited when the page went"
    )


@contextmanager
def without_pages(stack: Stack) -> Iterator[None]:
    """The server of pages killed, and started again afterwards."""
    web = stack.processes["web"]
    os.killpg(web.pid, signal.SIGKILL)
    web.wait()
    try:
        yield
    finally:
        stack.make_whole()


def test_the_server_gone_is_said_at_once_and_what_is_done_meanwhile_is_kept(browser: Browser, stack: Stack) -> None:
    browser.open_copy()
    before = len(browser.state()["notes"])
    with without_pages(stack):
        body = browser.driver.find_element(By.TAG_NAME, "body")
        body.send_keys("n")
        browser.until(lambda: browser.all("#offline:not([hidden])"), "word that the server is gone")
        assert "kept here" in browser.find("#offline").text
        body.send_keys("n")
        browser.until(lambda: "2 steps to send" in browser.find("#saved").text, "the steps that wait to be counted")
    browser.until(lambda: len(browser.state()["notes"]) == before + 2, "both to be sent, once each", 60)
    browser.until(lambda: not browser.all("#offline:not([hidden])"), "the banner to go")
    browser.settled()
    assert len(browser.state()["notes"]) == before + 2
    browser.driver.get_log("browser")  # The console tells of the requests that failed meanwhile.


def test_what_waited_for_the_server_is_sent_after_a_reload_once(browser: Browser, stack: Stack) -> None:
    browser.open_copy()
    address, before = browser.driver.current_url, len(browser.state()["notes"])
    with without_pages(stack):
        body = browser.driver.find_element(By.TAG_NAME, "body")
        body.send_keys("n")
        browser.until(lambda: browser.all("#offline:not([hidden])"), "word that the server is gone")
        body.send_keys("n")
        body.send_keys("n")
        browser.until(lambda: "3 steps to send" in browser.find("#saved").text, "the steps that wait to be counted")
        browser.driver.get("about:blank")
    browser.driver.get(address)
    browser.ready()
    browser.until(lambda: len(browser.state()["notes"]) == before + 3, "all three to be sent")
    browser.settled()
    browser.driver.refresh()
    browser.ready()
    browser.settled()
    assert len(browser.state()["notes"]) == before + 3, "once each"
    assert browser.js("return Object.keys(localStorage).filter((k) => k.startsWith('glowreel:unsent'))") == []
    browser.driver.get_log("browser")  # The console tells of the requests that failed meanwhile.


def test_panes_are_dragged_by_mouse_and_key_remembered_and_put_back(browser: Browser) -> None:
    browser.open_copy()

    def size(css: str) -> tuple[int, int]:
        box = browser.find(css).size
        return round(box["width"]), round(box["height"])

    bench, timeline = size(".bench")[0], size(".timeline")[1]
    edge = browser.find('[data-pane="bench"]')
    ActionChains(browser.driver, duration=40).drag_and_drop_by_offset(edge, -80, 0).perform()
    assert abs(size(".bench")[0] - (bench + 80)) <= 3
    browser.find('[data-pane="time"]').send_keys(Keys.ARROW_UP, Keys.ARROW_UP)
    assert abs(size(".timeline")[1] - (timeline + 32)) <= 3
    browser.click("#bench-high")
    assert size(".bench")[1] > 700
    browser.driver.refresh()
    browser.ready()
    assert abs(size(".bench")[0] - (bench + 80)) <= 3
    browser.click("#bench-high")
    ActionChains(browser.driver).double_click(browser.find('[data-pane="bench"]')).perform()
    browser.find('[data-pane="time"]').send_keys(Keys.HOME)
    assert (size(".bench")[0], size(".timeline")[1]) == (bench, timeline)


def test_a_number_in_details_is_typed_stepped_dragged_and_put_back(browser: Browser) -> None:
    browser.open_copy()
    item = next(row for track in browser.state()["tracks"] for row in track["rows"] if row["kind"] == "words")
    browser.js("document.querySelector(arguments[0]).dispatchEvent(new PointerEvent('pointerdown', {bubbles: true}));"
               "window.dispatchEvent(new PointerEvent('pointerup'))", f'#lanes [data-id="{item["id"]}"]')  # fmt: skip
    size = lambda: round(browser.state()["boxes"]["wide"][item["id"]]["size"] * 100, 1)  # noqa: E731
    field = browser.find("#p-size")
    browser.js("arguments[0].scrollIntoView({block: 'center'})", field)
    field.send_keys(Keys.CONTROL + "a")
    field.send_keys("20", Keys.ENTER)
    browser.until(lambda: size() == 20, "the typed size")
    browser.find("#p-size").send_keys(Keys.ARROW_UP)
    browser.until(lambda: size() == 20.5, "a step more")
    label = browser.find('label[for="p-size"]')
    ActionChains(browser.driver, duration=40).drag_and_drop_by_offset(label, 16, 0).perform()
    browser.until(lambda: size() == 22.5, "four steps more by dragging the label")
    ActionChains(browser.driver).double_click(browser.find('label[for="p-size"]')).perform()
    browser.until(lambda: size() == 13, "the size of new words")
    browser.find("#details-find").send_keys("rotate")
    rows = [row.text.split("\n")[0] for row in browser.all(".control") if row.is_displayed()]
    assert rows == ["Turn"]
    browser.find("#details-find").send_keys(Keys.CONTROL + "a", Keys.BACKSPACE)
    browser.js("document.querySelector('[data-group=what]').open = false")
    browser.driver.refresh()
    browser.ready()
    groups = json.loads(browser.js("return localStorage.getItem('glowreel:groups')"))
    assert groups["what"] is False
    browser.js("localStorage.removeItem('glowreel:groups')")
    assert browser.complaints() == []
