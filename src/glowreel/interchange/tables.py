"""Tables that people keep: CSV in whatever manner it was written, pasted cells, and XLSX. Read in a limited process."""

from __future__ import annotations

import csv
import io
import zipfile
from pathlib import Path

from glowreel.core.batch import MOST_COLUMNS, MOST_ROWS, Table, table_of
from glowreel.core.errors import BadMedia, Refusal
from glowreel.interchange.letters import decoded

MOST_BYTES = 8 * 1024**2
MOST_UNPACKED = 200 * 1024**2
SUFFIXES = (".csv", ".tsv", ".txt", ".xlsx")
MARKS = ",;\t|"


def read_text(text: str) -> Table:
    """A table from text: commas, semicolons, tabs or bars between cells, whichever divides the first lines alike."""
    if "\0" in text:
        raise BadMedia("no-table", "That is no table of text.")
    lines = [line for line in text.splitlines() if line.strip()]
    mark = max(MARKS, key=lambda one: _divides(lines[:20], one))
    try:
        rows = list(csv.reader(io.StringIO(text), delimiter=mark))[: MOST_ROWS + 2]
    except csv.Error as error:
        raise BadMedia("no-table", "That table cannot be read.", "Save it as CSV once more.") from error
    return table_of(rows)


def _divides(lines: list[str], mark: str) -> tuple[int, int]:
    """How well a mark divides lines: into as many cells in how many of them, and how many cells that is."""
    try:
        counts = [len(row) for row in csv.reader(lines, delimiter=mark)]
    except csv.Error:
        return (0, 0)
    first = counts[0] if counts else 1
    return (sum(count == first for count in counts), first) if first > 1 else (0, 0)


def read_file(path: Path, name: str) -> Table:
    """A table from a file. Raises `Refusal`, or `BadMedia` for what cannot be read."""
    if path.stat().st_size > MOST_BYTES:
        raise BadMedia("too-large", f"{name} is larger than 8 MB.", "A table has words, not pictures.")
    data = path.read_bytes()
    return _read_sheet(path, name) if data.startswith(b"PK\x03\x04") else read_text(decoded(data))


def _read_sheet(path: Path, name: str) -> Table:
    """The first sheet of an XLSX file that has anything in it."""
    import openpyxl

    try:
        with zipfile.ZipFile(path) as packed:
            if sum(entry.file_size for entry in packed.infolist()) > MOST_UNPACKED:
                raise BadMedia("too-large", f"{name} is too large once it is unpacked.")
        book = openpyxl.load_workbook(path, read_only=True, data_only=True)
        for sheet in book.worksheets:
            cells = sheet.iter_rows(max_row=MOST_ROWS + 50, max_col=MOST_COLUMNS + 20, values_only=True)
            lines = [list(line) for line in cells if any(cell is not None for cell in line)]
            if lines:
                return table_of([[_said(cell) for cell in line] for line in lines])
    except Refusal:
        raise
    except Exception as error:  # Whatever is wrong inside: the file is the person's.
        raise BadMedia("no-table", f"{name} is damaged or is no table.", "Save it as CSV, and bring that.") from error
    raise Refusal("no-rows", "There are no rows in this table.", "Its first line names the columns.")


def _said(cell: object) -> object:
    """A day as people write it; anything else as it is."""
    day = getattr(cell, "strftime", None)
    hour = getattr(cell, "hour", 0) or getattr(cell, "minute", 0)
    return cell if day is None else day("%d.%m.%Y %H:%M" if hour else "%d.%m.%Y")
