"""Tokens: what lets a program work for a team, in the name of whoever made it, with scopes, an end, and no more rights
than that person has."""

from __future__ import annotations

import secrets
from collections.abc import Collection
from datetime import timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from glowreel.core.errors import Missing, Refusal
from glowreel.services import audit
from glowreel.services.access import ROLES, Actor, Verb, allow
from glowreel.store.keys import digest
from glowreel.store.models import ApiToken, Member, new_key, now

SCOPES: dict[str, tuple[str, frozenset[Verb]]] = {
    "look": ("see promos, files, exports and posts", frozenset({"see"})),
    "make": (
        "bring files in, fill templates, change promos",
        frozenset({"see", "make", "fill", "add", "edit", "remove"}),
    ),
    "send": ("export, show and publish", frozenset({"see", "export", "publish"})),
}
"""What a token may be for: how that is said, and what it may do."""
LASTS = {30: "30 days", 90: "90 days", 365: "a year", 0: "until it is ended"}
MARK = "glow_"
MOST = 50
SEEN_EVERY = timedelta(minutes=1)


def begin(session: Session, actor: Actor, name: str, scopes: Collection[str], days: int) -> tuple[ApiToken, str]:
    """A token for a program; answers with it as well, which is not kept anywhere. Raises `Refusal`."""
    allow(actor, "lead")
    name = " ".join(name.split())[:80]
    chosen = [scope for scope in SCOPES if scope in scopes]
    if not name or not chosen or days not in LASTS or actor.user_id is None:
        raise Refusal("token", "A token needs a name, what it may do, and for how long.")
    if len([row for row in standing(session, actor) if row.ended_at is None]) >= MOST:
        raise Refusal("many", f"A team has at most {MOST} tokens.", "End one of them first.")
    given = MARK + secrets.token_urlsafe(32)
    row = ApiToken(
        id=new_key("at"), team_id=actor.team_id, user_id=actor.user_id, name=name, scopes=chosen,
        digest=digest(given), start=given[:10], until=now() + timedelta(days=days) if days else None,
    )  # fmt: skip
    session.add(row)
    audit.note(session, actor, "token", f"“{name}”")
    session.flush()
    return row, given


def standing(session: Session, actor: Actor) -> list[ApiToken]:
    """The team's tokens, the newest first; those that have ended are there for a month."""
    allow(actor, "lead")
    lately = ApiToken.ended_at.is_(None) | (ApiToken.ended_at > now() - timedelta(days=30))
    query = select(ApiToken).where(ApiToken.team_id == actor.team_id, lately)
    return list(session.scalars(query.order_by(ApiToken.created_at.desc()).limit(200)))


def end(session: Session, actor: Actor, token_id: str) -> None:
    """Ends a token at once. Raises `Missing`."""
    row = session.get(ApiToken, token_id)
    if row is None or row.team_id != actor.team_id:
        raise Missing("no-token", "There is no such token.")
    allow(actor, "lead")
    row.ended_at = row.ended_at or now()
    audit.note(session, actor, "token-ended", f"“{row.name}”")


def find(session: Session, given: str) -> Actor | None:
    """Whoever a program works for with that token, with the rights that both the token and the person have; nothing
    where it is none, has ended, or its person has left."""
    row = session.scalar(select(ApiToken).where(ApiToken.digest == digest(given[:200])))
    if row is None or row.ended_at is not None or (row.until is not None and row.until < now()):
        return None
    member = session.get(Member, (row.user_id, row.team_id))
    if member is None:
        return None
    if row.used_at is None or row.used_at < now() - SEEN_EVERY:
        row.used_at = now()
    verbs = frozenset[Verb]().union(*(SCOPES[scope][1] for scope in row.scopes if scope in SCOPES))
    return Actor("token", row.team_id, member.role, row.user_id, frozenset(), verbs & ROLES[member.role][1])
