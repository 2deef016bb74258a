"""Recording a voice with a microphone that beeps: laid in where it was spoken, punched in, kept when the page goes."""

from __future__ import annotations

import time
import wave
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select
from tools.browser import FAKES
from tools.stack import Stack

from glowreel.engine.soundcopy import stored_samples
from glowreel.services.blob_keys import derived
from glowreel.services.setup import Runtime
from glowreel.store.models import MediaFile
from tests.voice import said
from tests.web.conftest import Browser, opened

pytestmark = pytest.mark.long

ALOUD = (
    "Good morning from the valley. Today we fly at dawn, over the river and the old mill, and you can see it all."
    " Book two seats and bring a friend. Bring a warm coat as well, because the wind is cold up there."
)
AFTERWARDS = "Nobody says any of this, so that it is still to come when the voice has ended. " * 12


@pytest.fixture
def speaker(stack: Stack) -> Iterator[Browser]:
    with opened(stack, more=FAKES) as browser:
        yield browser


@pytest.fixture
def reader(stack: Stack, tmp_path: Path) -> Iterator[Browser]:
    """Somebody who reads a text aloud, once."""
    line = said(ALOUD)
    path = tmp_path / "aloud.wav"
    with wave.open(str(path), "wb") as out:
        out.setnchannels(1)
        out.setsampwidth(2)
        out.setframerate(48_000)
        out.writeframes((np.concatenate([np.zeros(96_000), line]) * 32767).astype(np.int16).tobytes())
    with opened(stack, more=(*FAKES, f"--use-file-for-fake-audio-capture={path}%noloop")) as browser:
        yield browser


def voices(browser: Browser) -> list[dict[str, Any]]:
    rows = [row for track in browser.state()["tracks"] if track["kind"] == "sound" for row in track["rows"]]
    return sorted((row for row in rows if row["label"].startswith("Take")), key=lambda row: row["start"])


def seek(browser: Browser, at: float) -> None:
    browser.js(
        "import('/static/js/editor/model.js').then(({moveTo, model}) => moveTo(Math.round(arguments[0] * 30)))", at
    )


def recorded(browser: Browser, seconds: float | None) -> None:
    """Records for so long, or until it ends by itself."""
    browser.click("#record")
    browser.until(lambda: browser.all("#record.is-recording"), "the recording")
    if seconds is None:
        browser.until(lambda: not browser.all("#record.is-recording"), "the end of the stretch", 60)
    else:
        playing = "return import('/static/js/editor/model.js').then((m) => m.model.playing && m.model.time > 2.1)"
        browser.until(lambda: browser.js(playing), "the promo to play", 60)
        time.sleep(seconds)
        browser.click("#record")
    browser.until(lambda: "where you spoke it" in browser.find("#recorder-said").text, "the take", 60)
    browser.settled()


def test_a_voice_is_recorded_over_the_promo_and_a_stretch_is_punched_in(speaker: Browser, runtime: Runtime) -> None:
    browser = speaker
    browser.open_copy()
    seek(browser, 2)
    browser.find("body").send_keys(Keys.SHIFT, "r")
    level = "return Number(document.getElementById('recorder-level').value)"
    browser.until(lambda: browser.js(level) > 0.3, "the microphone to be heard")
    assert not browser.accessibility()
    browser.click("#recorder-countdown")
    recorded(browser, 5)
    (row,) = voices(browser)
    assert row["start"] == pytest.approx(2, abs=0.05)
    assert row["length"] > 3.5
    # It is kept as it was heard: a beep twice a second.
    with runtime.database.unit() as unit:
        source = unit.session.get_one(MediaFile, row["media"]).hash
    samples = np.abs(stored_samples(runtime.blobs.local(derived(source, "samples")))[:, 0].astype(float))
    loud = samples.reshape(-1)[: len(samples) // 480 * 480].reshape(-1, 480).max(axis=1) > 0.2 * samples.max()
    beeps = np.nonzero(loud[1:] & ~loud[:-1])[0] / 100
    assert len(beeps) >= 6
    assert np.median(np.diff(beeps)) == pytest.approx(0.5, abs=0.1)
    # A stretch in its middle is spoken anew: the rest of the first take stays where it is.
    browser.js(
        "import('/static/js/editor/model.js').then(({model, tell}) => { model.range = {start: 3.5, end: 4.5};"
        " tell('range'); })"
    )
    browser.until(lambda: browser.all("[data-over=range][aria-pressed=true]"), "the stretch")
    recorded(browser, None)
    first, second, third = voices(browser)
    assert (first["media"], third["media"]) == (row["media"], row["media"])
    assert second["media"] != row["media"]
    assert [second["start"], second["length"], third["start"]] == pytest.approx([3.5, 1.0, 4.5], abs=0.05)
    assert len(browser.all("#recorder-takes li")) == 2
    browser.find("body").send_keys(Keys.ESCAPE)
    browser.click("#undo")
    browser.until(lambda: len(voices(browser)) == 1, "the undo")
    assert not browser.complaints()


def test_what_was_recorded_is_kept_when_the_page_goes_in_its_middle(speaker: Browser) -> None:
    browser = speaker
    browser.open_copy()
    browser.click("#open-recorder")
    browser.click("#recorder-countdown")
    browser.click("#record")
    browser.until(lambda: browser.all("#record.is-recording"), "the recording")
    time.sleep(5)
    promo = browser.driver.current_url
    browser.driver.get("about:blank")
    browser.driver.get(promo)
    browser.ready()
    browser.click("#open-activity")
    again = "#activity-list [data-kind=upload].is-failed [aria-label^='Try again']"
    browser.until(lambda: browser.all(again), "the word that it was cut off", 60)
    browser.click(again)
    shelved = '.shelf-item[data-name^="Take 1"].is-ready'
    browser.until(
        lambda: browser.all(shelved) or browser.js("document.body.dispatchEvent(new Event('x'));"
        "htmx.ajax('GET', '/shelf/list', {target: '#shelf-list', swap: 'outerHTML', source: '#shelf-filter'})"),
        "it on the Shelf", 60,
    )  # fmt: skip
    assert float(browser.find(shelved).get_attribute("data-seconds")) > 2.9, "at most two seconds are lost"


def test_a_microphone_that_may_not_be_used_is_said_in_a_sentence(browser: Browser) -> None:
    browser.open_copy()
    browser.click("#open-recorder")
    browser.until(lambda: browser.all("#recorder-said.is-wrong"), "the sentence")
    assert browser.find("#recorder-said").text.endswith("try again.")


def test_camera_and_screen_are_recorded_together_and_stand_in_step(speaker: Browser) -> None:
    browser = speaker
    browser.open_copy()
    before = [row["id"] for row in browser.state()["main"]]
    browser.click("#open-studio")
    browser.find("#studio-text").send_keys("Good morning from the valley.")
    browser.until(lambda: browser.find("#studio-prompt").is_displayed(), "the teleprompter")
    browser.click('[data-records="both"]')
    playing = "return document.getElementById('studio-camera').videoWidth > 0"
    browser.until(lambda: browser.js(playing), "the camera")
    assert not browser.accessibility()
    browser.click("#studio-record")
    browser.until(lambda: browser.all("#studio.is-recording"), "the recording", 30)
    assert browser.all('button[data-records="both"][aria-pressed="true"]'), "what is recorded is still said"
    time.sleep(2)
    browser.find("#studio-record").send_keys("k")
    browser.click("#studio-pause")
    time.sleep(1)
    browser.click("#studio-pause")
    time.sleep(2)
    browser.click("#studio-record")
    browser.until(lambda: not browser.all("#studio[open]"), "it on the timeline", 90)
    browser.settled()
    screen = next(row for row in browser.state()["main"] if row["id"] not in before)
    assert screen["label"].startswith("Screen")
    assert screen["length"] > 3
    assert screen["sounding"], "the voice goes with the screen"
    layers = [row for track in browser.state()["tracks"] if track["kind"] == "layer" for row in track["rows"]]
    camera = next(row for row in layers if row["label"].startswith("Camera"))
    assert camera["start"] == pytest.approx(screen["start"], abs=1)
    assert camera["length"] > 2
    (mark,) = (row for row in browser.state()["notes"] if row.get("text") == "Keep that")
    assert 1.5 < mark["at"] - screen["start"] < screen["length"]
    browser.click("#undo")
    browser.until(lambda: [row["id"] for row in browser.state()["main"]] == before, "all of it undone in one step")
    assert not browser.complaints()


def test_the_teleprompter_goes_along_with_what_is_read(reader: Browser) -> None:
    browser = reader
    browser.open_copy()
    browser.click("#open-studio")
    Select(browser.find("#studio-runs")).select_by_value("words")
    browser.js("const text = document.getElementById('studio-text'); text.value = arguments[0];"
               "text.dispatchEvent(new Event('input'))", f"{ALOUD} {AFTERWARDS}")  # fmt: skip
    browser.until(lambda: browser.js("return document.getElementById('studio-camera').videoWidth > 0"), "the camera")
    browser.find("#studio-record").send_keys("t")
    count = len(ALOUD.split())
    gone = "return document.querySelectorAll('#studio-prompt .is-said').length"
    browser.until(lambda: browser.js(gone) > count // 2, "half of it to be heard", 60)
    assert browser.js(gone) <= count + 2
    browser.until(lambda: browser.js(gone) >= count - 2, "all of it to be heard", 60)
    # It waits there: what comes next is on the board, and nothing of the rest has gone by.
    where = (
        "const board = document.getElementById('studio-prompt').getBoundingClientRect();"
        "const next = [...document.querySelectorAll('#studio-prompt span span:not(.is-said)')][3];"
        "const at = next.getBoundingClientRect(); return at.top > board.top && at.bottom < board.bottom"
    )
    time.sleep(3)
    assert browser.js(gone) <= count + 2
    assert browser.js(where)
    assert not browser.complaints()
