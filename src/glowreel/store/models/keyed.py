"""Giving keys that are worked out to rows whose links are older than that, or come from another installation."""

from __future__ import annotations

from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from glowreel.store.models.going_out import ExportFile
from glowreel.store.models.material import UploadLink
from glowreel.store.models.promos import BrandRow

FROM_BEFORE = -1
"""The turn of a row whose key was drawn by lot."""
LINKED: tuple[Any, ...] = (ExportFile, UploadLink, BrandRow)


def take_up(session: Session, *, every: bool = False) -> int:
    """Gives rows from before a key that is worked out; links that are out there go on opening them. `every` looks at
    all rows, as where a copy was brought back to an installation of another secret. Answers with how many they were."""
    count = 0
    for kind in LINKED:
        query = select(kind).where(kind.digest.is_not(None))
        for row in session.scalars(query if every else query.where(kind.turn == FROM_BEFORE)):
            kept, row.turn = row.digest, max(0, row.turn)
            if row.open_link().digest != kept:
                row.before = kept
                count += 1
    return count
