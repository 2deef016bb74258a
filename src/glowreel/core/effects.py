"""The table of effects: what can be done to the picture of a part, one row each.

An effect is a row here, and the function that draws it in `engine.effects` under the same name; its parameters are
rows like those of any property, so that they are checked, set, moved over time and documented in the same way.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from glowreel.core.properties.row import Choices, Property

ANY: frozenset[str] = frozenset({"effect"})


def _amount(default: float, meaning: str) -> Property:
    return Property("amount", "Amount", meaning, "number", default, ANY, unit="%", scale=0.01, step=1,
                    slider="straight", over_time=True)  # fmt: skip


def _rate(default: float, meaning: str = "how often in a second") -> Property:
    return Property("rate", "Rate", meaning, "number", default, ANY, unit="a second", low=0.1, high=10, step=0.1,
                    digits=2, slider="straight")  # fmt: skip


def _colour(default: str, meaning: str, name: str = "colour", label: str = "Colour") -> Property:
    return Property(name, label, meaning, "colour", default, ANY, over_time=True)


def _number(name: str, label: str, meaning: str, default: float, **more: Any) -> Property:
    return Property(name, label, meaning, "number", default, ANY, slider="straight", over_time=True, **more)


_HALVES: Choices = (("left", "Left"), ("right", "Right"), ("top", "Top"), ("bottom", "Bottom"))


@dataclass(frozen=True)
class EffectKind:
    """What an effect is called, what it does, and what can be set of it. One that is `timed` moves by itself, and is
    told the moment when it is drawn; one that shows `earlier` moments is made of them by the recipe."""

    name: str
    label: str
    meaning: str
    parameters: tuple[Property, ...]
    timed: bool = False
    earlier: bool = False

    def parameter(self, name: str) -> Property | None:
        return next((row for row in self.parameters if row.name == name), None)


EFFECTS: dict[str, EffectKind] = {
    row.name: row
    for row in (
        EffectKind("blur", "Blur", "softens it, as a lens out of focus does",
                   (_amount(0.2, "how soft; all of it is a tenth of the frame’s short side"),)),
        EffectKind("grey", "Grey", "takes the colour out of it", (_amount(1.0, "how much of the colour goes"),)),
        EffectKind("pixels", "Pixels", "shows it in squares of one colour",
                   (_amount(0.3, "how large the squares are; all of it is an eighth of the frame’s short side"),)),
        EffectKind("glitch", "Glitch", "tears it into bands and parts its colours, in bursts",
                   (_amount(0.5, "how much is torn, and how often"),), timed=True),
        EffectKind("light-leak", "Light leak", "light that falls in from the side and wanders",
                   (_amount(0.6, "how strong the light is"), _colour("#FF8A3C", "the colour of the light")),
                   timed=True),
        EffectKind("dust", "Film dust", "specks and hairs, as on an old film", (_amount(0.5, "how many"),), timed=True),
        EffectKind("shake", "Shake", "moves as if held by hand",
                   (_amount(0.4, "how far"), _rate(1.0, "how fast; once a second is a calm hand")), timed=True),
        EffectKind("flash", "Flash", "a flash of light that dies away, again and again",
                   (_amount(0.8, "how bright"), _rate(1.0), _colour("#FFFFFF", "the colour of the light")), timed=True),
        EffectKind("pulse", "Zoom pulse", "grows with a beat, and back",
                   (_amount(0.4, "how much larger; all of it is a quarter"), _rate(2.0)), timed=True),
        EffectKind("echo", "Echo trail", "shows what was a moment before, fading",
                   (_amount(0.5, "how strong the nearest echo is"),
                    _number("apart", "Apart", "seconds between two echoes", 0.12, low=0.03, high=1, step=0.01, digits=2,
                            unit="s"),
                    Property("count", "Echoes", "how many", "whole", 3, ANY, low=1, high=6, slider="straight")),
                   earlier=True),
        EffectKind("halftone", "Halftone", "dots of ink on paper, larger where it is dark",
                   (_number("size", "Size", "how large the dots are", 0.25, low=0.05, high=1, unit="%", scale=0.01,
                   step=1),
                    _colour("#23201C", "the colour of the dots", "ink", "Ink"),
                    _colour("#F6F1E7", "the colour between them", "paper", "Paper"))),
        EffectKind("duotone", "Duotone", "dark parts in one colour, light ones in another",
                   (_amount(1.0, "how much of it"), _colour("#2C2A4A", "the colour of dark parts", "dark",
                   "Dark parts"),
                    _colour("#F6B73C", "the colour of light parts", "light", "Light parts"))),
        EffectKind("old-film", "Old film", "brown, grainy, dusty and not quite steady",
                   (_amount(0.7, "how old"),), timed=True),
        EffectKind("scan-lines", "Scan lines", "dark lines across it, as on a tube",
                   (_amount(0.5, "how dark the lines are"),), timed=True),
        EffectKind("kaleidoscope", "Kaleidoscope", "a wedge of it, mirrored around the middle",
                   (Property("parts", "Parts", "how many wedges there are", "whole", 8, ANY, low=2, high=24,
                             slider="straight", over_time=True),
                    _number("turn", "Turn", "which wedge it is", 0.0, low=-3600, high=3600, least=0, most=360,
                            unit="°"))),
        EffectKind("mirror", "Mirror", "one half of it, and its mirror image in place of the other",
                   (Property("keep", "Keeps", "the half that stays", "choice", "left", ANY, choices=_HALVES,
                             control="choice"),)),
        EffectKind("edge-glow", "Edge glow", "its edges as lines of light in the dark",
                   (_amount(0.8, "how much of it"), _colour("#8FE3FF", "the colour of the light"))),
        EffectKind("confetti", "Confetti", "slips of paper that rain down in front of it",
                   (_amount(0.5, "how many"),), timed=True),
        EffectKind("burst", "Splash burst", "a splash of drops that flies apart in front of it",
                   (_amount(0.6, "how large the drops are"), _rate(0.5), _colour("#F6B73C", "the colour of the drops")),
                   timed=True),
    )
}  # fmt: skip
"""Every effect by its name."""

FINISHES: dict[str, str] = {
    "key": "a colour taken out of it",
    "grade": "tone and colour, and a look",
    "cube": "a look from a file: a table of colours",
    "channels": "curves of red, green and blue",
    "clarity": "how far neighbouring parts stand out from each other",
    "sharpen": "how crisp edges are",
    "soften": "how blurred it is",
    "grain": "grain as of film",
    "vignette": "darker corners",
    "wash": "a dark wash for words to stand on",
    "border": "a line around it",
    "drop": "the shadow that it casts",
    "glow": "light around it",
    "reflection": "its mirror image below it",
    "one-colour": "all of it in one colour, as see-through as it was",
}
"""What properties of a part draw in the same way as effects."""
