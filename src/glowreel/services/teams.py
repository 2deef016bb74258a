"""Teams: who is in them in which role, coming, going, and handing over.

Somebody may be in several teams and works in one of them at a time (`User.team_id`). A team always has an owner. What
somebody made stays with the team when they go; what was private to them goes to an owner, still private.
"""

from __future__ import annotations

from collections.abc import Iterable

from sqlalchemy import func, select, update
from sqlalchemy.orm import Session, joinedload

from glowreel.core.errors import Missing, Refusal
from glowreel.services import audit
from glowreel.services.access import ROLES, Actor, allow
from glowreel.services.live import announce_work
from glowreel.store.models import BrandRow, MediaFile, Member, PromoRow, Team, User, new_key

MOST_MEMBERS = 200
MOST_TEAMS = 30
LONGEST_NAME = 120


def clean(name: str) -> str:
    """A name as it is kept: one line of what can be printed."""
    return " ".join("".join(ch if ch.isprintable() else " " for ch in name).split())[:LONGEST_NAME]


def begin(session: Session, user: User, name: str) -> Team:
    """A new team that is that person's. Raises `Refusal` for whoever is in too many."""
    if len(mine(session, user.id)) >= MOST_TEAMS:
        raise Refusal("too-many", f"You are in {MOST_TEAMS} teams already.", "Leave one first.")
    team = Team(id=new_key("team"), name=clean(name) or f"{user.name[:100]}’s team")
    session.add(team)
    session.flush()
    session.add(Member(user_id=user.id, team_id=team.id, role="owner"))
    user.team_id = team.id
    session.flush()
    return team


def join(session: Session, user: User, team: Team, role: str) -> Member:
    """Puts somebody into a team, where they work from now on. Who is in it already keeps the larger of both roles."""
    there = session.get(Member, (user.id, team.id))
    if there is None:
        if count(session, team.id) >= MOST_MEMBERS:
            raise Refusal("full", f"A team has at most {MOST_MEMBERS} people.", "Ask its owner.")
        there = Member(user_id=user.id, team_id=team.id, role=role)
        session.add(there)
    elif len(ROLES[role][1]) > len(ROLES[there.role][1]):
        there.role = role
    user.team_id = team.id
    session.flush()
    return there


def count(session: Session, team: str) -> int:
    """How many people are in a team."""
    return session.scalar(select(func.count()).select_from(Member).where(Member.team_id == team)) or 0


def mine(session: Session, user_id: str) -> list[Member]:
    """The teams somebody is in, by name."""
    query = select(Member).join(Member.team).where(Member.user_id == user_id).options(joinedload(Member.team))
    return list(session.scalars(query.order_by(func.lower(Team.name), Team.id)))


def place_of(session: Session, user: User) -> Member:
    """Where somebody works now. Who was taken out of that team works in another one of theirs, or in a new one."""
    member = session.get(Member, (user.id, user.team_id))
    if member is None:
        others = mine(session, user.id)
        if not others:
            begin(session, user, "")
            return place_of(session, user)
        member = others[0]
        user.team_id = member.team_id
        session.flush()
    return member


def switch(session: Session, user_id: str, team: str) -> Team:
    """Has somebody work in another one of their teams. Raises `Missing` where it is none of theirs."""
    member = session.get(Member, (user_id, team))
    if member is None:
        raise Missing("no-team", "You are not in that team.")
    session.get_one(User, user_id).team_id = team
    return session.get_one(Team, team)


def members(session: Session, actor: Actor) -> list[Member]:
    """Everybody in the actor's team: owners first, then in the order in which they came."""
    allow(actor, "see")
    query = select(Member).where(Member.team_id == actor.team_id).options(joinedload(Member.user))
    order = list(ROLES)
    rows = session.scalars(query.order_by(Member.created_at).limit(MOST_MEMBERS))
    return sorted(rows, key=lambda one: order.index(one.role))


def names(session: Session, actor: Actor, keys: Iterable[str | None]) -> dict[str, str]:
    """What people of the actor's team are called, among these; nothing for whoever is gone."""
    wanted = {key for key in keys if key}
    if not wanted:
        return {}
    query = select(User.id, User.name).join(Member, Member.user_id == User.id)
    return dict(iter(session.execute(query.where(User.id.in_(wanted), Member.team_id == actor.team_id))))


def rename(session: Session, actor: Actor, name: str) -> None:
    """Gives the team another name."""
    allow(actor, "lead")
    if not clean(name):
        raise Refusal("name", "A team needs a name.")
    session.get_one(Team, actor.team_id).name = clean(name)


def set_role(session: Session, actor: Actor, user_id: str, role: str) -> Member:
    """Gives somebody of the team another role. Raises `Refusal` where no owner would be left."""
    allow(actor, "lead")
    member = _member(session, actor, user_id)
    if role not in ROLES:
        raise Refusal("no-role", "There is no such role.", "Choose one from the list.")
    if role != "owner":
        _needs_another_owner(session, actor, member)
    member.role = role
    audit.note(session, actor, "role", f"{session.get_one(User, user_id).name} {role}")
    announce_work(session, actor)
    return member


def hand_over(session: Session, actor: Actor, user_id: str) -> Member:
    """Makes somebody else an owner and oneself an editor, in one step."""
    heir = set_role(session, actor, user_id, "owner")
    if actor.user_id is not None and actor.user_id != user_id:
        set_role(session, actor, actor.user_id, "editor")
    return heir


def remove(session: Session, actor: Actor, user_id: str) -> User:
    """Takes somebody out of the team: an owner anybody, everybody themselves. What they made stays."""
    if user_id != actor.user_id:
        allow(actor, "lead")
    member = _member(session, actor, user_id)
    _needs_another_owner(session, actor, member)
    heir = session.scalar(
        select(Member.user_id).where(
            Member.team_id == actor.team_id, Member.role == "owner", Member.user_id != user_id
        ).order_by(Member.created_at).limit(1)
    )  # fmt: skip
    for kind in (PromoRow, MediaFile, BrandRow):
        theirs = (kind.team_id == actor.team_id, kind.user_id == user_id, kind.private)
        session.execute(update(kind).where(*theirs).values(user_id=heir))
    gone = session.get_one(User, user_id)
    audit.note(session, actor, *(("left",) if user_id == actor.user_id else ("taken-out", gone.name)))
    session.delete(member)
    session.flush()
    announce_work(session, actor)
    return session.get_one(User, user_id)


def _member(session: Session, actor: Actor, user_id: str) -> Member:
    member = session.get(Member, (user_id, actor.team_id), with_for_update=True)
    if member is None:
        raise Missing("no-member", "Nobody of that name is in your team.", "Reload the page.")
    return member


def _needs_another_owner(session: Session, actor: Actor, member: Member) -> None:
    """Refuses what would leave the team without an owner. Owners are locked meanwhile: two cannot go at once."""
    owners = select(Member).where(Member.team_id == actor.team_id, Member.role == "owner").with_for_update()
    if member.role == "owner" and len(session.scalars(owners).all()) < 2:
        raise Refusal("last-owner", "A team needs an owner.", "Make somebody else one first.")
