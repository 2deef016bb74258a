"""Cutting alone, if somebody wants that for a while: others look on, write notes, and may take over.

It ends by itself ten minutes after the last edit of whoever cuts.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy.orm import Session

from glowreel.core.errors import Refusal
from glowreel.services.access import Actor, authorise
from glowreel.services.live import announce_alone
from glowreel.store.models import PromoRow, User, now

LASTS = timedelta(minutes=10)


@dataclass(frozen=True)
class Cutter:
    """Who cuts a promo alone, and until when at least."""

    user_id: str
    name: str
    until: datetime


def standing(session: Session, row: PromoRow) -> Cutter | None:
    """Who cuts a promo alone just now, if anybody does."""
    if row.cut_by is None or row.cut_until is None or row.cut_until < now():
        return None
    user = session.get(User, row.cut_by)
    return Cutter(row.cut_by, user.name if user is not None else "Somebody who left", row.cut_until)


def may_cut(session: Session, row: PromoRow, actor: Actor) -> None:
    """Nothing where the actor may change the promo now, and longer for whoever cuts it alone. Raises `Refusal`."""
    cutter = standing(session, row)
    if cutter is None:
        return
    if cutter.user_id == actor.user_id:
        row.cut_until = now() + LASTS
    elif actor.kind != "program":
        raise Refusal("alone", f"{cutter.name} cuts this alone just now.", "Take over, or write a note.")


def begin(session: Session, actor: Actor, promo_id: str) -> Cutter:
    """Has the actor cut a promo alone, taking over from whoever does."""
    row = authorise(session, PromoRow, promo_id, actor, "edit", lock=True)
    if actor.user_id is None:
        raise Refusal("no-person", "Only somebody of the team cuts alone.")
    row.cut_by, row.cut_until = actor.user_id, now() + LASTS
    session.flush()
    announce_alone(session, row.id)
    found = standing(session, row)
    assert found is not None
    return found


def end(session: Session, actor: Actor, promo_id: str) -> None:
    """Lets everybody cut a promo again."""
    row = authorise(session, PromoRow, promo_id, actor, "edit", lock=True)
    row.cut_by = row.cut_until = None
    session.flush()
    announce_alone(session, row.id)
