"""Signing up and in."""

from __future__ import annotations

import re

from argon2 import PasswordHasher
from argon2.exceptions import VerificationError
from sqlalchemy import select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from glowreel.core.errors import Refusal
from glowreel.store.models import Team, User, new_key

_hasher = PasswordHasher()
_NOBODY = _hasher.hash("nobody has this password")
SHORTEST = 10
DEMO_EMAIL = "studio@hollowmere.example"


def sign_up(session: Session, name: str, email: str, password: str, team: str) -> User:
    """A new account with a team of its own. Raises `Refusal` for what is wrong with the answers."""
    name, email, team = name.strip(), email.strip().lower(), team.strip()
    if not name or len(name) > 120:
        raise Refusal("name", "Tell us your name, in at most 120 letters.")
    if not re.fullmatch(r"[^@\s]+@[^@\s]+\.[^@\s]+", email) or len(email) > 254:
        raise Refusal("email", "That is not an e-mail address.")
    if len(password) < SHORTEST:
        raise Refusal("password", f"A password needs at least {SHORTEST} characters.")
    if len(password) > 500:
        raise Refusal("password", "A password has at most 500 characters.")
    own_team = Team(id=new_key("team"), name=team[:120] or f"{name[:100]}’s team")
    user = User(id=new_key("u"), team=own_team, email=email, name=name, password=_hasher.hash(password))
    session.add(own_team)
    session.flush()
    session.add(user)
    try:
        session.flush()
    except IntegrityError as error:
        raise Refusal("taken", "There is an account with that e-mail address already.", "Sign in instead.") from error
    return user


def sign_in(session: Session, email: str, password: str) -> User:
    """The account, or one refusal for a wrong address and a wrong password alike, in the same time."""
    user = session.scalar(select(User).where(User.email == email.strip().lower()))
    try:
        _hasher.verify(user.password if user else _NOBODY, password[:500])
    except VerificationError:
        user = None
    if user is None:
        raise Refusal("sign-in", "The e-mail address and the password do not belong together.")
    return user


def demo_user(session: Session) -> User | None:
    return session.scalar(select(User).where(User.email == DEMO_EMAIL))


def find_user(session: Session, user_id: str) -> User | None:
    return session.get(User, user_id)
