"""Finished films that are kept in somebody's cloud drive too, in a folder of it, with a name and a description. Each is
there once: the drive is asked under the key of the delivery."""

from __future__ import annotations

from datetime import timedelta

from sqlalchemy import select, update
from sqlalchemy.orm import Session

from glowreel.core.errors import Missing, Refusal
from glowreel.outside.drive.port import NAME, Drive
from glowreel.services import driving
from glowreel.services.access import Actor, authorise_file
from glowreel.services.exports import film_blob
from glowreel.services.leases import LENGTH, Lease, Stopped, beating, long_since, unheld
from glowreel.services.live import announce_work
from glowreel.services.setup import Runtime
from glowreel.store.database import Unit
from glowreel.store.models import Connection, Delivery, ExportFile, new_key, now

PART_BYTES = 4 * 1024**2
MOST_TRIES = 6
AGAIN = timedelta(seconds=15)
FORBIDDEN = frozenset('/\\:*?"<>|')


def begin(unit: Unit, actor: Actor, file_id: str, folder: str, name: str, about: str = "") -> Delivery:
    """Has a finished film put into a folder of the actor's drive. Raises `Refusal` where that cannot be."""
    file = authorise_file(unit.session, file_id, actor, "export")
    connection = driving.connection(unit.session, actor)
    if connection is None or actor.user_id is None:
        raise Refusal("not-connected", f"{NAME} is not connected.", "Connect it first.")
    if file.state != "done":
        raise Refusal("not-done", "That export is not finished.", "Wait for it, or try it again.")
    suffix = file.film_form.suffix
    name = " ".join(name.split()).removesuffix(suffix)[:120] or file.export.title
    if FORBIDDEN & set(name) or FORBIDDEN - {"/"} & set(folder) or ".." in folder:
        raise Refusal("name", "Names in a drive have no / : * ? and the like.", "Leave those out.")
    row = Delivery(
        id=new_key("de"), team_id=actor.team_id, file_id=file.id, user_id=actor.user_id,
        folder=folder.strip("/ ")[:300], name=f"{name}{suffix}", about=about.strip()[:2000],
        state="queued", sent_at=now(), attempts=0, share=0.0,
    )  # fmt: skip
    unit.session.add(row)
    unit.session.flush()
    unit.later("glowreel.deliver", row.id)
    announce_work(unit.session, actor)
    return row


def find(session: Session, actor: Actor, key: str) -> Delivery:
    """A delivery of the actor's. Raises `Missing`."""
    row = session.get(Delivery, key)
    if row is None or row.team_id != actor.team_id or row.user_id != actor.user_id:
        raise Missing("not-yours", "There is nothing of that kind on its way.")
    return row


def carry(runtime: Runtime, delivery_id: str) -> None:
    """Sends a film to the drive, from where it got to before."""
    free = unheld(Delivery)
    with runtime.database.unit() as unit:
        mine = (Delivery.id == delivery_id, Delivery.state.in_(("queued", "running")), free)
        values = {"state": "running", "lease_until": now() + LENGTH, "attempts": Delivery.attempts + 1}
        if not unit.session.execute(update(Delivery).where(*mine).values(**values).returning(Delivery.id)).first():
            return
        row = unit.session.get_one(Delivery, delivery_id, populate_existing=True)
        same = (Connection.user_id == row.user_id, Connection.team_id == row.team_id)
        connection = unit.session.scalar(select(Connection).where(*same, Connection.service == driving.SERVICE))
        token = connection.token if connection is not None else ""
        unit.session.flush()
        unit.session.expunge_all()
    lease = Lease(runtime, Delivery, row.id, row.attempts, ("running",))
    try:
        if not token:
            raise Refusal("not-connected", f"{NAME} is not connected any more.", "Connect it again.")
        with beating(lease):
            _send(runtime, lease, row, Drive(runtime.settings.drive, token))
    except Stopped:
        return
    except Refusal as refusal:
        spent = row.attempts >= MOST_TRIES or refusal.code in ("not-connected", "refused-there", "not-set-up")
        lease.finish(state="failed" if spent else "queued", error=str(refusal)[:400], sent_at=now())
    else:
        lease.finish(state="done", share=1.0, error="", sent_at=now())
    with runtime.database.unit() as unit:
        announce_work(unit.session, row)


def _send(runtime: Runtime, lease: Lease, row: Delivery, drive: Drive) -> None:
    with runtime.database.unit() as unit:
        blob = film_blob(unit.session.get_one(ExportFile, row.file_id))
    size = runtime.blobs.size(blob)
    come = drive.begin(row.id, row.folder, row.name, row.about, size)
    with runtime.blobs.local(blob).open("rb") as film:
        while come.received < size:
            lease.check()
            film.seek(come.received)
            before, come = come.received, drive.send(come.id, come.received, film.read(PART_BYTES))
            if come.received <= before:
                raise Refusal("cut-off", f"{NAME} does not take the film.", "It is tried again by itself.")
            lease.renew(share=come.received / size)


def again(unit: Unit, actor: Actor, key: str) -> None:
    """Tries once more what failed."""
    row = find(unit.session, actor, key)
    if row.state == "failed":
        row.state, row.error, row.attempts, row.sent_at = "queued", "", 0, now()
        unit.later("glowreel.deliver", row.id)


def sweep(unit: Unit) -> None:
    """Sends on what was forgotten."""
    free = unheld(Delivery)
    query = select(Delivery).where(Delivery.state.in_(("queued", "running")), free, long_since(Delivery.sent_at, AGAIN))
    for row in unit.session.scalars(query.order_by(Delivery.created_at).limit(20)):
        row.sent_at = now()
        unit.later("glowreel.deliver", row.id)
