"""Whole pieces of work by hand: a collage, and a bad promo that is cured."""

from __future__ import annotations

from typing import Any

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.support.select import Select

from tests.web.conftest import Browser
from tests.web.test_picture import opened, pixel, select, shown
from tests.web.test_values import click, enter

pytestmark = pytest.mark.long


def begin(browser: Browser, name: str) -> None:
    """A new, empty promo of the demo's team, which has files on its Shelf."""
    browser.enter_demo()
    browser.click("#start-blank")
    browser.find("dialog[open] input[name=name]").send_keys(name)
    browser.click("#create-promo")
    browser.ready()


def list_of(browser: Browser, kind: str) -> None:
    """Shows one kind of things on the Shelf."""
    click(browser, "#tab-shelf")
    Select(browser.find("#shelf-kind")).select_by_value(kind)
    if kind:
        browser.find(f'.shelf-item[data-kind="{kind}"]')
    else:
        browser.find(".shelf-item[data-media]")


def add(browser: Browser, selector: str) -> None:
    """Presses something on the Shelf."""
    item = browser.find(f".shelf-item{selector} .shelf-pick")
    browser.js("arguments[0].scrollIntoView({block: 'center'})", item)
    item.click()
    browser.settled()


def rows(browser: Browser, kind: str) -> list[dict[str, Any]]:
    found = [row for track in browser.state()["tracks"] for row in track["rows"] if row["kind"] == kind]
    return sorted(found, key=lambda row: row["start"])


REVISION = "return JSON.parse(document.getElementById('state').textContent).rev"


def told(browser: Browser) -> dict[str, Any]:
    """The cells of the collage selected."""
    return browser.js("return JSON.parse(document.querySelector('[data-cells]').dataset.cells)")


def drag_to(browser: Browser, selector: str, across: float, down: float) -> None:
    """Drags something on the stage to a place, in fractions of the short side; it may be drawn anew meanwhile."""
    start, end = browser.js(
        "const r = document.querySelector(arguments[0]).getBoundingClientRect();"
        "const s = document.getElementById('handles').getBoundingClientRect(), short = Math.min(s.width, s.height);"
        "return [[r.x + r.width / 2, r.y + r.height / 2], [s.x + arguments[1] * short, s.y + arguments[2] * short]]",
        selector, across, down,
    )  # fmt: skip
    chain = ActionChains(browser.driver, duration=80)
    pointer = chain.w3c_actions.pointer_action
    pointer.move_to_location(round(start[0]), round(start[1])).pointer_down()
    pointer.move_to_location(round(start[0]) + 6, round(start[1]) + 6)
    pointer.move_to_location(round(end[0]), round(end[1])).pointer_up()
    chain.perform()
    browser.settled()


def test_a_collage_of_four_with_words_is_made_by_hand(browser: Browser) -> None:
    begin(browser, "Four from the valley")
    list_of(browser, "collage")
    add(browser, '[data-grid="four"]')
    assert browser.state()["main"][0]["kind"] == "collage"
    # The first cell from the list of files, the others by pressing what is on the Shelf.
    browser.click(".h-plus")
    browser.click('#replace-sheet [data-name="ridge-square.jpg"]')
    browser.until(lambda: told(browser)["cells"][0]["label"] == "ridge-square.jpg", "the first cell")
    list_of(browser, "")
    browser.driver.execute_async_script("const done = arguments[0]; setTimeout(done, 300)")
    second = told(browser)["cells"][1]
    click(browser, "#tab-details")
    click(browser, f'[data-pick-cell="{second["id"]}"]')
    click(browser, "#tab-shelf")
    add(browser, '[data-name="burner.mp4"]')
    browser.until(lambda: told(browser)["cells"][1]["label"] == "burner.mp4", "the second cell")
    add(browser, '[data-name="picnic.jpg"]')
    browser.until(lambda: told(browser)["cells"][2]["label"] == "picnic.jpg", "the third cell, which was next")
    click(browser, "#tab-details")
    click(browser, "#p-cell-words")
    browser.find("#p-cell-text").clear()
    revision = browser.js(REVISION)
    browser.find("#p-cell-text").send_keys("Up at")
    browser.until(lambda: browser.js(REVISION) > revision, "the words to be kept")
    browser.settled()
    browser.find("#p-cell-text").send_keys(" dawn")
    browser.js("document.activeElement.blur()")
    browser.settled()
    click(browser, f'[data-pick-cell="{second["id"]}"]')
    browser.until(lambda: told(browser)["cells"][3]["label"] == "“Up at dawn”", "letters in the order they were typed")
    arranged_by_hand(browser)
    coloured_like_its_pictures(browser)
    assert not browser.accessibility()
    loose_and_back(browser)
    assert browser.complaints() == []


def arranged_by_hand(browser: Browser) -> None:
    """A line is dragged, two cells change places, a picture is moved and enlarged in its cell."""
    upper = next(line for line in told(browser)["lines"] if line["across"])
    drag_to(browser, ".h-line.is-across", 1.2, upper["box"]["y"] + upper["box"]["h"] / 2)
    browser.until(lambda: told(browser)["lines"] != [] and told(browser)["cells"][0]["w"] > 1.1, "the line to be moved")
    cells = told(browser)["cells"]
    third = cells[2]
    drag_to(browser, f'.h-swap[data-cell="{cells[0]["id"]}"]', third["x"] + third["w"] / 2, third["y"] + 0.2)
    browser.until(lambda: [cell["id"] for cell in told(browser)["cells"]][2] == cells[0]["id"], "two to change places")
    first = told(browser)["cells"][0]
    click(browser, f'[data-pick-cell="{first["id"]}"]')
    enter(browser, f"#p-{first['id']}-zoom", "200")
    before = told(browser)["cells"][0]
    drag_to(browser, f'.h-cell[data-cell="{first["id"]}"]', before["x"] + 0.2, before["y"] + 0.1)
    browser.until(lambda: told(browser)["cells"][0]["focus"] != before["focus"], "the picture to be moved")


def coloured_like_its_pictures(browser: Browser) -> None:
    """The colour around the cells comes from the pictures."""
    opened(browser, "ground")
    swatch = browser.find(".matching-colour")
    colour = swatch.get_attribute("data-fill-colour")
    browser.js("arguments[0].scrollIntoView({block: 'center'})", swatch)
    swatch.click()
    shown(browser)
    wanted = [int(colour[n : n + 2], 16) for n in (1, 3, 5)]
    edge = 0.014 / 2
    browser.until(
        lambda: max(abs(a - b) for a, b in zip(pixel(browser, edge / 1.78, 0.5), wanted, strict=True)) < 8,
        "the rim in that colour",
    )


def patch(browser: Browser, across: float, down: float) -> list[float]:
    """The mean colour around a place of the stage, in shares of the frame."""
    return browser.js(
        "const c = document.getElementById('frame'), n = 15;"
        "const d = c.getContext('2d').getImageData(c.width * arguments[0] - 7, c.height * arguments[1] - 7, n, n).data;"
        "return [0, 1, 2].map((k) => d.reduce((sum, v, at) => sum + (at % 4 === k ? v : 0), 0) / (n * n))",
        across,
        down,
    )


def loose_and_back(browser: Browser) -> None:
    """As free layers it looks the same; undone, it is a collage again."""
    shown(browser)
    spots = [(0.2, 0.2), (0.9, 0.25), (0.2, 0.8), (0.55, 0.6)]
    before = [patch(browser, *spot) for spot in spots]
    click(browser, "#p-free")
    # The pointer rests on no choice that would be tried.
    ActionChains(browser.driver).move_to_element(browser.find("#promo-name")).perform()
    browser.until(lambda: browser.state()["main"][0]["kind"] == "filler", "the collage to be taken apart")
    assert [len(rows(browser, kind)) for kind in ("picture", "words")] == [3, 1]
    shown(browser)
    after = [patch(browser, *spot) for spot in spots]
    for spot, one, other in zip(spots, before, after, strict=True):
        assert max(abs(a - b) for a, b in zip(one, other, strict=True)) < 12, f"at {spot}: {other} for {one}"
    click(browser, "#undo")
    browser.until(lambda: browser.state()["main"][0]["kind"] == "collage", "the collage to be back")


BAD = """
const done = arguments[0];
import('/static/js/editor/commands.js').then(async ({send}) => {
  const {model} = await import('/static/js/editor/model.js');
  const S = 705600000;
  const set = (values) => send({do: 'set', items: [...model.selected], values});
  await send({do: 'insert-filler', length: 4 * S});
  await send({do: 'add-words', at: 0, length: S,
    text: 'Everything that has to be said about it, in one long line of small print'});
  await set({size: 0.015, arrives: 'none', colour: '#D9CFC0'});
  await send({do: 'add-words', at: S, length: 2 * S, text: 'Off it goes'});
  await set({size: 0.1, pin: [1, 0.5], place: [0.2, 0], arrives: 'none'});
  await send({do: 'add-words', at: S / 2, length: 3 * S, text: 'One'});
  await set({size: 0.1, pin: [0.5, 0.2], place: [0, 0], arrives: 'none', box: 'ground'});
  await send({do: 'add-words', at: S / 2, length: 3 * S, text: 'Two'});
  await set({size: 0.1, pin: [0.5, 0.2], place: [0, 0], arrives: 'none', box: 'ground'});
  await send({do: 'add-effect', items: [model.state.main[0].id], effect: 'flash'});
  done();
});
"""


def test_a_bad_promo_is_cured_by_presses_alone(browser: Browser) -> None:
    begin(browser, "What not to do")
    browser.driver.execute_async_script(BAD)
    browser.settled()
    select(browser, browser.state()["main"][0]["id"])
    enter(browser, "[id^='p-e-'][id$='-rate']", "6")

    def whole() -> bool:
        return browser.js("return document.querySelector('#checks-list')?.dataset.whole") == "true"

    def names() -> list[str]:
        found = browser.js(
            "return [...document.querySelectorAll('#checks-list .finding-go')].map((e) => e.textContent)"
        )
        return [" ".join(name.split()) for name in found]

    def said(check: str) -> bool:
        return any(name.startswith(check) for name in names())

    browser.click("#open-checks")
    wrong = (
        "Time to read",
        "Large enough",
        "Stands out",
        "Inside the frame",
        "Words apart",
        "No flashing",
        "Nothing missing",
    )
    for check in wrong:
        browser.until(lambda check=check: said(check), check, 90)
    cures = {
        "No flashing": ("Take the flash off",),
        "Time to read": ("Let it stand longer", "Let the promo go on longer"),
        "Large enough": ("Enlarge it",),
        "Inside the frame": ("Move it into the frame",),
        "Words apart": ("Move it to where there is room",),
        "Stands out": ("Put it on a box",),
    }
    for _ in range(24):
        open_ones = [check for check in cures if said(check)]
        if not open_ones:
            break
        cure(browser, open_ones[0], *cures[open_ones[0]])
        browser.until(whole, "the list to be made anew", 90)
    assert not [check for check in cures if said(check)]
    # What is missing asks for the file that fills it.
    cure(browser, "Nothing missing", "Fill it …")
    browser.click('#replace-sheet [data-name="ridge-square.jpg"]')
    browser.until(lambda: not said("Nothing missing"), "the place to be filled", 90)
    assert browser.complaints() == []


def cure(browser: Browser, check: str, *labels: str) -> None:
    """Presses a cure of the first finding of a check, and waits until the list was made anew."""
    browser.js("document.querySelector('#checks-list').dataset.whole = 'stale'")
    done = browser.js(
        "const finding = [...document.querySelectorAll('.finding')].find((f) =>"
        " f.querySelector('.finding-name')?.textContent.trim().startsWith(arguments[0]));"
        "const press = [...(finding?.querySelectorAll('[data-cure]') ?? [])]"
        ".find((b) => arguments[1].includes(b.textContent.trim())); press?.click(); return Boolean(press)",
        check,
        labels,
    )
    listed = browser.js(
        "return [...document.querySelectorAll('.finding')].map((e) => e.textContent.replace(/\\s+/g, ' '))"
    )
    assert done, f"“{check}” does not offer {labels}: {listed}"
    browser.settled()
