"""The table of effects: what can be done to the picture of a part, one row each.

An effect is a row here, and the function that draws it in `engine.effects` under the same name; its parameters are
rows like those of any property, so that they are checked, set, moved over time and documented in the same way.
"""

from __future__ import annotations

from dataclasses import dataclass

from glowreel.core.properties.row import Property

ANY: frozenset[str] = frozenset({"effect"})


def _amount(default: float, meaning: str) -> Property:
    return Property("amount", "Amount", meaning, "number", default, ANY, unit="%", scale=0.01, step=1,
                    slider="straight", over_time=True)  # fmt: skip


@dataclass(frozen=True)
class EffectKind:
    """What an effect is called, what it does, and what can be set of it."""

    name: str
    label: str
    meaning: str
    parameters: tuple[Property, ...]

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
    )
}  # fmt: skip
"""Every effect by its name."""
