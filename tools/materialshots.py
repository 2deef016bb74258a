"""Pictures of material: the whole Shelf in order, a voice that was just recorded; and somebody who
shows pages and speaks."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from glowreel.outside.drive.kept import kept
from tools.camera import Camera


def pictures_of_material(camera: Camera) -> None:
    driver = camera.driver
    driver.get(camera.address + "/shelf")
    camera.until(lambda: len(camera.all(".material-card.is-ready")) > 12)
    _put(camera, ("dawn-ridge", "over-the-fields", "basket-view"), "to_folder", "Flights", "folder")
    _put(camera, ("lantern-night", "lantern-walk"), "to_folder", "Lantern weekend", "folder")
    _put(camera, ("dawn-ridge", "mist-valley", "ridge-square"), "to_tag", "dawn", "tag")
    driver.execute_script("document.querySelector('[data-name^=over-the-fields] .material-open').click()")
    camera.until(lambda: camera.all("#material-facts video"))
    camera.until(lambda: driver.execute_script("return document.querySelector('#material-facts video').readyState > 0"))
    camera.shoot("shelf")
    studio(camera)


def _put(camera: Camera, names: tuple[str, ...], field: str, value: str, what: str) -> None:
    """Marks files, and does something with them."""
    for name in names:
        mark = f"document.querySelector('[data-name^=\"{name}\"] .material-mark').click()"
        camera.driver.execute_script(mark)
    camera.driver.find_element(By.CSS_SELECTOR, f"[name={field}]").send_keys(value)
    camera.driver.find_element(By.CSS_SELECTOR, f"#material-many [value={what}]").click()
    camera.until(lambda: not camera.all(".material-mark:checked"))
    time.sleep(0.5)


def studio(camera: Camera) -> None:
    driver = camera.driver
    with tempfile.TemporaryDirectory() as folder:
        sheet = Path(folder) / "Offer sheet.pdf"
        next(one for one in kept().values() if one.kind == "application/pdf").write(sheet)
        camera.editor("Dawn flight vouchers")
        driver.find_element(By.ID, "file-input").send_keys(str(sheet))
        camera.until(lambda: len(camera.all('.shelf-item[data-folder="Offer sheet"].is-ready')) == 3, 60)
    driver.find_element(By.ID, "open-studio").click()
    driver.find_element(By.CSS_SELECTOR, '[data-records="slides"]').click()
    text = driver.find_element(By.ID, "studio-text")
    text.send_keys("A flight for two: the sun comes up below you.\nBreakfast waits on the meadow.")
    driver.find_element(By.ID, "studio-record").click()
    camera.until(lambda: camera.all("#studio.is-recording"), 30)
    time.sleep(3)
    driver.find_element(By.ID, "studio-record").send_keys(Keys.ARROW_RIGHT)
    time.sleep(1)
    camera.shoot("studio")
    driver.find_element(By.ID, "studio-again").click()
    time.sleep(1)
    driver.get(camera.address + "/shelf")
    camera.until(lambda: camera.all(".material-card"))
