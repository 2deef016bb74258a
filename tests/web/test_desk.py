"""The Desk in a browser: promos play on their cards, are found, renamed, marked, put away together, brought back."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.web.conftest import Browser

pytestmark = pytest.mark.long


def cards(browser: Browser) -> list[str]:
    return browser.js("return [...document.querySelectorAll('.card-promo-name')].map((name) => name.textContent)")


def marked(browser: Browser, name: str) -> None:
    browser.js(
        "[...document.querySelectorAll('.card-promo')].find((c) => c.textContent.includes(arguments[0]))"
        ".querySelector('.card-mark').click()", name,
    )  # fmt: skip


def started(browser: Browser, name: str) -> None:
    browser.go("/")
    browser.click("#start-blank")
    browser.find("#promo-name").send_keys(name, Keys.ENTER)
    browser.ready()


def test_promos_are_put_in_order_together_and_brought_back(browser: Browser) -> None:
    browser.sign_up()
    for name in ("Spring one", "Spring two", "Autumn"):
        started(browser, name)
    browser.go("/")
    browser.until(lambda: len(cards(browser)) == 3, "the promos")
    browser.find("#find-promo").send_keys("spring")
    browser.until(lambda: cards(browser) == ["Spring two", "Spring one"], "those that are found")
    browser.go("/")
    marked(browser, "Spring one")
    marked(browser, "Spring two")
    assert browser.find("#many-count").text == "2"
    browser.find('#many [name="folder"]').send_keys("Spring")
    assert not browser.accessibility()
    browser.click('#many [value="folder"]')
    browser.until(lambda: any("Spring" in one.text for one in browser.all(".folders a")), "the folder")
    next(one for one in browser.all(".folders a") if "Spring" in one.text).click()
    browser.until(lambda: sorted(cards(browser)) == ["Spring one", "Spring two"], "what lies in it")
    marked(browser, "Spring one")
    browser.click('#many [value="remove"]')
    browser.until(lambda: cards(browser) == ["Spring two"], "one to be gone")
    browser.click("#toasts .btn")
    browser.until(lambda: len(cards(browser)) == 3, "it to be back")
    browser.js("[...document.querySelectorAll('.card-promo')].find((c) => c.textContent.includes('Autumn'))"
               ".querySelector('summary').click()")  # fmt: skip
    field = next(one for one in browser.all(".card-rename input[name='name']") if one.is_displayed())
    field.clear()
    field.send_keys("Winter", Keys.ENTER)
    browser.until(lambda: "Winter" in cards(browser), "the new name")
    marked(browser, "Winter")
    browser.click('#many [value="remove"]')
    browser.until(lambda: "Winter" not in cards(browser), "it to be gone")
    browser.go("/desk/bin")
    browser.until(lambda: "Winter" in browser.find(".bin-row").text, "it in the bin")
    assert not browser.accessibility()
    browser.click(".bin-row .btn")
    browser.until(lambda: "Winter" in cards(browser), "it on the Desk again")
    assert not browser.complaints()


def test_a_promo_plays_on_its_card(browser: Browser) -> None:
    browser.enter_demo()
    card = next(card for card in browser.all(".card-promo-link") if "Dawn flight vouchers" in card.text)
    browser.js("arguments[0].scrollIntoView({block: 'center'})", card)
    ActionChains(browser.driver).move_to_element(card).perform()
    browser.until(lambda: int(card.get_attribute("data-played") or 0) > 5, "it to play")
    whole = next(one for one in browser.all(".card-promo") if card in one.find_elements(By.CSS_SELECTOR, "a"))
    whole.find_element(By.CSS_SELECTOR, ".card-menu summary").click()
    whole.find_element(By.XPATH, ".//button[contains(., 'Make a copy')]").click()
    browser.ready()
    assert "(copy)" in browser.driver.title
    assert not browser.complaints()
