"""Everything that runs for a team, in one list: what it is, how far it is, and how it is ended or tried again.

Each kind of work is a row of `KINDS`. What failed stays in the list for a day, or until somebody puts it away.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import timedelta
from typing import Any
from urllib.parse import urlsplit

from sqlalchemy import func, or_, select
from sqlalchemy.orm import Session

from glowreel.core.channels import CHANNELS
from glowreel.core.errors import Missing
from glowreel.engine.makers import MAKERS
from glowreel.outside.models import MODELS
from glowreel.services import batches, by_link, delivering, derivation, exports, publishing, shelf, sources, uploads
from glowreel.services.access import Actor, allow, authorise, authorise_file, listed
from glowreel.services.setup import Runtime
from glowreel.store.database import Unit
from glowreel.store.models import (
    Batch,
    BatchRow,
    Delivery,
    Derived,
    Export,
    ExportFile,
    MediaFile,
    Opening,
    Post,
    PromoRow,
    Spoken,
    now,
)

FAILED_FOR = timedelta(days=1)
MOST = 40
"""So many of each kind are listed; the rest is counted."""


@dataclass(frozen=True)
class Doing:
    """A piece of work: its kind and key, what it is about, what is done (or went wrong, where `failed`), and the share
    that is done, where that is known. `promo` is where it is seen, if anywhere."""

    kind: str
    key: str
    what: str
    said: str
    share: float | None = None
    failed: bool = False
    promo: str = ""


@dataclass(frozen=True)
class Kind:
    """A kind of work: its icon, what lists it, and what ends it, or puts a failed one away, and what tries it again."""

    icon: str
    listed: Callable[[Runtime, Session, Actor], Iterable[Doing]]
    end: Callable[[Runtime, Unit, Actor, str], None] | None = None
    again: Callable[[Runtime, Unit, Actor, str], None] | None = None


def _waiting(state: str, working: str) -> str:
    return "waits for its turn" if state == "queued" else working


def _lately(row: type[Any]) -> Any:
    """What is going on, and what failed of late."""
    return or_(row.state.in_(("queued", "running")), (row.state == "failed") & (row.created_at > now() - FAILED_FOR))


def _uploads(runtime: Runtime, session: Session, actor: Actor) -> Iterable[Doing]:
    for row in uploads.open_ones(session, actor):
        share = uploads.arrived(runtime, row) / row.size if row.size else None
        if row.url:
            said = row.error or f"is fetched from {sources.name_of(row.url) or urlsplit(row.url).hostname}"
        elif not row.size:
            if uploads.quiet(runtime, row):
                yield Doing("upload", row.id, row.name, "cut off: try again keeps what was recorded", None, True)
                continue
            said = "is recorded"
        elif uploads.quiet(runtime, row):
            said = (
                "cut off: it goes on from the telephone" if row.link_id else "cut off: choose the file again to go on"
            )
        else:
            said = "comes in from a telephone" if row.link_id else "comes in"
        yield Doing("upload", row.id, row.name, said, None if row.error else share, bool(row.error))


def _end_upload(runtime: Runtime, unit: Unit, actor: Actor, key: str) -> None:
    row = next((one for one in uploads.open_ones(unit.session, actor) if one.id == key), None)
    if row is not None:
        uploads.end(runtime, unit.session, row)


def _again_upload(runtime: Runtime, unit: Unit, actor: Actor, key: str) -> None:
    """Fetches once more what could not be; keeps what has come of a recording."""
    row = uploads.find(unit.session, actor, key)
    if row.url:
        by_link.again(unit, actor, key)
    elif not row.size:
        uploads.ends(runtime, actor, key)
        uploads.finished(runtime, actor, key)


def _files(runtime: Runtime, session: Session, actor: Actor) -> Iterable[Doing]:
    mine = (listed(MediaFile, actor), MediaFile.removed_at.is_(None), _lately(MediaFile))
    for row in session.scalars(select(MediaFile).where(*mine).order_by(MediaFile.created_at).limit(MOST)):
        failed = row.state == "failed"
        said = row.error if failed else _waiting(row.state, "is looked at")
        yield Doing("file", row.id, row.name, said, None if failed else row.progress, failed)


def _end_file(runtime: Runtime, unit: Unit, actor: Actor, key: str) -> None:
    shelf.remove(unit.session, key, actor)


def _again_file(runtime: Runtime, unit: Unit, actor: Actor, key: str) -> None:
    shelf.try_again(unit, authorise(unit.session, MediaFile, key, actor, "edit"))


def _derived(runtime: Runtime, session: Session, actor: Actor) -> Iterable[Doing]:
    names = select(Derived, MediaFile.name).outerjoin(MediaFile, MediaFile.id == Derived.media_id)
    seen = or_(MediaFile.id.is_(None), listed(MediaFile, actor))
    mine = (
        names.where(Derived.team_id == actor.team_id, seen, _lately(Derived)).order_by(Derived.created_at).limit(MOST)
    )
    for row, name in session.execute(mine):
        maker = MAKERS.get(row.maker)
        label = (maker.doing if maker is not None else "") or "is worked on"
        failed = row.state == "failed"
        model = derivation.model_of(row, runtime.settings.speech_model)
        if failed:
            said = row.error
        elif model in MODELS and not runtime.models.ready(model):
            said = f"waits for the model “{MODELS[model].label}”"
        else:
            said = _waiting(row.state, label)
        yield Doing("made", str(row.id), name or "a file", said, None if failed else row.progress, failed)


def _derived_key(key: str) -> int:
    if not key.isdigit() or len(key) > 18:
        raise Missing("not-yours", "There is no such thing being made.")
    return int(key)


def _end_derived(runtime: Runtime, unit: Unit, actor: Actor, key: str) -> None:
    row = derivation.find(unit.session, _derived_key(key), actor)
    if row.state != "ready":
        row.state = "stopped"


def _again_derived(runtime: Runtime, unit: Unit, actor: Actor, key: str) -> None:
    derivation.retry(unit, _derived_key(key), actor)


def _exports(runtime: Runtime, session: Session, actor: Actor) -> Iterable[Doing]:
    mine = (listed(PromoRow, actor), Export.removed_at.is_(None))
    lately = or_(
        ExportFile.state.in_(exports.OPEN),
        (ExportFile.state == "failed") & (ExportFile.created_at > now() - FAILED_FOR),
    )
    query = (
        select(ExportFile)
        .join(Export)
        .join(Export.promo)
        .where(*mine, lately)
        .order_by(ExportFile.created_at)
        .limit(MOST)
    )
    for row in session.scalars(query):
        failed = row.state == "failed"
        done = row.frames_done / max(1, row.frames)
        said = row.error if failed else EXPORTING[row.state]
        label = f"{row.export.title} · {row.format_name}"
        yield Doing("export", row.id, label, said, None if failed else done, failed, row.export.promo_id)


JUST = timedelta(minutes=3)
"""So long a finished film counts as one that has just been finished."""


def just_done(session: Session, actor: Actor) -> list[str]:
    """The keys of films that were finished a moment ago; what was stopped is none of them."""
    mine = (listed(PromoRow, actor), Export.removed_at.is_(None))
    query = select(ExportFile.id).join(Export).join(Export.promo)
    done = (ExportFile.state == "done", ExportFile.finished_at > now() - JUST)
    return list(session.scalars(query.where(*mine, *done).order_by(ExportFile.finished_at.desc()).limit(MOST)))


EXPORTING = {
    "planning": "is planned", "queued": "waits for its turn", "running": "is rendered", "joining": "is put together",
}  # fmt: skip


def _end_export(runtime: Runtime, unit: Unit, actor: Actor, key: str) -> None:
    file = authorise_file(unit.session, key, actor, "export")
    if file.state == "failed":
        file.state = "cancelled"
    else:
        exports.cancel(unit.session, file)


def _again_export(runtime: Runtime, unit: Unit, actor: Actor, key: str) -> None:
    exports.retry(unit, authorise_file(unit.session, key, actor, "export"))


def _posts(runtime: Runtime, session: Session, actor: Actor) -> Iterable[Doing]:
    going = Post.state.in_(("sending", "processing")) | ((Post.state == "planned") & (Post.at <= now()))
    failed = (Post.state == "failed") & (Post.due_at > now() - FAILED_FOR)
    query = select(Post).join(Post.promo).where(listed(PromoRow, actor), PromoRow.removed_at.is_(None), going | failed)
    for row in session.scalars(query.order_by(Post.at).limit(MOST)):
        wrong = row.state == "failed"
        said = row.error or POSTING[row.state]
        label = f"{CHANNELS[row.account.channel].name}: {row.title}"
        yield Doing("post", row.id, label, said, row.share if row.state == "sending" else None, wrong, row.promo_id)


POSTING = {
    "planned": "waits for its film",
    "sending": "is sent",
    "processing": "is made ready there",
    "failed": "failed",
}


def _end_post(runtime: Runtime, unit: Unit, actor: Actor, key: str) -> None:
    publishing.end(runtime, unit, actor, key)


def _again_post(runtime: Runtime, unit: Unit, actor: Actor, key: str) -> None:
    publishing.again(unit, actor, key)


def _deliveries(runtime: Runtime, session: Session, actor: Actor) -> Iterable[Doing]:
    mine = (Delivery.team_id == actor.team_id, Delivery.user_id == (actor.user_id or ""), _lately(Delivery))
    for row in session.scalars(select(Delivery).where(*mine).order_by(Delivery.created_at).limit(MOST)):
        failed = row.state == "failed"
        said = row.error if failed else _waiting(row.state, "goes to the drive")
        yield Doing("delivery", row.id, row.name, said, None if failed else row.share, failed)


def _end_delivery(runtime: Runtime, unit: Unit, actor: Actor, key: str) -> None:
    """Whoever sends it sees that its row is gone, and leaves it."""
    unit.session.delete(delivering.find(unit.session, actor, key))


def _again_delivery(runtime: Runtime, unit: Unit, actor: Actor, key: str) -> None:
    delivering.again(unit, actor, key)


def _batches(runtime: Runtime, session: Session, actor: Actor) -> Iterable[Doing]:
    mine = (Batch.team_id == actor.team_id, Batch.state == "running", Batch.removed_at.is_(None))
    for row in session.scalars(select(Batch).where(*mine).limit(MOST)):
        made = (BatchRow.batch_id == row.id, BatchRow.state != "open", BatchRow.number < row.wanted)
        done = session.scalar(select(func.count()).select_from(BatchRow).where(*made)) or 0
        yield Doing("batch", row.id, row.name, f"{done} of {row.wanted} rows are made", done / max(1, row.wanted))


def _end_batch(runtime: Runtime, unit: Unit, actor: Actor, key: str) -> None:
    """What is made of a table so far stays."""
    row = batches.find(unit.session, actor, key, lock=True)
    row.state, row.wanted, row.lease_until = "open", 0, None


def _openings(runtime: Runtime, session: Session, actor: Actor) -> Iterable[Doing]:
    mine = select(Opening).where(Opening.team_id == actor.team_id, _lately(Opening))
    for row in session.scalars(mine.order_by(Opening.created_at).limit(MOST)):
        failed = row.state == "failed"
        said = row.error if failed else row.doing or _waiting(row.state, "is opened")
        yield Doing("opening", row.id, row.name, said, None if failed else row.progress, failed)


def _end_opening(runtime: Runtime, unit: Unit, actor: Actor, key: str) -> None:
    """Whoever opens it sees that its row is gone, and leaves it."""
    unit.session.delete(authorise(unit.session, Opening, key, actor, "remove"))


def _lines(runtime: Runtime, session: Session, actor: Actor) -> Iterable[Doing]:
    mine = select(Spoken).where(Spoken.team_id == actor.team_id, _lately(Spoken))
    for row in session.scalars(mine.order_by(Spoken.created_at).limit(MOST)):
        failed = row.state == "failed"
        said = row.error if failed else _waiting(row.state, "is spoken")
        yield Doing("line", str(row.id), f"“{str(row.said.get('text', ''))[:60]}”", said, None, failed)


def _line(session: Session, actor: Actor, key: str) -> Spoken:
    row = session.get(Spoken, _derived_key(key))
    if row is None or row.team_id != actor.team_id:
        raise Missing("not-yours", "There is no such line being spoken.")
    return row


def _end_line(runtime: Runtime, unit: Unit, actor: Actor, key: str) -> None:
    """Whoever waits for a line that was stopped asks for it anew; whoever speaks it sees that its row is gone."""
    row = _line(unit.session, actor, key)
    if row.state != "ready":
        unit.session.delete(row)


def _again_line(runtime: Runtime, unit: Unit, actor: Actor, key: str) -> None:
    row = _line(unit.session, actor, key)
    if row.state == "failed":
        row.state, row.error, row.attempts, row.sent_at = "queued", "", 0, now()
        unit.later("glowreel.speak", row.id)


def _models(runtime: Runtime, session: Session, actor: Actor) -> Iterable[Doing]:
    for name, model in MODELS.items():
        standing = runtime.models.standing(name)
        if standing.error:
            yield Doing("model", name, model.label, standing.error, None, True)
        elif standing.share is not None and not standing.ready:
            yield Doing("model", name, model.label, f"is fetched: {model.meaning}", standing.share)


def _again_model(runtime: Runtime, unit: Unit, actor: Actor, key: str) -> None:
    if key not in MODELS:
        raise Missing("no-model", "There is no such model.")
    unit.later("glowreel.fetch_model", key)


KINDS: dict[str, Kind] = {
    "upload": Kind("cloud-arrow-up", _uploads, _end_upload, _again_upload),
    "file": Kind("hourglass-split", _files, _end_file, _again_file),
    "made": Kind("magic", _derived, _end_derived, _again_derived),
    "line": Kind("chat-quote", _lines, _end_line, _again_line),
    "opening": Kind("box-arrow-in-down", _openings, _end_opening),
    "export": Kind("film", _exports, _end_export, _again_export),
    "post": Kind("broadcast", _posts, _end_post, _again_post),
    "delivery": Kind("cloud-arrow-up", _deliveries, _end_delivery, _again_delivery),
    "batch": Kind("table", _batches, _end_batch),
    "model": Kind("download", _models, None, _again_model),
}
"""In the order in which they are listed."""


def going_on(runtime: Runtime, session: Session, actor: Actor) -> list[Doing]:
    """What runs for a team and what failed of late, by kind, what began first first."""
    return [doing for kind in KINDS.values() for doing in kind.listed(runtime, session, actor)]


def end(runtime: Runtime, unit: Unit, actor: Actor, kind: str, key: str) -> None:
    """Ends something that runs, or puts away what failed. Raises `Missing` where it is not the team's."""
    allow(actor, "add")
    work = KINDS[kind].end if kind in KINDS else None
    if work is None:
        raise Missing("no-end", "That cannot be ended here.")
    work(runtime, unit, actor, key)


def again(runtime: Runtime, unit: Unit, actor: Actor, kind: str, key: str) -> None:
    """Tries again what failed."""
    allow(actor, "add")
    work = KINDS[kind].again if kind in KINDS else None
    if work is None:
        raise Missing("no-again", "That cannot be tried again here.")
    work(runtime, unit, actor, key)
