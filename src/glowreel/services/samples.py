"""Samples: the pictures, footage and music that stand in templates until they are filled.

They come with the program and belong to a team of their own, whose files everybody may see (see `services.access`).
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from pathlib import Path

from sqlalchemy import ColumnElement, select
from sqlalchemy.orm import Session

from glowreel.core.errors import Fault, Missing
from glowreel.core.media import Media
from glowreel.services import shelf
from glowreel.services.access import EVERYBODYS, Actor
from glowreel.services.setup import Runtime
from glowreel.store.models import MediaFile, Team


def put(runtime: Runtime, paths: Iterable[Path]) -> None:
    """Puts files among the samples, unless they are there. The same bytes that a team has are not looked at again."""
    paths = list(paths)
    with runtime.database.unit() as unit:
        if unit.session.get(Team, EVERYBODYS) is None:
            unit.session.add(Team(id=EVERYBODYS, name="Samples"))
        there = set(unit.session.scalars(select(MediaFile.name).where(_samples())))
    for path in paths:
        if path.name not in there:
            shelf.take_in(runtime, _received(runtime, path))
    with runtime.database.unit() as unit:
        missing = {path.name for path in paths} - set(_by_name(unit.session))
        if missing:
            raise Fault(f"the samples could not be read: {', '.join(sorted(missing))}")


def _received(runtime: Runtime, path: Path) -> str:
    with path.open("rb") as file:
        source, size = shelf.receive(runtime.blobs, Path(runtime.settings.cache) / "uploads", file)
    with runtime.database.unit() as unit:
        query = select(MediaFile).where(MediaFile.hash == source, MediaFile.usable).limit(1)
        same = unit.session.scalar(query)
        actor = Actor.program(EVERYBODYS)
        row = shelf.lent(unit, actor, same, path.name) if same is not None else shelf.add(
            unit, actor, path.name, source, size
        )  # fmt: skip
        unit.forget()  # It is looked at here and now.
        return row.id


def _samples() -> ColumnElement[bool]:
    return (MediaFile.team_id == EVERYBODYS) & MediaFile.usable


def _by_name(session: Session) -> dict[str, Media]:
    rows = session.scalars(select(MediaFile).where(_samples())).all()
    return {row.name: Media.model_validate(row.facts) for row in rows}


def by_name(session: Session) -> Mapping[str, Media]:
    """The facts of every sample by its name; `Missing` where there are none yet."""
    found = _by_name(session)
    if not found:
        raise Missing("no-samples", "The samples of the templates are still being set up.", "Try again in a minute.")
    return found
