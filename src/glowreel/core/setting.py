"""What a property of a part is set to, and parts with it set otherwise; for one format alone or for all.

A name is that of a row, `<effect>.<parameter>` for an effect on the part, or
`<cell>.<property>` for a cell of a collage.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

from glowreel.core.content.values import FIELD
from glowreel.core.document import Cell, Part, Promo
from glowreel.core.effects import EFFECTS
from glowreel.core.properties import PROPERTIES, Curve, Point, Property

APart = TypeVar("APart", bound=Part)


def row_of(part: Part, name: str, promo: Promo | None = None) -> Property | None:
    """The row of a property that the part has; None where it has none of that name. What a design's fields may be is
    known to the promo that holds it."""
    key, dot, parameter = name.partition(".")
    if name.startswith(FIELD):
        design = promo.designs.get(part.design or "") if promo is not None else None
        return design.row(name) if design is not None else None
    if dot:
        cell = cell_of(part, key)
        if cell is not None:
            return row_of(cell, parameter)
        effect = next((effect for effect in part.effects if effect.id == key), None)
        return EFFECTS[effect.kind].parameter(parameter) if effect is not None else None
    row = PROPERTIES.get(name)
    return row if row is not None and row.of & part.traits else None


def cell_of(part: Part, key: str) -> Cell | None:
    """The cell of a collage with an identifier; None where there is none, or no collage."""
    return next((cell for cell in getattr(part, "cells", ()) if cell.id == key), None)


def with_cell(part: APart, key: str, change: Callable[[Cell], Cell]) -> APart:
    """A collage with one of its cells changed."""
    return part.changed(cells=tuple(change(cell) if cell.id == key else cell for cell in getattr(part, "cells", ())))


def is_own(part: Part, name: str, format_id: str) -> bool:
    """Whether a format has a value of its own."""
    key, _, rest = name.partition(".")
    cell = cell_of(part, key)
    if cell is not None:
        return is_own(cell, rest, format_id)
    return name in part.values_in.get(format_id, {})


def set_to(part: Part, name: str, format_id: str = "") -> Any:
    """The constant or curve of a property in a format."""
    key, dot, parameter = name.partition(".")
    if not dot or name.startswith(FIELD):
        return part.set_to(name, format_id)
    cell = cell_of(part, key)
    if cell is not None:
        return set_to(cell, parameter, format_id)
    effect = next(effect for effect in part.effects if effect.id == key)
    row = EFFECTS[effect.kind].parameter(parameter)
    assert row is not None
    return effect.values.get(parameter, row.default)


def value_at(part: Part, name: str, format_id: str, moment: int) -> Any:
    """The value of a property in a format at a moment of the part's own time."""
    row, value = row_of(part, name), set_to(part, name, format_id)
    return row.at(value, moment) if row is not None else value


def with_value(part: APart, name: str, value: Any, format_id: str | None = None) -> APart:
    """The part with a property set, in one format alone where one is given. Raises `ValueError` for a bad value."""
    key, dot, parameter = name.partition(".")
    if dot and cell_of(part, key) is not None:
        return with_cell(part, key, lambda cell: with_value(cell, parameter, value, format_id))
    if dot and not name.startswith(FIELD):
        effects = tuple(
            effect.changed(values={**effect.values, parameter: value}) if effect.id == key else effect
            for effect in part.effects
        )
        return part.changed(effects=effects)
    if format_id is not None:
        own = {**part.values_in.get(format_id, {}), name: value}
        return part.changed(values_in={**part.values_in, format_id: own})
    return part.having(**{name: value})


def without(part: APart, names: set[str], format_id: str | None = None) -> APart:
    """The part with properties as the table has them, or as the other formats have them."""
    for key in {name.partition(".")[0] for name in names if "." in name}:
        if cell_of(part, key) is not None:
            inside = {name.removeprefix(f"{key}.") for name in names if name.startswith(f"{key}.")}
            part = with_cell(part, key, lambda cell, inside=inside: without(cell, inside, format_id))  # type: ignore[misc]
    if format_id is not None:
        left = {name: value for name, value in part.values_in.get(format_id, {}).items() if name not in names}
        others = {key: values for key, values in part.values_in.items() if key != format_id}
        return part.changed(values_in={**others, format_id: left} if left else others)
    made = part.changed(values={name: value for name, value in part.values.items() if name not in names})
    for effect in part.effects:
        rest = {n: v for n, v in effect.values.items() if f"{effect.id}.{n}" not in names}
        if rest != effect.values:
            changed = tuple(e.changed(values=rest) if e.id == effect.id else e for e in made.effects)
            made = made.changed(effects=changed)
    return made


def curves(part: Part) -> list[tuple[str, str, Curve]]:
    """Everything of a part that changes over time: (property, format or nothing, curve)."""
    found = [(name, "", value) for name, value in part.values.items()]
    found += [(name, key, value) for key, values in part.values_in.items() for name, value in values.items()]
    found += [(f"{effect.id}.{n}", "", value) for effect in part.effects for n, value in effect.values.items()]
    own = [(name, key, value) for name, key, value in found if isinstance(value, Curve)]
    cells: tuple[Cell, ...] = getattr(part, "cells", ())
    return [*own, *((f"{cell.id}.{name}", key, value) for cell in cells for name, key, value in curves(cell))]


def at_end(part: APart, *, start: bool, end: bool) -> APart:
    """What is left of a part when it is cut: what belongs to an end only where it has that end."""
    gone = {
        row.name for row in PROPERTIES.values() if (row.end == "start" and not start) or (row.end == "end" and not end)
    }
    for key in [key for key, values in part.values_in.items() if gone & set(values)]:
        part = without(part, gone, key)
    return without(part, gone) if gone & set(part.values) else part


def with_curves(part: APart, change: Callable[[Curve, Property], Any]) -> APart:
    """The part with everything that changes over time passed through `change`."""
    made = part
    for name, key, curve in curves(part):
        row = row_of(part, name)
        assert row is not None
        made = with_value(made, name, change(curve, row), key or None)
    return made


def rebased(part: APart, length: int) -> APart:
    """The part, about to last `length`, with its own time beginning at 0 and its points at the same shares of it."""

    def moved(curve: Curve, row: Property) -> Curve:
        points: dict[int, Point] = {}
        for point in curve.points:
            at = (point.at - part.into) * length // part.length
            points[at] = point.changed(at=at)
        return Curve(points=tuple(points.values()))

    return with_curves(part, moved).changed(into=0)


def stilled(part: APart, moment: int) -> APart:
    """The part with everything that changes over time as it is at a moment."""
    return with_curves(part, lambda curve, row: row.at(curve, moment))
