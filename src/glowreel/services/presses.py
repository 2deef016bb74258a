"""What is pressed twice is done once: each press has a name, and the first one's result answers the second."""

from __future__ import annotations

import re
from collections.abc import Callable
from datetime import timedelta

from sqlalchemy import delete, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from glowreel.store.models import Press, now

KEPT = timedelta(days=2)


def once(session: Session, user_id: str, press: str, work: Callable[[], str]) -> str:
    """The result of `work`, an identifier; of the first time where this press of this person was carried out before.

    Whoever comes while the first is at work waits for it. Without a proper name the work is simply done.
    """
    if not re.fullmatch(r"[\w-]{8,40}", press, re.ASCII):
        return work()
    key = {"user_id": user_id, "press": press}
    mine = insert(Press).values(**key, result="").on_conflict_do_nothing().returning(Press.press)
    if session.execute(mine).first() is None:
        query = select(Press.result).where(Press.user_id == user_id, Press.press == press)
        return session.scalars(query).one()
    result = work()
    session.get_one(Press, key).result = result
    session.flush()
    return result


def forget_old(session: Session) -> None:
    session.execute(delete(Press).where(Press.created_at < now() - KEPT))
