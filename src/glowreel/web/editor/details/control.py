"""What a line of Details is: a control with its value, unit, limits and command.

The page knows kinds of controls and nothing of what they mean: it puts the value into the command at `param` and sends
it.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, Literal

import orjson

from glowreel.core.properties import Property
from glowreel.core.time import seconds

Kind = Literal[
    "number",
    "choice",
    "switches",
    "flag",
    "colour",
    "nine",
    "press",
    "line",
    "material",
    "tones",
    "bands",
    "gallery",
    "grids",
    "chips",
    "strokes",
    "fonts",
]


@dataclass(frozen=True)
class Over:
    """How a property changes over time: its points as times of the promo in seconds, whether one is at the playhead,
    how it goes on from there, and the commands that the page sends."""

    name: str
    points: tuple[float, ...] = ()
    here: bool = False
    ease: str = "straight"
    eases: tuple[tuple[str, str], ...] = ()
    command: dict[str, Any] = field(default_factory=dict)

    @property
    def data(self) -> str:
        return orjson.dumps({"name": self.name, "points": self.points, "here": self.here, **self.command}).decode()


@dataclass(frozen=True)
class Control:
    """One line of Details.

    `value` is as shown; `sent` says what becomes of it on the way: a number times `scale`, ticks of a second, ticks on
    the frame grid. `default` is what a double press on the label brings back. `scoped` ones obey the choice between
    all formats and this one; one that this format has for itself has in `follow` the command that ends that. `over`
    tells how it changes over time, where it can. `mixed` ones are different in the things selected. `plays` says which
    stretch of what is selected is played where the pointer rests on a choice: its start, its end, all of it, or a
    moment from the playhead on.
    """

    id: str
    label: str
    kind: Kind
    value: Any
    command: dict[str, Any]
    param: str = ""
    unit: str = ""
    sent: Literal["plain", "number", "ticks", "grid"] = "plain"
    scale: float = 1.0
    low: float = 0.0
    high: float = 1.0
    step: float = 1.0
    digits: int = 0
    default: Any = None
    slider: Literal["", "straight", "log"] = ""
    choices: tuple[tuple[Any, str], ...] = ()
    icons: dict[Any, str] = field(default_factory=dict)
    hint: str = ""
    find: str = ""
    scoped: bool = False
    disabled: bool = False
    placeholder: str = ""
    follow: dict[str, Any] | None = None
    over: Over | None = None
    empty: bool = False
    mixed: bool = False
    plays: str = ""

    @property
    def shown(self) -> str:
        """The value as it stands in its field; nothing where the things selected differ."""
        if self.mixed:
            return ""
        return f"{self.value:.{self.digits}f}" if isinstance(self.value, float | int) else str(self.value)

    @property
    def data(self) -> str:
        """JSON for the page: what it needs to send a value."""
        found = {name: getattr(self, name) for name, usual in USUAL.items() if getattr(self, name) != usual}
        # What is set by name is put together by the page, which knows what is selected.
        if self.command["do"] != "set" or self.kind == "press":
            found["command"] = self.command
        if self.over is not None and self.over.points:
            found["moving"] = True
        return orjson.dumps(found).decode()


USUAL = {
    "param": "", "sent": "plain", "scale": 1.0, "low": 0.0, "high": 1.0, "step": 1.0, "digits": 0, "default": None,
    "scoped": False, "unit": "", "plays": "",
}  # fmt: skip
"""What the page takes a control to be where it is not said; the same stands in `details.js`."""


@dataclass(frozen=True)
class Group:
    """Controls under one heading; `open` until somebody shuts it."""

    id: str
    title: str
    controls: tuple[Control, ...]
    open: bool = True


CONTROLS = {
    "number": "number", "whole": "number", "length": "number", "spot": "number", "colour": "colour",
    "choice": "choice", "font": "choice", "flag": "flag", "text": "text", "tones": "tones", "bands": "bands",
    "path": "line", "strokes": "strokes",
}  # fmt: skip
"""The control of each kind of value, where a row does not name one."""


PLAYS = {"arrives": "start", "leaves": "end", "stays": "here"}
"""Of which stretch a choice is played, by the name of the property."""


def control_of(
    row: Property, key: str, value: Any, command: dict[str, Any], param: str, *, default: Any, axis: int | None = None,
    **more: Any,
) -> Control:  # fmt: skip
    """The control of a row."""
    own = ("choice", "switches", "nine", "line", "tones", "bands", "gallery", "chips", "fonts")
    kind: Any = row.control if row.control in own else CONTROLS[row.kind]
    label = row.axes[axis] if axis is not None else row.label
    shared: dict[str, Any] = {"icons": dict(row.icons), "hint": row.hint, "find": row.find, "empty": row.empty, **more}
    default = default[axis] if axis is not None else default
    shared["plays"] = PLAYS.get(row.name, "")
    if kind != "number":
        return Control(key, label, kind, value, command, param, default=default, **shared)
    if row.kind == "length":
        return Control(
            key, label, kind, seconds(value), command, param, unit="s", sent="ticks", low=0, high=row.high,
            step=row.step, digits=row.digits, default=seconds(default), **shared,
        )  # fmt: skip
    low, high = (row.low if row.least is None else row.least), (row.high if row.most is None else row.most)
    return Control(
        key, label, kind, round(value / row.scale, 3), command, param, unit=row.unit, sent="number", scale=row.scale,
        low=round(low / row.scale, 3), high=round(high / row.scale, 3), step=row.step, digits=row.digits,
        default=round(default / row.scale, 3), slider=row.slider, **shared,
    )  # fmt: skip


def plain_control(
    row: Property, key: str, value: Any, command: dict[str, Any], param: str, choices: tuple[tuple[Any, str], ...]
) -> Control:
    """The control of a row that neither changes over time nor is different in one format."""
    return control_of(row, key, value, command, param, default=row.default, choices=choices)


def lasting(id: str, label: str, ticks: int, command: dict[str, Any], param: str, **more: Any) -> Control:
    """A time or a length, in seconds."""
    given = {"unit": "s", "sent": "ticks", "low": 0, "high": 21_600, "step": 0.1, "digits": 2, **more}
    return Control(id, label, "number", seconds(ticks), command, param, **given)
