"""Captions as timed text, as files and players take them."""

from __future__ import annotations

from glowreel.core.captions.model import Captions
from glowreel.core.captions.shown import cues, written
from glowreel.core.document import Promo
from glowreel.core.formats import Format
from glowreel.core.speech.transcript import MILLISECOND

Timed = tuple[int, int, str]
"""From when to when (milliseconds), and what is shown, its lines broken."""


def timed(promo: Promo, lane: Captions, format: Format | None = None) -> list[Timed]:
    """The cues of a lane, their lines broken as in a format, or so that every format of the promo has room."""
    shapes = [format] if format is not None else list(promo.formats)
    return [
        (round(cue.start / MILLISECOND), round(cue.end / MILLISECOND), written(cue, shapes))
        for cue in cues(promo, lane)
    ]


def without_burn_in(promo: Promo) -> Promo:
    """The promo with no captions in its picture."""
    return promo.changed(captions=tuple(lane.changed(shown=False) for lane in promo.captions))
