"""Templates that a team makes for its colleagues: three of them are made, and one is filled and exported by another."""

from __future__ import annotations

import wave
from pathlib import Path

import av
import numpy as np
import requests
from PIL import Image
from selenium.webdriver.common.keys import Keys

from glowreel.services.setup import Runtime
from glowreel.store.models import Member, User, new_key
from tests.web.conftest import Browser
from tests.web.test_brand_everywhere import new_brand, sent
from tests.web.test_brands import replaced

PASSWORD = "long enough words"


def begun(browser: Browser, name: str, format: str) -> None:
    """A new promo in one format."""
    browser.go("/")
    browser.click("#start-blank")
    browser.find("#promo-name").send_keys(name)
    for box in browser.all("#new-promo [name=formats]"):
        if box.is_selected() != (box.get_attribute("value") == format):
            browser.js("arguments[0].click()", box)
    browser.click("#create-promo")
    browser.ready()


def put(browser: Browser, *paths: Path) -> list[str]:
    """Brings files in; answers with how the Shelf knows them, in that order."""
    browser.find("#file-input").send_keys("\n".join(str(path) for path in paths))
    names = [path.name for path in paths]

    def there() -> list[str] | None:
        known = browser.js("return Object.fromEntries([...document.querySelectorAll('.shelf-item.is-ready')].map("
                           "(i) => [i.dataset.name, i.dataset.media]))")  # fmt: skip
        return [known[name] for name in names] if set(names) <= set(known) else None

    return browser.until(there, "the files to be looked at", 60)


def marked(browser: Browser, item: str, of: str, kind: str, label: str, **more: object) -> None:
    fields = ", ".join(f"{name}: {value}" for name, value in more.items())
    sent(browser, f"{{do: 'mark-slot', item: {item}, of: '{of}', kind: '{kind}', label: '{label}', {fields}}}")


def kept(browser: Browser, name: str, rule: str = "") -> None:
    """Saves the promo at hand as a template, on the page for it."""
    browser.driver.get(browser.driver.current_url.split("?")[0] + "/template")
    field = browser.find('[name="name"]')
    field.clear()
    field.send_keys(name)
    if rule:
        browser.click(f'[name="rule"][value="{rule}"]')
    browser.click("#keep-template")
    browser.until(lambda: name in browser.find("h1").text, "the template")


def made_by_the_team(browser: Browser, folder: Path) -> None:
    photo, logo, song = folder / "cover.png", folder / "salt-logo.png", folder / "talk.wav"
    Image.new("RGB", (900, 900), (40, 90, 120)).save(photo)
    Image.new("RGB", (400, 200), (0, 170, 119)).save(logo)
    with wave.open(str(song), "wb") as out:
        out.setparams((1, 2, 8000, 0, "NONE", ""))
        out.writeframes((np.sin(np.arange(61 * 8000) * 0.3) * 9000).astype("<i2").tobytes())
    # A shipped story, taken in the brand and in tall alone, its ground in another of the brand's colours.
    browser.go("/templates/the-tour")
    browser.click("#template-fill")
    browser.find(".slot-card")
    browser.driver.get(browser.driver.current_url.replace("/fill", ""))
    browser.ready()
    for format in ("wide", "square"):
        sent(browser, f"{{do: 'remove-format', format: '{format}'}}")
    sent(browser, "{do: 'set-ground', scene: null, values: {ground: 'colour', ground_colour: 'second'}}")
    assert [one["id"] for one in browser.state()["formats"]] == ["tall"]
    kept(browser, "Salt story")
    # A wide card with a picture, a title, an arrow and the logo.
    begun(browser, "Card", "wide")
    cover, sign, _ = put(browser, photo, logo, song)
    sent(browser, f"{{do: 'insert-clips', media: ['{cover}']}}")
    marked(browser, "[...model.selected][0]", "source", "picture", "The picture")
    sent(browser, "{do: 'add-words', text: 'What is new', at: 0}")
    marked(browser, "[...model.selected][0]", "text", "words", "The title", most=40)
    sent(browser, "{do: 'add-shape', form: 'arrow', at: 0}")
    sent(browser, f"{{do: 'add-picture', media: '{sign}', at: 0}}")
    marked(browser, "[...model.selected][0]", "source", "logo", "The logo", optional="true")
    kept(browser, "Salt card")
    # A square promo of exactly a minute: a cover, somebody speaking, and a bar that says how far it is.
    begun(browser, "Minute", "square")
    talk = browser.js("return document.querySelector('.shelf-item[data-name=\"talk.wav\"]').dataset.media")
    sent(browser, f"{{do: 'insert-clips', media: ['{cover}']}}")
    sent(browser, "{do: 'set-scene-length', scene: model.state.scenes[0].id, length: 60 * 705600000}")
    marked(browser, "model.state.main[0].id", "source", "picture", "The cover")
    sent(browser, f"{{do: 'add-sound', media: '{talk}', at: 0}}")
    sound = "model.state.tracks.find((t) => t.kind === 'sound').rows[0].id"
    sent(browser, f"{{do: 'trim', item: {sound}, length: 60 * 705600000}}")
    marked(browser, sound, "source", "voice", "The talk", least="60 * 705600000")
    sent(browser, "{do: 'add-design', design: 'progress-bar', at: 0}")
    sent(browser, "{do: 'tie-item', item: [...model.selected][0], to: 'whole'}")
    assert browser.state()["length"] == 60
    kept(browser, "Salt minute", "exact")


def signed_in(browser: Browser, runtime: Runtime, owner: str) -> None:
    """A colleague of somebody, signed in."""
    email = f"{new_key('u')}@team.example".lower()
    with runtime.database.unit() as unit:
        known = unit.session.get_one(User, owner)
        other = User(id=new_key("u"), team_id=known.team_id, email=email, name="Ben Test", password=known.password)
        unit.session.add(other)
        unit.session.flush()
        unit.session.add(Member(user_id=other.id, team_id=known.team_id, role="editor"))
    browser.forget()
    browser.go("/sign-in")
    browser.find("#email").send_keys(email)
    browser.find("#password").send_keys(PASSWORD, Keys.ENTER)
    browser.find("#start-blank")


def test_a_team_makes_three_templates_and_a_colleague_fills_one_in_under_ten_presses(
    browser: Browser, runtime: Runtime, tmp_path: Path
) -> None:
    browser.sign_up()
    new_brand(browser, "Saltwick")
    logo = tmp_path / "first-logo.png"
    Image.new("RGB", (300, 150), (20, 60, 200)).save(logo)
    replaced(browser, lambda: browser.find("#brand-file").send_keys(str(logo)))
    made_by_the_team(browser, tmp_path)
    browser.go("/")
    names = [one.text for one in browser.all(".ready-row .template-card strong")]
    assert {"Salt story", "Salt card", "Salt minute"} <= set(names), "the team's own are on the Desk"
    with runtime.database.unit() as unit:
        newest = unit.session.query(User).order_by(User.created_at.desc()).first()
        assert newest is not None
        owner = newest.id
    signed_in(browser, runtime, owner)
    presses = 0

    def press(css: str) -> None:
        nonlocal presses
        browser.click(css)
        presses += 1

    browser.js("[...document.querySelectorAll('.ready-row .template-card')].find("
               "(c) => c.textContent.includes('Salt minute')).id = 'minute'")  # fmt: skip
    press("#minute")
    press("#template-fill")
    browser.until(lambda: browser.find(".slot-card h2").text.startswith("The cover"), "the cover to be asked for")
    mine = tmp_path / "mine.png"
    Image.new("RGB", (800, 600), (200, 120, 30)).save(mine)
    browser.find(".slot-card input[type=file]").send_keys(str(mine))
    presses += 1
    # They go on at once: the file finds its slot when it has come.
    press("#fill-next")
    browser.until(lambda: browser.find(".slot-card h2").text.startswith("The talk"), "the talk to be asked for")
    press(".slot-card .material-item")
    browser.until(lambda: browser.find("#fill-done").text == "2", "both to be filled", 40)
    press("#open-export")
    press("#export-sheet [name=resolution]")
    press("#start-export")
    browser.until(lambda: browser.all(".export-file.is-done"), "the film", 120)
    assert presses < 10
    link = browser.find(".export-file.is-done a[href*=download]").get_attribute("href")
    cookies = {cookie["name"]: cookie["value"] for cookie in browser.driver.get_cookies()}
    film = tmp_path / "film.mp4"
    film.write_bytes(requests.get(link, cookies=cookies, timeout=30).content)
    with av.open(str(film)) as opened:
        video = opened.streams.video[0]
        assert video.width == video.height
        assert float(video.duration * video.time_base) == 60.0
        assert opened.streams.audio
    assert not browser.complaints()
