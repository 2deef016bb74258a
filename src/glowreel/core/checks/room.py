"""Whether things have room: inside the frame, beside one another."""

from __future__ import annotations

from collections.abc import Iterator

from glowreel.core.checks.finding import Check, Cure, Finding, Sight
from glowreel.core.commands.base import called
from glowreel.core.document import Item
from glowreel.core.formats import CANON, Format
from glowreel.core.layout import Box, common
from glowreel.core.setting import row_of

OUTSIDE = 0.01 * CANON
"""What reaches beyond the frame by less is let pass, in canonical units."""
COMMON = 0.04
"""What share of the smaller one two words may have in common."""


def placing(item: Item, format: Format, box: Box) -> dict[str, object]:
    """The command that puts a layer there in one format alone."""
    return {
        "do": "place-item", "item": item.id, "format": format.id, "x": round(box.x / CANON, 5),
        "y": round(box.y / CANON, 5), "width": round(box.width / CANON, 5), "height": round(box.height / CANON, 5),
        "only": True,
    }  # fmt: skip


def inside(box: Box, format: Format) -> Box:
    """A box moved into the safe area of a format, as far as it fits there."""
    width, height = format.canon
    sides = (width, height, width, height)
    left, top, right, low = (share * side for share, side in zip(format.safe, sides, strict=True))
    x = min(max(box.x, left), max(left, width - right - box.width))
    y = min(max(box.y, top), max(top, height - low - box.height))
    return Box(x, y, box.width, box.height)


def leaves_frame(sight: Sight) -> Iterator[Finding]:
    for item, span in sight.layers:
        for format in sight.promo.formats:
            if not sight.words(item, format):
                continue
            drawn = sight.drawn(item, format)
            width, height = format.canon
            box = drawn.box if drawn is not None else Box(0, 0, 0, 0)
            over = max(-box.x, -box.y, box.x + box.width - width, box.y + box.height - height)
            if over <= OUTSIDE or (item.design and sight.promo.designs[item.design].frame == "full"):
                continue
            cures = [Cure("Move it into the frame", placing(item, format, inside(box, format)))]
            if box.width > width or box.height > height:
                share = 0.96 * min(width / box.width, height / box.height)
                smaller = {"size": round(sight.read(item, format, "size") * share, 4)}
                cures = [Cure("Make it smaller", {
                    "do": "set", "items": [item.id], "values": smaller, "format": format.id, "only": True,
                })]  # fmt: skip
            across = max(-box.x, box.x + box.width - width)
            if across > OUTSIDE and "words" in item.content.traits and " " in str(item.read("text", format.id)):
                wrap = {"wrap": round(max(0.15, (box.width - 2 * across) / CANON), 4)}
                cures.append(Cure("Break its lines earlier", {
                    "do": "set", "items": [item.id], "values": wrap, "format": format.id, "only": True,
                }))  # fmt: skip
            yield Finding(
                "frame", item.id, f"{called(sight.promo, item)} reaches beyond the frame in {format.name}.", span.start,
                format.id, tuple(cures),
            )  # fmt: skip


def free_place(box: Box, taken: list[Box], format: Format) -> Box | None:
    """The nearest place, above or below, where a box meets none of those that are taken and is inside the frame."""
    step, width, height = 0.01 * CANON, *format.canon
    for n in range(1, 200):
        for way in (-1, 1):
            tried = Box(box.x, box.y + way * n * step, box.width, box.height)
            if tried.y < 0 or tried.y + tried.height > height or tried.x < 0 or tried.x + tried.width > width:
                continue
            if not any(common(tried, other) for other in taken):
                return tried
    return None


def overlap(sight: Sight) -> Iterator[Finding]:
    for format in sight.promo.formats:
        worded = [(item, span, drawn.box) for item, span in sight.layers
                  if sight.words(item, format) and (drawn := sight.drawn(item, format)) is not None]  # fmt: skip
        for n, (item, span, box) in enumerate(worded):
            meeting = [(other, spot) for other, when, spot in worded[n + 1 :] if span.meets(when)]
            for other, spot in meeting:
                smaller = min(box.width * box.height, spot.width * spot.height) or 1.0
                if common(box, spot) <= COMMON * smaller:
                    continue
                taken = [spot for one, when, spot in worded if one.id != item.id and span.meets(when)]
                place = free_place(box, taken, format)
                cures = (Cure("Move it to where there is room", placing(item, format, place)),) if place else ()
                both = max(span.start, next(when.start for one, when, _ in worded if one.id == other.id))
                said = f"{called(sight.promo, item)} lies over {called(sight.promo, other)} in {format.name}."
                yield Finding("overlap", item.id, said, both, format.id, cures)
                break


def runs_out(sight: Sight) -> Iterator[Finding]:
    """Words that shrink to suit their box, but no further than they stay legible."""
    for item, span in sight.layers:
        if row_of(item, "suits") is None:
            continue
        for format in sight.promo.formats:
            words, tall = sight.words(item, format), item.read("tall", format.id) * CANON
            drawn = sight.drawn(item, format)
            if (
                item.read("suits", format.id) == "fixed"
                or not words
                or drawn is None
                or drawn.box.height <= tall * 1.02
            ):
                continue
            values = {"tall": round(min(4.0, drawn.box.height / CANON * 1.02), 4)}
            higher = Cure("Make the box higher", {
                "do": "set", "items": [item.id], "values": values, "format": format.id, "only": True,
            })  # fmt: skip
            said = f"{called(sight.promo, item)} runs out of its box in {format.name}: there is more than fits legibly."
            yield Finding("box", item.id, said, span.start, format.id, (higher,))


CHECKS = (
    Check("box", "Inside its box", "words that suit a box fit into it, in each format", runs_out),
    Check("frame", "Inside the frame", "words lie inside the frame, in each format", leaves_frame),
    Check("overlap", "Words apart", "no words lie over others, in each format", overlap),
)
