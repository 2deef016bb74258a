"""Whose turn it is among the pieces that wait, and what so many workers would do with them.

The rule: of the teams that have pieces waiting, the one with the fewest in hand comes first; of its exports the oldest;
of that export's pieces the first. `services.pieces.claim` asks the database the same question.
"""

from __future__ import annotations

import heapq
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field


@dataclass(frozen=True)
class Waiting:
    """A piece that waits: of which team and export (its place in time), the how-many-eth of it, and how many seconds
    it takes."""

    team: str
    export: int
    number: int
    seconds: float


def turn(waiting: Sequence[Waiting], in_hand: Counter[str]) -> Waiting:
    """The piece whose turn it is, by what each team has in hand."""
    return min(waiting, key=lambda piece: (in_hand[piece.team], piece.export, piece.number))


@dataclass(frozen=True)
class Ran:
    """How a farm fared: seconds until all was done, how busy its workers were (1 is always), and when each export was
    done."""

    seconds: float
    efficiency: float
    done: dict[int, float] = field(default_factory=dict)


def simulate(pieces: Sequence[Waiting], workers: int, join_seconds: float = 0.0, start_seconds: float = 0.0) -> Ran:
    """Lets `workers` (≥ 1) make these pieces by the rule, `start_seconds` passing before each is begun; an export is
    done `join_seconds` after its last piece, which a worker spends on it. Efficiency is what one worker would need, by
    what these had."""
    waiting, in_hand, left = list(pieces), Counter[str](), Counter(piece.export for piece in pieces)
    free, now, busy = workers, 0.0, 0.0
    ends: list[tuple[float, int, Waiting | None, int]] = []
    joins: list[int] = []
    done: dict[int, float] = {}
    order = 0
    while waiting or ends or joins:
        while free and (joins or waiting):
            free -= 1
            order += 1
            if joins:
                heapq.heappush(ends, (now + join_seconds, order, None, joins.pop(0)))
                busy += join_seconds
                continue
            piece = turn(waiting, in_hand)
            waiting.remove(piece)
            in_hand[piece.team] += 1
            took = piece.seconds + start_seconds
            busy += took
            heapq.heappush(ends, (now + took, order, piece, piece.export))
        now, _, piece_done, export = heapq.heappop(ends)
        free += 1
        if piece_done is None:
            done[export] = now
            continue
        in_hand[piece_done.team] -= 1
        left[export] -= 1
        if not left[export]:
            joins.append(export)
    return Ran(now, busy / (workers * now) if now else 1.0, done)
