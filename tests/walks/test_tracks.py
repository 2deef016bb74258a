"""Walks with tracks: cut, closed up and cleared, out to a channel; a teaser that is another one in each shape."""

from __future__ import annotations

import urllib.request
import uuid
from pathlib import Path

import numpy as np
from selenium.webdriver.common.keys import Keys

from tests.conftest import Files
from tests.voice import talk
from tests.walks.person import Person, exported, films, rows
from tests.walks.test_recorded import from_stock, marked
from tests.walks.test_short_pieces import dropped_on_the_desk
from tests.web.test_picture import pixel, shown


def published(person: Person) -> None:
    """The promo goes out to a channel, which is connected for it, with a frame that is chosen; it is seen there."""
    browser = person.browser
    person.press("#open-export")
    person.press("#open-publish")
    person.press("#connect-marquee")
    person.press("form button", "Allow")
    title = f"Dawn flights {uuid.uuid4().hex[:6]}"
    person.type('[name^="title-"]', title)
    person.press('[name^="still-"]')
    person.press("#publish")
    browser.until(lambda: browser.all(".going-post.is-live"), "it to be out", 180)
    person.press(".going-post.is-live")
    address = person.see("a", "See it there").get_attribute("href") or ""
    with urllib.request.urlopen(address) as answer:
        assert title in answer.read().decode(), "it is seen there"


def test_21_tracks_cut_cleared_and_published(person: Person, footage: list[Path], files: Files) -> None:
    browser = person.browser
    line, _ = talk(0.004)
    voice = files.sound("narration.wav", np.stack([line, line], axis=1))
    dropped_on_the_desk(person, *footage, voice)
    person.press("#put-all")
    browser.until(lambda: rows(browser, "sound"), "the voice under the footage")
    before = browser.state()["length"]
    # A second is cut out of every track, which closes up; then one clip goes over the other.
    marked(person, 2, 3)
    person.key("x")
    browser.until(lambda: abs(before - browser.state()["length"] - 1) < 0.1, "a second less")
    clips = browser.state()["main"]
    left, right, middle, second = person.box(clips[-1]["id"])
    person.drag(
        ((left + right) / 2, middle), ((left + right) / 2 - 0.6 * second, middle), "the last over the one before"
    )
    (cut,) = browser.until(lambda: browser.state()["cuts"], "the transition")
    assert abs(cut["length"] - 0.6) < 0.1
    person.go_to(0.5)
    person.words("Dawn flights")
    person.go_to(4)
    person.press("#tab-shelf")
    person.pick("design", '[data-design="map-pin"]')
    (called,) = rows(browser, "design")
    assert abs(called["start"] - 4) < 0.1, called
    said = rows(browser, "sound")[0]
    person.press(f'#lanes [data-id="{said["id"]}"]')
    person.group("voice")
    person.press("#a-clear")
    browser.until(lambda: float(browser.find("#p-clear").get_attribute("value") or 0) > 0, "the voice to be clear")
    person.press("#tab-music")
    person.press("#library-list .piece [data-add-piece]")
    song = browser.until(lambda: [r for r in rows(browser, "sound") if r["heard"] == "music"], "the song")[0]
    person.press(f'#lanes [data-id="{song["id"]}"]')
    person.number("#p-dip", 12)
    person.choose("#p-dip_band", "Only where words lie")
    length = browser.state()["length"]
    published(person)
    person.press(".bar-nav a", "Exports")
    (film,) = films(person, 1)
    assert (film.wide, film.high, film.sounds) == (1920, 1080, True)
    assert abs(film.lasts - length) < 0.1
    person.upto(21)


def pixel_of(person: Person) -> np.ndarray:
    """The colour of a place behind the words, once it is drawn."""
    shown(person.browser)
    return np.array(pixel(person.browser, 0.13, 0.72))


def dragged(person: Person, shape: str, item: str, across: float, down: float) -> None:
    """In one shape a layer is put where it stands better there."""
    browser = person.browser
    person.press(f'.wall-pick[data-format="{shape}"]')
    ratio = {"wide": 16 / 9, "square": 1, "tall": 9 / 16}[shape]
    lies = browser.state()["boxes"][shape][item]
    short = {"wide": (ratio, 1), "square": (1, 1), "tall": (1, 1 / ratio)}[shape]
    at = ((lies["x"] + lies["w"] / 2) / short[0], (lies["y"] + lies["h"] / 2) / short[1])
    person.drag(person.on_stage(*at), person.on_stage(at[0] + across, at[1] + down), f"it in {shape}")


def test_13_a_teaser_in_three_shapes(visitor: Person) -> None:
    person, browser = visitor, visitor.browser
    person.press("#start-blank")
    person.press("#create-promo")
    browser.ready()
    for name in ("over-the-fields.mp4", "landing.mp4", "burner.mp4"):
        person.pick("", f'[data-name="{name}"]')
    person.press('[data-from*="/stock"]')
    from_stock(person, "Waves")
    person.press('[data-from=""]')
    # A cover over the beginning, in the type and colours of the brand.
    person.go_to(0.4)
    person.words("A weekend of lanterns")
    person.press("#tab-shelf")
    person.pick("design", '[data-design="blocks-opening"]')
    (cover,) = rows(browser, "design")
    # Words that hardly stand out are offered a darker ground.
    second = browser.state()["main"][1]
    person.go_to(second["start"] + 0.4)
    person.words("Up before the sun")
    (words,) = rows(browser, "words")
    before = pixel_of(person)
    person.press(".details button", "Darken behind it")
    browser.until(lambda: np.abs(pixel_of(person) - before).max() > 5, "the picture behind the words to be darker")
    person.key(Keys.HOME)
    person.press("#tab-music")
    person.choose("#music-filter [name=mood]", "calm")
    person.press("#library-list .piece [data-add-piece]")
    (song,) = browser.until(lambda: rows(browser, "sound"), "the song")
    assert song["start"] == 0
    # A call to action at the end, another one in tall.
    last = browser.state()["main"][-1]
    person.go_to(last["start"] + 0.4)
    person.words("Book your place")
    call = max(rows(browser, "words"), key=lambda row: row["start"])
    person.press('.wall-pick[data-format="tall"]')
    person.press("#for-one")
    person.type("#words-text", "Swipe to book", Keys.TAB)
    for shape, across, down in (("wide", 0.05, -0.1), ("square", 0.02, -0.15), ("tall", 0, -0.2)):
        before = browser.state()["boxes"][shape][call["id"]]
        dragged(person, shape, call["id"], across, down)
        assert browser.state()["boxes"][shape][call["id"]]["y"] < before["y"] - 0.03
    made = exported(person)
    assert {(film.wide, film.high) for film in made} == {(854, 480), (480, 480), (480, 854)}
    assert all(film.sounds for film in made)
    person.upto(13)
