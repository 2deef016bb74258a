"""The pages of a document (PDF) as pictures, drawn as large as any frame needs them."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import closing
from pathlib import Path
from typing import Any

import pypdfium2
import pypdfium2.raw as pdfium

from glowreel.core.errors import BadMedia

SHORT_SIDE, LONG_SIDE = 2160, 4096
"""A page is drawn with this short side, in pixels, unless its long one would be longer than that."""
MOST_PAGES = 200
MARK = b"%PDF-"
"""How such a file begins, within its first kilobyte."""


def is_document(path: Path) -> bool:
    """Whether a file is a document with pages."""
    with path.open("rb") as file:
        return MARK in file.read(1024)


def draw_pages(path: Path, name: str, folder: Path, tell: Callable[[float], None]) -> list[str]:
    """Draws every page into the folder as PNG; answers with their file names, in order. Raises `BadMedia` for what is
    locked, broken, empty or too long."""
    try:
        document = pypdfium2.PdfDocument(path)
    except pypdfium2.PdfiumError as error:
        if getattr(error, "err_code", None) == pdfium.FPDF_ERR_PASSWORD:
            raise BadMedia("locked", f"{name} is locked with a password.", "Save it without one.") from error
        raise BadMedia("broken", f"{name} is damaged and cannot be read.", "Save it again as PDF.") from error
    with closing(document):
        count = len(document)
        if not count:
            raise BadMedia("empty", f"{name} has no pages.")
        if count > MOST_PAGES:
            raise BadMedia("long", f"{name} has {count} pages; {MOST_PAGES} are taken at once.", "Split it.")
        made = []
        for number in range(count):
            made.append(f"page-{number + 1:03}.png")
            _drawn(document, number).save(folder / made[-1])
            tell((number + 1) / count)
    return made


def _drawn(document: Any, number: int) -> Any:
    page = document[number]
    wide, high = page.get_size()
    scale = min(SHORT_SIDE / max(1.0, min(wide, high)), LONG_SIDE / max(1.0, wide, high))
    try:
        return page.render(scale=scale, fill_color=(255, 255, 255, 255)).to_pil()
    finally:
        page.close()
