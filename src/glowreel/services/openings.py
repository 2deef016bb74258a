"""Opening bundles and timelines that somebody sent: unpacked and read in limited processes, and only from files that
were looked at first.

```
queued ── running: unpack, look at each file, read the timeline ── done (a promo)
   └────────────────────────────────────────────────────────────── failed, with a sentence
```
"""

from __future__ import annotations

import logging
import time
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path
from typing import Any, Protocol

from sqlalchemy import func, or_, select, update
from sqlalchemy.orm import Session

from glowreel.core.errors import Fault, GlowReelError, Missing, NoRoom, Refusal
from glowreel.core.reading import read_document
from glowreel.limited.client import Died, Interrupted
from glowreel.services import promos, shelf
from glowreel.services.access import Actor, allow, authorise
from glowreel.services.blob_keys import original
from glowreel.services.leases import LENGTH, MOST_LOST, Lease, Stopped, beating, long_since, over
from glowreel.services.live import announce_work
from glowreel.services.setup import Runtime
from glowreel.store.database import Unit
from glowreel.store.models import MediaFile, Opening, new_key, now

log = logging.getLogger(__name__)

MAX_WAITING = 5
AGAIN = timedelta(seconds=10)
KEPT = timedelta(days=7)
GOING_ON = ("queued", "running")


class SentFile(Protocol):
    """An uploaded file, as the web framework gives it."""

    filename: str | None

    def save(self, dst: str) -> None: ...


def sent_path(runtime: Runtime, opening_id: str) -> Path:
    return Path(runtime.settings.cache) / "openings" / opening_id


def start(runtime: Runtime, unit: Unit, actor: Actor, sent: SentFile | None) -> Opening:
    """Keeps an uploaded bundle or timeline and has it opened. Raises `Refusal` where there is none."""
    if sent is None or not sent.filename:
        raise Refusal("no-file", "Choose a bundle (.otioz) or an edit list (.otio, .edl, .xml, .aaf) first.")
    allow(actor, "make")
    going = (Opening.team_id == actor.team_id, Opening.state.in_(GOING_ON))
    if (unit.session.scalar(select(func.count()).where(*going)) or 0) >= MAX_WAITING:
        raise Refusal("too-many", f"{MAX_WAITING} files are being opened already.", "Wait for one of them.")
    name, _ = shelf.clean_name(sent.filename)
    row = Opening(id=new_key("o"), team_id=actor.team_id, user_id=actor.user_id, name=name, sent_at=now())
    path = sent_path(runtime, row.id)
    path.parent.mkdir(parents=True, exist_ok=True)
    try:
        sent.save(str(path))
    except OSError as error:
        path.unlink(missing_ok=True)
        raise NoRoom() from error
    unit.session.add(row)
    unit.session.flush()
    unit.later("glowreel.open", row.id)
    announce_work(unit.session, actor)
    return row


def carry_out(runtime: Runtime, opening_id: str) -> None:
    """Opens what was sent, unless it is done or another worker is at it. The row tells how it goes and ends."""
    with runtime.database.unit() as unit:
        row = _claim(unit.session, opening_id)
        if row is None:
            return
        unit.session.expunge(row)
    lease = Lease(runtime, Opening, row.id, row.attempts, ("running",))
    values: dict[str, Any]
    try:
        if row.attempts > MOST_LOST:
            raise Refusal("set-aside", f"{row.name} could not be opened: it stopped every process that tried.")
        with beating(lease):
            promo_id, notices = _opened(runtime, lease, row)
        values = {"state": "done", "progress": 1.0, "promo_id": promo_id, "notices": notices, "error": ""}
    except Stopped:
        return
    except (Died, Interrupted, NoRoom) as error:
        values = _another_try(row, error)
    except Refusal as refusal:
        values = {"state": "failed", "error": str(refusal)[:400]}
    except Fault:
        log.exception("opening %s failed", row.id)
        values = {"state": "failed", "error": f"{row.name} could not be opened: something broke on our side."}
    if lease.finish(**values):
        if values["state"] != "queued":
            sent_path(runtime, row.id).unlink(missing_ok=True)
        with runtime.database.unit() as unit:
            announce_work(unit.session, row)


def _another_try(row: Opening, error: GlowReelError) -> dict[str, Any]:
    if isinstance(error, Died) and row.attempts > 1:
        return {"state": "failed", "error": str(error)[:400]}
    spared = 0 if isinstance(error, Died) else 1
    return {"state": "queued", "sent_at": now(), "attempts": max(0, row.attempts - spared)}


def _claim(session: Session, opening_id: str) -> Opening | None:
    free = or_(Opening.state == "queued", (Opening.state == "running") & over(Opening))
    claimed = session.execute(
        update(Opening)
        .where(Opening.id == opening_id, free)
        .values(state="running", lease_until=now() + LENGTH, attempts=Opening.attempts + 1)
        .returning(Opening.id)
    ).first()
    return session.get(Opening, opening_id, populate_existing=True) if claimed else None


def _opened(runtime: Runtime, lease: Lease, row: Opening) -> tuple[str, list[str]]:
    """The new promo, and sentences about what could not be kept."""
    sent = sent_path(runtime, row.id)
    if not sent.exists():
        raise Missing("no-file", f"{row.name} did not arrive whole.", "Send it again.")
    with runtime.workspace() as folder:
        lease.renew(doing="unpacking it")
        arguments: dict[str, Any] = {"path": str(sent.resolve())}
        tell = _part(lease, 0.0, 0.3)
        unpacked = runtime.limited.run("unpack", arguments, folder, row.name, progress=tell, check=lease.check)
        media, broken = _looked_at(runtime, lease, row, unpacked)
        lease.renew(doing="reading the timeline", progress=0.95)
        arguments = {"media": media, "id": new_key("p")}
        found = runtime.limited.run("read", arguments, folder, row.name, check=lease.check)
    promo = read_document(found["promo"])
    with runtime.database.unit() as unit:
        made = promos.adopt(unit.session, Actor.program(row.team_id, row.user_id), promo, f"Opened {row.name}"[:120])
        return made.id, [*broken, *found["notices"]][:20]


def _part(lease: Lease, begin: float, end: float) -> Callable[[float], None]:
    last = [0.0]

    def tell(share: float) -> None:
        if time.monotonic() - last[0] > 0.4:
            last[0] = time.monotonic()
            lease.renew(progress=round(begin + share * (end - begin), 3))

    return tell


def _looked_at(
    runtime: Runtime, lease: Lease, row: Opening, unpacked: dict[str, Any]
) -> tuple[dict[str, Any], list[str]]:
    """The measured facts of what a timeline links, by hash or link: each file is put on the Shelf and looked at first.

    Files that cannot be read are named in sentences, and are missing to a timeline from elsewhere.
    """
    facts: dict[str, Any] = {}
    broken: list[str] = []
    wanted = unpacked["wanted"]
    for number, (key, link) in enumerate(wanted.items()):
        lease.renew(doing=f"looking at file {number + 1} of {len(wanted)}", progress=0.3 + 0.6 * number / len(wanted))
        file = _on_shelf(runtime, Actor.program(row.team_id, row.user_id), link, key if unpacked["own"] else None)
        if file is None:
            continue
        done = _ready(runtime, lease, file)
        if done.state == "ready":
            facts[key] = done.facts
        else:
            broken.append(done.error or f"{done.name} could not be read.")
    return facts, broken


def _on_shelf(runtime: Runtime, actor: Actor, link: dict[str, Any], source: str | None) -> str | None:
    """The team's file that a link means: from the bundle, else one that is on the Shelf, by its hash or name."""
    held = link["file"]
    if held is not None:
        key = original(held["hash"])
        if not runtime.blobs.has(key):
            runtime.blobs.take(key, Path(held["path"]))
        with runtime.database.unit() as unit:
            row = shelf.add(unit, actor, link["name"], held["hash"], held["size"])
            unit.forget()
            return row.id
    same = MediaFile.hash == source if source else MediaFile.name == link["name"]
    query = select(MediaFile.id).where(MediaFile.team_id == actor.team_id, same, MediaFile.removed_at.is_(None))
    with runtime.database.unit() as unit:
        return unit.session.scalar(query.order_by(MediaFile.created_at.desc()).limit(1))


def _ready(runtime: Runtime, lease: Lease, media_id: str) -> MediaFile:
    """A file once it has been looked at, here or by another worker."""
    while True:
        shelf.take_in(runtime, media_id)
        with runtime.database.unit() as unit:
            row = unit.session.get_one(MediaFile, media_id, populate_existing=True)
            unit.session.expunge(row)
        if row.state not in ("queued", "running"):
            return row
        if row.state == "queued" and row.error:
            raise NoRoom()  # What the file waits for, this waits for as well.
        lease.check()
        time.sleep(0.2)


def find(session: Session, opening_id: str, actor: Actor) -> Opening:
    """One of the team's, or `Missing`."""
    return authorise(session, Opening, opening_id, actor, "see")


def going_on(session: Session, actor: Actor) -> list[Opening]:
    """What is being opened for a team, and what failed in the last hour."""
    lately = (Opening.state == "failed") & (Opening.created_at > now() - timedelta(hours=1))
    query = select(Opening).where(Opening.team_id == actor.team_id, or_(Opening.state.in_(GOING_ON), lately))
    return list(session.scalars(query.order_by(Opening.created_at.desc()).limit(10)))


def sweep(unit: Unit) -> None:
    """Sends again what was forgotten, and whose worker died."""
    waiting = (Opening.state == "queued") & long_since(Opening.sent_at, AGAIN)
    lost = (Opening.state == "running") & over(Opening)
    for row in unit.session.scalars(select(Opening).where(or_(waiting, lost)).limit(20)):
        row.sent_at = now()
        unit.later("glowreel.open", row.id)
