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
    watched(camera)


def watched(camera: Camera) -> None:
    """The page of a film: its settings, on a telephone, and as everybody sees it."""
    driver = camera.driver
    driver.get(camera.address + "/exports")
    driver.get(camera.all('.export-file a[href$="/page"]')[0].get_attribute("href") or "")
    for name, value in PAGE.items():
        field = driver.find_element(By.NAME, name)
        field.clear()
        field.send_keys(value)
    driver.execute_script("document.querySelector('[name=asks]').checked = true")
    driver.find_element(By.ID, "keep-page").click()
    camera.until(lambda: "like that now" in driver.find_element(By.ID, "toasts").text)
    settings, link = driver.current_url, camera.all("[data-copy]")[0].get_attribute("data-copy") or ""
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as profile:
        _watched(Camera(open_browser(Path(profile), 400, 800), camera.address), link)
    driver.get(settings)
    driver.find_element(By.CSS_SELECTOR, ".watch-asked textarea").send_keys("No: the burner warms you, see 0:07.")
    driver.execute_script("document.getElementById('numbers').scrollIntoView()")
    camera.shoot("numbers")
    driver.find_element(By.CSS_SELECTOR, ".watch-asked .btn-plain").click()
    driver.get(link)
    driver.execute_script(
        "document.getElementById('film').muted = true; document.querySelector('[data-at=\"4.0\"]').click()"
    )
    camera.until(lambda: driver.execute_script("return document.getElementById('film').currentTime > 6"))
    driver.execute_script("document.getElementById('film').pause()")
    camera.shoot("watch")
    camera.beside("watch", "watch-phone", "numbers")


def _watched(phone: Camera, link: str) -> None:
    """Somebody sees it on a telephone, presses, and asks."""
    driver = phone.driver
    try:
        driver.get(link)
        driver.execute_script(
            "document.getElementById('film').muted = true; document.querySelector('[data-at=\"4.0\"]').click()"
        )
        phone.until(lambda: driver.execute_script("return document.getElementById('film').currentTime > 9"))
        driver.execute_script("document.getElementById('film').pause()")
        driver.execute_script(
            "const press = document.getElementById('action-below'); press.removeAttribute('target');"
            "press.addEventListener('click', (event) => event.preventDefault()); press.click()"
        )
        driver.find_element(By.ID, "ask-text").send_keys("Is it cold up there?")
        driver.find_element(By.ID, "ask-who").send_keys("Oda")
        driver.find_element(By.CSS_SELECTOR, "#ask button").click()
        phone.until(lambda: "on its way" in driver.find_element(By.ID, "said").text)
        driver.execute_script("scrollTo(0, 0)")
        phone.shoot("watch-phone")
    finally:
        driver.quit()


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
