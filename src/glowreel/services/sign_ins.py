"""Who is signed in, where: kept here, so that it can be seen and ended. A cookie holds a key and nothing else."""

from __future__ import annotations

import secrets
from datetime import timedelta

from sqlalchemy import or_, select, update
from sqlalchemy.orm import Session

from glowreel.core.errors import Missing
from glowreel.store.keys import digest
from glowreel.store.models import SignIn, User, new_key, now

LASTS = timedelta(days=30)
"""A sign-in that is not used for so long ends by itself."""
SEEN_EVERY = timedelta(minutes=5)
MOST = 50

DEVICES = (("Android", "Android"), ("iPhone", "iPhone"), ("iPad", "iPad"), ("Windows", "Windows"), ("Macintosh", "Mac"),
           ("CrOS", "Chromebook"), ("Linux", "Linux"))  # fmt: skip


def device_of(agent: str) -> str:
    """What a browser says it runs on, in a word."""
    return next((word for mark, word in DEVICES if mark in agent), "Another device")


def begin(session: Session, user: User, address: str, agent: str) -> str:
    """Signs somebody in; answers with the key for the cookie. Only its digest is kept."""
    key = secrets.token_urlsafe(32)
    row = SignIn(id=new_key("si"), user_id=user.id, digest=digest(key), address=address[:60], device=device_of(agent))
    row.until = now() + LASTS
    session.add(row)
    session.flush()
    oldest = select(SignIn).where(SignIn.user_id == user.id, SignIn.ended_at.is_(None)).order_by(SignIn.seen_at.desc())
    for old in session.scalars(oldest.offset(MOST)):
        old.ended_at = now()
    return key


def find(session: Session, key: str) -> tuple[SignIn, User] | None:
    """Whose key it is, if that sign-in has not ended. Being used makes it last."""
    row = session.scalar(select(SignIn).where(SignIn.digest == digest(key)))
    if row is None or row.ended_at is not None or row.until < now():
        return None
    if row.seen_at < now() - SEEN_EVERY:
        row.seen_at, row.until = now(), now() + LASTS
    return row, session.get_one(User, row.user_id)


def list_active(session: Session, user_id: str) -> list[SignIn]:
    query = select(SignIn).where(SignIn.user_id == user_id, SignIn.ended_at.is_(None), SignIn.until > now())
    return list(session.scalars(query.order_by(SignIn.seen_at.desc()).limit(MOST)))


def end(session: Session, sign_in_id: str, user_id: str) -> None:
    """Ends one of a person's sign-ins. Raises `Missing` where it is none of theirs."""
    mine = update(SignIn).where(SignIn.id == sign_in_id, SignIn.user_id == user_id, SignIn.ended_at.is_(None))
    if session.execute(mine.values(ended_at=now()).returning(SignIn.id)).first() is None:
        raise Missing("no-sign-in", "That sign-in has ended already.")


def end_all(session: Session, user_id: str, but: str = "") -> None:
    """Ends all of a person's sign-ins but one."""
    others = update(SignIn).where(SignIn.user_id == user_id, SignIn.id != but, SignIn.ended_at.is_(None))
    session.execute(others.values(ended_at=now()))


def forget_old(session: Session, before: timedelta = timedelta(days=30)) -> int:
    """Removes what ended long ago."""
    long_ago = now() - before
    gone = session.scalars(select(SignIn).where(or_(SignIn.ended_at < long_ago, SignIn.until < long_ago)).limit(1000))
    count = 0
    for row in gone:
        session.delete(row)
        count += 1
    return count
