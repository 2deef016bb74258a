"""What a command's identifiers name. A command says what it touches by the types of its fields, so that locks, warnings
about what changed meanwhile, and the rights to material need no guessing.

```
Target      what is changed: clips, items, scenes, notes, the cut after a clip
Reference   where it goes: before or beside something that stays as it is
MediaId     material that is put in
TrackId     a track that things are put on, or that is changed itself
FormatId    a format
```
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from typing import Annotated, Any, Literal, get_args

from pydantic import BaseModel

from glowreel.core.value import Id

RoleName = Literal["target", "reference", "media", "track", "format"]


@dataclass(frozen=True)
class Role:
    """What an identifier names."""

    name: RoleName


Target = Annotated[Id, Role("target")]
Reference = Annotated[Id, Role("reference")]
MediaId = Annotated[Id, Role("media")]
TrackId = Annotated[Id, Role("track")]
FormatId = Annotated[Id, Role("format")]


def _roles_in(annotation: Any) -> Iterator[RoleName]:
    """The roles anywhere in a type, such as in `tuple[Target, ...] | None`."""
    for part in get_args(annotation):
        if isinstance(part, Role):
            yield part.name
        else:
            yield from _roles_in(part)


@cache
def fields_of(model: type[BaseModel]) -> dict[str, frozenset[RoleName]]:
    """The roles of each field that names something."""
    found = {}
    for name, field in model.model_fields.items():
        own = {part.name for part in field.metadata if isinstance(part, Role)}
        roles = frozenset((*own, *_roles_in(field.annotation)))
        if roles:
            found[name] = roles
    return found


def named(command: BaseModel, role: RoleName) -> frozenset[str]:
    """The identifiers that a command gives in a role."""
    values = (getattr(command, name) for name, roles in fields_of(type(command)).items() if role in roles)
    found: set[str] = set()
    for value in values:
        found.update((value,) if isinstance(value, str) else value or ())
    return frozenset(found)
