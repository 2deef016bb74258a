"""Getting back in without the password: by a link in a letter that works once, for an hour."""

from __future__ import annotations

import secrets
from collections.abc import Callable
from datetime import timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from glowreel.core.errors import Missing
from glowreel.services import accounts, letters, sign_ins
from glowreel.store.database import Unit
from glowreel.store.keys import digest
from glowreel.store.models import PasswordReset, User, now

LASTS = timedelta(hours=1)


def ask(unit: Unit, email: str, link: Callable[[str], str]) -> None:
    """Sends a letter to an address that has accounts, with a link for each; does nothing for any other."""
    address = accounts.clean_address(email)
    users = unit.session.scalars(select(User).where(User.email == address).limit(accounts.PER_ADDRESS)).all()
    lines = []
    for user in users:
        key = secrets.token_urlsafe(24)
        unit.session.add(PasswordReset(digest=digest(key), user_id=user.id, until=now() + LASTS))
        lines.append(f"{user.name}, {user.team.name}:\n{link(key)}\n")
    if lines:
        head = "Somebody, hopefully you, asked for a new Glow Reel password. These links work once, for an hour.\n\n"
        letters.write(unit, address, "A new password for Glow Reel", head + "\n".join(lines))


def find(session: Session, key: str) -> PasswordReset:
    """What a link leads to, or `Missing` where it was used or is too old."""
    row = session.get(PasswordReset, digest(key), with_for_update=True)
    if row is None or row.used_at is not None or row.until < now():
        raise Missing("no-reset", "That link was used already, or is older than an hour.", "Ask for a new one.")
    return row


def carry_out(session: Session, key: str, password: str) -> User:
    """Sets the new password and ends every sign-in of that person. Raises `Refusal`."""
    row = find(session, key)
    user = accounts.set_password(session, session.get_one(User, row.user_id), password)
    row.used_at = now()
    sign_ins.end_all(session, user.id)
    return user
