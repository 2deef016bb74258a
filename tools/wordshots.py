"""Pictures of what is done with words: written on the stage, given a design, checked."""

from __future__ import annotations

import time

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tools.camera import Camera


def pictures_of_words(camera: Camera) -> None:
    driver = camera.driver
    camera.editor("Dawn flight vouchers")
    camera.choose("Breakfast")
    camera.keys(Keys.HOME, *[Keys.SHIFT, Keys.ARROW_RIGHT * 6, Keys.NULL])
    camera.until(lambda: camera.all("#handles .h-box"))
    box = driver.find_element(By.CSS_SELECTOR, "#handles .h-box")
    ActionChains(driver).move_to_element(box).click().pause(0.05).click().perform()
    camera.until(lambda: camera.all(".stage-words"))
    held = ActionChains(driver).key_down(Keys.CONTROL).send_keys(Keys.HOME).key_up(Keys.CONTROL)
    held.key_down(Keys.SHIFT).send_keys(Keys.ARROW_RIGHT * 5).key_up(Keys.SHIFT).perform()
    driver.find_element(By.CSS_SELECTOR, '#word-tools [data-word="colour"] [data-value="accent"]').click()
    driver.find_element(By.CSS_SELECTOR, '#word-tools [data-word="larger"]').click()
    camera.until(lambda: not camera.all("#saved.is-busy"))
    driver.execute_script("document.querySelector('[data-fonts]').click()")
    time.sleep(1)
    camera.shoot("words")
    driver.find_element(By.ID, "stage").send_keys(Keys.ESCAPE)
    camera.keys("v")
    camera.until(lambda: camera.all(".step-go"))
    camera.all(".step-go")[-1].click()
    camera.until(lambda: camera.all(".step:last-child.is-here"))
    driver.find_element(By.CSS_SELECTOR, "#history-sheet [data-close]").click()


def pictures_of_collage(camera: Camera) -> None:
    """A collage with a cell chosen, and the colours that match its pictures."""
    driver = camera.driver
    camera.editor("Dawn flight vouchers")
    driver.find_element(By.ID, "tab-shelf").click()
    kinds = driver.find_element(By.ID, "shelf-kind")
    kinds.find_element(By.XPATH, "./option[normalize-space(.) = 'Collages']").click()
    _add(camera, '[data-grid="five-lead"]')
    kinds.find_element(By.XPATH, "./option[normalize-space(.) = 'All']").click()
    camera.until(lambda: camera.all(".shelf-item[data-media]"))
    for name in ("picnic.jpg", "lantern-night.mp4", "route-map.jpg", "burner.mp4"):
        if not driver.execute_script("return document.querySelector('.cell-pick[aria-pressed=true]')"):
            driver.execute_script("document.querySelector('.cell-pick').click()")
            time.sleep(1)
        driver.find_element(By.ID, "tab-shelf").click()
        _add(camera, f'[data-name="{name}"]')
        time.sleep(1)
    driver.find_element(By.ID, "tab-details").click()
    driver.execute_script("document.getElementById('p-cell-words').click()")
    camera.until(lambda: camera.all("#p-cell-text"))
    driver.execute_script("document.getElementById('p-cell-text').select()")
    driver.find_element(By.ID, "p-cell-text").send_keys("Up at dawn")
    time.sleep(1.5)
    driver.execute_script("document.querySelector('.cell-pick').click()")
    time.sleep(1)
    camera.type("#p-gap", "2.4")
    driver.execute_script("document.querySelector('.group[data-group=ground] summary').click()")
    camera.until(lambda: camera.all(".matching-colour"))
    driver.execute_script("document.querySelectorAll('.matching-colour')[4].click()")
    time.sleep(1.5)
    camera.until(lambda: camera.all(".matching-colour"))
    driver.execute_script("document.querySelector('.matching').scrollIntoView({block: 'center'})")
    camera.keys("v")
    camera.until(lambda: camera.all(".step-go"))
    camera.all(".step-go")[-1].click()
    camera.until(lambda: camera.all(".step:last-child.is-here"))
    driver.find_element(By.CSS_SELECTOR, "#history-sheet [data-close]").click()


def _add(camera: Camera, selector: str) -> None:
    camera.until(lambda: camera.all(f".shelf-item{selector} .shelf-pick"))
    item = camera.driver.find_element(By.CSS_SELECTOR, f".shelf-item{selector} .shelf-pick")
    camera.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", item)
    item.click()
    camera.until(lambda: not camera.all("#saved.is-busy"))
