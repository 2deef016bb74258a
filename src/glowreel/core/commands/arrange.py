"""Arranging several layers, and quick sizes and orders of one.

```
AlignItems   edge left     [a]  [b]        →  [a]                 of the frame, or of what is selected
                                              [b]
SpreadItems  across        [a] [b]    [c]  →  [a]  [b]  [c]       equal gaps between them
OrderItems   to the front  behind [b]      →  in front of all     on another track, at the same time
SizeItems    fill          a small one     →  covers the frame    fit: all of it inside; half, third: of the frame
```
What lies where is looked up in one format; the rules of placing carry it over to the others. Refused: what has no place
in the frame, fewer than two to be aligned with one another, fewer than three to be spread.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

from glowreel.core.arrangement import see
from glowreel.core.commands.base import Command, Context, Outcome, called
from glowreel.core.commands.change import MAX_TRACKS, has_room, map_items, side_of
from glowreel.core.commands.roles import FormatId
from glowreel.core.commands.selection import Chosen, still_there
from glowreel.core.commands.setting import format_of, moment_of, put_in
from glowreel.core.document import Item, Promo, Track
from glowreel.core.errors import Refusal
from glowreel.core.formats import CANON, Format
from glowreel.core.layout import Box
from glowreel.core.recipe.picture import part_box
from glowreel.core.setting import row_of
from glowreel.core.time import Ticks
from glowreel.core.timeline import timeline

Edge = Literal["left", "centre", "right", "top", "middle", "bottom"]
AXIS: dict[str, int] = {"left": 0, "centre": 0, "right": 0, "top": 1, "middle": 1, "bottom": 1}
SHARE: dict[str, float] = {"left": 0.0, "centre": 0.5, "right": 1.0, "top": 0.0, "middle": 0.5, "bottom": 1.0}


def boxes_of(promo: Promo, items: Chosen, format: Format, at: int | None, context: Context) -> dict[str, Box]:
    """Where layers lie in a format at a time of the promo, in fractions of the short side."""
    index, found = timeline(promo), {}
    for key in still_there(promo, items):
        item = index.item.get(key)
        if item is None or row_of(item, "place") is None:
            continue
        box = part_box(promo, format, item, context.measure, moment_of(promo, item, at))
        if box is not None:
            found[key] = Box(*(value / CANON for value in (box.x, box.y, box.width, box.height)))
    if not found:
        raise Refusal("no-place", "What is selected has no place in the frame.", "Select words or a picture in front.")
    return found


def _who(promo: Promo, keys: list[str]) -> str:
    return called(promo, timeline(promo).item[keys[0]]) if len(keys) == 1 else f"{len(keys)} items"


class AlignItems(Command):
    """Brings an edge or the middle of layers to that of the frame, or of all that is selected."""

    do: Literal["align-items"] = "align-items"
    items: Chosen
    format: FormatId
    edge: Edge
    to: Literal["frame", "each-other"] = "frame"
    only: bool = False
    at: Ticks | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        format = format_of(promo, self.format)
        boxes = boxes_of(promo, self.items, format, self.at, context)
        axis, share = AXIS[self.edge], SHARE[self.edge]
        low, high = 0.0, format.canon[axis] / CANON
        if self.to == "each-other":
            if len(boxes) < 2:
                raise Refusal("one", "Two or more are needed for that.", "Select another layer as well.")
            low = min(_start(box, axis) for box in boxes.values())
            high = max(_start(box, axis) + _size(box, axis) for box in boxes.values())
        lies = {key: _at(box, axis, low + share * (high - low - _size(box, axis))) for key, box in boxes.items()}
        made, _ = put_in(promo, lies, format, context, only=self.only, at=self.at)
        return Outcome(made, f"Aligned {_who(promo, sorted(lies))}: {self.edge}", self.items)


class SpreadItems(Command):
    """Leaves equal gaps between three layers or more; the outermost stay where they are."""

    do: Literal["spread-items"] = "spread-items"
    items: Chosen
    format: FormatId
    axis: Literal["across", "down"]
    only: bool = False
    at: Ticks | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        format = format_of(promo, self.format)
        boxes = boxes_of(promo, self.items, format, self.at, context)
        if len(boxes) < 3:
            raise Refusal("few", "Three or more are needed for equal gaps.", "Select more layers.")
        axis = 0 if self.axis == "across" else 1
        order = sorted(boxes, key=lambda key: _start(boxes[key], axis) + _size(boxes[key], axis) / 2)
        first, last = boxes[order[0]], boxes[order[-1]]
        room = _start(last, axis) + _size(last, axis) - _start(first, axis)
        gap = (room - sum(_size(box, axis) for box in boxes.values())) / (len(order) - 1)
        now, lies = _start(first, axis), {}
        for key in order:
            lies[key] = _at(boxes[key], axis, now)
            now += _size(boxes[key], axis) + gap
        made, _ = put_in(promo, lies, format, context, only=self.only, at=self.at)
        return Outcome(made, f"Spread {len(lies)} items evenly {self.axis}", self.items)


class SizeItems(Command):
    """Makes layers cover the frame, fit into it, or be half or a third of it; their middle stays where it is, but for
    what fills or fits, which lies in the middle of the frame."""

    do: Literal["size-items"] = "size-items"
    items: Chosen
    format: FormatId
    how: Literal["fill", "fit", "half", "third"]
    only: bool = False
    at: Ticks | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        format = format_of(promo, self.format)
        boxes = boxes_of(promo, self.items, format, self.at, context)
        wide, high = (side / CANON for side in format.canon)
        index, lies = timeline(promo), {}
        sizes: dict[str, dict[str, float]] = {}
        for key, box in boxes.items():
            ratios = wide / box.width, high / box.height
            scale = max(ratios) if self.how == "fill" else min(ratios)
            scale *= {"half": 0.5, "third": 1 / 3}.get(self.how, 1.0)
            size = (box.width * scale, box.height * scale)
            middle = (wide / 2, high / 2)
            if self.how in ("half", "third"):
                middle = (box.x + box.width / 2, box.y + box.height / 2)
            lies[key] = Box(middle[0] - size[0] / 2, middle[1] - size[1] / 2, *size)
            item = index.item[key]
            row = row_of(item, "size")
            seen = see(promo, item, format, moment_of(promo, item, self.at) or item.into, context.measure)
            if row is not None:
                sizes[key] = {"size": max(row.low, min(row.high, seen("size") * scale))}
        made, _ = put_in(promo, lies, format, context, only=self.only, at=self.at, more=sizes)
        words = {"fill": "Filled the frame with", "fit": "Fitted into the frame:"}.get(self.how)
        who = _who(promo, sorted(lies))
        sentence = f"{words} {who}" if words else f"Made {who} a {self.how} of the frame"
        return Outcome(made, sentence, self.items)


class OrderItems(Command):
    """Brings layers in front of all others that are seen at the same time, or behind all of them."""

    do: Literal["order-items"] = "order-items"
    items: Chosen
    to: Literal["front", "back"]

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        index = timeline(promo)
        found = {key for key in still_there(promo, self.items) if key in index.item}
        moving = [item for track in promo.layers for item in track.items if item.id in found]
        if not moving:
            raise Refusal("no-layer", "Only layers lie in front of or behind others.", "Select words or a picture.")
        made = map_items(promo, lambda item: None if item.id in {m.id for m in moving} else item)
        # The one that was in front of the others stays so: it is put in last at the front, first at the back.
        for item in reversed(moving) if self.to == "front" else moving:
            made = _at_end(made, item, self.to == "front", context)
        words = "to the front" if self.to == "front" else "to the back"
        who = called(promo, moving[0]) if len(moving) == 1 else f"{len(moving)} items"
        return Outcome(made, f"Brought {who} {words}", self.items, frozenset(m.id for m in moving))


def _at_end(promo: Promo, item: Item, front: bool, context: Context) -> Promo:
    """The promo with a layer on the outermost track, if it lies alone in time there, else on a new one beyond it."""
    tracks, span = list(promo.layers), timeline(promo).new_span(item)
    order = range(len(tracks)) if front else range(len(tracks) - 1, -1, -1)
    beyond: int | None = None
    for spot in order:
        # Tracks that are empty at that time may be passed; the first that is not ends the way.
        if not has_room(promo, tracks[spot], span):
            break
        if not tracks[spot].locked:
            beyond = spot
    if beyond is not None:
        tracks[beyond] = tracks[beyond].changed(items=(*tracks[beyond].items, item))
    else:
        if len(tracks) >= MAX_TRACKS:
            raise Refusal("too-many", f"A promo has at most {MAX_TRACKS} tracks of a kind.", "Free one first.")
        tracks.insert(0 if front else len(tracks), Track(id=context.new_id("t"), items=(item,)))
    assert side_of(item) == "layers"
    return promo.changed(layers=tuple(tracks))


def _start(box: Box, axis: int) -> float:
    return box.y if axis else box.x


def _size(box: Box, axis: int) -> float:
    return box.height if axis else box.width


def _at(box: Box, axis: int, start: float) -> Box:
    return replace(box, y=start) if axis else replace(box, x=start)
