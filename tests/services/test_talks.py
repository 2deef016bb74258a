"""Slides of a talk: read into lines with pictures, on the Shelf as pictures or as they look, refused in a sentence."""

from __future__ import annotations

import io
import os
import stat
import zipfile
from pathlib import Path

import pytest
import skia
from pptx import Presentation
from pptx.util import Inches

from glowreel.core.errors import BadMedia, Refusal
from glowreel.engine import office
from glowreel.interchange.slides import Slide, read_slides
from glowreel.outside.art.files import picture
from glowreel.outside.art.painting import Painting
from glowreel.outside.drive.kept import kept
from glowreel.services import shelf, talks
from glowreel.services.access import Actor
from glowreel.services.material import decks
from glowreel.services.setup import Runtime
from glowreel.store.models import MediaFile
from tests.conftest import by
from tests.services.test_promos import new_team


@pytest.fixture
def team(runtime: Runtime) -> str:
    return new_team(runtime)


@pytest.fixture
def talk(tmp_path: Path) -> Path:
    """The made-up firm's talk: four slides, two with pictures."""
    path = tmp_path / "Autumn talk.pptx"
    next(one for one in kept().values() if one.name.endswith(".pptx")).write(path)
    return path


def slides(path: Path, folder: Path) -> list[Slide]:
    return read_slides(path, path.name, folder, lambda share: None)


def test_words_pictures_and_notes_of_slides_are_read_in_order(talk: Path, tmp_path: Path) -> None:
    first, second, third, last = slides(talk, tmp_path)
    assert first.title == "Autumn over the valley"
    assert first.said.startswith("Welcome.")
    assert second.points == ("Flights at dawn, Thursday to Sunday", "Breakfast on the meadow", "Four people a basket")
    assert [len(slide.pictures) for slide in (first, second, third, last)] == [1, 0, 1, 0]
    assert (tmp_path / first.pictures[0]).read_bytes()[:2] == b"\xff\xd8"


def test_odd_slides_are_read_as_far_as_they_go(tmp_path: Path) -> None:
    made = Presentation()
    hidden = made.slides.add_slide(made.slide_layouts[5])
    hidden.shapes.title.text = "Hidden"
    hidden.element.set("show", "0")
    bare = made.slides.add_slide(made.slide_layouts[6])
    box = bare.shapes.add_textbox(Inches(1), Inches(2), Inches(4), Inches(1))
    box.text_frame.text = "Only a box"
    group = bare.shapes.add_group_shape()
    inner = group.shapes.add_textbox(Inches(1), Inches(4), Inches(4), Inches(1))
    inner.text_frame.text = "In a group"
    twice = made.slides.add_slide(made.slide_layouts[6])
    photo = picture(Painting("sea"), 300, 200, ".png")
    for left in (1, 5):
        twice.shapes.add_picture(io.BytesIO(photo), Inches(left), Inches(1))
    ornament = picture(Painting("sea"), 40, 40, ".png")
    twice.shapes.add_picture(io.BytesIO(ornament), Inches(8), Inches(1))
    path = tmp_path / "odd.pptx"
    made.save(str(path))
    box_only, shown = slides(path, tmp_path)
    assert (box_only.title, box_only.points) == ("Only a box", ("In a group",))
    assert len(shown.pictures) == 1
    assert shown.text == ""


@pytest.mark.parametrize(("content", "sentence"), [
    (b"PK\x03\x04 no zip at all", "damaged"), (b"", "damaged"), (b"\xd0\xcf\x11\xe0" * 40, "damaged"),
])  # fmt: skip
def test_what_is_no_file_of_slides_is_said(tmp_path: Path, content: bytes, sentence: str) -> None:
    path = tmp_path / "broken.pptx"
    path.write_bytes(content)
    with pytest.raises(BadMedia, match=sentence):
        slides(path, tmp_path)


def test_a_zip_that_is_huge_inside_is_not_unpacked(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "bomb.pptx"
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
        for number in range(12):
            archive.writestr(f"ppt/media/{number}.xml", b"\0" * 100 * 1024**2)
    assert path.stat().st_size < 3 * 1024**2
    with pytest.raises(BadMedia, match="larger inside"):
        slides(path, tmp_path)


def test_a_talk_becomes_lines_with_its_pictures(runtime: Runtime, team: str, talk: Path) -> None:
    with talk.open("rb") as stream:
        read = talks.read(runtime, by(team), "Autumn talk.pptx", stream)
    assert [line.key for line in read.lines] == [
        "Autumn over the valley", "Three things to know", "What you will see", "Book by the end of October",
    ]  # fmt: skip
    assert read.lines[0].text.startswith("Welcome.")
    assert read.lines[-1].role == "call"
    assert [shown is not None for shown in read.shown] == [True, False, True, False]
    with runtime.database.unit() as unit:
        assert len(decks(unit.session, by(team))["Autumn talk"]) == 2
    with pytest.raises(BadMedia, match="no file of slides"):
        talks.read(runtime, by(team), "talk.key", io.BytesIO(b"x"))
    with pytest.raises(Refusal, match="You may not"):
        talks.read(runtime, Actor("person", team, "reviewer"), "a.pptx", io.BytesIO(b"x"))


def on_shelf(runtime: Runtime, team: str, path: Path) -> MediaFile:
    """A file of slides once it was worked on, by a program with this process's path."""
    with path.open("rb") as stream:
        source, size = shelf.receive(runtime.blobs, path.parent, stream)
    with runtime.database.unit() as unit:
        row = shelf.add(unit, by(team), path.name, source, size)
        key = row.id
    shelf.looked_at(runtime, key)
    with runtime.database.unit() as unit:
        row = unit.session.get_one(MediaFile, key)
        unit.session.expunge(row)
        return row


def test_on_the_shelf_the_pictures_come_in_and_a_sentence_says_what_is_missing(
    runtime: Runtime, team: str, talk: Path
) -> None:
    if office.program() is not None:
        pytest.skip("a program that draws slides is installed here")
    row = on_shelf(runtime, team, talk)
    assert row.state == "failed"
    assert "2 pictures of Autumn talk.pptx came in" in row.error
    assert "LibreOffice" in row.error


def test_where_a_program_draws_slides_their_pages_are_taken(
    talk: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The program itself is not here: one that is called as it is, and writes a real document, stands for it."""
    from glowreel.limited.tasks import TASKS, Tell

    sheet = tmp_path / "sheet.pdf"
    stream = skia.FILEWStream(str(sheet))
    document = skia.PDF.MakeDocument(stream)
    for colour in (0xFFAA0000, 0xFF00AA00):
        document.beginPage(320, 180).clear(colour)
        document.endPage()
    document.close()
    stream.flush()
    bin_ = tmp_path / "bin"
    bin_.mkdir()
    fake = bin_ / "soffice"
    fake.write_text(
        "#!/bin/sh\n"
        'while [ $# -gt 0 ]; do [ "$1" = --outdir ] && out=$2; last=$1; shift; done\n'
        '[ "$(head -c 2 "$last")" = PK ] || exit 1\n'
        f'cp {sheet} "$out/$(basename "$last" .pptx).pdf"\n'
    )
    fake.chmod(fake.stat().st_mode | stat.S_IEXEC)
    monkeypatch.setenv("PATH", f"{bin_}:{os.environ['PATH']}")
    work = tmp_path / "work"
    work.mkdir()
    asked = {"path": str(talk), "name": talk.name, "drawn": True}
    answer = TASKS["slides"](asked, work, Tell(lambda message: None))
    assert answer == {"slides": [], "pages": ["page-001.png", "page-002.png"]}
    assert (work / "page-002.png").stat().st_size > 500
    fake.write_text("#!/bin/sh\nexit 1\n")
    with pytest.raises(BadMedia, match="Save it as PDF"):
        TASKS["slides"](asked, work, Tell(lambda message: None))
