"""Words as they are drawn, everything about their letters decided. Lengths in letter sizes if not said otherwise."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from glowreel.core.fonts import USUAL

MAX_LETTERS = 600
PAD = (0.36, 0.25)
"""Room between words and the edge of their box, across and down."""
ROUND = 0.22


@dataclass(frozen=True, slots=True)
class Run:
    """Part of the words in another manner: letters `start` to `end` of the text. What is empty is as in the rest;
    `size` is a factor, `mark` the colour of a highlight behind them."""

    start: int
    end: int
    font: str = ""
    weight: int = 0
    italic: bool | None = None
    colour: str = ""
    size: float = 1.0
    mark: str = ""


@dataclass(frozen=True, slots=True)
class Shade:
    """A shadow of letters: how far it lies to the right and down, how soft it is (the deviation of its Gaussian)."""

    across: float
    down: float
    soft: float
    colour: str
    opacity: float


@dataclass(frozen=True, slots=True)
class Words:
    """Words with everything about their letters decided.

    `box` is the colour of what is drawn behind them, where there is any: behind `all`, each `line` or each `word`,
    with room around (`pad`), its corners rounded by `round`. A `second` colour makes their fill a gradient at an angle
    (0° to the right, 90° down). `outline` is how wide the line around letters is. `under` is how they are underlined.
    On an `arc` of so many degrees, the line is bent upwards in its middle, or downwards where it is negative.
    """

    text: str
    font: str = USUAL
    weight: int = 800
    colour: str = "#FFFFFF"
    align: str = "left"
    line: float = 1.08
    box: str = ""
    box_opacity: float = 1.0
    shadow: float = 0.0
    italic: bool = False
    spacing: float = 0.0
    box_of: str = "all"
    pad: tuple[float, float] = PAD
    round: float = ROUND
    second: str = ""
    angle: float = 90.0
    outline: float = 0.0
    outline_colour: str = "#000000"
    shades: tuple[Shade, ...] = ()
    under: str = "none"
    under_colour: str = ""
    arc: float = 0.0
    runs: tuple[Run, ...] = ()


def _title(text: str) -> str:
    return "".join(
        letter.upper() if n == 0 or not (text[n - 1].isalnum() or text[n - 1] in "'’") else letter
        for n, letter in enumerate(text)
    )


def cased(text: str, case: str) -> str:
    """A text in capitals or without. Letters that have no single other form stay, so that each keeps its place."""
    if case == "typed":
        return text
    if case == "title":
        made = _title(text)
    else:
        made = "".join((letter.upper() if case == "upper" else letter.lower()) for letter in text)
    if len(made) == len(text):
        return made
    change = str.upper if case in ("upper", "title") else str.lower
    return "".join(change(letter) if len(change(letter)) == 1 else letter for letter in text)


def moved_runs(old: str, new: str, runs: tuple[dict[str, Any], ...]) -> tuple[dict[str, Any], ...]:
    """Parts of a text in another manner, where they are in a text that was changed in one place: what stands for all of
    one or was written in its middle belongs to it, what was written beside it does not, and what was taken away leaves
    it shorter, or nothing of it."""
    first = 0
    while first < min(len(old), len(new)) and old[first] == new[first]:
        first += 1
    last = 0
    while last < min(len(old), len(new)) - first and old[-1 - last] == new[-1 - last]:
        last += 1
    gone, come = len(old) - last, len(new) - last

    def place(at: int, begins: bool) -> int:
        if begins and at >= gone:
            return at - gone + come
        if at <= first:
            return at
        if at >= gone:
            return at - gone + come
        return come if begins else first

    moved = ({**run, "start": place(run["start"], True), "end": place(run["end"], False)} for run in runs)
    return tuple(run for run in moved if run["start"] < run["end"])
