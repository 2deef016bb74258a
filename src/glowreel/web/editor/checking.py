"""What the checks find in a promo, for the page."""

from __future__ import annotations

import time
from collections.abc import Iterator
from typing import Any

import numpy as np

from glowreel.core.checks import CHECKS, Finding, Sight, findings
from glowreel.core.checks.picture import FLASHES
from glowreel.core.commands.base import called
from glowreel.core.document import Item, Promo
from glowreel.core.errors import Refusal
from glowreel.core.formats import Format
from glowreel.core.layout import Box
from glowreel.core.remembered import Remembered
from glowreel.core.timeline import timeline
from glowreel.core.words import Words
from glowreel.engine.flashes import worst_second
from glowreel.engine.type.setting import set_words
from glowreel.engine.typesetting import measure
from glowreel.web.extensions import the_preview

_found: Remembered[list[Finding]] = Remembered(20)
LOOKING = 1.5
"""For how many seconds letters are looked at for one answer."""
LONGEST = 300
"""So many seconds of a promo are looked at for flashes."""


def _unknown(words: Words) -> str:
    return set_words(words, 100.0, 100_000.0).unknown


class _Looking:
    """Looks at letters for so long; what is left is looked at when it is asked again, and what was seen is kept."""

    def __init__(self) -> None:
        self.end = time.monotonic() + LOOKING
        self.whole = True

    def contrast(self, promo: Promo, item: Item, format: Format, at: int) -> float | None:
        if time.monotonic() > self.end:
            self.whole = False
            return None
        try:
            return the_preview().eyes.contrast(promo, item, format, at)
        except Refusal:
            # What cannot be drawn is told where it is drawn.
            return None

    def faces(self, promo: Promo, item: Item, format: Format, at: int) -> tuple[Box, ...]:
        if time.monotonic() > self.end:
            self.whole = False
            return ()
        try:
            return the_preview().eyes.faces(promo, item, format, at)
        except Refusal:
            return ()

    def flashes(self, promo: Promo) -> Iterator[tuple[int, int]]:
        """The seconds with most flashes, each with the time from which they are counted. Seconds that have been looked
        at are known: it goes on where it stopped."""
        rate, format = promo.rate, promo.formats[0]
        second = max(1, round(rate.num / rate.den))
        total = min(timeline(promo).frame_count, LONGEST * second)
        lights: list[tuple[int, Any]] = []
        for first in range(0, total, second):
            if time.monotonic() > self.end:
                self.whole = False
                break
            try:
                lights.append((first, the_preview().eyes.light(promo, format, first, min(second, total - first))))
            except Refusal:
                lights.append((first, None))
        for n, (first, one) in enumerate(lights):
            # A second may begin in one and end in the next.
            other = lights[n + 1][1] if n + 1 < len(lights) else None
            fields = [part for part in (one, other) if part is not None]
            if fields:
                frame, count = worst_second(np.concatenate(fields), second)
                if count > FLASHES:
                    yield rate.frame_start(first + frame), count


class _Unfinished(Exception):
    """Not all has been looked at."""

    def __init__(self, found: list[Finding]) -> None:
        self.found = found


def found_in(promo: Promo) -> tuple[list[Finding], bool]:
    """What is found, and whether all has been looked at. Worked out once for a promo as it is."""

    def look() -> list[Finding]:
        looking = _Looking()
        found = findings(Sight(promo, measure, _unknown, looking.contrast, looking.faces, looking.flashes))
        if not looking.whole:
            raise _Unfinished(found)
        return found

    try:
        return _found.of((promo,), (), look), True
    except _Unfinished as unfinished:
        return unfinished.found, False


def told(promo: Promo) -> dict[str, Any]:
    """What the list shows: what is found, with the frame at which it is seen, and what has been dismissed."""
    (found, whole), index = found_in(promo), timeline(promo)
    dismissed = []
    for key, reason in promo.dismissed.items():
        check, part, format = key.split(":")
        command = {"do": "dismiss-check", "check": check, "part": part, "format": format, "reason": ""}
        label = CHECKS[check].label if check in CHECKS else check
        dismissed.append((command, reason, called(promo, index.find_part(part)), label))
    frames = [promo.rate.frame_floor(one.at) for one in found]
    return {"found": found, "whole": whole, "frames": frames, "checks": CHECKS, "dismissed": dismissed}
