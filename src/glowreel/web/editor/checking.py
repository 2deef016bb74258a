"""What the checks find in a promo, for the page."""

from __future__ import annotations

from typing import Any

from glowreel.core.checks import CHECKS, Finding, Sight, findings
from glowreel.core.commands.base import called
from glowreel.core.document import Promo
from glowreel.core.timeline import timeline
from glowreel.core.words import Words
from glowreel.engine.type.setting import set_words
from glowreel.engine.typesetting import measure
from glowreel.web.editor.known import Known
from glowreel.web.extensions import the_preview

_found: Known[list[Finding]] = Known(20)


def _unknown(words: Words) -> str:
    return set_words(words, 100.0, 100_000.0).unknown


def found_in(promo: Promo) -> list[Finding]:
    """What is found, worked out once for a promo as it is."""
    return _found.of((promo,), (), lambda: findings(Sight(promo, measure, _unknown, the_preview().contrast)))


def told(promo: Promo) -> dict[str, Any]:
    """What the list shows: what is found, with the frame at which it is seen, and what has been dismissed."""
    found, index = found_in(promo), timeline(promo)
    dismissed = []
    for key, reason in promo.dismissed.items():
        check, part, format = key.split(":")
        command = {"do": "dismiss-check", "check": check, "part": part, "format": format, "reason": ""}
        label = CHECKS[check].label if check in CHECKS else check
        dismissed.append((command, reason, called(promo, index.find_part(part)), label))
    frames = [promo.rate.frame_floor(one.at) for one in found]
    return {"found": found, "frames": frames, "checks": CHECKS, "dismissed": dismissed}
