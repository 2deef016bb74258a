"""Locked tracks: what is on them is not edited by name. It still moves with the clips it is tied to."""

from __future__ import annotations

from glowreel.core.commands.base import Command
from glowreel.core.commands.change import locked_track
from glowreel.core.commands.roles import named
from glowreel.core.document import Promo
from glowreel.core.timeline import timeline


def refuse_locked(promo: Promo, command: Command) -> None:
    """Raises a refusal where a command names something on a locked track."""
    index = timeline(promo)
    for key in sorted(named(command, "target")):
        track = index.track_of.get(key)
        if track is not None and track.locked:
            raise locked_track(track)
