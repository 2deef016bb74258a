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
from tools.goingshots import pictures_of_going_out
from tools.materialshots import pictures_of_material
from tools.soundshots import pictures_of_sound
from tools.stack import Stack
from tools.teamshots import pictures_of_the_team
from tools.templateshots import pictures_of_starting
from tools.wordshots import pictures_of_words

PAGE = {
    "title": "Fly at first light", "about": "Two hours above the valley, with breakfast at 600 metres. See it at 0:05.",
    "action": "Book a flight", "leads_to": "https://hollowmere.example/book", "action_at": "3",
}  # fmt: skip
"""What the watch page says in its picture."""


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
    driver.find_element(By.ID, "open-export").click()
    camera.until(lambda: camera.all("dialog[open] input[value='720'] + span"))
    driver.find_element(By.CSS_SELECTOR, "dialog[open] input[value='720'] + span").click()
    driver.find_element(By.ID, "start-export").click()
    camera.until(lambda: camera.all(".export-file.is-running .num"))
    time.sleep(5)
    camera.shoot("export")
    camera.until(lambda: len(camera.all(".export-file.is-done")) == 3, 240)
    driver.get(camera.address + "/exports")
    driver.get(camera.all('.export-file a[href$="/page"]')[0].get_attribute("href") or "")
    for name, value in PAGE.items():
        field = driver.find_element(By.NAME, name)
        field.clear()
        field.send_keys(value)
    driver.find_element(By.ID, "keep-page").click()
    camera.until(lambda: "like that now" in driver.find_element(By.ID, "toasts").text)
    driver.get(camera.all("[data-copy]")[0].get_attribute("data-copy") or "")
    driver.execute_script(
        "document.getElementById('film').muted = true; document.querySelector('[data-at=\"4.0\"]').click()"
    )
    camera.until(lambda: driver.execute_script("return document.getElementById('film').currentTime > 6"))
    driver.execute_script("document.getElementById('film').pause()")
    camera.shoot("watch")


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
            pictures_of_words(camera)
            pictures_of_starting(camera)
            pictures_of_material(camera)
            pictures_of_sound(camera)
            pictures_of_the_team(camera)
            pictures_of_going_out(camera)
        finally:
            driver.quit()
    finally:
        stack.stop()
        shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    main()
