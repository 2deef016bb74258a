"""Find anything: promos, files, templates, brands and pages of a team in one list. Each sort is a row of `SORTS`."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from glowreel.core.finding import Entry, found
from glowreel.outside.drive.port import NAME as DRIVE
from glowreel.services import templates
from glowreel.services.access import Actor, allow, listed
from glowreel.store.models import BrandRow, MediaFile, PromoRow

MOST = 14
MOST_READ = 20_000
"""So many of a sort are looked through."""
FONTS = (".ttf", ".otf", ".woff", ".woff2")
"""Files of letters lie in brands and are not listed."""

PAGES: dict[str, tuple[str, str, str]] = {
    "desk.desk": ("Desk", "promos start home", "house"),
    "gallery.gallery": ("Templates", "gallery designs start", "collection-play"),
    "shelf.page": ("Shelf", "files material footage photos music folders tags", "collection"),
    "sources.stock_page": ("Stock", "ready-made footage photos illustrations music catalogue licence", "archive"),
    "picturing.page": ("Pictures from words", "make picture illustration machine prompt", "brush"),
    "driving.page": (DRIVE, "cloud drive folders files", "cloud"),
    "brands.book": ("Brand book", "logo colours fonts palette", "palette"),
    "going.page": ("Going out", "calendar channels publish posts plan week", "calendar3"),
    "exports.listing": ("Exports", "films downloads links", "film"),
    "gallery.hero_page": ("From one picture", "start hero product photo", "image"),
    "gallery.manner_page": ("In your manner", "start brand designs", "shuffle"),
    "batches.listing": ("Promos from a table", "csv xlsx sheet rows batch many", "table"),
    "scripts.script": ("From a script", "start text brief page voice", "card-text"),
    "desk.taken_off": ("Bin", "removed promos bring back", "trash3"),
    "programs.page": ("Programs", "api tokens scripts automation", "key"),
    "account.account": ("Your account", "password sign-ins wishes name", "person"),
    "storage.page": ("What takes room", "storage quota files large", "hdd"),
}
"""Pages that can be found: their name, other words for them, and an icon, by endpoint."""


@dataclass(frozen=True)
class Sort:
    """A sort of things: what it is called, its icon, what lists its entries (their keys begin with the sort), and which
    endpoint shows one, with the name of the argument that says which."""

    label: str
    icon: str
    listed: Callable[[Session, Actor], Iterator[Entry]]
    endpoint: str
    argument: str


@dataclass(frozen=True)
class Found:
    """Something that was found: its sort and key, its name, and where it is shown."""

    sort: str
    key: str
    name: str
    label: str
    icon: str
    endpoint: str
    arguments: dict[str, Any]


def _time(moment: datetime | None) -> float:
    return moment.timestamp() if moment is not None else 0.0


def _promos(session: Session, actor: Actor) -> Iterator[Entry]:
    mine = (listed(PromoRow, actor), PromoRow.removed_at.is_(None), PromoRow.kind == "promo")
    query = select(PromoRow.id, PromoRow.name, PromoRow.folder, PromoRow.updated_at).where(*mine).limit(MOST_READ)
    for key, name, folder, changed in session.execute(query):
        yield Entry(f"promo:{key}", name, folder, _time(changed))


def _files(session: Session, actor: Actor) -> Iterator[Entry]:
    # By their suffix: looking into the facts of ten thousand files takes longer than all the rest.
    mine = (listed(MediaFile, actor), MediaFile.removed_at.is_(None), MediaFile.suffix.not_in(FONTS))
    query = select(MediaFile.id, MediaFile.name, MediaFile.created_at).where(*mine).limit(MOST_READ)
    for key, name, created in session.execute(query):
        yield Entry(f"file:{key}", name, "", _time(created))


def _templates(session: Session, actor: Actor) -> Iterator[Entry]:
    for card in templates.cards(session, actor):
        yield Entry(f"template:{card.key}", card.name, f"template {card.facts.category}", _time(card.used_at))


def _brands(session: Session, actor: Actor) -> Iterator[Entry]:
    mine = (listed(BrandRow, actor), BrandRow.removed_at.is_(None))
    for key, name, created in session.execute(select(BrandRow.id, BrandRow.name, BrandRow.created_at).where(*mine)):
        yield Entry(f"brand:{key}", name, "brand book", _time(created))


SORTS: dict[str, Sort] = {
    "promo": Sort("promo", "play-btn", _promos, "editor.editor", "promo_id"),
    "file": Sort("file", "file-earmark-play", _files, "shelf.page", "show"),
    "template": Sort("template", "collection-play", _templates, "gallery.page", "template"),
    "brand": Sort("brand", "palette", _brands, "brands.page", "brand_id"),
}


def find(session: Session, actor: Actor, query: str) -> list[Found]:
    """What a query means, best first; with nothing asked, what was used last. Pages are found by what they are for."""
    allow(actor, "see")
    entries = [entry for sort in SORTS.values() for entry in sort.listed(session, actor)]
    entries += [Entry(f"page:{endpoint}", name, words) for endpoint, (name, words, _) in PAGES.items()]
    return [_told(entry) for entry in found(query[:200], entries, MOST)]


def _told(entry: Entry) -> Found:
    sort, _, key = entry.key.partition(":")
    if sort == "page":
        return Found(sort, key, entry.name, "page", PAGES[key][2], key, {})
    kind = SORTS[sort]
    return Found(sort, key, entry.name, kind.label, kind.icon, kind.endpoint, {kind.argument: key})
