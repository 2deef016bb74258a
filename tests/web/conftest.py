"""A real browser on the real server."""

from __future__ import annotations

import tempfile
import uuid
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import Any

import pytest
from selenium import webdriver
from selenium.common.exceptions import (
    ElementClickInterceptedException,
    ElementNotInteractableException,
    JavascriptException,
    StaleElementReferenceException,
    TimeoutException,
)
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import WebDriverWait
from tools.browser import open_browser
from tools.stack import Stack

MOVED = (StaleElementReferenceException, ElementClickInterceptedException, ElementNotInteractableException)
"""What a page says whose parts are just being drawn anew."""

AXE = (Path(__file__).parent.parent / "vendor" / "axe.min.js").read_text()


COPIED = """
const [name, done] = arguments;
const read = async (answer) => new DOMParser().parseFromString(await answer.text(), 'text/html');
const press = (path, page) => fetch(path, {
  method: 'POST', headers: {'X-CSRFToken': page.querySelector('meta[name="csrf-token"]').content},
});
(async () => {
  const desk = await read(await press('/demo', await read(await fetch('/welcome'))));
  const promo = [...desk.querySelectorAll('.card-promo')].find(
    (one) => one.querySelector('.card-promo-name').textContent.trim() === name);
  done((await press(promo.querySelector('form[action$="/copy"]').getAttribute('action'), desk)).url);
})();
"""
"""Enters the demo and copies one of its promos; told where the copy is."""


class Found(WebElement):
    """An element that is found again by its selector where the page has drawn it anew, as a hand would find it."""

    def __init__(self, browser: Browser, css: str, element: WebElement) -> None:
        super().__init__(element.parent, element.id)
        self.browser, self.css = browser, css

    def _execute(self, command: str, params: Any = None) -> Any:
        def done() -> list[Any]:
            try:
                return [super(Found, self)._execute(command, dict(params or {}))]
            except StaleElementReferenceException:
                self._id = self.browser.find(self.css).id
                raise

        return self.browser.until(done, f"{self.css} to stand still")[0]


class Browser:
    """The driver with the few words that the tests use."""

    def __init__(self, driver: webdriver.Chrome, address: str) -> None:
        self.driver, self.address = driver, address

    def go(self, path: str) -> None:
        self.driver.get(self.address + path)

    def find(self, css: str) -> WebElement:
        element = self.until(lambda: next(iter(self.driver.find_elements(By.CSS_SELECTOR, css)), None), css)
        return Found(self, css, element)

    def all(self, css: str) -> list[WebElement]:
        return self.driver.find_elements(By.CSS_SELECTOR, css)

    def js(self, script: str, *arguments: Any) -> Any:
        return self.driver.execute_script(script, *arguments)

    def until(self, true: Callable[[], Any], what: str = "", seconds: float = 45) -> Any:
        def check(_: object) -> Any:
            try:
                return true()
            except MOVED:
                return None

        try:
            return WebDriverWait(self.driver, seconds, 0.05).until(check, f"waited in vain for: {what}")
        except TimeoutException as error:
            # What is there instead says more than what is missing.
            said = self.driver.find_element(By.TAG_NAME, "body").text[:300]
            error.msg = f"{error.msg}; at {self.driver.current_url} it says: {said}"
            raise

    def click(self, css: str) -> None:
        def pressed() -> bool:
            self.find(css).click()
            return True

        self.until(pressed, f"{css} to be clicked")

    def forget(self) -> None:
        """Nobody is signed in. The page before is left first: what it still waits for might bring its cookie back."""
        self.go("/static/mark.svg")
        self.driver.delete_all_cookies()

    def sign_up(self) -> None:
        """A fresh account, so that tests do not meet."""
        self.forget()
        self.go("/sign-up")
        for name, value in (
            ("name", "Ada Test"),
            ("email", f"{uuid.uuid4().hex}@team.example"),
            ("password", "long enough words"),
        ):
            self.find(f"#{name}").send_keys(value)
        self.click("form .btn-main")
        self.find("#start-blank")

    def enter_demo(self) -> None:
        self.forget()
        self.go("/welcome")
        self.click("#enter-demo")
        self.find(".card-promo")

    def open_copy(self, name: str = "Dawn flight vouchers") -> None:
        """A copy of a demo promo in the editor, by the forms that pages have: nothing else is drawn."""
        self.forget()
        self.driver.get(self.driver.execute_async_script(COPIED, name))
        self.ready()

    def ready(self) -> None:
        """Waits for the editor to be usable, with the frame at the playhead on the stage."""
        self.find('#editor[data-ready="1"]')
        self.settled()

    def drop_on_window(self, *paths: Path) -> None:
        """Drops files on the page, as from a folder of the machine."""
        self.js(
            "const input = document.createElement('input'); input.type = 'file'; input.multiple = true;"
            "input.id = 'dropped'; document.body.append(input)"
        )
        self.find("#dropped").send_keys("\n".join(map(str, paths)))
        self.js(
            "const bag = new DataTransfer(); for (const f of document.getElementById('dropped').files)"
            " bag.items.add(f); window.dispatchEvent(new DragEvent('drop', {dataTransfer: bag, cancelable: true}))"
        )

    def settled(self) -> None:
        """Waits until edits are kept and what follows them is drawn."""
        self.until(lambda: not self.all("#saved.is-busy, .htmx-request, .htmx-swapping"), "the edit to be saved")
        with suppress(JavascriptException):
            self.driver.execute_async_script(
                "const done = arguments[0]; setTimeout(done, 200); requestAnimationFrame(() => setTimeout(done))"
            )

    def state(self) -> dict[str, Any]:
        """What the page's scripts know of the promo, and where layers lie in every format."""
        return self.driver.execute_async_script(
            "const done = arguments[0]; import('/static/js/editor/model.js').then(async ({model}) => {"
            "const boxes = {}; for (const {id} of model.state.formats) boxes[id] = (await (await fetch("
            "model.url + '/boxes?format=' + encodeURIComponent(id), {headers: {'X-Glow': '1'}})).json()).boxes;"
            "done({...model.state, boxes}) })"
        )

    def complaints(self) -> list[str]:
        """What the page's console says is wrong; refusals that a test provokes are not."""
        entries = self.driver.get_log("browser")
        refused = ("status of 4", "Status Error Code 4")
        return [
            e["message"] for e in entries
            if e["level"] == "SEVERE" and not any(words in e["message"] for words in refused)
        ]  # fmt: skip

    def accessibility(self) -> list[str]:
        """Serious findings of axe-core on the page as it is, once what fades in has done so and all edits are kept."""
        self.settled()
        moving = "a.playState === 'running' && a.effect.getTiming().iterations !== Infinity"
        self.until(lambda: self.js(f"return !document.getAnimations().some((a) => {moving})"), "things to stand still")
        self.js(AXE)
        result = self.driver.execute_async_script(
            "const done = arguments[0]; axe.run(document, {resultTypes: ['violations']}).then(done)"
        )
        return [
            f"{v['id']}: {v['help']}: {v['nodes'][0]['html'][:160]}"
            for v in result["violations"]
            if v["impact"] in ("serious", "critical")
        ]


@contextmanager
def opened(stack: Stack, width: int = 1280, height: int = 800, more: tuple[str, ...] = ()) -> Iterator[Browser]:
    """A browser of somebody's own, closed afterwards."""
    with tempfile.TemporaryDirectory(prefix="glowreel-chromium-", ignore_cleanup_errors=True) as profile:
        driver = open_browser(Path(profile), width, height, more)
        try:
            yield Browser(driver, stack.address)
        finally:
            driver.quit()


@pytest.fixture(scope="session")
def browser(stack: Stack) -> Iterator[Browser]:
    with opened(stack) as browser:
        yield browser
