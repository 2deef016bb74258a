"""Pictures of working together: the team, somebody at a screening on a telephone, and their notes in the editor."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tools.browser import open_browser
from tools.camera import Camera

NOTES = (
    (120, "Oda Lindt", "The balloon on the left is nearly gone here. Could we stay a moment longer?", True),
    (285, "Oda Lindt", "Lovely. @Ines, is this the new basket?", False),
    (520, "Oda Lindt", "Is the price still right?", False),
)

GO = "const at = document.getElementById('at'); at.value = arguments[0]; at.dispatchEvent(new Event('input'))"


def pictures_of_the_team(camera: Camera) -> None:
    driver = camera.driver
    driver.get(camera.address + "/team")
    driver.find_element(By.ID, "invite-by-link").click()
    camera.until(lambda: camera.all("[data-invitation]"))
    camera.shoot("team")
    camera.editor("Dawn flight vouchers")
    _other_version(camera)
    driver.find_element(By.ID, "open-review").click()
    driver.find_element(By.ID, "open-screenings").click()
    camera.until(lambda: camera.all("#make-screening"))
    driver.find_element(By.ID, "make-screening").click()
    camera.until(lambda: camera.all("[data-screening] [data-copy]"))
    link = camera.all("[data-screening] [data-copy]")[0].get_attribute("data-copy") or ""
    driver.find_element(By.CSS_SELECTOR, "#screenings-sheet [data-close]").click()
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as profile:
        _watched(Camera(open_browser(Path(profile), 430, 900), camera.address), link)
    camera.until(lambda: len(camera.all(".note.is-review")) == len(NOTES))
    driver.execute_script("document.getElementById('tl-scroll').scrollTop = 1000")
    camera.keys(Keys.HOME, Keys.SHIFT, "n", Keys.NULL)
    camera.until(lambda: camera.all(".review-note.is-here"))
    camera.shoot("notes")


def _other_version(camera: Camera) -> None:
    """Names what there is, then changes a title: two versions to see side by side."""
    driver = camera.driver
    driver.find_element(By.ID, "open-history").click()
    camera.until(lambda: camera.all("#steps .is-here [data-name-step]"))
    camera.all("#steps .is-here [data-name-step]")[0].click()
    camera.all(".step-naming")[0].send_keys("First cut", Keys.ENTER)
    camera.until(lambda: "First cut" in driver.find_element(By.ID, "steps").text)
    camera.keys(Keys.ESCAPE)
    driver.execute_script(
        "const id = [...document.querySelectorAll('#lanes .item')].find((one) =>"
        " one.getAttribute('aria-label').includes('Breakfast')).dataset.id;"
        "import('/static/js/editor/commands.js').then(({send}) =>"
        " send({do: 'set', items: [id], values: {text: 'Breakfast above the clouds'}}))"
    )
    camera.until(lambda: any("clouds" in (one.get_attribute("aria-label") or "") for one in camera.all("#lanes .item")))


def _watched(phone: Camera, link: str) -> None:
    """Leaves the notes, and takes the picture of the page."""
    driver = phone.driver
    try:
        driver.get(link)
        shown = "return document.getElementById('picture').dataset.shown"
        phone.until(lambda: driver.execute_script(shown))
        for frame, who, text, drawn in reversed(NOTES):
            driver.execute_script(GO, frame)
            phone.until(lambda frame=frame: driver.execute_script(shown) == str(frame))
            if drawn:
                _drawn(phone)
            driver.find_element(By.ID, "note-text").send_keys(text)
            field = driver.find_element(By.ID, "who")
            if field.is_displayed():
                field.send_keys(who)
            before = len(phone.all("#notes .screening-note"))
            driver.find_element(By.ID, "send-note").click()
            phone.until(lambda before=before: len(phone.all("#notes .screening-note")) > before)
        driver.execute_script("scrollTo(0, 0)")
        time.sleep(1)
        phone.shoot("screening")
        driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride",
                               {"width": 1280, "height": 900, "deviceScaleFactor": 1, "mobile": False})  # fmt: skip
        driver.execute_script(GO, 170)
        beside = "const s = document.getElementById('beside'); s.selectedIndex = s.options.length - 1;"
        driver.execute_script(beside + "s.dispatchEvent(new Event('change'))")
        both = "return document.querySelector('#other-screen img')?.naturalWidth > 0"
        phone.until(lambda: driver.execute_script(both))
        driver.execute_script("scrollTo(0, 0)")
        phone.shoot("compare")
        phone.beside("screening", "compare")
    finally:
        driver.quit()


def _drawn(phone: Camera) -> None:
    """A ring drawn by hand round what is meant."""
    phone.driver.find_element(By.ID, "draw").click()
    frame = phone.driver.find_element(By.ID, "strokes")
    hand = ActionChains(phone.driver, duration=20).move_to_element_with_offset(frame, -100, -56).click_and_hold()
    for dx, dy in ((18, -4), (12, 14), (2, 18), (-10, 14), (-16, 4), (-16, -8), (-6, -18), (4, -16), (12, -8)):
        hand = hand.move_by_offset(dx, dy)
    hand.release().perform()
