"""Formats in a browser: channels bring theirs, one differs, what they cover is cured, all play and are rendered."""

from __future__ import annotations

from pathlib import Path

import cv2
import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys
from tools.heads import PIECES, picture_of

from tests.web.conftest import Browser
from tests.web.test_brand_everywhere import new_promo, sent
from tests.web.test_picture import shown
from tests.web.test_values import go_to, row

pytestmark = pytest.mark.long

MENU = "[...document.querySelectorAll('#menu .menu-item')]"


def from_menu(browser: Browser, format: str, words: str) -> None:
    """Presses an entry of a format's menu."""
    find = f"const entry = {MENU}.find((one) => one.textContent.includes({words!r}));"

    def pressed() -> bool:
        # The wall may just be drawn anew, and the menu goes with what opened it.
        browser.js(f"document.querySelector('[data-format-menu=\"{format}\"]').click()")
        return bool(browser.js(f"{find} if (entry) entry.click(); return Boolean(entry)"))

    browser.until(pressed, f"“{words}” in the menu of {format}")
    browser.settled()


def formats(browser: Browser) -> list[str]:
    return [one["name"] for one in browser.state()["formats"]]


def with_a_face(browser: Browser, folder: Path) -> None:
    """A promo of twenty seconds of somebody who stands at the side."""
    browser.sign_up()
    new_promo(browser)
    piece = next(one for one in PIECES if one.name == "one person who stands at the side")
    cv2.imwrite(str(folder / "ben.png"), picture_of(piece, 0))
    browser.find("#file-input").send_keys(str(folder / "ben.png"))
    browser.until(lambda: browser.all(".shelf-item.is-ready"), "the photo", 60)
    browser.click(".shelf-pick")
    browser.until(lambda: browser.state()["main"], "the clip")
    sent(browser, "{do: 'set-scene-length', scene: model.state.scenes[0].id, length: 20 * 705600000}")


def for_four_channels(browser: Browser) -> None:
    # The channels bring their shapes, and the band of the gauge.
    browser.click("#open-channels")
    assert not browser.accessibility()
    for box in browser.all("#channels-form label [name=channels]"):
        box.click()
    browser.click("#set-channels")
    browser.until(lambda: len(formats(browser)) == 4, "a format more")
    assert formats(browser) == ["Wide", "Square", "Tall", "Cinema"]
    assert "Marquee" in browser.find(".gauge").get_attribute("title")
    # The face at the side is in view in the square: its skin is where the middle of the frame is.
    browser.find("body").send_keys("2")
    shown(browser)
    middle = browser.js(
        "const c = document.getElementById('frame');"
        "return [...c.getContext('2d').getImageData(c.width * 0.62, c.height * 0.47, 1, 1).data].slice(0, 3)"
    )
    assert middle[0] > 180, f"skin, and not the wall: {middle}"
    assert middle[0] - middle[2] > 40, f"skin, and not the wall: {middle}"


def shorter_and_cured(browser: Browser) -> None:
    # A call to action, shorter in tall, that is left where it is pinned lies under what channels lay over it.
    sent(browser, "{do: 'add-words', text: 'Book your dawn flight now', at: 0}")
    words = "[...model.selected][0]"
    at = "{pin: [0.5, 1], place: [0, -0.05], size: 0.06, by_rule: false}"
    sent(browser, f"{{do: 'set', items: [{words}], values: {at}}}")
    sent(browser, f"{{do: 'set', items: [{words}], values: {{text: 'Book now'}}, format: 'tall', only: true}}")
    browser.until(
        lambda: (
            browser.js("return [...document.querySelectorAll('[data-wall-own]')].map((m) => m.hidden)")
            == [True, True, False, True]
        ),
        "the mark of what differs",
    )
    browser.until(lambda: not browser.find('[data-wall="tall"] [data-wall-checks]').get_attribute("hidden"), "its mark")
    browser.click("#open-checks")
    for _ in range(6):
        cures = browser.all("#checks-panel .finding [data-cure]")
        safe = [cure for cure in cures if "safe area" in cure.text]
        if not safe:
            break
        browser.js("arguments[0].click()", safe[0])
        browser.settled()
        count = len(safe)
        browser.until(
            lambda count=count: (
                len([c for c in browser.all("#checks-panel [data-cure]") if "safe area" in c.text]) < count
            ),
            "one less",
        )
    assert not [c for c in browser.all("#checks-panel [data-cure]") if "safe area" in c.text]
    browser.find("body").send_keys(Keys.ESCAPE)


def press_of(browser: Browser, format: str, label: str) -> None:
    """Presses what can be done with the words that one format has for itself."""
    browser.js(
        "const rows = [...document.querySelectorAll(arguments[0] + ' li')];"
        "const row = rows.find((e) => e.textContent.includes('Book now'));"
        "[...row.querySelectorAll('button')].find((b) => b.textContent.trim() === arguments[1]).click()", format, label,
    )  # fmt: skip


def what_differs(browser: Browser) -> None:
    # What differs is listed by format; a change is copied to another one, and sent back there.
    from_menu(browser, "tall", "What differs")
    tall = '#differs-sheet [data-differs-in="tall"]'
    browser.until(lambda: "Book now" in browser.find(tall).text, "the list")
    assert not browser.accessibility()
    square = '#differs-sheet [data-differs-in="square"]'
    press_of(browser, tall, "Square")
    browser.until(lambda: "Book now" in browser.find(square).text, "it in the square too")
    press_of(browser, square, "Back")
    browser.until(lambda: "Book now" not in browser.find(square).text, "it to follow again")
    browser.click("#differs-sheet [data-close]")


def a_channel_of_its_own(browser: Browser) -> None:
    # Where none of the channels is the right one, it is described.
    browser.click("#open-channels")
    assert len(browser.all("#channels-form label [name=channels]:checked")) == 4, "those that were chosen"
    browser.click("#own-channel")
    browser.find("[name=own-name]").send_keys("Shop window")
    browser.find("[name=own-shape]").send_keys("Portrait")
    assert not browser.accessibility()
    best = browser.find("[name=own-best_from]")
    best.clear()
    best.send_keys("60")
    browser.click("#set-channels")
    refusal = (
        "return [...document.querySelectorAll('#toasts:popover-open .is-refusal')].map((e) => e.textContent).join()"
    )
    browser.until(lambda: "lengths must go up" in browser.js(refusal), "why not, over the sheet")
    best.clear()
    best.send_keys("10")
    browser.click("#set-channels")
    browser.until(lambda: "Portrait" in formats(browser), "its shape")
    assert not browser.all("#channels-sheet[open]")
    assert browser.state()["formats"][-1]["channel"] == "own"
    browser.js("arguments[0].click()", browser.find('[data-format-menu="portrait"]'))
    browser.js(f"{MENU}.find((entry) => entry.textContent.includes('Remove it')).click()")
    browser.until(lambda: "Portrait" not in formats(browser), "four again")


def own_and_in_order(browser: Browser) -> None:
    # One of its own, one more like another, another order.
    browser.click("#add-format")
    browser.find("#own-format [name=shape]").send_keys("1200 x 628")
    browser.find("#own-format [name=name]").send_keys("Card", Keys.ENTER)
    browser.until(lambda: "Card" in formats(browser), "the format of one's own")
    from_menu(browser, "tall", "One more like it")
    browser.until(lambda: "Tall 2" in formats(browser), "the copy")
    from_menu(browser, "tall", "Up on the wall")
    browser.until(lambda: formats(browser)[:3] == ["Wide", "Tall", "Square"], "another order")


def side_by_side(browser: Browser) -> None:
    # All of them side by side, playing in step.
    browser.click("#side-by-side")
    browser.until(lambda: len(browser.all(".beside-frame canvas")) == 5, "the others beside it")
    painted = "return [...document.querySelectorAll('.beside-frame canvas')].map((c) => Number(c.dataset.painted ?? 0))"
    browser.until(lambda: all(browser.js(painted)), "a frame of each")
    browser.click("#play")
    browser.until(lambda: min(browser.js(painted)) > 4, "all to play", 30)
    browser.click("#play")
    browser.click('.beside-frame[data-beside="tall"] button')
    browser.until(lambda: browser.find('.wall-pick[data-format="tall"]').get_attribute("aria-pressed") == "true", "it")
    from_menu(browser, "tall", "back to the rule")
    browser.until(lambda: browser.find('[data-wall="tall"] [data-wall-own]').get_attribute("hidden"), "no mark")
    browser.click("#side-by-side")


def test_a_promo_for_four_channels_is_right_in_each_of_them(browser: Browser, tmp_path: Path) -> None:
    with_a_face(browser, tmp_path)
    for_four_channels(browser)
    shorter_and_cured(browser)
    what_differs(browser)
    a_channel_of_its_own(browser)
    own_and_in_order(browser)
    side_by_side(browser)
    address = browser.driver.current_url
    browser.js("arguments[0].click()", browser.find('[data-format-menu="cinema"]'))
    browser.js(f"{MENU}.find((entry) => entry.textContent.includes('of its own in it')).click()")
    browser.until(lambda: browser.driver.current_url != address, "the copy")
    browser.ready()
    assert formats(browser) == ["Cinema"]
    browser.driver.get(address)
    browser.ready()
    assert len(formats(browser)) == 6, "the promo that was copied is as it was"
    browser.click("#open-export")
    browser.click("#export-sheet [data-export-for=passerby]")
    assert len(browser.all("#export-sheet [name=formats]:checked")) == 2, "both tall ones"
    browser.click('#export-sheet [data-export-for=""]')
    browser.click("#export-sheet [name=resolution]")
    browser.click("#start-export")
    browser.until(lambda: len(browser.all(".export-file.is-done")) == 6, "a film in each format", 180)
    assert not browser.complaints()


def test_what_lies_in_any_of_the_formats_is_dragged_where_it_is_seen(browser: Browser) -> None:
    browser.open_copy()
    title = row(browser, "Two hours")
    go_to(browser, title["start"] + title["length"] / 2)
    browser.click("#side-by-side")
    browser.until(lambda: len(browser.all(".beside-frame canvas")) == 2, "the others beside it")
    before = browser.state()["boxes"]
    box, figure = before["square"][title["id"]], '.beside-frame[data-beside="square"] canvas'
    canvas = browser.find(figure).rect
    short = min(canvas["width"], canvas["height"])
    across = (box["x"] + box["w"] / 2) * short - canvas["width"] / 2
    down = (box["y"] + box["h"] / 2) * short - canvas["height"] / 2
    chain = ActionChains(browser.driver, duration=80)
    chain.move_to_element_with_offset(browser.find(figure), round(across), round(down)).click_and_hold()
    chain.pause(0.8).move_by_offset(0, -8).move_by_offset(0, -30).release().perform()
    browser.settled()
    browser.until(
        lambda: browser.state()["boxes"]["square"][title["id"]]["y"] < box["y"] - 0.03, "it to be higher there"
    )
    assert browser.find('.wall-pick[data-format="square"]').get_attribute("aria-pressed") == "true"
    browser.click("#side-by-side")
    assert browser.complaints() == []
