"""The grids that collages come in. A new one is a row: how its cells are arranged in wide, square and tall frames.

An arrangement is written as the frame is divided: `1|2` is two cells beside each other, `1/2` one over the other,
`(1|2)/3` two over one. A weight says how much of the room something takes: `1:2|2` gives the first two thirds.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from functools import cached_property

from glowreel.core.formats import Shape

_TOKENS = re.compile(r"[()|/]|:\d+|\d")


@dataclass(frozen=True)
class Node:
    """A piece of a frame: one cell, by its place in the order, or pieces beside or over each other, each with its
    weight."""

    cell: int = -1
    across: bool = True
    pieces: tuple[Node, ...] = ()
    weights: tuple[float, ...] = ()


def parsed(text: str) -> Node:
    """An arrangement as it is written. Raises `ValueError` where it is none."""
    tokens = _TOKENS.findall(text)
    if "".join(tokens) != text:
        raise ValueError(f"“{text}” is no arrangement")
    node = _pieces(tokens)
    if tokens:
        raise ValueError(f"“{text}” closes what it did not open")
    return node


def _pieces(tokens: list[str]) -> Node:
    pieces, weights, ways = [], [], set()
    while True:
        token = tokens.pop(0) if tokens else ""
        if token == "(":
            pieces.append(_pieces(tokens))
            if not tokens or tokens.pop(0) != ")":
                raise ValueError("a bracket is not closed")
        elif token.isdigit():
            pieces.append(Node(int(token) - 1))
        else:
            raise ValueError("a cell is missing")
        weights.append(float(tokens.pop(0)[1:]) if tokens and tokens[0].startswith(":") else 1.0)
        if not tokens or tokens[0] == ")":
            break
        ways.add(tokens.pop(0))
    if len(ways) > 1:
        raise ValueError("pieces lie beside or over each other, not both")
    return pieces[0] if len(pieces) == 1 else Node(-1, ways == {"|"}, tuple(pieces), tuple(weights))


@dataclass(frozen=True)
class Grid:
    """A grid of `count` cells, by how it is arranged in each shape of frame."""

    name: str
    label: str
    count: int
    wide: str
    square: str
    tall: str
    find: str = field(default="")

    @cached_property
    def arranged(self) -> dict[Shape, Node]:
        return {"wide": parsed(self.wide), "square": parsed(self.square), "tall": parsed(self.tall)}


_ROWS = (
    Grid("one", "One", 1, "1", "1", "1", "frame single border"),
    Grid("two", "Two alike", 2, "1|2", "1|2", "1/2", "half before after"),
    Grid("two-strips", "Two strips", 2, "1/2", "1/2", "1|2", "half"),
    Grid("two-large", "Large and small", 2, "1:2|2", "1:2|2", "1:2/2", "uneven third"),
    Grid("two-small", "Small and large", 2, "1|2:2", "1|2:2", "1/2:2", "uneven third"),
    Grid("three", "Three in a row", 3, "1|2|3", "1|2|3", "1/2/3", "columns strips"),
    Grid("three-first", "One beside two", 3, "1|(2/3)", "1|(2/3)", "1/(2|3)", "lead"),
    Grid("three-last", "Two beside one", 3, "(1/2)|3", "(1/2)|3", "(1|2)/3", "lead"),
    Grid("three-lead", "A lead and two", 3, "1:2|(2/3)", "1:2/(2|3)", "1:2/(2|3)", "hero large"),
    Grid("three-middle", "Wide middle", 3, "1|2:2|3", "1/2:2/3", "1/2:2/3", "centre"),
    Grid("four", "Two by two", 4, "(1|2)/(3|4)", "(1|2)/(3|4)", "(1|2)/(3|4)", "quarters"),
    Grid("four-row", "Four in a row", 4, "1|2|3|4", "1|2|3|4", "1/2/3/4", "columns strips"),
    Grid("four-lead", "A lead and three", 4, "1:2|(2/3/4)", "1:2/(2|3|4)", "1:2/(2|3|4)", "hero large"),
    Grid("four-steps", "Steps", 4, "(1:2|2)/(3|4:2)", "(1:2|2)/(3|4:2)", "(1/2:2)|(3:2/4)", "staggered uneven bricks"),
    Grid("four-pair", "Between two", 4, "1|(2/3)|4", "1/(2|3)/4", "1/(2|3)/4", "middle"),
    Grid("five", "Two and three", 5, "(1|2)/(3|4|5)", "(1|2)/(3|4|5)", "(1|2)/3/(4|5)", "rows"),
    Grid("five-lead", "A lead and four", 5, "1|((2|3)/(4|5))", "1:3/((2|3)/(4|5)):4", "1/((2|3)/(4|5))", "hero large"),
    Grid("five-row", "Five in a row", 5, "1|2|3|4|5", "1/2/3/4/5", "1/2/3/4/5", "columns strips"),
    Grid("five-cross", "Around a middle", 5, "(1/2)|3:2|(4/5)", "(1|2)/3:2/(4|5)", "(1|2)/3:2/(4|5)", "centre"),
    Grid("six", "Three by two", 6, "(1|2|3)/(4|5|6)", "(1|2|3)/(4|5|6)", "(1|2)/(3|4)/(5|6)", "rows"),
    Grid("six-lead", "A lead and five", 6, "(1:2|(2/3)):2/(4|5|6)", "(1:2|(2/3)):2/(4|5|6)",
         "(1:2|(2/3)):2/(4|5|6)", "hero large"),
    Grid("six-steps", "Bricks", 6, "(1:2|2|3)/(4|5|6:2)", "(1:2|2)/(3|4:2)/(5:2|6)", "(1:2|2)/(3|4:2)/(5:2|6)",
         "staggered uneven"),
    Grid("seven", "Rows of seven", 7, "(1|2|3)/(4|5|6|7)", "(1|2)/(3|4|5)/(6|7)", "(1|2)/(3|4|5)/(6|7)", "rows"),
    Grid("seven-lead", "A lead and six", 7, "1|((2|3)/(4|5)/(6|7))", "1:3/((2|3|4)/(5|6|7)):4",
         "1/((2|3)/(4|5)/(6|7))", "hero large"),
    Grid("eight", "Four by two", 8, "(1|2|3|4)/(5|6|7|8)", "(1|2|3)/(4|5)/(6|7|8)", "(1|2)/(3|4)/(5|6)/(7|8)", "rows"),
    Grid("eight-frame", "Around words", 8, "(1|2|3)/(4|5:2|6):2/(7|8)", "(1|2|3)/(4|5:2|6):2/(7|8)",
         "(1|2)/(3|4:2|5):2/(6|7|8)", "centre middle"),
    Grid("nine", "Three by three", 9, "(1|2|3)/(4|5|6)/(7|8|9)", "(1|2|3)/(4|5|6)/(7|8|9)", "(1|2|3)/(4|5|6)/(7|8|9)",
         "wall rows"),
    Grid("nine-lead", "A middle and eight", 9, "(1/2)|(3/4)|5:3|(6/7)|(8/9)", "(1|2|3|4)/5:2/(6|7|8|9)",
         "(1|2)/(3|4)/5:3/(6|7)/(8|9)", "hero centre"),
)  # fmt: skip
GRIDS: dict[str, Grid] = {row.name: row for row in _ROWS}
"""Every grid by its name, by how many cells it has."""
MOST = 9
"""Cells that a collage has at most."""
