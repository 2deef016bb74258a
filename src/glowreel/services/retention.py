"""What grows has an end: once an hour, what nobody can reach any more is removed for good.

| what | its end |
|---|---|
| files taken off a Shelf | 30 days later, once no step of any promo uses them |
| promos taken off a Desk | 30 days later, with their history and exports |
| steps of a promo | after a week the last of ten minutes stays, after a month of a day, after a year of a week |
| exports taken off the list | 7 days later; failed and cancelled ones after 30 |
| pieces of exports | 30 days after they were last needed |
| uploads that were cut off, links for files | 7 days after they began, 30 after their end |
| bundles being opened, work folders | a day after nobody works on them |
| sign-ins, presses, links to new passwords | 30 days, 2 days and a day after their end |
| letters, invitations, counts of watching | 30 days after they were sent or ended; 400 days |
| tables, posts taken down, films put into a drive | 30 days after they were taken off or ended |
"""

from __future__ import annotations

import logging
import shutil
import time
from collections.abc import Callable, Iterator, Sequence
from datetime import timedelta
from pathlib import Path

from sqlalchemy import delete, or_, select, update
from sqlalchemy.orm import Session

from glowreel.engine.makers import MAKERS
from glowreel.services import audit, derivation, hooks, presses, sign_ins, uploads, watch_pages
from glowreel.services.blob_keys import derived, original
from glowreel.services.exports import file_blob, piece_blob
from glowreel.services.setup import Runtime
from glowreel.services.thinning import thin
from glowreel.store.documents import json_of
from glowreel.store.models import (
    Batch,
    Delivery,
    Export,
    ExportFile,
    ExportPiece,
    Invitation,
    Letter,
    MediaFile,
    Opening,
    PasswordReset,
    Post,
    PromoRow,
    Revision,
    WatchCount,
    now,
)

REMOVED_FOR = timedelta(days=30)
EXPORT_REMOVED_FOR = timedelta(days=7)
PIECES_FOR = timedelta(days=30)
SCRAPS_FOR = timedelta(days=1)
BATCH = 200
log = logging.getLogger(__name__)


def tidy(runtime: Runtime) -> dict[str, int]:
    """Removes what has come to its end; answers with how much of each. Each part stands by itself."""
    counts = {}
    for name, work in TASKS.items():
        try:
            counts[name] = work(runtime)
        except Exception:
            log.exception("tidying up %s failed; the rest goes on", name)
    return {name: count for name, count in counts.items() if count}


def _promos(runtime: Runtime) -> int:
    with runtime.database.unit() as unit:
        session = unit.session
        old = PromoRow.removed_at < now() - REMOVED_FOR
        ids = session.scalars(select(PromoRow.id).where(old).limit(BATCH)).all()
        exports = session.scalars(select(Export.id).where(Export.promo_id.in_(ids))).all()
        blobs = _forget_exports(session, list(exports))
        session.execute(update(Opening).where(Opening.promo_id.in_(ids)).values(promo_id=None))
        session.execute(delete(Revision).where(Revision.promo_id.in_(ids)))
        session.execute(delete(PromoRow).where(PromoRow.id.in_(ids)))
    _remove(runtime, blobs)
    return len(ids)


def _forget_exports(session: Session, ids: list[str]) -> list[str]:
    """Deletes the rows of exports; answers with the films they leave behind."""
    rows = session.execute(select(ExportFile.id, ExportFile.form).where(ExportFile.export_id.in_(ids))).all()
    files = [file_id for file_id, _ in rows]
    session.execute(delete(ExportPiece).where(ExportPiece.file_id.in_(files)))
    session.execute(delete(ExportFile).where(ExportFile.id.in_(files)))
    session.execute(delete(Export).where(Export.id.in_(ids)))
    return [file_blob(file_id, form) for file_id, form in rows]


def _remove(runtime: Runtime, keys: list[str]) -> None:
    """Removes files whose rows are gone. The rows go first: a file too many can be found again, one too few cannot."""
    for key in keys:
        runtime.blobs.remove(key)


def _exports(runtime: Runtime) -> int:
    with runtime.database.unit() as unit:
        useful = select(ExportFile.export_id).where(ExportFile.state.not_in(("failed", "cancelled")))
        ended = Export.id.not_in(useful) & (Export.created_at < now() - REMOVED_FOR)
        removed = Export.removed_at < now() - EXPORT_REMOVED_FOR
        ids = list(unit.session.scalars(select(Export.id).where(removed | ended).limit(BATCH)))
        blobs = _forget_exports(unit.session, ids)
    _remove(runtime, blobs)
    return len(ids)


def _media(runtime: Runtime) -> int:
    """Files off every Shelf that no step of any promo of their team uses."""
    count = 0
    with runtime.database.unit() as unit:
        old = select(MediaFile).where(MediaFile.removed_at < now() - REMOVED_FOR).limit(BATCH)
        for row in unit.session.scalars(old).all():
            if _in_use(unit.session, row):
                continue
            unit.session.delete(row)
            unit.session.flush()
            count += 1
            if unit.session.scalar(select(MediaFile.id).where(MediaFile.hash == row.hash).limit(1)) is None:
                keys = [original(row.hash), *(derived(row.hash, name) for name in MAKERS)]
                unit.after(lambda keys=keys: _remove(runtime, keys))  # type: ignore[misc]
    return count


def _in_use(session: Session, row: MediaFile) -> bool:
    wanted = row.hash.encode()
    steps = select(Revision.id).join(PromoRow, PromoRow.id == Revision.promo_id)
    ids = session.scalars(steps.where(PromoRow.team_id == row.team_id).order_by(Revision.id)).all()
    return any(wanted in json_of(session, key) for key in ids)


def batched(ids: Sequence[int], count: int) -> Iterator[Sequence[int]]:
    return (ids[at : at + count] for at in range(0, len(ids), count))


def _pieces(runtime: Runtime) -> int:
    """Pieces that no export of late has needed, and sounds of films that were mixed long ago."""
    count = 0
    with runtime.database.unit() as unit:
        late = select(Export.id).where(Export.created_at > now() - PIECES_FOR)
        needed = select(ExportPiece.key).join(ExportFile).where(ExportFile.export_id.in_(late))
        kept = {piece_blob(key) for key in unit.session.scalars(needed) if key}
    for kind in ("pieces", "sounds"):
        for key, changed in runtime.blobs.listing(kind):
            if key not in kept and changed < now() - PIECES_FOR:
                runtime.blobs.remove(key)
                count += 1
    return count


def _scraps(runtime: Runtime) -> int:
    """What work that was cut off has left in the cache, and unfinished files in the store."""
    count = 0
    before = time.time() - SCRAPS_FOR.total_seconds()
    cache = Path(runtime.settings.cache)
    with runtime.database.unit() as unit:
        waiting = set(unit.session.scalars(select(Opening.id).where(Opening.state.in_(("queued", "running")))))
    for name in ("work", "uploads", "openings", "bundles", "blobs"):
        for path in (cache / name).glob("*"):
            if path.stat().st_mtime < before and path.name not in waiting and path.name != "copies":
                shutil.rmtree(path, ignore_errors=True) if path.is_dir() else path.unlink(missing_ok=True)
                count += 1
    return count + runtime.blobs.forget_parts(SCRAPS_FOR)


def _openings(runtime: Runtime) -> int:
    with runtime.database.unit() as unit:
        old = delete(Opening).where(
            Opening.created_at < now() - EXPORT_REMOVED_FOR, Opening.state.in_(("done", "failed"))
        )
        return len(unit.session.execute(old.returning(Opening.id)).all())


def _people(runtime: Runtime) -> int:
    with runtime.database.unit() as unit:
        presses.forget_old(unit.session)
        unit.session.execute(delete(PasswordReset).where(PasswordReset.until < now() - SCRAPS_FOR))
        return sign_ins.forget_old(unit.session)


def _letters(runtime: Runtime) -> int:
    """Letters that were sent or given up, ways in that have ended, and counts of long ago."""
    before = now() - REMOVED_FOR
    ended = (
        delete(Letter).where(Letter.created_at < before, Letter.state.in_(("sent", "failed"))).returning(Letter.id),
        delete(Invitation).where(or_(Invitation.until < before, Invitation.ended_at < before)).returning(Invitation.id),
    )
    with runtime.database.unit() as unit:
        audit.forget_old(unit.session)
        hooks.forget_old(unit.session)
        unit.session.execute(delete(WatchCount).where(WatchCount.day < (now() - watch_pages.KEPT).date()))
        return sum(len(unit.session.execute(query).all()) for query in ended)


def _gone_out(runtime: Runtime) -> int:
    """Tables off the list, posts that were taken down or failed, deliveries that have ended. What is live stays."""
    before = now() - REMOVED_FOR
    ended = (
        delete(Batch).where(Batch.removed_at < before).returning(Batch.id),
        delete(Post).where(Post.due_at < before, Post.state.in_(("gone", "failed"))).returning(Post.id),
        delete(Delivery)
        .where(Delivery.sent_at < before, Delivery.state.in_(("done", "failed")))
        .returning(Delivery.id),
    )
    with runtime.database.unit() as unit:
        return sum(len(unit.session.execute(query).all()) for query in ended)


TASKS: dict[str, Callable[[Runtime], int]] = {
    "promos": _promos,
    "exports": _exports,
    "steps": thin,
    "openings": _openings,
    "media": _media,
    "derived": derivation.collect,
    "uploads": uploads.collect,
    "pieces": _pieces,
    "scraps": _scraps,
    "sign-ins": _people,
    "letters": _letters,
    "gone out": _gone_out,
}
"""In this order: what goes first may be what keeps the next in use."""
