"""Slides of a talk (.pptx): their words, pictures and what the speaker says, read with python-pptx.

A file is a zip that strangers made: its entries are counted and measured before anything of it is read.
"""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from PIL import Image
from pptx import Presentation
from pptx.enum.shapes import MSO_SHAPE_TYPE, PP_PLACEHOLDER

from glowreel.core.errors import BadMedia

MOST_SLIDES = 120
MOST_ENTRIES, MOST_BYTES = 5000, 1024**3
MOST_PICTURES = 60
LEAST_PIXELS = 120
"""Smaller pictures are ornaments."""
KINDS = {"image/jpeg": ".jpg", "image/png": ".png", "image/gif": ".gif", "image/webp": ".webp", "image/tiff": ".tiff"}
_TITLES = (PP_PLACEHOLDER.TITLE, PP_PLACEHOLDER.CENTER_TITLE, PP_PLACEHOLDER.VERTICAL_TITLE)
_ASIDE = (PP_PLACEHOLDER.FOOTER, PP_PLACEHOLDER.DATE, PP_PLACEHOLDER.SLIDE_NUMBER)


@dataclass(frozen=True)
class Slide:
    """A slide: what stands large, its points, what the speaker says, and the file names of its pictures, largest
    first."""

    title: str
    points: tuple[str, ...] = ()
    said: str = ""
    pictures: tuple[str, ...] = field(default=())

    @property
    def text(self) -> str:
        """What is said where nothing else is: the notes, else everything that is written."""
        return self.said or ". ".join(part.rstrip(".") for part in (self.title, *self.points) if part)


def read_slides(path: Path, name: str, folder: Path, tell: Callable[[float], None]) -> list[Slide]:
    """The slides of a file, in order; hidden ones are left out. Their pictures are written into the folder. Raises
    `BadMedia` for what is broken, locked, empty or too large."""
    _check(path, name)
    try:
        slides = list(Presentation(str(path)).slides)
    except Exception as error:  # Whatever a stranger's file makes the reader stumble over.
        raise BadMedia("broken", f"{name} is damaged and cannot be read.", "Save it again as .pptx.") from error
    if len(slides) > MOST_SLIDES:
        raise BadMedia("long", f"{name} has {len(slides)} slides; {MOST_SLIDES} are taken at once.", "Split it.")
    shown = [slide for slide in slides if slide.element.get("show") != "0"]
    made: list[Slide] = []
    known: dict[str, str] = {}
    for number, slide in enumerate(shown, 1):
        made.append(_read(slide, number, folder, known))
        tell(number / len(shown))
    if not any(slide.text or slide.pictures for slide in made):
        raise BadMedia("empty", f"{name} has no words and no pictures.", "Save its pages as PDF instead.")
    return made


def _check(path: Path, name: str) -> None:
    try:
        with zipfile.ZipFile(path) as archive:
            entries = archive.infolist()
    except (zipfile.BadZipFile, OSError) as error:
        raise BadMedia("broken", f"{name} is damaged and cannot be read.", "Save it again as .pptx.") from error
    if len(entries) > MOST_ENTRIES or sum(entry.file_size for entry in entries) > MOST_BYTES:
        raise BadMedia("too-large", f"{name} is larger inside than 1 GB.", "Save it with smaller pictures.")


def _read(slide: Any, number: int, folder: Path, known: dict[str, str]) -> Slide:
    title, points = "", []
    pictures: list[tuple[int, str]] = []
    for shape in _shapes(slide.shapes):
        kind = shape.placeholder_format.type if shape.is_placeholder else None
        if kind in _ASIDE:
            continue
        if shape.has_text_frame:
            lines = [" ".join(paragraph.text.split()) for paragraph in shape.text_frame.paragraphs]
            lines = [line for line in lines if line]
            if kind in _TITLES and not title:
                title = " ".join(lines)
            else:
                points += lines
        picture = _picture(shape, number, folder, known)
        if picture is not None:
            pictures.append(picture)
    if not title and points:
        title, *points = points
    said = slide.notes_slide.notes_text_frame if slide.has_notes_slide else None
    pictures.sort(key=lambda one: -one[0])
    return Slide(
        title[:200], tuple(point[:300] for point in points[:20]),
        " ".join(said.text.split())[:2000] if said is not None else "",
        tuple(dict.fromkeys(file for _, file in pictures)),
    )  # fmt: skip


def _shapes(shapes: Any) -> Iterator[Any]:
    """The shapes of a slide, those in groups as well, as they lie: from the top, then from the left."""
    for shape in sorted(shapes, key=lambda one: (one.top or 0, one.left or 0)):
        if shape.shape_type == MSO_SHAPE_TYPE.GROUP:
            yield from _shapes(shape.shapes)
        else:
            yield shape


def _picture(shape: Any, number: int, folder: Path, known: dict[str, str]) -> tuple[int, str] | None:
    """A picture of a slide, written once however often it is shown: how many pixels it has, and its file."""
    try:
        image = shape.image
    except (AttributeError, ValueError, KeyError):
        return None
    suffix = KINDS.get(image.content_type)
    if suffix is None or (image.sha1 not in known and len(known) >= MOST_PICTURES):
        return None
    try:
        with Image.open(io.BytesIO(image.blob)) as opened:
            width, height = opened.size
    except (OSError, ValueError, Image.DecompressionBombError):
        return None
    if min(width, height) < LEAST_PIXELS:
        return None
    if image.sha1 not in known:
        known[image.sha1] = f"slide-{number:03}-{len(known) + 1:02}{suffix}"
        (folder / known[image.sha1]).write_bytes(image.blob)
    return width * height, known[image.sha1]
