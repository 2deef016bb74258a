"""Accounts: signing up and in, passwords, and getting back in.

An address may have several accounts, each with a password and a team of its own. That way signing up tells nobody
whether an address has one already: it works in either case, and with the password of an account it leads into that one.
"""

from __future__ import annotations

import re
from typing import Any

import zxcvbn
from argon2 import PasswordHasher
from argon2.exceptions import VerificationError
from sqlalchemy import select
from sqlalchemy.orm import Session

from glowreel.core.errors import Refusal
from glowreel.store.models import Invitation, Member, Team, User, new_key

_hasher = PasswordHasher()
_NOBODY = _hasher.hash("nobody has this password")
SHORTEST = 10
LONGEST = 500
STRENGTH = 2
"""Of zxcvbn's scores, 0 to 4: what is less can be guessed in an afternoon."""
LOOKED_AT = 72
"""So many characters of a password are looked at for how easily it is guessed."""
PER_ADDRESS = 5
DEMO_EMAIL = "studio@hollowmere.example"


def clean_address(email: str) -> str:
    return "".join(ch for ch in email if ch.isprintable()).strip().lower()[:254]


def check_password(password: str, *known: str) -> None:
    """Refuses passwords that are short, or easily guessed by who knows these words about a person."""
    if len(password) < SHORTEST:
        raise Refusal("password", f"A password needs at least {SHORTEST} characters.")
    if len(password) > LONGEST:
        raise Refusal("password", f"A password has at most {LONGEST} characters.")
    words = [part for text in known for part in (text[:80], *re.split(r"[@.\s]+", text[:80])) if part]
    found: dict[str, Any] = zxcvbn.zxcvbn(password[:LOOKED_AT], user_inputs=["glow", "reel", "glowreel", *words])
    if found["score"] < STRENGTH:
        raise Refusal("password", "That password is easily guessed.", "Take a few words that do not belong together.")


def sign_up(session: Session, name: str, email: str, password: str, team: str, into: Invitation | None = None) -> User:
    """A new account with a team of its own, or in the one it is invited into; or the one that these answers belong
    to already.

    Raises `Refusal` for what is wrong with the answers; never says whether the address is known.
    """
    name, team = _words(name), _words(team)
    email = clean_address(email)
    if not name or len(name) > 120:
        raise Refusal("name", "Tell us your name, in at most 120 letters.")
    if not re.fullmatch(r"[^@\s]+@[^@\s]+\.[^@\s]+", email):
        raise Refusal("email", "That is not an e-mail address.")
    check_password(password, name, email, team)
    known = _accounts(session, email)
    mine = _matching(known, password)
    if mine is not None:
        return mine
    if len(known) >= PER_ADDRESS:
        raise Refusal("too-many", "Too many tries in a short time.", "Sign in, or ask for a new password.")
    own = (
        session.get_one(Team, into.team_id)
        if into
        else Team(id=new_key("team"), name=team[:120] or f"{name[:100]}’s team")
    )
    user = User(id=new_key("u"), team=own, email=email, name=name, password=_hasher.hash(password))
    session.add(own)
    session.flush()
    session.add(user)
    session.flush()
    if into is None:
        session.add(Member(user_id=user.id, team_id=own.id, role="owner"))
        session.flush()
    return user


def rename(session: Session, user_id: str, name: str) -> User:
    """Gives a person another name. Raises `Refusal`."""
    if not _words(name) or len(_words(name)) > 120:
        raise Refusal("name", "Tell us your name, in at most 120 letters.")
    user = session.get_one(User, user_id)
    user.name = _words(name)
    return user


def _words(text: str) -> str:
    return " ".join("".join(ch if ch.isprintable() else " " for ch in text).split())


def _accounts(session: Session, email: str) -> list[User]:
    query = select(User).where(User.email == email).order_by(User.created_at)
    return list(session.scalars(query.limit(PER_ADDRESS)))


def _matching(users: list[User], password: str) -> User | None:
    """The account that a password belongs to. As much is worked out for an address nobody has."""
    found = None
    for stored in [user.password for user in users] or [_NOBODY]:
        try:
            _hasher.verify(stored, password[:LONGEST])
        except VerificationError:
            continue
        found = found or next((user for user in users if user.password == stored), None)
    return found


def sign_in(session: Session, email: str, password: str) -> User:
    """The account, or one refusal for a wrong address and a wrong password alike, in the same time."""
    user = _matching(_accounts(session, clean_address(email)), password)
    if user is None:
        raise Refusal("sign-in", "The e-mail address and the password do not belong together.")
    return user


def check_own(user: User, password: str) -> None:
    """Raises `Refusal` where that is not somebody's password."""
    if _matching([user], password) is None:
        raise Refusal("password", "That is not your password.")


def change_password(session: Session, user_id: str, old: str, new: str) -> User:
    """A new password for who knows the old one. Raises `Refusal`."""
    user = session.get_one(User, user_id)
    check_own(user, old)
    return set_password(session, user, new)


def set_password(session: Session, user: User, new: str) -> User:
    check_password(new, user.name, user.email)
    user.password = _hasher.hash(new)
    session.flush()
    return user


def demo_user(session: Session) -> User | None:
    """The account of the demo: the first one of its address."""
    return session.scalar(select(User).where(User.email == DEMO_EMAIL).order_by(User.created_at).limit(1))
