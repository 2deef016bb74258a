"""Whether everything is there, and good enough."""

from __future__ import annotations

import re
from collections.abc import Iterator

from glowreel.core.checks.finding import Check, Cure, Finding, Sight
from glowreel.core.commands.base import called
from glowreel.core.commands.collage import blank
from glowreel.core.content.pictures import crop_of
from glowreel.core.content.seen import Seen
from glowreel.core.document import Item, Part, Tied
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
            first = next(name for name, field in design.fields.items()
                         if field.kind == "picture" and name not in item.fills)  # fmt: skip
            cure = Cure("Fill it …", {"do": "fill-picture", "item": item.id, "name": first}, asks=True)
            said = f"{called(sight.promo, item)} has an empty place: {', '.join(places)}."
            yield Finding("empty", item.id, said, span.start, cures=(cure,))
    for clip in sight.promo.clips:
        start = index.clip_span[clip.id].start
        empty_cells = [cell for cell in clip.cells if blank(cell)]
        if empty_cells:
            cure = Cure("Fill it …", {"do": "fill-cell", "item": clip.id, "cell": empty_cells[0].id}, asks=True)
            count = f"{len(empty_cells)} empty cells" if len(empty_cells) > 1 else "an empty cell"
            yield Finding("empty", clip.id, f"{called(sight.promo, clip)} has {count}.", start, cures=(cure,))
        # One with pictures or shapes tied to it is their ground, as of a collage that was turned into layers.
        tied = (item for item, _ in sight.layers if isinstance(item.anchor, Tied) and item.anchor.clip == clip.id)
        covered = any(item.content.traits & {"pictured", "shaped", "design"} for item in tied)
        if "filler" in clip.content.traits and not covered:
            cure = Cure("Fill it …", {"do": "replace", "item": clip.id}, asks=True)
            yield Finding("empty", clip.id, "A filler stands where a picture should be.", start, cures=(cure,))


LINK = re.compile(r"^(https?://[^\s/]+\.[^\s]+|mailto:\S+@\S+|tel:\+?[\d\s-]+|WIFI:.+)$", re.IGNORECASE)
"""What a code to scan may lead to."""


def links(sight: Sight) -> Iterator[Finding]:
    for item, span in sight.layers:
        design = sight.promo.designs.get(item.design or "")
        for name in design.coded if design is not None else ():
            said = str(item.set_to(f"field.{name}") or "").strip()
            if said and not LINK.match(said):
                better = f"https://{said}"
                fixed = {"do": "set", "items": [item.id], "values": {f"field.{name}": better}}
                cures = (Cure(f"Let it lead to {better[:40]}", fixed),) if LINK.match(better) else ()
                words = f"The code of {called(sight.promo, item)} leads nowhere: “{said[:40]}” is no link."
                yield Finding("link", item.id, words, span.start, cures=cures)


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
                start, cures=(Cure("Replace it …", {"do": "replace", "item": part.id}, asks=True),),
            )  # fmt: skip


def samples(sight: Sight) -> Iterator[Finding]:
    """What still stands there from the template, where somebody should have said something of their own."""
    if sight.promo.origin is None:
        return
    index = timeline(sight.promo)
    open_: dict[str, list[str]] = {}
    for slot in sight.promo.slots:
        if not slot.filled and not slot.optional:
            open_.setdefault(slot.part, []).append(slot.label.lower())
    for key, labels in open_.items():
        part = index.find_part(key)
        said = f"{called(sight.promo, part)} still holds samples of the template: {', '.join(labels)}."
        yield Finding("sample", key, said, index.span_of(part).start)


CHECKS = (
    Check("sample", "Filled in", "nothing is left of what stood in the template as a sample", samples),
    Check("link", "Codes lead somewhere", "what stands in a code to scan is a link", links),
    Check("empty", "Nothing missing", "every place for a picture is filled", empty),
    Check("coarse", "Sharp enough", "no picture is enlarged so much that it looks soft", coarse),
)
