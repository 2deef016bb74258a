"""The history of a promo: its steps, named versions, going to any of them, comparing and restoring."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from glowreel.core.differences import differences
from glowreel.core.document import Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.services import promos
from glowreel.services.access import Actor, authorise
from glowreel.store import documents
from glowreel.store.models import PromoRow, Revision, User

PAGE = 80


@dataclass(frozen=True)
class Step:
    """One revision: what was done, by whom and when. `here` is on show; `aside` is on a branch that was left."""

    id: int
    sentence: str
    name: str | None
    who: str
    at: datetime
    here: bool
    ahead: bool
    aside: bool


def steps(session: Session, promo_id: str, actor: Actor, before: int | None = None) -> tuple[list[Step], bool]:
    """The newest steps first, from before a revision if one is given, and whether there are older ones."""
    row = authorise(session, PromoRow, promo_id, actor, "see")
    query = select(Revision.id, Revision.sentence, Revision.name, Revision.created_at, Revision.parent_id, User.name)
    query = query.outerjoin(User, User.id == Revision.user_id).where(Revision.promo_id == row.id)
    if before is not None:
        query = query.where(Revision.id < before)
    found = session.execute(query.order_by(Revision.id.desc()).limit(PAGE + 1)).all()
    line = _line(session, row)
    ahead = set(line[: line.index(row.head_id)]) if row.head_id in line else set()
    result = [
        Step(key, sentence, name, who or "", at, key == row.head_id, key in ahead, key not in line)
        for key, sentence, name, at, _, who in found[:PAGE]
    ]
    return result, len(found) > PAGE


def _line(session: Session, row: PromoRow) -> list[int]:
    """The revisions from the tip down to the first, by their parents."""
    parents = dict(session.execute(select(Revision.id, Revision.parent_id).where(Revision.promo_id == row.id)).all())
    line: list[int] = []
    at: int | None = row.tip_id
    while at is not None and at in parents:
        line.append(at)
        at = parents[at]
    return line


def _revision(session: Session, row: PromoRow, revision_id: int) -> Revision:
    revision = session.get(Revision, revision_id)
    if revision is None or revision.promo_id != row.id:
        raise Missing("no-revision", "That version is not in this promo’s history.", "Reload the page.")
    return revision


def go(session: Session, promo_id: str, actor: Actor, revision_id: int) -> promos.Opened:
    """Shows any step. Steps after it can be redone, unless it is on a branch that was left: then that one goes on."""
    row = authorise(session, PromoRow, promo_id, actor, "edit", lock=True)
    revision = _revision(session, row, revision_id)
    if revision.id not in _line(session, row):
        row.tip_id = revision.id
    promos.show(session, row, revision.id, promos.document(session, row, revision.id), f"went to “{revision.sentence}”")
    return promos.opened(session, row)


def name(session: Session, promo_id: str, actor: Actor, revision_id: int, sentence: str) -> None:
    """Names a version; an empty name takes it away."""
    row = authorise(session, PromoRow, promo_id, actor, "edit")
    _revision(session, row, revision_id).name = " ".join(sentence.split())[:80] or None


def restore(session: Session, promo_id: str, actor: Actor, revision_id: int) -> promos.Opened:
    """Brings a version back as a new step after the one on show: nothing in between is lost."""
    row = authorise(session, PromoRow, promo_id, actor, "edit", lock=True)
    revision = _revision(session, row, revision_id)
    if revision.id == row.head_id:
        raise Refusal("already", "That version is the one on show.")
    promo = promos.document(session, row, revision.id)
    sentence = f"Restored “{revision.name or revision.sentence}”"[:400]
    step = Revision(promo_id=row.id, parent_id=row.head_id, user_id=actor.user_id, sentence=sentence)
    made = documents.keep(session, step, promo, row.head_id)
    row.tip_id = made.id
    promos.show(session, row, made.id, promo, sentence)
    return promos.opened(session, row)


@dataclass(frozen=True)
class Compared:
    """Two versions side by side."""

    first: Revision
    second: Revision
    old: Promo
    new: Promo
    sentences: list[str]


def compare(session: Session, promo_id: str, actor: Actor, first: int, second: int) -> Compared:
    """What led from one version to another, the earlier one first."""
    row = authorise(session, PromoRow, promo_id, actor, "see")
    one, two = (_revision(session, row, key) for key in sorted((first, second)))
    old, new = promos.document(session, row, one.id), promos.document(session, row, two.id)
    return Compared(one, two, old, new, differences(old, new))
