"""What a recipe needs to know of files beyond their facts: what was found by makers of derived media.

`core` makes nothing itself: it says what it needs, and is told through a `Known` what has been found by then.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True, slots=True)
class Need:
    """What a maker makes of a source (by its hash) with settings, those that are not the usual ones."""

    source: str
    maker: str
    settings: tuple[tuple[str, Any], ...] = ()


Facts = Mapping[str, Any]
Known = Callable[[Need], Facts | None]
"""Answers with what was found, or None as long as it has not been."""


def nothing(need: Need) -> None:
    """Knows nothing: recipes are made as long as nothing was found."""
    return None


LEVEL, CEILING, MOST = -18.0, -1.0, 24.0
"""To what loudness (LUFS) a part is brought, to what true peak (dBTP) at most, and by how many decibels at most."""


def levelling(facts: Facts | None) -> float:
    """By how many decibels a part that is to be levelled is louder; 0 while nothing is known, and for silence."""
    found = facts or {}
    loudness: float | None = found.get("lufs")
    peak: float | None = found.get("peak")
    if loudness is None:
        return 0.0
    wanted = LEVEL - loudness if peak is None else min(LEVEL - loudness, CEILING - peak)
    return max(-MOST, min(MOST, wanted))
