"""A voice-led story: told first, then pictures laid to it, dressed, mixed, and shown to a friend."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from selenium.webdriver.common.keys import Keys

from tests.conftest import Files
from tests.voice import talk
from tests.walks.person import Person, rows
from tests.walks.test_short_pieces import dropped_on_the_desk
from tests.walks.test_team import PICTURE
from tests.web.conftest import Browser
from tests.web.test_sound import heard


def mains(person: Person) -> list[float]:
    """Where the clips of the main track begin."""
    return [row["start"] for row in person.browser.state()["main"]]


def rough(person: Person) -> None:
    """The voice first, then pictures to it, with a filler where there is none yet."""
    browser = person.browser
    person.pick("", '[data-name="narration.wav"]')
    person.pick("", '[data-name="bikes.mp4"]')
    person.press("#add-filler")
    person.pick("", '[data-name="coffee.png"]')
    assert [row["kind"] for row in browser.state()["main"]] == ["footage", "filler", "photo"]
    (voice,) = rows(browser, "sound")
    assert voice["start"] == 0


def fine(person: Person, spans: list[tuple[float, float]]) -> None:
    """Cuts come where sentences begin and end; the words over the photo go along with it."""
    browser = person.browser
    person.words("Book two seats")
    (words,) = rows(browser, "words")
    filler = browser.state()["main"][1]["id"]
    person.go_to(spans[0][1])
    person.key("b")
    person.press(f'#lanes [data-id="{filler}"]')
    person.go_to(spans[1][0])
    person.key("]")
    browser.until(lambda: np.allclose(mains(person)[1:], (spans[0][1], spans[1][0]), atol=0.1), "the cuts at the words")
    assert abs(rows(browser, "words")[0]["start"] - mains(person)[2]) < 0.1, "they ride along"
    assert words["start"] - rows(browser, "words")[0]["start"] > 0.5
    person.key("q")
    person.press('#replace-sheet [data-name="bigbuckbunny.mp4"]')
    person.press("#replace-sheet button", "Put it in")
    browser.until(lambda: browser.state()["main"][1]["label"].startswith("bigbuck"), "footage in its place")


def dressed(person: Person) -> None:
    """Two transitions, each for a reason; a line that lets the words fade; the photo comes nearer."""
    browser = person.browser
    person.key("c")
    first = f'.cut[data-cut="{browser.state()["main"][0]["id"]}"]'
    person.press(first)
    person.press("#menu [aria-label='push left']")
    browser.until(lambda: len(browser.state()["cuts"]) == 2, "two transitions")
    (words,) = rows(browser, "words")
    person.press(f'#lanes [data-id="{words["id"]}"]')
    left, right, middle, _ = person.box(words["id"])
    high = browser.find(f'#lanes [data-id="{words["id"]}"]').size["height"]
    line = middle - 0.44 * high
    for across, begin, end in ((0.8, line, line + 0.7 * high), (0.3, line + 0.7 * high, line - 4)):
        place = left + across * (right - left)
        person.drag((place, begin), (place, end), "its line of opacity")
    ((_, seen, _), (_, faint, _)) = rows(browser, "words")[0]["line"]
    assert faint < 0.5 < seen == 1
    photo = browser.state()["main"][2]
    person.press(f'#lanes [data-id="{photo["id"]}"]')
    person.press("#p-camera .choice", "comes slowly nearer")
    curves = browser.state()["main"][2]["curves"]
    assert "zoom" in [curve["name"] for curve in curves], "it comes nearer"


def mixed(person: Person, spans: list[tuple[float, float]]) -> None:
    """A slip goes out of the voice and its hole gets the sound of the room; music under it gives way."""
    browser = person.browser
    pause = spans[0][1] + 0.3
    (voice,) = rows(browser, "sound")
    person.press(f'#lanes [data-id="{voice["id"]}"]')
    for at in (pause, pause + 1.2):
        person.go_to(at)
        person.key("/")
    parts = rows(browser, "sound")
    assert len(parts) == 3
    person.press(f'#lanes [data-id="{parts[1]["id"]}"]')
    person.key(Keys.DELETE)
    person.press(f'#lanes [data-id="{parts[0]["id"]}"]')
    person.press("#a-tone")
    tone = lambda: [row for row in rows(browser, "sound") if row.get("runs") == "round"]  # noqa: E731
    browser.until(tone, "the room in the hole")
    assert abs(tone()[0]["length"] - 1.2) < 0.05
    person.press("#tab-music")
    person.press("#library-list .piece [data-add-piece]")
    found = lambda: [row for row in rows(browser, "sound") if row["heard"] == "music"]  # noqa: E731
    (music,) = browser.until(found, "the music under it")
    person.details()
    browser.find(f'.details[data-for="{music["id"]}"]')
    person.group("dips")
    person.number("#p-dip", 14)
    dips = lambda: heard(browser).get(music["id"], {}).get("dips", [])  # noqa: E731
    browser.until(lambda: any(level == -14 for _, level in dips()), "the music to give way")


def shown_to_a_friend(person: Person, friend: Person) -> None:
    person.press("#open-review")
    person.press("#open-screenings")
    person.press("#make-screening")
    link = person.see("[data-screening] [data-copy]").get_attribute("data-copy") or ""
    person.press("[data-screening] [data-copy]")
    friend.browser.driver.get(link)
    friend.browser.until(lambda: friend.browser.js(PICTURE) >= 0, "the first frame")


def test_7_a_story_led_by_a_voice(
    person: Person, other: Browser, photos: list[Path], footage: list[Path], files: Files
) -> None:
    line, spans = talk(0.004)
    voice = files.sound("narration.wav", np.stack([line, line], axis=1))
    dropped_on_the_desk(person, voice, *footage, photos[0])
    rough(person)
    fine(person, spans)
    dressed(person)
    mixed(person, spans)
    shown_to_a_friend(person, Person(other))
    person.upto(7)
