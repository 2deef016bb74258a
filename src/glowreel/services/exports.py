"""Exports: planned as pieces, made by any workers, joined, and never lost.

```
planning ── queued ── running ── joining ── done          each step by a worker with a lease
    └──────────┴─────────┴──────────┴────── failed, cancelled
```
The rows in PostgreSQL are the truth; the queue only says that something may be done. A worker that dies lets its lease
run out, and the sweeper has the work done by another.
"""

from __future__ import annotations

import secrets
import time
from collections.abc import Callable
from contextlib import closing, suppress
from datetime import timedelta
from pathlib import Path
from typing import Any, TypeVar

from sqlalchemy import func, or_, select, update
from sqlalchemy.orm import Session, aliased, selectinload

from glowreel.core.document import Promo
from glowreel.core.errors import GlowReelError, Missing, NoRoom, Refusal
from glowreel.core.formats import RESOLUTIONS, Format
from glowreel.core.naming import naming
from glowreel.core.recipe.needs import needs
from glowreel.core.recipe.picture import find_format
from glowreel.core.timeline import timeline
from glowreel.engine.export import Piece, join, piece_key, plan, render_sound
from glowreel.engine.makers import MAKERS, made_name
from glowreel.engine.sources import Sources
from glowreel.limited.client import Died, Interrupted
from glowreel.services import needed
from glowreel.services.access import Actor, authorise
from glowreel.services.leases import LENGTH, Lease, Stopped, beating
from glowreel.services.live import announce_work
from glowreel.services.promos import document
from glowreel.services.setup import Runtime
from glowreel.store.database import Unit
from glowreel.store.models import Export, ExportFile, ExportPiece, PromoRow, new_key, now

BEAT = 0.5
MAX_ATTEMPTS = 4
MAX_DEATHS = 2
OPEN = ("planning", "queued", "running", "joining")
AGAIN = timedelta(seconds=10)
"""What waits in the queue is sent again after so long, in case the queue forgot it."""
BATCH = 8
LINK_LASTS = timedelta(days=90)
WAITS = "It begins when everything it is made with has been worked out."


Claimed = TypeVar("Claimed", ExportFile, ExportPiece)


def piece_blob(key: str) -> str:
    return f"pieces/{key[:2]}/{key}.mp4"


def file_blob(file_id: str) -> str:
    return f"exports/{file_id}.mp4"


def start(unit: Unit, promo_id: str, actor: Actor, formats: tuple[str, ...], short_side: int, title: str) -> Export:
    """Queues the promo as it is now, in these formats. Raises `Refusal` where there is nothing to export."""
    row = authorise(unit.session, PromoRow, promo_id, actor, "export")
    promo = document(unit.session, row)
    if short_side not in RESOLUTIONS:
        raise Refusal("size", f"Choose one of the resolutions {', '.join(map(str, RESOLUTIONS))}.")
    if not formats:
        raise Refusal("no-format", "Choose at least one format to export.")
    if not timeline(promo).length:
        raise Refusal("empty", "There is nothing in this promo yet.", "Put a clip or a title on the timeline first.")
    export = Export(
        id=new_key("e"),
        team_id=actor.team_id,
        promo_id=row.id,
        revision_id=row.head_id,
        title=" ".join(title.split())[:120] or promo.name,
    )
    unit.session.add(export)
    unit.session.flush()
    for number, format_id in enumerate(dict.fromkeys(formats)):
        format = find_format(promo, format_id)
        width, height = format.size(short_side)
        file = ExportFile(
            id=new_key("f"),
            export_id=export.id,
            number=number,
            format_id=format.id,
            format_name=format.name,
            short_side=short_side,
            width=width,
            height=height,
            frames=timeline(promo).frame_count,
            token=secrets.token_urlsafe(24),
            link_until=now() + LINK_LASTS,
        )
        unit.session.add(file)
        unit.session.flush()
        unit.later("glowreel.export_plan", file.id)
    announce_work(unit.session, actor)
    return export


def _claim(session: Session, kind: type[Claimed], key: Any, state: str, *more: Any) -> Claimed | None:
    """Takes a row in a state for this worker, unless another one has it; counts the attempt."""
    free = or_(kind.lease_until.is_(None), kind.lease_until < now())
    claimed = session.execute(
        update(kind)
        .where(kind.id == key, kind.state == state, free, *more)
        .values(lease_until=now() + LENGTH, attempts=kind.attempts + 1)
        .returning(kind.id)
    ).first()
    return session.get(kind, key, populate_existing=True) if claimed else None


def plan_file(runtime: Runtime, file_id: str) -> None:
    """Names the pieces of a file by what they show, and has them made. Naming looks at every frame's recipe."""
    with runtime.database.unit() as unit:
        file = _claim(unit.session, ExportFile, file_id, "planning")
        if file is None:
            return
        promo, format, short_side = _exported(unit.session, file)
        attempt = file.attempts
        needed.begin(unit, promo, Actor.program(file.export.team_id))
        found = needed.look(unit.session, promo)
    if attempt > MAX_ATTEMPTS:
        fail(runtime, file_id, "The film could not be planned.")
        return
    if found.failed:
        fail(runtime, file_id, found.failed)
        return
    if found.waiting:
        # Whoever makes the last of it calls for the plan again, or the sweeper does.
        Lease(runtime, ExportFile, file_id, attempt, ("planning",)).finish(error=WAITS, attempts=attempt - 1)
        return
    pieces, named = plan(promo), []
    with beating(Lease(runtime, ExportFile, file_id, attempt, ("planning",))) as lease:
        try:
            for piece in pieces:
                lease.check()
                named.append(piece_key(promo, format, short_side, piece))
                lease.renew(planned=len(named) / len(pieces))
        except Stopped:
            return
        except GlowReelError as error:
            fail(runtime, file_id, str(error))
            return
    with runtime.database.unit() as unit:
        mine = (ExportFile.id == file_id, ExportFile.state == "planning", ExportFile.attempts == attempt)
        queued = update(ExportFile).where(*mine).values(state="queued", lease_until=None, attempts=0, error="")
        if unit.session.execute(queued.returning(ExportFile.id)).first() is None:
            return
        for number, (piece, key) in enumerate(zip(pieces, named, strict=True)):
            part = ExportPiece(file_id=file_id, number=number, first=piece.first, count=piece.count, key=key)
            part.sent_at = now()
            unit.session.add(part)
            unit.session.flush()
            unit.later("glowreel.export_piece", part.id)


def _exported(session: Session, file: ExportFile) -> tuple[Promo, Format, int]:
    """The promo, format and size of a file, as they were when the button was pressed."""
    row = session.get_one(PromoRow, file.export.promo_id)
    promo = document(session, row, file.export.revision_id)
    return promo, find_format(promo, file.format_id), file.short_side


def _claim_piece(session: Session) -> ExportPiece | None:
    """Takes the piece whose turn it is: teams with the least being made come first, then the oldest export."""
    busy, busy_file, busy_export = aliased(ExportPiece), aliased(ExportFile), aliased(Export)
    going = (
        select(func.count(busy.id))
        .join(busy_file, busy_file.id == busy.file_id)
        .join(busy_export, busy_export.id == busy_file.export_id)
        .where(busy.state == "running", busy.lease_until >= now(), busy_export.team_id == Export.team_id)
        .scalar_subquery()
    )
    free = or_(ExportPiece.state == "queued", (ExportPiece.state == "running") & (ExportPiece.lease_until < now()))
    query = (
        select(ExportPiece)
        .join(ExportFile, ExportFile.id == ExportPiece.file_id)
        .join(Export, Export.id == ExportFile.export_id)
        .where(free, ExportFile.state.in_(OPEN))
        .order_by(going, Export.created_at, ExportFile.number, ExportPiece.number)
    )
    piece = session.scalar(query.limit(1).with_for_update(skip_locked=True, of=ExportPiece))
    if piece is not None:
        session.refresh(piece)
        piece.state, piece.frames_done, piece.lease_until = "running", 0, now() + LENGTH
        piece.attempts += 1
        session.flush()
    return piece


def make_piece(runtime: Runtime, threads: int = 0) -> None:
    """Encodes the piece whose turn it is, if there is one. Then sees whether its file is whole."""
    with runtime.database.unit() as unit:
        piece = _claim_piece(unit.session)
        if piece is None:
            return
        file = piece.file
        begun = update(ExportFile).where(ExportFile.id == file.id, ExportFile.state == "queued")
        unit.session.execute(begun.values(state="running", started_at=now()))
        promo, format, short_side = _exported(unit.session, file)
        piece_id, attempt, key, file_id = piece.id, piece.attempts, piece.key, file.id
        run = Piece(piece.first, piece.count)
    if attempt > MAX_ATTEMPTS:
        fail(runtime, file_id, "A part of the film stopped every worker that tried it.")
        return
    reused = runtime.blobs.has(piece_blob(key))
    lease = Lease(runtime, ExportPiece, piece_id, attempt, ("running",))
    try:
        if not reused:
            with naming(promo), beating(lease), runtime.workspace() as folder:
                arguments = {
                    "promo": promo.model_dump(mode="json"), "format": format.id, "short_side": short_side,
                    "first": run.first, "count": run.count, "threads": threads, "paths": originals(runtime, promo),
                    "made": made_files(runtime, promo), "samples": seen_sounds(runtime, promo),
                }  # fmt: skip
                beat = _progress(runtime, lease, file_id, run.count)
                runtime.limited.run("piece", arguments, folder, "This film", progress=beat, check=lease.check)
                runtime.blobs.take(piece_blob(key), folder / "piece.mp4")
    except Stopped:
        return
    except (Died, Interrupted, NoRoom) as error:
        _another_try(runtime, lease, file_id, attempt, error)
        return
    except GlowReelError as error:
        fail(runtime, file_id, str(error))
        return
    if lease.finish(state="done", frames_done=run.count):
        _piece_done(runtime, file_id, reused)


def originals(runtime: Runtime, promo: Promo) -> dict[str, str]:
    """Where the files that a promo shows lie, by hash; those that are gone are left out."""
    paths = {}
    for media in promo.media.values():
        with suppress(Missing):
            paths[media.hash] = str(runtime.library.picture(media.hash).resolve())
    return paths


def seen_sounds(runtime: Runtime, promo: Promo) -> dict[str, str]:
    """Where the sound lies that something in a promo moves with, by hash; nothing where nothing does."""
    paths: dict[str, str] = {}
    for media in promo.media.values() if any(design.listens for design in promo.designs.values()) else ():
        if media.sounding:
            with suppress(Missing):
                paths[media.hash] = str(runtime.library.samples(media.hash).resolve())
    return paths


def made_files(runtime: Runtime, promo: Promo) -> dict[str, str]:
    """Where the files lie that recipes of a promo name, by source and name."""
    paths = {}
    for need in needs(promo):
        for name in MAKERS[need.maker].files:
            with suppress(Missing):
                path = runtime.library.made(need, name)
                paths[f"{need.source}/{made_name(need, name)}"] = str(path.resolve())
    return paths


def _another_try(runtime: Runtime, lease: Lease, file_id: str, attempt: int, error: GlowReelError) -> None:
    """Puts a piece back whose work ended without an answer. One that stops its process twice ends the export."""
    if isinstance(error, Died) and attempt >= MAX_DEATHS:
        fail(runtime, file_id, "A part of the film stopped every process that tried it.")
        return
    spared = 0 if isinstance(error, Died) else 1
    lease.finish(state="queued", frames_done=0, attempts=max(0, attempt - spared), sent_at=now())


def _progress(runtime: Runtime, lease: Lease, file_id: str, count: int) -> Callable[[float], None]:
    """Tells the progress twice a second; stops the work when the export was cancelled."""
    last = [time.monotonic()]

    def beat(share: float) -> None:
        if time.monotonic() - last[0] < BEAT:
            return
        last[0] = time.monotonic()
        with runtime.database.unit() as unit:
            if unit.session.scalar(select(ExportFile.state).where(ExportFile.id == file_id)) not in OPEN:
                raise Stopped("the export was cancelled")
        lease.renew(frames_done=round(share * count))

    return beat


def _piece_done(runtime: Runtime, file_id: str, reused: bool) -> None:
    with runtime.database.unit() as unit:
        file = unit.session.get_one(ExportFile, file_id, with_for_update=True)
        if reused:
            file.reused += 1
        left = select(func.count()).where(ExportPiece.file_id == file_id, ExportPiece.state != "done")
        if not unit.session.scalar(left) and file.state in ("queued", "running"):
            file.state = "joining"
            unit.later("glowreel.export_join", file_id)
        # Messages may have been lost with a worker: whoever is done with a piece calls for the next one.
        waiting = (
            select(ExportPiece.id).join(ExportFile).where(ExportPiece.state == "queued", ExportFile.state.in_(OPEN))
        )
        following = unit.session.scalar(waiting.order_by(ExportPiece.id).limit(1))
        if following is not None:
            unit.later("glowreel.export_piece", following)


def fail(runtime: Runtime, file_id: str, sentence: str) -> None:
    """Ends a file with a sentence, unless it has ended already."""
    with runtime.database.unit() as unit:
        values = {"state": "failed", "error": sentence[:400], "finished_at": now(), "lease_until": None}
        _end(unit.session, file_id, values)


def _end(session: Session, file_id: str, values: dict[str, Any]) -> bool:
    """Writes how an open file ended, and says so to its team; false where it had ended before."""
    query = update(ExportFile).where(ExportFile.id == file_id, ExportFile.state.in_(OPEN)).values(**values)
    ended = session.execute(query.returning(ExportFile.export_id)).scalar()
    if ended is None:
        return False
    announce_work(session, session.get_one(Export, ended))
    return True


def join_file(runtime: Runtime, file_id: str) -> None:
    """Mixes the sound and joins the pieces of a file whose pieces are all there."""
    with runtime.database.unit() as unit:
        file = _claim(unit.session, ExportFile, file_id, "joining")
        if file is None:
            return
        promo, _, _ = _exported(unit.session, file)
        known = needed.look(unit.session, promo).known
        title, attempt = file.export.title, file.attempts
        pieces = [(piece.key, piece.count) for piece in file.pieces]
    if attempt > MAX_ATTEMPTS:
        fail(runtime, file_id, "The parts of the film could not be joined.")
        return
    lease = Lease(runtime, ExportFile, file_id, attempt, ("joining",))

    def make(out: Path) -> None:
        sound = out.with_suffix(".sound.mp4")
        try:
            render_sound(promo, sources, sound, lambda done, total: lease.check(), known)
            parts = [(runtime.blobs.local(piece_blob(key)), count) for key, count in pieces]
            join(parts, sound, promo.rate.fraction, out, title)
        finally:
            sound.unlink(missing_ok=True)

    try:
        with naming(promo), beating(lease), closing(Sources(runtime.library)) as sources:
            runtime.blobs.write(file_blob(file_id), make)
    except Stopped:
        return
    except NoRoom as error:
        # Nothing is lost: the sweeper has it joined when there is room.
        lease.finish(error=str(error), attempts=attempt - 1)
        return
    except GlowReelError as error:
        fail(runtime, file_id, str(error))
        return
    size = runtime.blobs.size(file_blob(file_id))
    with runtime.database.unit() as unit:
        _end(
            unit.session,
            file_id,
            {"state": "done", "finished_at": now(), "lease_until": None, "size": size, "error": ""},
        )


def cancel(session: Session, file: ExportFile) -> None:
    """Stops a file that is not finished; what is made of it stays for a retry."""
    if not _end(session, file.id, {"state": "cancelled", "finished_at": now(), "lease_until": None}):
        raise Refusal("finished", "That export has already ended.")
    session.refresh(file)


def retry(unit: Unit, file: ExportFile) -> None:
    """Takes a failed or cancelled file up again; pieces that are made are not made again."""
    ended = update(ExportFile).where(ExportFile.id == file.id, ExportFile.state.in_(("failed", "cancelled")))
    fresh: dict[str, Any] = {"error": "", "finished_at": None, "attempts": 0, "lease_until": None}
    fresh["state"] = "queued" if file.pieces else "planning"
    if unit.session.execute(ended.values(**fresh).returning(ExportFile.id)).first() is None:
        raise Refusal("running", "That export needs no second try.")
    unit.session.refresh(file)
    if not file.pieces:
        promo, _, _ = _exported(unit.session, file)
        needed.begin(unit, promo, Actor.program(file.export.team_id), again=True)
        unit.later("glowreel.export_plan", file.id)
    for piece in file.pieces:
        piece.state, piece.attempts, piece.frames_done, piece.lease_until = "queued", 0, 0, None
        piece.sent_at = now()
        unit.later("glowreel.export_piece", piece.id)
    announce_work(unit.session, file.export)


def sweep(unit: Unit) -> int:
    """Sends again what was forgotten: work without a living worker, files whose pieces are all done."""
    sent = 0
    open_files = select(ExportFile.id).where(ExportFile.state.in_(OPEN))
    long_ago = or_(ExportPiece.sent_at.is_(None), ExportPiece.sent_at < now() - AGAIN)
    forgotten = select(ExportPiece).where(
        ExportPiece.file_id.in_(open_files),
        or_(
            (ExportPiece.state == "queued") & long_ago,
            (ExportPiece.state == "running") & (ExportPiece.lease_until < now()),
        ),
    )
    for piece in unit.session.scalars(forgotten.order_by(ExportPiece.id).limit(BATCH)):
        piece.sent_at = now()
        unit.later("glowreel.export_piece", piece.id)
        sent += 1
    free = or_(ExportFile.lease_until.is_(None), ExportFile.lease_until < now())
    for state, task in (("planning", "glowreel.export_plan"), ("joining", "glowreel.export_join")):
        waiting = select(ExportFile.id).where(ExportFile.state == state, free)
        for file_id in unit.session.scalars(waiting.limit(BATCH)):
            unit.later(task, file_id)
            sent += 1
    return sent


def list_exports(session: Session, actor: Actor, promo_id: str | None = None) -> list[Export]:
    query = select(Export).where(Export.team_id == actor.team_id, Export.removed_at.is_(None))
    if promo_id:
        query = query.where(Export.promo_id == promo_id)
    loading = selectinload(Export.files).selectinload(ExportFile.pieces)
    return list(session.scalars(query.options(loading).order_by(Export.created_at.desc()).limit(60)))


def watched(session: Session, token: str) -> ExportFile:
    """The finished film behind a watch page's link, or `Missing`: the link has ended, or what it leads to is gone."""
    file = session.scalar(select(ExportFile).where(ExportFile.token == token))
    open_still = file is not None and file.link_until is not None and file.link_until > now()
    gone = file is not None and (file.export.removed_at or file.export.promo.removed_at)
    if file is None or file.state != "done" or gone or not open_still:
        raise Missing("no-film", "There is no film behind this link.", "Ask whoever sent it for a new one.")
    return file


def set_link(file: ExportFile, *, on: bool) -> None:
    """Makes a new link to a film's watch page, or ends the one there is. Old links never open anything again."""
    file.token = secrets.token_urlsafe(24)
    file.link_until = now() + LINK_LASTS if on else None


def remove(session: Session, export_id: str, actor: Actor) -> None:
    """Takes an export off the list, and stops what is still being made of it. Its films are removed later."""
    export = authorise(session, Export, export_id, actor, "remove")
    export.removed_at = now()
    for file in export.files:
        _end(session, file.id, {"state": "cancelled", "finished_at": now(), "lease_until": None})
    announce_work(session, actor)
