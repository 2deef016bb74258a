"""Music and effects that come with the program: a table of what there is, and the files. All of it was composed and
synthesised by `tools.library`; nobody else has rights in it."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from pathlib import Path

import orjson

FOLDER = Path(__file__).parent / "files"
TABLE = Path(__file__).parent / "table.json"
LICENCE = "Made for Glow Reel: free in whatever is made with it. Nobody has to be named."


@dataclass(frozen=True, slots=True)
class Piece:
    """One piece of the library. `sort` is *song*, *loop*, *sting* or *effect*; `mood` a mood, or of an effect its
    family; `pace` beats a minute and `key` its key, empty for effects; `length` seconds; `energy` from quiet to loud
    over its time, ten numbers of 0 to 1; `peaks` 120 of 0 to 255; `features` what it is like, for comparing: pace,
    brightness, density, loudness, major or minor, each about 0 to 1. `attribution` is whom to name, if anybody."""

    id: str
    name: str
    sort: str
    mood: str
    words: str
    pace: float
    key: str
    length: float
    energy: tuple[float, ...]
    peaks: tuple[int, ...]
    features: tuple[float, ...]
    attribution: str = ""

    @property
    def path(self) -> Path:
        return FOLDER / f"{self.id}.ogg"

    @property
    def tempo(self) -> str:
        """slow, middling or quick; empty where it has no beat."""
        return "" if not self.pace else "slow" if self.pace < 90 else "middling" if self.pace < 118 else "quick"

    @property
    def force(self) -> str:
        """calm, even or strong, by how loud and dense it is."""
        strength = (self.features[2] + self.features[3]) / 2
        return "calm" if strength < 0.4 else "even" if strength < 0.62 else "strong"


@cache
def pieces() -> Mapping[str, Piece]:
    """Every piece by its identifier, in the order in which they are listed."""
    rows = orjson.loads(TABLE.read_bytes())
    made = (Piece(**{**row, "energy": tuple(row["energy"]), "peaks": tuple(row["peaks"]),
                     "features": tuple(row["features"])}) for row in rows)  # fmt: skip
    return {piece.id: piece for piece in made}


def alike(piece: Piece, turn: str = "") -> list[Piece]:
    """The other pieces of its sort, those that are most like it first: `calmer` or `stronger` ones, if that is
    wanted."""
    weights = (1.0, 0.8, 1.2, 1.0, 0.7)

    def away(other: Piece) -> float:
        pairs = zip(piece.features, other.features, weights, strict=True)
        return math.sqrt(sum((weight * (a - b)) ** 2 for a, b, weight in pairs))

    def force(one: Piece) -> float:
        return one.features[2] + one.features[3] + one.features[0] / 2

    others = [other for other in pieces().values() if other.sort == piece.sort and other.id != piece.id]
    if turn:
        way = -1 if turn == "calmer" else 1
        others = [other for other in others if way * (force(other) - force(piece)) > 0.08]
    return sorted(others, key=away)
