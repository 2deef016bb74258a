"""The one place where a person's right to a thing is decided: it is their team's, or it is not there."""

from __future__ import annotations

from typing import TypeVar

from sqlalchemy.orm import Session

from glowreel.core.errors import Missing
from glowreel.store.models import Export, ExportFile, MediaFile, Opening, PromoRow

Row = TypeVar("Row", PromoRow, MediaFile, Export, Opening)

_SENTENCES: dict[type, str] = {
    PromoRow: "There is no such promo on your Desk.",
    MediaFile: "There is no such file on your Shelf.",
    Export: "There is no such export.",
    Opening: "There is no such file being opened.",
}


def authorise(
    session: Session, kind: type[Row], key: str, team_id: str, *, lock: bool = False, removed: bool = False
) -> Row:
    """The team's own row, or `Missing`. With `lock`, no one else changes it until the unit ends; with `removed`, it
    may have been taken off the Desk or the Shelf."""
    row = session.get(kind, key, with_for_update=lock, populate_existing=lock)
    gone = row is not None and getattr(row, "removed_at", None) is not None
    if row is None or row.team_id != team_id or (gone and not removed):
        raise Missing("not-yours", _SENTENCES[kind], "Check the address, or sign in with the right account.")
    return row


def authorise_file(session: Session, file_id: str, team_id: str) -> ExportFile:
    """One file of a team's export, or `Missing`."""
    file = session.get(ExportFile, file_id)
    if file is None or file.export.team_id != team_id or file.export.removed_at is not None:
        raise Missing("not-yours", _SENTENCES[Export])
    return file
