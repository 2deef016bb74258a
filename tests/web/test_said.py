"""Words by hand: slides with a voice are cut by what is said and captioned; a script becomes a finished promo."""

from __future__ import annotations

import io
import re
import urllib.request
from typing import Any

import av
import numpy as np
import pytest
from selenium.webdriver import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from glowreel.interchange.captions import read
from tests.conftest import Files
from tests.voice import RATE, said
from tests.web.conftest import Browser
from tests.web.test_values import click, go_to

pytestmark = pytest.mark.long


def fetched(browser: Browser, address: str | None) -> bytes:
    cookies = "; ".join(f"{c['name']}={c['value']}" for c in browser.driver.get_cookies())
    request = urllib.request.Request(address or "", headers={"Cookie": cookies})
    with urllib.request.urlopen(request) as answer:
        return bytes(answer.read())


def words(browser: Browser) -> list[str]:
    return [word.text for word in browser.all(".said-word")]


def blank(browser: Browser) -> None:
    browser.sign_up()
    browser.click("#start-blank")
    browser.click("dialog[open] .btn-main")
    browser.ready()


def in_order(browser: Browser, name: str) -> Any:
    shelved = f'.shelf-item[data-name="{name}"].is-ready .shelf-pick'
    return browser.until(lambda: browser.find(shelved), f"{name} on the Shelf", 60)


def narration(files: Files) -> Any:
    """A voice that hesitates, over quiet."""
    quiet = lambda seconds: np.zeros(int(seconds * RATE))  # noqa: E731
    pieces = ("Our dawn flights", "um", "begin on Sunday.", "Book two seats and bring a friend.")
    parts = [quiet(0.6)]
    for piece, pause in zip(pieces, (0.35, 0.35, 1.4, 0.6), strict=True):
        parts += [said(piece), quiet(pause)]
    line = np.concatenate(parts)
    line += 0.0005 * np.random.default_rng(3).standard_normal(len(line))
    return files.sound("narration.wav", np.stack([line, line], axis=1))


def test_slides_with_a_voice_are_cut_by_words_and_captioned(browser: Browser, files: Files) -> None:
    blank(browser)
    slides = [files.footage(f"slide-{n}.mp4", lambda f, c=c: c, frames=150, size=(640, 360))
              for n, c in enumerate(((40, 60, 90), (150, 90, 60)))]  # fmt: skip
    browser.find("#file-input").send_keys("\n".join(map(str, (*slides, narration(files)))))
    for name in ("slide-0.mp4", "slide-1.mp4"):
        in_order(browser, name).send_keys(Keys.ENTER)
        browser.settled()
    go_to(browser, 0)
    in_order(browser, "narration.wav").send_keys(Keys.ENTER)
    browser.settled()
    # What is said is written down, the filler and the long pause taken out, by the list.
    browser.click("#tab-transcript")
    browser.find(".said-voice [data-model]").send_keys("English, quick")
    click(browser, "[data-write-down]")
    browser.until(lambda: "Sunday." in words(browser), "what is said", 90)
    length = browser.state()["length"]
    assert any(word.startswith("um") or word.startswith("Um") for word in words(browser))
    browser.until(lambda: browser.all("#said-slips:not([hidden])"), "the slips")
    browser.click("#said-slips summary")
    sound = fetched(browser, browser.js(
        "return location.href + '/join.wav?words=' + document.querySelector('[data-hear-join]').dataset.hearJoin"
    ))  # fmt: skip
    assert sound[:4] == b"RIFF"
    assert len(sound) > 400_000
    click(browser, '[data-tidy="slips"]')
    browser.until(lambda: not any(word.lower().startswith("um") for word in words(browser)), "no um")
    assert browser.find(".said-gone").text.lower().startswith("um"), "struck through, to be brought back"
    shorter = browser.state()["length"]
    assert shorter < length - 0.2
    click(browser, ".said-gone")
    browser.until(lambda: browser.state()["length"] > shorter + 0.2, "the um to be back")
    browser.js("document.activeElement.blur()")
    ActionChains(browser.driver).key_down(Keys.CONTROL).send_keys("z").key_up(Keys.CONTROL).perform()
    browser.until(lambda: abs(browser.state()["length"] - shorter) < 0.05, "the undo")
    browser.until(lambda: browser.all("#said-pauses:not([hidden])"), "the pauses")
    browser.click("#said-pauses summary")
    click(browser, '[data-tidy="pauses"]')
    browser.until(lambda: browser.state()["length"] < shorter - 0.5, "the pause to be shorter")
    # A press on a word leads there; a drag over two of them and Delete takes them out.
    target = next(word for word in browser.all(".said-word") if word.text == "Book")
    target.click()
    start = float(target.get_attribute("data-start"))
    now = "return import('/static/js/editor/model.js').then((m) => m.model.time)"
    browser.until(lambda: abs(browser.js(now) - start) < 0.06, "the playhead at the word")
    assert not browser.complaints()
    captioned(browser, files)


def captioned(browser: Browser, files: Files) -> None:
    """Captions are made, corrected and styled, and are in the film and beside it."""
    browser.click('[data-view-of="captions"]')
    click(browser, "[data-make-captions]")
    browser.until(lambda: len(browser.all(".cue")) >= 2, "the cues")
    browser.settled()
    last = "document.querySelector('.cue:last-child .cue-text')"
    browser.until(lambda: browser.js(f"return {last}?.value.includes('friend')"), "the last cue")
    # The list may just be drawn anew: whoever has the caret keeps it.
    browser.js(f"{last}.focus(); {last}.select()")
    ActionChains(browser.driver).send_keys("Book two places and bring a friend.", Keys.TAB).perform()
    browser.settled()
    browser.until(lambda: any("places" in cue.text for cue in browser.all(".tl-cue")), "the timeline to show it")
    browser.find("#captions-find [name=find]").send_keys("dawn")
    browser.find("#captions-find [name=by]").send_keys("early", Keys.ENTER)
    browser.until(lambda: "early" in browser.all(".cue-text")[0].get_attribute("value"), "the word to be replaced")
    browser.click("#captions-look summary")
    click(browser, '[data-design="follow"]')
    browser.settled()
    assert not browser.accessibility()
    browser.click("#open-export")
    for box in browser.all('#export-formats input[name="formats"]:checked')[1:]:
        browser.js("arguments[0].click()", box)
    browser.js("document.querySelector('#export-form input[name=resolution][value=\"480\"]').click()")
    browser.click("#start-export")
    browser.until(lambda: browser.all(".export-file.is-done"), "the film", 120)
    film = fetched(browser, browser.find(".export-file.is-done a[href*=download]").get_attribute("href"))
    with av.open(io.BytesIO(film)) as opened:
        (track,) = opened.streams.subtitles
        assert track.language == "eng"
        text = b" ".join(bytes(packet) for packet in opened.demux(track) if packet.size > 2).decode("utf-8", "ignore")
        assert "early" in text
        assert "places" in text
    beside = read("x.srt", fetched(browser, browser.find('.export-file a[href$=".srt"]').get_attribute("href")))
    start, end, _ = next(cue for cue in beside.cues if "places" in cue[2])
    with av.open(io.BytesIO(film)) as opened:
        frames = [frame for frame in opened.decode(video=0) if start < frame.time * 1000 < end]
    low = frames[len(frames) // 2].to_ndarray(format="rgb24")[360:]
    accent = np.abs(low.astype(int) - np.array([246, 183, 60])).max(axis=2) < 40
    white = low.min(axis=2) > 200
    assert accent.sum() > 150, "the box is at the word that is said"
    assert white.sum() > 300, "the others are white"
    assert not browser.complaints()


def test_a_script_becomes_a_finished_promo_with_a_voice(browser: Browser) -> None:
    browser.enter_demo()
    browser.click("#start-script")
    text = (
        "Fly at first light. Our balloons rise from the meadow every Sunday. Breakfast waits when you land. "
        "Two seats cost 240 euros, only until Sunday. Book yours at hollowmere.example."
    )
    browser.find("#script-text").send_keys(text)
    browser.until(lambda: re.search(r"\d+ s", browser.find("#script-lasts").text), "how long it takes")
    browser.click("#propose")
    browser.until(lambda: len(browser.all(".script-line")) >= 4, "the scenes")
    shown = "return [...document.querySelectorAll('.script-frame')].slice(0, 3).every((one) => one.naturalWidth > 100)"
    browser.until(lambda: browser.js(shown), "the scenes as they look", 30)
    assert not browser.accessibility()
    second = browser.all(".script-line")[1]
    assert len(second.find_elements(By.CSS_SELECTOR, ".script-pictures label")) == 4, "one, two others, or none"
    browser.js("arguments[0].click()", second.find_elements(By.CSS_SELECTOR, ".script-pictures label")[1])
    browser.click("#make-it")
    browser.until(lambda: browser.all('#editor[data-ready="1"]'), "the promo", 60)
    state = browser.state()
    assert 12 < state["length"] < 26
    assert len(state["scenes"]) == len(state["main"])
    voices = [row for track in state["tracks"] for row in track["rows"] if "Voice" in row["label"]]
    assert len(voices) == len(state["scenes"]), "each scene is spoken"
    for scene, voice in zip(state["scenes"], sorted(voices, key=lambda row: row["start"]), strict=True):
        assert scene["start"] - 0.1 <= voice["start"]
        assert voice["start"] + voice["length"] <= scene["start"] + scene["length"] + 0.6
    cues = browser.until(lambda: browser.all(".tl-cue"), "captions")
    assert cues[0].text.startswith("Fly at first light")
    # Three presses from the Desk to the promo, one other choice, and the export: far fewer than fifteen.
    browser.click("#open-export")
    browser.js("document.querySelector('#export-form input[name=resolution][value=\"480\"]').click()")
    for box in browser.all('#export-formats input[name="formats"]:checked')[1:]:
        browser.js("arguments[0].click()", box)
    browser.click("#start-export")
    browser.until(lambda: browser.all(".export-file.is-done"), "the film", 180)
    assert not browser.complaints()
