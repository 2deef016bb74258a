"""Pictures of what goes out: one promo for several channels, the calendar, and a table matched to a template."""

from __future__ import annotations

import time
from datetime import date, timedelta

from selenium.webdriver.common.by import By

from tools.camera import Camera

CHANNELS = ("marquee", "passerby", "townsquare")
WORDS = "Two hours above the valley, with breakfast at 600 metres. Seats for April are out now."
TABLE = """Town;Title;Price;Small print
Ahlen;Two days over Ahlen;89 €;Flights on 14 and 15 April
Bork;Two days over Bork;95 €;Flights on 18 and 19 April
Cappel;Two days over Cappel and the whole wide valley beyond it;79 €;Flights on 21 April
Dulmen;Two days over Dulmen;99 €;Flights on 25 and 26 April
"""


def pictures_of_going_out(camera: Camera) -> None:
    driver = camera.driver
    driver.get(camera.address + "/going-out")
    for channel in CHANNELS:
        driver.find_element(By.ID, f"connect-{channel}").click()
        camera.until(lambda: camera.all("form button"))
        driver.find_element(By.CSS_SELECTOR, "form button").click()
        camera.until(lambda: camera.all("#going"))
    for days, name in ((2, "Dawn flight vouchers"), (9, "Lantern weekend")):
        _planned(camera, name, date.today() + timedelta(days=days), shown=days == 2)
    driver.get(camera.address + "/going-out")
    camera.until(lambda: camera.all(".going-post"))
    time.sleep(1)
    camera.shoot("calendar")
    camera.beside("calendar", "publish")
    _table(camera)
    _machines(camera)


def _machines(camera: Camera) -> None:
    """The machines at work on films, beside the tokens of programs."""
    driver = camera.driver
    driver.get(camera.address + "/team/programs")
    name = camera.all("form [name=name]")
    if name:
        name[0].send_keys("Price list of the shop")
        for scope in camera.all("form [name=scopes]"):
            driver.execute_script("arguments[0].checked = true", scope)
        driver.execute_script("arguments[0].form.requestSubmit()", name[0])
        camera.until(lambda: "Price list of the shop" in driver.find_element(By.TAG_NAME, "main").text)
    driver.execute_script("scrollTo(0, 0)")
    camera.shoot("programs")
    camera.editor("Lantern weekend")
    driver.find_element(By.ID, "open-export").click()
    camera.until(lambda: camera.all("#export-choices [name=resolution]"))
    driver.find_element(By.ID, "start-export").click()
    camera.until(lambda: camera.all("#export-list .export-file"))
    driver.get(camera.address + "/machines")
    camera.until(lambda: camera.all(".film-list .is-done"), 120)
    camera.shoot("machines")
    camera.beside("machines", "programs")


def _planned(camera: Camera, name: str, day: date, *, shown: bool) -> None:
    """Has a promo go out to every channel on a day."""
    driver = camera.driver
    camera.editor(name)
    driver.find_element(By.ID, "open-export").click()
    driver.find_element(By.ID, "open-publish").click()
    camera.until(lambda: camera.all("#publish-form"))
    for field in camera.all('textarea[name^="text-"]'):
        field.send_keys(WORDS)
    for field in camera.all('input[name^="tags-"]'):
        field.send_keys("balloons dawn april")
    at = driver.find_element(By.ID, "publish-at")
    driver.execute_script("arguments[0].value = arguments[1]", at, f"{day}T09:30")
    driver.execute_script("document.querySelector('[name=when][value=planned]').checked = true")
    if shown:
        driver.execute_script("scrollTo(0, 0)")
        time.sleep(2)
        camera.shoot("publish")
    driver.find_element(By.ID, "publish").click()
    camera.until(lambda: camera.all("#going"))


def _table(camera: Camera) -> None:
    """A table, with the first rows made."""
    driver = camera.driver
    driver.get(camera.address + "/tables?template=two-days-only")
    driver.execute_script("arguments[0].value = arguments[1]", driver.find_element(By.ID, "cells"), TABLE)
    driver.find_element(By.ID, "begin-batch").click()
    camera.until(lambda: camera.all("#make-first"))
    driver.find_element(By.ID, "make-first").click()
    seen = "return [...document.querySelectorAll('#batch-rows img')].filter((one) => one.naturalWidth).length"
    camera.until(lambda: driver.execute_script(seen) == 2, 90)
    time.sleep(1)
    camera.shoot("tables")
