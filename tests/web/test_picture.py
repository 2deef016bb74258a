"""What a person does to pictures by hand: framed without cropping, cut out twice, seen through a heart, growing."""

from __future__ import annotations

from typing import Any

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.support.select import Select

from tests.web.conftest import Browser
from tests.web.test_values import click, enter, go_to, press, row

pytestmark = pytest.mark.long


def pixel(browser: Browser, across: float, down: float) -> list[int]:
    """The colour that the stage shows at a place, in shares of the frame; red, green, blue."""
    return browser.js(
        "const c = document.getElementById('frame'); const [x, y] = [arguments[0], arguments[1]];"
        "return [...c.getContext('2d').getImageData(c.width * x, c.height * y, 1, 1).data].slice(0, 3)",
        across,
        down,
    )


def shown(browser: Browser) -> None:
    """Waits until the stage shows what was asked for last."""
    browser.settled()
    browser.js("window.shownAt = document.getElementById('frame').dataset.shown")
    browser.driver.execute_async_script("const done = arguments[0]; setTimeout(done, 700)")


def opened(browser: Browser, group: str) -> None:
    browser.js(
        "const g = document.querySelector(arguments[0]); if (!g.open) g.querySelector('summary').click()",
        f'.group[data-group="{group}"]',
    )
    browser.until(lambda: browser.js("return Boolean(localStorage.getItem('glowreel:groups'))"), "it to be remembered")
    browser.driver.execute_async_script("const done = arguments[0]; setTimeout(done, 150)")


def pick(browser: Browser, control: str, label: str) -> None:
    """Presses a choice of a gallery."""
    place = browser.js(
        "return [...document.querySelectorAll(arguments[0] + ' .choice')]"
        ".findIndex((c) => c.textContent.trim() === arguments[1])",
        control, label,
    )  # fmt: skip
    assert place >= 0, f"{control} does not offer “{label}”"
    click(browser, f"{control} .choice:nth-child({place + 1})")


def as_layer(browser: Browser, name: str) -> dict[str, Any]:
    """Puts a file of the Shelf in front at the playhead, by its menu; answers with its row."""
    before = {r["id"] for track in browser.state()["tracks"] for r in track["rows"]}
    click(browser, "#tab-shelf")
    click(browser, f'.shelf-item[data-name="{name}"] .shelf-more')
    entry = next(e for e in browser.all("#menu .menu-item") if e.text.startswith("As a layer at the playhead"))
    entry.click()
    browser.settled()

    def new() -> list[dict[str, Any]]:
        return [r for track in browser.state()["tracks"] for r in track["rows"] if r["id"] not in before]

    browser.until(lambda: len(new()) == 1, "the layer")
    return new()[0]


def select(browser: Browser, key: str) -> None:
    if not browser.all(f'.details[data-for="{key}"]'):
        browser.click(f'#lanes [data-id="{key}"]')
    click(browser, "#tab-details")
    browser.find(f'.details[data-for="{key}"]')


def box(browser: Browser, key: str) -> dict[str, float]:
    return browser.state()["boxes"]["wide"][key]


def spot(browser: Browser, key: str, across: float, down: float) -> tuple[float, float]:
    """A place in the box of a layer, in shares of the frame."""
    lies, frame = box(browser, key), browser.state()["formats"][0]
    ratio = frame["wide"] / frame["high"]
    return (lies["x"] + across * lies["w"]) / ratio, lies["y"] + down * lies["h"]


def drag_on_stage(browser: Browser, grip: str, across: int, down: int) -> None:
    element = browser.find(f'#handles [data-grip="{grip}"]')
    chain = ActionChains(browser.driver, duration=80).move_to_element(element).click_and_hold()
    chain.move_by_offset(across // 2, down // 2).move_by_offset(across - across // 2, down - down // 2)
    chain.release().perform()
    browser.settled()


def test_a_wide_clip_is_made_tall_without_cropping_on_three_grounds(browser: Browser) -> None:
    browser.open_copy()
    clip = browser.state()["main"][2]
    go_to(browser, clip["start"] + clip["length"] / 2)
    select(browser, clip["id"])
    click(browser, '.wall-pick[data-format="tall"]')
    browser.find(f'.details[data-for="{clip["id"]}"]')
    shown(browser)
    cropped = pixel(browser, 0.5, 0.06)
    click(browser, '#p-fit [data-value="\\"letterbox\\""], [data-control*="values/fit"] button:nth-of-type(2)')
    opened(browser, "ground")
    seen = []
    for ground in ("a colour", "itself, blurred", "a pattern"):
        pick(browser, "#p-ground", ground)
        shown(browser)
        seen.append([pixel(browser, x, 0.06) for x in (0.2, 0.5, 0.8)])
    assert len({str(one) for one in seen}) == 3, "three grounds look different"
    assert cropped not in seen[0], "what is above it is not the picture any more"
    middle = pixel(browser, 0.5, 0.5)
    pick(browser, "#p-ground", "a colour")
    shown(browser)
    assert sum(abs(a - b) for a, b in zip(pixel(browser, 0.5, 0.5), middle, strict=True)) < 40, "it stays where it is"
    assert browser.complaints() == []


def test_a_person_is_cut_out_and_stands_there_twice(browser: Browser) -> None:
    browser.open_copy()
    clip = browser.state()["main"][1]
    go_to(browser, clip["start"] + 2)
    layer = as_layer(browser, "pilot-green.jpg")
    select(browser, layer["id"])
    shown(browser)
    lies = box(browser, layer["id"])
    corner = spot(browser, layer["id"], 0.03, 0.03)
    green = pixel(browser, *corner)
    assert green[1] > green[0] + 40, "the wall is green"
    opened(browser, "cutout")
    element = browser.find("#p-cutout")
    browser.js("arguments[0].scrollIntoView({block: 'center'})", element)
    Select(element).select_by_visible_text("people")
    browser.settled()

    def gone() -> bool:
        return sum(abs(a - b) for a, b in zip(pixel(browser, *corner), green, strict=True)) > 60

    browser.until(gone, "the wall to be gone", 60)
    ActionChains(browser.driver).context_click(browser.find(f'#lanes [data-id="{layer["id"]}"]')).perform()
    next(e for e in browser.all("#menu .menu-item") if e.text.startswith("Duplicate")).click()
    browser.settled()

    def both() -> list[dict[str, Any]]:
        return [r for t in browser.state()["tracks"] for r in t["rows"] if r.get("media") == layer["media"]]

    browser.until(lambda: len(both()) == 2, "the copy")
    copy = next(r for r in both() if r["id"] != layer["id"])
    go_to(browser, copy["start"] + 0.5)
    select(browser, copy["id"])
    before = box(browser, copy["id"])
    drag_on_stage(browser, "move", -260, 60)
    browser.until(lambda: box(browser, copy["id"])["x"] < before["x"] - 0.2, "the copy to stand elsewhere")
    assert box(browser, layer["id"])["x"] == lies["x"], "the first one stays"
    assert browser.complaints() == []


def test_a_clip_is_seen_through_a_heart_and_a_picture_in_picture_grows(browser: Browser) -> None:
    browser.open_copy()
    clip = browser.state()["main"][1]
    go_to(browser, clip["start"] + 1)
    layer = as_layer(browser, "landing.mp4")
    select(browser, layer["id"])
    shown(browser)
    corner = spot(browser, layer["id"], 0.02, 0.95)
    whole = pixel(browser, *corner)
    opened(browser, "mask")
    pick(browser, "#p-mask", "Heart")
    shown(browser)
    through = pixel(browser, *corner)
    assert sum(abs(a - b) for a, b in zip(whole, through, strict=True)) > 40, "its corner is not seen any more"
    # Placed on the stage: the shape is dragged aside.
    click(browser, "[data-mask]")
    element = browser.find('#handles [data-masked="move"]')
    ActionChains(browser.driver, duration=80).drag_and_drop_by_offset(element, 40, 0).perform()
    browser.settled()
    browser.until(lambda: '"place":[0.0' not in (browser.find("[data-mask]").get_attribute("data-mask") or ""), "moved")
    click(browser, "[data-mask]")
    press(browser, "Size: a point here")
    go_to(browser, layer["start"] + 2)
    browser.find("#p-size")
    enter(browser, "#p-size", "60")
    (curve,) = row(browser, "landing")["curves"]
    assert [round(at, 2) for at, _ in curve["points"]] == [0.0, 2.0]
    places = browser.state()["boxes"]["wide"][layer["id"]]["way"]
    widths = [place["w"] for place in places]
    assert widths == sorted(widths)
    assert widths[-1] > widths[0] * 1.4, "it grows over time"
    assert browser.complaints() == []


def test_choices_are_pictures_of_this_frame_and_are_tried_on_the_stage(browser: Browser) -> None:
    browser.open_copy()
    clip = browser.state()["main"][0]
    go_to(browser, 1.0)
    select(browser, clip["id"])
    opened(browser, "colour")
    browser.js("document.querySelector('#p-filter').scrollIntoView({block: 'center'})")
    shown(browser)
    browser.until(
        lambda: (
            browser.js("return [...document.querySelectorAll('#p-filter img')].filter((i) => i.naturalWidth).length")
            > 3
        ),
        "pictures of the looks",
    )
    before = pixel(browser, 0.5, 0.2)
    place = browser.js(
        "return [...document.querySelectorAll('#p-filter .choice')].findIndex((c) => c.textContent.includes('Silver'))"
    )
    choice = browser.find(f"#p-filter .choice:nth-child({place + 1})")
    browser.js("arguments[0].scrollIntoView({block: 'center'})", choice)
    ActionChains(browser.driver).move_to_element(choice).perform()

    def grey() -> bool:
        now = pixel(browser, 0.5, 0.2)
        return max(now) - min(now) < 6

    browser.until(grey, "the look to be tried")
    ActionChains(browser.driver).move_to_element(browser.find("#stage")).perform()
    browser.until(lambda: pixel(browser, 0.5, 0.2) == before, "the frame to be as it was")
    assert browser.state()["main"][0]["id"] == clip["id"]
    # A transition is played on its cut while the pointer rests on it.
    browser.js(
        "document.querySelector(arguments[0]).dispatchEvent(new MouseEvent('click', {bubbles: true, detail: 0}))",
        f'.cut[data-cut="{clip["id"]}"]',
    )
    entry = next(e for e in browser.all("#menu .menu-item") if e.text.startswith("Iris"))
    ActionChains(browser.driver).move_to_element(entry).perform()
    browser.until(lambda: browser.js("return Boolean(document.getElementById('frame').dataset.tried)"), "it to play")
    assert browser.complaints() == []


def test_layers_are_pushed_over_one_another_and_their_lines_and_wedges_are_dragged(browser: Browser) -> None:
    browser.open_copy()
    rows = [r for t in browser.state()["tracks"] if t["kind"] == "layer" for r in t["rows"]]
    words = [r for r in rows if r["kind"] == "words"]
    first = words[0]
    key = first["id"]
    select(browser, key)
    wedge = browser.find(f'#lanes [data-id="{key}"] .item-way.is-arrive')
    was = first["arrive"]
    ActionChains(browser.driver, duration=60).drag_and_drop_by_offset(wedge, 20, 0).perform()
    browser.settled()
    browser.until(lambda: row(browser, first["label"])["arrive"] > was + 0.1, "the wedge to be longer")
    item = browser.find(f'#lanes [data-id="{key}"]')
    high = item.size["height"]
    top = -high / 2 + high * 0.06
    chain = ActionChains(browser.driver, duration=60).move_to_element_with_offset(item, 0, round(top) + 1)
    chain.click_and_hold().move_by_offset(0, 4).move_by_offset(0, 5).release().perform()
    browser.settled()
    browser.until(lambda: len(row(browser, first["label"]).get("line", [])) == 1, "a point on the line")
    assert row(browser, first["label"])["line"][0][1] < 0.9
    clip = browser.state()["main"][1]
    box = browser.find(f'#lanes [data-id="{clip["id"]}"]')
    chain = ActionChains(browser.driver, duration=80).move_to_element_with_offset(box, 0, 12).click_and_hold()
    chain.move_by_offset(-15, 0).move_by_offset(-20, 0).release().perform()
    browser.settled()
    before = browser.state()["main"][0]["id"]
    browser.until(lambda: any(cut["after"] == before and cut["length"] > 0.4 for cut in browser.state()["cuts"]), "it")
    assert [r["id"] for r in browser.state()["main"]][1] == clip["id"], "their order stays"
    assert browser.complaints() == []
