"""Pictures of material: the whole Shelf in order, a voice that was just recorded; and somebody who
shows pages and speaks."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from glowreel.demo.scenario import MEDIA
from glowreel.outside.drive.kept import kept
from tools.browser import open_browser
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
    driver.get(camera.address + "/shelf?as=list")
    camera.until(lambda: camera.all(".material-row, .material-card"))
    camera.shoot("shelf-list")
    _bringing(camera)
    camera.beside("shelf", "shelf-list", "stock")
    studio(camera)


def _bringing(camera: Camera) -> None:
    """What is found in the stock, what runs, what a telephone shows, and what is picked on a page."""
    driver = camera.driver
    camera.editor("Lantern weekend")
    driver.find_element(By.CSS_SELECTOR, '[data-from*="/stock"]').click()
    camera.until(lambda: camera.all("#stock-words"))
    driver.find_element(By.ID, "stock-words").send_keys("evening by the sea", Keys.ENTER)
    loaded = (
        "const found = [...document.querySelectorAll('#stock-found .offer img')].slice(0, 6);"
        "return found.length > 3 && found.every((one) => one.complete && one.naturalWidth)"
    )
    time.sleep(1)
    camera.until(lambda: not camera.all("#stock-found.htmx-request, .htmx-request #stock-found, .htmx-request"), 120)
    camera.until(lambda: driver.execute_script(loaded), 120)
    camera.shoot("stock")
    driver.find_element(By.CSS_SELECTOR, '[data-from=""]').click()
    camera.until(lambda: camera.all("[data-by-link]"))
    driver.find_element(By.CSS_SELECTOR, "[data-by-link]").click()
    driver.find_element(By.CSS_SELECTOR, "[data-address]").click()
    seen = "return [...document.querySelectorAll('.link-picture img')].filter((one) => one.naturalWidth).length > 3"
    camera.until(lambda: driver.execute_script(seen), 60)
    for one in camera.all(".link-one")[1:3]:
        one.click()
    camera.shoot("bringing")
    driver.find_element(By.ID, "link-take").click()
    camera.until(lambda: camera.all("#link-begun"))
    driver.find_element(By.CSS_SELECTOR, "#link-sheet [data-close]").click()
    driver.find_element(By.CSS_SELECTOR, "[data-phone]").click()
    camera.until(lambda: camera.all("#make-phone-link button"))
    camera.all("#make-phone-link button")[0].click()
    camera.until(lambda: camera.all("#phone-links input[readonly]"))
    link = camera.all("#phone-links input[readonly]")[0].get_attribute("value") or ""
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as folder:
        phone = Camera(open_browser(Path(folder), 400, 800), camera.address)
        try:
            phone.driver.get(link)
            phone.driver.find_element(By.ID, "send-files").send_keys(str(MEDIA / "picnic.jpg"))
            phone.until(lambda: "All of it has come" in phone.driver.find_element(By.ID, "send-left").text, 60)
            phone.shoot("phone")
        finally:
            phone.driver.quit()
    driver.find_element(By.CSS_SELECTOR, "dialog[open] [data-close]").click()
    driver.find_element(By.ID, "open-export").click()
    camera.until(lambda: camera.all("#export-choices [name=resolution]"))
    driver.find_element(By.ID, "start-export").click()
    camera.until(lambda: camera.all("#export-list .export-file"))
    camera.keys(Keys.ESCAPE)
    driver.find_element(By.ID, "open-activity").click()
    camera.until(lambda: camera.all("#activity-list progress"))
    camera.shoot("activity")
    camera.beside("bringing", "phone", "activity")


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
    camera.until(lambda: driver.execute_script("return document.getElementById('studio-camera').videoWidth > 0"))
    camera.shoot("studio")
    driver.find_element(By.ID, "studio-record").click()
    camera.until(lambda: camera.all("#studio.is-recording"), 30)
    time.sleep(3)
    driver.find_element(By.ID, "studio-record").send_keys(Keys.ARROW_RIGHT)
    time.sleep(1)
    camera.shoot("studio-while")
    driver.find_element(By.ID, "studio-record").click()
    camera.until(lambda: not camera.all("#studio[open]"), 120)
    camera.shoot("studio-after")
    camera.beside("studio", "studio-while", "studio-after")
    camera.keys(Keys.CONTROL, "z", Keys.NULL)
    time.sleep(1)
    driver.get(camera.address + "/shelf")
    camera.until(lambda: camera.all(".material-card"))
