"""A person's files in a cloud drive: connected by them, seen in folders, found, and taken on to the Shelf."""

from __future__ import annotations

from collections.abc import Sequence

from itsdangerous import BadSignature, URLSafeTimedSerializer
from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from glowreel.core.errors import Refusal
from glowreel.outside.drive.port import NAME, Drive, Listing, ask_at
from glowreel.outside.fetching import Fetched
from glowreel.services import by_link, storage
from glowreel.services.access import Actor, allow
from glowreel.services.setup import Runtime
from glowreel.services.sources import Origin
from glowreel.store.database import Unit
from glowreel.store.models import Connection, Upload, new_key

SERVICE = "drive"
COMES_BACK_WITHIN = 600
MOST = 40


def _signer(runtime: Runtime) -> URLSafeTimedSerializer:
    return URLSafeTimedSerializer(runtime.settings.secret or "unset", salt="drive")


def asked_at(runtime: Runtime, actor: Actor, back: str, then: str) -> str:
    """Where a person is sent to allow the program into their drive; `then` is where they go once they are back."""
    allow(actor, "add")
    Drive(runtime.settings.drive)
    state = _signer(runtime).dumps([actor.user_id, actor.team_id, then])
    return ask_at(runtime.settings.drive, back, str(state))


def came_back(runtime: Runtime, unit: Unit, actor: Actor, state: str, code: str) -> str:
    """Keeps what a person allowed who came back with a code; answers with where they go on. Raises `Refusal` for a
    state that was not given to them, or long ago, and where they did not allow it."""
    try:
        user_id, team_id, then = _signer(runtime).loads(state, max_age=COMES_BACK_WITHIN)
    except (BadSignature, ValueError) as error:
        raise Refusal("stale", f"{NAME} was not connected: that took too long.", "Connect it again.") from error
    if (user_id, team_id) != (actor.user_id, actor.team_id):
        raise Refusal("stale", f"{NAME} was not connected: somebody else asked for that.", "Connect it again.")
    if not code:
        raise Refusal("denied", f"{NAME} was not connected: it was not allowed there.")
    allowed = Drive(runtime.settings.drive).allowed(code)
    leave(runtime, unit.session, actor)
    unit.session.add(
        Connection(
            id=new_key("c"), team_id=team_id, user_id=user_id, service=SERVICE, account=allowed.account,
            token=allowed.token,
        )
    )  # fmt: skip
    unit.session.flush()
    return str(then)


def connection(session: Session, actor: Actor) -> Connection | None:
    """What a person connected, if they did."""
    mine = (Connection.user_id == actor.user_id, Connection.team_id == actor.team_id, Connection.service == SERVICE)
    return session.scalar(select(Connection).where(*mine))


def leave(runtime: Runtime, session: Session, actor: Actor) -> None:
    """Ends a person's connection, here and there; that the drive is away does not keep it."""
    row = connection(session, actor)
    if row is None:
        return
    session.execute(delete(Connection).where(Connection.id == row.id))
    try:
        Drive(runtime.settings.drive, row.token).leave()
    except Refusal:
        return


def opened(runtime: Runtime, session: Session, actor: Actor) -> Drive:
    """The drive as a person sees it, or `Refusal` where they did not connect it."""
    allow(actor, "add")
    row = connection(session, actor)
    if row is None:
        raise Refusal("not-connected", f"{NAME} is not connected.", "Connect it first.")
    return Drive(runtime.settings.drive, row.token)


def listing(runtime: Runtime, session: Session, actor: Actor, folder: str, words: str) -> Listing:
    return opened(runtime, session, actor).listing(folder[:400], words[:200])


def small(runtime: Runtime, session: Session, actor: Actor, key: str) -> Fetched:
    return opened(runtime, session, actor).small(key)


def take(runtime: Runtime, unit: Unit, actor: Actor, keys: Sequence[str], promo_id: str | None = None) -> list[Upload]:
    """Has files brought on to the Shelf, in the order in which they were picked."""
    if not keys:
        raise Refusal("none", "Nothing is picked.", "Press what you want to have.")
    if len(keys) > MOST:
        raise Refusal("many", f"At most {MOST} are fetched at once.", "Pick fewer.")
    drive = opened(runtime, unit.session, actor)
    files = [drive.file(key) for key in dict.fromkeys(keys)]
    storage.check_room(runtime, unit.session, actor, sum(file.size for file in files))
    return [
        by_link.begin(
            unit, actor, f"drive:{file.id}", file.name, promo_id,
            Origin(source="drive", id=file.id, title=f"{NAME}: {file.folder or 'top folder'}"),
        )
        for file in files
    ]  # fmt: skip
