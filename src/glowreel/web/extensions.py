"""Flask extensions and the shortcuts that routes use."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import cached_property
from typing import cast
from urllib.parse import quote

import segno
from flask import Response, current_app, request, session
from flask_limiter import Limiter
from flask_limiter.util import get_remote_address
from flask_login import LoginManager, UserMixin, current_user
from flask_wtf import CSRFProtect

from glowreel.services import presses, sign_ins, teams
from glowreel.services.access import ROLES, Actor, Verb
from glowreel.services.preview import Preview
from glowreel.services.setup import Runtime
from glowreel.store.database import Unit
from glowreel.store.models import Member, User

csrf = CSRFProtect()
# Without Redis each process counts by itself: limits never vanish.
limiter = Limiter(get_remote_address, in_memory_fallback_enabled=True)
login = LoginManager()


class Person(UserMixin):  # type: ignore[misc]
    """Who is signed in, for templates and checks."""

    def __init__(self, user: User, place: Member, sign_in_id: str, key: str) -> None:
        self.id = user.id
        self.name = user.name
        self.email = user.email
        self.team_id = place.team_id
        self.team = place.team.name
        self.role = place.role
        self.sign_in_id = sign_in_id
        self._key = key

    def get_id(self) -> str:
        """What cookies hold: the key of this sign-in, not who it is."""
        return self._key

    def may(self, verb: Verb) -> bool:
        """Whether they may do that with things of the team they work in."""
        return verb in ROLES[self.role][1]

    @cached_property
    def together(self) -> bool:
        """Whether others are in the team as well, so that there is somebody to share with."""
        with transaction() as work:
            return teams.count(work.session, self.team_id) > 1

    @cached_property
    def other_teams(self) -> list[Member]:
        """The teams they are in beside the one they work in."""
        with transaction() as work:
            return [one for one in teams.mine(work.session, self.id) if one.team_id != self.team_id]

    @property
    def initials(self) -> str:
        return initials(self.name)


def initials(name: str) -> str:
    """The first letters of a name's first two words."""
    return "".join(part[0] for part in name.split()[:2]).upper() or "?"


@login.user_loader
def _load(key: str) -> Person | None:
    with transaction() as work:
        found = sign_ins.find(work.session, key)
        return person(work, found[1], found[0].id, key) if found else None


def person(work: Unit, user: User, sign_in_id: str, key: str) -> Person:
    """Somebody who is signed in, where they work now."""
    return Person(user, teams.place_of(work.session, user), sign_in_id, key)


def runtime() -> Runtime:
    return cast(Runtime, current_app.extensions["glowreel"])


def the_preview() -> Preview:
    """This process's preview, made when it is first asked for."""
    if "glowreel-preview" not in current_app.extensions:
        current_app.extensions["glowreel-preview"] = Preview(runtime())
    return cast(Preview, current_app.extensions["glowreel-preview"])


def hand_to_live(topic: str, key: str) -> Response:
    """Lets the front server answer with a stream of events: it asks the server of streams, and no thread waits here."""
    where = f"/live/{topic}/{quote(key)}?person={quote(user_id())}"
    headers = {"X-Accel-Redirect": where, "Cache-Control": "no-store", "X-Accel-Buffering": "no"}
    return Response(mimetype="text/event-stream", headers=headers)


def hand_viewers_to_live(promo_id: str, viewer: str) -> Response:
    """The same for whoever watches a promo at a screening, known by what their browser was given."""
    where = f"/live/viewers/{quote(promo_id)}?person=viewer-{quote(viewer)}"
    headers = {"X-Accel-Redirect": where, "Cache-Control": "no-store", "X-Accel-Buffering": "no"}
    return Response(mimetype="text/event-stream", headers=headers)


@contextmanager
def transaction() -> Iterator[Unit]:
    """One transaction for the request; what it queued is sent after the commit."""
    with runtime().database.unit() as work:
        yield work


def actor() -> Actor:
    """Who asks, for the services."""
    return Actor.person(current_user.id, current_user.team_id, current_user.role)


def scan_code(text: str) -> str:
    """A text as a code to scan: an SVG that is as large as it is shown."""
    drawn = segno.make(text, error="m").svg_inline(border=2, dark="#23201C", light="#FFFCF6", omitsize=True)
    return drawn.replace("<svg", '<svg xmlns="http://www.w3.org/2000/svg"', 1)


def user_id() -> str:
    return str(current_user.id)


def pressed_once(work: Unit, make: Callable[[], str]) -> str:
    """What a form makes, or what it made when it was sent before by the same press."""
    return presses.once(work.session, user_id(), request.form.get("press", ""), make)


def absolute(path: str) -> str:
    """An address of ours for letters and links that are sent on: never made from what a request says of itself, where
    the settings say where this installation is."""
    root = runtime().settings.address or request.host_url
    return root.rstrip("/") + path


def flash(sentence: str, undo: str = "") -> None:
    """Shows a sentence on the next page, after those that wait to be shown there already; `undo` is where a button
    beside it leads."""
    waiting = session.get("said") or {}
    before = waiting.get("sentence", "") if isinstance(waiting, dict) else ""
    session["said"] = {"sentence": f"{before} {sentence}".strip()[:1500], "undo": undo}
