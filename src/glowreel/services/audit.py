"""What was done in a team that others may want to know of later: who came and went, what was let out, to whom.

Each kind of event is a row of `EVENTS`. It is written in the commit of what it tells of. Edits are not here: they are
the history of a promo.
"""

from __future__ import annotations

from datetime import timedelta

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from glowreel.core.errors import Refusal
from glowreel.services.access import Actor, allow
from glowreel.store.models import Done, User, now

EVENTS: dict[str, str] = {
    "invited": "invited {}",
    "invitation-ended": "ended an invitation",
    "joined": "came into the team",
    "role": "made {}",
    "left": "left the team",
    "taken-out": "took {} out of the team",
    "shared": "shared {} with the team",
    "made-private": "made {} private",
    "screening": "made a link to the live edit of {}",
    "screening-ended": "ended a link to the live edit of {}",
    "link-ended": "ended the link to {}",
    "link-made": "made a new link to {}",
    "mailed": "sent {}",
    "exported": "exported {}",
    "export-removed": "removed the export {}",
    "promo-removed": "took {} off the Desk",
    "connected": "connected {}",
    "disconnected": "disconnected {}",
    "published": "published {}",
    "replaced": "put a new film in the place of {}",
    "taken-down": "took {} down",
    "token": "made the token {}",
    "token-ended": "ended the token {}",
    "hook": "has {} told of what happens",
    "hook-ended": "has {} told nothing more",
}
"""Every event, as it is said after the name of whoever did it."""
KEPT = timedelta(days=400)
PAGE = 100


def note(session: Session, actor: Actor, event: str, about: str = "") -> None:
    """Writes down that somebody did something; `about` is what, in words. Nothing for what the program does itself."""
    if actor.user_id is None or actor.kind not in ("person", "token"):
        return
    user = session.get(User, actor.user_id)
    who = user.name if user is not None else "Somebody who left"
    by = f"{who}, by a program," if actor.kind == "token" else who
    said = EVENTS[event].format(about[:200])
    session.add(Done(team_id=actor.team_id, user_id=actor.user_id, event=event, said=f"{by} {said}"[:400], at=now()))


def entries(session: Session, actor: Actor, before: int | None = None, user_id: str = "") -> list[Done]:
    """What was done, the newest first, beyond an entry; by one person alone where one is named. For owners."""
    allow(actor, "lead")
    query = select(Done).where(Done.team_id == actor.team_id)
    if before is not None:
        query = query.where(Done.id < before)
    if user_id:
        query = query.where(Done.user_id == user_id)
    return list(session.scalars(query.order_by(Done.id.desc()).limit(PAGE)))


def number(text: str) -> int | None:
    """The entry that an address names, if it names one. Raises `Refusal` for nonsense."""
    if not text:
        return None
    if not text.isdigit() or len(text) > 18:
        raise Refusal("number", "There is no such entry.")
    return int(text)


def forget_old(session: Session) -> int:
    """Removes what is older than it is kept."""
    old = delete(Done).where(Done.at < now() - KEPT)
    return len(session.execute(old.returning(Done.id)).all())
