"""Pieces of exports: claimed, encoded, and put by.

The same run of frames in several formats of one export is one piece of work: what it shows is decoded once, and every
format drawn from that.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from contextlib import ExitStack, suppress
from dataclasses import dataclass

from sqlalchemy import func, or_, select, update
from sqlalchemy.orm import Session, aliased

from glowreel.core.document import Promo
from glowreel.core.errors import GlowReelError, Missing, NoRoom
from glowreel.core.film_forms import Making
from glowreel.core.naming import naming
from glowreel.core.recipe.needs import needs
from glowreel.core.time import clock
from glowreel.engine.makers import MAKERS, made_name
from glowreel.limited.client import Died, Interrupted
from glowreel.logs import tell, within
from glowreel.services.exports import OPEN, fail, made_as, piece_blob, pressed
from glowreel.services.leases import LENGTH, MOST_LOST, Lease, Stopped, beating, over
from glowreel.services.setup import Runtime
from glowreel.store.models import Export, ExportFile, ExportPiece, now

BEAT = 0.5
MAX_DEATHS = 3
TOGETHER = 4
"""So many formats are made of one decoding at the most."""


@dataclass(frozen=True)
class _Claimed:
    """A piece in the hands of this worker: of which file and format, and the how-many-eth try it is."""

    piece_id: int
    attempt: int
    key: str
    file_id: str
    format_id: str
    short_side: int
    making: Making
    lease: Lease


def claim(session: Session) -> list[ExportPiece]:
    """Takes the piece whose turn it is: teams with the least being made come first, then the oldest export. With it the
    same run of frames of the export's other formats, unless it has stopped a worker before."""
    busy, busy_file, busy_export = aliased(ExportPiece), aliased(ExportFile), aliased(Export)
    going = (
        select(func.count(busy.id))
        .join(busy_file, busy_file.id == busy.file_id)
        .join(busy_export, busy_export.id == busy_file.export_id)
        .where(busy.state == "running", ~over(busy), busy_export.team_id == Export.team_id)
        .scalar_subquery()
    )
    free = or_(ExportPiece.state == "queued", (ExportPiece.state == "running") & over(ExportPiece))
    query = (
        select(ExportPiece)
        .join(ExportFile, ExportFile.id == ExportPiece.file_id)
        .join(Export, Export.id == ExportFile.export_id)
        .where(free, ExportFile.state.in_(OPEN))
        .order_by(going, Export.created_at, ExportFile.number, ExportPiece.number)
    )
    first = session.scalar(query.limit(1).with_for_update(skip_locked=True, of=ExportPiece))
    if first is None:
        return []
    session.refresh(first)
    taken = [first]
    if not first.attempts:
        same = query.where(
            ExportFile.export_id == first.file.export_id, ExportPiece.id != first.id, ExportPiece.attempts == 0,
            ExportPiece.first == first.first, ExportPiece.count == first.count,
        )  # fmt: skip
        taken += session.scalars(same.limit(TOGETHER - 1).with_for_update(skip_locked=True, of=ExportPiece))
    for piece in taken:
        session.refresh(piece)
        piece.state, piece.frames_done, piece.lease_until = "running", 0, now() + LENGTH
        piece.attempts += 1
    session.flush()
    return taken


def make(runtime: Runtime, threads: int = 0) -> None:
    """Encodes the piece whose turn it is, if there is one, in every format that waits for it. Then sees whether their
    files are whole."""
    with runtime.database.unit() as unit:
        taken = claim(unit.session)
        if not taken:
            return
        for piece in taken:
            begun = update(ExportFile).where(ExportFile.id == piece.file_id, ExportFile.state == "queued")
            unit.session.execute(begun.values(state="running", started_at=now()))
        promo = pressed(unit.session, taken[0].file)[0]
        claimed = [
            _Claimed(piece.id, piece.attempts, piece.key, piece.file_id, piece.file.format_id, piece.file.short_side,
                     made_as(piece.file), Lease(runtime, ExportPiece, piece.id, piece.attempts, ("running",)))
            for piece in taken
        ]  # fmt: skip
        first, count, press = taken[0].first, taken[0].count, taken[0].file.export.request
    # The piece whose turn it is need not be the one that was sent: what is written of it names its own press.
    with within(press):
        _make(runtime, claimed, promo, (first, count), threads)


def _make(runtime: Runtime, claimed: Sequence[_Claimed], promo: Promo, run: tuple[int, int], threads: int) -> None:
    began, (_, count) = time.monotonic(), run
    waiting = []
    for one in claimed:
        if one.attempt > MOST_LOST:
            fail(runtime, one.file_id, "A part of the film stopped every worker that tried it.")
        elif runtime.blobs.has(piece_blob(one.key)):
            _done(runtime, one, count, reused=True)
        else:
            waiting.append(one)
    if waiting and _encoded(runtime, promo, waiting, run, threads):
        for one in waiting:
            _done(runtime, one, count, reused=False)
        seconds = round(time.monotonic() - began, 3)
        tell("piece made", piece=waiting[0].piece_id, formats=len(waiting), frames=count, seconds=seconds)


def _encoded(runtime: Runtime, promo: Promo, waiting: Sequence[_Claimed], run: tuple[int, int], threads: int) -> bool:
    """Encodes a run of frames in these formats; says whether it came to that."""
    arguments = {
        "promo": promo.model_dump(mode="json"), "first": run[0], "count": run[1], "threads": threads,
        "outs": [[one.format_id, one.short_side, one.making.model_dump(mode="json")] for one in waiting],
        "paths": originals(runtime, promo),
        "made": made_files(runtime, promo), "samples": seen_sounds(runtime, promo),
    }  # fmt: skip
    try:
        with naming(promo), ExitStack() as stack:
            for one in waiting:
                stack.enter_context(beating(one.lease))
            folder = stack.enter_context(runtime.workspace())
            beat = _progress(runtime, waiting, run[1])

            def check() -> None:
                for one in waiting:
                    one.lease.check()

            runtime.limited.run("piece", arguments, folder, "This film", progress=beat, check=check)
            for number, one in enumerate(waiting):
                runtime.blobs.take(piece_blob(one.key), folder / f"piece-{number}")
    except Stopped:
        # One of them was cancelled or taken over: the others are made without it.
        for one in waiting:
            one.lease.finish(state="queued", frames_done=0, attempts=one.attempt - 1, sent_at=now())
        _call_next(runtime)
        return False
    except (Died, Interrupted, NoRoom) as error:
        for one in waiting:
            _another_try(runtime, one, error)
        return False
    except GlowReelError as error:
        for one in waiting:
            fail(runtime, one.file_id, str(error))
        return False
    return True


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


def _another_try(runtime: Runtime, one: _Claimed, error: GlowReelError) -> None:
    """Puts a piece back whose work ended without an answer. One that stops its process three times ends the export,
    which says where in the film it is and how it ended."""
    if isinstance(error, Died) and one.attempt >= MAX_DEATHS:
        with runtime.database.unit() as unit:
            piece = unit.session.get_one(ExportPiece, one.piece_id)
            rate = pressed(unit.session, piece.file)[0].rate
            rate = made_as(piece.file).rate or rate
            begins, ends = (clock(rate.frame_start(frame)) for frame in (piece.first, piece.first + piece.count))
        fail(runtime, one.file_id, f"Between {begins} and {ends} it stopped every process that tried it. {error}")
        return
    spared = 0 if isinstance(error, Died) else 1
    one.lease.finish(state="queued", frames_done=0, attempts=max(0, one.attempt - spared), sent_at=now())


def _progress(runtime: Runtime, waiting: Sequence[_Claimed], count: int) -> Callable[[float], None]:
    """Tells the progress twice a second; stops the work when an export was cancelled."""
    last = [time.monotonic()]

    def beat(share: float) -> None:
        if time.monotonic() - last[0] < BEAT:
            return
        last[0] = time.monotonic()
        files = {one.file_id for one in waiting}
        going = select(func.count(ExportFile.id)).where(ExportFile.id.in_(files), ExportFile.state.in_(OPEN))
        with runtime.database.unit() as unit:
            if unit.session.scalar(going) != len(files):
                raise Stopped("an export was cancelled")
        for one in waiting:
            one.lease.renew(frames_done=round(share * count))

    return beat


def _done(runtime: Runtime, one: _Claimed, count: int, *, reused: bool) -> None:
    """Writes that a piece is there; with the last one of a file, that file is joined."""
    if not one.lease.finish(state="done", frames_done=count):
        return
    with runtime.database.unit() as unit:
        file = unit.session.get_one(ExportFile, one.file_id, with_for_update=True)
        if reused:
            file.reused += 1
            unit.session.execute(update(ExportPiece).where(ExportPiece.id == one.piece_id).values(cost=0.0))
        left = select(func.count()).where(ExportPiece.file_id == one.file_id, ExportPiece.state != "done")
        if not unit.session.scalar(left) and file.state in ("queued", "running"):
            file.state = "joining"
            unit.later("glowreel.export_join", one.file_id)
    _call_next(runtime)


def _call_next(runtime: Runtime) -> None:
    """Messages may have been lost with a worker: whoever is done with a piece calls for the next one."""
    with runtime.database.unit() as unit:
        waiting = (
            select(ExportPiece.id).join(ExportFile).where(ExportPiece.state == "queued", ExportFile.state.in_(OPEN))
        )
        following = unit.session.scalar(waiting.order_by(ExportPiece.id).limit(1))
        if following is not None:
            unit.later("glowreel.export_piece", following)
