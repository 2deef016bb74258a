"""The whole way a person goes: from a folder of files to finished films."""

import io
import urllib.request
from pathlib import Path

import av
import numpy as np
import pytest
from PIL import Image
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.conftest import Files
from tests.web.conftest import Browser
from tests.web.test_values import click


def drag(browser: Browser, source, target, dx: int = 0, dy: int = 0) -> None:
    """Drags with the mouse from the middle of one element to a point of another."""
    chain = ActionChains(browser.driver, duration=60)
    chain.move_to_element(source).click_and_hold().move_by_offset(8, 3)
    chain.move_to_element_with_offset(target, dx, dy).pause(0.1).release().perform()
    browser.settled()


def labels(browser: Browser) -> list[str]:
    return [i.get_attribute("aria-label").split(",")[0] for i in browser.all(".tl-main .item")]


def lengths(browser: Browser) -> list[float]:
    return [float(i.get_attribute("data-length")) for i in browser.all(".tl-main .item")]


def stage_pixels(browser: Browser) -> np.ndarray:
    """The pixels on the stage, RGB."""
    import base64

    data = browser.js("return document.getElementById('frame').toDataURL('image/png')").split(",")[1]
    return np.asarray(Image.open(io.BytesIO(base64.b64decode(data))).convert("RGB"))


@pytest.fixture
def material(files: Files) -> list[Path]:
    red = files.footage("red.mp4", lambda n: (200, 30, 30), frames=120, tone=330)
    broken = files.folder / "broken.mp4"
    broken.write_bytes(red.read_bytes()[:3000])
    Image.new("RGB", (600, 400), (30, 160, 60)).save(files.folder / "green.jpg")
    Image.new("RGB", (400, 400), (30, 60, 200)).save(files.folder / "blue.png")
    t = np.arange(48000 * 8) / 48000
    song = files.sound("song.wav", np.stack([0.3 * np.sin(440 * 6.283 * t)] * 2, axis=1))
    return [red, broken, files.folder / "green.jpg", files.folder / "blue.png", song]


def test_from_a_folder_of_files_to_three_films(browser: Browser, material: list[Path]) -> None:
    browser.sign_up()
    browser.click("#start-blank")
    browser.find("dialog[open] input[name=name]").send_keys("My first promo")
    browser.click("#create-promo")
    browser.ready()
    assert "Drop footage" in browser.find("#stage-empty").text

    # Many files at once; the broken one says so and holds up none.
    browser.find("#file-input").send_keys("\n".join(map(str, material)))
    browser.until(lambda: len(browser.all(".shelf-item.is-ready")) == 4, "four files to be ready", 40)
    assert "broken.mp4" in browser.find(".shelf-item.is-failed .shelf-error").text

    def on_shelf(name: str):
        return browser.find(f'.shelf-item[data-name="{name}"]')

    # On to the main track: by dragging, by click, by key.
    drag(browser, on_shelf("red.mp4"), browser.find(".tl-main .tl-lane"))
    browser.until(lambda: labels(browser) == ["red.mp4"], "red on the main track")
    on_shelf("green.jpg").click()
    browser.until(lambda: len(labels(browser)) == 2, "green on the main track")
    on_shelf("blue.png").find_element(By.CSS_SELECTOR, ".shelf-pick").send_keys(Keys.ENTER)
    browser.until(lambda: len(labels(browser)) == 3, "blue on the main track")
    assert sorted(lengths(browser)) == [3, 3, 4]

    reorder_trim_and_undo(browser)
    title_and_song(browser, on_shelf("song.wav"))
    come_back(browser)
    export_three(browser)
    assert browser.complaints() == []


def reorder_trim_and_undo(browser: Browser) -> None:
    first, last = browser.all(".tl-main .item")[0], browser.all(".tl-main .item")[2]
    before = labels(browser)
    drag(browser, last, first, dx=-first.size["width"] // 2 + 4)
    browser.until(lambda: labels(browser) == [before[2], before[0], before[1]], "the last clip to be first")
    red = next(i for i in browser.all(".tl-main .item") if "red" in i.get_attribute("aria-label"))
    red_id = red.get_attribute("data-id")
    red.click()
    grip = browser.find(f'[data-id="{red_id}"] .grip-end')
    ActionChains(browser.driver, duration=50).move_to_element(grip).click_and_hold().move_by_offset(
        -60, 0
    ).release().perform()
    browser.settled()
    assert 1 < float(browser.find(f'[data-id="{red_id}"]').get_attribute("data-length")) < 4
    browser.find("body").send_keys(Keys.DELETE)
    browser.until(lambda: len(labels(browser)) == 2, "the clip to go")
    browser.find("body").send_keys(Keys.CONTROL, "z")
    browser.until(lambda: len(labels(browser)) == 3, "undo to bring it back")
    browser.find("body").send_keys(Keys.CONTROL, Keys.SHIFT, "z")
    browser.until(lambda: len(labels(browser)) == 2, "redo to take it again")
    browser.click("#undo")
    browser.until(lambda: len(labels(browser)) == 3, "undo to bring it back again")


def title_and_song(browser: Browser, song) -> None:
    browser.click("#tab-shelf")
    browser.click("#add-words")
    field = browser.find(".stage-words")
    browser.until(lambda: browser.driver.switch_to.active_element == field, "the words to be ready for typing")
    field.send_keys("Up at dawn")
    browser.until(
        lambda: any(row["label"] == "Up at dawn" for t in browser.state()["tracks"] for row in t["rows"]),
        "the words to be kept",
    )
    field.send_keys(Keys.ESCAPE)
    click(browser, "[data-fonts]")
    click(browser, ".is-fonts [data-value='\"Fraunces\"']")
    browser.settled()
    browser.click("#tab-shelf")
    drag(browser, song, browser.find('[data-lane="sound"]'), dx=-200)
    browser.until(lambda: browser.all(".tl-sound .item"), "the song on a sound track")


def come_back(browser: Browser) -> None:
    here, names = browser.driver.current_url, labels(browser)
    browser.driver.switch_to.new_window("tab")
    tab = browser.driver.current_window_handle
    for handle in browser.driver.window_handles:
        if handle != tab:
            browser.driver.switch_to.window(handle)
            browser.driver.close()
    browser.driver.switch_to.window(tab)
    browser.driver.get(here)
    browser.ready()
    assert labels(browser) == names
    assert browser.find(".tl-layer .item").get_attribute("aria-label").startswith("Up at dawn")
    assert browser.all(".tl-sound .item")


def export_three(browser: Browser) -> None:
    browser.click("#open-export")
    browser.find("dialog[open] input[value='480'] + span").click()
    browser.click("#start-export")
    browser.until(lambda: len(browser.all(".export-file.is-done")) == 3, "three films", 90)
    links = [b.get_attribute("data-copy") for b in browser.all(".export-file.is-done [data-copy]")]
    downloads = [a.get_attribute("href") for a in browser.all(".export-file.is-done a[href*=download]")]
    cookies = "; ".join(f"{c['name']}={c['value']}" for c in browser.driver.get_cookies())
    sizes = set()
    for address in downloads:
        request = urllib.request.Request(address, headers={"Cookie": cookies})
        with urllib.request.urlopen(request) as answer, av.open(io.BytesIO(answer.read())) as film:
            video = film.streams.video[0]
            sizes.add((video.width, video.height))
            assert film.streams.audio
    assert sizes == {(854, 480), (480, 480), (480, 854)}
    assert all(len(link.rsplit("/", 1)[-1]) >= 32 for link in links), "links cannot be guessed"
    browser.driver.delete_all_cookies()
    browser.driver.get(links[2])
    browser.find("video")
    browser.until(lambda: browser.js("return document.querySelector('video').readyState >= 2"), "the film to load")
    browser.js("const v = document.querySelector('video'); v.muted = true; v.play()")
    browser.until(lambda: browser.js("return document.querySelector('video').currentTime > 0.3"), "the film to play")


def test_playing_shows_every_frame_with_the_sounds_clock(browser: Browser) -> None:
    browser.open_copy()
    browser.until(lambda: stage_pixels(browser).std() > 20, "the first frame")
    browser.find("body").send_keys(" ")
    browser.until(lambda: float(browser.find("#now").text.split(":")[1]) > 2, "two seconds to play", 20)
    browser.find("body").send_keys("k")
    painted = int(browser.find("#frame").get_attribute("data-painted"))
    assert painted > 1, "the picture moves"
    browser.until(lambda: not browser.js("return document.querySelector('[aria-label=Pause]')"), "it to stop")
    at = float(browser.find("#now").text.split(":")[1])
    browser.until(
        lambda: abs(int(browser.find("#frame").get_attribute("data-shown")) / 30 - at) < 0.02,
        "the frame at the playhead, where the sound stopped",
    )
    assert browser.complaints() == []


def test_all_formats_follow_along(browser: Browser) -> None:
    browser.open_copy()
    size = "return arguments[0].naturalWidth && arguments[0].naturalWidth / arguments[0].naturalHeight"
    browser.until(lambda: all(browser.js(size, thumb) for thumb in browser.all("[data-thumb]")), "the thumbs to load")
    shapes = {thumb.get_attribute("data-thumb"): browser.js(size, thumb) for thumb in browser.all("[data-thumb]")}
    assert shapes["wide"] > 1.7
    assert shapes["square"] == 1
    assert shapes["tall"] < 0.6
    before = browser.find('[data-thumb="tall"]').get_attribute("src")
    browser.find("body").send_keys(Keys.END)
    browser.until(lambda: browser.find('[data-thumb="tall"]').get_attribute("src") != before, "the wall to follow")
    browser.find("body").send_keys("3")
    browser.until(
        lambda: browser.js("const f = document.getElementById('frame'); return f.width < f.height"),
        "the stage to turn tall",
    )
    more = browser.find('[data-format-menu="square"]')
    browser.js("arguments[0].click()", more)
    browser.js(
        "[...document.querySelectorAll('#menu .menu-item')].find((i) => i.textContent.includes('Remove')).click()"
    )
    browser.until(lambda: len(browser.all("[data-thumb]")) == 2, "the format to go")
    browser.find("body").send_keys(Keys.CONTROL, "z")
    browser.until(lambda: len(browser.all("[data-thumb]")) == 3, "undo to bring it back")


def test_a_title_is_moved_on_the_stage_in_all_formats_and_in_one(browser: Browser) -> None:
    browser.open_copy()
    title = next(i for i in browser.all(".tl-layer .item") if "Fly at" in i.get_attribute("aria-label"))
    title_id = title.get_attribute("data-id")
    title.click()
    browser.settled()
    for _ in range(2):
        browser.find("body").send_keys(Keys.SHIFT, Keys.ARROW_RIGHT)
    browser.settled()
    before = browser.state()["boxes"]
    box = browser.find(".h-box")
    ActionChains(browser.driver, duration=80).move_to_element(box).click_and_hold().move_by_offset(
        60, -80
    ).move_by_offset(40, -20).release().perform()
    browser.settled()
    after = browser.state()["boxes"]
    assert after["wide"][title_id]["y"] < before["wide"][title_id]["y"] - 0.15
    assert after["tall"][title_id] != before["tall"][title_id], "the other formats follow"
    browser.find("body").send_keys("3")
    browser.click("#for-one")
    browser.settled()
    grip = browser.until(lambda: browser.find(".h-se"), "the grips")
    ActionChains(browser.driver, duration=80).move_to_element(grip).click_and_hold().move_by_offset(
        -25, -12
    ).release().perform()
    browser.settled()
    own = browser.state()["boxes"]
    assert own["tall"][title_id]["own"]
    assert own["tall"][title_id]["size"] < after["tall"][title_id]["size"]
    assert own["wide"][title_id] == after["wide"][title_id], "one format only"


def test_the_keyboard_alone_can_cut(browser: Browser) -> None:
    browser.open_copy()
    body = browser.find("body")
    count = len(labels(browser))
    body.send_keys(Keys.HOME)
    for _ in range(3):
        body.send_keys(Keys.SHIFT, Keys.ARROW_RIGHT)
    body.send_keys("]")
    browser.until(lambda: lengths(browser)[0] == 3, "the first clip to end at the playhead")
    body.send_keys(Keys.HOME, Keys.SHIFT, Keys.ARROW_RIGHT)
    body.send_keys("[")
    browser.until(lambda: lengths(browser)[0] == 2, "the first clip to start at the playhead")
    body.send_keys(Keys.HOME, Keys.SHIFT, Keys.ARROW_RIGHT)
    body.send_keys("/")
    browser.until(lambda: lengths(browser)[:2] == [1, 1], "the clip to be split at the playhead")
    body.send_keys(Keys.HOME)
    browser.find(".tl-main .item").send_keys(Keys.ENTER)
    browser.until(lambda: "is-chosen" in browser.find(".tl-main .item").get_attribute("class"), "the first part")
    body.send_keys("\\")
    browser.until(lambda: lengths(browser)[0] == 2, "the two parts to be one again")
    first = labels(browser)[0]
    browser.find(".tl-main .item").send_keys(Keys.ENTER)
    body.send_keys(Keys.ALT, Keys.ARROW_RIGHT)
    browser.until(lambda: labels(browser)[1] == first, "the clip to move one place")
    body.send_keys(Keys.DELETE)
    browser.until(lambda: len(labels(browser)) == count - 1, "the clip to go")
    body.send_keys("w")
    browser.until(lambda: "stage-words" in browser.driver.switch_to.active_element.get_attribute("class"), "words")
    browser.driver.switch_to.active_element.send_keys(Keys.ESCAPE)
    body.send_keys("?")
    assert browser.find("#keys-sheet[open]").text.count("\n") > 30
    assert browser.complaints() == []


def test_a_stale_page_is_refused_and_nothing_is_lost(browser: Browser) -> None:
    """A window that cannot hear of changes still shows what has been removed in another one."""
    driver = browser.driver
    driver.execute_cdp_cmd("Network.enable", {})
    driver.execute_cdp_cmd("Network.setBlockedURLs", {"urls": ["*/events"]})
    browser.open_copy()
    here = driver.current_url
    gone = browser.all(".tl-main .item")[0].get_attribute("data-id")
    first = driver.current_window_handle
    driver.switch_to.new_window("tab")
    driver.get(here)
    browser.ready()
    browser.find(f'[data-id="{gone}"]').click()
    browser.find("body").send_keys(Keys.DELETE)
    browser.until(lambda: not browser.all(f'[data-id="{gone}"]'), "the clip to go")
    driver.close()
    driver.switch_to.window(first)
    browser.find(f'[data-id="{gone}"]').click()
    browser.find("body").send_keys(Keys.DELETE)
    browser.until(lambda: "already been removed" in browser.find("#toasts").text, "a sentence")
    driver.execute_cdp_cmd("Network.setBlockedURLs", {"urls": []})


def test_no_serious_accessibility_problem_on_any_main_view(browser: Browser) -> None:
    browser.driver.delete_all_cookies()
    browser.go("/")
    found = {"welcome": browser.accessibility()}
    browser.enter_demo()
    found["desk"] = browser.accessibility()
    browser.go("/exports")
    found["exports"] = browser.accessibility()
    browser.open_copy()
    found["editor"] = browser.accessibility()
    browser.all(".tl-layer .item")[1].click()
    browser.until(lambda: browser.all("#words-text"), "details")
    found["details"] = browser.accessibility()
    browser.click("#open-export")
    found["export"] = browser.accessibility()
    browser.find("body").send_keys(Keys.ESCAPE)
    browser.find(".tl-main .item").send_keys(Keys.ENTER)
    browser.find("body").send_keys("q")
    browser.until(lambda: browser.all("[data-material]"), "material to choose from")
    browser.all("[data-material]")[-1].click()
    browser.until(lambda: browser.find("#fit").is_displayed(), "the part to choose")
    found["fit to place"] = browser.accessibility()
    browser.find("body").send_keys(Keys.ESCAPE)
    browser.find("body").send_keys("v")
    browser.until(lambda: browser.all(".step"), "the history")
    browser.find(".step input").click()
    found["history"] = browser.accessibility()
    browser.find("body").send_keys(Keys.ESCAPE)
    browser.find("body").send_keys("u")
    browser.until(lambda: browser.all(".scene-card"), "the scenes")
    browser.find(".scene-more").click()
    found["folded, with a menu"] = browser.accessibility()
    assert {k: v for k, v in found.items() if v} == {}
