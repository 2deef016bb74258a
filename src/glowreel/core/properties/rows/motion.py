"""Rows of how a part comes, stays and goes."""

from __future__ import annotations

from typing import Any

from glowreel.core.easing import EASINGS
from glowreel.core.properties.row import Choices, Property
from glowreel.core.properties.rows.shared import COMES, PLACED
from glowreel.core.time import ticks
from glowreel.core.vocabulary import MOTIONS, STAYS

_MOTIONS: Choices = tuple((kind, "at once" if kind == "none" else kind.replace("-", " ")) for kind in MOTIONS)
_STAYS: Choices = tuple((kind, "as it is" if kind == "none" else kind.replace("-", " ")) for kind in STAYS)
_EASES: Choices = tuple((name, words) for name, (words, _) in EASINGS.items() if name != "hold")
MOVES = frozenset({"zoom", "shrink", "pop", "spin", "roll", "rise", "blur"})
"""Motions that can be stronger or weaker."""


def _row(key: str, label: str, meaning: str, kind: str, default: Any, end: Any, **more: Any) -> Property:
    given = {"end": end, "beside": "arrives" if end == "start" else "leaves", **more}
    return Property(key, label, meaning, kind, default, COMES if end == "start" else PLACED, "motion", **given)


_LASTS: dict[str, Any] = {"unit": "s", "high": 30, "step": 0.1, "digits": 2}
_STRENGTH: dict[str, Any] = {
    "unit": "%", "low": 0, "high": 3, "scale": 0.01, "step": 10, "slider": "straight", "choices_beside": MOVES,
}  # fmt: skip

ROWS = (
    Property("arrives", "Comes", "how it comes", "choice", "none", COMES, "motion", choices=_MOTIONS, end="start",
             control="chips", find="animation in"),
    _row("arrive_length", "over", "how long it takes to come", "length", ticks(0.5), "start", **_LASTS),
    _row("arrive_ease", "evenly or not", "how evenly it comes", "choice", "out", "start", choices=_EASES,
         control="choice", find="easing"),
    _row("arrive_strength", "strength", "how strongly it moves as it comes", "number", 1.0, "start", **_STRENGTH),
    _row("arrive_delay", "after", "how long it waits before it comes", "length", 0, "start", **_LASTS),
    Property("comes_late", "Comes later by", "how much later it comes than it lies on its track", "length", 0, PLACED,
             "motion", per_format=True, end="start", find="shorter stretch time begin delay format", **_LASTS),
    Property("goes_early", "Goes earlier by", "how much earlier it goes than it lies on its track", "length", 0, PLACED,
             "motion", per_format=True, end="end", find="shorter stretch time end format", **_LASTS),
    Property("stays", "Meanwhile", "what it does while it is on show", "choice", "none", PLACED, "motion",
             choices=_STAYS, control="chips", look=True, find="animation loop idle stay"),
    Property("stay_strength", "strength", "how strongly it moves meanwhile", "number", 1.0, PLACED, "motion", unit="%",
             low=0, high=4, scale=0.01, step=10, slider="straight", look=True, beside="stays"),
    Property("stay_rate", "speed", "how fast it moves meanwhile", "number", 1.0, PLACED, "motion", unit="%", low=0.1,
             high=6, scale=0.01, step=10, slider="log", look=True, beside="stays"),
    Property("leaves", "Goes", "how it goes", "choice", "none", PLACED, "motion", choices=_MOTIONS, end="end",
             control="chips",             find="animation out"),
    _row("leave_length", "over", "how long it takes to go", "length", ticks(0.5), "end", **_LASTS),
    _row("leave_ease", "evenly or not", "how evenly it goes", "choice", "out", "end", choices=_EASES, control="choice",
         find="easing"),
    _row("leave_strength", "strength", "how strongly it moves as it goes", "number", 1.0, "end", **_STRENGTH),
)  # fmt: skip
