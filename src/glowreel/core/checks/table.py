"""All checks, and what they find in a promo."""

from __future__ import annotations

from glowreel.core.checks import brand, captions, channels, contrast, logos, material, picture, reading, room, whole
from glowreel.core.checks.finding import Check, Finding, Sight

CHECKS: dict[str, Check] = {
    check.name: check
    for family in (
        reading.CHECKS,
        contrast.CHECKS,
        room.CHECKS,
        picture.CHECKS,
        whole.CHECKS,
        brand.CHECKS,
        logos.CHECKS,
        channels.CHECKS,
        captions.CHECKS,
        material.CHECKS,
    )
    for check in family
}
"""Every check by its name, in the order of the list."""
MOST = 200
"""So many findings are told at most."""


def findings(sight: Sight) -> list[Finding]:
    """What all checks find, without what somebody has dismissed; in the order of time."""
    found = [one for check in CHECKS.values() for one in check.find(sight) if one.key not in sight.promo.dismissed]
    return sorted(found, key=lambda one: (one.at, one.check, one.format))[:MOST]
