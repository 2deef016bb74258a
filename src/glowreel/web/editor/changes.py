"""What changed between two states of the timeline, so that only that travels to the page.

```
{"base": 41, "rev": 42, "main": {"rows": {"c5": {…}}, "from": 6, "starts": [12.4, …]}, "tracks": {…}}
```
A list of rows changes by the rows that are new or different, by where the others start from some place on, and, where
it has others or they are in another order, by its identifiers. The page puts that into the state it has, and asks for
all of it where its state is not the base.
"""

from __future__ import annotations

from typing import Any

State = dict[str, Any]
Row = dict[str, Any]

LISTS = {"main": ("id", "start"), "cuts": ("after", "at"), "scenes": ("id", "start"), "notes": ("id", "at")}
"""Lists of rows in the state: what names a row, and what says where it lies."""


def changes(base: int, old: State, new: State) -> State:
    """What leads from one state to the other."""
    found: State = {"base": base}
    for key, value in new.items():
        difference: State | None
        if key in LISTS:
            difference = rows_changed(old[key], value, *LISTS[key])
        elif key == "tracks":
            difference = _tracks_changed(old[key], value)
        else:
            difference = None if old.get(key) == value else {"to": value}
        if difference:
            found[key] = difference
    return found


def rows_changed(old: list[Row], new: list[Row], name: str, at: str) -> State:
    """What leads from one list of rows to another; empty where nothing does."""
    known = {row[name]: row for row in old}
    found: State = {}
    rows = {row[name]: row for row in new if not _same_but(known.get(row[name]), row, at)}
    if rows:
        found["rows"] = rows
    ids = [row[name] for row in new]
    if ids != [row[name] for row in old]:
        found["ids"] = ids
    first = next((n for n, row in enumerate(new) if row[name] not in known or known[row[name]][at] != row[at]), None)
    if first is not None:
        last = next(n for n in range(len(new), 0, -1) if not _lies_there(known.get(new[n - 1][name]), new[n - 1], at))
        found |= {"from": first, "starts": [row[at] for row in new[first:last]]}
    return found


def _lies_there(old: Row | None, new: Row, at: str) -> bool:
    return old is not None and old[at] == new[at]


def _same_but(old: Row | None, new: Row, at: str) -> bool:
    """Whether two rows differ at most in where they lie."""
    if old is None or len(old) != len(new):
        return False
    return all(key == at or (key in old and old[key] == value) for key, value in new.items())


def _tracks_changed(old: list[Row], new: list[Row]) -> State:
    known = {track["id"]: track for track in old}
    found: State = {}
    changed: dict[str, Any] = {}
    for track in new:
        before = known.get(track["id"], {"rows": []})
        rows = rows_changed(before["rows"], track["rows"], "id", "start")
        head = {key: value for key, value in track.items() if key != "rows"}
        if rows or any(before.get(key) != value for key, value in head.items()):
            changed[track["id"]] = head | {"rows": rows}
    if changed:
        found["changed"] = changed
    ids = [track["id"] for track in new]
    if ids != [track["id"] for track in old]:
        found["ids"] = ids
    return found


def boxes_changed(old: dict[str, Row], new: dict[str, Row]) -> dict[str, Row]:
    """Boxes that are new or different. Those of layers that are gone are of no use, and are left."""
    return {key: box for key, box in new.items() if old.get(key) != box}
