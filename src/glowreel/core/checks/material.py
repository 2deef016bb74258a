"""Whether everything is there, and good enough."""

from __future__ import annotations

from collections.abc import Iterator

from glowreel.core.checks.finding import Check, Finding, Sight
from glowreel.core.commands.base import called
from glowreel.core.content.pictures import crop_of
from glowreel.core.content.seen import Seen
from glowreel.core.document import Item, Part
from glowreel.core.formats import CANON
from glowreel.core.timeline import timeline

LARGEST = 1.8
"""How many times a picture may be enlarged, exported with a short side of 1080 pixels. Footage of 1080 lines that fills
a tall frame is enlarged 1.78 times; that is what most publish, and it is not worth a word."""


def empty(sight: Sight) -> Iterator[Finding]:
    index = timeline(sight.promo)
    for item, span in sight.layers:
        design = sight.promo.designs.get(item.design or "")
        if design is None:
            continue
        places = [field.label.lower() for name, field in design.fields.items()
                  if field.kind == "picture" and name not in item.fills]  # fmt: skip
        if places:
            yield Finding(
                "empty", item.id, f"{called(sight.promo, item)} has an empty place: {', '.join(places)}.", span.start
            )
    for clip in sight.promo.clips:
        if clip.source is None:
            yield Finding(
                "empty", clip.id, "A filler stands where a picture should be.", index.clip_span[clip.id].start
            )


def coarse(sight: Sight) -> Iterator[Finding]:
    index = timeline(sight.promo)
    parts: list[tuple[Part, int]] = [(clip, index.clip_span[clip.id].start) for clip in sight.promo.clips]
    parts += [(item, span.start) for item, span in sight.layers]
    for part, start in parts:
        media = sight.promo.media.get(part.media or "")
        if media is None or not media.pictured or media.name.lower().endswith(".svg") or not media.width:
            continue
        worst, where = 0.0, ""
        for format in sight.promo.formats:
            seen = Seen(sight.promo, part, format, part.into, sight.measure, resting=True)
            drawn = sight.drawn(part, format) if isinstance(part, Item) else part.content.draws(seen)
            if drawn is None:
                continue
            left, _, right, _ = crop_of(seen)
            times = drawn.box.width / max(1.0, media.width * (1 - left - right))
            worst, where = max((worst, where), (times, format.name))
        if worst > LARGEST:
            yield Finding(
                "coarse", part.id,
                f"{called(sight.promo, part)} is enlarged {worst:.1f} times in {where}: it will look soft at {CANON}p.",
                start,
            )  # fmt: skip


CHECKS = (
    Check("empty", "Nothing missing", "every place for a picture is filled", empty),
    Check("coarse", "Sharp enough", "no picture is enlarged so much that it looks soft", coarse),
)
