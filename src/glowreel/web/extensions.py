"""Flask extensions and the shortcuts that routes use."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from threading import Lock
from typing import cast

from flask import current_app, session
from flask_limiter import Limiter
from flask_limiter.util import get_remote_address
from flask_login import LoginManager, UserMixin, current_user
from flask_wtf import CSRFProtect

from glowreel.services import accounts
from glowreel.services.live import Hub
from glowreel.services.preview import Preview
from glowreel.services.setup import Parts
from glowreel.store.database import Unit

_making = Lock()
csrf = CSRFProtect()
limiter = Limiter(get_remote_address, swallow_errors=True)
login = LoginManager()
login.login_view = "account.sign_in"
login.login_message = "Sign in to go on."


class Person(UserMixin):  # type: ignore[misc]
    """Who is signed in, for templates and checks."""

    def __init__(self, key: str, name: str, team_id: str, team: str) -> None:
        self.id = key
        self.name = name
        self.team_id = team_id
        self.team = team

    @property
    def initials(self) -> str:
        return "".join(part[0] for part in self.name.split()[:2]).upper() or "?"


@login.user_loader
def _load(user_id: str) -> Person | None:
    with unit() as work:
        user = accounts.find_user(work.session, user_id)
        return Person(user.id, user.name, user.team_id, user.team.name) if user else None


def parts() -> Parts:
    return cast(Parts, current_app.extensions["glowreel"])


def the_preview() -> Preview:
    """This process's preview, made when it is first asked for."""
    if "glowreel-preview" not in current_app.extensions:
        current_app.extensions["glowreel-preview"] = Preview(parts())
    return cast(Preview, current_app.extensions["glowreel-preview"])


def the_hub() -> Hub:
    """This process's ear for changes, made when the first window opens."""
    with _making:
        if "glowreel-hub" not in current_app.extensions:
            current_app.extensions["glowreel-hub"] = Hub(parts().settings.database)
    return cast(Hub, current_app.extensions["glowreel-hub"])


@contextmanager
def unit() -> Iterator[Unit]:
    """One transaction for the request; what it queued is sent after the commit."""
    with parts().database.unit() as work:
        yield work


def team_id() -> str:
    return str(current_user.team_id)


def user_id() -> str:
    return str(current_user.id)


def say(sentence: str) -> None:
    """Shows a sentence on the next page."""
    session["said"] = sentence
