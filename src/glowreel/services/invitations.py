"""Invitations into a team: by a letter to an address, for one person; or by a link, for several."""

from __future__ import annotations

import re
from collections.abc import Callable
from datetime import timedelta

from sqlalchemy import select, update
from sqlalchemy.orm import Session, joinedload

from glowreel.core.errors import Missing, Refusal
from glowreel.services import audit, letters, teams
from glowreel.services.access import ROLES, Actor, allow
from glowreel.services.accounts import clean_address
from glowreel.services.setup import Runtime
from glowreel.store.database import Unit
from glowreel.store.keys import digest, key_of
from glowreel.store.models import Invitation, Member, Team, User, new_key, now

LASTS = timedelta(days=7)
BY_LINK = 20
"""So many people may come by one link."""
MOST = 50
ADDRESS = re.compile(r"[^@\s]+@[^@\s]+\.[^@\s]+")


def key(runtime: Runtime, row: Invitation) -> str:
    """The key in the address of an invitation."""
    return key_of(runtime.settings.secret, "invitation", row.id)


def by_letter(
    runtime: Runtime, unit: Unit, actor: Actor, addresses: str, role: str, link: Callable[[str], str]
) -> list[Invitation]:
    """Sends a letter to each of the addresses, which stand apart by blanks, commas or lines. Raises `Refusal`, sending
    none, where one of them is none, or is in the team already."""
    wanted = list(dict.fromkeys(clean_address(part) for part in re.split(r"[\s,;]+", addresses) if part))
    if not wanted:
        raise Refusal("no-address", "Type the address of whoever is to come.")
    strange = next((one for one in wanted if not ADDRESS.fullmatch(one)), None)
    if strange is not None:
        raise Refusal("email", f"“{strange[:80]}” is not an e-mail address.")
    there = select(User.email).join(Member, Member.user_id == User.id)
    known = unit.session.scalar(there.where(Member.team_id == actor.team_id, User.email.in_(wanted)).limit(1))
    if known is not None:
        raise Refusal("there", f"{known} is in the team already.", "Change the role in the list.")
    made = []
    for address in wanted:
        for old in standing(unit.session, actor):
            if old.email == address:
                old.ended_at = now()
        made.append(row := _made(runtime, unit.session, actor, role, address, 1))
        inviter, team = unit.session.get_one(User, row.user_id), unit.session.get_one(Team, row.team_id)
        text = (
            f"{inviter.name} invites you into the team “{team.name}” on Glow Reel, as {role}: whoever is that"
            f" {ROLES[role][0]}.\n\n{link(key(runtime, row))}\n\nThe link works for a week, once."
        )
        letters.write(unit, address, f"{inviter.name} invites you into {team.name}", text, about=row)
    return made


def by_link(runtime: Runtime, unit: Unit, actor: Actor, role: str) -> Invitation:
    """A link by which several people may come."""
    return _made(runtime, unit.session, actor, role, "", BY_LINK)


def _made(runtime: Runtime, session: Session, actor: Actor, role: str, email: str, most: int) -> Invitation:
    allow(actor, "lead")
    if actor.user_id is None:
        raise Refusal("no-person", "Only somebody of the team invites others.")
    if role not in ROLES:
        raise Refusal("no-role", "There is no such role.", "Choose one from the list.")
    if len(standing(session, actor)) >= MOST:
        raise Refusal("many", f"{MOST} invitations are open already.", "End one of them first.")
    row = Invitation(
        id=new_key("in"), team_id=actor.team_id, user_id=actor.user_id, role=role, email=email, most=most,
        until=now() + LASTS, digest="",
    )  # fmt: skip
    row.digest = digest(key(runtime, row))
    session.add(row)
    audit.note(session, actor, "invited", f"{email or 'whoever has a link'}, as {role}")
    session.flush()
    return row


def standing(session: Session, actor: Actor) -> list[Invitation]:
    """The team's invitations that still let somebody in, newest first."""
    query = select(Invitation).where(
        Invitation.team_id == actor.team_id, Invitation.ended_at.is_(None), Invitation.until > now(),
        Invitation.taken < Invitation.most,
    )  # fmt: skip
    return list(session.scalars(query.options(joinedload(Invitation.user)).order_by(Invitation.created_at.desc())))


def end(session: Session, actor: Actor, invitation_id: str) -> None:
    """Ends an invitation: it lets nobody in any more."""
    row = session.get(Invitation, invitation_id)
    if row is None or row.team_id != actor.team_id:
        raise Missing("not-yours", "There is no such invitation of your team.")
    allow(actor, "lead")
    row.ended_at = row.ended_at or now()
    audit.note(session, actor, "invitation-ended")


def find(session: Session, given: str) -> Invitation:
    """The invitation that a key opens, or `Missing` where it has ended."""
    row = session.scalar(
        select(Invitation).where(Invitation.digest == digest(given)).options(joinedload(Invitation.team))
    )
    if row is None or row.ended_at is not None or row.until < now() or row.taken >= row.most:
        raise Missing("invitation-ended", "This invitation has ended.", "Ask whoever sent it for a new one.")
    return row


def accept(session: Session, given: str, user: User) -> Member:
    """Lets somebody in by a key. Who is in the team already does not use it up."""
    row = find(session, given)
    if session.get(Member, (user.id, row.team_id)) is None:
        left = (Invitation.id == row.id, Invitation.taken < Invitation.most)
        counted = update(Invitation).where(*left).values(taken=Invitation.taken + 1)
        if session.execute(counted.returning(Invitation.id)).first() is None:
            raise Missing("invitation-ended", "This invitation has ended.", "Ask whoever sent it for a new one.")
        audit.note(session, Actor.person(user.id, row.team_id, row.role), "joined")
    return teams.join(session, user, row.team, row.role)
