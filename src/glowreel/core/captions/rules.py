"""What makes captions easy to read: how much stands in a line and a cue, how long it stays, where it breaks."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from glowreel.core.formats import Format, Shape, shape_of
from glowreel.core.speech.transcript import plain, word_set

LINES = 2
LINE_LETTERS: dict[Shape, int] = {"wide": 42, "square": 36, "tall": 32}
"""Letters in a line at most, by shape."""
LEAST_SECONDS, MOST_LETTERS_A_SECOND = 0.8, 20.0
LONGEST_SECONDS = 7.0
PAUSE_SECONDS = 0.8
"""A pause after which another cue begins."""
CLOSED_SECONDS = 0.5
"""A gap between two cues that is shorter is closed."""
LINGER_SECONDS = 0.6
"""So long a cue may stay after its last word, to be read."""
ENDS, HALTS = (".", "!", "?", "…", "。", "！", "？"), (",", ";", ":", "–", "—", "،", "、")
BEFORE = word_set(
    "and or but so because that which who when where while if as than then to of for with from in on at "
    "by into und oder aber weil dass wenn als mit von für in auf et ou mais que qui avec pour dans y o "
    "pero que con para en"
)
"""Words before which a line or a cue breaks better than after them."""
CLINGS = word_set("a an the my your our his her its their this that der die das ein eine le la les un une el los")
"""Words that stay with the one after them."""


def line_letters(formats: Iterable[Format]) -> int:
    """Letters in a line that every one of these formats has room for."""
    return min((LINE_LETTERS[shape_of(one.wide, one.high)] for one in formats), default=LINE_LETTERS["wide"])


def break_cost(before: str, behind: str) -> float:
    """How bad it is to break between two words: 0 after a sentence, most between an article and its noun."""
    if before.endswith(ENDS):
        return 0.0
    if before.endswith(HALTS):
        return 0.6
    if plain(before) in CLINGS:
        return 4.0
    if plain(behind) in BEFORE:
        return 1.2
    return 4.0 if plain(before) in BEFORE else 2.2


def lines_of(texts: Sequence[str], letters: int, forced: Iterable[int] = ()) -> list[tuple[int, int]]:
    """Words in lines, as first and last + 1: as few lines as it takes, broken where that reads best and evenly, and
    always before the forced ones."""
    breaks = sorted({at for at in forced if 0 < at < len(texts)})
    if breaks:
        edges = [0, *breaks, len(texts)]
        return [
            (start + a, start + b)
            for start, end in zip(edges, edges[1:], strict=False)
            for a, b in lines_of(texts[start:end], letters)
        ]
    sizes = [len(text) for text in texts]
    whole = sum(sizes) + max(0, len(sizes) - 1)
    if whole <= letters or len(texts) < 2:
        return [(0, len(texts))] if texts else []
    best: tuple[float, int] | None = None
    first = 0
    for at in range(1, len(texts)):
        first += sizes[at - 1] + (at > 1)
        second = whole - first - 1
        if max(first, second) > letters:
            continue
        # The lower line may well be the longer one, but not by much.
        cost = break_cost(texts[at - 1], texts[at]) + 5.0 * abs(first - second) / whole + (0.3 if first > second else 0)
        if best is None or cost < best[0]:
            best = cost, at
    if best is not None:
        return [(0, best[1]), (best[1], len(texts))]
    return _greedy(sizes, letters)


def _greedy(sizes: Sequence[int], letters: int) -> list[tuple[int, int]]:
    made, start, used = [], 0, 0
    for at, size in enumerate(sizes):
        if at > start and used + 1 + size > letters:
            made.append((start, at))
            start, used = at, size
        else:
            used += size + (at > start)
    return [*made, (start, len(sizes))]


@dataclass(frozen=True, slots=True)
class Spoken:
    """A word as a cue needs it: its text, when it is said (ticks), and what was said of it by hand."""

    text: str
    start: int
    end: int
    marks: tuple[str, ...] = ()
    source: str = ""


def cues_of(words: Sequence[Spoken], letters: int, second: int) -> list[tuple[int, int]]:
    """Words in cues, as first and last + 1: another one after a pause, when another voice begins, where it was said,
    and otherwise where it reads best within what two lines hold and a cue may last. `second` is how many ticks."""
    made: list[tuple[int, int]] = []
    start = 0
    for at in range(1, len(words) + 1):
        if at == len(words) or _hard(words[at - 1], words[at], second):
            made += [(start + a, start + b) for a, b in _split(words[start:at], letters, second)]
            start = at
    return made


def _hard(before: Spoken, behind: Spoken, second: int) -> bool:
    if "cue" in behind.marks:
        return True
    if behind.source != before.source:
        return True
    return behind.start - before.end >= PAUSE_SECONDS * second and "run" not in behind.marks


def _split(words: Sequence[Spoken], letters: int, second: int) -> list[tuple[int, int]]:
    """The cheapest cues of words without a hard break, by dynamic programming."""
    sizes = [len(word.text) for word in words]
    most = LINES * letters
    best: list[tuple[float, int]] = [(0.0, 0)] + [(float("inf"), 0)] * len(words)
    for end in range(1, len(words) + 1):
        size = 0
        for start in range(end - 1, -1, -1):
            size += sizes[start] + (start < end - 1)
            joined = start > 0 and "run" in words[start].marks
            lasts = (words[end - 1].end - words[start].start) / second
            if (size > most * 1.5 or lasts > 2 * LONGEST_SECONDS) and end - start > 1:
                break
            if joined or best[start][0] == float("inf"):
                continue
            whole = size <= letters or len(_greedy(sizes[start:end], letters)) <= LINES
            cost = best[start][0] + _cost(words, start, end, size, whole, lasts)
            if cost < best[end][0]:
                best[end] = cost, start
    if best[-1][0] == float("inf"):
        return [(0, len(words))]
    made, at = [], len(words)
    while at > 0:
        made.append((best[at][1], at))
        at = best[at][1]
    return made[::-1]


def _cost(words: Sequence[Spoken], start: int, end: int, size: int, whole: bool, lasts: float) -> float:
    cost = 3.0
    if end < len(words):
        cost += 2.0 * break_cost(words[end - 1].text, words[end].text)
    if not whole:
        cost += 100.0 + size
    if lasts > LONGEST_SECONDS:
        cost += 50.0
    if lasts < LEAST_SECONDS:
        cost += 4.0 * (LEAST_SECONDS - lasts)
    if size < 12 and not words[end - 1].text.endswith(ENDS):
        cost += 2.5
    # A sentence that ends within a cue is better shown by itself.
    cost += 1.6 * sum(word.text.endswith(ENDS) for word in words[start : end - 1])
    return cost
