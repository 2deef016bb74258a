"""Files fetched from an address: of the file itself, or of a page whose pictures, footage and logo are offered.

What may be fetched is decided in `outside.fetching`, at every hop. Pages are read within the request, files by a
worker, which writes them where uploads lie: they become files of the Shelf in the same way.
"""

from __future__ import annotations

import mimetypes
import re
import time
from dataclasses import dataclass
from datetime import timedelta
from pathlib import PurePosixPath
from urllib.parse import unquote, urlsplit

from sqlalchemy import select, update

from glowreel.core.errors import GlowReelError, Missing, Refusal
from glowreel.engine.limits import MAX_BYTES
from glowreel.interchange.page_media import Shown, shown_on
from glowreel.outside.fetching import MATERIAL, PAGE_BYTES, PAGES, PICTURE_BYTES, Fetched, Fetcher
from glowreel.services import shelf, sources, storage, uploads
from glowreel.services.access import Actor, allow, authorise
from glowreel.services.brand_pages import stand_ins
from glowreel.services.setup import Runtime
from glowreel.store.blobs import room_wanted
from glowreel.store.database import Unit
from glowreel.store.models import PromoRow, Upload, now

SECONDS = 1200.0
"""How long a file may take to come."""
EVERY = 2.0
DEAD = timedelta(seconds=60)
"""Whoever fetched a file says so every few seconds; after so long without, another one does."""
MOST = 40
THUMBNAILS = ("image/png", "image/jpeg", "image/webp", "image/gif", "image/avif")
"""Kinds of pictures that are shown as they came, before they are chosen."""


@dataclass(frozen=True)
class Offer:
    """What stands at an address: a file by itself, or a page with what it shows."""

    url: str
    file: bool
    shown: list[Shown]


def look(runtime: Runtime, actor: Actor, url: str) -> Offer:
    """What an address offers. Raises `Refusal` with a sentence for what may not or cannot be fetched."""
    allow(actor, "add")
    wanted = url.strip()[:2000]
    if not wanted:
        raise Refusal("no-address", "Enter the address of a file or of a page.")
    fetcher = Fetcher(stand_ins(runtime))
    kind, where = fetcher.kind(wanted)
    if kind.startswith(MATERIAL):
        return Offer(where, True, [])
    if not kind.startswith(PAGES):
        raise Refusal(
            "other-kind", f"What stands there is {kind or 'of no kind'}: neither a page nor something to be shown or "
            "heard.", "Try the address of a picture, of footage or of a page.",
        )  # fmt: skip
    page = fetcher.get(where, PAGES, PAGE_BYTES)
    shown = shown_on(page.text, page.url)
    if not shown:
        raise Refusal("nothing", "That page shows no pictures, footage or sounds.", "Try the address of one of them.")
    return Offer(page.url, False, shown)


def thumbnail(runtime: Runtime, url: str) -> Fetched:
    """A picture of a page, as it came, to be chosen from; only of kinds that browsers show and nothing runs in."""
    return Fetcher(stand_ins(runtime)).get(url, THUMBNAILS, PICTURE_BYTES)


def begin(
    unit: Unit, actor: Actor, url: str, name: str = "", promo_id: str | None = None,
    origin: sources.Origin | None = None,
) -> Upload:  # fmt: skip
    """Has a file fetched, from an address or from a service outside. Raises `Refusal` where too many are on their
    way."""
    allow(actor, "add")
    if promo_id:
        authorise(unit.session, PromoRow, promo_id, actor, "see")
    called, _ = shelf.clean_name(name or unquote(PurePosixPath(urlsplit(url).path).name) or "From the web")
    row = uploads.added(
        unit.session, actor, name=called, size=0, url=url, promo_id=promo_id or None, seen_at=now() - 2 * DEAD,
        origin=origin.model_dump() if origin is not None else None,
    )  # fmt: skip
    unit.later("glowreel.fetch", row.id)
    return row


def again(unit: Unit, actor: Actor, upload_id: str) -> None:
    """Tries to fetch once more what failed."""
    row = unit.session.get(Upload, upload_id)
    if row is None or row.team_id != actor.team_id or not row.url:
        raise Missing("no-upload", "There is no such file being fetched.")
    if row.error and row.media_id is None:
        row.error, row.seen_at = "", now() - 2 * DEAD
        unit.later("glowreel.fetch", row.id)


def carry_out(runtime: Runtime, upload_id: str) -> None:
    """Fetches one file, unless it is there, not wanted, or another worker is at it."""
    row = _claimed(runtime, upload_id)
    if row is None:
        return
    actor = Actor.program(row.team_id, row.user_id)
    try:
        _fetched(runtime, row, actor)
        uploads.finished(runtime, actor, row.id)
    except _NotWanted:
        uploads.part_of(runtime, row.id).unlink(missing_ok=True)
    except Refusal as refusal:
        _tell(runtime, row.id, error=str(refusal)[:400])


class _NotWanted(GlowReelError):
    """The row has gone: somebody ended it."""


def _claimed(runtime: Runtime, upload_id: str) -> Upload | None:
    with runtime.database.unit() as unit:
        free = (Upload.media_id.is_(None), Upload.error == "", Upload.url != "", Upload.seen_at < now() - DEAD)
        query = update(Upload).where(Upload.id == upload_id, *free).values(seen_at=now()).returning(Upload.id)
        if unit.session.execute(query).first() is None:
            return None
        row = unit.session.get_one(Upload, upload_id, populate_existing=True)
        unit.session.expunge(row)
        return row


def _tell(runtime: Runtime, upload_id: str, **values: object) -> None:
    """Writes to the row, and says that it is being worked on; raises where it has gone."""
    with runtime.database.unit() as unit:
        query = update(Upload).where(Upload.id == upload_id).values(seen_at=now(), **values).returning(Upload.id)
        if unit.session.execute(query).first() is None:
            raise _NotWanted("it was ended")


def _fetched(runtime: Runtime, row: Upload, actor: Actor) -> None:
    told = [0.0, -1.0]

    def tell(size: int) -> None:
        if size != told[1]:
            with runtime.database.unit() as unit:
                storage.check_room(runtime, unit.session, actor, size)
        if size != told[1] or time.monotonic() - told[0] > EVERY:
            told[:] = [time.monotonic(), size]
            _tell(runtime, row.id, size=size)

    part = uploads.part_of(runtime, row.id)
    with room_wanted(), part.open("wb") as file:
        if sources.is_outside(row.url):
            sources.save(runtime, row, file, MAX_BYTES, tell)
            name = row.name
        else:
            saved = Fetcher(stand_ins(runtime), seconds=SECONDS).save(row.url, file, MATERIAL, MAX_BYTES, tell)
            name = _name(row.name, saved.named, saved.kind)
    size = part.stat().st_size
    if not size:
        raise Refusal("empty", "What stands there is empty.", "Check the address.")
    _tell(runtime, row.id, size=size, name=name)


def _name(known: str, named: str, kind: str) -> str:
    """What a file is called: as its server says, else as its address does; with the suffix of its kind."""
    said = re.search(r"filename\*?=(?:UTF-8'')?\"?([^\";]+)", named)
    name, suffix = shelf.clean_name(unquote(said[1]) if said else known)
    return name if suffix else name + (mimetypes.guess_extension(kind) or "")


def sweep(unit: Unit) -> None:
    """Sends again what was forgotten, and whose worker died."""
    free = (Upload.media_id.is_(None), Upload.error == "", Upload.url != "", Upload.seen_at < now() - DEAD)
    for key in unit.session.scalars(select(Upload.id).where(*free).limit(20)):
        unit.later("glowreel.fetch", key)
