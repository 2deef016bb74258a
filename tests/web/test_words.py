"""Words as a person writes them: on the stage, in parts, in a family of letters, in a style, letter by letter."""

from __future__ import annotations

from typing import Any

import pytest
from selenium.common.exceptions import WebDriverException
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tests.web.conftest import Browser
from tests.web.test_picture import opened, pick, pixel
from tests.web.test_values import click, go_to, row

pytestmark = pytest.mark.long


def said(browser: Browser) -> dict[str, Any]:
    """What the server has of the words selected."""
    return browser.driver.execute_async_script(
        "const done = arguments[0]; import('/static/js/editor/model.js').then(async ({model}) => {"
        "const ask = new URLSearchParams({item: [...model.selected][0], format: model.format, frame: model.frame});"
        "done(await (await fetch(`${model.url}/letters?${ask}`)).json()) })"
    )


def keys(browser: Browser, *pressed: str) -> None:
    ActionChains(browser.driver).send_keys(*pressed).perform()


def test_words_are_written_where_they_stand_and_part_of_them_in_another_manner(browser: Browser) -> None:
    browser.open_copy()
    go_to(browser, 1)
    browser.click("#add-words")
    field = browser.find(".stage-words")
    keys(browser, "Up 🎈 at", Keys.ENTER, "dawn")
    browser.until(lambda: said(browser)["text"] == "Up 🎈 at\ndawn", "what was written to be kept")
    # The last word in the accent of the brand, larger.
    held = ActionChains(browser.driver).key_down(Keys.SHIFT).send_keys(Keys.ARROW_LEFT * 4)
    held.key_up(Keys.SHIFT).perform()
    click(browser, '#word-tools [data-word="colour"] [data-value="accent"]')
    click(browser, '#word-tools [data-word="larger"]')
    browser.until(lambda: said(browser)["runs"], "the part")
    assert said(browser)["runs"] == [{"start": 8, "end": 12, "colour": "accent", "size": 1.15}]
    # What is pasted is plain, whatever it was: really copied and really pasted.
    browser.js(
        "const from = document.createElement('div'); from.innerHTML = '<b><i>now</i></b>'; document.body.append(from);"
        "getSelection().selectAllChildren(from); document.execCommand('copy'); from.remove();"
        "arguments[0].focus(); getSelection().selectAllChildren(arguments[0]); getSelection().collapseToEnd()",
        field,
    )
    ActionChains(browser.driver).key_down(Keys.CONTROL).send_keys("v").key_up(Keys.CONTROL).perform()
    browser.until(lambda: said(browser)["text"].endswith("dawnnow"), "what was pasted")
    assert not browser.js("return arguments[0].querySelector('b, i')", field)
    keys(browser, Keys.ESCAPE)
    browser.until(lambda: not browser.all(".stage-words"), "the field to go")
    browser.settled()
    # Once they have come they are seen wholly, whoever works on them.
    go_to(browser, 2.5)
    lies = said(browser)["lies"]
    wide = browser.state()["formats"][0]
    across = (lies[0] + 0.02, lies[0] + lies[2])
    browser.driver.execute_async_script("const done = arguments[0]; setTimeout(done, 700)")
    row_of = (lies[1] + lies[3] * 0.75) * wide["wide"] / wide["wide"]
    colours = [pixel(browser, (across[0] + n * (across[1] - across[0]) / 60) / (16 / 9), row_of) for n in range(60)]
    assert any(red > 220 and 150 < green < 210 and blue < 110 for red, green, blue in colours), "the accent is drawn"
    assert not browser.complaints()


def test_a_family_is_found_by_its_manner_and_tried_before_it_is_taken(browser: Browser) -> None:
    browser.open_copy()
    go_to(browser, 5.6)
    browser.click(f'#lanes [data-id="{row(browser, "Breakfast")["id"]}"]')
    click(browser, "#tab-details")
    click(browser, "[data-fonts]")
    find = browser.find("[data-find-font]")
    find.send_keys("joined")
    shown = [c for c in browser.all(".is-fonts .choice") if c.is_displayed()]
    assert {c.get_attribute("title") for c in shown} == {
        "Pacifico", "Dancing Script", "Great Vibes", "Sacramento", "Lobster",
    }  # fmt: skip
    browser.until(lambda: browser.js("return arguments[0].querySelector('img').naturalWidth > 100", shown[0]), "a card")
    find.clear()
    find.send_keys("lobster", Keys.ENTER)
    browser.until(lambda: said(browser)["font"] == "Lobster", "the family")
    assert said(browser)["weight"] == 400, "the nearest weight that it has"
    browser.settled()
    browser.find('[data-fonts][aria-label="Font: Lobster"]')
    click(browser, "[data-fonts]")
    first = browser.find(".font-used .choice")
    assert first.get_attribute("title") == "Lobster", "what was used last is first"
    assert not browser.accessibility()


def test_words_take_a_style_and_come_letter_by_letter(browser: Browser) -> None:
    browser.open_copy()
    go_to(browser, 5.6)
    browser.click(f'#lanes [data-id="{row(browser, "Breakfast")["id"]}"]')
    click(browser, "#tab-details")
    browser.find("#p-style")
    browser.js(
        "const s = document.querySelector('#p-style'); s.value = '\"price\"';"
        "s.dispatchEvent(new Event('change', {bubbles: true}))"
    )
    browser.settled()
    browser.until(lambda: said(browser)["size"] == 0.2, "the size of a price")
    opened(browser, "pieces")
    pick(browser, "#p-pieces", "tumble")
    browser.settled()
    assert browser.find('#p-pieces .choice[aria-pressed="true"]').text == "tumble"
    # Nothing selected, the letters are on their way: the frame is another one than at rest.
    start = row(browser, "Breakfast")["start"]
    browser.js("document.activeElement.blur()")
    keys(browser, Keys.ESCAPE)
    browser.until(lambda: not browser.all('#lanes [data-id][aria-pressed="true"]'), "nothing to be selected")
    rate = browser.state()["rate"]

    def on_stage(seconds: float) -> None:
        go_to(browser, seconds)
        wanted = str(round(seconds * rate[0] / rate[1]))
        browser.until(lambda: browser.find("#frame").get_attribute("data-shown") == wanted, "the frame to be shown")

    on_stage(start + 0.3)
    coming = browser.js("return document.getElementById('frame').toDataURL().length")
    on_stage(start + 2)
    there = browser.js("return document.getElementById('frame').toDataURL().length")
    assert abs(there - coming) > 500, "letters come one after another"
    assert not browser.complaints()


def test_what_checks_find_is_shown_and_cured_by_presses(browser: Browser) -> None:
    browser.open_copy()

    def count() -> int:
        return int(browser.find("#open-checks").get_attribute("data-count") or -1)

    browser.until(lambda: count() >= 0, "the checks to look")
    before = count()
    # Words too small, for too short a time, and over others.
    go_to(browser, 5.4)
    browser.driver.execute_async_script(
        "const done = arguments[0]; import('/static/js/editor/commands.js').then(async ({send}) => {"
        "await send({do: 'add-words', at: 5 * 705600000, length: 705600000,"
        " text: 'Everything that has to be said about it, in one long line of small print'});"
        "const {model} = await import('/static/js/editor/model.js');"
        "await send({do: 'set', items: [...model.selected], values: {size: 0.015, by_rule: false}}); done() })"
    )
    browser.until(lambda: count() >= before + 4, "what is wrong to be found")
    browser.click("#open-checks")
    browser.find("#checks-panel .finding")
    assert not browser.accessibility()
    for label in ("Let it stand longer", "Enlarge it", "Enlarge it", "Enlarge it"):
        offers = "[...document.querySelectorAll('#checks-panel button')].filter((b) => b.textContent.trim() === "
        offers = f"return {offers}'{label}')"
        seen = browser.until(lambda offers=offers: browser.js(f"{offers}.length"), label)
        browser.js(f"{offers}[0].click()".removeprefix("return "))
        browser.settled()
        # Others may be found meanwhile: this one is cured when it is not offered any more.
        fewer = lambda offers=offers, seen=seen: browser.js(f"{offers}.length") < seen  # noqa: E731
        browser.until(fewer, f"“{label}” to be made", 60)
    left = browser.js("return [...document.querySelectorAll('.finding-name')].map((e) => e.textContent)")
    assert not any("Large enough" in name for name in left)
    assert count() > 0, "the words still hardly stand out"
    # It stands beside what is selected as well.
    click(browser, "#checks-panel .finding-go")
    browser.until(lambda: browser.all(".details .details-checks .finding"), "it to stand in Details")
    seen = count()

    def dismissed() -> bool:
        # The list may be made anew at any moment, with what was looked at meanwhile.
        try:
            browser.js("document.querySelector('#checks-panel .finding-dismiss').open = true")
            browser.find("#checks-panel .finding-dismiss[open] input").send_keys("It is meant so", Keys.ENTER)
        except WebDriverException:
            return False
        return True

    browser.until(dismissed, "the reason to be written")
    browser.until(lambda: count() == seen - 1, "it to be dismissed")
    assert "It is meant so" in browser.find("#checks-panel .finding.is-dismissed").text
    assert not browser.complaints()


def test_an_arrow_is_drawn_on_the_stage_by_hand(browser: Browser) -> None:
    browser.open_copy()
    go_to(browser, 13.8)
    browser.click("#tab-shelf")
    browser.js(
        "const s = document.querySelector('#shelf-kind'); s.value = 'shape';"
        "s.dispatchEvent(new Event('change', {bubbles: true}))"
    )
    browser.find('.shelf-item[data-form="arrow"]')
    browser.click("#draw-shape")
    browser.js(
        "document.querySelector(arguments[0]).scrollIntoView({block: 'center'})", '.shelf-item[data-form="arrow"]'
    )
    browser.click('.shelf-item[data-form="arrow"] .shelf-pick')
    stage = browser.find("#handles")
    ActionChains(browser.driver).move_to_element_with_offset(stage, -150, -60).click_and_hold().move_by_offset(
        90, 30
    ).move_by_offset(90, 30).release().perform()
    browser.until(lambda: any(r["kind"] == "shape" for t in browser.state()["tracks"] for r in t["rows"]), "the arrow")
    key = next(r["id"] for t in browser.state()["tracks"] for r in t["rows"] if r["kind"] == "shape")
    lies = browser.state()["boxes"]["wide"][key]
    short = min(browser.js("const r = arguments[0].getBoundingClientRect(); return [r.width, r.height]", stage))
    assert abs(lies["w"] * short - 180) < 3, "as wide as it was drawn"
    assert abs(lies["h"] * short - 60) < 3
    assert not browser.complaints()
