"""Exports: planned as pieces, made by any workers, joined, and never lost.

```
planning ── queued ── running ── joining ── done          each step by a worker with a lease
    └──────────┴─────────┴──────────┴────── failed, cancelled
```
The rows in PostgreSQL are the truth; the queue only says that something may be done. A worker that dies lets its lease
run out, and the sweeper has the work done by another.
"""

from __future__ import annotations

from datetime import timedelta
from typing import Any, TypeVar

from sqlalchemy import or_, select, update
from sqlalchemy.orm import Session, selectinload

from glowreel.core.captions.shown import cues
from glowreel.core.captions.timed import without_burn_in
from glowreel.core.channels import Channel
from glowreel.core.document import Promo
from glowreel.core.errors import GlowReelError, Missing, Refusal
from glowreel.core.film_forms import FILM_FORMS, USUAL_FORM, USUAL_MAKING, Making, as_made, refuse_unmakeable
from glowreel.core.formats import Format
from glowreel.core.recipe.picture import find_format
from glowreel.core.timeline import timeline
from glowreel.engine.export import name_piece, plan
from glowreel.logs import request_id
from glowreel.services import audit, hooks, needed
from glowreel.services.access import Actor, authorise, authorise_file, listed
from glowreel.services.leases import LENGTH, MOST_LOST, Lease, Stopped, beating, long_since, over, unheld
from glowreel.services.live import announce_work
from glowreel.services.promos import document
from glowreel.services.setup import Runtime
from glowreel.store.database import Unit
from glowreel.store.models import Export, ExportFile, ExportPiece, PromoRow, new_key, now

OPEN = ("planning", "queued", "running", "joining")
AGAIN = timedelta(seconds=10)
"""What waits in the queue is sent again after so long, in case the queue forgot it."""
BATCH = 8
MOST_CAPTION = 5000
LINK_LASTS = timedelta(days=90)
WAITS = "It begins when everything it is made with has been worked out."


Claimed = TypeVar("Claimed", ExportFile, ExportPiece)


def piece_blob(key: str) -> str:
    """Where a piece is kept; names from before there were several forms do not say how they end."""
    return f"pieces/{key[:2]}/{key}" if "." in key else f"pieces/{key[:2]}/{key}.mp4"


def file_blob(file_id: str, form: str = USUAL_FORM) -> str:
    """Where a finished file of a form is kept."""
    return f"exports/{file_id}{FILM_FORMS[form].suffix}"


def film_blob(file: ExportFile) -> str:
    return file_blob(file.id, file.form)


def making_of(export: Export) -> Making:
    """How the files of an export are made."""
    return Making.model_validate(export.making)


def start(
    unit: Unit, promo_id: str, actor: Actor, formats: tuple[str, ...], short_side: int, title: str, caption: str = "",
    burn_in: bool = True, making: Making = USUAL_MAKING,
) -> Export:  # fmt: skip
    """Queues the promo as it is now, in these formats, as files that are made in a manner; `caption` is the text that
    goes with it where it is published; without `burn_in`, captions are not in the picture, only beside it. Sound alone
    is the same in every format, and made once.
    Raises `Refusal` where there is nothing to export, and where a channel takes no such title or caption."""
    row = authorise(unit.session, PromoRow, promo_id, actor, "export")
    promo = document(unit.session, row)
    if not formats:
        raise Refusal("no-format", "Choose at least one format to export.")
    if not timeline(promo).length:
        raise Refusal("empty", "There is nothing in this promo yet.", "Put a clip or a title on the timeline first.")
    refuse_unmakeable(making, promo, short_side)
    form, made = making.film_form, as_made(promo, making)
    formats = formats if form.picture else formats[:1]
    title = " ".join(title.split())[:120] or promo.name
    made_for = {key: promo.known_channels.get(find_format(promo, key).channel) for key in dict.fromkeys(formats)}
    caption = caption.strip().replace("\r\n", "\n")[:MOST_CAPTION]
    for channel in made_for.values():
        if channel is not None:
            refuse_longer(channel, title, caption)
    export = Export(
        id=new_key("e"), team_id=actor.team_id, promo_id=row.id, revision_id=row.head_id, title=title, caption=caption,
        burn_in=burn_in, making=making.model_dump(mode="json"), request=request_id(),
        lanes={lane.id: lane.language for lane in promo.captions if cues(promo, lane)},
    )  # fmt: skip
    unit.session.add(export)
    unit.session.flush()
    for number, (format_id, channel) in enumerate(made_for.items()):
        format = find_format(promo, format_id)
        width, height = format.size(short_side)
        file = ExportFile(
            id=new_key("f"),
            export_id=export.id,
            number=number,
            format_id=format.id,
            format_name=format.name if form.picture else "Sound",
            form=form.key,
            channel=channel.name if channel is not None else "",
            most_megabytes=channel.megabytes if channel is not None else 0,
            short_side=short_side,
            width=width,
            height=height,
            frames=form.frames or timeline(made).frame_count,
            link_until=now() + LINK_LASTS if form.plays else None,
        )
        unit.session.add(file.open_link())
        unit.session.flush()
        unit.later("glowreel.export_plan", file.id)
    audit.note(unit.session, actor, "exported", f"“{title}”")
    announce_work(unit.session, actor)
    return export


def refuse_longer(channel: Channel, title: str, caption: str) -> None:
    """Refuses a title or caption that is longer than a channel takes."""
    for what, said, most in (("title", title, channel.title), ("caption", caption, channel.caption)):
        if most and len(said) > most:
            words = f"{channel.name} takes {what}s of at most {most} letters; this one has {len(said)}."
            raise Refusal(what, words, "Shorten it.")


def claim_row(session: Session, kind: type[Claimed], key: Any, state: str, *more: Any) -> Claimed | None:
    """Takes a row in a state for this worker, unless another one has it; counts the attempt."""
    free = unheld(kind)
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
        file = claim_row(unit.session, ExportFile, file_id, "planning")
        if file is None:
            return
        promo, format, short_side = exported(unit.session, file)
        attempt, making = file.attempts, made_as(file)
        needed.begin(unit, promo, Actor.program(file.export.team_id))
        found = needed.look(unit.session, promo)
    if attempt > MOST_LOST:
        fail(runtime, file_id, "The film could not be planned.")
        return
    if found.failed:
        fail(runtime, file_id, found.failed)
        return
    if found.waiting:
        # Whoever makes the last of it calls for the plan again, or the sweeper does.
        Lease(runtime, ExportFile, file_id, attempt, ("planning",)).finish(error=WAITS, attempts=attempt - 1)
        return
    runs, named = plan(promo, making), []
    with beating(Lease(runtime, ExportFile, file_id, attempt, ("planning",))) as lease:
        try:
            for run in runs:
                lease.check()
                named.append(name_piece(promo, format, short_side, run, making))
                lease.renew(planned=len(named) / len(runs))
        except Stopped:
            return
        except GlowReelError as error:
            fail(runtime, file_id, str(error))
            return
    with runtime.database.unit() as unit:
        mine = (ExportFile.id == file_id, ExportFile.state == "planning", ExportFile.attempts == attempt)
        then = "queued" if runs else "joining"
        queued = update(ExportFile).where(*mine).values(state=then, lease_until=None, attempts=0, error="")
        if unit.session.execute(queued.returning(ExportFile.id)).first() is None:
            return
        if not runs:
            unit.later("glowreel.export_join", file_id)
        for number, (run, name) in enumerate(zip(runs, named, strict=True)):
            part = ExportPiece(
                file_id=file_id, number=number, first=run.first, count=run.count, key=name.key, cost=name.cost
            )
            part.sent_at = now()
            unit.session.add(part)
            unit.session.flush()
            unit.later("glowreel.export_piece", part.id)


def exported(session: Session, file: ExportFile) -> tuple[Promo, Format, int]:
    """The promo, format and size of a file, as they were when the button was pressed; the promo as it is made."""
    promo, format, short_side = pressed(session, file)
    return as_made(promo, making_of(file.export)), format, short_side


def pressed(session: Session, file: ExportFile) -> tuple[Promo, Format, int]:
    """The same with the promo as it was kept."""
    row = session.get_one(PromoRow, file.export.promo_id)
    promo = document(session, row, file.export.revision_id)
    if not file.export.burn_in and promo.captions:
        promo = without_burn_in(promo)
    return promo, find_format(promo, file.format_id), file.short_side


def made_as(file: ExportFile) -> Making:
    """How a file is made: smaller than asked, where it came out larger."""
    making = making_of(file.export)
    if making.megabytes is None or file.tighter == 1:
        return making
    return making.model_copy(update={"megabytes": making.megabytes * file.tighter})


def fail(runtime: Runtime, file_id: str, sentence: str) -> None:
    """Ends a file with a sentence, unless it has ended already."""
    with runtime.database.unit() as unit:
        values = {"state": "failed", "error": sentence[:400], "finished_at": now(), "lease_until": None}
        if end(unit.session, file_id, values):
            tell(unit, file_id)


def end(session: Session, file_id: str, values: dict[str, Any]) -> bool:
    """Writes how an open file ended, and says so to its team; false where it had ended before."""
    query = update(ExportFile).where(ExportFile.id == file_id, ExportFile.state.in_(OPEN)).values(**values)
    ended = session.execute(query.returning(ExportFile.export_id)).scalar()
    if ended is None:
        return False
    announce_work(session, session.get_one(Export, ended))
    return True


def tell(unit: Unit, file_id: str) -> None:
    """Tells whoever wants to know how a film ended."""
    file = unit.session.get_one(ExportFile, file_id, populate_existing=True)
    about = {"film": file.id, "export": file.export_id, "promo": file.export.promo_id, "title": file.export.title}
    hooks.tell(unit, file.export, "film", {**about, "format": file.format_id, "state": file.state})


def cancel(session: Session, file: ExportFile) -> None:
    """Stops a file that is not finished; what is made of it stays for a retry."""
    if not end(session, file.id, {"state": "cancelled", "finished_at": now(), "lease_until": None}):
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
        promo, _, _ = exported(unit.session, file)
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
    long_ago = long_since(ExportPiece.sent_at, AGAIN)
    forgotten = select(ExportPiece).where(
        ExportPiece.file_id.in_(open_files),
        or_(
            (ExportPiece.state == "queued") & long_ago,
            (ExportPiece.state == "running") & over(ExportPiece),
        ),
    )
    for piece in unit.session.scalars(forgotten.order_by(ExportPiece.id).limit(BATCH)):
        piece.sent_at = now()
        unit.later("glowreel.export_piece", piece.id)
        sent += 1
    free = unheld(ExportFile)
    for state, task in (("planning", "glowreel.export_plan"), ("joining", "glowreel.export_join")):
        waiting = select(ExportFile.id).where(ExportFile.state == state, free)
        for file_id in unit.session.scalars(waiting.limit(BATCH)):
            unit.later(task, file_id)
            sent += 1
    return sent


def list_exports(session: Session, actor: Actor, promo_id: str | None = None) -> list[Export]:
    query = select(Export).join(Export.promo).where(listed(PromoRow, actor), Export.removed_at.is_(None))
    if promo_id:
        query = query.where(Export.promo_id == promo_id)
    loading = selectinload(Export.files).selectinload(ExportFile.pieces)
    return list(session.scalars(query.options(loading).order_by(Export.created_at.desc()).limit(60)))


def finished(session: Session, promo_id: str) -> list[ExportFile]:
    """The finished films of a promo's newest export that has any, in its order."""
    query = (
        select(ExportFile).join(ExportFile.export)
        .where(Export.promo_id == promo_id, Export.removed_at.is_(None), ExportFile.state == "done")
        .order_by(Export.created_at.desc(), ExportFile.number).limit(100)
    )  # fmt: skip
    rows = list(session.scalars(query))
    return [row for row in rows if row.export_id == rows[0].export_id]


def watched(session: Session, token: str) -> ExportFile:
    """The finished film behind a watch page's link, or `Missing`: the link has ended, or what it leads to is gone."""
    file = session.scalar(select(ExportFile).where(ExportFile.behind(token)))
    open_still = file is not None and file.link_until is not None and file.link_until > now()
    gone = file is not None and (file.export.removed_at or file.export.promo.removed_at)
    if file is None or file.state != "done" or gone or not open_still:
        raise Missing("no-film", "There is no film behind this link.", "Ask whoever sent it for a new one.")
    return file


def set_link(session: Session, actor: Actor, file_id: str, *, on: bool) -> None:
    """Makes a new link to a film's watch page, or ends the one there is. Old links never open anything again."""
    file = authorise_file(session, file_id, actor, "export")
    file.new_link()
    said = f"“{file.export.title}”"
    if on and not file.film_form.plays:
        raise Refusal("no-page", f"{file.film_form.label} has no watch page.", "Download it, or export a film.")
    if on:
        audit.note(session, actor, "link-made", said)
    else:
        audit.note(session, actor, "link-ended", said)
    file.link_until = now() + LINK_LASTS if on else None


def remove(session: Session, export_id: str, actor: Actor) -> None:
    """Takes an export off the list, and stops what is still being made of it. Its films are removed later."""
    export = authorise(session, Export, export_id, actor, "remove")
    export.removed_at = now()
    audit.note(session, actor, "export-removed", f"“{export.title}”")
    for file in export.files:
        end(session, file.id, {"state": "cancelled", "finished_at": now(), "lease_until": None})
    announce_work(session, actor)
