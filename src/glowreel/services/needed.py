"""What the recipes of a promo are worked out with: looked up, begun where nobody is at it, waited for."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass

from sqlalchemy import select, tuple_
from sqlalchemy.orm import Session

from glowreel.core.derived import Facts, Need
from glowreel.core.document import Part, Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.recipe.needs import needs, needs_of
from glowreel.engine.makers import settings_key
from glowreel.services import derivation
from glowreel.services.access import Actor
from glowreel.store.database import Unit
from glowreel.store.models import Derived


@dataclass(frozen=True)
class Needed:
    """What was found by now; what is still being made, or is not begun; and a sentence where something failed."""

    facts: dict[Need, Facts]
    waiting: tuple[Need, ...] = ()
    failed: str = ""

    def known(self, need: Need) -> Facts | None:
        return self.facts.get(need)


def look(session: Session, promo: Promo) -> Needed:
    """How far all is that the recipes of a promo name; one query, and none where they name nothing."""
    wanted = {(need.source, need.maker, settings_key(need.maker, dict(need.settings))): need for need in needs(promo)}
    if not wanted:
        return Needed({})
    columns = tuple_(Derived.hash, Derived.maker, Derived.key)
    rows = {
        wanted[row.hash, row.maker, row.key]: row for row in session.scalars(select(Derived).where(columns.in_(wanted)))
    }
    names = {media.hash: media.name for media in promo.media.values()}
    ended = (
        f"{names[need.source]} could not be made ready: {row.error or 'it was stopped.'}"
        for need, row in rows.items()
        if row.state in ("failed", "stopped")
    )
    return Needed(
        {need: row.facts or {} for need, row in rows.items() if row.state == "ready"},
        tuple(need for need in wanted.values() if need not in rows or rows[need].state in ("queued", "running")),
        next(ended, ""),
    )


def going_on(session: Session, promo: Promo, part: Part) -> list[Derived]:
    """What is being made for a part, or was not made; nothing of what is there."""
    wanted = [
        (need.source, need.maker, settings_key(need.maker, dict(need.settings))) for need in needs_of(promo, part)
    ]
    if not wanted:
        return []
    columns = tuple_(Derived.hash, Derived.maker, Derived.key)
    query = select(Derived).where(columns.in_(wanted), Derived.state != "ready").order_by(Derived.id)
    return list(session.scalars(query))


def begin(unit: Unit, promo: Promo, actor: Actor, *, again: bool = False) -> None:
    """Has everything made that is not there; with `again`, also what failed or was stopped."""
    media = {media.hash: media.id for media in promo.media.values()}
    for need in needs(promo):
        # A file that is gone or not looked at yet: whoever draws or exports it says so.
        with suppress(Missing, Refusal):
            row = derivation.want(unit, media[need.source], actor, need.maker, dict(need.settings))
            if again:
                derivation.retry(unit, row.id, actor)
