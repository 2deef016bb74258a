"""A promo for each row of a table: read, matched, looked at, made, exported as a set, made anew where rows change."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import IO

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from glowreel.core import batch as core
from glowreel.core.document import Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.formats import RESOLUTIONS
from glowreel.interchange.tables import MOST_BYTES, SUFFIXES, read_text
from glowreel.services import brands, shelf, templates
from glowreel.services.access import Actor, allow, listed
from glowreel.services.live import announce_work
from glowreel.services.setup import Runtime
from glowreel.store.database import Unit
from glowreel.store.models import Batch, BatchRow, MediaFile, new_key, now

FIRST = 3
"""So many rows are made to be looked at before the rest is."""
MOST_BATCHES = 100


@dataclass(frozen=True)
class Looked:
    """A row as it is shown before it is made: what is wrong with it, and how its promo is called."""

    row: BatchRow
    name: str
    problems: tuple[str, ...]


def read_sent(runtime: Runtime, actor: Actor, name: str, stream: IO[bytes]) -> core.Table:
    """Reads a table that was sent, in a limited process. Raises `Refusal`."""
    allow(actor, "fill")
    name, suffix = shelf.clean_name(name)
    if suffix not in SUFFIXES:
        raise Refusal("no-table", f"{name} is no table.", "Choose a .csv or .xlsx file, or paste the cells.")
    with runtime.workspace() as folder:
        path = folder / "table"
        path.write_bytes(stream.read(MOST_BYTES + 1))  # One byte too many is said to be too many.
        told = runtime.limited.run("table", {"path": str(path.resolve()), "name": name}, folder, name)
    return core.Table(tuple(told["columns"]), tuple(tuple(row) for row in told["rows"]))


def pasted(text: str) -> core.Table:
    """A table that was pasted. Raises `Refusal`."""
    if not text.strip():
        raise Refusal("no-rows", "There is no table yet.", "Paste its cells, or choose a file.")
    return read_text(text)


def begin(unit: Unit, actor: Actor, template: str, table: core.Table, name: str = "") -> Batch:
    """A table for a template, with the columns matched as far as their names say. Raises `Refusal` where nothing in
    the template is to be filled."""
    allow(actor, "fill")
    session = unit.session
    card, promo = templates.find(session, template, actor)
    if not promo.slots:
        raise Refusal("no-slots", f"Nothing in “{card.name}” is to be filled.", "Choose another template.")
    count = session.scalar(select(func.count()).select_from(Batch).where(
        Batch.team_id == actor.team_id, Batch.removed_at.is_(None)
    ))  # fmt: skip
    if (count or 0) >= MOST_BATCHES:
        raise Refusal("many", f"A team keeps at most {MOST_BATCHES} tables.", "Remove one first.")
    made = Batch(
        id=new_key("ba"), team_id=actor.team_id, user_id=actor.user_id, name=" ".join(name.split())[:120] or card.name,
        template=card.key, columns=list(table.columns), matching=core.match(table.columns, promo.slots),
        pattern=core.usual_pattern(card.name, table), formats=[format.id for format in promo.formats], short_side=1080,
        wanted=0, exports=False, attempts=0, state="open",
    )  # fmt: skip
    session.add(made)
    session.flush()
    session.add_all(BatchRow(batch_id=made.id, number=at, cells=list(row)) for at, row in enumerate(table.rows))
    session.flush()
    return made


def find(session: Session, actor: Actor, batch_id: str, verb: str = "fill", *, lock: bool = False) -> Batch:
    """A table of the team's. Raises `Missing`."""
    row = session.get(Batch, batch_id, with_for_update=lock, populate_existing=lock)
    if row is None or row.team_id != actor.team_id or row.removed_at is not None:
        raise Missing("no-table", "There is no such table.", "Check the address.")
    allow(actor, "see" if verb == "see" else "fill", row)
    return row


def list_batches(session: Session, actor: Actor) -> list[Batch]:
    """The team's tables, the newest first."""
    allow(actor, "see")
    query = select(Batch).where(Batch.team_id == actor.team_id, Batch.removed_at.is_(None))
    return list(session.scalars(query.order_by(Batch.created_at.desc()).limit(MOST_BATCHES)))


def template_of(session: Session, actor: Actor, row: Batch) -> tuple[templates.Card, Promo]:
    """The template of a table, in the team's usual brand."""
    card, promo = templates.find(session, row.template, actor)
    return card, templates.branded(session, actor, promo, brands.usual(session, actor))


def table(row: Batch) -> core.Table:
    return core.Table(tuple(row.columns), tuple(tuple(one.cells) for one in row.rows))


def known_files(session: Session, actor: Actor) -> dict[str, MediaFile]:
    """The files that rows may name, by their plain names; of several of a name the newest. What is private to somebody
    else is not among them."""
    mine = (listed(MediaFile, actor), MediaFile.removed_at.is_(None), MediaFile.state == "ready")
    rows = session.scalars(select(MediaFile).where(*mine).order_by(MediaFile.created_at))
    return {core.file_key(one.name): one for one in rows}


def looked(session: Session, actor: Actor, row: Batch) -> list[Looked]:
    """Every row, with what is wrong with it."""
    _, promo = template_of(session, actor, row)
    known, whole = known_files(session, actor), table(row)
    return [
        Looked(one, core.named(row.pattern, whole, at),
               tuple(core.problems(promo.slots, row.matching, one.cells, known)))
        for at, one in enumerate(row.rows)
    ]  # fmt: skip


def set_matching(
    session: Session, actor: Actor, batch_id: str, matching: Mapping[str, int], pattern: str,
    formats: Sequence[str], short_side: int,
) -> Batch:  # fmt: skip
    """Says which column fills which slot, how promos are called, and in which formats they are exported."""
    row = find(session, actor, batch_id, lock=True)
    _, promo = template_of(session, actor, row)
    slots = {slot.id for slot in promo.slots}
    if short_side not in RESOLUTIONS:
        raise Refusal("size", f"Choose one of the resolutions {', '.join(map(str, RESOLUTIONS))}.")
    kept = [format.id for format in promo.formats if format.id in set(formats)]
    if not kept:
        raise Refusal("no-format", "Choose at least one format.")
    row.matching = {key: at for key, at in matching.items() if key in slots and 0 <= at < len(row.columns)}
    if not row.matching:
        raise Refusal("no-match", "No column fills anything yet.", "Choose a column for at least one place.")
    row.pattern, row.formats, row.short_side = " ".join(pattern.split())[:160] or "{#}", kept, short_side
    session.flush()
    return row


def make(unit: Unit, actor: Actor, batch_id: str, count: int | None = None, *, exports: bool = False) -> Batch:
    """Has promos made for the first so many rows, or for all: those that are not made yet, or have changed since."""
    allow(actor, "fill")
    if exports:
        allow(actor, "export")
    row = find(unit.session, actor, batch_id, lock=True)
    row.wanted = max(row.wanted, len(row.rows) if count is None else min(count, len(row.rows)))
    row.exports, row.state, row.error, row.sent_at = row.exports or exports, "running", "", now()
    for one in row.rows[: row.wanted]:
        if one.state == "failed":
            one.state, one.error = "open", ""
    unit.session.flush()
    unit.later("glowreel.batch", row.id)
    announce_work(unit.session, actor)
    return row


def skip(session: Session, actor: Actor, batch_id: str, number: int, *, skipped: bool) -> BatchRow:
    """Leaves a row out, or takes it in again."""
    find(session, actor, batch_id, lock=True)
    row = session.get(BatchRow, (batch_id, number))
    if row is None:
        raise Missing("no-row", "There is no such row.")
    row.state, row.error = ("skipped" if skipped else "open"), ""
    if not skipped and row.promo_id:
        row.state = "made"
    return row


def again(unit: Unit, actor: Actor, batch_id: str, fresh: core.Table) -> tuple[Batch, int]:
    """Takes the table as it is now: rows stand where they stood, by their first column where every one differs, else
    by their place. Answers with how many are new or changed. Columns are matched by name."""
    row = find(unit.session, actor, batch_id, lock=True)
    before, old = table(row), list(row.rows)
    moved = {key: fresh.columns.index(before.columns[at]) for key, at in row.matching.items()
             if before.columns[at] in fresh.columns}  # fmt: skip
    _, promo = template_of(unit.session, actor, row)
    row.matching = {**core.match(fresh.columns, promo.slots), **moved}
    by_name = {one.cells[0]: one for one in old}
    names = [cells[0] for cells in fresh.rows]
    named = len(by_name) == len(old) and len(set(names)) == len(names)
    kept = [
        (by_name.get(cells[0]) if named else old[at] if at < len(old) else None) for at, cells in enumerate(fresh.rows)
    ]
    facts = [
        (one.state, one.digest, one.promo_id, one.export_id, one.uploads, list(one.cells)) if one is not None else None
        for one in kept
    ]
    for one in old:
        unit.session.delete(one)
    unit.session.flush()
    unit.session.expire(row, ["rows"])
    row.columns, changed = list(fresh.columns), 0
    for at, (cells, was) in enumerate(zip(fresh.rows, facts, strict=True)):
        made = BatchRow(batch_id=row.id, number=at, cells=list(cells))
        same = was is not None and dict(zip(before.columns, was[5], strict=True)) == dict(
            zip(fresh.columns, cells, strict=True)
        )
        changed += not same
        if was is not None:
            made.state, made.digest, made.promo_id, made.export_id, made.uploads = was[:5]
            made.state = "open" if not same and made.state != "skipped" else made.state
        unit.session.add(made)
    row.wanted = 0
    unit.session.flush()
    unit.session.expire(row, ["rows"])
    return row, changed


def remove(session: Session, actor: Actor, batch_id: str) -> None:
    """Takes a table off the list. The promos that were made of it stay."""
    find(session, actor, batch_id, lock=True).removed_at = now()
