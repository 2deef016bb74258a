"""A brand: what fills the roles, its manner, and its rules.

A promo keeps its brand as values and not as a link, so that it looks the same wherever it is opened.

```
Book ─ what a team's brand book holds
  └ Brand ─ what a promo holds of it: palettes, fonts with their own files, logos, watermark, text styles, manner
```
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field, field_validator, model_validator

from glowreel.core.colour import contrast_of
from glowreel.core.content.values import checked
from glowreel.core.properties import PROPERTIES, Curve
from glowreel.core.roles import COLOUR_ROLES, FONT_ROLES, LIGHT, LOGO_ROLES, ON
from glowreel.core.text_styles import STYLED, STYLES
from glowreel.core.value import Colour, Id, Value
from glowreel.core.vocabulary import MOTIONS, TRANSITIONS

OWN = "own:"
"""Before a family whose files are a brand's own, as it is handed to what draws: `own:400=HASH,700i=HASH`."""
MOST_PALETTES, MOST_FACES, MOST_MATERIAL = 12, 36, 200
Corner = Literal["top-left", "top-right", "bottom-left", "bottom-right"]
Word = Annotated[str, Field(min_length=1, max_length=40)]


def _styles(styles: Any) -> Any:
    """What text styles give to words, checked like properties of a part."""
    if not isinstance(styles, dict):
        return styles
    strange = [name for name in styles if name not in STYLES]
    if strange:
        raise ValueError(f"there is no text style called “{strange[0]}”")
    rows = {name: PROPERTIES[name] for name in STYLED}
    made = {name: checked(rows, "a text style", values) for name, values in styles.items()}
    if any(isinstance(value, Curve) for values in made.values() for value in values.values()):
        raise ValueError("a text style does not change over time")
    return made


StyleValues = Annotated[dict[str, dict[str, Any]], BeforeValidator(_styles)]


class Palette(Value):
    """Colours under a name: by what they are for, and `others` in their order."""

    name: str = Field(default="Colours", min_length=1, max_length=40)
    colours: dict[str, Colour] = {}
    others: Annotated[tuple[Colour, ...], Field(max_length=24)] = ()

    @field_validator("colours")
    @classmethod
    def _known(cls, filled: dict[str, str]) -> dict[str, str]:
        return _of_roles(filled, COLOUR_ROLES)


class Face(Value):
    """A file of letters of a brand's own: the material that it is, by identifier and hash, and what it is."""

    media: Id
    hash: str = Field(pattern=r"^[0-9a-f]{64}$")
    family: str = Field(min_length=1, max_length=80)
    weight: int = Field(default=400, ge=1, le=1000)
    italic: bool = False


class Watermark(Value):
    """Where a logo lands that is put on a promo, how high it is in fractions of the frame's short side, and how
    opaque."""

    corner: Corner = "top-right"
    size: float = Field(default=0.16, ge=0.04, le=0.6)
    opacity: float = Field(default=1.0, ge=0.05, le=1)


class LogoRules(Value):
    """What a logo needs: `clear` room around it, in fractions of its height, and the `smallest` height it may have, in
    fractions of the frame's short side. Nought asks nothing."""

    clear: float = Field(default=0, ge=0, le=1)
    smallest: float = Field(default=0, ge=0, le=0.5)


class Manner(Value):
    """How things come and go in a brand's way; nothing where it has none."""

    transition: str = ""
    arrives: str = ""
    leaves: str = ""

    @model_validator(mode="after")
    def _known(self) -> Manner:
        if self.transition and self.transition not in TRANSITIONS:
            raise ValueError(f"there is no transition “{self.transition}”")
        strange = [name for name in (self.arrives, self.leaves) if name and name not in MOTIONS]
        if strange:
            raise ValueError(f"there is no motion “{strange[0]}”")
        return self


class Brand(Value):
    """What fills the roles, of a brand or as one promo holds it. A role left out has the colour or family that comes
    with the program. Of its `palettes`, the one that it `wears` counts, usually the first. `tone` are words that say
    how it speaks, `never` those that it does not use. A promo's brand knows its `origin` and which state of that it
    is (`version`)."""

    name: str = Field(default="", max_length=80)
    origin: Id | None = None
    version: int = Field(default=0, ge=0)
    palettes: Annotated[tuple[Palette, ...], Field(max_length=MOST_PALETTES)] = ()
    wears: str = Field(default="", max_length=40)
    fonts: Annotated[dict[str, str], Field(max_length=20)] = {}
    faces: Annotated[tuple[Face, ...], Field(max_length=MOST_FACES)] = ()
    logos: Annotated[dict[str, Id], Field(max_length=20)] = {}
    rules: LogoRules = LogoRules()
    watermark: Watermark = Watermark()
    styles: StyleValues = {}
    manner: Manner = Manner()
    tone: Annotated[tuple[Word, ...], Field(max_length=20)] = ()
    never: Annotated[tuple[Word, ...], Field(max_length=60)] = ()

    @field_validator("fonts")
    @classmethod
    def _fonts(cls, filled: dict[str, str]) -> dict[str, str]:
        return _of_roles(filled, FONT_ROLES)

    @field_validator("logos")
    @classmethod
    def _logos(cls, filled: dict[str, str]) -> dict[str, str]:
        return _of_roles(filled, LOGO_ROLES)

    @field_validator("palettes")
    @classmethod
    def _named_apart(cls, palettes: tuple[Palette, ...]) -> tuple[Palette, ...]:
        if len({palette.name for palette in palettes}) != len(palettes):
            raise ValueError("two palettes have the same name")
        return palettes

    @property
    def palette(self) -> Palette:
        """The palette that counts."""
        first = self.palettes[0] if self.palettes else Palette()
        return next((one for one in self.palettes if one.name == self.wears), first)

    @property
    def others(self) -> tuple[Colour, ...]:
        """Its colours without a role: those of the palette that counts first."""
        worn = self.palette
        rest = (colour for one in self.palettes if one is not worn for colour in (*one.others, *one.colours.values()))
        return tuple(dict.fromkeys((*worn.others, *rest)))

    @property
    def files(self) -> frozenset[str]:
        """The material that it consists of: logos, and fonts of its own."""
        return frozenset((*self.logos.values(), *(face.media for face in self.faces)))

    @property
    def families(self) -> tuple[str, ...]:
        """The families of its own files, in the order in which they came."""
        return tuple(dict.fromkeys(face.family for face in self.faces))

    def colour(self, value: str) -> str:
        """The colour that a value means: itself, what fills its role, or what reads best on that (`on-accent`)."""
        if value in COLOUR_ROLES:
            first = self.palettes[0].colours if self.palettes else {}
            return self.palette.colours.get(value) or first.get(value) or COLOUR_ROLES[value][1]
        if value.startswith(ON):
            return self.colour(self.reading(value))
        return value

    def plays(self, colour: str) -> bool:
        """Whether a colour fills one of the roles."""
        return any(self.colour(role) == colour for role in COLOUR_ROLES)

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

    def family(self, value: str) -> str:
        """The name of the family that a value means: itself, or what fills its role."""
        return self.fonts.get(value, FONT_ROLES[value][1]) if value in FONT_ROLES else value

    def font(self, value: str) -> str:
        """The family that a value means as what draws knows it: by its name, or by the brand's own files of it."""
        name = self.family(value)
        faces = [face for face in self.faces if face.family == name]
        if not faces:
            return name
        return OWN + ",".join(f"{face.weight}{'i' * face.italic}={face.hash}" for face in faces)


class Book(Brand):
    """What a team's brand book holds of a brand: also its `material`, by identifier, and the scenes that it opens and
    ends with, each by its template and its number there."""

    material: Annotated[tuple[Id, ...], Field(max_length=MOST_MATERIAL)] = ()
    opening: str = Field(default="", max_length=80)
    ending: str = Field(default="", max_length=80)


def _of_roles(filled: dict[str, str], roles: dict[str, Any]) -> dict[str, str]:
    strange = sorted(set(filled) - set(roles))
    if strange:
        raise ValueError(f"there is no role “{strange[0]}”")
    return filled


def upgraded(book: dict[str, Any]) -> dict[str, Any]:
    """A brand as it was kept when it had one palette, as one of today; the input is untouched."""
    if "colours" not in book and "palette" not in book:
        return book
    rest = {key: value for key, value in book.items() if key not in ("colours", "palette")}
    colours, others = book.get("colours") or {}, book.get("palette") or []
    if "palettes" not in rest and (colours or others):
        rest["palettes"] = [{"name": "Colours", "colours": colours, "others": others}]
    return rest


def with_roles(palettes: tuple[Palette, ...], colours: Mapping[str, str]) -> list[Palette]:
    """A brand's palettes, with colours for roles in the first of them."""
    first, *rest = palettes or (Palette(),)
    return [first.changed(colours={**first.colours, **colours}), *rest]


def brand_styles(brand: Brand) -> dict[str, dict[str, Any]]:
    """What every text style is in a brand: its own, or as it comes with the program."""
    return {name: dict(brand.styles.get(name) or style.values) for name, style in STYLES.items()}
