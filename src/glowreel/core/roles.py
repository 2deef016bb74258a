"""Roles: what a colour or a font is for. Parts and designs name roles; the promo's brand says what fills them.

A promo keeps its brand as values and not as a link, so that it looks the same wherever it is opened.
"""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, field_validator

from glowreel.core.colour import contrast_of
from glowreel.core.value import Colour, Id, Value

COLOUR_ROLES: dict[str, tuple[str, str]] = {
    "ground": ("what things stand on", "#2C2A4A"),
    "ink": ("words and lines on the ground", "#FFFCF6"),
    "accent": ("what should be seen first", "#F6B73C"),
    "second": ("a second accent beside the first", "#C8430B"),
    "paper": ("a light ground", "#F6F1E7"),
    "dark": ("words on a light ground", "#23201C"),
}
"""Each role with its meaning and the colour where the brand has none."""

FONT_ROLES: dict[str, tuple[str, str]] = {
    "heading": ("large words that are read first", "Bricolage Grotesque"),
    "body": ("all other words", "Instrument Sans"),
    "aside": ("a word that should stand out by its manner", "Caveat"),
}
"""Each role with its meaning and the family where the brand has none."""

ON = "on-"
"""Before a role of colour: the colour of the brand that reads best on it."""

LIGHT = "-on-light"
LOGO_ROLES: dict[str, str] = {
    "logo": "the whole logo",
    "logo-on-light": "the whole logo, for light grounds",
    "mark": "its sign alone",
    "mark-on-light": "its sign alone, for light grounds",
    "word": "its name in letters",
    "word-on-light": "its name in letters, for light grounds",
}
"""What logos are for. One for light grounds is used there; without it, the one beside it is used everywhere."""


class Brand(Value):
    """What fills the roles, of a brand or as one promo holds it. A role left out has the colour or family that comes
    with the program. `palette` are its other colours, `tone` words that say how it speaks, `never` those that
    it does not use. A promo's brand knows its
    `origin` and which state of that it is (`version`)."""

    name: str = Field(default="", max_length=80)
    origin: Id | None = None
    version: int = Field(default=0, ge=0)
    palette: Annotated[tuple[Colour, ...], Field(max_length=24)] = ()
    never: Annotated[tuple[Annotated[str, Field(min_length=1, max_length=40)], ...], Field(max_length=60)] = ()
    tone: Annotated[tuple[Annotated[str, Field(min_length=1, max_length=40)], ...], Field(max_length=20)] = ()
    colours: Annotated[dict[str, Colour], Field(max_length=40)] = {}
    fonts: Annotated[dict[str, str], Field(max_length=20)] = {}
    logos: Annotated[dict[str, Id], Field(max_length=20)] = {}

    @field_validator("colours", "fonts", "logos")
    @classmethod
    def _known(cls, filled: dict[str, str]) -> dict[str, str]:
        strange = set(filled) - {*COLOUR_ROLES, *FONT_ROLES, *LOGO_ROLES}
        if strange:
            raise ValueError(f"there is no role “{sorted(strange)[0]}”")
        return filled

    def colour(self, value: str) -> str:
        """The colour that a value means: itself, what fills its role, or what reads best on that (`on-accent`)."""
        if value in COLOUR_ROLES:
            return self.colours.get(value, COLOUR_ROLES[value][1])
        if value.startswith(ON):
            return self.colour(self.reading(value))
        return value

    def reading(self, value: str) -> str:
        """The role of colour that reads best on another one (`on-accent`); any other value as it is."""
        if not value.startswith(ON):
            return value
        below = self.colour(value.removeprefix(ON))
        return max(("ink", "dark"), key=lambda role: contrast_of(self.colour(role), below))

    def logo_on(self, ground: str) -> str | None:
        """The file of the logo that suits a ground, given as a colour or a role; None where the brand has none."""
        below = self.colour(ground)
        light = contrast_of(self.colour("dark"), below) > contrast_of("#FFFFFF", below)
        order = [f"{role}{LIGHT}" if light else role for role in ("logo", "word", "mark")]
        order += [role for role in LOGO_ROLES if role not in order]
        return next((self.logos[role] for role in order if role in self.logos), None)

    def font(self, value: str) -> str:
        """The family that a value means: itself, or what fills its role."""
        if value in FONT_ROLES:
            return self.fonts.get(value, FONT_ROLES[value][1])
        return value
