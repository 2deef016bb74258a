"""Private or the team's: one press each way, for promos, templates, files and brands, with who did it.

A private promo, with its exports, is there for nobody else. A private file or brand is not listed for others, and is
seen by them as a part of the team's promos that use it.
"""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy.orm import Session

from glowreel.core.errors import Missing, Refusal
from glowreel.services import audit, teams
from glowreel.services.access import Actor, authorise
from glowreel.services.live import announce_work
from glowreel.store.models import BrandRow, MediaFile, PromoRow

Kind = type[PromoRow] | type[MediaFile] | type[BrandRow]
Row = PromoRow | MediaFile | BrandRow
KINDS: dict[str, Kind] = {"promo": PromoRow, "file": MediaFile, "brand": BrandRow}
"""What can be shared, by what an address calls it."""


def find(session: Session, actor: Actor, kind: str, key: str) -> Row:
    """The thing of that kind. Raises `Missing`."""
    if kind == "promo":
        return authorise(session, PromoRow, key, actor, "see")
    if kind == "file":
        return authorise(session, MediaFile, key, actor, "see")
    if kind == "brand":
        return authorise(session, BrandRow, key, actor, "see")
    raise Missing("no-kind", "There is nothing at this address.")


def share(session: Session, actor: Actor, kind: str, key: str, *, private: bool) -> Row:
    """Makes a thing private to the actor, or the team's. Raises `Refusal` for what somebody else made, unless the actor
    leads the team."""
    row = find(session, actor, kind, key)
    if actor.user_id is None:
        raise Refusal("no-person", "Only somebody of the team shares things.")
    theirs = row.user_id in (actor.user_id, None)
    if not theirs and not (actor.may("lead") and not private):
        owner = teams.names(session, actor, [row.user_id]).get(row.user_id or "")
        if owner or not actor.may("lead"):
            raise Refusal("not-yours", f"{owner or 'Somebody who left'} made this.", "Ask them, or make a copy.")
    if private:
        row.user_id, row.shared_by = actor.user_id, None
    elif row.private:
        row.shared_by = actor.user_id
    row.private = private
    audit.note(session, actor, "made-private" if private else "shared", f"“{row.name}”")
    session.flush()
    announce_work(session, actor)
    return row


def marks(session: Session, actor: Actor, rows: Sequence[Row]) -> dict[str, str]:
    """What is said of each row about whose it is, where something is to be said: nothing for what the team always
    had."""
    known = teams.names(session, actor, [row.shared_by for row in rows if row.shared_by != actor.user_id])
    told = {}
    for row in rows:
        if row.private:
            told[row.id] = "only you"
        elif row.shared_by is not None:
            who = "you" if row.shared_by == actor.user_id else known.get(row.shared_by, "somebody who left")
            told[row.id] = f"shared by {who}"
    return told
