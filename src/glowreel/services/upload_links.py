"""Links by which files come in without an account: for one promo or the Shelf, for a while, for so many files."""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from datetime import timedelta

from sqlalchemy import select, update
from sqlalchemy.orm import Session

from glowreel.core.errors import Missing, Refusal
from glowreel.services import uploads
from glowreel.services.access import Actor, allow, authorise
from glowreel.services.setup import Runtime
from glowreel.store.database import Unit
from glowreel.store.models import PromoRow, Team, Upload, UploadLink, now

HOURS = {1: "an hour", 24: "a day", 168: "a week"}
"""How long a link may last, and how that is said."""
FILES = (5, 20, 100)
"""How many files may come by one."""
MOST = 20


@dataclass(frozen=True)
class Door:
    """What is behind a link: for whom it is, and how many more files may come."""

    link: UploadLink
    actor: Actor
    for_what: str
    left: int


def make(session: Session, actor: Actor, promo_id: str | None, hours: int, most: int) -> UploadLink:
    """A new link. Raises `Refusal` for a duration or number that is not offered."""
    allow(actor, "add")
    if actor.user_id is None:
        raise Refusal("no-person", "Only somebody of the team makes such links.")
    if hours not in HOURS or most not in FILES:
        raise Refusal("no-choice", "Choose how long and for how many files from the list.")
    if promo_id:
        authorise(session, PromoRow, promo_id, actor, "see")
    if len(standing(session, actor)) >= MOST:
        raise Refusal("many", f"{MOST} such links are open already.", "End one of them first.")
    link = UploadLink(
        id=f"l-{secrets.token_urlsafe(12)}", team_id=actor.team_id, user_id=actor.user_id, promo_id=promo_id or None,
        most=most, until=now() + timedelta(hours=hours),
    )  # fmt: skip
    session.add(link.open_link())
    session.flush()
    return link


def standing(session: Session, actor: Actor, promo_id: str | None = None) -> list[UploadLink]:
    """The team's links that still take files, newest first; with a promo, only its own."""
    query = select(UploadLink).where(
        UploadLink.team_id == actor.team_id, UploadLink.ended_at.is_(None), UploadLink.until > now()
    )
    if promo_id:
        query = query.where(UploadLink.promo_id == promo_id)
    return list(session.scalars(query.order_by(UploadLink.created_at.desc())))


def find(session: Session, actor: Actor, link_id: str) -> UploadLink:
    """One of the team's links, or `Missing`."""
    link = session.get(UploadLink, link_id)
    if link is None or link.team_id != actor.team_id:
        raise Missing("not-yours", "There is no such link of your team.")
    return link


def end(session: Session, actor: Actor, link_id: str) -> None:
    """Ends a link at once: nothing comes by it any more."""
    link = find(session, actor, link_id)
    link.ended_at = link.ended_at or now()


def opened(session: Session, token: str) -> Door:
    """What a link opens, or `Missing` where it has ended."""
    link = session.scalar(select(UploadLink).where(UploadLink.behind(token)))
    if link is None or link.ended_at is not None or link.until < now():
        raise Missing("link-ended", "This link has ended.", "Ask for a new one where you got it.")
    promo = session.get(PromoRow, link.promo_id) if link.promo_id else None
    team = session.get_one(Team, link.team_id)
    for_what = f"for “{promo.name}”" if promo is not None else f"for {team.name}"
    return Door(link, Actor.sender(link.id, link.team_id), for_what, max(0, link.most - link.taken))


def begin(runtime: Runtime, unit: Unit, token: str, name: str, size: int) -> Upload:
    """A file that begins to come by a link. It counts from now on, so that nobody begins more than may come."""
    door = opened(unit.session, token)
    counted = (
        update(UploadLink)
        .where(UploadLink.id == door.link.id, UploadLink.taken < UploadLink.most)
        .values(taken=UploadLink.taken + 1)
        .returning(UploadLink.id)
    )
    if unit.session.execute(counted).first() is None:
        raise Refusal("full", f"{door.link.most} files have come by this link: it takes no more.", "Ask for a new one.")
    return uploads.begin(runtime, unit, door.actor, name, size, link_id=door.link.id, promo_id=door.link.promo_id)
