"""A table of rows and one template: which column fills which slot, what each row says, and what is wrong with it.

```
| Town  | Price | Picture   |        title   ← Town          “Flights over Ahlen”
| Ahlen | 89 €  | dawn.jpg  |   →    price   ← Price         89 €
| Bork  | 95 €  | https://… |        picture ← Picture       a file of the Shelf, or one that is fetched
```
"""

from __future__ import annotations

import hashlib
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from difflib import SequenceMatcher, get_close_matches
from typing import Literal

from glowreel.core.commands.slots import FillSlot
from glowreel.core.document import Promo
from glowreel.core.errors import Refusal
from glowreel.core.slots import SLOT_KINDS, Slot

MOST_ROWS, MOST_COLUMNS, LONGEST_CELL = 1000, 40, 2000
LONGEST_WORDS = 600
"""So many letters go into a slot that says no less."""
LIKE = 0.72
"""How alike a column's name and a slot's have to be, of 1, for one to be taken for the other."""
PLACE = re.compile(r"\{([^{}]{1,80})\}")


@dataclass(frozen=True)
class Table:
    """A table as it was read: names of columns, each once, and rows of as many cells."""

    columns: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]


@dataclass(frozen=True)
class Fill:
    """What a row puts into a slot: words, a file by its name, or one from an address."""

    slot: Slot
    kind: Literal["words", "name", "address"]
    value: str


def table_of(lines: Sequence[Sequence[object]]) -> Table:
    """A table of lines of cells, the first of which names the columns. Empty lines and columns are left out. Raises
    `Refusal` for what is no table, or too large."""
    plain = [[clean(cell) for cell in line] for line in lines]
    plain = [line for line in plain if any(line)]
    if len(plain) < 2:
        raise Refusal("no-rows", "There are no rows in this table.", "Its first line names the columns.")
    used = [at for at in range(max(map(len, plain))) if any(at < len(line) and line[at] for line in plain)]
    if len(used) > MOST_COLUMNS or len(plain) - 1 > MOST_ROWS:
        raise Refusal("too-large", f"A table has at most {MOST_ROWS} rows and {MOST_COLUMNS} columns.", "Split it.")
    names: list[str] = []
    for number, at in enumerate(used, 1):
        name = (plain[0][at] if at < len(plain[0]) else "")[:80] or f"Column {number}"
        same = sum(other == name or other.startswith(f"{name} (") for other in names)
        names.append(f"{name} ({same + 1})" if same else name)
    rows = tuple(tuple(line[at] if at < len(line) else "" for at in used) for line in plain[1:])
    return Table(tuple(names), rows)


def clean(cell: object) -> str:
    """A cell as words: numbers as people write them, nothing that cannot be seen."""
    if cell is None:
        return ""
    if isinstance(cell, float) and cell.is_integer():
        cell = int(cell)
    text = "".join(letter for letter in str(cell) if letter.isprintable() or letter == "\n")
    return text.strip()[:LONGEST_CELL]


def plain_name(name: str) -> str:
    """A name as it is compared: small letters and numbers alone."""
    return re.sub(r"[^\w]+|_", " ", name.casefold()).strip()


def match(columns: Sequence[str], slots: Sequence[Slot]) -> dict[str, int]:
    """The column that fills each slot, by its place: those of the same name, then those most alike, each once."""
    pairs = []
    for number, slot in enumerate(slots):
        for at, column in enumerate(columns):
            wanted, named = plain_name(slot.label), plain_name(column)
            alike = 1.0 if wanted == named else SequenceMatcher(None, wanted, named).ratio()
            if wanted and named and (f" {named} " in f" {wanted} " or f" {wanted} " in f" {named} "):
                alike = max(alike, 0.9)
            if named == plain_name(slot.kind):
                alike = max(alike, 0.8)
            if alike >= LIKE:
                pairs.append((-alike, number, at, slot.id))
    found: dict[str, int] = {}
    for _, _, at, key in sorted(pairs):
        if key not in found and at not in found.values():
            found[key] = at
    return found


def fills(slots: Sequence[Slot], matching: Mapping[str, int], row: Sequence[str]) -> list[Fill]:
    """What a row puts into slots, in their order. An empty cell leaves what stands there."""
    made: list[Fill] = []
    for slot in slots:
        at = matching.get(slot.id)
        value = row[at] if at is not None and 0 <= at < len(row) else ""
        if not value:
            continue
        if SLOT_KINDS[slot.kind].holds == "words":
            made.append(Fill(slot, "words", value))
        else:
            made.append(Fill(slot, "address" if re.match(r"https?://", value) else "name", value))
    return made


def problems(
    slots: Sequence[Slot], matching: Mapping[str, int], row: Sequence[str], known: Mapping[str, object]
) -> list[str]:
    """What is wrong with a row, in sentences. `known` has the files that there are by their plain names."""
    filled = fills(slots, matching, row)
    wrong = []
    for fill in filled:
        if fill.kind == "words" and len(fill.value) > room_of(fill.slot):
            wrong.append(f"“{fill.slot.label}” has room for {room_of(fill.slot)} letters; this has {len(fill.value)}.")
        if fill.kind == "name" and file_key(fill.value) not in known:
            wrong.append(f"No file of the Shelf is called “{fill.value[:60]}”." + _perhaps(fill.value, known))
    there = {fill.slot.id for fill in filled}
    wrong += [f"“{slot.label}” is empty." for slot in slots
              if not slot.optional and slot.id in matching and slot.id not in there]  # fmt: skip
    return wrong


def _perhaps(value: str, known: Mapping[str, object]) -> str:
    """The file that may have been meant, as a question, where one is called nearly like that."""
    near = get_close_matches(file_key(value), list(known), 1, LIKE)
    return f" Is it “{near[0]}”?" if near else ""


def room_of(slot: Slot) -> int:
    """How many letters words in a slot may have."""
    return slot.most or LONGEST_WORDS


def file_key(name: str) -> str:
    """The name of a file as it is compared: without its folder, its suffix and the case of letters."""
    return re.sub(r"\.\w{2,5}$", "", re.split(r"[/\\]", name)[-1].casefold().strip())


def named(pattern: str, table: Table, number: int) -> str:
    """The name of a row's promo: `{Town}` is the cell of that column, `{#}` the number of the row, from 1."""
    columns = {plain_name(column): at for at, column in enumerate(table.columns)}

    def cell(found: re.Match[str]) -> str:
        if found[1] == "#":
            return str(number + 1)
        at = columns.get(plain_name(found[1]))
        return found[0] if at is None else table.rows[number][at]

    return " ".join(PLACE.sub(cell, pattern).split())[:120] or f"Row {number + 1}"


def usual_pattern(template: str, table: Table) -> str:
    """The pattern that is proposed: the template, and the first column that differs from row to row."""
    for at, column in enumerate(table.columns):
        cells = [row[at] for row in table.rows]
        if len(set(cells)) == len(cells) and all(0 < len(cell) <= 60 for cell in cells):
            return f"{template}: {{{column}}}"[:120]
    return f"{template} {{#}}"


def digest(name: str, filled: Sequence[Fill], state: object) -> str:
    """What a row comes to: the same again makes the same promo. `state` is that of the template and the brand."""
    said = [name, repr(state), *(f"{fill.slot.id}\0{fill.kind}\0{fill.value}" for fill in filled)]
    return hashlib.blake2b("\1".join(said).encode(), digest_size=16).hexdigest()


def commands(promo: Promo, filled: Sequence[Fill], files: Mapping[str, str]) -> list[FillSlot]:
    """The commands that fill a promo; `files` has the media by what a row says of them."""
    have = {slot.id for slot in promo.slots}
    for fill in filled:
        if fill.kind == "words" and len(fill.value) > room_of(fill.slot):
            room = room_of(fill.slot)
            raise Refusal("too-long", f"“{fill.slot.label}” has room for {room} letters.", "Say it shorter.")
    return [
        FillSlot(slot=fill.slot.id, text=fill.value) if fill.kind == "words"
        else FillSlot(slot=fill.slot.id, media=files[fill.value])
        for fill in filled if fill.slot.id in have
    ]  # fmt: skip
