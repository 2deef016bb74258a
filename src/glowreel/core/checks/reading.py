"""Whether words can be read: long enough, large enough, with all their letters."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from glowreel.core.checks.finding import Check, Cure, Finding, Sight
from glowreel.core.commands.base import called
from glowreel.core.document import Item, Whole
from glowreel.core.formats import CANON, Format
from glowreel.core.setting import row_of
from glowreel.core.time import TICKS_PER_SECOND, ticks
from glowreel.core.timeline import Span, timeline

BEGIN = 0.6
"""Seconds until somebody has noticed that there is something to be read."""
LETTERS_A_SECOND = 13.0
"""How fast slow readers read from a moving picture: about 150 words a minute."""
ROOM = 1.02
"""What is hardly too small or too short is let pass."""


def needed(text: str) -> float:
    """Seconds that a text has to stand still to be read."""
    return BEGIN + len("".join(text.split())) / LETTERS_A_SECOND


def resting(sight: Sight, item: Item, span: Span) -> float:
    """Seconds for which words stand still and are all there."""
    moving = 0
    if item.read("arrives") != "none":
        moving += item.read("arrive_delay") + item.read("arrive_length") // 2
    if item.read("leaves") != "none":
        moving += item.read("leave_length") // 2
    if "words" in item.content.traits:
        # What comes letter by letter is read while it comes, but not faster than it is there.
        comes = item.read("pieces")
        moving += item.read("pieces_length") // 2 if comes not in ("none", "sing", "mark") else 0
        moving += item.read("pieces_leave_length") if item.read("pieces_leave") != "none" else 0
    design = sight.promo.designs.get(item.design or "")
    if design is not None:
        moving += ticks(design.comes_over / 2 + (design.goes_over if design.goes != "none" else 0))
    return max(0, span.length - moving) / TICKS_PER_SECOND


def _shorter(item: Item, format: Format) -> int:
    """By how many ticks less a layer is on show in a format than it lies on its track."""
    if row_of(item, "comes_late") is None:
        return 0
    return int(item.read("comes_late", format.id) + item.read("goes_early", format.id))


def reading_time(sight: Sight) -> Iterator[Finding]:
    for item, span in sight.layers:
        rests = resting(sight, item, span)
        # Where it is worst: with the longest words, or on show for the shortest stretch.
        told = [
            (text, max(0.0, rests - _shorter(item, format) / TICKS_PER_SECOND), format)
            for format in sight.promo.formats
            if (text := " ".join(op.words.text for op in sight.words(item, format)))
        ]
        if not told:
            continue
        text, have, format = max(told, key=lambda one: needed(one[0]) - one[1])
        need, alone = needed(text), _shorter(item, format) > 0
        if have * ROOM >= need:
            continue
        more = ticks(need - have) + sight.promo.rate.frame
        cures = []
        if alone:
            whole = {"comes_late": 0, "goes_early": 0}
            back = {"do": "set", "items": [item.id], "values": whole, "format": format.id, "only": True}
            cures.append(Cure("Let it be on show for all of its time", back))
        index = timeline(sight.promo)
        wanted = sight.promo.rate.snap(span.length + more)
        if not isinstance(item.anchor, Whole) and index.item_span(item).length < wanted:
            cures.append(Cure("Let it stand longer", {"do": "trim", "item": item.id, "edge": "end", "length": wanted}))
        beyond = span.start + wanted - index.length
        if beyond > 0 and sight.promo.clips:
            last = sight.promo.clips[-1]
            length = sight.promo.rate.snap(last.length + beyond)
            longer = {"do": "trim", "item": last.id, "edge": "end", "length": length}
            cures.append(Cure("Let the promo go on longer", longer))
        moves = [name for name in ("arrives", "pieces") if row_of(item, name) and item.read(name) != "none"]
        if moves:
            values = dict.fromkeys(moves, "none")
            cures.append(Cure("Let it come at once", {"do": "set", "items": [item.id], "values": values}))
        where = f" in {format.name}" if alone else ""
        yield Finding(
            "reading-time", item.id,
            f"{called(sight.promo, item)} can be read for {have:.1f} s{where}, and slow readers need {need:.1f} s.",
            span.start, format.id if alone else "", cures=tuple(cures),
        )  # fmt: skip


def legible(sight: Sight) -> Iterator[Finding]:
    for item, span in sight.layers:
        for format in sight.promo.formats:
            sizes = [op.size / CANON for op in sight.words(item, format)]
            least = format.least_letters
            if not sizes or min(sizes) * ROOM >= least:
                continue
            larger = round(sight.read(item, format, "size") * least / min(sizes) * 1.01, 4)
            values = {"size": min(8.0, larger)}
            cure = Cure("Enlarge it", {
                "do": "set", "items": [item.id], "values": values, "format": format.id, "only": True,
            })  # fmt: skip
            yield Finding(
                "size", item.id,
                f"{called(sight.promo, item)} is too small to be read on a phone in {format.name}: its letters are "
                f"{min(sizes) * 100:.1f} % of the short side, {least * 100:.1f} % is the least.",
                span.start, format.id, (cure,),
            )  # fmt: skip


def letters(sight: Sight) -> Iterator[Finding]:
    for item, span in sight.layers:
        missing = {
            letter for format in sight.promo.formats for op in sight.words(item, format)
            for letter in sight.unknown(replace(op.words, runs=()))
        }  # fmt: skip
        if missing:
            shown = " ".join(sorted(missing)[:5])
            yield Finding(
                "letters", item.id,
                f"{called(sight.promo, item)} has letters for which there is no font here: {shown}", span.start,
            )  # fmt: skip


CHECKS = (
    Check("reading-time", "Time to read", "words stand still as long as slow readers need", reading_time),
    Check("size", "Large enough", "letters are large enough for a phone, in each format", legible),
    Check("letters", "All letters there", "there is a font for every letter", letters),
)
