"""The table of drawing: every operation of a recipe and every effect with the function that draws it and its version.

What is kept under a recipe's hash is kept under the versions of all that draws as well: a version is raised when its
function comes to draw something else, and what was kept before is then drawn anew. A test fails where a function
changed and its version did not.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache
from typing import Any, TypeVar

Function = TypeVar("Function", bound=Callable[..., Any])


@dataclass(frozen=True)
class Drawn:
    """What draws one thing, and which version of it. `reach` says for an effect how far it spreads what it is done to,
    in canonical units, from its parameters."""

    function: Callable[..., Any]
    version: int
    reach: Callable[[dict[str, Any]], float] = lambda values: 0.0


@dataclass(frozen=True)
class Area:
    """Where an effect is done: pixels to a canonical unit, and the rectangle of the thing itself in the pixels that the
    effect is given, which may reach beyond it."""

    scale: float
    x: float
    y: float
    width: float
    height: float


OPERATIONS: dict[type, Drawn] = {}
"""By the class of the operation: `(canvas, operation)`."""
EFFECTS: dict[str, Drawn] = {}
"""By the name of the effect: `(pixels, values, area) -> pixels`."""
PARTS: dict[str, Drawn] = {}
"""What several of them share, such as setting letters."""


def draws(operation: type, version: int = 1) -> Callable[[Function], Function]:
    """Registers what draws an operation of recipes."""

    def register(function: Function) -> Function:
        OPERATIONS[operation] = Drawn(function, version)
        return function

    return register


def effect(
    name: str, version: int = 1, reach: Callable[[dict[str, Any]], float] = lambda values: 0.0
) -> Callable[[Function], Function]:
    """Registers what draws an effect of `core.effects`, and how far it spreads."""

    def register(function: Function) -> Function:
        EFFECTS[name] = Drawn(function, version, reach)
        return function

    return register


def part(version: int = 1) -> Callable[[Function], Function]:
    """Registers a function that others draw with."""

    def register(function: Function) -> Function:
        PARTS[f"{function.__module__.rpartition('.')[2]}.{function.__qualname__}"] = Drawn(function, version)
        return function

    return register


def everything() -> dict[str, Drawn]:
    """All that draws, by name."""
    operations = {f"operation {kind.__name__}": drawn for kind, drawn in OPERATIONS.items()}
    return operations | {f"effect {name}": drawn for name, drawn in EFFECTS.items()} | PARTS


@cache
def digest() -> str:
    """Names the versions of all that draws."""
    versions = sorted((name, drawn.version) for name, drawn in everything().items())
    return hashlib.blake2b(repr(versions).encode(), digest_size=8).hexdigest()
