"""Taking a design apart into loose layers.

```
TakeApart   [lower third]  →  its plates, shapes, pictures and words, each a layer of its own, where it was in every
                              format, coming and going as it did
```
What no layer can be (a code to scan, what grows as time goes by, what counts down) stays a small design of its own.
Refused: what is no design.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any, Literal

from glowreel.core.arrangement import see
from glowreel.core.commands.base import Command, Context, Outcome, called
from glowreel.core.commands.change import map_items
from glowreel.core.commands.loosen import Layer, in_every_format, laid_over, middle_of, plate_at
from glowreel.core.commands.roles import Target
from glowreel.core.content.designs import DONE, filled_by
from glowreel.core.content.pictures import filling
from glowreel.core.design import Design
from glowreel.core.design.loose import Leaf, leaves
from glowreel.core.design.model import Box as DesignBox
from glowreel.core.document import Item, Promo
from glowreel.core.errors import Refusal
from glowreel.core.formats import CANON, Format, shape_of
from glowreel.core.layout import Box, placed
from glowreel.core.properties import PROPERTIES
from glowreel.core.time import ticks
from glowreel.core.timeline import timeline

OWN_WAY = frozenset({"code", "ring", "wave", "chapters"})
"""Boxes that no layer can be."""


class TakeApart(Command):
    """Makes layers of the boxes of a design, front-most where it was."""

    do: Literal["take-apart"] = "take-apart"
    item: Target

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        index = timeline(promo)
        item = index.find_item(self.item)
        design = promo.designs.get(item.design or "")
        if design is None:
            raise Refusal("no-design", f"{called(promo, item)} is no design.", "Select a title or a call-out.")
        work = _Work(promo, item, design, context)
        layers = work.layers()
        place = promo.layers.index(index.track_of[item.id])
        bare = map_items(promo.changed(designs={**promo.designs, **work.designs}),
                         lambda other: None if other.id == item.id else other)  # fmt: skip
        made = laid_over(bare, [(layer,) for layer in layers], place, context.new_id)
        ids = tuple(layer.id for layer in layers)
        said = f"Took {called(promo, item)} apart"
        return Outcome(made, said, ids, frozenset(ids))


class _Work:
    """One design being taken apart."""

    def __init__(self, promo: Promo, item: Item, design: Design, context: Context) -> None:
        self.promo, self.item, self.design, self.context = promo, item, design, context
        self.designs: dict[str, Design] = {}

    def layers(self) -> list[Item]:
        """Its layers, from back to front; as in the first format, and hidden where another has no such box."""
        formats = self.promo.formats
        told = {format.id: self._leaves(format) for format in formats}
        made = []
        for key, leaf in told[formats[0].id].items():
            shapes: dict[str, Leaf] = {}
            for format in formats:
                if key in told[format.id]:
                    shapes.setdefault(shape_of(format.wide, format.high), told[format.id][key])
            lies: dict[str, Layer] = {}
            for format in formats:
                there = told[format.id].get(key)
                like = shapes.get(shape_of(format.wide, format.high), leaf)
                lies[format.id] = self._lies(there, format, like) if there is not None else {"shown": False}
            made.append(self._layer(leaf, lies, shapes))
        return made

    def _leaves(self, format: Format) -> dict[tuple[Any, ...], Leaf]:
        """Its boxes in a format, each where it lies in the frame, by what it is and how many such came before."""
        seen = see(self.promo, self.item, format, self.item.into, self.context.measure, resting=True)
        size, found = leaves(self.design, filled_by(seen, DONE))
        place = seen.place
        at = Box(0, 0, *size) if self.design.frame == "full" else placed(place, format, *size)
        named: dict[tuple[Any, ...], Leaf] = {}
        for leaf in found:
            same = sum(key[:3] == leaf.key for key in named)
            rect = Box(leaf.rect.x + at.x, leaf.rect.y + at.y, leaf.rect.width, leaf.rect.height)
            named[*leaf.key, same] = replace(leaf, rect=rect)
        return named

    def _read(self, value: str) -> str:
        """A role or a colour; of a field, what that says."""
        if not value.startswith("$"):
            return self.promo.brand.reading(value)
        said = self.item.set_to(f"field.{value[1:]}")
        return str(self.design.fields[value[1:]].sample if said is None else said)

    def _lies(self, leaf: Leaf, format: Format, like: Leaf) -> Layer:
        """Where a box lies in a format; `like` is the same in the first one of its shape."""
        turn = {"turn": round(leaf.turn, 6)} if leaf.turn else {}
        if leaf.text and not self._stays_design(leaf):
            size = {"size": round(leaf.size / CANON, 6), "wrap": round(min(8.0, leaf.wrap / CANON), 6)}
            stands = {"pin": (0.5, 0.5), "place": middle_of(leaf.rect, format), "align": leaf.box.align}
            return {**stands, **size, **turn}
        if leaf.box.kind == "picture" and self._source(leaf) is not None:
            return {**self._cropped(leaf, format), **turn}
        if self._stays_design(leaf):
            size = self.item.read("size") * leaf.rect.width / max(1.0, like.rect.width)
            return {"pin": (0.5, 0.5), "place": middle_of(leaf.rect, format), "size": round(size, 6), **turn}
        rect, edge = leaf.rect, leaf.box.line_only * CANON * self.item.read("size")
        # The line of a shape lies on its edge, that of a plate inside it.
        inner = Box(rect.x + edge / 2, rect.y + edge / 2, rect.width - edge, rect.height - edge)
        return {**plate_at(inner, format, self._form(leaf)), **turn}

    def _source(self, leaf: Leaf) -> Any:
        return self.item.fills.get(leaf.box.field or "")

    def _cropped(self, leaf: Leaf, format: Format) -> Layer:
        """A picture that covers a box: what lies outside it is cut off."""
        media = self.promo.media[self._source(leaf).media]
        rect = leaf.rect
        whole = filling(media, self._source(leaf), rect, self.item.into)
        wide, high = whole.width, whole.height
        crops = {
            "crop_left": (rect.x - whole.x) / wide, "crop_top": (rect.y - whole.y) / high,
            "crop_right": (whole.x + wide - rect.x - rect.width) / wide,
            "crop_bottom": (whole.y + high - rect.y - rect.height) / high,
        }  # fmt: skip
        size = PROPERTIES["size"]
        longer = max(size.low, min(size.high, max(wide, high) / CANON))
        cut = {name: round(value, 6) for name, value in crops.items() if value > 1e-6}
        return {"pin": (0.5, 0.5), "place": middle_of(whole, format), "size": round(longer, 6), **cut}

    @staticmethod
    def _form(leaf: Leaf) -> str:
        if leaf.box.kind == "shape":
            return leaf.box.shape
        return "ellipse" if leaf.box.round == "ellipse" else "rectangle"

    @staticmethod
    def _stays_design(leaf: Leaf) -> bool:
        """Whether no layer can be what it is."""
        box = leaf.box
        return box.kind in OWN_WAY or box.grows or box.whole or box.fades or "{" in box.text

    def _layer(self, leaf: Leaf, lies: dict[str, Layer], shapes: dict[str, Leaf]) -> Item:
        wait = 0
        if leaf.box.pieces is not None and leaf.text:
            wait = self.promo.rate.snap(ticks(leaf.box.pieces.after))
        kind, plain, more = self._content(leaf, shapes)
        plain |= self._motion(leaf, kind)
        if leaf.opacity < 1:
            plain["opacity"] = leaf.opacity
        wait = wait if wait < self.item.length and self.item.anchor.to != "whole" else 0
        anchor: Any = self.item.anchor
        if wait and anchor.to == "clip":
            anchor = anchor.changed(offset=anchor.offset + wait)
        elif wait:
            anchor = anchor.changed(at=anchor.at + wait)
        return Item(
            id=self.context.new_id("i"), anchor=anchor, length=self.item.length - wait, group=self.item.group, **more,
            **in_every_format(self.promo, kind, plain, lies),
        )  # fmt: skip

    def _content(self, leaf: Leaf, shapes: dict[str, Leaf]) -> tuple[str, Layer, dict[str, Any]]:
        """The kind of layer that a box becomes, its values that are the same in every format, and what it holds."""
        if self._stays_design(leaf):
            return "design", self._own_fields(leaf), self._own_design(leaf, shapes)
        if leaf.text:
            return "words", _words(leaf, self._read), {}
        if leaf.box.kind == "picture" and self._source(leaf) is not None:
            source = self._source(leaf)
            least = max(1.0, min(leaf.rect.width, leaf.rect.height))
            corner = min(1.0, 2 * leaf.box.radius * CANON * self.item.read("size") / least)
            name = self.promo.media[source.media].name
            return "picture", {"corner": round(corner, 6)}, {"source": source, "name": name}
        return "shape", _plate(leaf, self._read, self._form(leaf), self.item.read("size")), {}

    def _own_fields(self, leaf: Leaf) -> Layer:
        field = leaf.box.field
        said = field and self.design.fields[field].kind != "picture"
        return {f"field.{field}": self._read(f"${field}")} if said else {}

    def _own_box(self, leaf: Leaf) -> DesignBox:
        box = leaf.box.changed(turn=0.0, colour=self._read(leaf.box.colour), second=self._read(leaf.box.second))
        if leaf.text:
            return _bare(box)
        unit = CANON * max(0.01, self.item.read("size"))
        wide, high = (round(min(8.0, side / unit), 6) for side in (leaf.rect.width, leaf.rect.height))
        return _bare(box.changed(width=wide, height=high))

    def _own_design(self, leaf: Leaf, shapes: dict[str, Leaf]) -> dict[str, Any]:
        """A design of one box, in each shape as large as it is there."""
        key = f"{self.design.id[:30]}-{len(self.designs) + 1}"
        arrange = {"any": self._own_box(leaf), **{shape: self._own_box(there) for shape, there in shapes.items()}}
        fields = {leaf.box.field: self.design.fields[leaf.box.field]} if leaf.box.field else {}
        self.designs[key] = self.design.changed(
            id=key, name=f"{self.design.name[:50]}, a part", frame="hug", fields=fields, arrange=arrange,
        )  # fmt: skip
        source = self._source(leaf)
        fills = {leaf.box.field: source} if source is not None else {}
        return {"design": key, "name": self.design.name, "fills": fills}

    def _motion(self, leaf: Leaf, kind: str) -> Layer:
        """How a layer comes, stays and goes, as the box did."""
        values: Layer = {}
        comes, pieces = leaf.comes, leaf.box.pieces
        if comes is not None:
            values |= {"arrives": comes.way, "arrive_length": ticks(comes.over), "arrive_delay": ticks(comes.after)}
        if pieces is not None and kind == "words":
            values |= {
                "pieces": pieces.way, "pieces_length": ticks(pieces.over), "pieces_by": pieces.by,
                "pieces_order": pieces.order, "pieces_overlap": pieces.overlap,
            }  # fmt: skip
        if leaf.stays != "none":
            values["stays"] = leaf.stays
        if self.design.goes != "none":
            back = comes.way if comes is not None and self.design.goes == "back" else "fade"
            values |= {"leaves": back, "leave_length": ticks(self.design.goes_over)}
        return values


def _bare(box: DesignBox) -> DesignBox:
    return box.changed(comes=None, pieces=None, stays="none", opacity=1.0)


def _words(leaf: Leaf, read: Callable[[str], str]) -> Layer:
    """What words look like that a box set."""
    box = leaf.box
    values: Layer = {
        "text": leaf.text, "font": box.font, "weight": box.weight, "colour": read(box.colour), "align": box.align,
        "line": box.line, "italic": box.italic, "spacing": box.spacing,
    }  # fmt: skip
    if box.second and not box.glow:
        values |= {"second": read(box.second), "fill_angle": box.angle}
    if box.outline:
        values |= {"outline": box.outline, "outline_colour": read(box.outline_colour)}
    if box.shadow:
        values["shadow"] = box.shadow
    if box.cast:
        values |= {"cast": box.cast, "cast_colour": read(box.cast_colour)}
    if box.under != "none":
        values |= {"under": box.under, "under_colour": read(box.under_colour)}
    if box.box:
        values |= {"box": read(box.box), "box_of": box.box_of, "box_pad": (0.3, 0.08), "box_round": 0.12}
    if box.arc:
        values["arc"] = box.arc
    if box.glow:
        size = round(min(0.2, 0.3 * leaf.size / CANON), 4)
        values |= {"glow": box.glow, "glow_colour": read(box.second or box.colour), "glow_size": size}
    return values


def _plate(leaf: Leaf, read: Callable[[str], str], form: str, scale: float) -> Layer:
    """What a shape looks like that a box drew."""
    box = leaf.box
    values: Layer = {"form": form, "ink": read(box.colour)}
    if box.kind == "shape":
        values |= {"form_points": box.points, "form_depth": box.depth}
    if box.second and box.kind == "plate":
        values |= {"ink_second": read(box.second), "ink_angle": box.angle}
    if box.line_only:
        values |= {"ink": "", "stroke": min(0.2, box.line_only * scale), "stroke_colour": read(box.colour)}
    if box.radius and form == "rectangle":
        least = max(1.0, min(leaf.rect.width, leaf.rect.height))
        values["rounding"] = round(min(1.0, 2 * box.radius * CANON * scale / least), 6)
    return values
