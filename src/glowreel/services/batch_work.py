"""What a worker does for a table: makes the promos of its rows one after another, and exports each once it is there."""

from __future__ import annotations

import logging
from datetime import timedelta

from sqlalchemy import select, update
from sqlalchemy.exc import OperationalError

from glowreel.core import batch as core
from glowreel.core.commands import Context, apply_all
from glowreel.core.document import Promo
from glowreel.core.errors import GlowReelError, Refusal
from glowreel.engine.typesetting import measure
from glowreel.services import batches, by_link, exports, hooks, promos, templates
from glowreel.services.access import Actor
from glowreel.services.leases import LENGTH, Lease, Stopped, beating, long_since, unheld
from glowreel.services.live import announce_work
from glowreel.services.setup import Runtime
from glowreel.store.database import Unit
from glowreel.store.models import Batch, BatchRow, MediaFile, PromoRow, Upload, new_key, now

AT_ONCE = 20
"""So many rows are made in one commit."""
log = logging.getLogger(__name__)
AGAIN = timedelta(seconds=4)


class _Waits(GlowReelError):
    """Something that a row shows is still being fetched or looked at."""


def carry(runtime: Runtime, batch_id: str) -> None:
    """Makes what is wanted of a table, unless another worker is at it."""
    with runtime.database.unit() as unit:
        free = unheld(Batch)
        mine = (Batch.id == batch_id, Batch.state == "running", Batch.removed_at.is_(None), free)
        values = {"lease_until": now() + LENGTH, "attempts": Batch.attempts + 1}
        taken = unit.session.execute(update(Batch).where(*mine).values(**values).returning(Batch.attempts)).scalar()
    if taken is None:
        return
    lease = Lease(runtime, Batch, batch_id, taken, ("running",))
    waits = False
    try:
        with beating(lease):
            at = 0
            while True:
                lease.check()
                at, more, late = _some(runtime, batch_id, at)
                waits = waits or late
                if not more:
                    break
    except Stopped:
        return
    lease.finish(state="running" if waits else "done", sent_at=now())
    with runtime.database.unit() as unit:
        row = unit.session.get_one(Batch, batch_id)
        announce_work(unit.session, row)
        if not waits:
            states = [one.state for one in row.rows]
            told = {"table": row.id, "name": row.name, "made": states.count("made"), "failed": states.count("failed")}
            hooks.tell(unit, row, "table", told)


def _some(runtime: Runtime, batch_id: str, first: int) -> tuple[int, bool, bool]:
    """Makes the next rows from a number on; where it got to, whether there are more, whether any of them waits."""
    with runtime.database.unit() as unit:
        row = unit.session.get_one(Batch, batch_id)
        actor = Actor("program", row.team_id, "owner", row.user_id)
        person = Actor.person(row.user_id, row.team_id)
        card, template = batches.template_of(unit.session, person, row)
        known, table, waits = batches.known_files(unit.session, person), batches.table(row), False
        made = _Maker(unit, actor, row, card, template, known)
        last = min(first + AT_ONCE, row.wanted)
        for number in range(first, last):
            line = row.rows[number]
            if line.state == "skipped":
                continue
            try:
                with unit.session.begin_nested():
                    made.row(line, core.named(row.pattern, table, number))
            except _Waits:
                waits = True
            except Refusal as refusal:
                line.state, line.error = "failed", str(refusal)[:400]
            except (Stopped, OperationalError):
                raise
            except Exception:
                log.exception("row %d of %s could not be made", number, batch_id)
                line.state, line.error = "failed", "Something broke on our side. Try it again."
        unit.session.flush()
        announce_work(unit.session, row)
        return last, last < row.wanted, waits


class _Maker:
    """Makes promos of rows: what they share is worked out once."""

    def __init__(
        self, unit: Unit, actor: Actor, batch: Batch, card: templates.Card, template: Promo, known: dict[str, MediaFile]
    ) -> None:
        self.unit, self.actor, self.batch, self.known = unit, actor, batch, known
        self._origin, self._template = templates.origin_of(card, template), template
        self._state = (card.key, card.head, template.brand.version)

    def row(self, line: BatchRow, name: str) -> None:
        """Makes the promo of a row, and has it exported where that is wanted; nothing where it is there as it is.
        Raises `_Waits`, and `Refusal` for what cannot be made."""
        slots = self._template.slots
        filled = core.fills(slots, self.batch.matching, line.cells)
        digest = core.digest(name, filled, self._state)
        there = self.unit.session.get(PromoRow, line.promo_id) if line.promo_id else None
        if line.digest != digest or there is None or there.removed_at is not None:
            files = {fill.value: self._file(line, fill) for fill in filled if fill.kind != "words"}
            media = promos.team_media(self.unit.session, self.actor, set(files.values()))
            context = Context(new_key, media, measure=measure)
            made = apply_all(self._template, core.commands(self._template, filled, files), context)
            self._keep(line, made.changed(name=name), there)
            line.digest, line.export_id = digest, None
        line.state, line.error = "made", ""
        if self.batch.exports and line.export_id is None and line.promo_id:
            chosen = tuple(self.batch.formats)
            export = exports.start(self.unit, line.promo_id, self.actor, chosen, self.batch.short_side, name)
            line.export_id = export.id

    def _keep(self, line: BatchRow, promo: Promo, there: PromoRow | None) -> None:
        """Keeps a promo as a new one, or as the next step of the one that was made of this row before."""
        said = f"Made from row {line.number + 1} of “{self.batch.name}”"
        if there is not None and there.removed_at is None:
            promos.put_instead(
                self.unit.session, there, self.actor, promo.changed(id=there.id, origin=self._origin), said
            )
            return
        row = promos.adopt(self.unit.session, self.actor, promo.changed(id=new_key("p"), origin=self._origin), said)
        row.folder = self.batch.name[:80]
        line.promo_id = row.id

    def _file(self, line: BatchRow, fill: core.Fill) -> str:
        """The file that a row names, fetched first where it is an address."""
        if fill.kind == "name":
            found = self.known.get(core.file_key(fill.value))
            if found is None:
                raise Refusal("no-file", f"No file of the Shelf is called “{fill.value[:60]}”.")
            return found.id
        return self._fetched(line, fill.value)

    def _fetched(self, line: BatchRow, address: str) -> str:
        session = self.unit.session
        upload = session.get(Upload, str(line.uploads.get(address, "")))
        if upload is None:
            upload = self._same(address) or by_link.begin(self.unit, self.actor, address)
            line.uploads = {**line.uploads, address: upload.id}
        if upload.error:
            line.uploads = {key: value for key, value in line.uploads.items() if key != address}
            raise Refusal("not-fetched", f"{address[:80]}: {upload.error}")
        media = session.get(MediaFile, upload.media_id) if upload.media_id else None
        if media is not None and media.state == "failed":
            raise Refusal("not-read", f"{address[:80]}: {media.error}")
        if media is None or media.state != "ready":
            raise _Waits("it is still being fetched")
        return media.id

    def _same(self, address: str) -> Upload | None:
        """What another row has fetched, or fetches, from the same address."""
        mine = (Upload.team_id == self.batch.team_id, Upload.url == address, Upload.error == "")
        return self.unit.session.scalar(select(Upload).where(*mine).order_by(Upload.created_at.desc()).limit(1))


def sweep(unit: Unit) -> None:
    """Goes on with tables whose rows waited, or whose worker died."""
    free = unheld(Batch)
    late = (Batch.state == "running", long_since(Batch.sent_at, AGAIN), free)
    for row in unit.session.scalars(select(Batch).where(*late).limit(20)):
        row.sent_at = now()
        unit.later("glowreel.batch", row.id)
