"""Where the cells of a collage lie in a frame, and where the lines between them are. Canonical units."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from glowreel.core.collage.grids import Grid, Node
from glowreel.core.formats import Shape, shape_of
from glowreel.core.layout import Box

LEAST = 0.06
"""What a piece keeps at least of the room that it shares with its neighbours."""
Weights = Mapping[str, tuple[float, ...]]
"""How pieces share their room where that is not as the grid has it: by `<shape>:<path>`, a path being the places of the
pieces that lead there, with dots between them."""


@dataclass(frozen=True)
class Divider:
    """The gap between two neighbours: after which piece of which path it lies, whether it is moved across, the box it
    fills, the box that its pieces share, and how much of that they have before it."""

    path: str
    after: int
    across: bool
    box: Box
    room: Box
    share: float


def weights_of(node: Node, key: str, own: Weights) -> tuple[float, ...]:
    """The weights of the pieces of a node, which add up to 1."""
    given = own.get(key, ())
    weights = given if len(given) == len(node.pieces) else node.weights
    whole = sum(weights)
    return tuple(weight / whole for weight in weights)


def _walk(
    node: Node, shape: Shape, path: str, room: Box, gap: float, own: Weights
) -> tuple[dict[int, Box], list[Divider]]:
    if not node.pieces:
        return {node.cell: room}, []
    cells: dict[int, Box] = {}
    found: list[Divider] = []
    weights = weights_of(node, f"{shape}:{path}", own)
    long = room.width if node.across else room.height
    spare, at = max(0.0, long - gap * (len(weights) - 1)), 0.0
    for place, (piece, weight) in enumerate(zip(node.pieces, weights, strict=True)):
        length = spare * weight
        lies = (
            Box(room.x + at, room.y, length, room.height)
            if node.across
            else Box(room.x, room.y + at, room.width, length)
        )
        inner, more = _walk(piece, shape, f"{path}.{place}" if path else str(place), lies, gap, own)
        cells |= inner
        found += more
        at += length
        if place + 1 < len(weights):
            line = (
                Box(room.x + at, room.y, gap, room.height) if node.across else Box(room.x, room.y + at, room.width, gap)
            )
            found.append(Divider(path, place, node.across, line, room, sum(weights[: place + 1])))
        at += gap
    return cells, found


def _room(size: tuple[float, float], rim: float) -> Box:
    rim = min(rim, min(size) * 0.4)
    return Box(rim, rim, size[0] - 2 * rim, size[1] - 2 * rim)


def arranged(grid: Grid, size: tuple[float, float], gap: float, rim: float, own: Weights) -> tuple[Box, ...]:
    """The box of each cell in a frame of a size, in the order of the cells."""
    shape = shape_of(*size)
    cells, _ = _walk(grid.arranged[shape], shape, "", _room(size, rim), gap, own)
    return tuple(cells[n] for n in range(grid.count))


def dividers(grid: Grid, size: tuple[float, float], gap: float, rim: float, own: Weights) -> list[Divider]:
    """Every line between cells in a frame of a size."""
    shape = shape_of(*size)
    return _walk(grid.arranged[shape], shape, "", _room(size, rim), gap, own)[1]


def node_at(grid: Grid, shape: Shape, path: str) -> Node | None:
    """The piece of an arrangement to which a path leads; None where there is none."""
    node = grid.arranged[shape]
    for step in path.split(".") if path else ():
        if not step.isdigit() or int(step) >= len(node.pieces):
            return None
        node = node.pieces[int(step)]
    return node if node.pieces else None


def divided(node: Node, key: str, own: Weights, after: int, share: float) -> tuple[float, ...]:
    """The weights of a node's pieces when the line after one of them is moved to where so much of all is before it: its
    two neighbours give and take, and keep at least `LEAST` each."""
    weights = list(weights_of(node, key, own))
    before, both = sum(weights[:after]), weights[after] + weights[after + 1]
    least = min(LEAST, both / 2)
    first = min(max(share - before, least), both - least)
    weights[after], weights[after + 1] = first, both - first
    return tuple(round(weight, 6) for weight in weights)
