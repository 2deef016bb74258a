"""What is said of a template, so that it is found and filled as it is meant; and where a promo came from."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, field_validator

from glowreel.core.time import Ticks
from glowreel.core.value import Id, Value

CATEGORIES: dict[str, str] = {
    "offer": "Offers and prices",
    "product": "Products and arrivals",
    "story": "Stories and tours",
    "tips": "Tips, steps and answers",
    "voices": "Quotes and reviews",
    "event": "Events and dates",
    "episode": "Episodes and teasers",
    "team": "Hours, jobs and thanks",
    "pictures": "Several pictures at once",
}
"""What templates are for, in the order of the gallery."""

OCCASIONS: dict[str, str] = {
    "any": "Any day",
    "launch": "A launch",
    "sale": "A sale",
    "season": "A season or holiday",
    "event": "An event",
    "weekly": "Every week",
}

MOODS: dict[str, str] = {
    "calm": "Calm",
    "bright": "Bright",
    "bold": "Bold",
    "warm": "Warm",
    "elegant": "Elegant",
    "playful": "Playful",
}

FAMILIES: dict[str, str] = {
    "frontpage": "pictures beside large words on paper, with thin rules",
    "horizon": "pictures that fill the frame, words low over a shade",
    "blocks": "flat blocks of colour that push one another, large capitals",
    "pinned": "prints pinned on paper, a little askew, with words by hand",
    "lantern": "light on a dark ground, thin letters that glow",
    "pebbles": "round pictures and round plates that pop up",
    "own": "made by a team",
}
"""How templates look; each family has scenes of its own among the designs, named after it."""

RULES: dict[str, str] = {
    "free": "as long as its scenes",
    "exact": "exactly as long as it is, whatever is filled in",
    "sound": "as long as the sound that is filled in",
}
"""What decides how long a promo made from a template is."""


class Facts(Value):
    """What is said of a template. `length` is how long it must be under the rule `exact`, in ticks."""

    meaning: str = Field(default="", max_length=160)
    category: str = "story"
    occasion: str = "any"
    mood: str = "calm"
    family: str = "own"
    author: str = Field(default="", max_length=80)
    rule: Literal["free", "exact", "sound"] = "free"
    length: Ticks = 0

    @field_validator("category", "occasion", "mood", "family")
    @classmethod
    def _known(cls, value: str, info: object) -> str:
        name = getattr(info, "field_name", "")
        table = {"category": CATEGORIES, "occasion": OCCASIONS, "mood": MOODS, "family": FAMILIES}[name]
        if value not in table:
            raise ValueError(f"there is no {name} called “{value}”")
        return value


class Origin(Value):
    """The template that a promo was made from, in which state of it; `scenes` tells for its scenes which of the
    template's they were."""

    template: Id
    version: int = Field(default=1, ge=0)
    name: str = Field(default="", max_length=120)
    scenes: Annotated[dict[Id, Id], Field(max_length=400)] = {}
