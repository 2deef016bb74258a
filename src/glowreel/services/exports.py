"""Exports: planned as pieces, made by any workers, joined, and never lost.

The rows in PostgreSQL are the truth; the queue only says that something may be done. A worker takes a piece by a lease
that it renews while it works; when it dies, the lease runs out and the sweeper has the piece made by another.
"""

from __future__ import annotations

import secrets
import time
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path

from sqlalchemy import func, or_, select, update
from sqlalchemy.orm import Session, selectinload

from glowreel.core.errors import GlowReelError, Missing, Refusal
from glowreel.core.formats import RESOLUTIONS
from glowreel.core.recipe.picture import find_format
from glowreel.core.timeline import timeline
from glowreel.engine.export import Piece, frame_count, join, piece_key, plan, render_piece, render_sound
from glowreel.engine.sources import Sources
from glowreel.services.access import own
from glowreel.services.promos import document
from glowreel.services.setup import Parts
from glowreel.store.database import Unit
from glowreel.store.models import Export, ExportFile, ExportPiece, PromoRow, new_key, now

LEASE = timedelta(seconds=20)
BEAT = 0.5
MAX_ATTEMPTS = 4
OPEN = ("queued", "running", "joining")


class Stopped(GlowReelError):
    """The work is not wanted any more, or another worker has it."""


def piece_blob(key: str) -> str:
    return f"pieces/{key[:2]}/{key}.mp4"


def file_blob(file_id: str) -> str:
    return f"exports/{file_id}.mp4"


def start(unit: Unit, promo_id: str, team_id: str, formats: tuple[str, ...], short_side: int, title: str) -> Export:
    """Queues the promo as it is now, in these formats. Raises `Refusal` where there is nothing to export."""
    row = own(unit.session, PromoRow, promo_id, team_id)
    promo = document(unit.session, row)
    if short_side not in RESOLUTIONS:
        raise Refusal("size", f"Choose one of the resolutions {', '.join(map(str, RESOLUTIONS))}.")
    if not formats:
        raise Refusal("no-format", "Choose at least one format to export.")
    if not timeline(promo).length:
        raise Refusal("empty", "There is nothing in this promo yet.", "Put a clip or a title on the timeline first.")
    export = Export(
        id=new_key("e"),
        team_id=team_id,
        promo_id=row.id,
        revision_id=row.head_id,
        title=" ".join(title.split())[:120] or promo.name,
    )
    unit.session.add(export)
    unit.session.flush()
    for number, format_id in enumerate(dict.fromkeys(formats)):
        shape = find_format(promo, format_id)
        width, height = shape.size(short_side)
        file = ExportFile(
            id=new_key("f"),
            export_id=export.id,
            number=number,
            format_id=shape.id,
            format_name=shape.name,
            short_side=short_side,
            width=width,
            height=height,
            frames=frame_count(promo),
            token=secrets.token_urlsafe(24),
        )
        unit.session.add(file)
        unit.session.flush()
        for spot, piece in enumerate(plan(promo)):
            key = piece_key(promo, shape, short_side, piece)
            part = ExportPiece(file_id=file.id, number=spot, first=piece.first, count=piece.count, key=key)
            unit.session.add(part)
            unit.session.flush()
            unit.later("glowreel.export_piece", part.id)
    return export


def _claim_piece(session: Session, piece_id: int) -> ExportPiece | None:
    free = or_(ExportPiece.state == "queued", (ExportPiece.state == "running") & (ExportPiece.lease_until < now()))
    wanted = select(ExportFile.id).where(ExportFile.state.in_(OPEN))
    claimed = session.execute(
        update(ExportPiece)
        .where(ExportPiece.id == piece_id, free, ExportPiece.file_id.in_(wanted))
        .values(state="running", lease_until=now() + LEASE, attempts=ExportPiece.attempts + 1, frames_done=0)
        .returning(ExportPiece.id)
    ).first()
    return session.get(ExportPiece, piece_id, populate_existing=True) if claimed else None


def make_piece(parts: Parts, piece_id: int, threads: int = 0) -> None:
    """Encodes one piece, unless it is made already, being made, or not wanted. Then sees whether the file is whole."""
    with parts.database.unit() as unit:
        piece = _claim_piece(unit.session, piece_id)
        if piece is None:
            return
        file = piece.file
        if file.state == "queued":
            file.state, file.started_at = "running", now()
        row = unit.session.get_one(PromoRow, file.export.promo_id)
        promo = document(unit.session, row, file.export.revision_id)
        attempts, key, file_id = piece.attempts, piece.key, file.id
        shape, short_side = find_format(promo, file.format_id), file.short_side
        run = Piece(piece.first, piece.count)
    if attempts > MAX_ATTEMPTS:
        fail(parts, file_id, "A part of the film stopped every worker that tried it.")
        return
    reused = parts.blobs.has(piece_blob(key))
    try:
        if not reused:
            sources = Sources(parts.places)
            try:
                beat = _heartbeat(parts, piece_id, file_id)
                parts.blobs.write(
                    piece_blob(key),
                    lambda out: render_piece(promo, shape, short_side, run, sources, out, beat, threads),
                )
            finally:
                sources.close()
    except Stopped:
        return
    except GlowReelError as error:
        fail(parts, file_id, str(error))
        return
    _piece_done(parts, piece_id, file_id, reused)


def _heartbeat(parts: Parts, piece_id: int, file_id: str) -> Callable[[int, int], None]:
    """Renews the lease and tells the progress twice a second; stops the work when the export was cancelled."""
    last = [time.monotonic()]

    def beat(done: int, total: int) -> None:
        if time.monotonic() - last[0] < BEAT:
            return
        last[0] = time.monotonic()
        with parts.database.unit() as unit:
            state = unit.session.scalar(select(ExportFile.state).where(ExportFile.id == file_id))
            if state not in OPEN:
                raise Stopped("the export was cancelled")
            values = {"lease_until": now() + LEASE, "frames_done": done}
            unit.session.execute(update(ExportPiece).where(ExportPiece.id == piece_id).values(**values))

    return beat


def _piece_done(parts: Parts, piece_id: int, file_id: str, reused: bool) -> None:
    with parts.database.unit() as unit:
        piece = unit.session.get_one(ExportPiece, piece_id)
        piece.state, piece.frames_done, piece.lease_until = "done", piece.count, None
        unit.session.flush()
        file = unit.session.get_one(ExportFile, file_id, with_for_update=True)
        if reused:
            file.reused += 1
        left = select(func.count()).where(ExportPiece.file_id == file_id, ExportPiece.state != "done")
        if not unit.session.scalar(left) and file.state in OPEN:
            file.state = "joining"
            unit.later("glowreel.export_join", file_id)


def fail(parts: Parts, file_id: str, sentence: str) -> None:
    with parts.database.unit() as unit:
        file = unit.session.get_one(ExportFile, file_id, with_for_update=True)
        if file.state in OPEN:
            file.state, file.error, file.finished_at = "failed", sentence[:400], now()


def join_file(parts: Parts, file_id: str) -> None:
    """Mixes the sound and joins the pieces of a file whose pieces are all there."""
    with parts.database.unit() as unit:
        free = or_(ExportFile.lease_until.is_(None), ExportFile.lease_until < now())
        claimed = unit.session.execute(
            update(ExportFile)
            .where(ExportFile.id == file_id, ExportFile.state == "joining", free)
            .values(lease_until=now() + timedelta(minutes=5), attempts=ExportFile.attempts + 1)
            .returning(ExportFile.id)
        ).first()
        if claimed is None:
            return
        file = unit.session.get_one(ExportFile, file_id, populate_existing=True)
        row = unit.session.get_one(PromoRow, file.export.promo_id)
        promo = document(unit.session, row, file.export.revision_id)
        title, attempts = file.export.title, file.attempts
        pieces = [(piece.key, piece.count) for piece in file.pieces]
    if attempts > MAX_ATTEMPTS:
        fail(parts, file_id, "The parts of the film could not be joined.")
        return
    sources = Sources(parts.places)

    def make(out: Path) -> None:
        sound = out.with_suffix(".sound.mp4")
        try:
            render_sound(promo, sources, sound)
            found = [(parts.blobs.local(piece_blob(key)), count) for key, count in pieces]
            join(found, sound, promo.rate.fraction, out, title)
        finally:
            sound.unlink(missing_ok=True)

    try:
        parts.blobs.write(file_blob(file_id), make)
    except GlowReelError as error:
        fail(parts, file_id, str(error))
        return
    finally:
        sources.close()
    with parts.database.unit() as unit:
        file = unit.session.get_one(ExportFile, file_id, with_for_update=True)
        if file.state == "joining":
            file.state, file.finished_at, file.lease_until = "done", now(), None
            file.size = parts.blobs.size(file_blob(file_id))


def cancel(session: Session, file: ExportFile) -> None:
    """Stops a file that is not finished; what is made of it stays for a retry."""
    if file.state not in OPEN:
        raise Refusal("finished", "That export has already ended.")
    file.state, file.finished_at = "cancelled", now()


def retry(unit: Unit, file: ExportFile) -> None:
    """Takes a failed or cancelled file up again; pieces that are made are not made again."""
    if file.state not in ("failed", "cancelled"):
        raise Refusal("running", "That export needs no second try.")
    file.state, file.error, file.finished_at, file.attempts, file.lease_until = "queued", "", None, 0, None
    for piece in file.pieces:
        piece.state, piece.attempts, piece.frames_done, piece.lease_until = "queued", 0, 0, None
        unit.later("glowreel.export_piece", piece.id)


def sweep(unit: Unit) -> int:
    """Sends again what was forgotten: pieces without a living worker, files whose pieces are all done."""
    sent = 0
    open_files = select(ExportFile.id).where(ExportFile.state.in_(OPEN))
    forgotten = select(ExportPiece.id).where(
        ExportPiece.file_id.in_(open_files),
        or_(ExportPiece.state == "queued", (ExportPiece.state == "running") & (ExportPiece.lease_until < now())),
    )
    # A few at a time: a piece that is merely waiting its turn is sent again too, and each costs a look.
    for piece_id in unit.session.scalars(forgotten.order_by(ExportPiece.id).limit(8)):
        unit.later("glowreel.export_piece", piece_id)
        sent += 1
    waiting = select(ExportFile.id).where(
        ExportFile.state == "joining", or_(ExportFile.lease_until.is_(None), ExportFile.lease_until < now())
    )
    for file_id in unit.session.scalars(waiting):
        unit.later("glowreel.export_join", file_id)
        sent += 1
    return sent


def list_exports(session: Session, team_id: str, promo_id: str | None = None) -> list[Export]:
    query = select(Export).where(Export.team_id == team_id)
    if promo_id:
        query = query.where(Export.promo_id == promo_id)
    loading = selectinload(Export.files).selectinload(ExportFile.pieces)
    return list(session.scalars(query.options(loading).order_by(Export.created_at.desc()).limit(60)))


def watched(session: Session, token: str) -> ExportFile:
    """The finished file behind a watch page's link, or `Missing`."""
    file = session.scalar(select(ExportFile).where(ExportFile.token == token))
    if file is None or file.state != "done":
        raise Missing("no-film", "There is no film behind this link.", "Ask whoever sent it for a new one.")
    return file
