"""One row of the table of properties."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any, Literal

from glowreel.core.properties.curve import Curve, Point
from glowreel.core.properties.kinds import VALUE_KINDS, ValueKind

Choices = tuple[tuple[Any, str], ...]


@dataclass(frozen=True)
class Property:
    """What can be set of a part.

    `of` names the traits of the parts that have it (see `core.content`): a part with any of them does. `defaults` are
    those of single kinds of parts. Numbers are stored as they are and shown divided by `scale`, in `unit`; `least` and
    `most` are how far its slider goes, in stored numbers. `end` says that it belongs to one end of a part, so that only
    the piece with that end keeps it when the part is cut. `look` says that it goes along when a look is copied.
    `choices_of` gives choices that depend on other values of the part, which it is given a reader of. `control` names
    a control of its own where the one of its kind would not do. `needs` names the makers of what has to be known of the
    file where it is set, or is set to their name (see `core.derived`). With `runs`, it has a meaning only for material
    that runs; choices in `stills` only for what does not. `settings` names another property, whose value is a setting
    of the maker under that name. It has a meaning only `beside` another property
    that is not as the table has it, and, where choices are given, has one of those: then alone it is shown in Details.
    """

    name: str
    label: str
    meaning: str
    kind: str
    default: Any
    of: frozenset[str]
    group: str = ""
    unit: str = ""
    low: float = 0.0
    high: float = 1.0
    least: float | None = None
    most: float | None = None
    scale: float = 1.0
    step: float = 1.0
    digits: int = 0
    slider: Literal["", "straight", "log"] = ""
    choices: Choices = ()
    icons: Mapping[Any, str] = field(default_factory=dict)
    defaults: Mapping[str, Any] = field(default_factory=dict)
    over_time: bool = False
    per_format: bool = False
    look: bool = False
    end: Literal["", "start", "end"] = ""
    empty: bool = False
    switched: tuple[str, str] = ("on", "off")
    verbs: tuple[str, str] = ("Switched on", "Switched off")
    control: str = ""
    axes: tuple[str, str] = ("across", "down")
    choices_of: Callable[[Callable[[str], Any]], Choices] | None = None
    hint: str = ""
    needs: str = ""
    runs: bool = False
    settings: str = ""
    stills: frozenset[Any] = frozenset()
    beside: str = ""
    choices_beside: frozenset[Any] = frozenset()
    find: str = ""

    @property
    def values(self) -> ValueKind:
        return VALUE_KINDS[self.kind]

    def default_for(self, kind: str) -> Any:
        """The value of a part of a kind that does not say it."""
        return self.defaults.get(kind, self.default)

    def check(self, value: Any) -> Any:
        """A constant or a curve in its stored form. Raises `ValueError` with words for whoever gave it."""
        if isinstance(value, Curve) or (isinstance(value, dict) and "points" in value):
            if not self.over_time:
                raise ValueError(f"{self.label.lower()} does not change over time")
            curve = value if isinstance(value, Curve) else Curve.model_validate(value)
            points = tuple(self._point(point) for point in curve.points)
            return curve if points == curve.points else Curve(points=points)
        return self.values.check(self, value)

    def _point(self, point: Point) -> Point:
        checked = self.values.check(self, point.value)
        return point if checked == point.value else point.changed(value=checked)

    def at(self, value: Any, moment: int) -> Any:
        """The value at a moment of the part's own time."""
        return value.at(moment, self.values.mix) if isinstance(value, Curve) else value

    def say(self, value: Any) -> str:
        """A value in words, for the history and for comparing."""
        if isinstance(value, Curve):
            count = len(value.points)
            return f"what its {count} points say" if count > 1 else self.values.say(self, value.points[0].value)
        return self.values.say(self, value)
