"""A template as a designer writes it: scenes one after another, each a ground or a picture with designs over it.

```
pattern ─ colours, fonts   the designer's own brand, shown until somebody's is
        ─ music            a song by name, as long as the promo
        ─ layers           designs that stay for the whole promo, such as a progress bar
        ─ scenes ─ ground  a role of colour, or the name of a sample picture that fills the frame
                 ─ layers  designs, what their fields say, and sample pictures for their places
                 ─ leaves  the transition into the next scene
```
Every field for words or a picture becomes a slot, and so do pictures that fill the frame and the music; what is named
in `fixed` does not. Colours are roles, so that a pattern is right in every brand. Lengths are seconds.
"""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field, model_validator

from glowreel.core.template.facts import Facts
from glowreel.core.value import Value
from glowreel.core.vocabulary import TransitionKind

Name = Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[a-z][a-z0-9-]*$")]
Seconds = Annotated[float, Field(ge=0, le=600, allow_inf_nan=False)]
Said = Annotated[str, Field(max_length=600)]


class PatternLayer(Value):
    """A design over a scene: from `at` seconds into it, to its end unless `lasts` says how long. `says` fills its
    fields for words and colours, `shows` its pictures with samples by name; `values` are properties of the layer, such
    as its place. `hints` and `labels` tell whoever fills a field; `free` fields may be left empty."""

    design: Name
    at: Seconds = 0
    lasts: Seconds = 0
    says: dict[Name, Said] = {}
    shows: dict[Name, str] = {}
    values: dict[str, Any] = {}
    labels: dict[Name, Annotated[str, Field(min_length=1, max_length=60)]] = {}
    hints: dict[Name, Annotated[str, Field(max_length=200)]] = {}
    fixed: tuple[Name, ...] = ()
    free: tuple[Name, ...] = ()


class PatternScene(Value):
    """A scene of `lasts` seconds. `picture` is a sample that fills the frame; `ground` a colour where there is none.
    One that is `free` may be left out."""

    name: str = Field(min_length=1, max_length=80)
    lasts: Annotated[float, Field(gt=0.2, le=120, allow_inf_nan=False)]
    ground: str = "ground"
    picture: str = ""
    label: str = Field(default="Picture", min_length=1, max_length=60)
    layers: tuple[PatternLayer, ...] = Field(default=(), max_length=12)
    leaves: TransitionKind | None = None
    over: Annotated[float, Field(gt=0, le=3, allow_inf_nan=False)] = 0.6
    free: bool = False


class Pattern(Value):
    """A template by itself, under an identifier of its own."""

    id: Name
    name: str = Field(min_length=1, max_length=60)
    facts: Facts
    colours: dict[str, str] = {}
    fonts: dict[str, str] = {}
    music: str = ""
    layers: tuple[PatternLayer, ...] = Field(default=(), max_length=12)
    scenes: tuple[PatternScene, ...] = Field(min_length=1, max_length=40)

    @model_validator(mode="after")
    def _scenes_are_told_apart(self) -> Pattern:
        names = [scene.name for scene in self.scenes]
        if len(set(names)) != len(names):
            raise ValueError("two scenes have the same name")
        return self

    @property
    def samples(self) -> frozenset[str]:
        """The names of all samples that it shows or plays."""
        layers = (*self.layers, *(layer for scene in self.scenes for layer in scene.layers))
        shown = {name for layer in layers for name in layer.shows.values()}
        return frozenset(shown | {scene.picture for scene in self.scenes} | {self.music}) - {""}
