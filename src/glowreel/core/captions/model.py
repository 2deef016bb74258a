"""A lane of captions, as a promo keeps it.

Its cues are not kept: they follow by rule from the words that are heard and what is marked at those. Only what holds to
no voice, such as a sound in brackets, is a cue of its own, anchored like a note.
"""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field, field_validator, model_validator

from glowreel.core.anchor import Free, Tied
from glowreel.core.captions.designs import CAPTION_DESIGNS
from glowreel.core.content.values import checked, rows_of
from glowreel.core.properties import Curve
from glowreel.core.speech.transcript import Language
from glowreel.core.time import Length
from glowreel.core.value import Id, Value

MOST_CUES = 3000
CUE_LETTERS = 300
OWN_VALUES: tuple[str, ...] = ("size", "place", "pin", "wrap", "font", "weight", "colour", "box", "case", "outline")
"""Properties of words in which a lane may differ from its design."""


class Cue(Value):
    """A cue that holds to no voice."""

    id: Id
    anchor: Annotated[Tied | Free, Field(discriminator="to")]
    length: Length
    text: str = Field(min_length=1, max_length=CUE_LETTERS)


class Stretch(Value):
    """Another height of the captions for a stretch of a file's words, from the one numbered `first` to `last`."""

    media: Id
    first: int = Field(ge=0)
    last: int = Field(ge=0)
    height: float = Field(ge=0, le=1)


class Captions(Value):
    """Captions in one language: of the lanes that are `shown` the first is drawn. `design` is one of
    `CAPTION_DESIGNS`; `values` is what is different from it, `values_in` in one format. `keys` sets key words off by
    rule, `emoji` puts a picture after some. `late` is by how many milliseconds all of it is shown later than it is
    heard. `speakers` names whose voice it is, where there are several. Where `held` places differ, a stretch says."""

    id: Id
    language: Language
    name: str = Field(default="", max_length=60)
    design: str = "plain-box"
    values: dict[str, Any] = {}
    values_in: dict[Id, dict[str, Any]] = {}
    shown: bool = True
    keys: bool = True
    emoji: bool = False
    hide_fillers: bool = True
    late: int = Field(default=0, ge=-10_000, le=10_000)
    cues: tuple[Cue, ...] = Field(default=(), max_length=MOST_CUES)
    stretches: tuple[Stretch, ...] = Field(default=(), max_length=300)

    @field_validator("design")
    @classmethod
    def _known(cls, design: str) -> str:
        if design not in CAPTION_DESIGNS:
            raise ValueError(f"there is no caption design called “{design}”")
        return design

    @model_validator(mode="before")
    @classmethod
    def _values_are_checked(cls, data: Any) -> Any:
        if not isinstance(data, dict):
            return data
        data = dict(data)
        if data.get("values"):
            data["values"] = checked_values(data["values"])
        if data.get("values_in"):
            own = {key: checked_values(values) for key, values in data["values_in"].items()}
            data["values_in"] = {key: values for key, values in own.items() if values}
        return data


def checked_values(values: Any) -> dict[str, Any]:
    """Values of a lane, or an error: only those that it may have, none of them changing over time."""
    rows = {name: row for name, row in rows_of("words", frozenset()).items() if name in OWN_VALUES}
    made = checked(rows, "captions", values, own=True)
    if any(isinstance(value, Curve) for value in made.values()):
        raise ValueError("how captions look does not change over time")
    return dict(made)
