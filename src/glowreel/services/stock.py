"""Ready-made material: searched, licensed, taken on to the Shelf, and credited where it is used."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from glowreel.core.errors import Refusal
from glowreel.outside.fetching import Fetched
from glowreel.outside.stock.entries import Entry, Found, Query
from glowreel.outside.stock.port import Stock
from glowreel.services import by_link
from glowreel.services.access import Actor, allow
from glowreel.services.setup import Runtime
from glowreel.services.sources import Origin
from glowreel.store.database import Unit
from glowreel.store.models import MediaFile, Upload

ENDINGS = {"footage": "mp4", "photo": "jpg", "illustration": "png", "music": "m4a", "effect": "m4a"}


@dataclass(frozen=True)
class Taken:
    """What became of taking something: the file, where it is on the Shelf already, else what is on its way."""

    media: str = ""
    upload: str = ""


def search(runtime: Runtime, actor: Actor, query: Query) -> Found:
    """What the catalogue has of what is asked. Raises `Refusal` where it cannot be asked."""
    allow(actor, "see")
    return Stock(runtime.settings.stock).search(query)


def small(runtime: Runtime, key: str, name: str) -> Fetched:
    """A small file of an entry: its picture, the same moving, or what it sounds like."""
    return Stock(runtime.settings.stock).small(key, name)


def on_shelf(session: Session, actor: Actor, source: str = "stock") -> dict[str, str]:
    """What of a service is on the team's Shelf: its files, by what they are there."""
    mine = (MediaFile.team_id == actor.team_id, MediaFile.removed_at.is_(None))
    of = MediaFile.origin["source"].astext == source
    return {str(key): str(media) for key, media in session.execute(
        select(MediaFile.origin["id"].astext, MediaFile.id).where(*mine, of)
    )}  # fmt: skip


def take(
    runtime: Runtime, unit: Unit, actor: Actor, key: str, *, agreed: bool = False, promo_id: str | None = None
) -> Taken:
    """Has an entry brought on to the Shelf, unless it is there. What is paid for needs that somebody `agreed` to its
    licence, once for a team."""
    allow(actor, "add")
    there = on_shelf(unit.session, actor).get(key)
    if there is not None:
        return Taken(media=there)
    catalogue = Stock(runtime.settings.stock)
    entry = catalogue.entry(key)
    licence = _licence(unit.session, actor, key)
    if entry.price and not licence:
        if not agreed:
            raise Refusal(
                "licence", f"{entry.name} is paid for: {entry.price} credits for this team.", "Take its licence first."
            )
        licence = catalogue.licence(key, actor.team_id)
    origin = Origin(
        source="stock", id=key, title=entry.name, credit=entry.credit, licence=entry.licence, key=licence
    )  # fmt: skip
    name = f"{entry.name.replace(' · ', ' ')}.{ENDINGS[entry.kind]}"
    return Taken(upload=by_link.begin(unit, actor, f"stock:{key}", name, promo_id, origin).id)


def _licence(session: Session, actor: Actor, key: str) -> str:
    """The licence that the team has of an entry, also of a file that was taken off the Shelf again."""
    had = select(MediaFile.origin["key"].astext).where(
        MediaFile.team_id == actor.team_id, MediaFile.origin["source"].astext == "stock",
        MediaFile.origin["id"].astext == key, MediaFile.origin["key"].astext != "",
    )  # fmt: skip
    coming = select(Upload.origin["key"].astext).where(
        Upload.team_id == actor.team_id, Upload.origin["source"].astext == "stock",
        Upload.origin["id"].astext == key, Upload.origin["key"].astext != "",
    )  # fmt: skip
    return str(session.scalar(had.limit(1)) or session.scalar(coming.limit(1)) or "")


def credited(session: Session, actor: Actor, media_ids: Sequence[str]) -> list[tuple[str, Origin]]:
    """Of some files of the team those that something has to be said of: their names, and where they came from."""
    query = select(MediaFile).where(
        MediaFile.team_id == actor.team_id, MediaFile.id.in_(media_ids), MediaFile.origin.is_not(None)
    )
    found = [(row.name, Origin.model_validate(row.origin)) for row in session.scalars(query.order_by(MediaFile.name))]
    return [(name, origin) for name, origin in found if origin.credit or origin.machine]


def credit_text(rows: Sequence[tuple[str, Origin]]) -> str:
    """The credits as a text to copy, a line for each file."""
    return "\n".join(
        f"{origin.title or name}: {'made by a machine' if origin.machine else origin.credit}"
        + (f" ({origin.licence})" if origin.licence else "")
        for name, origin in rows
    )


def offered(entry: Entry) -> str:
    """How an entry is dealt with on a timeline: as footage, a photo or sound."""
    return {"footage": "footage", "music": "sound", "effect": "sound"}.get(entry.kind, "photo")
