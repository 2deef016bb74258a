"""Values of any property, made from its row: the random editor knows no property by name."""

from __future__ import annotations

from typing import Any

from hypothesis import strategies as st

from glowreel.core.properties import EASINGS, Property
from glowreel.core.roles import COLOUR_ROLES
from glowreel.core.time import ticks


def constants(row: Property) -> st.SearchStrategy[Any]:
    """Values that the row allows."""
    numbers = st.floats(row.low, row.high, allow_nan=False).map(lambda number: round(number, 4))
    numbers = numbers.map(lambda number: min(row.high, max(row.low, number)))
    return {
        "number": numbers,
        "whole": st.integers(int(row.low), int(row.high)),
        "length": st.integers(0, ticks(4)),
        "spot": st.tuples(numbers, numbers).map(list),
        "colour": st.sampled_from(["#C8430B", "#F6B73C", "#2c2a4a", *COLOUR_ROLES, *([""] if row.empty else [])]),
        "choice": st.sampled_from([choice for choice, _ in row.choices] or [None]),
        "flag": st.booleans(),
        "text": st.text(max_size=40),
        "tones": st.lists(
            st.tuples(st.floats(0, 1), st.floats(0, 1)), max_size=4, unique_by=lambda point: point[0]
        ).map(lambda points: [list(point) for point in sorted(points)]),
        "strokes": st.lists(
            st.tuples(
                st.integers(0, 1),
                st.floats(0.01, 0.4),
                st.lists(st.tuples(st.floats(0, 1), st.floats(0, 1)), min_size=1, max_size=4),
            ),
            max_size=3,
        ).map(lambda strokes: [[keep, wide, [list(p) for p in points]] for keep, wide, points in strokes]),
        "bands": st.lists(st.tuples(st.floats(20, 20_000), st.floats(-18, 18), st.floats(0.5, 5)), max_size=8).map(
            lambda bands: [list(band) for band in bands]
        ),
        "name": st.sampled_from(["sparkles", "party-popper", "nowhere"]),
        "times": st.lists(st.floats(0, 20), max_size=5).map(sorted),
        "runs": st.sampled_from(
            [
                [],
                [{"start": 0, "end": 4, "weight": 400, "colour": "accent"}],
                [{"start": 1, "end": 3, "italic": True}, {"start": 5, "end": 90, "size": 1.5, "mark": "#F6B73C"}],
            ]
        ),
        "path": st.sampled_from(["", "M0 0 L1 0 L0.5 1 Z"]),
        "font": st.sampled_from(["Fraunces", "heading", "Something Else"]),
    }[row.kind]


def curves(row: Property) -> st.SearchStrategy[Any]:
    """A few points in the part's own time."""
    point = st.tuples(st.integers(-ticks(5), ticks(15)), constants(row), st.sampled_from(list(EASINGS)))
    points = st.lists(point, min_size=1, max_size=4, unique_by=lambda known: known[0])
    return points.map(_curve)


def _curve(points: list[tuple[int, Any, str]]) -> dict[str, Any]:
    ordered = sorted(points, key=lambda point: point[0])
    return {"points": [{"at": at, "value": value, "ease": ease} for at, value, ease in ordered]}


def values_of(row: Property) -> st.SearchStrategy[Any]:
    """A constant, or a curve where the row allows one."""
    return constants(row) | curves(row) if row.over_time else constants(row)
