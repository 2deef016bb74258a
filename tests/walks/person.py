"""Somebody at the screen, whose actions are counted: a press, a drag and a typed field count one each."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.select import Select

from tests.web.conftest import Browser
from tests.web.films import Film, fetched, film_of

NAV = ".bar-nav a"
"""The ways in the bar on top of every page."""

TABLE = Path(__file__).parents[2] / "docs" / "walks.md"

IN_SIGHT = """
const [css, words] = arguments;
const said = (e) => (e.getAttribute('aria-label') ?? '') + ' ' + e.textContent.replace(/\\s+/g, ' ').trim();
const found = [...document.querySelectorAll(css)].filter((e) => said(e).includes(words) && e.getClientRects().length);
if (!found.length) return null;
found[0].scrollIntoView({block: 'center', inline: 'nearest'});
return found[0];
"""
"""The first thing of a selector that says these words and is drawn, scrolled to as a person would."""


class Person:
    """What a person does. Everything goes through the pointer, the keys and the choosers of the browser, so that what
    is covered or out of reach cannot be pressed; looking (`browser`) is not counted."""

    def __init__(self, browser: Browser) -> None:
        self.browser = browser
        self.actions = 0
        self.done: list[str] = []

    def did(self, what: str, count: int = 1) -> None:
        """Counts what was done."""
        self.actions += count
        self.done.append(what)

    def see(self, css: str, words: str = "") -> WebElement:
        """Waits until something is drawn that says these words."""
        return self.browser.until(lambda: self.browser.js(IN_SIGHT, css, words), f"{css} with “{words}” in sight")

    def press(self, css: str, words: str = "") -> None:
        """Presses the first thing of a selector that says these words."""

        def pressed() -> bool:
            self.see(css, words).click()
            return True

        self.browser.until(pressed, f"{css} with “{words}” to be pressed")
        self.did(f"press {css} {words}".strip())
        self.browser.settled()

    def type(self, css: str, text: str, *ends: str) -> None:
        """Types over what is in a field, and ends with these keys."""

        def typed() -> bool:
            field = self.see(css)
            self.browser.js("arguments[0].focus(); arguments[0].select?.()", field)
            field.send_keys(text, *ends)
            return True

        self.browser.until(typed, f"{css} to be typed into")
        self.did(f"type {css}")
        self.browser.settled()

    def number(self, css: str, value: float | str) -> None:
        """Types a number into Details and goes on."""
        self.type(css, str(value), Keys.ENTER)

    def write(self, text: str) -> None:
        """Types words where they stand on the stage, in the field that has just opened."""
        field = self.browser.find(".stage-words")
        self.browser.until(lambda: self.browser.driver.switch_to.active_element == field, "the field to take letters")
        field.send_keys(Keys.CONTROL, "a", Keys.NULL)
        field.send_keys(text)
        self.browser.settled()
        ActionChains(self.browser.driver).send_keys(Keys.ESCAPE).perform()
        self.browser.until(lambda: not self.browser.all(".stage-words"), "the field to go")
        self.did("type on the stage")
        self.browser.settled()

    def choose(self, css: str, label: str) -> None:
        """Chooses in a list."""

        def chosen() -> bool:
            Select(self.see(css)).select_by_visible_text(label)
            return True

        self.browser.until(chosen, f"“{label}” to be chosen in {css}")
        self.did(f"choose {css} {label}")
        self.browser.settled()

    def key(self, *keys: str) -> None:
        """One press of keys, where nothing is being typed."""
        chain = ActionChains(self.browser.driver)
        for held in keys[:-1]:
            chain.key_down(held)
        chain.send_keys(keys[-1])
        for held in keys[:-1]:
            chain.key_up(held)
        chain.perform()
        self.did(f"key {keys!r}")
        self.browser.settled()

    def details(self) -> None:
        """Shows Details, where something else is shown."""
        if self.browser.find("#bench-details").get_attribute("hidden") is not None:
            self.press("#tab-details")

    def group(self, name: str) -> None:
        """Opens a group of Details, where it is shut."""
        head = f'.details .group[data-group="{name}"]'
        self.see(f"{head} summary")
        if not self.browser.js("return document.querySelector(arguments[0]).open", head):
            self.press(f"{head} summary")

    def menu(self, css: str, entry: str, words: str = "") -> None:
        """What is there to do with something, and one of it: two presses."""
        ActionChains(self.browser.driver).context_click(self.see(css, words)).perform()
        self.did(f"menu of {css} {words}")
        self.press("#menu .menu-item, #menu .menu-row button, #menu button", entry)

    def bring(self, *paths: Path, into: str = "#file-input") -> None:
        """Gives files to a page, as one chooses or drops them: one action."""
        self.browser.find(into).send_keys("\n".join(map(str, paths)))
        self.did(f"bring {len(paths)} files")

    def drag(self, start: tuple[float, float], end: tuple[float, float], what: str, held: str = "") -> None:
        """Drags from one place of the window to another, with a key held or none."""
        driver = self.browser.driver
        if held:
            ActionChains(driver).key_down(held).perform()
        chain = ActionChains(driver, duration=60)
        pointer = chain.w3c_actions.pointer_action
        pointer.move_to_location(round(start[0]), round(start[1])).pointer_down()
        pointer.move_to_location(round(start[0] + 5), round(start[1] + 3))
        pointer.move_to_location(round((start[0] + end[0]) / 2), round((start[1] + end[1]) / 2))
        pointer.move_to_location(round(end[0]), round(end[1]))
        pointer.move_to_location(round(end[0]), round(end[1])).pointer_up()
        chain.perform()
        if held:
            ActionChains(driver).key_up(held).perform()
        self.did(f"drag {what}")
        self.browser.settled()

    def tap(self, across: float, down: float, what: str, held: str = "") -> None:
        """Presses a place of the window, with a key held or none."""
        driver = self.browser.driver
        if held:
            ActionChains(driver).key_down(held).perform()
        chain = ActionChains(driver)
        chain.w3c_actions.pointer_action.move_to_location(round(across), round(down)).pointer_down().pointer_up()
        chain.perform()
        if held:
            ActionChains(driver).key_up(held).perform()
        self.did(f"press {what}")
        self.browser.settled()

    def drop(self, css: str, onto: str) -> None:
        """Drags something that the browser itself carries, and drops it on the middle of something else. A headless
        browser carries nothing: the page is told what it would be told."""
        self.browser.js(
            "const data = new DataTransfer(); const [from, to] = arguments; const box = to.getBoundingClientRect();"
            "const where = {clientX: box.x + box.width / 2, clientY: box.y + box.height / 2};"
            "const fire = (node, kind) => node.dispatchEvent(new DragEvent(kind,"
            " {bubbles: true, cancelable: true, dataTransfer: data, ...where}));"
            "fire(from, 'dragstart'); fire(to, 'dragover'); fire(to, 'drop'); fire(from, 'dragend')",
            self.see(css), self.see(onto),
        )  # fmt: skip
        self.did(f"drag {css} on to {onto}")
        self.browser.settled()

    def middle(self, css: str, words: str = "") -> tuple[float, float]:
        """Where the middle of something is in the window."""
        box = self.browser.js(
            "const r = arguments[0].getBoundingClientRect(); return [r.x + r.width / 2, r.y + r.height / 2]",
            self.see(css, words),
        )
        return box[0], box[1]

    def box(self, item: str) -> tuple[float, float, float, float]:
        """Where something on the timeline is in the window: its left and right edges, its middle down; and how wide a
        second is there."""
        left, right, middle, second = self.browser.driver.execute_async_script(
            "const [css, done] = arguments; const r = document.querySelector(css).getBoundingClientRect();"
            "import('/static/js/editor/timeline.js').then((t) => done([r.left, r.right, r.y + r.height / 2,"
            " t.perSecond()]))",
            f'#lanes [data-id="{item}"]',
        )
        return left, right, middle, second

    def on_stage(self, across: float, down: float) -> tuple[float, float]:
        """Where a place of the frame, in shares of it, is in the window."""
        left, top, wide, high = self.browser.js(
            "const r = document.getElementById('frame').getBoundingClientRect(); return [r.x, r.y, r.width, r.height]"
        )
        return left + across * wide, top + down * high

    def pick(self, kind: str, css: str) -> None:
        """Presses something on the Shelf, whose list shows this kind of things, or all of them."""
        browser = self.browser
        if browser.find("#bench-shelf").get_attribute("hidden") is not None:
            self.press("#tab-shelf")
        if browser.find("#shelf-kind").get_attribute("value") != kind:
            labels = browser.js("return Object.fromEntries([...document.getElementById('shelf-kind').options].map("
                                "(o) => [o.value, o.text]))")  # fmt: skip
            self.choose("#shelf-kind", labels[kind])
        self.press(f".shelf-item.is-ready{css} .shelf-pick")

    def words(self, text: str) -> None:
        """Adds words at the playhead and writes them where they stand."""
        self.key("w")
        self.write(text)

    def spot(self, across: float, down: float) -> None:
        """Puts what is selected to one of nine places of the frame."""
        self.press(f".details .nine [data-spot='[{across:g}, {down:g}]']")

    def go_to(self, seconds: float) -> None:
        """Presses the ruler at a moment."""
        where = self.browser.js(
            "const r = document.getElementById('ruler').getBoundingClientRect();"
            "const t = document.getElementById('tl-scroll').getBoundingClientRect();"
            "return [r.x, r.y + r.height / 2, t.right]"
        )
        scale = self.browser.driver.execute_async_script(
            "const done = arguments[0]; import('/static/js/editor/timeline.js').then((t) => done(t.perSecond()))"
        )
        self.tap(where[0] + seconds * scale, where[1], f"the ruler at {seconds} s")

    def with_those_of(self, other: Person) -> None:
        """Counts what somebody else did for the same piece of work."""
        self.actions += other.actions
        self.done += other.done

    def upto(self, number: int) -> None:
        """The piece of work is done: it took no more actions than docs/walks.md says, and that is within its budget."""
        row = next(line for line in TABLE.read_text().splitlines() if line.startswith(f"| {number} |"))
        measured, budget = (int(re.sub(r"\D", "", cell)) for cell in row.split("|")[-3:-1])
        assert self.actions <= measured, f"{self.actions} actions, and docs/walks.md says {measured}: {self.done}"
        assert measured <= budget
        assert self.browser.complaints() == []


def films(person: Person, count: int, seconds: float = 300) -> list[Film]:
    """Waits for finished films on the sheet or page that is open."""
    browser = person.browser
    done = ".export-file.is-done"
    browser.until(lambda: len(browser.all(done)) >= count, f"{count} finished films", seconds)
    links = [link.get_attribute("href") or "" for link in browser.all(f'{done} a[href*="/download"]')]
    return [film_of(fetched(browser, link)) for link in links[:count]]


def exported(person: Person, *without: str, short_side: int = 480) -> list[Film]:
    """Exports in all formats but these, small unless it is said otherwise, and waits for the films."""
    person.press("#open-export")
    told = person.browser.find("#export-expected")
    person.browser.until(lambda: re.search(r"\d [kM]B", told.text), "how large they will be")
    for name in without:
        person.press("#export-formats .pick", name)
    person.see("#export-choices [value='480'] + span")
    if short_side != 1080:
        person.press(f"#export-choices [value='{short_side}'] + span")
    person.press("#start-export")
    return films(person, len(person.browser.state()["formats"]) - len(without))


def rows(browser: Browser, kind: str = "", lane: str = "") -> list[dict[str, Any]]:
    """What lies on the tracks above and below the main one, by its start."""
    found = [
        row
        for track in browser.state()["tracks"]
        for row in track["rows"]
        if (not kind or row["kind"] == kind) and (not lane or track["kind"] == lane)
    ]
    return sorted(found, key=lambda row: row["start"])
