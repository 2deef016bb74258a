"""Which derived media the recipes of a promo name."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from glowreel.core.content.pictures import cut_out
from glowreel.core.derived import Need
from glowreel.core.document import Part, Promo
from glowreel.core.properties import Property
from glowreel.core.properties.rows.sound import VOICE_NAMES
from glowreel.core.properties.table import NEEDING
from glowreel.core.recipe.model import Composite, DrawPicture, FrameRecipe, Op


def needs_of(promo: Promo, part: Part) -> Iterator[Need]:
    """What the recipes of one part name."""
    for source in part.fills.values():
        filled = promo.media.get(source.media)
        cut = cut_out(filled, source) if filled is not None else None
        if cut is not None:
            yield cut
    media = promo.media.get(part.media or "")
    if media is None:
        return
    yield from copies_of(promo, part)
    if part.source is not None and part.source.runs == "fitted":
        yield beats_need(media.hash)
    for name, row in NEEDING.items():
        # What is not said is at its default, which needs nothing.
        if name in part.values and ("heard" not in row.of or media.sounding) and not (row.runs and media.still):
            maker = needed_maker(row, part.read(name))
            if maker and (media.still or part.read(name) not in row.stills):
                yield Need(media.hash, maker, settings_of(row, maker, part.read(row.settings) if row.settings else ()))


def copies_of(promo: Promo, part: Part) -> tuple[Need, ...]:
    """The copies that are made of the sound of a part, the last of which is heard: of the quiet of the room; else of a
    voice from which noise is taken out, and of one to which something is done."""
    media = promo.media.get(part.media or "")
    if media is None or not media.sounding:
        return ()
    if part.values.get("room_tone"):
        return (Need(media.hash, "tone"),)
    done = tuple((name, part.values[name]) for name in sorted(VOICE_NAMES) if part.values.get(name))
    if not done:
        return ()
    voice = Need(media.hash, "voice", done)
    return (Need(media.hash, "noise"), voice) if part.values.get("noise") else (voice,)


def beats_need(source: str) -> Need:
    """What is found of a source's beats and bars."""
    return Need(source, "beats")


def settings_of(row: Property, maker: str, value: Any) -> tuple[tuple[str, Any], ...]:
    """The settings that a maker is given by the property that the row names; none where that says nothing."""
    return ((row.settings, value),) if value and maker in row.stills else ()


def needed_maker(row: Property, value: Any) -> str:
    """The maker that a value needs: one of those that the row names, where the value is its name, or the only one."""
    named = row.needs.split()
    if isinstance(value, str):
        return value if value in named else ""
    return named[0] if value else ""


def needs(promo: Promo) -> tuple[Need, ...]:
    """What the recipes of a promo name, each once, in the order in which it is met."""
    parts = [inner for part in (*promo.clips, *promo.items) for inner in (part, *part.inner)]
    return tuple(dict.fromkeys(need for part in parts for need in needs_of(promo, part)))


def named_in(recipe: FrameRecipe) -> set[Need]:
    """What the operations of one frame name."""
    found: set[Need] = set()

    def look(op: Op) -> None:
        if isinstance(op, DrawPicture):
            found.update(use.need for use in (op.matte, op.steady) if use is not None)
            found.update({op.between} if op.between is not None else ())
        if isinstance(op, Composite):
            for inner in op.ops:
                look(inner)
            for mask in op.masks:
                if mask.picture is not None:
                    look(mask.picture)

    for op in recipe.ops:
        look(op)
    return found
