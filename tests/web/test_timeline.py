"""The timeline as it is used: by key alone, by mouse alone, in two windows, with very many items."""

from pathlib import Path

import numpy as np
import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement

from glowreel.core import commands as c
from glowreel.services import accounts, promos
from glowreel.services.setup import Runtime
from glowreel.store.models import MediaFile
from tests.conftest import Files, by
from tests.web.conftest import Browser

pytestmark = pytest.mark.long


def mains(browser: Browser) -> list[tuple[str, float]]:
    return [(row["label"], round(row["length"], 3)) for row in browser.state()["main"]]


def items(browser: Browser, kind: str) -> list[tuple[str, float, float]]:
    """Labels, starts and lengths of the items on layer or sound tracks, track by track."""
    tracks = [track for track in browser.state()["tracks"] if track["kind"] == kind]
    return [(r["label"], round(r["start"], 3), round(r["length"], 3)) for t in tracks for r in t["rows"]]


def keys(browser: Browser, *strokes: str) -> None:
    """Presses keys one after another, as a person does: each edit is answered before the next."""
    for stroke in strokes:
        body = browser.find("body")
        *held, key = stroke.split("+") if len(stroke) > 1 and "+" in stroke else (stroke,)
        names = {"right": Keys.ARROW_RIGHT, "left": Keys.ARROW_LEFT, "up": Keys.ARROW_UP, "down": Keys.ARROW_DOWN,
                 "home": Keys.HOME, "end": Keys.END, "delete": Keys.DELETE, "esc": Keys.ESCAPE, "shift": Keys.SHIFT,
                 "alt": Keys.ALT, "ctrl": Keys.CONTROL}  # fmt: skip
        body.send_keys(*(names[h] for h in held), names.get(key, key))
        browser.settled()


def to_second(browser: Browser, second: int) -> None:
    keys(browser, "home", *["shift+right"] * second)


@pytest.fixture
def interview(files: Files) -> list[Path]:
    """Two shots of ten seconds and a voice of twenty."""
    shots = [
        files.footage(name, lambda n, c=colour: c, frames=300)
        for name, colour in (("talk.mp4", (180, 90, 40)), ("hands.mp4", (40, 90, 180)))
    ]
    t = np.arange(48000 * 20) / 48000
    voice = files.sound("voice.wav", np.stack([0.3 * np.sin(900 * t) * (np.sin(7 * t) > 0)] * 2, axis=1))
    return [*shots, voice]


def start_with(browser: Browser, material: list[Path]) -> None:
    browser.sign_up()
    browser.click("#start-blank")
    browser.find("dialog[open] input[name=name]").send_keys("A narrated piece", Keys.ENTER)
    browser.ready()
    browser.find("#file-input").send_keys("\n".join(map(str, material)))
    browser.until(lambda: len(browser.all(".shelf-item.is-ready")) == len(material), "the files to be ready", 60)


def test_a_narrated_piece_from_rough_to_fine_by_key_alone(browser: Browser, interview: list[Path]) -> None:
    start_with(browser, interview)
    for path in interview:
        browser.find(f'.shelf-item[data-name="{path.name}"] .shelf-pick').send_keys(Keys.ENTER)
        browser.settled()
        keys(browser, "home")
    assert mains(browser) == [("hands.mp4", 10), ("talk.mp4", 10)]
    assert items(browser, "sound") == [("voice.wav", 0, 20)]
    rough_by_key(browser)
    fine_by_key(browser)
    dress_by_key(browser)
    back_and_forth_by_key(browser)
    assert browser.complaints() == []


def rough_by_key(browser: Browser) -> None:
    """The voice begins a second later; two seconds go out of everything."""
    to_second(browser, 1)
    keys(browser, "a", "a")
    browser.until(lambda: "voice" in browser.find(".details-name").text, "the voice to be selected")
    keys(browser, "[")
    browser.until(lambda: items(browser, "sound") == [("voice.wav", 1, 19)], "the voice to begin a second later")
    keys(browser, "esc")
    to_second(browser, 4)
    keys(browser, ",", "shift+right", "shift+right", ".", "x")
    browser.until(lambda: len(mains(browser)) == 3, "two seconds to go from every track")
    assert mains(browser) == [("hands.mp4", 4), ("hands.mp4", 4), ("talk.mp4", 10)]
    assert items(browser, "sound") == [("voice.wav", 1, 3), ("voice.wav", 4, 14)]


def fine_by_key(browser: Browser) -> None:
    """A roll that cannot be, one that can, a split, a part that goes and comes back."""
    keys(browser, "esc")
    to_second(browser, 9)
    keys(browser, "b")
    browser.until(lambda: "no more picture" in browser.find("#toasts").text, "a refusal with its reason")
    to_second(browser, 5)
    keys(browser, "b")
    browser.until(lambda: [n for _, n in mains(browser)] == [5, 3, 10], "the nearest cut to come to the playhead")
    to_second(browser, 2)
    keys(browser, "/")
    browser.until(lambda: [n for _, n in mains(browser)] == [2, 3, 3, 10], "a cut at two seconds")
    keys(browser, "delete")
    browser.until(lambda: [n for _, n in mains(browser)] == [2, 3, 10], "the second part to go")
    keys(browser, "ctrl+z")
    browser.until(lambda: [n for _, n in mains(browser)] == [2, 3, 3, 10], "undo")


def dress_by_key(browser: Browser) -> None:
    """A transition, a held frame, words, the second half of the voice on a track of its own, a note."""
    keys(browser, "home", "down", "c")
    browser.until(lambda: len(browser.state()["cuts"]) == 1, "a transition at the nearest cut")
    keys(browser, "shift+right", "h")
    browser.until(lambda: any(row.get("fast") == "hold" for row in browser.state()["main"]), "a held frame")
    keys(browser, "w")
    browser.until(
        lambda: "stage-words" in browser.js("return document.activeElement.className"), "the words to be typed"
    )
    browser.find(".stage-words").send_keys("In her own words", Keys.ESCAPE)
    browser.until(lambda: items(browser, "layer")[0][0] == "In her own words", "the words to be kept")
    keys(browser, "esc")
    to_second(browser, 6)
    keys(browser, "a", "a")
    browser.until(lambda: "voice" in browser.find(".details-name").text, "the voice to be selected")
    keys(browser, "alt+down")
    tracks = [t for t in browser.state()["tracks"] if t["kind"] == "sound"]
    assert [len(t["rows"]) for t in tracks] == [1, 1], "the second half of the voice is on the next track"
    keys(browser, "esc", "n")
    writing(browser, "note-text").send_keys("Louder?", Keys.ESCAPE)
    browser.until(lambda: [n["text"] for n in browser.state()["notes"]] == ["Louder?"], "the note to be kept")


def writing(browser: Browser, field: str) -> WebElement:
    """The field that is being written in, once it is that one."""

    def active() -> WebElement:
        return browser.driver.switch_to.active_element

    browser.until(lambda: active().get_attribute("id") == field, f"{field} to be ready for typing")
    return active()


def back_and_forth_by_key(browser: Browser) -> None:
    """Back to how it began, and forward again, with the history."""
    count = len(mains(browser))
    keys(browser, "v")
    browser.until(lambda: len(browser.all(".step")) > 10, "the history")
    browser.all(".step-go")[-1].send_keys(Keys.ENTER)
    browser.until(lambda: mains(browser) == [], "the promo as it began")
    newest = browser.until(lambda: browser.all(".step.is-ahead .step-go"), "the steps that were undone")[0]
    newest.send_keys(Keys.ENTER)
    browser.until(lambda: len(mains(browser)) == count, "everything back")


def drag(browser: Browser, element: WebElement, dx: int, dy: int = 0, at: int = 0) -> None:
    chain = ActionChains(browser.driver, duration=60).move_to_element_with_offset(element, at, 0).click_and_hold()
    chain.move_by_offset(dx // 2, dy // 2).move_by_offset(dx - dx // 2, dy - dy // 2).pause(0.1).release().perform()
    browser.settled()


def choose(browser: Browser, element: WebElement, words: str) -> None:
    """Right click, then an entry of the menu."""
    ActionChains(browser.driver, duration=60).context_click(element).perform()
    entry = browser.until(
        lambda: next((e for e in browser.all("#menu .menu-item") if words in e.text), None), f"“{words}” in the menu"
    )
    entry.click()
    browser.settled()


def box(browser: Browser, name: str, lane: str = ".tl-main") -> WebElement:
    return next(b for b in browser.all(f"{lane} .item") if name in b.get_attribute("aria-label"))


def test_a_narrated_piece_from_rough_to_fine_by_mouse_alone(browser: Browser, interview: list[Path]) -> None:
    start_with(browser, interview)
    for path in interview:
        browser.find(f'.shelf-item[data-name="{path.name}"] .shelf-pick').click()
        browser.settled()
    assert sorted(mains(browser)) == [("hands.mp4", 10), ("talk.mp4", 10)]
    pps = browser.all(".tl-main .item")[0].size["width"] / 10
    a_range_goes_by_mouse(browser, pps)
    trim_and_roll_by_mouse(browser, pps)
    words_and_voices_by_mouse(browser, pps)
    scenes_by_mouse(browser)
    assert browser.complaints() == []


def a_range_goes_by_mouse(browser: Browser, pps: float) -> None:
    lane = browser.find('[data-lane="notes"]')
    browser.js("arguments[0].scrollIntoView()", lane)
    for second, words in ((4, "A range begins here"), (6, "The range ends here")):
        at = round(second * pps - lane.size["width"] / 2)
        ActionChains(browser.driver).move_to_element_with_offset(lane, at, 0).context_click().perform()
        next(e for e in browser.all("#menu .menu-item") if words in e.text).click()
    browser.click("#range-cut")
    browser.until(lambda: len(mains(browser)) == 3, "the range to go")
    assert sum(length for _, length in mains(browser)) == pytest.approx(18, abs=0.2)
    assert len(items(browser, "sound")) == 2


def trim_and_roll_by_mouse(browser: Browser, pps: float) -> None:
    """Both sides of a cut are shown while it moves; then it gets a transition out of its menu."""
    grip = browser.all(".tl-main .item")[-1].find_element(By.CSS_SELECTOR, ".grip-end")
    chain = ActionChains(browser.driver, duration=60).move_to_element(grip).click_and_hold()
    chain.move_by_offset(-40, 0).move_by_offset(-round(2 * pps) + 40, 0).perform()
    browser.until(lambda: browser.find("#two-up").is_displayed(), "the frames on either side")
    ActionChains(browser.driver).release().perform()
    browser.settled()
    browser.until(lambda: mains(browser)[-1][1] < 9, "the clip to be trimmed")
    before = mains(browser)
    ActionChains(browser.driver).move_to_element(browser.all(".tl-main .item")[0]).perform()
    drag(browser, browser.all(".cut:not(.cut-edge)")[0], -round(pps))
    browser.until(lambda: mains(browser)[0][1] < before[0][1], "the cut to be rolled")
    assert sum(length for _, length in mains(browser)) == pytest.approx(sum(n for _, n in before), abs=2e-3)
    ActionChains(browser.driver).move_to_element(browser.all(".tl-main .item")[0]).perform()
    browser.all(".cut:not(.cut-edge)")[0].click()
    browser.until(lambda: browser.all("#menu [aria-label='push left']"), "the kinds")[0].click()
    browser.until(lambda: [cut["kind"] for cut in browser.state()["cuts"]] == ["push-left"], "the transition")


def words_and_voices_by_mouse(browser: Browser, pps: float) -> None:
    """Words are added and moved; a rubber band takes in both halves of the voice, which move together."""
    browser.click("#tab-shelf")
    browser.click("#add-words")
    browser.until(lambda: items(browser, "layer"), "the words")
    start = items(browser, "layer")[0][1]
    drag(browser, box(browser, "Your words", ".tl-layer"), round(2 * pps))
    browser.until(lambda: items(browser, "layer")[0][1] > start + 1, "the words to move")
    sounds = browser.all(".tl-sound .item")
    spare = browser.find('.tl-sound [data-track="new"]')
    corner = round(17 * pps - spare.size["width"] / 2)
    band = ActionChains(browser.driver, duration=80).move_to_element_with_offset(spare, corner, 2).click_and_hold()
    band.move_by_offset(-30, -20).move_by_offset(-round(15.5 * pps), -10).release().perform()
    browser.until(lambda: len(browser.all(".tl-sound .item.is-chosen")) == len(sounds), "both to be selected")
    before = [start for _, start, _ in items(browser, "sound")]
    drag(browser, sounds[-1], round(pps))
    browser.until(lambda: items(browser, "sound")[0][1] > before[0], "both to move")
    after = [start for _, start, _ in items(browser, "sound")]
    assert after[1] - after[0] == pytest.approx(before[1] - before[0], abs=2e-3)


def scenes_by_mouse(browser: Browser) -> None:
    """Broken by a menu, folded, and reordered by their pictures."""
    names = sorted(mains(browser))
    choose(browser, browser.all(".tl-main .item")[2], "Start a scene with it")
    browser.click("#fold")
    cards = browser.until(lambda: len(browser.all(".scene-card")) == 2 and browser.all(".scene-card"), "two pictures")
    drag(browser, cards[1], -400, 0)
    browser.until(lambda: browser.state()["scenes"][0]["name"] == "Scene 2", "the second scene to be first")
    browser.click("#fold")
    assert sorted(mains(browser)) == names


def from_shelf(browser: Browser, name: str, target: WebElement, held: str = "") -> str:
    """Drags a file of the Shelf on to something, with a key held; answers with what the pointer said it would do."""
    browser.click("#tab-shelf")
    pick = browser.find(f'.shelf-item[data-name="{name}"] .shelf-pick')
    browser.js("arguments[0].scrollIntoView({block: 'center'})", pick)
    chain = ActionChains(browser.driver, duration=60)
    chain = chain.key_down(held) if held else chain
    chain.move_to_element(pick).click_and_hold().move_by_offset(-20, 20)
    chain.move_to_element_with_offset(target, 12, 0).pause(0.1).perform()
    said = browser.find("#drag-ghost").text
    chain = ActionChains(browser.driver).release()
    (chain.key_up(held) if held else chain).perform()
    browser.settled()
    return said


def test_material_goes_over_in_the_place_of_and_on_to_cuts(browser: Browser) -> None:
    browser.open_copy()
    before = mains(browser)
    assert "over what is there" in from_shelf(browser, "picnic.jpg", box(browser, "over-the-fields"), Keys.ALT)
    browser.until(lambda: ("picnic.jpg", 3) in mains(browser), "the photo over part of the clip")
    assert sum(n for _, n in mains(browser)) == pytest.approx(sum(n for _, n in before))
    assert "in the place of" in from_shelf(browser, "envelope.jpg", box(browser, "basket-view"), Keys.SHIFT)
    browser.until(lambda: "basket-view.mp4" not in dict(mains(browser)), "the photo in the clip's place")
    browser.click("#add-filler")
    browser.until(lambda: ("Filler", 2) in mains(browser), "a filler")
    from_shelf(browser, "burner.mp4", box(browser, "Filler"))
    browser.until(lambda: browser.find("#fit-range").is_displayed(), "which part of it fits")
    browser.find("#fit-range").send_keys(*[Keys.PAGE_DOWN] * 2)
    browser.click("#fit-done")
    # The demo has two seconds of it further on already: it is the first clip that counts.
    browser.until(lambda: mains(browser)[0] == ("burner.mp4", 2), "two seconds of it in the filler's place")
    assert browser.state()["main"][0]["source"] == pytest.approx(2), "the part that was chosen"
    browser.find("#shelf-kind").find_element(By.XPATH, "./option[. = 'Transitions']").click()
    iris = browser.find('[data-transition="iris"] .shelf-pick')
    last = browser.all(".tl-main .item")[-1]
    browser.js("arguments[0].scrollIntoView({block: 'center'})", iris)
    ActionChains(browser.driver, duration=60).click_and_hold(iris).move_by_offset(-20, 10).move_to_element_with_offset(
        last, -last.size["width"] // 2 + 8, 0
    ).pause(0.1).release().perform()
    browser.until(lambda: browser.state()["cuts"][-1]["kind"] == "iris", "the transition on the cut it was dropped on")
    assert browser.complaints() == []


def test_a_scene_and_copied_items_come_over_from_another_promo(browser: Browser) -> None:
    browser.open_copy("Lantern weekend")
    browser.all(".tl-layer .is-words")[0].click()
    keys(browser, "ctrl+c")
    browser.until(lambda: "Copied" in browser.find("#toasts").text, "a word about copying")
    browser.open_copy()
    words, scenes = len(items(browser, "layer")), len(browser.state()["scenes"])
    keys(browser, "ctrl+v")
    browser.until(lambda: len(items(browser, "layer")) == words + 1, "what was copied over there")
    browser.click('[data-menu="scenes"]')
    next(e for e in browser.all("#menu .menu-item") if "promo or template" in e.text).click()
    browser.until(lambda: browser.all(".other-scene"), "scenes to choose from")[0].click()
    browser.until(lambda: len(browser.state()["scenes"]) == scenes + 1, "the scene at the end")
    keys(browser, "ctrl+z")
    browser.until(lambda: len(browser.state()["scenes"]) == scenes, "undo")
    assert browser.complaints() == []


def test_an_edit_appears_in_another_window_within_a_second(browser: Browser) -> None:
    browser.open_copy()
    driver, here = browser.driver, browser.driver.current_url
    first = driver.current_window_handle
    browser.find("#editor[data-live]")
    driver.switch_to.new_window("tab")
    driver.get(here)
    browser.ready()
    browser.find("#editor[data-live]")
    second = driver.current_window_handle
    count = len(browser.state()["main"])
    browser.all(".tl-main .item")[0].click()
    keys(browser, "delete")
    assert len(browser.state()["main"]) == count - 1
    driver.switch_to.window(first)
    browser.until(lambda: len(browser.state()["main"]) == count - 1, "the other window to follow")
    browser.until(lambda: "In another window: Removed dawn-ridge" in browser.find("#toasts").text, "a word about it")
    keys(browser, "ctrl+z")
    driver.switch_to.window(second)
    browser.until(lambda: len(browser.state()["main"]) == count, "the undo to arrive too")
    driver.close()
    driver.switch_to.window(first)


def with_five_hundred(runtime: Runtime) -> str:
    """A promo of five hundred clips on the demo's Desk."""
    with runtime.database.unit() as transaction:
        user = accounts.demo_user(transaction.session)
        photo = transaction.session.query(MediaFile).filter_by(team_id=user.team_id, name="picnic.jpg").one()
        row = promos.create(transaction.session, by(user.team_id, user.id), "Five hundred", ("wide",))
        for count in (200, 200, 100):
            command = c.InsertClips(media=(photo.id,) * count)
            promos.edit(transaction.session, row.id, by(user.team_id, user.id), command)
        return row.id


def test_of_five_hundred_items_only_those_in_sight_are_in_the_page(browser: Browser, runtime: Runtime) -> None:
    key = with_five_hundred(runtime)
    browser.enter_demo()
    browser.go(f"/promos/{key}")
    browser.ready()
    assert len(browser.state()["main"]) == 500
    for _ in range(9):
        keys(browser, "+")

    def boxes() -> int:
        return len(browser.all("#lanes .item"))

    browser.until(lambda: boxes() < 60, "what is out of sight to leave the page")
    assert boxes() >= 1
    keys(browser, "end")
    browser.until(
        lambda: browser.state()["main"][-1]["id"] in {b.get_attribute("data-id") for b in browser.all("#lanes .item")},
        "the last clip to come in sight",
    )
    assert boxes() < 60
    keys(browser, "0")
    browser.until(lambda: boxes() > 400, "all of them, small, when all are in sight")
