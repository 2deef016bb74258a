"""Sound by hand: a narrated piece from a raw voice to a finished mix, and a song that is browsed and taken another
for."""

from __future__ import annotations

import json
import re
from typing import Any

import numpy as np
import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from glowreel.core.equaliser import PRESETS, response
from tests.conftest import Files
from tests.voice import talk
from tests.web.conftest import Browser
from tests.web.films import fetched, samples_of
from tests.web.test_values import choose, click, enter, go_to, row

pytestmark = pytest.mark.long


def meters(browser: Browser) -> dict[str, Any]:
    """What the mixer measures, once nothing of the sound is being made any more."""
    script = """
        const done = arguments[0];
        import('/static/js/editor/model.js').then(async ({model}) =>
          done(await (await fetch(model.url + '/meters', {headers: {'X-Glow': '1'}})).json()));
    """

    def told() -> dict[str, Any] | None:
        found = browser.driver.execute_async_script(script)
        return None if found["waits"] else found

    return browser.until(told, "everything to be made and measured", 60)


def fetched_sound(browser: Browser, address: str | None) -> np.ndarray:
    """Samples of one side of a sound that is fetched, at 48 kHz."""
    return samples_of(fetched(browser, address or ""))


def heard(browser: Browser) -> dict[str, Any]:
    return browser.driver.execute_async_script(
        "const done = arguments[0]; import('/static/js/editor/lines.js').then(({sounds}) =>"
        " done(Object.fromEntries(sounds)))"
    )


def select(browser: Browser, key: str) -> None:
    browser.driver.execute_async_script(
        "const [id, done] = arguments; import('/static/js/editor/model.js').then((m) => {"
        "m.select([id]); setTimeout(done, 300); })",
        key,
    )
    browser.find(f'.details[data-for="{key}"]')


def typed_in(browser: Browser, group: str, field: str, value: str) -> None:
    """Opens a group of Details and types a number."""
    browser.until(lambda: browser.js("const g = document.querySelector(arguments[0]); if (g) g.open = true; return !!g",
                                     f"[data-group={group}]"), group)  # fmt: skip
    enter(browser, field, value)


def sounds(browser: Browser) -> list[list[dict[str, Any]]]:
    return [track["rows"] for track in browser.state()["tracks"] if track["kind"] == "sound"]


def narrated(browser: Browser, files: Files) -> tuple[dict[str, Any], list[tuple[float, float]]]:
    """A voice of two sentences, uploaded and laid in a second after the start: its row, and when it says them."""
    line, spans = talk(0.004)
    voice = files.sound("narration.wav", np.stack([line, line], axis=1))
    browser.open_copy()
    browser.find("#file-input").send_keys(str(voice))
    shelved = '.shelf-item[data-name="narration.wav"].is-ready .shelf-pick'
    browser.until(lambda: browser.all(shelved), "the voice on the Shelf", 30)
    go_to(browser, 1)
    browser.find(shelved).send_keys(Keys.ENTER)
    browser.until(lambda: voices(browser), "the voice to be laid in")
    return row(browser, "narration"), spans


def voices(browser: Browser) -> list[dict[str, Any]]:
    found = [r for track in sounds(browser) for r in track if "narration" in r["label"]]
    return sorted(found, key=lambda r: r["start"])


def slip_cut_out(browser: Browser, said: dict[str, Any], pause: float) -> None:
    """Split, split, and away with the middle."""
    select(browser, said["id"])
    for at in (pause, pause + 1.2):
        go_to(browser, at)
        browser.find("body").send_keys("/")
        browser.settled()
    assert len(voices(browser)) == 3
    select(browser, voices(browser)[1]["id"])
    browser.find("body").send_keys(Keys.DELETE)
    browser.until(lambda: len(voices(browser)) == 2, "the slip to be gone")


def drawn_as_heard(browser: Browser) -> None:
    """The curve of the equaliser is that of the filter: bands by a preset, one of them by key, and a cut."""
    click(browser, "[data-bands-set]:nth-of-type(2)")
    browser.js("document.querySelector('[data-group=equaliser]').open = true")
    browser.js("const d = document.querySelector('svg.bands [data-band=\"2\"]'); d.dispatchEvent(new KeyboardEvent("
               "'keydown', {key: 'ArrowUp', bubbles: true, cancelable: true}))")  # fmt: skip
    browser.settled()
    typed_in(browser, "equaliser", "#p-low_cut", "120")

    def bands() -> Any:
        found = json.loads(browser.find("svg.bands").get_attribute("data-bands"))
        return found if browser.find("#p-low_cut").get_attribute("value") == "120" else None

    told = browser.until(bands, "the bands and the cut")
    assert told[2][1] == PRESETS["speech"][1][2][1] + 0.5
    line = browser.find("svg.bands .curve-line").get_attribute("d")
    points = [(float(x), float(y)) for x, y in re.findall(r"[ML]([\d.]+) ([\d.]+)", line)]
    for across, down in points[10::12]:
        hz = 20 * 1000 ** (across / 280)
        level = response(tuple(map(tuple, told)), 120, 0, hz)
        if level > -18:
            assert abs((65 - down) / 65 * 20 - level) < 0.1, hz


def given_alone(browser: Browser, speaks: float) -> None:
    """The export sheet gives the sound alone, and what is heard of each kind that there is."""
    told = meters(browser)
    click(browser, "#open-export")
    kinds = lambda: [e.text for e in browser.all("[data-kind-alone]") if e.is_displayed()]  # noqa: E731
    browser.until(lambda: kinds() == told["kinds"], "the kinds that there are")
    assert kinds()[:2] == ["voice", "music"]
    of_kind = {e.text: fetched_sound(browser, e.get_attribute("href")) for e in browser.all("[data-kind-alone]")[:2]}
    whole, again = (
        fetched_sound(browser, e.get_attribute("href")) for e in browser.all(".export-sound [href*=mix]")[:2]
    )
    lasts = round(browser.state()["length"] * 48000)
    assert {len(s) for s in (whole, *of_kind.values())} == {lasts}
    assert lasts <= len(again) <= lasts + 2048, "blocks of the codec"
    begin, span = round(speaks * 48000), 24000
    level = lambda samples, at: float(np.sqrt((samples[at : at + span] ** 2).mean()))  # noqa: E731
    assert level(of_kind["voice"], begin) > 3 * level(of_kind["voice"], begin - 2 * span)
    assert level(of_kind["music"], begin - 2 * span) > 2 * level(of_kind["music"], begin), "it gives way"
    click(browser, "#export-sheet [data-close]")


def test_a_narrated_piece_becomes_a_finished_mix_by_hand(browser: Browser, files: Files) -> None:
    said, spans = narrated(browser, files)
    assert said["heard"] == "voice", "it is known for one"
    slip_cut_out(browser, said, said["start"] + spans[0][1] + 0.3)
    first = voices(browser)[0]
    select(browser, first["id"])
    assert browser.find("#a-tone").text == "Lay room tone into 1 hole"
    click(browser, "#a-tone")
    tone = lambda: [r for t in sounds(browser) for r in t if r.get("runs") == "round"]  # noqa: E731
    browser.until(tone, "the room in the hole")
    assert abs(tone()[0]["length"] - 1.2) < 0.05
    select(browser, first["id"])
    typed_in(browser, "voice", "#p-clear", "60")
    drawn_as_heard(browser)
    # Music that is there already gives way, and the line of that is drawn.
    music = row(browser, "slow-ascent")
    select(browser, music["id"])
    typed_in(browser, "dips", "#p-dip", "14")

    def low() -> list[float]:
        return [at for at, level in heard(browser).get(music["id"], {}).get("dips", []) if level == -14]

    browser.until(low, "the line to follow")

    assert abs(low()[0] - said["start"] - spans[0][0]) < 0.1
    browser.until(lambda: heard(browser)[music["id"]].get("beats"), "its beats", 40)
    # Made to fit, it ends with the picture.
    click(browser, '.control[data-find*="loop repeat fit"] [data-value="\\"fitted\\""]')
    assert row(browser, "slow-ascent")["runs"] == "fitted"
    # The mixer: loudness by what the channels ask for.
    click(browser, "#open-mixer")
    browser.find("#mix-loudness")
    browser.js("const s = document.querySelector('#mix-loudness'); s.value = '\"channels\"';"
               "s.dispatchEvent(new Event('change', {bubbles: true}))")  # fmt: skip
    browser.settled()
    told = meters(browser)
    assert told["wanted"] == -14
    assert abs(told["loudness"] + 14) < 0.2
    assert told["peak"] <= -1
    browser.until(lambda: "LUFS" in browser.find("#mix-loudness-told").text, "the figure in the mixer", 40)
    assert len(told["momentary"]) > 100
    assert browser.accessibility() == []
    browser.click('.strip[aria-label="Voice"] [aria-label="Mute Voice"]')
    browser.until(lambda: browser.all('[aria-label="Unmute Voice"]'), "the voice to be silent")
    browser.click("#undo")
    browser.until(lambda: browser.all('.strip[aria-label="Voice"] [aria-label="Mute Voice"]'), "it to be heard again")
    click(browser, "#close-mixer")
    given_alone(browser, said["start"] + spans[0][0])
    assert browser.complaints() == []


def test_a_song_is_browsed_by_mood_heard_dropped_on_another_faded_and_slowed(browser: Browser) -> None:
    browser.open_copy()
    # More is fetched in this test than a page's list of what it fetched takes by itself.
    browser.js("performance.setResourceTimingBufferSize(5000)")
    browser.click("#tab-music")
    browser.until(lambda: len(browser.all("#library-list .piece")) > 20, "the library")
    assert browser.accessibility() == []
    browser.js("const s = document.querySelector('#music-filter [name=mood]'); s.value = 'calm';"
               "s.dispatchEvent(new Event('input', {bubbles: true}))")  # fmt: skip
    names = lambda: [e.text for e in browser.all("#library-list .piece strong")]  # noqa: E731
    browser.until(
        lambda: names() == ["Still Water", "Slow Garden", "Morning Post", "Calm loop", "Calm sting"], "calm ones"
    )
    browser.click('[data-piece="slow-garden"] [data-hear]')
    browser.until(lambda: browser.find('[data-piece="slow-garden"]').get_attribute("class").endswith("is-heard"), "it")
    browser.click('[data-piece="slow-garden"] [data-hear]')
    browser.click('[data-piece="slow-garden"] [data-mark]')
    marked = '[data-piece="slow-garden"] [data-mark][aria-pressed="true"]'
    browser.until(lambda: browser.all(marked), "the mark")
    old = row(browser, "slow-ascent")
    # Dropped on the song that is there: its place, its gain and its fade stay.
    browser.js(
        "const data = new DataTransfer(); const from = document.querySelector('[data-piece=slow-garden]');"
        "const to = document.querySelector(`#lanes [data-id='${arguments[0]}']`);"
        "from.dispatchEvent(new DragEvent('dragstart', {bubbles: true, dataTransfer: data}));"
        "for (const name of ['dragover', 'drop'])"
        " to.dispatchEvent(new DragEvent(name, {bubbles: true, cancelable: true, dataTransfer: data}));",
        old["id"],
    )

    def there() -> list[str]:
        return [r["id"] for track in sounds(browser) for r in track if r["label"].startswith("Slow Garden")]

    browser.until(lambda: there() == [old["id"]], "the other song in its place", 40)
    new = row(browser, "Slow Garden")
    assert (new["start"], new["length"], new.get("fadeOut")) == (old["start"], old["length"], old.get("fadeOut"))
    # It is selected, and pressing it again, on its line too, changes nothing.
    choose(browser, "Slow Garden")
    assert "line" not in row(browser, "Slow Garden")
    across, down = browser.js(
        "const [css] = arguments; const r = document.querySelector(css).getBoundingClientRect();"
        "const x = r.x + r.width / 2; for (let y = r.top; y < r.bottom; y += 1)"
        " if (document.elementFromPoint(x, y)?.matches('.line-hit')) return [x, y + 3];",
        f'[data-id="{old["id"]}"]',
    )
    chain = ActionChains(browser.driver)
    chain.w3c_actions.pointer_action.move_to_location(round(across), round(down))
    chain.w3c_actions.perform()
    ActionChains(browser.driver).double_click().perform()
    browser.until(lambda: row(browser, "Slow Garden").get("line"), "a point where it was pressed twice")
    browser.click("#undo")
    browser.until(lambda: "line" not in row(browser, "Slow Garden"), "the point to be gone")
    typed_in(browser, "sound", "#p-fade_in", "1.5")
    typed_in(browser, "sound", "#p-gain", "-4")
    assert row(browser, "Slow Garden")["fadeIn"] == 1.5
    typed_in(browser, "time", "#s-rate", "0.8")
    assert row(browser, "Slow Garden")["fast"] == "0.8×"
    # Near enough, its wave is drawn from finer peaks.
    browser.js("for (let n = 0; n < 8; n += 1) document.getElementById('zoom-in').click()")
    fetched = "return performance.getEntriesByType('resource').some((e) => e.name.includes('/wave/'))"
    browser.until(lambda: browser.js(fetched), "fine peaks")
    browser.click("#tab-music")
    click(browser, '[data-piece="still-water"] [data-like="stronger"]')
    browser.until(lambda: "Stronger than" in browser.find("#library-list").text, "what is stronger")
    assert browser.complaints() == []
