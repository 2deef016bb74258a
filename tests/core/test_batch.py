"""Tables: read as people write them, matched by name, looked at, and made into promos that hold every rule."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

import openpyxl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from glowreel.core import batch
from glowreel.core.batch import Fill, Table, clean, digest, file_key, fills, match, named, table_of, usual_pattern
from glowreel.core.errors import Refusal
from glowreel.core.slots import Slot
from glowreel.interchange.tables import decoded, read_file, read_text

CELLS = st.text(st.characters(codec="utf-8", exclude_characters="\r\x00", exclude_categories=("C", "Z")), max_size=30)


def slot(key: str, label: str, kind: str = "words", **more: object) -> Slot:
    return Slot(id=key, part=f"i-{key}", of="text" if kind == "words" else "source", kind=kind, label=label, **more)


SLOTS = (slot("q-1", "Title", most=12), slot("q-2", "What it costs", "price"), slot("q-3", "Hero picture", "picture"))


@pytest.mark.parametrize("mark", [",", ";", "\t", "|"])
def test_a_table_is_read_whatever_divides_its_cells(mark: str) -> None:
    text = mark.join(("Town", "Price")) + "\n" + mark.join(("Ahlen", '"89 €"')) + "\n\n" + mark.join(("Bork", "95 €"))
    assert read_text(text) == Table(("Town", "Price"), (("Ahlen", "89 €"), ("Bork", "95 €")))


def test_files_of_offices_are_read_in_their_letters(tmp_path) -> None:
    for encoding in ("utf-8", "utf-8-sig", "utf-16", "cp1252"):
        assert decoded("Größe;Preis €".encode(encoding)) == "Größe;Preis €"
    book = openpyxl.Workbook()
    book.create_sheet("Towns").append(["Town", "Day", "Price", None, "Town"])
    book["Towns"].append(["Ahlen", datetime(2026, 12, 24), 89.0, None, "again"])
    book.save(tmp_path / "towns.xlsx")
    assert read_file(tmp_path / "towns.xlsx", "towns.xlsx") == Table(
        ("Town", "Day", "Price", "Town (2)"), (("Ahlen", "24.12.2026", "89", "again"),)
    )
    (tmp_path / "broken.xlsx").write_bytes(b"PK\x03\x04 and nothing behind it")
    with pytest.raises(Refusal, match="damaged"):
        read_file(tmp_path / "broken.xlsx", "broken.xlsx")
    for text in ("", "only one line", "\n\n"):
        with pytest.raises(Refusal, match="no rows"):
            read_text(text)
    with pytest.raises(Refusal, match="at most 1000 rows"):
        table_of([["x"], *([str(at)] for at in range(1001))])


@given(st.lists(st.lists(CELLS, min_size=1, max_size=6), max_size=12))
def test_whatever_is_in_a_table_its_rows_are_as_long_as_its_columns(lines: list[list[str]]) -> None:
    try:
        found = table_of(lines)
    except Refusal:
        return
    assert all(len(row) == len(found.columns) for row in found.rows)
    assert len(set(found.columns)) == len(found.columns)
    assert all(any(row) for row in found.rows)


def test_columns_are_matched_by_what_they_are_called() -> None:
    assert match(("Hero picture", "TITLE", "what it costs?"), SLOTS) == {"q-1": 1, "q-2": 2, "q-3": 0}
    assert match(("Price", "Picture", "Colour"), SLOTS) == {"q-2": 0, "q-3": 1}
    assert match(("Nothing of it",), SLOTS) == {}


def test_what_is_wrong_with_a_row_is_said_before_it_is_made() -> None:
    matching = {"q-1": 0, "q-2": 1, "q-3": 2}
    known = {file_key("Folder\\Dawn.JPG"): 1}
    assert batch.problems(SLOTS, matching, ("Short", "89", "dawn.png"), known) == []
    said = batch.problems(SLOTS, matching, ("Far too long a title", "", "dusk.jpg"), known)
    assert [sentence.split("”")[0] for sentence in said] == [
        "“Title",
        "No file of the Shelf is called “dusk.jpg",
        "“What it costs",
    ]
    kinds = [fill.kind for fill in fills(SLOTS, matching, ("a", "", "https://x.example/a.jpg"))]
    assert kinds == ["words", "address"]


def test_promos_are_named_by_a_pattern() -> None:
    table = Table(("Town", "Kind"), (("Ahlen", "x"), ("Bork", "x")))
    assert usual_pattern("Offer", table) == "Offer: {Town}"
    assert named("{town}, {#} of {Odd}", table, 1) == "Bork, 2 of {Odd}"
    assert usual_pattern("Offer", replace(table, rows=(("A", "x"), ("A", "x")))) == "Offer {#}"
    assert named("  ", table, 0) == "Row 1"


@given(CELLS, CELLS)
def test_a_row_comes_to_something_else_only_where_it_says_something_else(first: str, second: str) -> None:
    def of(value: str) -> str:
        return digest("Name", [Fill(SLOTS[0], "words", value)], 3)

    assert (of(first) == of(second)) == (first == second)
    assert of(first) != digest("Name", [Fill(SLOTS[0], "words", first)], 4)
    assert clean(clean(first)) == clean(first)
