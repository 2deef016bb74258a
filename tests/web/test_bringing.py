"""Bringing files in: uploads that go on where they were cut off, the activity tray, telephones, links, dropping."""

from __future__ import annotations

import base64
import os
from pathlib import Path

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select
from tools.stack import Stack

from tests.conftest import Files
from tests.web.conftest import Browser, opened

pytestmark = pytest.mark.long


def fresh_promo(browser: Browser) -> None:
    browser.sign_up()
    browser.click("#start-blank")
    browser.find("dialog[open] input[name=name]").send_keys("Brought in")
    browser.click("#create-promo")
    browser.ready()


def on_shelf(browser: Browser, name: str, seconds: float = 60) -> None:
    css = f'.shelf-item[data-name="{name}"].is-ready'
    browser.until(lambda: browser.all(css), f"{name} on the Shelf", seconds)


def large(folder: Path, name: str, seconds: float) -> Path:
    """A sound of so many megabytes that it comes in several pieces."""
    path = folder / name
    count = int(48000 * 4 * seconds)
    head = b"RIFF" + (36 + count).to_bytes(4, "little") + b"WAVEfmt " + (16).to_bytes(4, "little")
    shape = b"\x01\x00\x02\x00" + (48000).to_bytes(4, "little") + (192000).to_bytes(4, "little") + b"\x04\x00\x10\x00"
    path.write_bytes(head + shape + b"data" + count.to_bytes(4, "little") + os.urandom(1 << 20) * (count >> 20))
    return path


def test_an_upload_goes_on_after_the_page_was_closed_in_its_middle(browser: Browser, files: Files) -> None:
    fresh_promo(browser)
    song = large(files.folder, "long.wav", 180)
    # The line is cut after the first pieces, and stays so until the page is gone.
    browser.js(
        "const send = XMLHttpRequest.prototype.send; let pieces = 0; window.sent = [];"
        "XMLHttpRequest.prototype.send = function (body) {"
        " if (body instanceof Blob) { pieces += 1; if (pieces > 2) { setTimeout(() => this.abort(), 50); return; } }"
        " send.call(this, body); }; "
    )
    browser.find("#file-input").send_keys(str(song))
    browser.until(lambda: browser.all(".upload progress"), "the line of the upload")
    share = "return Number(document.querySelector('.upload progress')?.value ?? 0)"
    browser.until(lambda: browser.js(share) > 0.4, "half of it")
    promo = browser.driver.current_url
    browser.driver.get("about:blank")
    browser.driver.get(promo)
    browser.ready()
    browser.click("#open-activity")
    row = browser.until(lambda: browser.all("#activity-list [data-kind=upload]"), "the upload in the activity", 20)[0]
    assert "long.wav" in row.text
    # Chosen again, it goes on: what has come is not sent once more.
    browser.js(
        "window.first = null; const open = XMLHttpRequest.prototype.setRequestHeader;"
        "XMLHttpRequest.prototype.setRequestHeader = function (name, value) {"
        " if (name === 'Upload-Offset') window.first ??= Number(value);"
        " open.call(this, name, value); }"
    )
    browser.find("#file-input").send_keys(str(song))
    on_shelf(browser, "long.wav")
    assert browser.js("return window.first") >= 8 * 1024**2, "it began where it was cut off"
    browser.until(lambda: not browser.all("#activity-list [data-kind=upload]"), "the tray to be empty of it")
    assert not browser.accessibility()


def test_files_dropped_on_the_timeline_and_on_the_stage_land_there(browser: Browser, files: Files) -> None:
    browser.open_copy()
    before = [row["id"] for row in browser.state()["main"]]
    picture = files.footage("dropped.mp4", lambda n: (20, 140, 90), frames=40)
    data = base64.b64encode(picture.read_bytes()).decode()
    drop = (
        "const bytes = Uint8Array.from(atob(arguments[0]), (c) => c.charCodeAt(0));"
        "const file = new File([bytes], arguments[2], {type: 'video/mp4'});"
        "const data = new DataTransfer(); data.items.add(file);"
        "const place = document.querySelector(arguments[1]).getBoundingClientRect();"
        "const at = {bubbles: true, cancelable: true, dataTransfer: data,"
        " clientX: place.left + 4, clientY: place.top + place.height / 2};"
        "document.querySelector(arguments[1]).dispatchEvent(new DragEvent('dragover', at));"
        "document.querySelector(arguments[1]).dispatchEvent(new DragEvent('drop', at));"
    )
    second = f'#lanes [data-id="{before[1]}"]'
    browser.js(drop, data, second, "dropped.mp4")

    def inserted() -> bool:
        return [row["id"] for row in browser.state()["main"]][2:] == before[1:]

    browser.until(lambda: len(browser.state()["main"]) == len(before) + 1, "the clip on the timeline", 60)
    row = next(row for row in browser.state()["main"] if row["id"] not in before)
    assert row["label"].startswith("dropped")
    assert browser.state()["main"].index(row) in (1, 2), "beside where it was dropped"
    layers = len([r for track in browser.state()["tracks"] if track["kind"] == "layer" for r in track["rows"]])
    browser.js(drop, data, "#stage", "dropped.mp4")
    browser.until(
        lambda: len([r for t in browser.state()["tracks"] if t["kind"] == "layer" for r in t["rows"]]) == layers + 1,
        "the layer on the stage", 60,
    )  # fmt: skip
    assert "on the Shelf already" in browser.find("#toasts").text


def test_a_telephone_sends_without_an_account_and_it_appears_in_the_editor(
    browser: Browser, stack: Stack, files: Files
) -> None:
    fresh_promo(browser)
    browser.click("[data-phone]")
    address = browser.find("#phone-links input[readonly]").get_attribute("value")
    assert browser.find(".phone-code img").get_attribute("alt").endswith(address)
    assert not browser.accessibility()
    picture = files.footage("from-phone.mp4", lambda n: (200, 120, 40), frames=30)
    with opened(stack, 412, 800) as phone:
        phone.go(address[len(stack.address) :] if address.startswith(stack.address) else address)
        assert "Brought in" in phone.find(".send h1").text
        assert not phone.driver.find_elements(By.CSS_SELECTOR, ".bar-nav")
        phone.driver.find_element(By.ID, "send-files").send_keys(str(picture))
        phone.until(lambda: "All of it has come" in phone.find("#send-left").text, "the phone to be done", 60)
        assert not phone.accessibility()
        browser.until(lambda: browser.all('.shelf-item[data-name="from-phone.mp4"]'), "it in the editor", 60)
        browser.click("#end-link")
        browser.until(lambda: browser.all("#make-phone-link .btn-main"), "the link to be ended")
        phone.driver.refresh()
        assert "has ended" in phone.find("main").text


def test_what_a_page_shows_is_picked_and_comes_on_the_shelf(browser: Browser) -> None:
    fresh_promo(browser)
    browser.click("[data-by-link]")
    browser.find("#link-address").send_keys("http://127.0.0.1/", Keys.ENTER)
    browser.until(lambda: "not one of the open web" in browser.find("#toasts").text, "the refusal")
    browser.click("[data-address]")
    browser.until(lambda: len(browser.all(".link-one")) >= 5, "what the page shows", 30)
    loaded = "return [...document.querySelectorAll('.link-picture img')].every((i) => i.complete && i.naturalWidth > 0)"
    browser.until(lambda: browser.js(loaded), "the pictures")
    assert not browser.accessibility()
    for one in browser.all(".link-one"):
        if "Touching down" in one.text:
            one.click()
    browser.click("#link-take")
    browser.until(lambda: browser.all("#link-begun"), "the word that it comes")
    browser.click("#link-sheet [data-close]")
    browser.until(lambda: browser.all('.shelf-item[data-name*="Touching down"]'), "it on the Shelf", 60)


def test_the_activity_shows_a_failed_file_and_puts_it_away(browser: Browser, files: Files) -> None:
    fresh_promo(browser)
    broken = files.folder / "broken.mp4"
    broken.write_bytes(b"\x00\x00\x00\x18ftypmp42" + os.urandom(3000))
    browser.find("#file-input").send_keys(str(broken))
    browser.until(lambda: browser.all("#open-activity.is-failed"), "the word of a failure", 60)
    browser.click("#open-activity")
    row = browser.find("#activity-list .is-failed")
    assert "broken.mp4" in row.text
    browser.click("#activity-list .is-failed [aria-label^='Put away']")
    browser.until(lambda: not browser.all("#activity-list .is-failed"), "it to be put away")
    browser.until(lambda: not browser.all("#open-activity.is-failed"), "the mark to be gone")


def test_anything_is_found_by_its_name_and_commands_by_theirs(browser: Browser) -> None:
    browser.enter_demo()
    browser.find("body").send_keys(Keys.CONTROL, "k")
    browser.until(lambda: len(browser.all("#find-list .found")) > 3, "what was used last")
    browser.find("#find-words").send_keys("lanten wekend")
    browser.until(lambda: browser.all("#find-list .found[data-sort=promo]"), "a promo that was typed badly")
    assert not browser.accessibility()
    browser.find("#find-words").send_keys(Keys.CONTROL + "a" + Keys.NULL, "what takes ro")
    browser.until(
        lambda: (
            browser.all("#find-list .found[aria-selected=true]")
            and "What takes room" in browser.find("#find-list .found[aria-selected=true]").text
        ),
        "the page",
    )
    browser.find("#find-words").send_keys(Keys.ENTER)
    browser.until(lambda: browser.driver.current_url.endswith("/storage"), "the page to be opened")
    browser.open_copy()
    browser.find("body").send_keys(Keys.CONTROL, "k")
    browser.find("#find-words").send_keys("split at the pl")
    browser.until(lambda: browser.all("#find-list button.found"), "the command")
    count = len(browser.state()["main"])
    browser.find("#find-words").send_keys(Keys.ENTER)
    browser.settled()
    browser.until(lambda: not browser.all("#find-anything[open]"), "the finder to be closed")
    assert len(browser.state()["main"]) >= count


def test_the_shelf_is_put_in_order_by_folders_tags_and_favourites(browser: Browser, files: Files) -> None:
    browser.sign_up()
    browser.go("/shelf")
    paths = [files.footage(f"order-{n}.mp4", lambda f, n=n: (40 * n, 90, 60), frames=20) for n in range(3)]
    browser.find("#material-files").send_keys("\n".join(map(str, paths)))
    browser.until(lambda: len(browser.all(".material-card.is-ready")) == 3, "three files", 60)
    assert not browser.accessibility()
    for name in ("order-0.mp4", "order-1.mp4"):
        browser.js(f"document.querySelector('[data-name=\"{name}\"] .material-mark').click()")
    browser.find("[name=to_folder]").send_keys("Spring")
    browser.click("#material-many [value=folder]")
    browser.until(lambda: browser.all("[data-folder=Spring]"), "the folder")
    browser.click("[data-folder=Spring]")
    browser.until(lambda: len(browser.all(".material-card")) == 2, "what lies in it")
    browser.js("document.querySelector('[data-name=\"order-1.mp4\"] .material-mark').click()")
    browser.find("[name=to_tag]").send_keys("Sunrise, hill")
    browser.click("#material-many [value=tag]")
    browser.until(lambda: browser.all("[data-tag=sunrise]"), "the tag")
    browser.find("#material-find").send_keys("hill")
    browser.until(lambda: len(browser.all(".material-card")) == 1, "what is tagged so")
    browser.click(".material-open")
    browser.until(lambda: "no promo yet" in browser.find("#material-facts").text, "what is known of it")
    name = browser.find(".material-rename [name=name]")
    name.send_keys(Keys.CONTROL + "a" + Keys.NULL, "Morning.mp4", Keys.TAB)
    browser.until(lambda: browser.find(".material-rename [name=name]").get_attribute("value") == "Morning.mp4", "it")
    browser.js("document.querySelector('.material-mark').click()")
    browser.click("#material-many [value=remove]")
    browser.until(lambda: "in the bin" in browser.find("#toasts").text, "the word of it")
    browser.js("document.getElementById('material-find').value = ''; document.querySelector('[data-folder]').click()")
    Select(browser.find("#material-filter [name=whose]")).select_by_value("bin")
    browser.until(lambda: browser.all('.material-card[data-name="Morning.mp4"]'), "it in the bin")
    browser.js("document.querySelector('.material-mark').click()")
    browser.click("#material-many [value=bring-back]")
    browser.until(lambda: not browser.all(".material-card"), "the bin to be empty")
    assert not browser.complaints()
