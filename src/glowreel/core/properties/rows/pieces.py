"""Rows of how the letters of words come, stay and go, one after another."""

from __future__ import annotations

from typing import Any

from glowreel.core.easing import EASINGS
from glowreel.core.letters import LETTER_STAYS, LETTER_WAYS, ORDERS, UNITS
from glowreel.core.properties.row import Choices, Property
from glowreel.core.properties.rows.shared import WORDS, share
from glowreel.core.time import ticks

_WAYS: Choices = (("none", "all at once"), *((name, way.label.lower()) for name, way in LETTER_WAYS.items()),
                  ("count", "count a number"))  # fmt: skip
_OUT: Choices = tuple(row for row in _WAYS if row[0] not in ("mark", "sing", "count", "wave"))
_STAYS: Choices = tuple((name, stay.label.lower()) for name, stay in LETTER_STAYS.items())
_EASES: Choices = tuple((name, words) for name, (words, _) in EASINGS.items() if name != "hold")
_LASTS: dict[str, Any] = {"unit": "s", "high": 30, "step": 0.1, "digits": 2}


def _row(key: str, label: str, meaning: str, kind: str, default: Any, **more: Any) -> Property:
    return Property(key, label, meaning, kind, default, WORDS, "pieces", look=True, **more)


ROWS = (
    _row("pieces", "Letters come", "how its letters come, one after another", "choice", "none", choices=_WAYS,
         control="chips", end="start", find="animation typewriter karaoke kinetic per letter"),
    _row("pieces_length", "over", "how long it takes until all of them have come", "length", ticks(1),
         beside="pieces", end="start", **_LASTS),
    _row("pieces_ease", "evenly or not", "how evenly each of them comes and goes", "choice", "out", choices=_EASES,
         control="choice", beside="pieces", find="easing"),
    _row("pieces_colour", "In colour", "the colour of the highlight, or of what has been sung", "colour", "accent",
         beside="pieces", choices_beside=frozenset({"mark", "sing"}), per_format=True),
    _row("pieces_from", "Counts from", "where a number begins that counts", "number", 0.0, low=0, high=999_999_999,
         least=0, most=100, beside="pieces", choices_beside=frozenset({"count"})),
    _row("pieces_stay", "Letters stay", "what its letters do while they are on show", "choice", "none",
         choices=_STAYS, control="chips", find="loop idle"),
    share("pieces_strength", "strength", "how strongly they move meanwhile", 1.0, WORDS, group="pieces", low=0, high=4,
          look=True, beside="pieces_stay", per_format=False),
    _row("pieces_leave", "Letters go", "how its letters go, one after another", "choice", "none", choices=_OUT,
         control="chips", end="end", find="animation out"),
    _row("pieces_leave_length", "over", "how long it takes until all of them have gone", "length", ticks(0.7),
         beside="pieces_leave", end="end", **_LASTS),
    _row("pieces_by", "One by one", "what comes, stays and goes together", "choice", "letter",
         choices=tuple(UNITS.items()), control="switches", find="letter word line unit"),
    _row("pieces_order", "In the order", "which of them is first", "choice", "forward", choices=tuple(ORDERS.items()),
         control="choice", find="random backward middle"),
    share("pieces_overlap", "Overlap", "how far the next has come before the one before is there", 0.6, WORDS,
          group="pieces", look=True, per_format=False),
    Property("pieces_times", "Times", "the seconds at which each of them begins, and the last ends", "times", (), WORDS,
             "", low=0, high=21_600),
)  # fmt: skip
