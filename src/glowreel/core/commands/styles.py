"""Text styles: giving words one, and letting a style look as some words do.

```
StyleWords   “Fly at dawn”  heading     →  it takes what the promo's headings look like
KeepStyle    a heading, now in red      →  all headings of the promo are red, and new ones will be
```
Refused: a style that there is not, words that have none to be kept.
"""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome, called
from glowreel.core.commands.change import map_parts
from glowreel.core.commands.roles import Target
from glowreel.core.document import Part, Promo
from glowreel.core.errors import Refusal
from glowreel.core.properties import Curve
from glowreel.core.text_styles import STYLED, STYLES
from glowreel.core.timeline import timeline


def style_values(promo: Promo, style: str) -> dict[str, Any]:
    """What a style gives to words in a promo."""
    return dict(promo.styles.get(style) or promo.brand.styles.get(style) or STYLES[style].values)


def styled(promo: Promo, part: Any, style: str) -> Any:
    """Words with what a style gives them; what it does not say is as in new words. What one format has for itself
    stays."""
    kept = {name: value for name, value in part.values.items() if name not in STYLED}
    given = style_values(promo, style) if style else {name: part.values[name] for name in STYLED if name in part.values}
    return part.changed(values={**kept, **given, "style": style})


def _wordy(promo: Promo, items: tuple[str, ...]) -> list[Part]:
    found = [timeline(promo).find_part(key) for key in items]
    words = [part for part in found if "words" in part.content.traits]
    if not words:
        raise Refusal("no-words", "Only words have a text style.", "Select some words first.")
    return words


class StyleWords(Command):
    """Gives words a text style; without one, they keep how they look and follow none any more."""

    do: Literal["style-words"] = "style-words"
    items: tuple[Target, ...] = Field(min_length=1, max_length=500)
    style: str = Field(max_length=20)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        if self.style and self.style not in STYLES:
            raise Refusal("no-style", "There is no text style of that name.", f"There are {', '.join(STYLES)}.")
        words = _wordy(promo, self.items)
        keys = {part.id for part in words}
        made = map_parts(promo, keys, lambda part: styled(promo, part, self.style))
        name = called(promo, words[0]) if len(words) == 1 else f"{len(words)} words"
        said = f"Made {name} {STYLES[self.style].label.lower()}" if self.style else f"Took {name} out of its style"
        return Outcome(made, said, tuple(keys), frozenset(keys))


class KeepStyle(Command):
    """Lets the style of some words look as they do now, in all words of the promo that have it."""

    do: Literal["keep-style"] = "keep-style"
    item: Target

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        part = _wordy(promo, (self.item,))[0]
        style = part.read("style")
        if not style:
            raise Refusal("no-style", f"{called(promo, part)} has no text style.", "Choose one for it first.")
        values = {name: part.values[name] for name in STYLED if name in part.values}
        still = {n: v.points[0].value if isinstance(v, Curve) else v for n, v in values.items()}
        known = promo.changed(styles={**promo.styles, style: still})
        keys = {one.id for one in promo.items if "words" in one.content.traits and one.read("style") == style}
        made = map_parts(known, keys - {part.id}, lambda one: styled(known, one, style))
        label = STYLES[style].label.lower()
        return Outcome(made, f"Let {label} look like {called(promo, part)}", (part.id,), frozenset(keys))
