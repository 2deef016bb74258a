"""What takes the pictures: a browser that presses, types and waits until everything stands still."""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path

from PIL import Image
from selenium import webdriver
from selenium.common.exceptions import WebDriverException
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import WebDriverWait

from tools.supervised import ROOT

GAP, PAPER = 16, (0xF6, 0xF1, 0xE7)
OUT = ROOT / "docs" / "screenshots"


class Camera:
    def __init__(self, driver: webdriver.Chrome, address: str) -> None:
        self.driver, self.address = driver, address

    def all(self, css: str) -> list[WebElement]:
        return self.driver.find_elements(By.CSS_SELECTOR, css)

    def until(self, true: Callable[[], object], seconds: float = 30) -> None:
        WebDriverWait(self.driver, seconds, 0.1).until(lambda _: true())

    def press(self, label: str) -> None:
        """Presses what has a label, wherever it is scrolled to."""
        self.driver.execute_script(
            "const e = document.querySelector(arguments[0]); e.scrollIntoView({block: 'center'}); e.click()",
            f'[aria-label="{label}"]',
        )
        self.until(lambda: not self.all("#saved.is-busy"))

    def type(self, field: str, value: str) -> None:
        """Types over what stands in a field of Details, which may just be drawn anew."""

        def typed() -> bool:
            try:
                element = self.driver.find_element(By.CSS_SELECTOR, field)
                into = "arguments[0].scrollIntoView({block: 'center'}); arguments[0].select()"
                self.driver.execute_script(into, element)
                element.send_keys(value, Keys.ENTER)
            except WebDriverException:
                return False
            return True

        self.until(typed)
        self.until(lambda: not self.all("#saved.is-busy"))

    def keys(self, *keys: str) -> None:
        self.driver.find_element(By.TAG_NAME, "body").send_keys(*keys)

    @staticmethod
    def path(name: str) -> Path:
        return OUT / f"{name}.png"

    def shoot(self, name: str) -> None:
        time.sleep(1.2)
        # In the editor: until the stage and the wall show the frame at the playhead.
        self.until(
            lambda: self.driver.execute_script(
                "const wait = document.getElementById('stage-wait'), stage = document.getElementById('frame');"
                "const thumbs = [...document.querySelectorAll('[data-thumb]')];"
                "return !stage || (wait.hidden && thumbs.every((t) => t.dataset.frame === stage.dataset.shown))"
            )
        )
        self.driver.save_screenshot(str(OUT / f"{name}.png"))
        print(name, flush=True)

    def beside(self, name: str, *others: str) -> None:
        """Puts pictures beside a first one, in one file: what belongs together is seen together."""
        pages = [Image.open(self.path(one)) for one in (name, *others)]
        high = max(page.height for page in pages)
        sheet = Image.new("RGB", (sum(page.width for page in pages) + GAP * len(others), high), PAPER)
        left = 0
        for page in pages:
            sheet.paste(page, (left, (high - page.height) // 2))
            left += page.width + GAP
        sheet.save(self.path(name))
        for one in others:
            self.path(one).unlink()

    def editor(self, name: str) -> None:
        self.driver.get(self.address + "/")
        next(card for card in self.all(".card-promo-link") if card.text.endswith(name)).click()
        self.until(lambda: self.all('#editor[data-ready="1"]'))

    def choose(self, text: str) -> None:
        next(i for i in self.all("#lanes .item") if text in (i.get_attribute("aria-label") or "")).click()
