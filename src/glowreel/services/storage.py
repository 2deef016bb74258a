"""What a team's files take, and how much they may: counted from rows, never by looking through folders."""

from __future__ import annotations

import shutil
from dataclasses import dataclass
from pathlib import Path

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from glowreel.core.errors import NoRoom, Refusal
from glowreel.services.access import Actor, listed
from glowreel.services.setup import Runtime
from glowreel.store.models import Export, ExportFile, MediaFile, PromoRow, Revision

GIGABYTE = 1000**3
LISTED = 40


@dataclass(frozen=True)
class Usage:
    """Bytes by what they are for, and how many there may be."""

    media: int
    films: int
    promos: int
    quota: int

    @property
    def total(self) -> int:
        return self.media + self.films + self.promos

    @property
    def share(self) -> float:
        return min(1.0, self.total / self.quota) if self.quota else 1.0


def usage(runtime: Runtime, session: Session, actor: Actor) -> Usage:
    """What a team's files take together."""
    media = select(func.coalesce(func.sum(MediaFile.size), 0)).where(
        MediaFile.team_id == actor.team_id, MediaFile.removed_at.is_(None)
    )
    films = (
        select(func.coalesce(func.sum(ExportFile.size), 0))
        .join(Export, Export.id == ExportFile.export_id)
        .where(Export.team_id == actor.team_id, Export.removed_at.is_(None))
    )
    promos = (
        select(func.coalesce(func.sum(func.octet_length(Revision.document)), 0))
        .join(PromoRow, PromoRow.id == Revision.promo_id)
        .where(PromoRow.team_id == actor.team_id)
    )
    held, made, kept = (int(session.scalar(query) or 0) for query in (media, films, promos))
    return Usage(held, made, kept, runtime.settings.quota_gb * GIGABYTE)


def check_room(runtime: Runtime, session: Session, actor: Actor, more: int) -> None:
    """Refuses what would take a team over its quota, or the disk below what is kept free."""
    taken = usage(runtime, session, actor)
    if taken.total + more > taken.quota:
        raise Refusal(
            "quota", f"That would take more than the {runtime.settings.quota_gb} GB your team has.",
            "Look at “What takes room” and remove what is not needed.",
        )  # fmt: skip
    check_disk(runtime, more)


def check_disk(runtime: Runtime, more: int) -> None:
    """Refuses what the disk has no room for."""
    folder = Path(runtime.settings.cache)
    folder.mkdir(parents=True, exist_ok=True)
    if shutil.disk_usage(folder).free < more + runtime.settings.reserve_mb * 1024**2:
        raise NoRoom()


def largest_media(session: Session, actor: Actor) -> list[MediaFile]:
    query = select(MediaFile).where(listed(MediaFile, actor), MediaFile.removed_at.is_(None))
    return list(session.scalars(query.order_by(MediaFile.size.desc()).limit(LISTED)))


def largest_exports(session: Session, actor: Actor) -> list[tuple[Export, int]]:
    size = func.sum(ExportFile.size)
    query = (
        select(Export, size)
        .join(ExportFile, ExportFile.export_id == Export.id)
        .join(Export.promo)
        .where(listed(PromoRow, actor), Export.removed_at.is_(None))
        .group_by(Export.id)
        .having(size > 0)
        .order_by(size.desc())
    )
    return [(export, int(total)) for export, total in session.execute(query.limit(LISTED))]
