"""Derived media: what is made from a file on demand, once, and kept for every promo that uses the file.

```
want ── queued ── running: the maker, in a limited process ── ready: facts and files
                       ├── failed: a sentence           ── retry ── queued
                       └── stopped, by whoever cancels it
```
Rows of `engine.makers` say what there is. What an older version of a maker made, and what nobody wanted for long, is
collected.
"""

from __future__ import annotations

import logging
from collections.abc import Mapping
from datetime import timedelta
from typing import Any

from sqlalchemy import or_, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from glowreel.core.errors import Fault, Missing, NoRoom, Refusal
from glowreel.engine.makers import MAKERS, settings_key
from glowreel.limited.client import Died, Interrupted
from glowreel.outside.models import MODELS
from glowreel.services.access import Actor, authorise
from glowreel.services.blob_keys import derived, original
from glowreel.services.leases import LENGTH, Lease, Stopped, beating, long_since, over
from glowreel.services.live import announce_work
from glowreel.services.setup import Runtime
from glowreel.store.database import Unit
from glowreel.store.models import Derived, ExportFile, MediaFile, now

MAX_DEATHS = 2
AGAIN = timedelta(seconds=60)
UNUSED_FOR = timedelta(days=60)
BATCH = 200
log = logging.getLogger(__name__)


def want(unit: Unit, media_id: str, actor: Actor, maker: str, settings: Mapping[str, Any] | None = None) -> Derived:
    """What a maker makes of a file: it is begun where it is not there and nobody is at it, and found otherwise."""
    row = authorise(unit.session, MediaFile, media_id, actor, "see", removed=True)
    made = MAKERS.get(maker)
    if made is None or made.make is None:
        raise Missing("no-maker", f"Nothing here makes “{maker}” of a file.")
    if not row.usable or row.facts is None:
        raise Refusal("not-ready", f"{row.name} has not been looked at yet.", "Try again in a moment.")
    silent = "with sound" in made.of and not row.facts["sounding"]
    if silent or (row.facts["kind"] not in made.of and not (row.facts["sounding"] and "sound" in made.of)):
        raise Refusal("no-fit", f"Of {row.name} there is nothing like that to be made.")
    try:
        key = settings_key(maker, settings or {})
    except KeyError as error:
        raise Refusal("no-setting", f"There is no setting “{error.args[0]}” for that.") from error
    fresh = {
        "hash": row.hash, "media_id": row.id, "team_id": actor.team_id, "maker": maker, "version": made.version,
        "key": key, "settings": {**made.settings, **(settings or {})}, "sent_at": now(),
    }  # fmt: skip
    add = insert(Derived).values(**fresh).on_conflict_do_nothing(constraint="ux_derived_once").returning(Derived.id)
    new = unit.session.scalar(add)
    found = unit.session.scalars(select(Derived).where(*_same(row.hash, maker, key))).one()
    found.used_at = now()
    if new is not None:
        unit.later("glowreel.derive", found.id)
    return found


def _same(source: str, maker: str, key: str) -> tuple[Any, ...]:
    return (Derived.hash == source, Derived.maker == maker, Derived.key == key)


def facts_of(session: Session, source: str, maker: str, settings: Mapping[str, Any] | None = None) -> Any:
    """What was found of a file, by its hash; None where it is not ready."""
    key = settings_key(maker, settings or {})
    return session.scalar(select(Derived.facts).where(*_same(source, maker, key), Derived.state == "ready"))


def blob(row: Derived, name: str) -> str:
    """Where a file lies that a maker made."""
    return derived(row.hash, f"{row.maker}-{row.key}-{name}")


def find(session: Session, derived_id: int, actor: Actor) -> Derived:
    """One that a team wanted, or `Missing`."""
    row = session.get(Derived, derived_id)
    if row is None or row.team_id != actor.team_id:
        raise Missing("not-yours", "There is no such thing being made.")
    return row


def cancel(session: Session, derived_id: int, actor: Actor) -> None:
    """Stops what is being made; whoever is at it sees that it is not wanted any more."""
    row = find(session, derived_id, actor)
    if row.state in ("queued", "running"):
        row.state = "stopped"


def retry(unit: Unit, derived_id: int, actor: Actor) -> None:
    """Begins again what failed or was stopped."""
    row = find(unit.session, derived_id, actor)
    if row.state in ("failed", "stopped"):
        row.state, row.error, row.attempts, row.progress, row.sent_at = "queued", "", 0, 0.0, now()
        unit.later("glowreel.derive", row.id)


def make(runtime: Runtime, derived_id: int) -> None:
    """Makes one thing, unless it is there, not wanted, or another worker is at it. Safe to do again at any time."""
    row = _claimed(runtime, derived_id)
    if row is None:
        return
    lease = Lease(runtime, Derived, row.id, row.attempts, ("running",))
    values: dict[str, Any]
    try:
        with beating(lease):
            values = _made(runtime, lease, row)
    except Stopped:
        return
    except (Died, Interrupted, NoRoom) as error:
        spent = isinstance(error, Died) and row.attempts >= MAX_DEATHS
        values = {
            "state": "failed" if spent else "queued",
            "error": str(error)[:400] if spent else "",
            "sent_at": now(),
        }
    except Refusal as refusal:
        values = {"state": "failed", "error": str(refusal)[:400]}
    except Fault:
        log.exception("making %s of %s failed", row.maker, row.hash)
        values = {"state": "failed", "error": "Something broke on our side."}
    if lease.finish(**values):
        with runtime.database.unit() as unit:
            announce_work(unit.session, Actor.program(row.team_id))
            # What is made of it, and exports, wait for it.
            after = [name for name, maker in MAKERS.items() if maker.after == row.maker]
            waiting = (Derived.hash == row.hash, Derived.state == "queued", Derived.maker.in_(after))
            for other in unit.session.scalars(select(Derived.id).where(*waiting)) if after else ():
                unit.later("glowreel.derive", other)
            for file_id in unit.session.scalars(select(ExportFile.id).where(ExportFile.state == "planning")):
                unit.later("glowreel.export_plan", file_id)


def _claimed(runtime: Runtime, derived_id: int) -> Derived | None:
    with runtime.database.unit() as unit:
        free = or_(Derived.state == "queued", (Derived.state == "running") & over(Derived))
        query = select(Derived).where(Derived.id == derived_id, free).with_for_update(skip_locked=True)
        row = unit.session.scalar(query)
        if row is None:
            return None
        if _is_looked_at(unit.session, row) or _before(unit.session, row) == "waits":
            return None
        if not _model_there(runtime, unit, row):
            return None
        row.state, row.lease_until, row.attempts = "running", now() + LENGTH, row.attempts + 1
        unit.session.flush()
        unit.session.expunge(row)
        return row


def model_of(row: Derived, usual: str) -> str:
    """The model with which something is made; none for most."""
    maker = MAKERS.get(row.maker)
    if maker is None or not maker.model:
        return ""
    return str((row.settings or {}).get("model") or usual or maker.model)


def _model_there(runtime: Runtime, unit: Unit, row: Derived) -> bool:
    """Whether the model is there with which something is made; where it is not, it is fetched, and what cannot be had
    is said."""
    name = model_of(row, runtime.settings.speech_model)
    if not name or runtime.models.ready(name):
        return True
    standing = runtime.models.standing(name)
    if name not in MODELS:
        row.state, row.error = "failed", f"There is no model called “{name}” in the folder of models."
    elif standing.error:
        row.state, row.error = "failed", standing.error[:400]
    elif standing.share is None:
        unit.later("glowreel.fetch_model", name)
    return False


def after_fetching(unit: Unit, name: str, usual: str) -> None:
    """Goes on with what waited for a model."""
    for row in unit.session.scalars(select(Derived).where(Derived.state == "queued").limit(BATCH)):
        if model_of(row, usual) == name:
            unit.later("glowreel.derive", row.id)


def _is_looked_at(session: Session, row: Derived) -> bool:
    """Whether its file is being looked at just now, as after a copy was brought back: what it needs comes with that."""
    file = session.get(MediaFile, row.media_id)
    return file is not None and file.state in ("queued", "running")


def _before(session: Session, row: Derived) -> str | None:
    """What has to be there before something is made: the key of its file, or nothing; `waits` as long as it is not
    there; None where it failed."""
    needed = MAKERS[row.maker].after if row.maker in MAKERS else ""
    if not needed or not (row.settings or {}).get(needed):
        return ""
    key = settings_key(needed, {})
    found = session.scalars(select(Derived).where(*_same(row.hash, needed, key))).first()
    if found is None or found.state in ("failed", "stopped"):
        return None
    return blob(found, MAKERS[needed].files[0]) if found.state == "ready" else "waits"


def _made(runtime: Runtime, lease: Lease, row: Derived) -> dict[str, Any]:
    """What a row says once the maker is done; its files are in the store by then."""
    blobs = runtime.blobs
    samples = derived(row.hash, "samples")
    with runtime.database.unit() as unit:
        file = unit.session.get(MediaFile, row.media_id)
        kind = file.facts["kind"] if file is not None and file.facts else ""
        first = _before(unit.session, row)
    model = model_of(row, runtime.settings.speech_model)
    if first is None:
        raise Refusal("no-before", "What it is made of could not be made.", "Try it again.")
    arguments = {
        "maker": row.maker, "settings": row.settings or {}, "kind": kind,
        "before": str(blobs.local(first).resolve()) if first else None,
        "model": str(runtime.models.path(model).resolve()) if model else None,
        "original": str(blobs.local(original(row.hash)).resolve()),
        "samples": str(blobs.local(samples).resolve()) if blobs.has(samples) else None,
    }  # fmt: skip
    with runtime.workspace() as folder:
        made = runtime.limited.run(
            "derive", arguments, folder, row.maker,
            progress=lambda share: lease.renew(progress=round(share, 3)), check=lease.check,
        )  # fmt: skip
        for name in MAKERS[row.maker].files:
            blobs.take(blob(row, name), folder / name)
    return {"state": "ready", "progress": 1.0, "error": "", "facts": made["facts"]}


def sweep(unit: Unit) -> None:
    """Sends again what was forgotten."""
    long_ago = long_since(Derived.sent_at, AGAIN)
    dead = (Derived.state == "running") & over(Derived)
    stuck = select(Derived).where(((Derived.state == "queued") & long_ago) | dead).limit(BATCH)
    for row in unit.session.scalars(stuck):
        row.sent_at = now()
        unit.later("glowreel.derive", row.id)


def collect(runtime: Runtime) -> int:
    """Removes what older versions of makers made, and what nobody wanted for long."""
    with runtime.database.unit() as unit:
        gone = Derived.hash.not_in(select(MediaFile.hash)) | (Derived.used_at < now() - UNUSED_FOR)
        rows = list(unit.session.scalars(select(Derived).where(gone).limit(BATCH)))
        for maker in unit.session.scalars(select(Derived.maker).distinct()).all():
            current = MAKERS[maker].version if maker in MAKERS else 0
            old = select(Derived).where(Derived.maker == maker, Derived.version != current)
            rows += unit.session.scalars(old.limit(BATCH)).all()
        keys = [blob(row, name) for row in rows for name in getattr(MAKERS.get(row.maker), "files", ())]
        for row in set(rows):
            unit.session.delete(row)
    for key in keys:
        runtime.blobs.remove(key)
    return len(set(rows))
