"""A picture of what is done with words: written on the stage, in parts."""

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
