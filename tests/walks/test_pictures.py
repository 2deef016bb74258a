"""Walks with pictures side by side, one in another, and cut out: a grid of footage, a collage, a heart."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path

import numpy as np

from tests.conftest import Files
from tests.walks.person import Person, exported, rows
from tests.walks.test_short_pieces import dropped_on_the_desk
from tests.web.test_picture import pixel, shown


def test_3_four_pieces_of_footage_on_a_grid(person: Person, footage: list[Path], files: Files) -> None:
    browser = person.browser
    tones = [files.footage(f"{name}.mp4", lambda _, c=colour: c, frames=150, tone=tone, rate=Fraction(25))
             for name, colour, tone in (("red", (200, 40, 30), 330), ("blue", (30, 60, 200), 0))]  # fmt: skip
    four = [*footage, *tones]
    dropped_on_the_desk(person, *four)
    person.pick("collage", '[data-grid="four"]')
    for path in four:
        person.pick("", f'[data-name="{path.name}"]')
    person.press("#tab-details")
    person.press("#p-fit-collage")
    person.group("cells")
    person.number("#p-step", 1)
    person.choose("#p-cells_heard", "Cell 3")
    person.press('.wall-pick[data-format="tall"]')
    (collage,) = browser.state()["main"]
    assert collage["length"] > 9
    made = exported(person)
    tall = next(film for film in made if film.high > film.wide)
    assert abs(tall.lasts - collage["length"]) < 0.1
    first, later = tall.frame(0.5), tall.frame(4)
    quarter = (slice(500, 800), slice(60, 200))
    assert np.abs(first[quarter].mean(axis=(0, 1)) - (200, 40, 30)).max() > 40, "the third waits"
    assert np.abs(later[quarter].mean(axis=(0, 1)) - (200, 40, 30)).max() < 25, "it has come"
    sound = np.abs(tall.sound())
    assert sound[:48_000].max() < 0.02 < sound[4 * 48_000 : 5 * 48_000].max(), "it is heard from when it comes"
    person.press("#export-list .export-file a", "Watch")
    browser.until(lambda: browser.js("return document.querySelector('video')?.readyState > 0"), "it to play there")
    person.upto(3)


def test_4_a_collage_with_a_cell_of_words(person: Person, photos: list[Path]) -> None:
    browser = person.browser
    person.press("#start-collage")
    person.press('[name=grid][value="four"]')
    browser.ready()
    person.bring(*photos[:3])
    browser.until(lambda: len(browser.all(".shelf-item.is-ready")) == 3, "three photos", 60)
    for path in photos[:3]:
        person.pick("", f'[data-name="{path.name}"]')
    person.press("#tab-details")
    person.press(".cell-pick", "empty")
    person.press("#p-cell-words")
    person.type("#p-cell-text", "Slow mornings")
    person.group("ground")
    person.press(".matching-colour")
    colour = browser.find(".matching-colour").get_attribute("data-fill-colour") or ""
    person.words("Open from seven")
    words = rows(browser, "words")[0]["id"]
    person.menu(f'#lanes [data-id="{words}"]', "Stretch it over the whole promo")
    assert rows(browser, "words")[0]["length"] == browser.state()["length"]
    made = exported(person, "Square")
    assert {(film.wide, film.high) for film in made} == {(854, 480), (480, 854)}
    wide = next(film for film in made if film.wide > film.high)
    rim = wide.frame(1)[1, 1:-1].mean(axis=0)
    assert np.abs(rim - [int(colour[n : n + 2], 16) for n in (1, 3, 5)]).max() < 14
    person.upto(4)


def corner(person: Person, layer: str) -> tuple[float, float]:
    """A place in the upper left corner of a layer in tall, in shares of the frame."""
    box = person.browser.state()["boxes"]["tall"][layer]
    return box["x"] + 0.03 * box["w"], (box["y"] + 0.03 * box["h"]) * 9 / 16


def test_14_uncropped_cut_out_twice_and_through_a_heart(visitor: Person) -> None:
    person, browser = visitor, visitor.browser
    person.press("#start-blank")
    person.press("#create-promo")
    browser.ready()
    person.pick("", '[data-name="over-the-fields.mp4"]')
    person.press('.wall-pick[data-format="tall"]')
    person.press("#tab-details")
    person.press('.details [data-control*="values/fit"] button', "Letterbox")
    person.group("ground")
    grounds = []
    for ground in ("a pattern", "itself, blurred", "a colour"):
        person.press("#p-ground .choice", ground)
        shown(browser)
        grounds.append(tuple(pixel(browser, share, 0.06) for share in (0.2, 0.5, 0.8)))
    assert len({str(one) for one in grounds}) == 3, "three grounds look different"
    person.press("#tab-shelf")
    person.press('.shelf-item[data-name="pilot-green.jpg"] .shelf-more')
    person.press("#menu button", "As a layer over the whole promo")
    pilot = rows(browser, "picture")[0]["id"]
    shown(browser)
    green = pixel(browser, *corner(person, pilot))
    assert green[1] > green[0] + 40, "the wall behind the pilot is green"
    person.group("cutout")
    person.choose("#p-cutout", "people")
    person.key("\ue009", "d")
    browser.until(lambda: len(rows(browser, "picture")) == 2, "the second pilot")
    box = browser.state()["boxes"]["tall"][rows(browser, "picture")[1]["id"]]
    at = (box["x"] + box["w"] / 2, (box["y"] + box["h"] / 2) * 9 / 16)
    person.drag(person.on_stage(*at), person.on_stage(0.3, 0.7), "the second pilot elsewhere")
    person.press("#tab-shelf")
    person.press('.shelf-item[data-name="landing.mp4"] .shelf-more')
    person.press("#menu button", "As a layer at the playhead")
    heart = next(row["id"] for row in rows(browser, "picture") if row["label"].startswith("landing"))
    shown(browser)
    whole = pixel(browser, *corner(person, heart))
    person.group("mask")
    person.press("#p-mask .choice", "Heart")
    browser.until(lambda: not browser.all(".making progress"), "the pilots to be cut out", 90)
    made = exported(person)
    assert {(film.wide, film.high) for film in made} == {(854, 480), (480, 480), (480, 854)}
    tall = next(film for film in made if film.high > film.wide).frame(1)
    for layer, before in ((pilot, green), (heart, whole)):
        across, down = corner(person, layer)
        now = tall[int(down * 854), int(across * 480)]
        assert np.abs(now - before).sum() > 40, "its corner is not seen any more"
    person.upto(14)
