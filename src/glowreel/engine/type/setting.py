"""From shaped letters to lines: where lines break, in which order letters stand, and where each of them is."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import lru_cache

from glowreel.core.words import Words
from glowreel.engine.drawing import part
from glowreel.engine.type.faces import face
from glowreel.engine.type.shaping import Letter, letters_of

SLACK = 1.0
"""How much wider words are taken to be than their longest line, in units."""


@dataclass(frozen=True)
class Set:
    """A letter in its place: its left edge, the height of the line that it stands on, that line's number, how it is
    turned there, and how far left of its edge its glyphs begin: where a ligature runs from right to left."""

    letter: Letter
    x: float
    y: float
    line: int
    turn: float = 0.0
    before: float = 0.0

    @property
    def middle(self) -> float:
        return self.x + self.letter.width / 2


@dataclass(frozen=True)
class Line:
    """A line: its top and height, where it begins and how wide it is, and the letters of the text that it has."""

    top: float
    height: float
    left: float
    width: float
    start: int
    end: int


@dataclass(frozen=True)
class Setting:
    """Words in lines, from their top left corner on. `letters` are in reading order."""

    width: float
    height: float
    lines: tuple[Line, ...]
    letters: tuple[Set, ...]

    @property
    def unknown(self) -> str:
        """The letters for which there is no face."""
        return "".join(sorted({one.letter.text for one in self.letters if not one.letter.known}))


def _pads(words: Words, size: float) -> tuple[float, float]:
    return (words.pad[0] * size, words.pad[1] * size) if words.box else (0.0, 0.0)


@lru_cache(maxsize=512)
@part()
def set_words(words: Words, size: float, wrap: float) -> Setting:
    """Words in lines no wider than `wrap`, with room for the box behind them."""
    across, down = _pads(words, size)
    inner = max(1.0, wrap - 2 * across)
    rows = [row for paragraph in letters_of(words, size) for row in _broken(paragraph, inner)]
    widths = [_wide(row, words.spacing * size) for row in rows]
    widest = max(widths, default=0.0) + SLACK
    lines, letters, top, start = [], [], down, 0
    rise = face(words.font, words.weight, words.italic).above
    for number, (row, width) in enumerate(zip(rows, widths, strict=True)):
        tall = max([one.size for one in row if not one.white], default=size) * words.line
        left = across + {"left": 0.0, "centre": (widest - width) / 2, "right": widest - width}[words.align]
        base = top + rise * tall
        begin, end = (row[0].start, row[-1].end) if row else (start, start)
        start = end + 1
        lines.append(Line(top, tall, left, width, begin, end))
        letters += _placed(row, left, base, number)
        top += tall
    setting = Setting(widest + 2 * across, top + down, tuple(lines), tuple(letters))
    return bent(setting, words.arc) if words.arc else setting


def _wide(row: list[Letter], spacing: float) -> float:
    """How wide a line is, without the room after its last letter and what is white there."""
    end = len(row)
    while end and row[end - 1].white:
        end -= 1
    return sum(one.width for one in row[:end]) - (spacing if end else 0.0)


def _broken(letters: list[Letter], room: float) -> Iterator[list[Letter]]:
    """A paragraph in lines: broken where it may be, and anywhere where a word is wider than the room."""
    begin = last = 0
    width = 0.0
    for n, letter in enumerate(letters):
        if letter.breaks and n > begin:
            last = n
        if not letter.white and width + letter.width > room and n > begin:
            end = last if last > begin else n
            yield letters[begin:end]
            begin = end
            width = sum(one.width for one in letters[begin:n])
        width += letter.width
    yield letters[begin:]


def _placed(row: list[Letter], left: float, base: float, line: int) -> list[Set]:
    """The letters of a line in their places, in reading order; in the order in which they are seen (UAX 9, L2)."""
    end = len(row)
    while end and row[end - 1].white:
        end -= 1
    order = list(range(end))
    levels = [one.level for one in row]
    for level in range(max(levels, default=0), 0, -1):
        at = 0
        while at < len(order):
            if levels[order[at]] < level:
                at += 1
                continue
            end = at
            while end < len(order) and levels[order[end]] >= level:
                end += 1
            order[at:end] = reversed(order[at:end])
            at = end
    places, x = {}, left
    for index in order:
        places[index] = x
        x += row[index].width
    # White at the end takes no room: it stands beyond the line, on the side to which that runs.
    back, backwards = left, bool(row) and row[-1].level % 2 == 1
    for index in range(end, len(row)):
        back -= row[index].width
        places[index] = back if backwards else x
        x += row[index].width
    return [Set(letter, places[n], base, line, before=_before(row, places, n)) for n, letter in enumerate(row)]


def _before(row: list[Letter], places: dict[int, float], at: int) -> float:
    """How far left of a letter the last one stands that is drawn with it."""
    end = at + 1
    while end < len(row) and row[end].follows:
        end += 1
    return places[at] - min(places[n] for n in range(at, end))


def bent(setting: Setting, degrees: float) -> Setting:
    """Words along the arc of a circle that each line covers by so many degrees: upwards in the middle, or downwards."""
    widest = max(line.width for line in setting.lines) or 1.0
    radius = widest / math.radians(abs(degrees))
    up = 1 if degrees > 0 else -1
    middle = setting.width / 2
    letters = []
    for one in setting.letters:
        # Inner lines of a bow have a smaller circle, so that all share a middle.
        base = setting.letters[0].y
        far = radius - up * (one.y - base)
        angle = (one.middle - middle) / max(1.0, radius)
        x, y = middle + far * math.sin(angle), base + up * (radius - far * math.cos(angle))
        letters.append(replace(one, x=x - one.letter.width / 2, y=y, turn=math.degrees(angle) * up))
    return _boxed(setting, letters)


def _boxed(setting: Setting, letters: list[Set]) -> Setting:
    """Turned letters, moved so that all of them lie in a box from the corner on."""
    if not letters:
        return setting
    corners = [corner for one in letters if not one.letter.white for corner in _corners(one)]
    if not corners:
        return setting
    left, top = min(x for x, _ in corners), min(y for _, y in corners)
    right, low = max(x for x, _ in corners), max(y for _, y in corners)
    moved = tuple(replace(one, x=one.x - left, y=one.y - top) for one in letters)
    return Setting(right - left, low - top, setting.lines, moved)


def _corners(one: Set) -> list[tuple[float, float]]:
    """The corners of a turned letter's own box; it is turned about the middle of its foot."""
    rise, fall = (part * one.letter.size for part in one.letter.face.rise)
    cos, sin = math.cos(math.radians(one.turn)), math.sin(math.radians(one.turn))
    half = one.letter.width / 2
    spots = ((-half, -rise), (half, -rise), (-half, fall), (half, fall))
    return [(one.middle + x * cos - y * sin, one.y + x * sin + y * cos) for x, y in spots]


def units_of(setting: Setting, unit: str) -> list[list[Set]]:
    """The letters that come together: each by itself, by word, by line, or all. White is in none of them."""
    units: list[list[Set]] = []
    last: Set | None = None
    for one in setting.letters:
        if not one.letter.white:
            fresh = (
                last is None
                or (unit == "letter" and not one.letter.follows)
                or (unit == "word" and _word_begins(one, last))
                or (unit == "line" and one.line != last.line)
            )
            if fresh:
                units.append([])
            units[-1].append(one)
            last = one
    return units


def _word_begins(one: Set, last: Set) -> bool:
    """Whether a word begins with a letter; in scripts without white between words, wherever a line might."""
    apart = one.letter.start != last.letter.end or one.line != last.line
    return apart or (one.letter.breaks and ord(one.letter.text[0]) >= 0x2E80)
