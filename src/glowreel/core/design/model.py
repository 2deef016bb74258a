"""What a design says. Lengths are fractions of the frame's short side; colours and fonts are roles, values or fields.

```
design ─ fields      what can be filled: words, colours, pictures
       ─ arrange     for any shape of frame, or one each for wide, square and tall: a box
box    ─ words       a field's words, or fixed ones, in a font, size and colour
       ─ plate       a rectangle, rounded or not, or an ellipse; all of it, or a line around it; or one that `fades` in
       ─ shape       one of `core.shapes`, such as a star or a heart
       ─ picture     a field's picture, cropped to the box, or shown whole in it
       ─ code        a QR code that leads to what a field says
       ─ ring        a ring that closes as the time of the part goes by; a plate may grow so as well
       ─ wave        bars that move with what is heard
       ─ chapters    the scenes that go by, each a bar that fills as its time does
       ─ stack       boxes down, across or over one another, with gap and padding
       ─ grid        boxes in columns and rows that share the room
```
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, field_validator, model_validator

from glowreel.core.formats import shape_of
from glowreel.core.letters import LETTER_WAYS, ORDERS
from glowreel.core.properties.row import Property
from glowreel.core.roles import COLOUR_ROLES, ON
from glowreel.core.shapes import SHAPES
from glowreel.core.value import Value
from glowreel.core.vocabulary import MOTIONS, STAYS
from glowreel.core.words import MAX_LETTERS

Name = Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[a-z][a-z0-9-]*$")]
Part01 = Annotated[float, Field(ge=0, le=8, allow_inf_nan=False)]
Room = Annotated[float, Field(ge=-2, le=2, allow_inf_nan=False)]
Extent = Part01 | Literal["hug", "fill"]
Shape = Literal["any", "wide", "square", "tall"]
GROUPS: dict[str, str] = {
    "plain": "Plain",
    "bold": "Bold",
    "editorial": "Editorial",
    "playful": "Playful",
    "neon": "Light and glow",
    "lower": "Names and lower thirds",
    "quote": "Quotes and reviews",
    "offer": "Prices and offers",
    "list": "Lists and steps",
    "talk": "Questions, myths, before and after",
    "time": "Dates and countdowns",
    "end": "Ends",
    "scene": "Whole scenes",
    "call": "Call-outs",
    "frame": "Frames for footage",
    "grid": "Pictures side by side",
}
"""What designs are for, in the order of the gallery."""
LETTERED = frozenset(LETTER_WAYS) | {"count"}
MAX_BOXES = 120
MAX_DEPTH = 12
FIELD = frozenset({"design"})


class FieldOf(Value):
    """Something to be filled. `sample` stands there until it is; `most` is how many letters words may have."""

    kind: Literal["text", "colour", "picture"]
    label: str = Field(min_length=1, max_length=40)
    sample: str = Field(default="", max_length=MAX_LETTERS)
    most: int = Field(default=200, gt=0, le=MAX_LETTERS)

    def row(self, name: str) -> Property | None:
        """The field as a property of a part that uses the design; pictures are material and no property."""
        if self.kind == "picture":
            return None
        more: dict[str, Any] = {"high": self.most, "control": "line"} if self.kind == "text" else {}
        return Property(
            f"field.{name}", self.label, f"what stands in {self.label.lower()}", self.kind, self.sample, FIELD, "what",
            per_format=True, **more,
        )  # fmt: skip


class Comes(Value):
    """How a box comes: one of the motions, `after` seconds, over so many."""

    way: str = "fade"
    after: float = Field(default=0, ge=0, le=30, allow_inf_nan=False)
    over: float = Field(default=0.5, gt=0, le=30, allow_inf_nan=False)

    @field_validator("way")
    @classmethod
    def _known(cls, way: str) -> str:
        if way not in MOTIONS:
            raise ValueError(f"there is no motion called “{way}”")
        return way


class Pieces(Comes):
    """How the letters of a box come: one of the ways of letters, one after another; or a number in them counts."""

    way: str = "rise"
    by: Literal["letter", "word", "line"] = "letter"
    order: str = "forward"
    overlap: float = Field(default=0.6, ge=0, le=1, allow_inf_nan=False)

    @field_validator("way")
    @classmethod
    def _known(cls, way: str) -> str:
        if way not in LETTERED:
            raise ValueError(f"there is no way of letters called “{way}”")
        return way

    @field_validator("order")
    @classmethod
    def _an_order(cls, order: str) -> str:
        if order not in ORDERS:
            raise ValueError(f"there is no order called “{order}”")
        return order


class Box(Value):
    """One box; see the module for what each kind uses. `colour`, `second` and `font` may be `$field`; a colour may also
    be `on-` and a role: what reads best on that. `stays` is what it does while it is on show, one of the ways in which
    layers stay."""

    kind: Literal["words", "plate", "shape", "picture", "code", "ring", "wave", "chapters", "stack", "grid"]
    field: Name | None = None
    text: str = Field(default="", max_length=MAX_LETTERS)
    font: str = "body"
    weight: int = Field(default=600, ge=100, le=900)
    size: float = Field(default=0.06, gt=0.005, le=2, allow_inf_nan=False)
    line: float = Field(default=1.1, ge=0.7, le=3, allow_inf_nan=False)
    lines: int = Field(default=0, ge=0, le=20)
    colour: str = "ink"
    opacity: float = Field(default=1, ge=0, le=1, allow_inf_nan=False)
    align: Literal["left", "centre", "right"] = "left"
    round: Literal["", "corners", "ellipse"] = ""
    radius: Part01 = 0
    width: Extent = "hug"
    height: Extent = "hug"
    direction: Literal["down", "across", "over"] = "down"
    keep: Literal["start", "middle", "end"] = "start"
    gap: Room = 0
    pad: tuple[Room, Room] = (0, 0)
    columns: int = Field(default=1, ge=1, le=6)
    turn: float = Field(default=0, ge=-360, le=360, allow_inf_nan=False)
    comes: Comes | None = None
    pieces: Pieces | None = None
    stays: str = "none"
    case: Literal["typed", "upper", "lower", "title"] = "typed"
    italic: bool = False
    spacing: float = Field(default=0, ge=-0.2, le=2, allow_inf_nan=False)
    second: str = ""
    angle: float = Field(default=90, ge=-360, le=360, allow_inf_nan=False)
    outline: float = Field(default=0, ge=0, le=0.25, allow_inf_nan=False)
    outline_colour: str = "dark"
    shadow: float = Field(default=0, ge=0, le=1, allow_inf_nan=False)
    cast: float = Field(default=0, ge=0, le=0.6, allow_inf_nan=False)
    cast_colour: str = "dark"
    under: Literal["none", "straight", "waves", "hand"] = "none"
    under_colour: str = "accent"
    box: str = ""
    box_of: Literal["all", "line", "word"] = "line"
    arc: float = Field(default=0, ge=-350, le=350, allow_inf_nan=False)
    glow: float = Field(default=0, ge=0, le=1, allow_inf_nan=False)
    shape: str = "star"
    points: int = Field(default=5, ge=3, le=24)
    depth: float = Field(default=0.5, ge=0, le=1, allow_inf_nan=False)
    line_only: Part01 = 0
    grows: bool = False
    fades: bool = False
    whole: bool = False
    bars: int = Field(default=28, ge=3, le=96)
    boxes: tuple[Box, ...] = Field(default=(), max_length=30)

    @property
    def colours(self) -> tuple[str, ...]:
        """Every colour that it names."""
        return self.colour, self.second, self.outline_colour, self.cast_colour, self.under_colour, self.box

    @field_validator("stays")
    @classmethod
    def _a_stay(cls, stays: str) -> str:
        if stays not in STAYS:
            raise ValueError(f"nothing stays in a way called “{stays}”")
        return stays

    @field_validator("shape")
    @classmethod
    def _a_shape(cls, shape: str) -> str:
        if shape not in SHAPES:
            raise ValueError(f"there is no shape called “{shape}”")
        return shape

    @field_validator("colour", "second", "outline_colour", "cast_colour", "under_colour", "box")
    @classmethod
    def _a_colour(cls, colour: str) -> str:
        if not colour:
            return colour
        if not (
            colour.removeprefix(ON) in COLOUR_ROLES
            or colour.startswith("$")
            or (colour.startswith("#") and len(colour) == 7)
        ):
            raise ValueError(f"“{colour}” is neither a role, a field nor a colour")
        return colour


class Design(Value):
    """A design by itself. `frame` says whether it takes as much room as it needs, or the whole frame."""

    id: Name
    name: str = Field(min_length=1, max_length=60)
    meaning: str = Field(min_length=1, max_length=160)
    purpose: Literal["title", "call-out", "grid", "caption", "end-card"] = "title"
    group: str = "plain"
    goes: Literal["back", "fade", "none"] = "none"
    goes_over: float = Field(default=0.4, gt=0, le=5, allow_inf_nan=False)
    frame: Literal["hug", "full"] = "hug"
    length: float = Field(default=3, gt=0, le=600, allow_inf_nan=False)
    fields: dict[Name, FieldOf] = Field(default={}, max_length=30)
    arrange: dict[Shape, Box] = Field(min_length=1)

    @field_validator("group")
    @classmethod
    def _a_group(cls, group: str) -> str:
        if group not in GROUPS:
            raise ValueError(f"there is no group of designs called “{group}”")
        return group

    @model_validator(mode="after")
    def _whole(self) -> Design:
        for shape, box in self.arrange.items():
            found = _all(box)
            if len(found) > MAX_BOXES:
                raise ValueError(f"a design has at most {MAX_BOXES} boxes")
            named = {one.field for one in found if one.field}
            named |= {colour[1:] for one in found for colour in one.colours if colour.startswith("$")}
            missing = named - set(self.fields)
            if missing:
                raise ValueError(f"the arrangement for {shape} uses a field that is not there: {sorted(missing)[0]}")
        if "any" not in self.arrange and set(self.arrange) != {"wide", "square", "tall"}:
            raise ValueError("a design is arranged for any shape, or for wide, square and tall")
        return self

    @property
    def listens(self) -> bool:
        """Whether anything in it moves with the sound."""
        return any(box.kind == "wave" for root in self.arrange.values() for box in _all(root))

    @property
    def coded(self) -> tuple[str, ...]:
        """The fields that stand in codes to scan."""
        boxes = (box for root in self.arrange.values() for box in _all(root))
        return tuple(dict.fromkeys(box.field for box in boxes if box.kind == "code" and box.field))

    def rows(self) -> list[Property]:
        """Its fields as properties."""
        return [row for name, field in self.fields.items() if (row := field.row(name)) is not None]

    def row(self, name: str) -> Property | None:
        """The property `field.<name>`."""
        field = self.fields.get(name.removeprefix("field."))
        return field.row(name.removeprefix("field.")) if field is not None else None

    @property
    def comes_over(self) -> float:
        """Seconds until all of it has come."""
        times = [come.after + come.over for root in self.arrange.values() for one in _all(root)
                 for come in (one.comes, one.pieces) if come is not None]  # fmt: skip
        return max(times, default=0.0)

    def for_shape(self, ratio: float) -> Box:
        """The arrangement for a frame so many times as wide as high."""
        return self.arrange.get(shape_of(ratio, 1)) or self.arrange["any"]


def _all(box: Box, depth: int = 0) -> list[Box]:
    if depth > MAX_DEPTH:
        raise ValueError(f"boxes lie at most {MAX_DEPTH} deep")
    return [box, *(inner for child in box.boxes for inner in _all(child, depth + 1))]
