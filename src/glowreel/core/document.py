"""The promo document: an immutable value. Its validators refuse what no promo may be; `normalise` keeps the rest.

```
Promo ─ scenes ─ clips            the main track: durations only, so it has no gaps or overlaps
      ─ layers ─ track ─ items    in front of the main track; the first track is the front-most
      ─ sounds ─ track ─ items    heard under everything
      ─ transitions               by the clip they follow; they take handles and never change the length
      ─ opens, closes             how the picture comes at the start of the promo and goes at its end
      ─ notes                     markers with words, tied to a clip or free
      ─ formats                   the shapes it is published in
      ─ media                     facts about the files it uses
```
Starts are never stored for clips: they follow from the durations before. An item stores how it is anchored: tied to a
clip with an offset, free at a time, or whole, from the first to the last frame.
"""

from __future__ import annotations

from functools import cached_property
from typing import Annotated, Literal

from pydantic import Field, model_validator

from glowreel.core.formats import Format
from glowreel.core.media import Media
from glowreel.core.place import Framing, Place
from glowreel.core.speed import Moment, Speed
from glowreel.core.time import Length, Rate, Ticks
from glowreel.core.value import Colour, Decibels, Fraction01, Id, Value
from glowreel.core.words import Words

VERSION = 3

TransitionKind = Literal[
    "crossfade", "dip-black", "dip-white", "blur", "zoom", "spin", "iris",
    "push-left", "push-right", "push-up", "push-down",
    "wipe-left", "wipe-right", "wipe-up", "wipe-down",
    "slide-left", "slide-right", "slide-up", "slide-down",
]  # fmt: skip
"""What happens on a cut. A direction says which way things move: a push to the left brings the next clip from the
right; in a wipe its edge moves that way; in a slide the next clip comes to lie over the one before."""

Motion = Literal[
    "none", "fade", "rise", "blur", "zoom", "spin", "iris",
    "wipe-left", "wipe-right", "wipe-up", "wipe-down",
    "slide-left", "slide-right", "slide-up", "slide-down",
]  # fmt: skip
"""How a layer comes and goes; directions as in transitions."""


def _begins_inside(source_in: int, speed: Speed | None) -> None:
    """With a speed, a part's own time may begin before its media does, as long as the part itself does not."""
    if speed is None and source_in < 0:
        raise ValueError("nothing begins before its media does")


class Clip(Value):
    """A run of footage, a photo or a filler on the main track. `source_in` is where in the media it begins; with a
    speed, where its own time begins (see `core.speed`). Clips and items with the same `group` are selected together."""

    id: Id
    kind: Literal["footage", "photo", "filler"]
    media: Id | None = None
    name: str = Field(default="", max_length=255)
    source_in: Moment = 0
    length: Length
    framing: Framing = Framing()
    framing_in: dict[Id, Framing] = {}
    colour: Colour = "#D9CFC0"
    gain: Decibels = 0.0
    muted: bool = False
    speed: Speed | None = None
    group: Id | None = None

    @model_validator(mode="after")
    def _kind_and_media_agree(self) -> Clip:
        if (self.kind == "filler") != (self.media is None):
            raise ValueError("a filler has no media, anything else has")
        _begins_inside(self.source_in, self.speed)
        return self


class Scene(Value):
    """A named run of consecutive main-track clips; never empty."""

    id: Id
    name: str = Field(min_length=1, max_length=80)
    clips: tuple[Clip, ...] = Field(min_length=1)


class Tied(Value):
    """Starts `offset` after the start of a main-track clip, wherever that goes."""

    to: Literal["clip"] = "clip"
    clip: Id
    offset: Ticks = 0


class Free(Value):
    """Starts at a time of the promo."""

    to: Literal["time"] = "time"
    at: Ticks = 0


class Whole(Value):
    """Lasts from the first frame of the promo to the last, however long it becomes."""

    to: Literal["whole"] = "whole"


Anchor = Annotated[Tied | Free | Whole, Field(discriminator="to")]


class Picture(Value):
    """A photo, logo or footage shown in front of the main track."""

    kind: Literal["picture"] = "picture"
    media: Id
    source_in: Moment = 0
    speed: Speed | None = None

    @model_validator(mode="after")
    def _begins_inside(self) -> Picture:
        _begins_inside(self.source_in, self.speed)
        return self


class Sound(Value):
    """A stretch of sound. Fades are lengths at its ends, as heard. `of` names the clip it was detached from."""

    kind: Literal["sound"] = "sound"
    media: Id
    source_in: Moment = 0
    gain: Decibels = 0.0
    fade_in: Ticks = 0
    fade_out: Ticks = 0
    speed: Speed | None = None
    of: Id | None = None

    @model_validator(mode="after")
    def _begins_inside(self) -> Sound:
        _begins_inside(self.source_in, self.speed)
        return self


Content = Annotated[Words | Picture | Sound, Field(discriminator="kind")]


class Item(Value):
    """A layer or a sound on a track. `length` is ignored while it is anchored to the whole promo."""

    id: Id
    anchor: Anchor
    length: Length
    content: Content
    place: Place = Place()
    place_in: dict[Id, Place] = {}
    opacity: Fraction01 = 1.0
    arrives: Motion = "none"
    arrive_length: Ticks = 0
    leaves: Motion = "none"
    leave_length: Ticks = 0
    muted: bool = False
    group: Id | None = None

    @property
    def media(self) -> str | None:
        return None if isinstance(self.content, Words) else self.content.media


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
    formats: tuple[Format, ...] = Field(min_length=1, max_length=12)
    scenes: tuple[Scene, ...] = ()
    layers: tuple[Track, ...] = Field(default=(), max_length=200)
    sounds: tuple[Track, ...] = Field(default=(), max_length=200)
    transitions: tuple[Transition, ...] = ()
    opens: Edge | None = None
    closes: Edge | None = None
    notes: tuple[Note, ...] = Field(default=(), max_length=500)
    media: dict[Id, Media] = {}
    background: Colour = "#000000"

    @model_validator(mode="after")
    def _identifiers_are_unique(self) -> Promo:
        ids = [clip.id for clip in self.clips]
        ids += [item.id for track in (*self.layers, *self.sounds) for item in track.items]
        ids += [scene.id for scene in self.scenes] + [t.id for t in self.transitions]
        ids += [track.id for track in (*self.layers, *self.sounds)] + [note.id for note in self.notes]
        if len(set(ids)) != len(ids):
            raise ValueError("two parts of the promo share an identifier")
        missing = {m for m in self.used_media() if m not in self.media}
        if missing:
            raise ValueError(f"the promo names media it does not describe: {', '.join(sorted(missing))}")
        strange = [key for key, media in self.media.items() if media.id != key]
        if strange:
            raise ValueError(f"media are listed under another name than their own: {', '.join(sorted(strange))}")
        return self

    @cached_property
    def clips(self) -> tuple[Clip, ...]:
        """The main track in order."""
        return tuple(clip for scene in self.scenes for clip in scene.clips)

    @cached_property
    def items(self) -> tuple[Item, ...]:
        """Every layer and sound, front to back, then sounds."""
        return tuple(item for track in (*self.layers, *self.sounds) for item in track.items)

    def used_media(self) -> set[str]:
        found = {clip.media for clip in self.clips} | {item.media for item in self.items}
        return {m for m in found if m is not None}
