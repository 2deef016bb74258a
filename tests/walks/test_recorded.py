"""Walks with what is recorded: a voice-over with pages, a camera clip among stock, a talk with slides."""

from __future__ import annotations

import io
import time
import uuid
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import av
import numpy as np
import pytest
import skia
from selenium.webdriver.common.keys import Keys
from tools.browser import FAKES
from tools.stack import Stack

from tests.conftest import Files
from tests.voice import RATE, said
from tests.walks.person import Person, exported, rows
from tests.web.conftest import Browser, opened

STOCK = '[data-from*="/stock"]'


def voices(person: Person) -> list[dict[str, Any]]:
    return [row for row in rows(person.browser, "sound") if row["label"].startswith("Take")]


def spoken(person: Person, seconds: float | None = None) -> None:
    """Records a voice for so long, or over the stretch that is marked, until it ends by itself."""
    browser = person.browser
    before = len(voices(person))
    person.press("#record")
    browser.until(lambda: browser.all("#record.is-recording"), "the recording")
    if seconds is not None:
        time.sleep(seconds)
        person.press("#record")
    browser.until(lambda: len(voices(person)) > before, "the voice to be laid in", 60)
    browser.settled()


def a_document(path: Path, pages: int) -> Path:
    """A PDF of so many pages, each of another colour."""
    stream = skia.FILEWStream(str(path))
    document = skia.PDF.MakeDocument(stream)
    for number in range(pages):
        canvas = document.beginPage(640, 360)
        canvas.clear((0xFFB03A2E, 0xFF2E86C1, 0xFF239B56)[number % 3])
        document.endPage()
    document.close()
    stream.flush()
    return path


def marked(person: Person, start: float, end: float) -> None:
    """Marks a stretch of the timeline."""
    for at, key in ((start, ","), (end, ".")):
        person.go_to(at)
        person.key(key)


def test_11_a_voice_over_with_pages_and_footage(person: Person, footage: list[Path], tmp_path: Path) -> None:
    browser = person.browser
    person.press("#start-blank")
    person.press("#create-promo")
    browser.ready()
    person.press("#open-recorder")
    spoken(person, 12)
    (voice,) = voices(person)
    # What was said wrongly is cut out, and what comes after it closes up.
    marked(person, 4, 5.5)
    person.key("x")
    first, second = browser.until(lambda: len(voices(person)) == 2 and voices(person), "the slip to be gone")
    assert abs(second["start"] - first["start"] - first["length"]) < 0.05
    assert abs(voice["length"] - first["length"] - second["length"] - 1.5) < 0.1
    person.bring(a_document(tmp_path / "Plan.pdf", 2), footage[0])
    browser.until(lambda: len(browser.all(".shelf-item.is-ready[data-kind]")) >= 4, "two pages and the footage", 180)
    person.press("#close-recorder")
    person.press("#put-all")
    browser.until(lambda: len(browser.state()["main"]) >= 3, "them over the voice")
    broll = next(row for row in browser.state()["main"] if row["label"].startswith("bigbuckbunny"))
    person.press(f'#lanes [data-id="{broll["id"]}"]')
    person.key(Keys.ALT, "m")
    assert next(row for row in browser.state()["main"] if row["id"] == broll["id"])["muted"]
    person.press("#open-recorder")
    for start in (1, 6):
        marked(person, start, start + 1.5)
        spoken(person)
    assert len(voices(person)) == 6, "two stretches are spoken anew, each with the rest of what was there on its sides"
    person.press("#close-recorder")
    # The pictures end with the voice.
    heard = max(row["start"] + row["length"] for row in voices(person))
    person.press(f'#lanes [data-id="{browser.state()["main"][-1]["id"]}"]')
    person.go_to(heard)
    person.key("]")
    assert abs(browser.state()["length"] - heard) < 0.1
    (film,) = exported(person, "Square", "Tall")
    assert abs(film.lasts - heard) < 0.1
    frames = [film.frame(at).mean(axis=(0, 1)) for at in (1, 4)]
    assert np.abs(frames[0] - frames[1]).max() > 60, "the pages lie one after another"
    sound = np.abs(film.sound())
    assert sound[: 48_000 * 2].max() > 0.05, "the voice is heard"
    person.upto(11)


def filmed(person: Person, seconds: float) -> None:
    """Records with the camera for so long; it comes on the timeline."""
    browser = person.browser
    person.press("#open-studio")
    ready = "return document.getElementById('studio-camera').videoWidth > 0"
    browser.until(lambda: browser.js(ready), "the camera")
    person.press("#studio-record")
    browser.until(lambda: browser.all("#studio.is-recording"), "the recording", 30)
    time.sleep(seconds)
    person.press("#studio-record")
    browser.until(lambda: not browser.all("#studio[open]"), "it on the timeline", 180)
    browser.settled()


def from_stock(person: Person, words: str) -> str:
    """Finds footage in the catalogue and puts it at the end; answers with the clip."""
    browser = person.browser
    before = {row["id"] for row in browser.state()["main"]}
    person.type("#stock-words", words)
    offer = '#stock-found .offer[data-kind="footage"]:not([data-price])'
    person.see(offer, words)
    person.press(f"{offer} .shelf-pick")
    new = lambda: [row["id"] for row in browser.state()["main"] if row["id"] not in before]  # noqa: E731
    return browser.until(new, "it on the timeline", 180)[0]


def shortened(person: Person, clip: str, share: float) -> None:
    """Drags the end of a clip back."""
    left, right, middle, _ = person.box(clip)
    person.drag((right - 3, middle), (right - (right - left) * share, middle), "its end")


def part_of_a_song(person: Person) -> None:
    """A song from its third second on, as long as the promo."""
    browser = person.browser
    person.press("#tab-music")
    person.press("#library-list .piece [data-add-piece]")
    (whole,) = browser.until(lambda: rows(browser, "sound"), "the song")
    person.key(Keys.END)
    person.key("]")
    left, right, middle, second = person.box(whole["id"])
    person.drag(((left + right) / 2, middle), ((left + right) / 2 - 3 * second, middle), "its part", held=Keys.ALT)
    (song,) = rows(browser, "sound")
    assert song["start"] == 0
    assert abs(song["length"] - browser.state()["length"]) < 0.1 < whole["length"] - song["length"]
    assert song["source"] > 2, "it begins later in the song"


def into_the_drive(person: Person) -> None:
    """A film goes into a folder of the drive, which is connected for it."""
    browser = person.browser
    if not browser.all("#deliver"):
        person.press("a", "Connect Millpond")
        person.press("form button", "Allow")
    folder = f"Spring {uuid.uuid4().hex[:6]}"
    person.type('[name="folder"]', folder)
    person.press("#deliver")
    asked = "return fetch('/drive?only=found&find=').then((answer) => answer.text())"
    browser.until(lambda: folder in browser.js(asked), "the folder in the drive", 60)


def test_12_a_camera_clip_among_stock(person: Person) -> None:
    browser = person.browser
    person.press("#start-blank")
    person.press(".pick", "Passerby")
    person.press("#create-promo")
    browser.ready()
    filmed(person, 4)
    (camera,) = browser.state()["main"]
    person.pick("sticker", "")
    person.press("#tab-details")
    came = browser.find("#p-one_colour").get_attribute("value")
    person.press('[data-control*="one_colour"] .swatch:nth-of-type(3)')
    browser.until(lambda: browser.find("#p-one_colour").get_attribute("value") != came, "its other colour")
    person.press("#tab-shelf")
    person.press(STOCK)
    stock = [from_stock(person, words) for words in ("Waves", "Forest")]
    before = [row["length"] for row in browser.state()["main"][1:]]
    for clip in stock:
        shortened(person, clip, 0.5)
    after = [row["length"] for row in browser.state()["main"][1:]]
    assert all(now < 0.7 * then for now, then in zip(after, before, strict=True))
    person.words("Live from the meadow")
    # A scene of a template at the end, a dissolve of a second by pushing, and a part of a song.
    person.press('[data-menu="scenes"]')
    person.press("#menu button", "A scene of a promo or template")
    person.press('[data-scenes-from="templates"]')
    person.press('.other-scene[data-from*="template"]', "Myth")
    browser.until(lambda: len(browser.state()["scenes"]) == 2, "the template's scene")
    left, right, middle, second = person.box(stock[0])
    person.drag(((left + right) / 2, middle), ((left + right) / 2 - second, middle), "the first over the camera")
    (cut,) = browser.until(lambda: browser.state()["cuts"], "the dissolve")
    assert (cut["after"], cut["kind"]) == (camera["id"], "crossfade")
    assert abs(cut["length"] - 1) < 0.1
    part_of_a_song(person)
    (film,) = exported(person)
    assert (film.wide, film.high, film.sounds) == (480, 854, True)
    person.press("#export-list [data-copy]")
    person.press("#export-list .export-file a[href$='/page']")
    into_the_drive(person)
    person.upto(12)


def talk_of(folder: Path) -> Path:
    """Somebody who hesitates, said again and again, as a microphone hears it."""
    quiet = lambda seconds: np.zeros(int(seconds * RATE))  # noqa: E731
    parts = [quiet(0.4)]
    for piece, pause in (("Our dawn flights", 0.35), ("um", 0.35), ("begin on Sunday. Bring a friend.", 0.6)):
        parts += [said(piece), quiet(pause)]
    line = np.concatenate(parts)
    return Files(folder).sound("aloud.wav", np.stack([line, line], axis=1))


@pytest.fixture
def talker(stack: Stack, tmp_path: Path) -> Iterator[Person]:
    """Somebody new, at a camera, who speaks."""
    with opened(stack, more=(*FAKES, f"--use-file-for-fake-audio-capture={talk_of(tmp_path)}")) as browser:
        browser.sign_up()
        yield Person(browser)


def talk_with_pages(person: Person, pages: Path) -> None:
    """Pages are turned while the camera runs and the teleprompter shows what to say."""
    browser = person.browser
    person.bring(pages)
    browser.until(lambda: len(browser.all('.shelf-item[data-folder="Talk"].is-ready')) == 3, "three pages", 180)
    person.press("#open-studio")
    person.press('[data-records="slides"]')
    browser.until(lambda: browser.find("#studio-turned").text == "1 of 3", "the first page")
    person.choose("#studio-theme", "On the brand's colours")
    person.choose("#studio-runs", "at its speed")
    person.type("#studio-text", "Our dawn flights begin on Sunday. Bring a friend.\n" * 40)
    ready = "return document.getElementById('studio-camera').videoWidth > 0"
    browser.until(lambda: browser.js(ready), "the camera")
    assert not browser.accessibility()
    person.press("#studio-record")
    browser.until(lambda: browser.all("#studio.is-recording"), "the recording", 30)
    for _ in range(2):
        time.sleep(4)
        person.key(Keys.ARROW_RIGHT)
    assert browser.find("#studio-turned").text == "3 of 3"
    assert browser.js("return document.getElementById('studio-prompt').scrollTop") > 20, "the teleprompter runs"
    time.sleep(4)
    person.press("#studio-record")
    browser.until(lambda: not browser.all("#studio[open]"), "it on the timeline", 180)
    browser.settled()


def turned(person: Person) -> None:
    """The turns are cuts like any other, in step with what was seen and heard: one of them is dragged."""
    browser = person.browser
    pages = browser.state()["main"]
    assert [row["label"][:8] for row in pages] == ["Talk 001", "Talk 002", "Talk 003"]
    assert all(3 < row["length"] < 8 for row in pages)
    (seen,), (heard,) = rows(browser, lane="layer"), rows(browser, "sound")
    whole = sum(row["length"] for row in pages)
    assert all(abs(row["start"]) < 0.5 and abs(row["length"] - whole) < 1 for row in (seen, heard)), "all in step"
    second = person.box(pages[0]["id"])[3]
    across, down = person.middle(f'.cut[data-cut="{pages[0]["id"]}"]')
    person.drag((across, down), (across - 0.8 * second, down), "the first turn")
    browser.until(lambda: browser.state()["main"][0]["length"] < pages[0]["length"] - 0.4, "the turn moved")
    assert abs(sum(row["length"] for row in browser.state()["main"]) - whole) < 0.01


def words_said(person: Person) -> list[str]:
    return [word.text.lower().strip(".,") for word in person.browser.all(".said-word")]


def cut_and_captioned(person: Person) -> None:
    """What is said is written down, the hesitations go out of everything; captions, corrected and styled."""
    browser = person.browser
    person.press("#tab-transcript")
    person.choose(".said-voice [data-model]", "English, quick")
    person.press("[data-write-down]")
    browser.until(lambda: "um" in words_said(person), "what is said", 120)
    before = browser.state()["length"]
    person.press("#said-slips summary")
    person.press('[data-tidy="slips"]')
    browser.until(lambda: "um" not in words_said(person), "no um")
    assert browser.state()["length"] < before - 0.2
    person.press('[data-view-of="captions"]')
    person.press("[data-make-captions]")
    browser.until(lambda: browser.all(".cue"), "the captions")
    person.type(".cue .cue-text", "Our early flights", Keys.TAB)
    person.press("#captions-look summary")
    person.press('[data-design="follow"]')


def asked_and_answered(person: Person, viewer: Person) -> None:
    """Somebody who watches asks at a moment; it is answered, and everybody sees it there."""
    browser, other = person.browser, viewer.browser
    other.driver.get(browser.find("[data-copy]").get_attribute("data-copy") or "")
    viewer.press(".watch-about .watch-moment")
    other.until(lambda: other.find("#action").is_displayed(), "the call to action")
    viewer.type("#ask-text", "Is it cold up there?")
    viewer.type("#ask-who", "Oda")
    viewer.press("#ask button")
    other.until(lambda: "on its way" in other.find("#said").text, "the question to be taken")
    browser.driver.refresh()
    person.type(".watch-asked textarea", "Warm: see 0:02.")
    person.press(".watch-asked .btn-plain")
    other.driver.refresh()
    assert "Warm" in other.find(".watch-questions li").text
    asked_at = float(other.find(".watch-questions [data-at]").get_attribute("data-at") or 0)
    assert asked_at >= 3, "it belongs to the moment at which it was asked"
    assert other.find(".watch-answer .watch-moment").get_attribute("data-at") == "2"
    person.with_those_of(viewer)


def test_19_a_talk_with_pages_and_a_teleprompter(
    talker: Person, other: Browser, photos: list[Path], tmp_path: Path
) -> None:
    person, browser = talker, talker.browser
    person.press("#start-blank")
    person.press("#create-promo")
    browser.ready()
    talk_with_pages(person, a_document(tmp_path / "Talk.pdf", 3))
    turned(person)
    cut_and_captioned(person)
    # A picture over a part of it.
    person.go_to(1)
    person.press("#tab-shelf")
    person.bring(photos[0])
    person.press('.shelf-item.is-ready[data-name="coffee.png"] .shelf-more')
    person.press("#menu button", "As a layer at the playhead")
    (film,) = exported(person, "Square", "Tall")
    with av.open(io.BytesIO(film.data)) as opened_film:
        assert opened_film.streams.subtitles, "the captions go along, too"
    person.press("#export-list .export-file a[href$='/page']")
    for name, text in (("about", "How to book at 0:03."), ("action", "Book a flight"),
                       ("leads_to", "hollowmere.example/book"), ("action_at", "2")):  # fmt: skip
        person.type(f'[name="{name}"]', text)
    person.press('[name="asks"]')
    person.press("#keep-page")
    browser.until(lambda: "like that now" in browser.find("#toasts").text, "the page to be kept")
    person.type('[name="people"]', "ida@team.example")
    person.press("button", "Send the link")
    browser.until(lambda: "ida@team.example" in browser.find("main").text, "whom it was sent to")
    asked_and_answered(person, Person(other))
    person.upto(19)
