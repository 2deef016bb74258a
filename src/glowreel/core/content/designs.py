"""Designs in front of the picture: declarative graphics with fields (see `core.design`)."""

from __future__ import annotations

from typing import TYPE_CHECKING

from glowreel.core.content.kind import Drawn, Kind
from glowreel.core.content.pictures import cut_out, filling, source_frame
from glowreel.core.content.seen import Seen
from glowreel.core.design.resolve import Filled, resolve
from glowreel.core.formats import CANON
from glowreel.core.layout import MARGIN, Box, inside, placed
from glowreel.core.properties.kinds import HEX
from glowreel.core.recipe.model import Composite, DrawPicture, Matte
from glowreel.core.time import seconds

if TYPE_CHECKING:
    from glowreel.core.design import Design
    from glowreel.core.document import Part
    from glowreel.core.media import Media

DONE = 3600.0
"""Seconds after which every motion of a design is over."""

SOFT = 0.15
"""How soft the edge is of a thing that is cut out in a design."""


def filled_by(seen: Seen, since: float) -> Filled:
    """What a design is resolved with for a part, at a second of its own time."""
    part, design = seen.part, seen.promo.designs[seen.part.design or ""]

    def text(name: str) -> str:
        said = part.set_to(f"field.{name}", seen.format.id)
        return str(design.fields[name].sample if said is None else said)

    def colour(value: str) -> str:
        if value.startswith("$"):
            value = text(value[1:])
        filled = seen.brand.colour(value)
        return filled if HEX.fullmatch(filled) else seen.brand.colour("accent")

    def picture(name: str, rect: Box, whole: bool) -> DrawPicture | None:
        source = part.fills.get(name)
        media = seen.promo.media.get(source.media) if source is not None else None
        if source is None or media is None or not media.pictured:
            return None
        box = inside(rect, media.width, media.height) if whole else filling(media, source, rect, seen.moment)
        at, cut = source_frame(media, source, seen.moment), cut_out(media, source)
        matte = Matte(cut, soft=SOFT, largest=True) if cut is not None else None
        return DrawPicture(media.hash, media.still, at, box, not media.alpha and matte is None, matte=matte)

    aside = max(MARGIN, abs(seen("place")[0])) * CANON
    return Filled(
        text, colour, seen.brand.font, picture, seen.measure, seen.format.canon, aside, seen("size"), since,
        seen.resting, *_going_by(seen), _chapters(seen), seen.heard,
    )  # fmt: skip


def _chapters(seen: Seen) -> tuple[tuple[str, float, float], ...]:
    """The scenes that go by while it is on show."""
    start, lasts = seen.begins, seen.lasts or seen.part.length
    found, now = [], 0
    for scene in seen.promo.scenes:
        ends = now + sum(clip.length for clip in scene.clips)
        first, last = max(now, start), min(ends, start + lasts)
        if last > first:
            found.append((scene.name, round((first - start) / lasts, 6), round((last - start) / lasts, 6)))
        now = ends
    return tuple(found)


def _draws(seen: Seen) -> Drawn:
    design = seen.promo.designs[seen.part.design or ""]
    since, opacity = (DONE, 1.0) if seen.resting else _moment(seen, design)
    size, draw = resolve(design, filled_by(seen, since))
    place = seen.place
    box = Box(0, 0, *size) if design.frame == "full" else placed(place, seen.format, *size)
    ops = tuple(draw(box.x, box.y))
    return Drawn((Composite(ops, opacity=opacity),) if opacity < 1 else ops, box, place.turn)


def _going_by(seen: Seen) -> tuple[float, float]:
    """How much of its time has gone by, and how many seconds are left."""
    lasts = seen.lasts or seen.part.length
    since = min(lasts, max(0, seen.moment - seen.part.into))
    return (1.0 if seen.resting else round(since / max(1, lasts), 6)), seconds(lasts - since)


def _moment(seen: Seen, design: Design) -> tuple[float, float]:
    """The second of its own time that is drawn, and how much of it is seen: where it goes back the way it came, its end
    is its beginning backwards."""
    since = seconds(max(0, seen.moment))
    left = seconds(max(0, (seen.lasts or seen.part.length) - (seen.moment - seen.part.into)))
    if design.goes == "none" or left >= design.goes_over:
        return since, 1.0
    share = left / design.goes_over
    return (since, round(share, 6)) if design.goes == "fade" else (min(since, share * design.comes_over), 1.0)


def _called(part: Part, media: Media | None) -> str:
    said = [value for name, value in part.values.items() if name.startswith("field.") and not HEX.fullmatch(value)]
    first = next((value.strip().split("\n")[0] for value in said if value.strip()), part.name)
    return f"“{first if len(first) <= 32 else first[:31] + '…'}”"


DESIGN = Kind(
    "design", "Design", "an animated graphic with fields, such as a title or a grid", "layer",
    frozenset({"seen", "placed", "design"}), frozenset(), _called, _draws,
)  # fmt: skip
