"""What is dragged: between the main track and the layers, over a picture, along a curve; and one of several pressed."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.select import Select

from glowreel.demo.scenario import MEDIA
from tests.web.conftest import Browser
from tests.web.test_picture import opened, pick, select
from tests.web.test_values import choose, click, enter, go_to, press, row

pytestmark = pytest.mark.long


def drag_to(browser: Browser, key: str, lane: str, across: int = 0) -> None:
    """Drags what stands on the timeline to another lane."""
    thing = browser.find(f'#lanes [data-id="{key}"]')
    target = browser.find(f'#lanes .tl-lane[data-lane="{lane}"]')
    down = target.rect["y"] + target.rect["height"] / 2 - thing.rect["y"] - thing.rect["height"] / 2
    chain = ActionChains(browser.driver, duration=100).move_to_element(thing).click_and_hold()
    chain.move_by_offset(across // 2, round(down / 2)).move_by_offset(
        across - across // 2, round(down - round(down / 2))
    )
    chain.release().perform()
    browser.settled()


def layers(browser: Browser) -> list[dict]:
    return [r for track in browser.state()["tracks"] if track["kind"] == "layer" for r in track["rows"]]


def test_a_clip_is_dragged_in_front_and_back_on_to_the_main_track(browser: Browser) -> None:
    browser.open_copy()
    main = [r["id"] for r in browser.state()["main"]]
    clip = main[2]
    browser.click(f'#lanes [data-id="{clip}"]')
    drag_to(browser, clip, "layer")
    browser.until(lambda: any(r["id"] == clip for r in layers(browser)), "the clip to be a layer")
    assert [r["id"] for r in browser.state()["main"]] == [key for key in main if key != clip]
    drag_to(browser, clip, "main")
    browser.until(lambda: any(r["id"] == clip for r in browser.state()["main"]), "the layer to be a clip")
    assert sorted(r["id"] for r in browser.state()["main"]) == sorted(main)
    assert browser.complaints() == []


def test_a_movement_is_drawn_on_the_picture(browser: Browser) -> None:
    browser.open_copy()
    clip = browser.state()["main"][1]
    go_to(browser, clip["start"] + 1)
    select(browser, clip["id"])
    opened(browser, "framing")
    pick(browser, "#p-camera", "comes slowly nearer")

    def shots() -> dict:
        return json.loads(browser.find("[data-shots]").get_attribute("data-shots"))

    browser.until(lambda: shots()["last"]["zoom"] == 1.25, "the movement")
    click(browser, "[data-shots]")
    corner = browser.find("#handles .h-grip.is-last")
    ActionChains(browser.driver, duration=80).drag_and_drop_by_offset(corner, -120, -70).perform()
    browser.settled()
    browser.until(lambda: shots()["last"]["zoom"] > 1.4, "the last frame to be nearer")
    before = shots()
    rect = browser.find("#handles rect.h-shot.is-last")
    ActionChains(browser.driver, duration=80).drag_and_drop_by_offset(rect, 40, 0).perform()
    browser.settled()
    browser.until(lambda: shots()["last"]["focus"][0] > before["last"]["focus"][0], "it to be further right")
    assert shots()["first"] == before["first"], "the first stays"
    ActionChains(browser.driver).send_keys(Keys.ESCAPE).perform()
    browser.until(lambda: not browser.all("#handles .h-shot"), "the rectangles to go")
    assert browser.complaints() == []


def test_a_curve_of_ones_own_is_drawn_and_a_point_copied(browser: Browser) -> None:
    browser.open_copy()
    choose(browser, "Two hours")
    start = row(browser, "Two hours")["start"]
    go_to(browser, start + 0.4)
    opened(browser, "place")
    press(browser, "Size: a point here")
    go_to(browser, start + 1.4)
    enter(browser, "#p-size", "30")
    go_to(browser, start + 0.4)

    def chosen() -> bool:
        # Details may just be drawn anew for the moment.
        choice = browser.find("[data-ease]")
        browser.js("arguments[0].scrollIntoView({block: 'center'})", choice)
        Select(choice).select_by_visible_text("by a curve of your own")
        return True

    browser.until(chosen, "the curve to be chosen")
    browser.settled()
    handle = browser.find('.ease-own [data-handle="1"]')
    ActionChains(browser.driver, duration=80).drag_and_drop_by_offset(handle, 30, 25).perform()
    browser.settled()

    def ease() -> list[float]:
        return [float(n) for n in row(browser, "Two hours")["curves"][0]["points"][0][1].split()]

    browser.until(lambda: ease()[2] > 0.25 and ease()[3] < 0.95, "the handle to have moved")
    browser.find('.ease-own [data-handle="0"]').send_keys(Keys.ARROW_UP)
    browser.until(lambda: ease()[1] == 0.05, "the other one, by key")
    point = browser.all(".tl-points .point")[1]
    chain = ActionChains(browser.driver, duration=80).key_down(Keys.ALT).move_to_element(point).click_and_hold()
    chain.move_by_offset(8, 0).move_by_offset(12, 0).release().key_up(Keys.ALT).perform()
    browser.settled()
    browser.until(lambda: len(row(browser, "Two hours")["curves"][0]["points"]) == 3, "a copy of the point")
    assert browser.complaints() == []


def test_a_look_among_new_files_is_put_on_and_one_of_several_is_pressed(browser: Browser, tmp_path: Path) -> None:
    cube = tmp_path / "turned.cube"
    rows = [f"{b} {g} {r}" for b in (0, 1) for g in (0, 1) for r in (0, 1)]
    cube.write_text("LUT_3D_SIZE 2\n" + "\n".join(rows))
    browser.sign_up()
    browser.click("#start-blank")
    browser.click("#create-promo")
    browser.ready()
    files = [MEDIA / "picnic.jpg", cube, MEDIA / "envelope.jpg"]
    browser.find("#file-input").send_keys("\n".join(map(str, files)))
    browser.until(lambda: len(browser.all(".shelf-item.is-ready")) == 3, "three files to be ready", 60)
    browser.until(lambda: "all 2" in browser.find("#put-all").text, "the offer of the two pictures")
    browser.click("#put-all")
    browser.until(lambda: len(browser.state()["main"]) == 2, "both on the main track")
    first = browser.state()["main"][0]["id"]
    browser.click(f'#lanes [data-id="{first}"]')
    browser.find(f'.details[data-for="{first}"]')
    click(browser, "#tab-shelf")
    look = browser.find('.shelf-item[data-name="turned.cube"] .shelf-pick')
    ActionChains(browser.driver).move_to_element(look).click().perform()
    browser.until(lambda: "turned.cube" in (browser.state()["sentence"] or ""), "the look on the picture")
    click(browser, "#tab-details")
    opened(browser, "colour")
    assert browser.find("#p-filter-picture").text.strip() == "turned.cube"
    assert browser.complaints() == []
