"""What lies in the made-up drive: a small firm's folders, each file made when it is first wanted."""

from __future__ import annotations

import io
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

import skia

from glowreel.outside.art import files, tunes
from glowreel.outside.art.painting import Painting, paint

ACCOUNT = "Studio account of Hollowmere"


@dataclass(frozen=True)
class Kept:
    """A file: its folder and name, its media type, how it is written, and what its small picture shows, if it has
    one."""

    folder: str
    name: str
    kind: str
    write: Callable[[Path], None]
    shown: Painting | None = None

    @property
    def id(self) -> str:
        return f"{self.folder}/{self.name}".strip("/").lower().replace(" ", "-").replace("/", "--")


def _photo(folder: str, name: str, painting: Painting, width: int = 1800, height: int = 1200) -> Kept:
    def write(path: Path) -> None:
        path.write_bytes(files.picture(painting, width, height, ".jpg"))

    return Kept(folder, name, "image/jpeg", write, painting)


def _footage(folder: str, name: str, painting: Painting, seconds: float) -> Kept:
    def write(path: Path) -> None:
        files.film(painting, 1280, 720, seconds, path, lambda share: None)

    return Kept(folder, name, "video/mp4", write, painting)


def _music(folder: str, name: str, tune: tunes.Tune) -> Kept:
    return Kept(folder, name, "audio/mp4", lambda path: files.sound(tunes.compose(tune), path))


def _sheet(folder: str, name: str, pages: tuple[Painting, ...], titles: tuple[str, ...]) -> Kept:
    """A document of several pages, each a picture with a title."""

    def write(path: Path) -> None:
        stream = skia.FILEWStream(str(path))
        document = skia.PDF.MakeDocument(stream)
        for painting, title in zip(pages, titles, strict=True):
            canvas = document.beginPage(960, 540)
            pixels = paint(painting, 1280, 720, 1.0)
            canvas.drawImageRect(skia.Image.fromarray(pixels, skia.kBGRA_8888_ColorType), skia.Rect.MakeWH(960, 540))
            canvas.drawRect(skia.Rect.MakeXYWH(0, 400, 960, 140), skia.Paint(Color=0xCC20202A))
            font = skia.Font(None, 44)
            canvas.drawString(title, 48, 484, font, skia.Paint(AntiAlias=True, Color=0xFFFFFFFF))
            document.endPage()
        document.close()
        stream.flush()

    return Kept(folder, name, "application/pdf", write, pages[0])


def _slides(folder: str, name: str) -> Kept:
    def write(path: Path) -> None:
        path.write_bytes(_talk())

    kind = "application/vnd.openxmlformats-officedocument.presentationml.presentation"
    return Kept(folder, name, kind, write, Painting("balloons", "plum", "evening"))


def _talk() -> bytes:
    """A talk of four slides, with pictures and what the speaker says."""
    from pptx import Presentation
    from pptx.util import Inches

    talk: Any = Presentation()
    talk.slide_width, talk.slide_height = Inches(13.333), Inches(7.5)
    for title, points, said, painting in (
        (
            "Autumn over the valley",
            (),
            "Welcome. In one minute you will want to fly.",
            Painting("balloons", "plum", "morning"),
        ),
        (
            "Three things to know",
            ("Flights at dawn, Thursday to Sunday", "Breakfast on the meadow", "Four people a basket"),
            "There are three things that everybody asks. Here they are.",
            None,
        ),
        (
            "What you will see",
            (),
            "Mist in the valley, and the sun above it.",
            Painting("hills", "ember", "morning", weather="mist"),
        ),
        (
            "Book by the end of October",
            ("hollowmere.example",),
            "Book by the end of October, and we will see you up there.",
            None,
        ),
    ):
        slide = talk.slides.add_slide(talk.slide_layouts[1 if points else 5])
        slide.shapes.title.text = title
        if points:
            slide.placeholders[1].text_frame.text = "\n".join(points)
        if painting is not None:
            picture = io.BytesIO(files.picture(painting, 1600, 900, ".jpg"))
            slide.shapes.add_picture(picture, Inches(1.5), Inches(2), Inches(8.9), Inches(5))
        slide.notes_slide.notes_text_frame.text = said
    out = io.BytesIO()
    talk.save(out)
    return out.getvalue()


@cache
def kept() -> dict[str, Kept]:
    """Every file, by its key."""
    autumn, shop, team = "Autumn flights", "Shop", "Team"
    found = [
        _photo(autumn, "Two balloons.jpg", Painting("balloons", "harbour", "morning", "autumn", "clear", "grain", 4)),
        _photo(autumn, "Fog below us.jpg", Painting("hills", "plum", "morning", "autumn", "mist", "grain", 9)),
        _photo(autumn, "The valley at dusk.jpg", Painting("hills", "ember", "evening", "autumn", "clouds", "grain", 2)),
        _photo(autumn, "Meadow breakfast.jpg", Painting("coffee", "meadow", style="grain", seed=3)),
        _footage(autumn, "Slow lift.mp4", Painting("balloons", "rose", "evening", "autumn", "clear", "flat", 7), 5.0),
        _footage(f"{autumn}/Raw footage", "Lake pass.mp4", Painting("lake", "mint", "morning", "autumn", seed=5), 5.0),
        _footage(f"{autumn}/Raw footage", "Hills.mp4", Painting("hills", "slate", "day", "autumn", seed=8), 4.0),
        _photo(f"{autumn}/Raw footage", "Frame of the lake.jpg", Painting("lake", "mint", "morning", "autumn", seed=5)),
        _photo(shop, "Voucher box.jpg", Painting("product", "ember", style="grain", seed=1), 1500, 1500),
        _photo(shop, "Presents.jpg", Painting("presents", "berry", style="grain", seed=6)),
        _photo(shop, "Candle light.jpg", Painting("candles", "ember", "night", style="grain", seed=2)),
        _sheet(shop, "Offer sheet.pdf", (Painting("balloons", "ember", "evening"), Painting("presents", "rose"),
               Painting("street", "harbour", "evening")), ("A flight for two", "As a present", "At our shop in town")),
        _photo(team, "At the desk.jpg", Painting("meeting", "mint", style="grain", seed=4)),
        _photo(team, "Ground crew.jpg", Painting("group", "citrus", style="grain", seed=8)),
        _slides(team, "Autumn talk.pptx"),
        _music("Music", "Meadow song.m4a", tunes.Tune("happy", 2, 12, 21)),
        _music("Music", "Before dawn.m4a", tunes.Tune("dreamy", -3, 10, 8)),
        _photo("", "Logo wall.jpg", Painting("pattern", "ember", seed=12)),
    ]  # fmt: skip
    return {one.id: one for one in found}


def folders_of(folder: str, there: Iterable[str]) -> list[str]:
    """The folders that lie in a folder, of those there are, by name."""
    inside = f"{folder}/" if folder else ""
    below = {one for one in there if one != folder and one.startswith(inside)}
    depth = inside.count("/") + 1
    return sorted({"/".join(name.split("/")[:depth]) for name in below if name})
