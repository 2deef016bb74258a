"""Templates in a browser: found, played, filled from slot to slot, kept by the team, their scenes in other promos."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.select import Select

from glowreel.core.checks import CHECKS
from glowreel.web.gallery.fill import BESIDE
from tests.web.conftest import Browser
from tests.web.test_picture import opened

pytestmark = pytest.mark.long


def test_what_is_said_beside_slots_are_checks_that_there_are() -> None:
    assert set(CHECKS) >= BESIDE


def keys_of(browser: Browser) -> list[str]:
    return browser.js("return [...document.querySelectorAll('.gallery .template-card')].map((c) => c.dataset.template)")


def filled_in(browser: Browser, slot: int) -> str:
    return browser.all(".fill-step")[slot].text


def saved(browser: Browser) -> None:
    browser.until(lambda: browser.find("#fill-saved").text == "saved", "it to be saved")


def typed(browser: Browser, text: str) -> None:
    """Types into the slot at hand and goes on to the next, with the keyboard alone."""
    now = browser.js("return document.querySelector('.slot-card').dataset.slot")
    browser.find(".slot-words").send_keys(text, Keys.ENTER)
    browser.until(lambda: browser.js("return document.querySelector('.slot-card').dataset.slot") != now, "the next")


def test_a_template_is_found_played_and_filled_with_the_keyboard(browser: Browser) -> None:
    browser.enter_demo()
    browser.go("/templates")
    browser.until(lambda: len(keys_of(browser)) >= 40, "the gallery")
    browser.find("#gallery-find").send_keys("pushes blocks")
    browser.until(lambda: not keys_of(browser), "nothing to fit")
    browser.find("#gallery-find").clear()
    browser.find("#gallery-find").send_keys("blocks")
    Select(browser.find('[name="category"]')).select_by_visible_text("Offers and prices")
    browser.until(lambda: keys_of(browser) == ["two-days-only"], "the one that fits")
    Select(browser.find('[name="hue"]')).select_by_visible_text("Green")
    browser.until(lambda: not keys_of(browser), "nothing of it is green")
    Select(browser.find('[name="hue"]')).select_by_visible_text("Orange")
    browser.until(lambda: keys_of(browser) == ["two-days-only"], "its accent is orange")
    card = browser.find(".template-card")
    assert not browser.accessibility()
    ActionChains(browser.driver).move_to_element(card).perform()
    browser.until(lambda: int(card.get_attribute("data-played") or 0) > 5, "it to play")
    card.click()
    browser.find("#template-fill")
    browser.until(lambda: browser.find("#reel-canvas").get_attribute("data-shown"), "a frame of it")
    browser.click("#reel-play")
    browser.until(lambda: int(browser.find("#reel-at").get_attribute("value")) > 20, "it to play")
    browser.find('input[name="name"]').send_keys("June sale")
    browser.click("#template-fill")
    browser.find(".slot-words")
    assert browser.find("#fill-done").text == "2", "the logo and the music are there"
    browser.find(".slot-words").click()
    browser.find(".slot-words").send_keys(Keys.CONTROL, "a")
    typed(browser, "This week")
    typed(browser, "Fly cheaper")
    saved(browser)
    assert "Fly cheaper" in filled_in(browser, 1)
    # A picture is chosen, then cropped about another point, with keys.
    browser.until(lambda: browser.all(".slot-material .material-item"), "the Shelf")
    first = browser.find("#reel-canvas").get_attribute("data-shown")
    before = browser.js("return document.getElementById('reel-canvas').toDataURL()")
    picnic = next(item for item in browser.all(".material-item") if "picnic" in item.text)
    picnic.click()
    browser.until(lambda: "picnic.jpg" in filled_in(browser, 2), "the picture")
    saved(browser)
    browser.until(lambda: browser.js("return document.getElementById('reel-canvas').toDataURL()") != before, "it")
    assert browser.find("#reel-canvas").get_attribute("data-shown") == first
    browser.find(".slot-focus").send_keys(Keys.ARROW_LEFT)
    browser.until(lambda: "45 % across" in (browser.find(".slot-focus").get_attribute("aria-label") or ""), "the crop")
    assert not browser.accessibility()
    # What is too long for its time is said beside it, in every format; nothing moved meanwhile.
    assert browser.find("#fill-length").text == "11.0 s"
    browser.click('[data-step="undo"]')
    browser.until(lambda: "50 % across" in (browser.find(".slot-focus").get_attribute("aria-label") or ""), "undone")
    assert not browser.complaints()


def test_one_picture_is_cut_out_shown_in_every_design_and_becomes_a_promo(browser: Browser) -> None:
    browser.enter_demo()
    browser.click("#start-picture")
    browser.until(lambda: browser.all(".hero-pick"), "pictures of the Shelf")
    next(pick for pick in browser.all(".hero-pick") if "envelope" in pick.text).click()
    browser.find(".hero-bar")
    browser.until(lambda: not browser.all(".hero-waits"), "it to be cut out", 60)
    assert 10 < len(keys_of(browser)) < 40, "those that show one picture"
    assert not browser.accessibility()
    card = next(card for card in browser.all(".template-card") if "Two days only" in card.text)
    browser.js("arguments[0].scrollIntoView({block: 'center'}); arguments[0].click()", card)
    browser.click("#template-fill")
    browser.find(".slot-card")
    pictures = [step for step in browser.all(".fill-step") if "Picture" in step.text]
    assert all("envelope.jpg" in step.text for step in pictures)
    pictures[0].click()
    cut = browser.find("[data-cut]")
    assert cut.is_selected()
    before = browser.js("return document.getElementById('reel-canvas').toDataURL().length")
    cut.click()
    browser.until(lambda: not browser.find("[data-cut]").is_selected(), "it to be whole")
    saved(browser)
    browser.until(lambda: browser.js("return document.getElementById('reel-canvas').toDataURL().length") != before, "")
    assert not browser.complaints()


def test_designs_are_made_in_the_brands_manner_and_a_collage_is_begun_by_its_grid(browser: Browser) -> None:
    browser.enter_demo()
    browser.click("#start-manner")
    browser.until(lambda: len(keys_of(browser)) == 8, "eight designs")
    first = keys_of(browser)
    browser.click("#more-designs")
    browser.until(lambda: keys_of(browser) and keys_of(browser) != first, "others")
    assert not set(keys_of(browser)) & set(first)
    browser.js("document.querySelector('.template-card').click()")
    browser.click("#template-fill")
    browser.find(".slot-card")
    assert browser.find("h1").text.endswith("no. 9"), "its number brings it back"
    browser.go("/")
    browser.click("#start-collage")
    browser.click(".pick-grid[title]")
    browser.ready()
    assert browser.state()["scenes"]
    assert not browser.complaints()


def test_a_scene_is_left_out_and_words_that_cannot_be_read_in_time_are_questioned(browser: Browser) -> None:
    browser.enter_demo()
    browser.go("/templates/how-it-was")
    browser.click("#template-fill")
    browser.find(".slot-card")
    length = browser.find("#fill-length").text
    moment = next(step for step in browser.all(".fill-step") if "9,000 guests" in step.text)
    moment.click()
    browser.until(lambda: "9,000" in (browser.find(".slot-words").get_attribute("value") or ""), "the slot")
    browser.find(".slot-words").send_keys(Keys.CONTROL, "a")
    browser.find(".slot-words").send_keys("Nine thousand guests came from all over it")
    saved(browser)
    browser.until(lambda: browser.all(".slot-checks li"), "what the checks say of it")
    browser.go("/templates/just-arrived")
    browser.click("#template-fill")
    browser.find("[data-leave-out]")
    browser.click("[data-leave-out]")
    browser.until(lambda: browser.find("#fill-length").text == "9.0 s", "the promo without that scene")
    assert not browser.all("[data-leave-out]"), "the others belong to it"
    browser.click('[data-step="undo"]')
    browser.until(lambda: browser.find("#fill-length").text == "12.4 s", "the scene to be back")
    assert length == "12.8 s"
    assert not browser.complaints()


def test_a_promo_becomes_a_template_of_the_team_and_its_scenes_go_into_others(browser: Browser) -> None:
    browser.open_copy()
    words = browser.js("return [...document.querySelectorAll('#lanes [data-id]')].find("
                       "(e) => e.textContent.includes('Breakfast')).dataset.id")  # fmt: skip
    browser.click(f'#lanes [data-id="{words}"]')
    browser.click("#tab-details")
    browser.find('.group[data-group="slots"]')
    opened(browser, "slots")
    press = browser.find("#q-text")
    browser.js("arguments[0].scrollIntoView({block: 'center'})", press)
    press.click()
    browser.settled()
    label = browser.find("#q-text-label")
    browser.js("arguments[0].scrollIntoView({block: 'center'}); arguments[0].select()", label)
    label.send_keys("What there is", Keys.TAB)
    browser.settled()
    assert not browser.complaints()
    promo = browser.driver.current_url.split("?")[0]
    browser.driver.get(promo + "/template")
    name = browser.find('[name="name"]')
    name.clear()
    name.send_keys("Breakfast story")
    browser.click("#keep-template")
    browser.until(lambda: "Breakfast story" in browser.find("h1").text, "the template")
    assert "1 thing" in browser.find(".template-start").text
    browser.click("#template-fill")
    browser.until(lambda: browser.find(".slot-card h2").text.startswith("What there is"), "what is asked for")
    assert len(browser.all(".fill-step")) == 1
    browser.go("/")
    assert browser.find(".ready-row .template-card strong").text == "Breakfast story"
    # A scene of a shipped one goes into a promo, in that promo's brand.
    browser.driver.get(promo)
    browser.ready()
    before = len(browser.state()["scenes"])
    browser.driver.execute_async_script(
        "const done = arguments[0]; import('/static/js/editor/scenesheet.js').then(({chooseScene}) => {"
        "chooseScene(null); done() })"
    )
    browser.click('[data-scenes-from="templates"]')
    browser.until(lambda: len(browser.all('[data-from*="/templates/"]')) > 40, "scenes of templates")
    browser.find("#scenes-find").send_keys("job")
    browser.until(lambda: 0 < len(browser.all('[data-from*="/templates/"]')) < 20, "those that are found")
    scene = browser.find('[data-from$="/templates/we-are-hiring"]')
    browser.js("arguments[0].scrollIntoView({block: 'center'}); arguments[0].click()", scene)
    browser.until(lambda: len(browser.state()["scenes"]) == before + 1, "the scene")
    assert browser.state()["scenes"][-1]["name"] == "Job"
    assert not browser.complaints()
