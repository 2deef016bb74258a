"""Pictures of material: the whole Shelf in order with what is known of a file, and a voice that was just recorded."""

from __future__ import annotations

import time

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

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
    recorded(camera)


def _put(camera: Camera, names: tuple[str, ...], field: str, value: str, what: str) -> None:
    """Marks files, and does something with them."""
    for name in names:
        mark = f"document.querySelector('[data-name^=\"{name}\"] .material-mark').click()"
        camera.driver.execute_script(mark)
    camera.driver.find_element(By.CSS_SELECTOR, f"[name={field}]").send_keys(value)
    camera.driver.find_element(By.CSS_SELECTOR, f"#material-many [value={what}]").click()
    camera.until(lambda: not camera.all(".material-mark:checked"))
    time.sleep(0.5)


def recorded(camera: Camera) -> None:
    driver = camera.driver
    camera.editor("Dawn flight vouchers")
    for _ in range(5):
        camera.keys(Keys.SHIFT, Keys.ARROW_RIGHT, Keys.NULL)
    driver.find_element(By.ID, "open-recorder").click()
    driver.find_element(By.ID, "recorder-countdown").click()
    driver.find_element(By.ID, "record").click()
    camera.until(lambda: camera.all("#record.is-recording"))
    time.sleep(5)
    driver.find_element(By.ID, "record").click()
    camera.until(lambda: "where you spoke it" in driver.find_element(By.ID, "recorder-said").text, 60)
    camera.shoot("recorder")
    driver.find_element(By.ID, "undo").click()
    camera.until(lambda: not camera.all("#saved.is-busy"))
