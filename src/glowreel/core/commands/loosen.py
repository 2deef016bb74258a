"""Making loose layers of what is one thing.

```
FreeCollage   [a|b]            →  layers over a plain clip, where its cells were, in every format
```
"""

from __future__ import annotations

from typing import Any, Literal

from glowreel.core.commands.base import Command, Context, Outcome, called
from glowreel.core.commands.change import MAX_TRACKS, put_items, replace_clip
from glowreel.core.commands.collage import collage_of
from glowreel.core.commands.lift import as_framed, shared
from glowreel.core.commands.roles import Target
from glowreel.core.content import KINDS, Seen
from glowreel.core.content.collage import cell_boxes, cell_format
from glowreel.core.document import Cell, Clip, Item, Promo, Tied, Track
from glowreel.core.errors import Refusal
from glowreel.core.formats import CANON, Format
from glowreel.core.forms import FORMS
from glowreel.core.layout import MARGIN, Box, Measure
from glowreel.core.properties import PROPERTIES
from glowreel.core.properties.rows.sound import HEARD_NAMES
from glowreel.core.source import Source
from glowreel.core.speed import constant
from glowreel.core.value import NewId

Layer = dict[str, Any]
"""The kind of a loose layer, its values, and those that one format has for itself."""


def in_every_format(promo: Promo, kind: str, plain: Layer, lies: dict[str, Layer]) -> Layer:
    """A layer that lies in each format as said, and gives way in none: as in the first one, and otherwise where another
    has it otherwise."""
    # What one format says, every other says as well: else it would have it from the first.
    named = dict.fromkeys(name for values in lies.values() for name in values)
    usual = {name: PROPERTIES[name].default_for(kind) for name in named}
    lies = {key: usual | values for key, values in lies.items()}
    first = lies[promo.formats[0].id]
    own = {key: {name: value for name, value in values.items() if first.get(name) != value}
           for key, values in lies.items()}  # fmt: skip
    return {
        "kind": kind,
        "values": plain | first | {"by_rule": False},
        "values_in": {key: values for key, values in own.items() if values},
    }


def middle_of(box: Box, format: Format) -> tuple[float, float]:
    """How far the middle of a box lies from that of the frame, in fractions of the short side."""
    wide, high = format.canon
    return round((box.x + (box.width - wide) / 2) / CANON, 6), round((box.y + (box.height - high) / 2) / CANON, 6)


def plate_at(box: Box, format: Format, form: str = "rectangle") -> Layer:
    """Where a shape lies that fills a box."""
    ratio = FORMS[form].ratio
    high, wide = max(1.0, box.height), max(1.0, box.width)
    size = min(8.0, max(0.0051, high * max(1.0, ratio) / CANON))
    row = PROPERTIES["stretch"]
    stretch = min(row.high, max(row.low, wide / (high * ratio)))
    return {"pin": (0.5, 0.5), "place": middle_of(box, format), "size": round(size, 6), "stretch": round(stretch, 6)}


def laid_over(promo: Promo, rows: list[tuple[Item, ...]], place: int, new_id: NewId) -> Promo:
    """The promo with layers, from back to front, each row on a track of its own, that begin where one track was."""
    if len(promo.layers) + len(rows) > MAX_TRACKS:
        raise Refusal("too-many", f"A promo has at most {MAX_TRACKS} tracks of a kind.", "Free some first.")
    tracks = tuple(Track(id=new_id("t"), items=row) for row in reversed(rows))
    return promo.changed(layers=(*promo.layers[:place], *tracks, *promo.layers[place:]))


def _layers_of(promo: Promo, clip: Clip, place: int, measure: Measure) -> list[Layer]:
    """The loose layers that show what a cell shows, the front-most last."""
    cell = clip.inner[place]
    assert isinstance(cell, Cell)
    plates: dict[str, Layer] = {}
    fronts: dict[str, Layer] = {}
    for format in promo.formats:
        box = cell_boxes(Seen(promo, clip, format, clip.into, measure, resting=True))[place]
        inside = cell_format(format, box)
        across, down = middle_of(box, format)
        plates[format.id] = plate_at(box, format)
        if cell.media is not None:
            lies = as_framed(promo, cell, inside)
        elif "words" in cell.content.traits:
            own = cell.values_in.get(format.id, {})
            lies = {name: own.get(name, cell.read(name)) for name in ("pin", "place", "tall", "wrap")}
            lies["tall"] = max(0.05, min(lies["tall"], box.height / CANON - MARGIN))
            lies["wrap"] = max(0.1, min(lies["wrap"], box.width / CANON - 2 * MARGIN))
        else:
            continue
        lies["place"] = (round(lies["place"][0] + across, 6), round(lies["place"][1] + down, 6))
        fronts[format.id] = lies
    coming = {name: value for name, value in cell.values.items() if name.startswith("arrive")}
    round_plate = {"ink": cell.read("fill"), "rounding": clip.read("cell_round"), **coming}
    plate = in_every_format(promo, "shape", round_plate, plates)
    if not fronts:
        return [plate]
    kind = KINDS["picture" if cell.media is not None else "words"]
    front = in_every_format(promo, kind.name, shared(cell, kind), fronts)
    if cell.media is None:
        return [plate, front]
    corner = {"corner": clip.read("cell_round")} if clip.read("cell_round") else {}
    front["values"] = front["values"] | corner
    covers = cell.read("fit") == "fill" and cell.read("zoom") >= 1 and not cell.read("turn")
    hidden = covers and not promo.media[cell.media].alpha
    return [
        *(() if hidden else (plate,)),
        {**front, "source": cell.source, "name": cell.name, "fills": cell.fills, "effects": cell.effects},
    ]


def _run_out(promo: Promo, item: Item, offset: int, new_id: NewId) -> tuple[Item, ...]:
    """A layer tied at an offset; where its material is used up before it ends, its last frame is held for the rest."""
    media, source = promo.media.get(item.media or ""), item.source
    if media is None or source is None or not media.length:
        return (item,)
    rate = promo.rate
    runs = rate.frame_start(rate.frame_floor(source.longest(item.into, media.length, item.length)))
    if runs >= item.length:
        return (item,)
    last = Source(media=media.id, at=media.length - 1, speed=constant(0))
    if runs < rate.frame:
        return (item.changed(source=last),)
    held = item.changed(
        id=new_id("i"), anchor=item.anchor.changed(offset=offset + runs), length=item.length - runs,
        into=item.into + runs, source=last,
        values={name: value for name, value in item.values.items() if not name.startswith("arrive")},
    )  # fmt: skip
    return item.changed(length=runs), held


class FreeCollage(Command):
    """Turns a collage into layers over a plain clip: each where its cell was, in every format. What was heard of it
    lies on a sound track. Footage that is shorter than the collage is held at its end, as it was in its cell."""

    do: Literal["free-collage"] = "free-collage"
    item: Target

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        clip = collage_of(promo, self.item)
        plain = Clip(
            id=clip.id, kind="filler", name=clip.name, length=clip.length, into=clip.into, group=clip.group,
            values={"fill": clip.read("ground_colour")},
        )  # fmt: skip
        rows: list[tuple[Item, ...]] = []
        for place in range(len(clip.cells)):
            wait = max(0, promo.rate.snap(place * clip.read("step") - clip.into))
            for layer in _layers_of(promo, clip, place, context.measure) if wait < clip.length else ():
                item = Item(
                    id=context.new_id("i"), anchor=Tied(clip=clip.id, offset=wait), length=clip.length - wait,
                    into=clip.into + wait, **layer,
                )  # fmt: skip
                rows.append(_run_out(promo, item, wait, context.new_id))
        made = replace_clip(promo, clip.id, lambda _: plain)
        made = laid_over(made, rows, len(promo.layers), context.new_id)
        made = put_items(made, self._heard(promo, clip, context), context.new_id)
        ids = tuple(item.id for row in rows for item in row)
        return Outcome(made, f"Took {called(promo, clip)} apart", ids, frozenset(ids))

    def _heard(self, promo: Promo, clip: Clip, context: Context) -> list[Item]:
        which, found = clip.read("cells_heard"), []
        for place, cell in enumerate(clip.inner):
            media = promo.media.get(cell.media or "")
            wait = max(0, place * clip.read("step") - clip.into)
            if media is None or not media.sounding or which not in ("all", "first", str(place + 1)):
                continue
            lasts = cell.source.longest(clip.into + wait, media.length, clip.length - wait) if cell.source else 0
            if lasts > 0 and not cell.read("muted"):
                heard = {name: cell.values[name] for name in HEARD_NAMES if name in cell.values}
                found.append(Item(
                    id=context.new_id("i"), kind="sound", anchor=Tied(clip=clip.id, offset=wait), source=cell.source,
                    length=lasts, into=clip.into + wait,
                    values=heard | {"bus": "voice"},
                ))  # fmt: skip
        return found[:1] if which == "first" else found
