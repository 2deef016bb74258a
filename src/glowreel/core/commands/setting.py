"""Setting properties of parts (see `core.properties`), for all formats or one, and copying how something looks.

```
Set        opacity 100 %  →  50 %                     at 2 s, where it changes over time: a point there
           “Fly at first light”  →  “Fly”             with `only`: in that format alone
Reset      opacity 50 %   →  100 %                    with a format: as in the others again
CopyLook   [plain title] and [yellow title]  →  both yellow, at the same place
PlaceItem  a box left by a gesture  →  pinned to the nearest corner, edge or middle
PinItems   pinned anywhere  →  pinned to the top right of the safe area
```
Numbers are as stored: places and sizes fractions of the frame's short side, lengths ticks. Refused: what no chosen part
has, values outside the limits of the row, formats the promo is not made in.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from glowreel.core.arrangement import ruled
from glowreel.core.commands.base import Command, Context, Outcome, called
from glowreel.core.commands.change import map_parts
from glowreel.core.commands.roles import FormatId, Reference, Target
from glowreel.core.commands.selection import Chosen, still_there
from glowreel.core.content.pictures import framing_of
from glowreel.core.document import Item, Part, Promo
from glowreel.core.errors import Refusal
from glowreel.core.fonts import FONTS
from glowreel.core.formats import Format
from glowreel.core.layout import Box, in_safe_area, pinned, pushed
from glowreel.core.place import Place
from glowreel.core.properties import PROPERTIES, Curve, Point, Property
from glowreel.core.setting import APart, is_own, row_of, set_to, with_value, without
from glowreel.core.time import Ticks
from glowreel.core.timeline import timeline
from glowreel.core.value import Fraction01
from glowreel.core.words import moved_runs

MAX_VALUES = 40


def format_of(promo: Promo, format_id: str) -> Format:
    found = next((f for f in promo.formats if f.id == format_id), None)
    if found is None:
        raise Refusal("gone", "That format is no longer in the promo.", "Choose another one.")
    return found


def moment_of(promo: Promo, part: Part, at: int | None) -> int | None:
    """A time of the promo as a moment of the part's own time, held inside the part."""
    if at is None:
        return None
    span = timeline(promo).span_of(part)
    return part.into + min(max(0, at - span.start), span.length)


def assigned(part: APart, row: Property, name: str, value: Any, where: str | None, moment: int | None) -> APart:
    """The part with a value set. Where it changes over time, it is set at the moment alone; `where` is the format that
    has it for itself. A pair may leave one of its numbers as it is."""
    there = set_to(part, name, where or "")
    if row.kind == "spot" and isinstance(value, list | tuple) and None in value:
        known = row.at(there, moment if moment is not None else part.into)
        value = [old if new is None else new for new, old in zip(value, known, strict=False)]
    if isinstance(there, Curve) and moment is not None and not isinstance(value, Curve | dict):
        here = next((point for point in there.points if point.at == moment), None)
        made = Point(at=moment, value=value) if here is None else here.changed(value=value)
        value = there.with_point(made)
    try:
        return with_value(part, name, row.check(value), where)
    except ValueError as error:
        raise Refusal("bad-value", f"That cannot be: {reason(error)}.", "Choose another value.") from error


def with_words(promo: Promo, part: Part, name: str, text: str) -> Promo:
    """The promo with a property of a part that holds words saying something, in every format."""
    row = row_of(part, name, promo)
    if row is None or row.kind != "text":
        raise Refusal("no-property", f"{called(promo, part)} has no words there.", "Choose something else.")
    return map_parts(promo, {part.id}, lambda old: assigned(old, row, name, text, None, None))


def reason(error: ValueError) -> str:
    """What is wrong with a value, in words."""
    errors = getattr(error, "errors", None)
    text = str(errors(include_url=False, include_context=False)[0]["msg"]) if errors else str(error)
    return text.removeprefix("Value error, ").rstrip(".")


def place_for(part: Part, row: Property, name: str, format_id: str | None, only: bool) -> str | None:
    """Which format a value is set for: one alone where it is wanted, or where that one has its own already."""
    if format_id is None or not row.per_format:
        return None
    return format_id if only or is_own(part, name, format_id) else None


def _nearest_weight(part: APart, where: str | None) -> APart:
    """The part with the weight nearest to its own that its font has."""
    family = FONTS.get(part.read("font", where or ""))
    own = part.read("weight", where or "")
    if family is None or own in family.weights:
        return part
    return with_value(part, "weight", min(family.weights, key=lambda weight: abs(weight - own)), where)


def _along(part: APart, text: Any, where: str | None) -> APart:
    """The part with those of its words that are in another manner where they are in a new text."""
    row = row_of(part, "runs")
    runs = part.read("runs", where or "") if row is not None else ()
    if row is None or not runs or not isinstance(text, str):
        return part
    return with_value(part, "runs", moved_runs(part.read("text", where or ""), text, runs), where)


LAID = frozenset({"pin", "place", "size", "wrap", "tall"})
"""Properties that say where a layer lies and how large it is."""


class Set(Command):
    """Sets properties of clips and items, by the names of their rows; those that a part has not are passed over.

    With `format`, a value that the format has for itself is set there; with `only`, every one is. Where a property
    changes over time, `at` says when it has the value: a point is put there. Without it, the curve is gone.
    """

    do: Literal["set"] = "set"
    items: Chosen
    values: Annotated[dict[str, Any], Field(min_length=1, max_length=MAX_VALUES)]
    format: FormatId | None = None
    only: bool = False
    at: Ticks | None = None

    def typing(self) -> str | None:
        names = list(self.values)
        # Parts of a text in another manner are moved along as it is typed.
        said = [name for name in names if name != "runs"]
        text = len(said) == 1 and said[0] in PROPERTIES and PROPERTIES[said[0]].kind == "text"
        return f"{self.items[0]} {said[0]} {self.format} {self.only}" if text and len(self.items) == 1 else None

    def _moves_runs(self, name: str) -> bool:
        """Whether parts in another manner have to be moved along with a text that does not say where they are now."""
        return name == "text" and "runs" not in self.values

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        found = still_there(promo, self.items)
        if self.format is not None:
            format_of(promo, self.format)
        had: set[str] = set()

        def change(part: APart) -> APart:
            moment = moment_of(promo, part, self.at)
            for name, value in self.values.items():
                row = row_of(part, name, promo)
                if row is None:
                    continue
                had.add(name)
                where = place_for(part, row, name, self.format, self.only)
                value = self._beside(promo, part, name, value, moment)
                part = assigned(
                    _along(part, value, where) if self._moves_runs(name) else part, row, name, value, where, moment
                )
                if name == "font" and "weight" not in self.values:
                    part = _nearest_weight(part, where)
                if name in LAID and where is None and self.format is not None:
                    # What is said of its place holds where it is looked at: the rule does not change it there.
                    part = made_in(part, format_of(promo, self.format))
            return part

        made = map_parts(promo, found, change)
        missing = set(self.values) - had
        if missing:
            strange = sorted(missing)[0]
            label = PROPERTIES[strange].label.lower() if strange in PROPERTIES else f"property “{strange}”"
            raise Refusal("no-property", f"What is selected has no {label}.", "Select something else.")
        return Outcome(made, self._sentence(made, sorted(found)), self.items)

    def _beside(self, promo: Promo, part: Part, name: str, value: Any, moment: int | None) -> Any:
        """A value; where one number alone is given of a focus that follows a subject, the other stays where that is."""
        halved = name == "focus" and isinstance(value, list | tuple) and None in value
        if not halved or part.says(name, self.format or ""):
            return value
        format = format_of(promo, self.format) if self.format is not None else promo.formats[0]
        seen = framing_of(promo, part, format, moment).focus
        return [old if new is None else new for new, old in zip(value, seen, strict=False)]

    def _sentence(self, promo: Promo, found: list[str]) -> str:
        index = timeline(promo)
        part = index.find_part(found[0])
        who = called(promo, part) if len(found) == 1 else f"{len(found)} items"
        where = f" in {format_of(promo, self.format).name}" if self.only and self.format else ""
        rows = {name: row for name in self.values if (row := row_of(part, name, promo)) is not None}
        if len(rows) != 1:
            return f"Changed {who}{where}"
        ((name, row),) = rows.items()
        if row.kind == "text":
            return f"Wrote {who}{where}"
        place = place_for(part, row, name, self.format, self.only)
        value = row.at(set_to(part, name, place or ""), moment_of(promo, part, self.at) or part.into)
        if row.kind == "flag":
            return f"{row.verbs[0] if value else row.verbs[1]} {who}{where}"
        return f"Set {row.label.lower()} of {who} to {row.say(value)}{where}"


class Reset(Command):
    """Puts properties back as the table has them, or, with a format, as the other formats have them. Without names, all
    of them."""

    do: Literal["reset"] = "reset"
    items: Chosen
    names: Annotated[tuple[str, ...], Field(max_length=MAX_VALUES)] = ()
    format: FormatId | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        found = still_there(promo, self.items)

        def change(part: APart) -> APart:
            every = set(part.values_in.get(self.format, {})) if self.format else set(part.values)
            return without(part, set(self.names) or every, self.format)

        part = timeline(promo).find_part(sorted(found)[0])
        who = called(promo, part) if len(found) == 1 else f"{len(found)} items"
        sentence = f"Put {self._what()} of {who} back"
        if self.format is not None:
            sentence = f"{self._what().capitalize()} of {who} follows the other formats again"
            if not self.names:
                sentence = f"{who} follows the other formats again"
        return Outcome(map_parts(promo, found, change), sentence, self.items)

    def _what(self) -> str:
        known = [PROPERTIES[name].label.lower() for name in self.names if name in PROPERTIES]
        return known[0] if len(known) == 1 else "some of it" if self.names else "all"


class CopyLook(Command):
    """Gives clips and items the look of another one: everything about how it is seen, in every format, with its
    effects. What a part has no property for is passed over."""

    do: Literal["copy-look"] = "copy-look"
    source: Reference
    items: Chosen

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        source = timeline(promo).find_part(self.source)
        found = still_there(promo, self.items) - {source.id}
        if not found:
            raise Refusal("nothing", "There is nothing else to give this look to.", "Select other things as well.")

        def change(part: APart) -> APart:
            names = {row.name for row in PROPERTIES.values() if row.look and row.of & part.content.traits}
            shared = {name for name in names if PROPERTIES[name].of & source.content.traits}

            def taken(own: dict[str, Any], others: dict[str, Any]) -> dict[str, Any]:
                kept = {name: value for name, value in own.items() if name not in shared}
                return kept | {name: value for name, value in others.items() if name in shared}

            keys = {*source.values_in, *part.values_in}
            return part.changed(
                values=taken(part.values, {name: source.set_to(name) for name in shared}),
                values_in={key: taken(part.values_in.get(key, {}), source.values_in.get(key, {})) for key in keys},
                effects=tuple(effect.changed(id=context.new_id("e")) for effect in source.effects),
            )

        made = map_parts(promo, found, change)
        whom = called(promo, timeline(promo).find_part(min(found))) if len(found) == 1 else f"{len(found)} items"
        return Outcome(made, f"Gave {whom} the look of {called(promo, source)}", tuple(found))


def placed_values(part: Part, box: Box, format: Format, only: bool) -> tuple[bool, dict[str, Any]]:
    """Whether a format has its place for itself, and what is set to put a part into a box, in fractions of the short
    side. Where its place changes over time, it stays pinned as it is."""
    moving = isinstance(set_to(part, "place", format.id), Curve)
    old = Place(pin=part.read("pin", format.id)) if row_of(part, "pin") else Place()
    place = pushed(box, format, old) if moving else pinned(box, format, old)
    # A point of the frame and the push from there belong together: a format has both for itself, or neither.
    own = only or is_own(part, "pin", format.id) or is_own(part, "place", format.id)
    values: dict[str, Any] = {"place": place.push}
    if own or (not moving and place.pin != old.pin):
        values["pin"] = place.pin
    return own, values


Far = Annotated[float, Field(ge=-8, le=8, allow_inf_nan=False)]
Large = Annotated[float, Field(gt=0.005, le=8, allow_inf_nan=False)]


class Beside(BaseModel):
    """Another item that was moved by the same gesture, and the box where it lies now."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    item: Target
    x: Far
    y: Far
    width: float = Field(gt=0, le=16, allow_inf_nan=False)
    height: float = Field(gt=0, le=16, allow_inf_nan=False)

    @property
    def box(self) -> Box:
        return Box(self.x, self.y, self.width, self.height)


def put_in(
    promo: Promo, boxes: Mapping[str, Box], format: Format, context: Context, *, only: bool, at: int | None,
    more: Mapping[str, Mapping[str, Any]] | None = None,
) -> tuple[Promo, frozenset[str]]:  # fmt: skip
    """The promo with layers in boxes, in fractions of the short side, each with `more` values; and which of them are
    there in this format only: where that is wanted, and where the rule had laid them out anew, since the others would
    follow from what nobody saw. These are as large there then as the rule had made them."""
    rules, found = ruled(promo, format, context.measure), {}
    for key, box in boxes.items():
        item = timeline(promo).find_item(key)
        by_rule = rules.of(item)
        alone = only or bool(by_rule)
        own, values = placed_values(item, box, format, alone)
        made = {name: value for name, value in by_rule.items() if item.read(name, format.id) != value}
        values = made | values
        found[key] = alone, own, values | dict((more or {}).get(key, {}))

    def change(part: APart) -> APart:
        alone, own, values = found[part.id]
        for name, value in values.items():
            row = row_of(part, name)
            if row is None:
                raise Refusal("no-place", f"{called(promo, part)} has no place in the frame.")
            here = alone or (own if name in ("pin", "place") else is_own(part, name, format.id))
            part = assigned(part, row, name, value, format.id if here else None, moment_of(promo, part, at))
        return part if own else made_in(part, format)

    return map_parts(promo, set(found), change), frozenset(key for key, (alone, *_) in found.items() if alone)


def made_in(part: APart, format: Format) -> APart:
    """A layer that was placed by hand in a format."""
    return part.changed(made_in=(format.wide, format.high)) if isinstance(part, Item) else part


CROPS = ("crop_left", "crop_top", "crop_right", "crop_bottom")


class PlaceItem(Command):
    """Puts an item where a gesture left it: its box, in fractions of the frame's short side, in one format, and with it
    its size, line width, turn, stretch and crop (left, top, right, bottom), as far as they changed.

    The rule then pins it to the nearest corner, edge or middle, so that the other formats follow. With `only`, and
    where the rule had laid it out anew, they do not: the place becomes this format's own. Where its place changes over
    time, it stays pinned as it is, and the box is where it lies `at` that time.
    """

    do: Literal["place-item"] = "place-item"
    item: Target
    format: FormatId
    x: Far
    y: Far
    width: float = Field(gt=0, le=16, allow_inf_nan=False)
    height: float = Field(gt=0, le=16, allow_inf_nan=False)
    size: Large | None = None
    wrap: Large | None = None
    turn: float | None = Field(default=None, ge=-3600, le=3600, allow_inf_nan=False)
    stretch: float | None = Field(
        default=None, ge=PROPERTIES["stretch"].low, le=PROPERTIES["stretch"].high, allow_inf_nan=False
    )  # fmt: skip
    crop: tuple[Fraction01, Fraction01, Fraction01, Fraction01] | None = None
    only: bool = False
    at: Ticks | None = None
    also: tuple[Beside, ...] = Field(default=(), max_length=200)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        item = timeline(promo).find_item(self.item)
        format = format_of(promo, self.format)
        more = {"size": self.size, "wrap": self.wrap, "turn": self.turn, "stretch": self.stretch}
        if self.crop is not None:
            more |= dict(zip(CROPS, self.crop, strict=True))
        more = {name: value for name, value in more.items() if value is not None and row_of(item, name)}
        others = {one.item: one.box for one in self.also if row_of(timeline(promo).find_item(one.item), "place")}
        boxes = {**others, item.id: Box(self.x, self.y, self.width, self.height)}
        made, alone = put_in(
            promo, boxes, format, context, only=self.only, at=self.at, more={item.id: more}
        )  # fmt: skip
        who = called(promo, item) if not self.also else f"{1 + len(self.also)} items"
        where = f" in {format.name}" if item.id in alone else ""
        return Outcome(made, f"Placed {who}{where}", (item.id, *(beside.item for beside in self.also)))


class PinItems(Command):
    """Pins items to one of nine points of the safe area: (0, 0) is the top left, (0.5, 0.5) the middle. They grow and
    turn from where they are pinned."""

    do: Literal["pin-items"] = "pin-items"
    items: Chosen
    format: FormatId
    spot: tuple[Fraction01, Fraction01]
    only: bool = False

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        found = still_there(promo, self.items)
        format = format_of(promo, self.format)
        place = {"pin": self.spot, "place": in_safe_area(format, self.spot)}
        rules, index = ruled(promo, format, context.measure), timeline(promo)

        def change(part: APart) -> APart:
            # Where the rule had laid it out anew, it is as large there as that had made it, and there only.
            by_rule = rules.of(index.item[part.id]) if part.id in index.item else {}
            only = self.only or bool(by_rule) or is_own(part, "pin", format.id)
            for name, value in {**by_rule, **place}.items():
                row = row_of(part, name)
                if row is not None:
                    part = assigned(part, row, name, value, place_for(part, row, name, format.id, only), None)
            return part if only else made_in(part, format)

        made = map_parts(promo, found, change)
        if made == promo and not any(row_of(timeline(promo).find_part(key), "pin") for key in found):
            raise Refusal("no-place", "What is selected has no place in the frame.", "Select a layer.")
        where = f" in {format.name}" if self.only else ""
        part = timeline(promo).find_part(min(found))
        who = called(promo, part) if len(found) == 1 else f"{len(found)} items"
        return Outcome(made, f"Placed {who}{where}", self.items)
