"""A second factor beside the password, for who wants one: codes that change every half minute (TOTP, RFC 6238), made by
a device that was shown the secret once; and eight codes on paper for when that is gone.
"""

from __future__ import annotations

import hashlib
import secrets
import time

import pyotp
from sqlalchemy.orm import Session

from glowreel.core.errors import Refusal
from glowreel.services import accounts
from glowreel.store.models import User

STEP = 30
PAPER_CODES = 8
NAME = "Glow Reel"


def new_secret() -> str:
    return pyotp.random_base32()


def address(user: User, secret: str) -> str:
    """What a device reads to make codes: the address in the square that is shown."""
    return str(pyotp.TOTP(secret).provisioning_uri(name=user.email, issuer_name=NAME))


def begin(session: Session, user_id: str, secret: str, code: str) -> list[str]:
    """Asks for codes of a secret from now on, once the first was right. Answers with the codes on paper, which are
    never shown again. Raises `Refusal`."""
    user = session.get_one(User, user_id, with_for_update={"of": User})
    if user.second_secret:
        raise Refusal("second-factor", "There is a second factor already.", "Take it away first.")
    step = _step(secret, code, after=0)
    if step is None:
        raise Refusal("second-factor", "That is not the code that the device shows now.", "Try the next one.")
    paper = ["-".join(secrets.token_hex(2) for _ in range(3)) for _ in range(PAPER_CODES)]
    user.second_secret, user.second_step = secret, step
    user.second_paper = [_digest(one) for one in paper]
    return paper


def end(session: Session, user_id: str, password: str) -> None:
    """Asks for the password alone again. Raises `Refusal` where that is wrong."""
    user = session.get_one(User, user_id, with_for_update={"of": User})
    accounts.check_own(user, password)
    user.second_secret, user.second_step, user.second_paper = "", 0, []


def check(session: Session, user_id: str, code: str) -> None:
    """Lets a code of the device pass, each once and none older than the last; or one on paper, which is used up.
    Raises `Refusal`."""
    user = session.get_one(User, user_id, with_for_update={"of": User})
    step = _step(user.second_secret, code, after=user.second_step)
    if step is not None:
        user.second_step = step
        return
    digest = _digest(code)
    if digest in user.second_paper:
        user.second_paper = [one for one in user.second_paper if one != digest]
        return
    raise Refusal("second-factor", "That code is not right, or was used before.", "Wait for the next one.")


def _step(secret: str, code: str, *, after: int) -> int | None:
    """The half minute that a code belongs to: this one or one beside it, but none up to `after`."""
    plain = code.replace(" ", "")
    if len(plain) != 6 or not plain.isdigit() or not secret:
        return None
    device, now = pyotp.TOTP(secret, interval=STEP), int(time.time()) // STEP
    return next((n for n in (now, now - 1, now + 1) if n > after and device.verify(plain, for_time=n * STEP)), None)


def _digest(code: str) -> str:
    """Codes on paper hold 48 random bits each, so that a plain digest cannot be turned back."""
    return hashlib.sha256(code.strip().lower().encode()).hexdigest()
