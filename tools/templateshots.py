"""The pictures of starting: the gallery, filling, one picture in every design, a brand's manner, a brand on a page."""

from __future__ import annotations

import time

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tools.camera import Camera


def loaded(camera: Camera, css: str) -> None:
    """Waits until the pictures in sight are there."""
    camera.until(
        lambda: camera.driver.execute_script(
            "const seen = [...document.querySelectorAll(arguments[0])]"
            ".filter((i) => i.getBoundingClientRect().top < 780);"
            "return seen.length > 0 && seen.every((i) => i.complete && i.naturalWidth > 0)",
            css,
        ),
        60,
    )


def pictures_of_starting(camera: Camera) -> None:
    driver, address = camera.driver, camera.address
    driver.get(address + "/templates")
    loaded(camera, ".template-card img")
    ActionChains(driver).move_to_element(camera.all(".template-card")[1]).pause(2.2).perform()
    camera.shoot("templates")
    filling(camera)
    found_on_a_page(camera)


def filling(camera: Camera) -> None:
    driver = camera.driver
    driver.get(camera.address + "/templates/just-arrived")
    camera.until(lambda: camera.all("#template-fill"))
    driver.find_element(By.ID, "template-fill").click()
    for words in ("Brand new", "Meet Heron"):
        camera.until(lambda: camera.all(".slot-words"))
        field = driver.find_element(By.CSS_SELECTOR, ".slot-words")
        field.click()
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(words, Keys.ENTER)
        time.sleep(1)
    camera.until(lambda: camera.all(".slot-material .material-item"))
    next(item for item in camera.all(".material-item") if "envelope" in item.text).click()
    loaded(camera, ".slot-material img")
    time.sleep(1.5)
    camera.shoot("fill")


def found_on_a_page(camera: Camera) -> None:
    driver = camera.driver
    driver.get(camera.address + "/brands")
    camera.until(lambda: camera.all("#brand-address"))
    driver.find_element(By.ID, "brand-address").send_keys("hollowmere.example", Keys.ENTER)
    camera.until(lambda: camera.all("#brand-accept"), 40)
    loaded(camera, ".brand-samples img")
    camera.shoot("brand")
