"""`./shots`: the pictures of every main view under docs/screenshots, made from a fresh demo."""

from __future__ import annotations

import shutil
import tempfile
import time
from pathlib import Path

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tools.browser import FAKES, open_browser
from tools.camera import OUT, Camera
from tools.materialshots import pictures_of_material
from tools.pictureshots import pictures_of_pictures
from tools.saidshots import pictures_of_words_said
from tools.soundshots import pictures_of_sound
from tools.stack import Stack
from tools.teamshots import pictures_of_the_team
from tools.templateshots import pictures_of_starting
from tools.wordshots import pictures_of_collage, pictures_of_words


def pictures(camera: Camera) -> None:
    driver = camera.driver
    driver.get(camera.address + "/")
    films = "return [...document.querySelectorAll('.welcome-films video')].every((film) => film.currentTime > 1.2)"
    camera.until(lambda: driver.execute_script(films))
    camera.shoot("welcome")
    driver.find_element(By.ID, "enter-demo").click()
    camera.until(lambda: camera.all(".card-promo"))
    camera.shoot("desk")
    camera.editor("Dawn flight vouchers")
    for _ in range(7):
        camera.keys(Keys.SHIFT, Keys.ARROW_RIGHT)
    camera.choose("Breakfast")
    camera.shoot("editor")
    camera.choose("over-the-fields")
    driver.find_element(By.ID, "tab-shelf").click()
    timeline_pictures(camera)
    driver.find_element(By.ID, "open-export").click()
    driver.find_element(By.CSS_SELECTOR, "dialog[open] input[value='720'] + span").click()
    driver.find_element(By.ID, "start-export").click()
    camera.until(lambda: camera.all(".export-file.is-running .num"))
    time.sleep(5)
    camera.shoot("export")
    camera.until(lambda: len(camera.all(".export-file.is-done")) == 3, 240)
    driver.get(camera.address + "/exports")
    link = camera.all('a[href*="/watch/"]')[0].get_attribute("href") or ""
    driver.get(link)
    driver.execute_script("document.querySelector('video').currentTime = 7")
    camera.shoot("watch")


def timeline_pictures(camera: Camera) -> None:
    """The timeline folded, with a range marked, at single frames; a speed curve, what fits a place, the history."""
    driver = camera.driver
    camera.keys(Keys.HOME, Keys.ARROW_DOWN)
    camera.keys("u")
    camera.keys("u", Keys.ESCAPE)
    kinds = driver.find_element(By.ID, "shelf-kind")
    kinds.find_element(By.XPATH, "./option[normalize-space(.) = 'Transitions']").click()
    for _ in range(8):
        camera.keys("+")
    kinds.find_element(By.XPATH, "./option[normalize-space(.) = 'All']").click()
    camera.keys("0")
    camera.choose("over-the-fields")
    camera.until(lambda: camera.all("#s-preset"))
    curve = driver.find_element(By.ID, "s-preset")
    curve.find_element(By.XPATH, "./option[normalize-space(.) = 'slow at both ends']").click()
    camera.until(lambda: camera.all("#curve circle"))
    camera.keys(Keys.HOME, Keys.SHIFT, Keys.ARROW_RIGHT, Keys.ARROW_RIGHT, Keys.NULL)
    camera.keys(",")
    camera.keys(Keys.SHIFT, Keys.ARROW_RIGHT, Keys.NULL)
    camera.keys(".")
    driver.execute_script("document.getElementById('curve').scrollIntoView({block: 'end'})")
    camera.keys("x")
    camera.until(lambda: not camera.all("#saved.is-busy"))
    camera.choose("basket-view")
    camera.keys("q")
    camera.until(lambda: camera.all("[data-material]"))
    next(m for m in camera.all("[data-material]") if "dawn-ridge" in m.text).click()
    camera.until(lambda: driver.execute_script("return document.getElementById('fit-film').readyState > 2"))
    driver.find_element(By.ID, "fit-done").click()
    camera.until(lambda: not camera.all("#saved.is-busy"))
    back_to_the_first(camera)


def back_to_the_first(camera: Camera) -> None:
    """Leaves the promo as it was at first, and the history."""
    camera.until(lambda: camera.all(".step-go"))
    camera.all(".step-go")[-1].click()
    camera.until(lambda: camera.all(".step:last-child.is-here"))
    camera.driver.find_element(By.CSS_SELECTOR, "#history-sheet [data-close]").click()


def beginnings(camera: Camera) -> None:
    """Details beside a wider bench and a higher timeline; a title that differs in one format."""
    driver = camera.driver
    camera.editor("Dawn flight vouchers")
    camera.choose("Breakfast")
    camera.until(lambda: camera.all("#p-size"))
    driver.find_element(By.CSS_SELECTOR, '[data-pane="bench"]').send_keys(*[Keys.ARROW_LEFT] * 5)
    driver.find_element(By.CSS_SELECTOR, '[data-pane="time"]').send_keys(*[Keys.ARROW_UP] * 3)
    driver.find_element(By.ID, "bench-high").click()
    camera.keys(Keys.HOME, Keys.ARROW_DOWN, Keys.SHIFT, Keys.ARROW_RIGHT, Keys.NULL)
    moving(camera)
    camera.keys("3")
    camera.until(lambda: camera.all("#for-one"))
    time.sleep(1)
    # Details may just be drawn anew for the format.
    driver.execute_script("document.getElementById('for-one').click()")
    camera.type("#p-turn", "-6")
    # Details may just be drawn anew for the format.
    driver.execute_script("document.getElementById('for-one').click()")
    time.sleep(1)
    words = driver.find_element(By.ID, "words-text")
    driver.execute_script("arguments[0].focus(); arguments[0].select()", words)
    words.send_keys("Breakfast,\nhigh up")
    driver.execute_script("document.activeElement.blur()")
    camera.until(lambda: not camera.all("#saved.is-busy"))
    camera.keys("1")
    camera.keys("3")
    camera.until(lambda: len(camera.all(".mark-own")) == 2)
    driver.execute_script("document.getElementById('bench-details').scrollTo(0, 0)")
    camera.keys("v")
    back_to_the_first(camera)


def moving(camera: Camera) -> None:
    """Lets the selected title grow and come into sight over time."""
    for label, field, value in (("Size", "#p-size", "17"), ("Opacity", "#p-opacity", "35")):
        camera.press(f"{label}: a point here")
        camera.keys(Keys.SHIFT, Keys.ARROW_RIGHT, Keys.NULL)
        camera.until(lambda field=field: camera.all(f".is-moving {field}"))
        time.sleep(0.5)
        camera.type(field, value)
        camera.keys(Keys.SHIFT, Keys.ARROW_LEFT, Keys.NULL)
        time.sleep(0.5)
    camera.keys(Keys.SHIFT, Keys.ARROW_RIGHT, Keys.NULL)
    time.sleep(0.5)


def main() -> None:
    folder = Path(tempfile.mkdtemp(prefix="glowreel-shots-"))
    folder.chmod(0o755)
    OUT.mkdir(parents=True, exist_ok=True)
    stack = Stack(folder / "var")
    try:
        stack.start()
        driver = open_browser(folder / "profile", more=FAKES)
        try:
            camera = Camera(driver, stack.address)
            pictures(camera)
            beginnings(camera)
            pictures_of_words(camera)
            pictures_of_pictures(camera)
            pictures_of_collage(camera)
            pictures_of_starting(camera)
            pictures_of_material(camera)
            pictures_of_sound(camera)
            pictures_of_words_said(camera)
            pictures_of_the_team(camera)
        finally:
            driver.quit()
    finally:
        stack.stop()
        shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    main()
