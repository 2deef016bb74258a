"""Everything that is tried, by its name."""

from __future__ import annotations

from attacks.killing import kills
from attacks.trials import (
    crowd,
    deaths,
    emptied_queue,
    full_disk,
    hostile_files,
    large_bodies,
    long_sound,
    pair,
    slow_connections,
    stubborn_work,
)

TRIALS = {
    "pair": pair,
    "files": hostile_files,
    "sound": long_sound,
    "stubborn": stubborn_work,
    "deaths": deaths,
    "crowd": crowd,
    "slow": slow_connections,
    "bodies": large_bodies,
    "queue": emptied_queue,
    "disk": full_disk,
    "kills": kills,
}

LONG = ("kills",)
"""What takes hours, and is tried where it is named alone."""
