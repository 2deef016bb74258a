"""Values as a document holds them: only what is not as the table has it, each in its stored form."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from typing import Any

from glowreel.core.content import KINDS
from glowreel.core.properties.row import Property
from glowreel.core.properties.table import PROPERTIES
from glowreel.core.words import MAX_LETTERS

Values = dict[str, Any]
FIELD = "field."
"""How the names of a design's fields begin. What they may be is said by the design; here only that it is plain."""


@lru_cache(maxsize=200)
def _rows_of(kind: str, more: frozenset[str], names: tuple[str, ...]) -> dict[str, Property]:
    return {name: PROPERTIES[name] for name in names if PROPERTIES[name].of & (KINDS[kind].traits | more)}


def rows_of(kind: str, more: frozenset[str] = frozenset()) -> dict[str, Property]:
    """The properties that a part of a kind has, by name, and those of more traits that it has where it stands. Raises
    `ValueError` where there is no such kind."""
    if kind not in KINDS:
        raise ValueError(f"there is no kind of part called “{kind}”")
    return _rows_of(kind, more, tuple(PROPERTIES))


def checked(rows: Mapping[str, Property], kind: str, values: Mapping[str, Any], *, own: bool = False) -> Values:
    """Values in their stored form, without those that are the default. With `own` they are those of one format, where
    the default may well differ from what is set for all. Raises `ValueError` for what a part of the kind has not."""
    found: Values = {}
    for name, value in values.items():
        if name.startswith(FIELD) and kind in KINDS and "design" in KINDS[kind].traits:
            found[name] = _plain(value)
            continue
        row = rows.get(name)
        if row is None:
            what = KINDS[kind].label if kind in KINDS else kind
            raise ValueError(f"{what.lower()} has no property called “{name}”")
        if own and not row.per_format:
            raise ValueError(f"{row.label.lower()} is the same in every format")
        stored = row.check(value)
        if own or stored != row.default_for(kind):
            found[name] = stored
    return found


def _plain(value: Any) -> str:
    """What a field says, as text. Raises `ValueError` for anything else, and for too much."""
    if not isinstance(value, str) or len(value) > MAX_LETTERS:
        raise ValueError(f"a field holds at most {MAX_LETTERS} letters")
    return "".join(letter for letter in value.replace("\r\n", "\n") if letter == "\n" or ord(letter) >= 32)
