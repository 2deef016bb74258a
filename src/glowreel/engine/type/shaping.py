"""From text to letters with their glyphs: which face each is set in, which way it runs, how wide it is."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import groupby

import uharfbuzz as harfbuzz
from bidi import algorithm as bidi
from uniseg.graphemecluster import grapheme_cluster_boundaries
from uniseg.linebreak import line_break_boundaries

from glowreel.core.words import Run, Words
from glowreel.engine.type.faces import WHITE, Face, face_for


@dataclass(frozen=True)
class Glyph:
    """A glyph of a face: where it stands from the beginning of its letter, in units."""

    number: int
    x: float
    y: float


@dataclass
class Letter:
    """What is seen as one letter: letters `start` to `end` of the text, its face and size, how wide it is, and its
    glyphs. `level` is odd where it runs from right to left. `run` is which part of the words it belongs to, −1 for
    none. `follows` says that it has no glyph of its own because it is drawn with the letter before."""

    start: int
    end: int
    text: str
    face: Face
    size: float
    run: int
    level: int
    known: bool
    width: float = 0.0
    glyphs: tuple[Glyph, ...] = ()
    follows: bool = False
    breaks: bool = False
    """Whether a line may end before it."""

    @property
    def white(self) -> bool:
        return self.text in WHITE


def _levels(text: str) -> list[int]:
    """For each character how deep it lies in text of the other direction (UAX 9); odd ones run from right to left."""
    storage = bidi.get_empty_storage()
    storage["base_level"] = bidi.get_base_level(text)
    storage["base_dir"] = ("L", "R")[storage["base_level"]]
    bidi.get_embedding_levels(text, storage)
    for index, char in enumerate(storage["chars"]):
        char["index"] = index
    count = len(storage["chars"])
    bidi.explicit_embed_and_overrides(storage)
    bidi.resolve_weak_types(storage)
    bidi.resolve_neutral_types(storage, False)
    bidi.resolve_implicit_levels(storage, False)
    levels = [int(storage["base_level"])] * count
    for char in storage["chars"]:
        levels[char["index"]] = int(char["level"])
    return levels


def _plain(text: str) -> bool:
    """Whether nothing in a text can run from right to left."""
    return all(ord(char) < 0x590 or 0x2010 <= ord(char) < 0x2060 for char in text)


def _of(runs: tuple[Run, ...], start: int) -> int:
    """Which of the parts in another manner a letter belongs to: the last that has it."""
    return next((n for n in range(len(runs) - 1, -1, -1) if runs[n].start <= start < runs[n].end), -1)


def letters_of(words: Words, size: float) -> list[list[Letter]]:
    """The letters of each paragraph of words, shaped, in reading order."""
    paragraphs, begin = [], 0
    for text in words.text.split("\n"):
        paragraphs.append(_paragraph(text, begin, words, size))
        begin += len(text) + 1
    return paragraphs


def _paragraph(text: str, begin: int, words: Words, size: float) -> list[Letter]:
    levels = [0] * len(text) if _plain(text) else _levels(text)
    edges = list(grapheme_cluster_boundaries(text)) if text else []
    breaks = set(line_break_boundaries(text)) if text else set()
    letters = []
    for a, b in zip(edges, edges[1:], strict=False):
        run = _of(words.runs, begin + a)
        part = words.runs[run] if run >= 0 else Run(0, 0)
        italic = words.italic if part.italic is None else part.italic
        face, known = face_for(text[a:b], part.font or words.font, part.weight or words.weight, italic)
        letters.append(
            Letter(begin + a, begin + b, text[a:b], face, size * part.size, run, levels[a], known, breaks=a in breaks)
        )
    for stretch in _stretches(letters):
        _shape(stretch, text, begin, words.spacing)
    return letters


def _stretches(letters: list[Letter]) -> Iterator[list[Letter]]:
    """Runs of letters that are shaped together."""
    for _, group in groupby(letters, key=lambda one: (one.face, one.size, one.level, one.run)):
        yield list(group)


def _shape(letters: list[Letter], text: str, begin: int, spacing: float) -> None:
    """Gives letters of one face and direction their glyphs and widths."""
    first = letters[0]
    buffer = harfbuzz.Buffer()
    a, b = first.start - begin, letters[-1].end - begin
    buffer.add_str(text, a, b - a)
    buffer.guess_segment_properties()
    buffer.direction = "rtl" if first.level % 2 else "ltr"
    # What is set apart is not joined: ligatures would look like letters without the room.
    harfbuzz.shape(first.face.shaper, buffer, {"liga": False, "clig": False} if spacing else {})
    scale = first.size / first.face.units
    spot = {letter.start - begin: letter for letter in letters}
    found: dict[int, list[tuple[int, float, float, float]]] = {}
    for info, place in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
        found.setdefault(info.cluster, []).append(
            (info.codepoint, place.x_advance * scale, place.x_offset * scale, -place.y_offset * scale)
        )
    owner = first
    kept: dict[int, list[tuple[int, float, float, float]]] = {}
    for letter in letters:
        own = [glyph for at in range(letter.start - begin, letter.end - begin) for glyph in found.get(at, ())]
        letter.follows = not own
        if own:
            owner = letter
        kept.setdefault(owner.start - begin, []).extend(own)
    joined = str(buffer.script).upper() in ("ARAB", "SYRC", "MONG", "NKOO")
    for at, glyphs in kept.items():
        letter, x, made = spot[at], 0.0, []
        for number, advance, across, down in glyphs:
            made.append(Glyph(number, x + across, down))
            x += advance
        letter.glyphs, letter.width = tuple(made), x + (0.0 if joined else spacing * letter.size)
    _share(letters)


def _share(letters: list[Letter]) -> None:
    """A ligature's width is shared among the letters that it is made of, so that a caret can stand between them."""
    at = 0
    while at < len(letters):
        end = at + 1
        while end < len(letters) and letters[end].follows:
            end += 1
        width = letters[at].width / (end - at)
        for letter in letters[at:end]:
            letter.width = width
        at = end
