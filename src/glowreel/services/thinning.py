"""Histories that have grown long lose old steps, by the rule of `core.thinning`."""

from __future__ import annotations

from sqlalchemy import delete, func, or_, select, update
from sqlalchemy.orm import Session

from glowreel.core.thinning import ALL_OF, Step, parents, thinned
from glowreel.services.setup import Runtime
from glowreel.store.models import Export, PromoRow, Revision, ScreeningNote, Verdict, now

MOST_STEPS = 5000
LONG = 200
"""A history with more steps than that from before the last week is looked at."""
BATCH = 50


def thin(runtime: Runtime) -> int:
    """Thins the longest histories; answers with how many steps went. Named steps stay, what is shown, what redo leads
    to, and every step that an export, a note or a verdict is of."""
    with runtime.database.unit() as unit:
        old = func.count().filter(Revision.created_at < now() - ALL_OF)
        many = (
            select(Revision.promo_id).group_by(Revision.promo_id)
            .having(or_(func.count() > MOST_STEPS, old > LONG)).order_by(func.count().desc()).limit(BATCH)
        )  # fmt: skip
        return sum(_thin(unit.session, promo_id) for promo_id in unit.session.scalars(many).all())


def _thin(session: Session, promo_id: str) -> int:
    row = session.get_one(PromoRow, promo_id, with_for_update=True)
    columns = select(Revision.id, Revision.parent_id, Revision.created_at, Revision.base_id, Revision.name)
    rows = session.execute(columns.where(Revision.promo_id == promo_id).order_by(Revision.id)).all()
    steps = [Step(key, parent, at) for key, parent, at, _, _ in rows]
    stays = {key for key, _, _, _, name in rows if name is not None} | _used(session, row)
    gone = thinned(steps, stays, now(), MOST_STEPS)
    # What stays as a difference needs what it differs from.
    gone -= {base for key, _, _, base, _ in rows if base is not None and key not in gone}
    for key, parent in parents(steps, gone).items():
        session.execute(update(Revision).where(Revision.id == key).values(parent_id=parent))
    session.execute(delete(Revision).where(Revision.id.in_(gone)))
    return len(gone)


def _used(session: Session, row: PromoRow) -> set[int]:
    used = {key for key in (row.head_id, row.tip_id) if key is not None}
    used |= set(session.scalars(select(Export.revision_id).where(Export.promo_id == row.id)))
    for kind in (ScreeningNote, Verdict):
        used |= set(session.scalars(select(kind.revision_id).where(kind.promo_id == row.id)))
    return used
