"""What each kind of limited work may use, in one table."""

from __future__ import annotations

from dataclasses import dataclass

MEGABYTE = 1024**2
GIGABYTE = 1024**3
HOUR = 3600.0


@dataclass(frozen=True)
class Limits:
    """Of one piece of work.

    `memory` is bytes of its own, above what the server has; `processor` is seconds over all its threads; `seconds` is
    how long it may take in all unless it says that it needs longer, at most `longest`; `silence` is how long it may
    say nothing; `output` is bytes of one file; `files` is how many may be open at once.
    """

    memory: int
    processor: float
    seconds: float
    silence: float
    output: int
    longest: float = 0.0
    files: int = 256


LIMITS: dict[str, Limits] = {
    "take-in": Limits(2 * GIGABYTE, 6 * HOUR, 60.0, 30.0, 8 * GIGABYTE, longest=4 * HOUR),
    "unpack": Limits(GIGABYTE, 600.0, 300.0, 60.0, 2 * GIGABYTE + 1, longest=HOUR),
    "read": Limits(GIGABYTE, 60.0, 60.0, 60.0, 64 * MEGABYTE),
    "derive": Limits(2 * GIGABYTE, 6 * HOUR, 2 * HOUR, 120.0, 8 * GIGABYTE, longest=4 * HOUR),
    "speak": Limits(2 * GIGABYTE, 1800.0, 900.0, 300.0, 256 * MEGABYTE),
    "pages": Limits(2 * GIGABYTE, 900.0, 600.0, 120.0, 4 * GIGABYTE),
    "slides": Limits(2 * GIGABYTE, 900.0, 600.0, 300.0, 4 * GIGABYTE),
    "still": Limits(GIGABYTE, 60.0, 60.0, 60.0, 16 * MEGABYTE),
    "table": Limits(GIGABYTE, 60.0, 60.0, 60.0, 16 * MEGABYTE),
    "piece": Limits(2 * GIGABYTE, 2 * HOUR, HOUR, 120.0, 4 * GIGABYTE),
}

MOST = 8
"""So many pieces of work run at once; others wait their turn."""
REQUEST_BYTES = 64 * MEGABYTE
ANSWER_BYTES = 64 * MEGABYTE
"""The longest message either side takes."""
