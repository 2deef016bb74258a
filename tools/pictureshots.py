"""The pictures of what is done to pictures: crop and guides."""

from __future__ import annotations

import time

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement

from tools.camera import Camera


def go_to(camera: Camera, seconds: float) -> None:
    camera.driver.execute_async_script(
        "const [at, done] = arguments; import('/static/js/editor/model.js').then((m) => {"
        "m.moveTo(Math.round(at * m.model.fps)); setTimeout(done, 500); })",
        seconds,
    )


def opened(camera: Camera, *groups: str) -> None:
    """Opens some groups of Details and shuts the others."""
    camera.driver.execute_script(
        "for (const g of document.querySelectorAll('#bench-details .group'))"
        " if (g.open !== arguments[0].includes(g.dataset.group)) g.querySelector('summary').click()",
        list(groups),
    )
    time.sleep(0.3)


def into_sight(camera: Camera, css: str, block: str = "center") -> None:
    camera.driver.execute_script(
        "document.querySelector(arguments[0]).scrollIntoView({block: arguments[1]})", css, block
    )
    time.sleep(1.2)


def click(camera: Camera, css: str) -> None:
    camera.until(lambda: camera.all(css))
    camera.driver.execute_script("document.querySelector(arguments[0]).click()", css)
    camera.until(lambda: not camera.all("#saved.is-busy"))


def pick(camera: Camera, control: str, label: str) -> None:
    """Presses a choice of a gallery."""
    camera.driver.execute_script(
        "[...document.querySelectorAll(arguments[0] + ' .choice')]"
        ".find((c) => c.textContent.trim() === arguments[1]).click()",
        control,
        label,
    )
    time.sleep(0.3)
    camera.until(lambda: not camera.all("#saved.is-busy"))


def as_layer(camera: Camera, name: str) -> None:
    click(camera, "#tab-shelf")
    time.sleep(0.5)

    def entry() -> WebElement | None:
        if not camera.all("#menu .menu-item"):
            click(camera, f'.shelf-item[data-name="{name}"] .shelf-more')
        return next((e for e in camera.all("#menu .menu-item") if e.text.startswith("As a layer at the")), None)

    camera.until(entry)
    found = entry()
    assert found is not None
    found.click()
    camera.until(lambda: not camera.all("#saved.is-busy"))
    click(camera, "#tab-details")
    camera.until(lambda: camera.all("#p-size"))
    opened(camera, "place", "framing")


def drag(camera: Camera, css: str, across: int, down: int, *, hold: bool = False) -> None:
    chain = ActionChains(camera.driver, duration=80).move_to_element(camera.all(css)[0]).click_and_hold()
    chain.move_by_offset(across // 2, down // 2).move_by_offset(across - across // 2, down - down // 2).perform()
    if not hold:
        ActionChains(camera.driver).release().perform()
        camera.until(lambda: not camera.all("#saved.is-busy"))


def on_the_stage(camera: Camera) -> None:
    """A view of wide footage that follows its subject in tall, with what a channel covers there."""
    driver = camera.driver
    click(camera, "#open-channels")
    driver.find_element(By.CSS_SELECTOR, '#channels-form [value="passerby"]').click()
    click(camera, "#set-channels")
    camera.until(lambda: not camera.all("#saved.is-busy"))
    camera.keys("3")
    click(camera, "#safe")
    camera.choose("over-the-fields")
    go_to(camera, 5.6)
    camera.until(lambda: camera.all("#handles .h-way-point"))
    time.sleep(0.8)
    camera.shoot("stage")
    click(camera, "#safe")
    camera.keys("1")
    click(camera, "#undo")


def pictures_of_pictures(camera: Camera) -> None:
    # Panes and groups as somebody new has them.
    camera.driver.execute_script("localStorage.clear()")
    camera.editor("Dawn flight vouchers")
    go_to(camera, 2.0)
    on_the_stage(camera)
