"""The Desk in order: promos found, sorted, put into folders, several at once; what was taken off, until it is gone."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from glowreel.core.errors import Refusal
from glowreel.services import promos
from glowreel.services.access import Actor, authorise, listed
from glowreel.services.retention import REMOVED_FOR
from glowreel.store.models import PromoRow, now

MOST = 60
"""Folders of a team at most."""
LISTED = 200
SORTS: dict[str, tuple[str, Any]] = {
    "changed": ("Last changed", PromoRow.updated_at.desc()),
    "made": ("Newest", PromoRow.created_at.desc()),
    "name": ("By name", func.lower(PromoRow.name)),
    "length": ("Longest", PromoRow.summary["length"].as_float().desc().nulls_last()),
}
"""The orders in which promos are listed."""


def find(session: Session, actor: Actor, words: str = "", folder: str | None = None, sort: str = "changed"
         ) -> list[PromoRow]:  # fmt: skip
    """The team's promos whose names have these words, of one folder (of all for None), in an order."""
    query = select(PromoRow).where(listed(PromoRow, actor), PromoRow.kind == "promo", PromoRow.removed_at.is_(None))
    for word in words.split()[:10]:
        query = query.where(PromoRow.name.icontains(word, autoescape=True))
    if folder is not None:
        query = query.where(PromoRow.folder == folder)
    order = SORTS.get(sort, SORTS["changed"])[1]
    return list(session.scalars(query.order_by(order, PromoRow.id).limit(LISTED)))


def folders(session: Session, actor: Actor) -> dict[str, int]:
    """The team's folders, with how many promos lie in each, by name."""
    query = select(PromoRow.folder, func.count()).where(
        listed(PromoRow, actor), PromoRow.kind == "promo", PromoRow.removed_at.is_(None),
        PromoRow.folder != "",
    )  # fmt: skip
    rows = session.execute(query.group_by(PromoRow.folder).order_by(func.lower(PromoRow.folder)))
    return {str(name): int(count) for name, count in rows}


def put(session: Session, actor: Actor, promo_ids: Iterable[str], folder: str) -> dict[str, str]:
    """Puts promos into a folder (out of any for nothing); answers with where each was before."""
    name = " ".join(folder.split())[:80]
    there = folders(session, actor)
    if name and name not in there and len(there) >= MOST:
        raise Refusal("too-many", f"A team has at most {MOST} folders.", "Empty one first.")
    before = {}
    for row in _rows(session, actor, promo_ids, "edit"):
        before[row.id] = row.folder
        row.folder = name
    return before


def remove(session: Session, actor: Actor, promo_ids: Iterable[str]) -> list[str]:
    """Takes promos off the Desk; answers with those that were there."""
    rows = _rows(session, actor, promo_ids, "remove")
    for row in rows:
        row.removed_at = now()
    return [row.id for row in rows]


def bring_back(session: Session, actor: Actor, promo_ids: Iterable[str]) -> int:
    """Puts promos that were taken off back on the Desk; answers with how many."""
    ids = list(dict.fromkeys(promo_ids))[:LISTED]
    rows = [authorise(session, PromoRow, key, actor, "remove", lock=True, removed=True) for key in ids]
    for row in rows:
        row.removed_at = None
    return len(rows)


def duplicate(session: Session, actor: Actor, promo_ids: Iterable[str]) -> list[str]:
    """Copies of promos, in the folders where they lie."""
    made = []
    for row in _rows(session, actor, promo_ids, "see"):
        copy = promos.duplicate(session, row.id, actor)
        copy.folder = row.folder
        made.append(copy.id)
    return made


def _rows(session: Session, actor: Actor, promo_ids: Iterable[str], verb: Any) -> list[PromoRow]:
    ids = list(dict.fromkeys(promo_ids))[:LISTED]
    if not ids:
        raise Refusal("nothing", "No promo is marked.", "Mark one first.")
    return [authorise(session, PromoRow, key, actor, verb, lock=verb != "see") for key in ids]


def taken_off(session: Session, actor: Actor) -> list[tuple[PromoRow, int]]:
    """What was taken off the Desk, last first, with how many days it can still be brought back."""
    query = select(PromoRow).where(listed(PromoRow, actor), PromoRow.removed_at.is_not(None))
    rows = session.scalars(query.order_by(PromoRow.removed_at.desc()).limit(LISTED))
    return [(row, max(0, ((row.removed_at or now()) + REMOVED_FOR - now()).days)) for row in rows]
