"""Whether words leave faces alone, and whether the picture flashes."""

from __future__ import annotations

from collections.abc import Iterator

from glowreel.core.checks.finding import Check, Cure, Finding, Sight
from glowreel.core.commands.base import called
from glowreel.core.formats import Format
from glowreel.core.layout import Box, common
from glowreel.core.setting import row_of
from glowreel.core.time import clock
from glowreel.core.timeline import timeline

COVERED = 0.15
"""What share of a face may be covered."""
SAMPLES = (0.25, 0.5, 0.75)
"""Where in the time of a layer faces are looked for."""
FLASHES = 3
"""So many flashes may be within a second (WCAG 2.2, 2.3.1)."""
BRIGHT = ("flash", "glitch", "pulse")
"""Effects that can flash."""


def _covered(face: Box, box: Box) -> float:
    """What share of a face a box covers."""
    return common(face, box) / max(1.0, face.width * face.height)


def covers_face(sight: Sight) -> Iterator[Finding]:
    rate = sight.promo.rate
    for item, span in sight.layers:
        where: list[Format] = []
        first = 0
        for format in sight.promo.formats:
            drawn = sight.drawn(item, format)
            if drawn is None or not sight.words(item, format):
                continue
            for share in SAMPLES:
                at = rate.frame_start(rate.frame_floor(span.start + round(span.length * share)))
                if any(_covered(face, drawn.box) > COVERED for face in sight.faces(sight.promo, item, format, at)):
                    first = first if where else at
                    where.append(format)
                    break
        if not where:
            continue
        placed = row_of(item, "place") is not None
        command = {"do": "place-calm", "items": [item.id]}
        if len(where) == 1:
            command["format"] = where[0].id
        cures = (Cure("Move it to the calmest place", command),) if placed else ()
        names = " and ".join(format.name for format in where)
        yield Finding(
            "face", item.id, f"{called(sight.promo, item)} covers a face in {names}.", first, where[0].id, cures
        )  # fmt: skip


def flashes(sight: Sight) -> Iterator[Finding]:
    index = timeline(sight.promo)
    for at, count in sight.flashes(sight.promo):
        clip = index.clip_at(at)
        if count <= FLASHES or clip is None:
            continue
        cures = tuple(
            Cure(f"Take the {effect.kind.replace('-', ' ')} off", {
                "do": "remove-effect", "item": part.id, "effect": effect.id,
            })
            for part in (clip, *(item for item, span in sight.layers if at in span))
            for effect in part.effects if effect.kind in BRIGHT
        )  # fmt: skip
        yield Finding(
            "flash", clip.id,
            f"The picture flashes {count} times in the second from {clock(at)} on: more than {FLASHES} can harm people "
            "who are sensitive to light.", at, cures=cures[:2],
        )  # fmt: skip


CHECKS = (
    Check("face", "Faces free", "no words lie over a face, in each format", covers_face),
    Check("flash", "No flashing", "the picture flashes at most three times in a second", flashes),
)
