"""The promo document: an immutable value. Its validators refuse what no promo may be; `normalise` keeps the rest.

```
Promo ─ scenes ─ clips            the main track: durations only, so it has no gaps or overlaps
      ─ layers ─ track ─ items    in front of the main track; the first track is the front-most
      ─ sounds ─ track ─ items    heard under everything
      ─ transitions               by the clip they follow; they take handles and never change the length
      ─ opens, closes             how the picture comes at the start of the promo and goes at its end
      ─ notes                     markers with words, tied to a clip or free
      ─ transcripts               what is said in its files, word by word
      ─ captions                  what of that is shown, a lane for each language
      ─ formats                   the shapes it is published in
      ─ media                     facts about the files it uses
      ─ dismissed                 what checks said, and why it is no matter
      ─ styles                    how words of a kind look, where that is not as it comes
      ─ slots, facts              what is to be filled, and what is said of it: with these it is a template
      ─ origin                    the template that it was made from
```
Starts are never stored for clips: they follow from the durations before. An item stores how it is anchored: tied to a
clip with an offset, free at a time, or whole, from the first to the last frame.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property
from typing import Annotated, Any, ClassVar, Literal, Self

from pydantic import BeforeValidator, Field, field_validator, model_validator

from glowreel.core.anchor import Anchor as Anchor
from glowreel.core.anchor import Free as Free
from glowreel.core.anchor import Tied as Tied
from glowreel.core.anchor import Whole as Whole
from glowreel.core.brand import Brand, StyleValues
from glowreel.core.captions.model import Captions
from glowreel.core.channels import Channel, OwnChannel, with_own
from glowreel.core.collage import GRIDS
from glowreel.core.collage.grids import MOST
from glowreel.core.content import KINDS, Kind
from glowreel.core.content.values import FIELD, Values, checked, rows_of
from glowreel.core.design import Design
from glowreel.core.effects import EFFECTS
from glowreel.core.formats import LONGEST, MOST_FORMATS, WIDEST, Format
from glowreel.core.media import Media
from glowreel.core.properties import PROPERTIES, Curve, Property
from glowreel.core.properties.table import BUSES
from glowreel.core.slots import Slot
from glowreel.core.source import Source
from glowreel.core.speech.transcript import Transcript
from glowreel.core.speed import Moment
from glowreel.core.template.facts import Facts, Origin
from glowreel.core.time import Length, Rate
from glowreel.core.value import Colour, Decibels, Id, Value
from glowreel.core.vocabulary import TransitionKind

VERSION = 8
MAX_EFFECTS = 20


class Effect(Value):
    """One effect on a part, one of those in `core.effects`, with the values of its parameters that are not the default
    ones, constant or as curves in the part's own time."""

    id: Id
    kind: str = Field(max_length=40)
    values: Values = {}

    @model_validator(mode="before")
    @classmethod
    def _values_are_checked(cls, data: Any) -> Any:
        if isinstance(data, dict) and data.get("kind") in EFFECTS:
            rows = {row.name: row for row in EFFECTS[data["kind"]].parameters}
            return {**data, "values": checked(rows, EFFECTS[data["kind"]].label, data.get("values") or {})}
        return data

    @field_validator("kind")
    @classmethod
    def _known(cls, kind: str) -> str:
        if kind not in EFFECTS:
            raise ValueError(f"there is no effect called “{kind}”")
        return kind

    @property
    def parameters(self) -> tuple[Property, ...]:
        return EFFECTS[self.kind].parameters

    def read(self, name: str, moment: int) -> Any:
        """The value of a parameter at a moment of the part's own time."""
        row = EFFECTS[self.kind].parameter(name)
        if row is None:
            raise KeyError(name)
        return row.at(self.values.get(name, row.default), moment)


class Part(Value):
    """What clips, layers and sounds are: something of a kind, as long as it lasts, from `into` on of its own time.

    `kind` is one of those in `core.content`. `values` holds the properties that are not as the table has them (see
    `core.properties`), constant or as curves in the part's own time; `values_in` those that are different in one
    format. A part that is a design names it, and holds in `fills` the material of its pictures, in `field.<name>` what
    its other fields say. Parts with the same `group` are selected together. `of` names the clip from which a sound was
    detached.
    """

    more: ClassVar[frozenset[str]] = frozenset()
    """Traits that it has where it stands, besides those of its kind."""

    id: Id
    kind: str = Field(max_length=40)
    name: str = Field(default="", max_length=255)
    length: Length
    into: Moment = 0
    source: Source | None = None
    values: Values = {}
    values_in: dict[Id, Values] = {}
    effects: tuple[Effect, ...] = Field(default=(), max_length=MAX_EFFECTS)
    design: str | None = Field(default=None, max_length=40)
    fills: Annotated[dict[str, Source], Field(max_length=30)] = {}
    group: Id | None = None
    of: Id | None = None

    @model_validator(mode="before")
    @classmethod
    def _values_are_checked(cls, data: Any) -> Any:
        if not isinstance(data, dict):
            return data
        data = dict(data)
        kind = data.get("kind", "")
        rows = rows_of(kind, cls.more)
        if data.get("values"):
            data["values"] = checked(rows, kind, data["values"])
        if data.get("values_in"):
            own = {key: checked(rows, kind, values, own=True) for key, values in data["values_in"].items()}
            data["values_in"] = {key: values for key, values in own.items() if values}
        return data

    @model_validator(mode="after")
    def _kind_and_material_agree(self) -> Self:
        kind = KINDS[self.kind]
        if ("design" in kind.traits) != (self.design is not None):
            raise ValueError(
                f"a part of the kind {kind.label.lower()} {'names' if 'design' in kind.traits else 'has no'} design"
            )
        if bool(kind.media) != (self.source is not None):
            raise ValueError(f"a part of the kind {kind.label.lower()} {'has' if kind.media else 'needs no'} material")
        sources = (*((self.source,) if self.source is not None else ()), *self.fills.values())
        if kind.lane != "sound" and any(source.runs != "once" for source in sources):
            raise ValueError("only sound runs round and round, or is made to fit")
        return self

    @property
    def content(self) -> Kind:
        """What its kind says of it."""
        return KINDS[self.kind]

    @property
    def traits(self) -> frozenset[str]:
        """What decides which properties it has."""
        return self.content.traits | self.more

    @property
    def inner(self) -> tuple[Part, ...]:
        """The parts that it is made of; none for most."""
        return ()

    @property
    def media(self) -> str | None:
        return self.source.media if self.source is not None else None

    @property
    def materials(self) -> tuple[Source, ...]:
        """All material of it, that of a design's pictures and a collage's cells as well."""
        own = (*((self.source,) if self.source is not None else ()), *self.fills.values())
        return (*own, *(source for part in self.inner for source in part.materials)) if self.inner else own

    @property
    def begins(self) -> int:
        """The tick of its material where it begins; 0 where it has none."""
        return self.source.exact(self.into).__floor__() if self.source is not None else 0

    def set_to(self, name: str, format_id: str = "") -> Any:
        """What a property is set to, a constant or a curve: in a format, where it has one of its own there."""
        own = self.values_in.get(format_id)
        if own is not None and name in own:
            return own[name]
        if name in self.values:
            return self.values[name]
        if name.startswith(FIELD):
            return None
        return PROPERTIES[name].default_for(self.kind)

    def says(self, name: str, format_id: str = "") -> bool:
        """Whether a property is set in a format, and not as it comes."""
        return name in self.values or name in self.values_in.get(format_id, {})

    def read(self, name: str, format_id: str = "", moment: int | None = None) -> Any:
        """The value of a property at a moment of the part's own time; where it begins, if none is given."""
        value = self.set_to(name, format_id)
        if isinstance(value, Curve):
            return PROPERTIES[name].at(value, self.into if moment is None else moment)
        return value

    def having(self, **values: Any) -> Self:
        """The same with properties set."""
        return self.changed(values={**self.values, **values})

    @property
    def timeless(self) -> bool:
        """Whether nothing of it depends on its own time: neither material that runs nor a value that changes."""
        sets = (self.values, *self.values_in.values(), *(effect.values for effect in self.effects))
        if any(not cell.timeless or cell.source is not None for cell in self.inner):
            return False
        return not any(isinstance(value, Curve) for values in sets for value in values.values())


class Cell(Part):
    """A part of a collage, in whose own time it lives and as long as which it lasts; its identifier is its own only in
    there."""

    more: ClassVar[frozenset[str]] = frozenset({"cell"})
    length: Length = 1

    @field_validator("kind")
    @classmethod
    def _stands_in_a_cell(cls, kind: str) -> str:
        if "celled" not in KINDS[kind].traits:
            raise ValueError("a cell holds footage, a photo, a colour or words")
        return kind


Weights = Annotated[tuple[Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)], ...], Field(max_length=MOST)]


class Clip(Part):
    """A part on the main track; where it starts follows from those before. A collage has a grid, as many cells as that,
    and says how they share the room where that is not as the grid has it (see `core.collage.layout`)."""

    grid: str | None = Field(default=None, max_length=40)
    cells: tuple[Cell, ...] = Field(default=(), max_length=MOST)
    shares: Annotated[dict[Annotated[str, Field(max_length=40)], Weights], Field(max_length=60)] = {}

    @model_validator(mode="after")
    def _as_many_cells_as_its_grid(self) -> Self:
        if ("collage" in self.content.traits) != (self.grid is not None) or (self.grid is None and self.cells):
            raise ValueError("a collage has a grid with cells, and nothing else has")
        if self.grid is not None:
            if self.grid not in GRIDS:
                raise ValueError(f"there is no grid called “{self.grid}”")
            if len(self.cells) != GRIDS[self.grid].count or len({cell.id for cell in self.cells}) != len(self.cells):
                raise ValueError("a collage has as many cells as its grid")
        return self

    @property
    def inner(self) -> tuple[Part, ...]:
        return self._lasting_cells

    @cached_property
    def _lasting_cells(self) -> tuple[Part, ...]:
        """Its cells in the time of the collage, each from when it starts in there."""
        step = self.read("step") if self.cells else 0
        return tuple(
            cell.changed(length=self.length, into=place * step, source=cell.source and cell.source.changed(
                at=cell.source.at - place * step))
            for place, cell in enumerate(self.cells)
        )  # fmt: skip


def _ground(values: Any) -> Any:
    """The properties of what lies behind pictures, checked like those of a part; none of them changes over time."""
    if not isinstance(values, dict):
        return values
    rows = {row.name: row for row in PROPERTIES.values() if row.group == "ground"}
    made = checked(rows, "what lies behind", values)
    if any(isinstance(value, Curve) for value in made.values()):
        raise ValueError("what lies behind all pictures does not change over time")
    return made


GroundValues = Annotated[dict[str, Any], BeforeValidator(_ground)]


Loudness = Annotated[float, Field(ge=-40, le=-6, allow_inf_nan=False)]
USUAL_LOUDNESS = -14.0
"""To what loudness (LUFS) a promo is brought that is for no channel."""

ShortText = Annotated[str, Field(min_length=1, max_length=60)]
Pronounced = Annotated[dict[ShortText, ShortText], Field(max_length=200)]
"""How words are read by voices, by how else they would be written."""
CheckKey = Annotated[str, Field(pattern=r"^[a-z-]{1,40}:[^:]{1,64}:[^:]{0,64}$")]
"""The check, the part and the format, as in `core.checks`."""


class Scene(Value):
    """A named run of consecutive main-track clips; never empty. `values` say what lies behind its pictures."""

    id: Id
    name: str = Field(min_length=1, max_length=80)
    clips: tuple[Clip, ...] = Field(min_length=1)
    values: GroundValues = {}


Side = Annotated[int, Field(gt=0, le=LONGEST)]


class Item(Part):
    """A layer or a sound on a track. `length` is ignored while it is anchored to the whole promo. `made_in` is the
    shape in which it was placed by hand, for all formats: the others are laid out like that one."""

    anchor: Anchor
    made_in: tuple[Side, Side] | None = None

    @field_validator("made_in")
    @classmethod
    def _no_ribbon(cls, shape: tuple[int, int] | None) -> tuple[int, int] | None:
        if shape is not None and max(shape) > WIDEST * min(shape):
            raise ValueError(f"a shape is at most {WIDEST} times as long as it is short")
        return shape


class Track(Value):
    """A row of items that never meet. `locked` ones are not edited; a `hidden` layer track is not drawn. Of the sound
    tracks, the muted ones are silent, and where any plays `solo`, so are all that do not."""

    id: Id
    name: str = Field(default="", max_length=60)
    items: tuple[Item, ...] = ()
    locked: bool = False
    hidden: bool = False
    muted: bool = False
    solo: bool = False
    gain: Decibels = 0.0


class Transition(Value):
    """Sits on the cut after the clip `after`; half its length on either side."""

    id: Id
    after: Id
    kind: TransitionKind = "crossfade"
    length: Length


class Edge(Value):
    """How the picture of the main track comes at the promo's start, or goes at its end."""

    kind: TransitionKind = "crossfade"
    length: Length


class Note(Value):
    """A marker with words, for whoever works on the promo; never drawn."""

    id: Id
    anchor: Annotated[Tied | Free, Field(discriminator="to")]
    text: str = Field(default="", max_length=500)


class Promo(Value):
    """One project, complete: everything needed to draw any frame in any of its formats.

    The rate is that of the first footage, unless it was chosen.
    """

    version: int = VERSION
    id: Id
    name: str = Field(min_length=1, max_length=120)
    rate: Rate = Rate(num=30, den=1)
    rate_chosen: bool = False
    formats: tuple[Format, ...] = Field(min_length=1, max_length=MOST_FORMATS)
    channels: Annotated[tuple[Annotated[str, Field(max_length=40)], ...], Field(max_length=12)] = ()
    own_channel: OwnChannel | None = None
    scenes: tuple[Scene, ...] = ()
    layers: tuple[Track, ...] = Field(default=(), max_length=200)
    sounds: tuple[Track, ...] = Field(default=(), max_length=200)
    transitions: tuple[Transition, ...] = ()
    opens: Edge | None = None
    closes: Edge | None = None
    notes: tuple[Note, ...] = Field(default=(), max_length=500)
    transcripts: tuple[Transcript, ...] = Field(default=(), max_length=200)
    captions: tuple[Captions, ...] = Field(default=(), max_length=20)
    pronounced: Pronounced = {}
    media: dict[Id, Media] = {}
    brand: Brand = Brand()
    slots: tuple[Slot, ...] = Field(default=(), max_length=200)
    facts: Facts | None = None
    origin: Origin | None = None
    designs: Annotated[dict[str, Design], Field(max_length=300)] = {}
    background: Colour = "#000000"
    values: GroundValues = {}
    buses: dict[str, Decibels] = {}
    gain: Decibels = 0.0
    loudness: Loudness | Literal["channels"] | None = None
    styles: StyleValues = {}
    dismissed: Annotated[dict[CheckKey, Annotated[str, Field(max_length=200)]], Field(max_length=1000)] = {}

    @model_validator(mode="after")
    def _identifiers_are_unique(self) -> Promo:
        ids = [clip.id for clip in self.clips]
        ids += [item.id for track in (*self.layers, *self.sounds) for item in track.items]
        ids += [scene.id for scene in self.scenes] + [t.id for t in self.transitions]
        ids += [track.id for track in (*self.layers, *self.sounds)] + [note.id for note in self.notes]
        ids += [slot.id for slot in self.slots]
        ids += [key for lane in self.captions for key in (lane.id, *(cue.id for cue in lane.cues))]
        if len(set(ids)) != len(ids):
            raise ValueError("two parts of the promo share an identifier")
        missing = {m for m in self.used_media() if m not in self.media}
        if missing:
            raise ValueError(f"the promo names media it does not describe: {', '.join(sorted(missing))}")
        undesigned = self.used_designs() - set(self.designs)
        if undesigned:
            raise ValueError(f"the promo names designs it does not hold: {', '.join(sorted(undesigned))}")
        if set(self.buses) - set(BUSES):
            raise ValueError(f"there are no other buses than {', '.join(BUSES)}")
        told = [(one.media, one.language) for one in self.transcripts]
        if len(set(told)) != len(told):
            raise ValueError("a file has two transcripts in one language")
        strange = [key for key, media in self.media.items() if media.id != key]
        if strange:
            raise ValueError(f"media are listed under another name than their own: {', '.join(sorted(strange))}")
        return self

    @property
    def loudness_wanted(self) -> float | None:
        """The loudness that the whole is brought to (LUFS): the one that was set, or the lowest that its channels ask
        for, or the usual one where it is for none; None where it stays as it is mixed."""
        if self.loudness != "channels":
            return self.loudness
        return min((self.known_channels[key].loudness for key in self.channels if key in self.known_channels),
                   default=USUAL_LOUDNESS)  # fmt: skip

    @property
    def known_channels(self) -> Mapping[str, Channel]:
        """Every channel that it can be for: the shipped ones, and its own."""
        return with_own(self.own_channel)

    @cached_property
    def clips(self) -> tuple[Clip, ...]:
        """The main track in order."""
        return tuple(clip for scene in self.scenes for clip in scene.clips)

    @cached_property
    def items(self) -> tuple[Item, ...]:
        """Every layer and sound, front to back, then sounds."""
        return tuple(item for track in (*self.layers, *self.sounds) for item in track.items)

    @cached_property
    def _scene_of(self) -> dict[str, Scene]:
        return {clip.id: scene for scene in self.scenes if scene.values for clip in scene.clips}

    def scene_values(self, clip: str) -> dict[str, Any]:
        """What the scene of a clip says of what lies behind its pictures."""
        scene = self._scene_of.get(clip)
        return scene.values if scene is not None else {}

    def used_media(self) -> set[str]:
        return {source.media for part in (*self.clips, *self.items) for source in part.materials}

    def kept_media(self) -> set[str]:
        """What it uses, and what it knows of the files of its brand, so that it is complete wherever it goes."""
        return self.used_media() | (self.brand.files & self.media.keys())

    def used_designs(self) -> set[str]:
        return {item.design for item in self.items if item.design is not None}
