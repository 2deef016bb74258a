"""Pictures of what is said: a script, the scenes proposed, the transcript, captions with their designs."""

from __future__ import annotations

from selenium.webdriver.common.by import By

from tools.camera import Camera

SCRIPT = (
    "Fly at first light over the quietest valley there is. Our balloons rise from the meadow every Sunday. "
    "You drift over mist, rivers and sleeping farms. “It was the best morning of my year,” said one of our guests. "
    "Two seats cost 240 euros, only until Sunday. Book yours at hollowmere.example."
)


def pictures_of_words_said(camera: Camera) -> None:
    driver = camera.driver
    driver.get(camera.address + "/start/script")
    driver.find_element(By.ID, "script-text").send_keys(SCRIPT)
    driver.find_element(By.ID, "propose").click()
    camera.until(lambda: camera.all("#make-it"))
    driver.find_element(By.ID, "make-it").click()
    camera.until(lambda: camera.all('#editor[data-ready="1"]'), 60)
    driver.find_element(By.ID, "tab-transcript").click()
    camera.until(lambda: len(camera.all(".said-word")) > 10)
    driver.execute_script(
        "for (const n of [3, 5]) document.querySelectorAll('.said-word')[n].dispatchEvent("
        "new PointerEvent('pointerdown', {bubbles: true, button: 0, shiftKey: n > 3}))"
    )
    driver.execute_script("import('/static/js/editor/model.js').then((m) => m.moveTo(150))")
    camera.shoot("transcript")
