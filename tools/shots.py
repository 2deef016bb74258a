"""`./shots`: the pictures of every main view under docs/screenshots, made from a fresh demo."""

from __future__ import annotations

import shutil
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import WebDriverWait

from tools.browser import open_browser
from tools.stack import ROOT, Stack

OUT = ROOT / "docs" / "screenshots"


class Camera:
    def __init__(self, driver: webdriver.Chrome, address: str) -> None:
        self.driver, self.address = driver, address

    def all(self, css: str) -> list[WebElement]:
        return self.driver.find_elements(By.CSS_SELECTOR, css)

    def until(self, true: Callable[[], object], seconds: float = 30) -> None:
        WebDriverWait(self.driver, seconds, 0.1).until(lambda _: true())

    def keys(self, *keys: str) -> None:
        self.driver.find_element(By.TAG_NAME, "body").send_keys(*keys)

    def shoot(self, name: str) -> None:
        time.sleep(1.2)
        self.driver.save_screenshot(str(OUT / f"{name}.png"))
        print(name, flush=True)

    def editor(self, name: str) -> None:
        self.driver.get(self.address + "/")
        next(card for card in self.all(".card-promo-link") if card.text.endswith(name)).click()
        self.until(lambda: self.all('#editor[data-ready="1"]'))

    def choose(self, text: str) -> None:
        next(i for i in self.all("#lanes .item") if text in (i.get_attribute("aria-label") or "")).click()


def pictures(camera: Camera) -> None:
    driver = camera.driver
    driver.get(camera.address + "/welcome")
    camera.shoot("welcome")
    driver.find_element(By.ID, "enter-demo").click()
    camera.until(lambda: camera.all(".card-promo"))
    camera.shoot("desk")
    camera.editor("Dawn flight vouchers")
    for _ in range(7):
        camera.keys(Keys.SHIFT, Keys.ARROW_RIGHT)
    camera.choose("Breakfast")
    camera.shoot("editor")
    camera.keys("3")
    camera.shoot("editor-tall")
    camera.choose("over-the-fields")
    camera.keys("1")
    driver.find_element(By.ID, "tab-shelf").click()
    camera.shoot("editor-shelf")
    camera.keys("?")
    camera.shoot("keys")
    camera.keys(Keys.ESCAPE)
    driver.find_element(By.ID, "open-export").click()
    driver.find_element(By.CSS_SELECTOR, "dialog[open] input[value='720'] + span").click()
    driver.find_element(By.ID, "start-export").click()
    camera.until(lambda: camera.all(".export-file.is-running .num"))
    time.sleep(5)
    camera.shoot("export")
    camera.until(lambda: len(camera.all(".export-file.is-done")) == 3, 240)
    driver.get(camera.address + "/exports")
    camera.shoot("exports")
    link = camera.all('a[href*="/watch/"]')[0].get_attribute("href") or ""
    driver.get(link)
    driver.execute_script("document.querySelector('video').currentTime = 7")
    camera.shoot("watch")


def main() -> None:
    folder = Path(tempfile.mkdtemp(prefix="glowreel-shots-"))
    folder.chmod(0o755)
    OUT.mkdir(parents=True, exist_ok=True)
    stack = Stack(folder / "var")
    try:
        stack.start()
        driver = open_browser(folder / "profile")
        try:
            pictures(Camera(driver, stack.address))
        finally:
            driver.quit()
    finally:
        stack.stop()
        shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    main()
