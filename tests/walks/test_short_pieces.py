"""Short pieces of work: on the Desk, a photo over footage, footage with a song, five photos."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from tests.walks.person import Person, exported, rows


def scene_at(person: Person, place: int) -> str:
    """The selector of a scene on its lane, counted from 1."""
    return f'.tl-scenes [data-scene="{person.browser.state()["scenes"][place - 1]["id"]}"]'


def scene_menu(person: Person, place: int, entry: str) -> None:
    """What is there to do with a scene, and one of it."""
    person.press(f"{scene_at(person, place)} .scene-more")
    person.press("#menu button", entry)


def test_5_desk_work_and_a_voice_over_one_scene(visitor: Person) -> None:
    person, browser = visitor, visitor.browser
    person.press(".card-menu summary", "More for Dawn flight vouchers")
    person.press(".card-menu[open] button", "Make a copy")
    browser.ready()
    person.type("#promo-name", "Dawn offer", "\ue007")
    browser.until(lambda: browser.state()["name"] == "Dawn offer", "the new name")
    before = [scene["name"] for scene in browser.state()["scenes"]]
    scene_menu(person, 1, "A new scene after it")
    browser.until(lambda: len(browser.state()["scenes"]) == len(before) + 1, "the new scene")
    scene_menu(person, 1, "Duplicate")
    browser.until(lambda: len(browser.state()["scenes"]) == len(before) + 2, "the scene twice")
    scene_menu(person, 3, "Remove")
    browser.until(lambda: len(browser.state()["scenes"]) == len(before) + 1, "the new one gone")
    person.press(f"{scene_at(person, 2)} .scene-more")
    person.type("#menu input", "3", "\ue007")
    browser.until(lambda: browser.state()["scenes"][1]["length"] == 3, "it to last three seconds")
    scene_menu(person, 2, "Play only this scene")
    person.press("#open-recorder")
    person.press("#recorder [data-over=scene]")
    person.press("#record")
    said = browser.find("#recorder-said")
    browser.until(lambda: "where you spoke it" in said.text, "the voice to be laid in", 60)
    scene = browser.state()["scenes"][1]
    (voice,) = [row for row in rows(browser, "sound") if row["label"].startswith("Take")]
    assert abs(voice["start"] - scene["start"]) < 0.05
    assert abs(voice["length"] - scene["length"]) < 0.4
    (film,) = exported(person, "Square", "Tall")
    assert film.sounds
    assert abs(film.lasts - browser.state()["length"]) < 0.05
    person.upto(5)


def dropped_on_the_desk(person: Person, *paths: Path) -> None:
    """Files dropped on the Desk begin a promo with all of them on the Shelf."""
    browser = person.browser
    browser.drop_on_window(*paths)
    person.did(f"drop {len(paths)} files")
    browser.ready()
    browser.until(lambda: len(browser.all(".shelf-item.is-ready")) >= len(paths), "the files to be ready", 90)


def test_6_a_photo_over_footage_in_two_shapes(person: Person, photos: list[Path], footage: list[Path]) -> None:
    browser = person.browser
    dropped_on_the_desk(person, footage[0], photos[0])
    person.press('.shelf-item[data-name="bigbuckbunny.mp4"] .shelf-pick')
    person.press('.shelf-item[data-name="coffee.png"] .shelf-more')
    person.press("#menu button", "As a layer over the whole promo")
    (layer,) = rows(browser, "picture")
    assert layer["length"] == browser.state()["length"]
    lies = browser.state()["boxes"]["wide"][layer["id"]]
    ratio = 16 / 9
    middle = ((lies["x"] + lies["w"] / 2) / ratio, lies["y"] + lies["h"] / 2)
    person.drag(person.on_stage(*middle), person.on_stage(0.8, 0.75), "the photo into the corner")
    person.drag(person.middle("#handles .h-se"), person.on_stage(0.85, 0.8), "its size")
    person.drag(person.middle("#handles .h-turn"), person.on_stage(0.86, 0.55), "its angle")
    wide = browser.state()["boxes"]["wide"][layer["id"]]
    assert wide["w"] < lies["w"]
    assert wide["turn"] > 3
    assert wide["y"] > lies["y"] + 0.1
    person.press('.wall-pick[data-format="tall"]')
    tall = browser.state()["boxes"]["tall"][layer["id"]]
    at = (tall["x"] + tall["w"] / 2, (tall["y"] + tall["h"] / 2) * 9 / 16)
    person.drag(person.on_stage(*at), person.on_stage(at[0], 0.2), "the photo up in tall")
    made = exported(person)
    assert {(film.wide, film.high) for film in made} == {(854, 480), (480, 480), (480, 854)}
    link = person.see("#export-list [data-copy]").get_attribute("data-copy") or ""
    person.press("#export-list [data-copy]")
    person.press('#export-list a[href*="/download"]')
    browser.driver.get(link)
    browser.find("video")
    person.upto(6)


def test_10_footage_with_a_song(person: Person, footage: list[Path]) -> None:
    browser = person.browser
    dropped_on_the_desk(person, footage[1])
    person.press('.shelf-item[data-name="bikes.mp4"] .shelf-pick')
    person.press("#tab-music")
    person.choose("#music-filter [name=mood]", "calm")
    person.press("#library-list .piece [data-hear]", "Slow Garden")
    person.press('[data-piece="slow-garden"] [data-add-piece]')
    (song,) = browser.until(lambda: rows(browser, "sound"), "the song")
    assert "cannot be heard" not in browser.find("#toasts").text
    assert song["start"] == 0
    person.drop('[data-piece="still-water"]', f'#lanes [data-id="{song["id"]}"]')
    browser.until(lambda: rows(browser, "sound")[0]["label"].startswith("Still Water"), "the other song")
    person.press(f'#lanes [data-id="{song["id"]}"]')
    person.number("#p-gain", -6)
    person.number("#p-fade_out", 2)
    person.number("#s-rate", 0.9)
    person.key("\ue010")
    person.key("]")
    (song,) = rows(browser, "sound")
    assert (song["fast"], song["fadeOut"]) == ("0.9×", 2)
    assert abs(song["start"] + song["length"] - browser.state()["length"]) < 0.05
    film = exported(person)[0]
    heard = np.abs(film.sound())
    assert heard[48_000 : 3 * 48_000].max() > 0.01
    assert heard[-2400:].max() < heard[48_000 : 3 * 48_000].max() / 4, "it fades"
    person.upto(10)


SPOTS = ((0, 0), (1, 0), (0.5, 0.5), (1, 1))


def test_15_five_photos_with_words(visitor: Person, photos: list[Path]) -> None:
    person, browser = visitor, visitor.browser
    dropped_on_the_desk(person, *photos)
    person.press("#put-all")
    browser.until(lambda: [row["length"] for row in browser.state()["main"]] == [3] * 5, "five photos, 3 s each")
    person.key("\ue009", "a")
    person.press("#p-camera .choice", "comes slowly nearer")
    browser.until(lambda: all(row.get("curves") for row in browser.state()["main"]), "all to move")
    for place, (across, down) in enumerate(SPOTS):
        if place:
            person.go_to(3 * place + 0.1)
        person.words(f"Thing {place + 1}")
        person.spot(across, down)
    # What is written last is put on a closing card, which brings the logo and where to go.
    person.go_to(12.1)
    person.words("Book a seat")
    person.pick("design", '[data-design="blocks-close"]')
    boxes = browser.state()["boxes"]["wide"]
    places = {(round(boxes[row["id"]]["x"], 1), round(boxes[row["id"]]["y"], 1)) for row in rows(browser, "words")}
    assert len(places) == 4, "each stands elsewhere"
    (card,) = rows(browser, "design")
    assert (card["label"], card["start"]) == ("Book a seat", 12.1)
    # What is told on the page goes again by itself.
    browser.js(
        "window.told = ''; const place = document.getElementById('toasts');"
        "new MutationObserver(() => { window.told += place.textContent; }).observe(place, {childList: true})"
    )
    made = exported(person, short_side=720)
    assert {(film.wide, film.high) for film in made} == {(1280, 720), (720, 720), (720, 1280)}
    assert 15 <= made[0].lasts <= 30
    browser.until(lambda: "is done" in browser.js("return window.told"), "word that it is done")
    person.upto(15)
