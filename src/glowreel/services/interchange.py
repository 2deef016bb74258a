"""Promos in and out of the Desk as OpenTimelineIO files and bundles."""

from __future__ import annotations

import secrets
import shutil
from pathlib import Path, PurePosixPath
from typing import Protocol
from urllib.parse import unquote, urlsplit

from sqlalchemy import select
from sqlalchemy.orm import Session

from glowreel.core.document import Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.media import Media
from glowreel.engine.probe import probe
from glowreel.interchange.bundles import Unpacked, check_media, file_of, read_foreign, read_own, unpack, write_bundle
from glowreel.services import promos, shelf
from glowreel.services.access import authorise
from glowreel.services.blob_keys import original
from glowreel.services.setup import Runtime
from glowreel.store.database import Unit
from glowreel.store.models import MediaFile, PromoRow, new_key


class SentFile(Protocol):
    """An uploaded file, as the web framework gives it."""

    filename: str | None

    def save(self, dst: str) -> None: ...


def save_bundle(runtime: Runtime, session: Session, promo_id: str, team_id: str) -> tuple[Path, str]:
    """Writes the promo as a bundle; answers with the file, which the caller removes, and its name."""
    row = authorise(session, PromoRow, promo_id, team_id)
    promo = promos.document(session, row)
    folder = Path(runtime.settings.cache) / "bundles"
    folder.mkdir(parents=True, exist_ok=True)
    path = folder / f"{secrets.token_hex(8)}.otioz"
    write_bundle(promo, lambda source: runtime.blobs.local(original(source)), path)
    plain = "".join(ch if ch.isalnum() else "-" for ch in promo.name).strip("-")[:60] or "promo"
    return path, f"{plain}.otioz"


def open_timeline(
    runtime: Runtime, unit: Unit, team_id: str, user_id: str | None, sent: SentFile | None
) -> tuple[PromoRow, str]:
    """Opens an uploaded bundle or timeline as a new promo; answers with a sentence about what is missing."""
    if sent is None or not sent.filename:
        raise Refusal("no-file", "Choose an .otioz bundle or an .otio file first.")
    folder = Path(runtime.settings.cache) / "bundles" / secrets.token_hex(8)
    folder.mkdir(parents=True)
    try:
        path = folder / "sent"
        sent.save(str(path))
        return _open(runtime, unit, team_id, user_id, unpack(path, folder))
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def _open(runtime: Runtime, unit: Unit, team_id: str, user_id: str | None, unpacked: Unpacked) -> tuple[PromoRow, str]:
    promo = read_own(unpacked.text, new_key)
    if promo is not None:
        check_media(promo, unpacked.hashes)
        names = {m.hash: m.name for m in promo.media.values()}
        rows = {}
        for source, member in unpacked.hashes.items():
            if source in names:
                rows[source] = _put_on_shelf(runtime, unit, team_id, names[source], source, unpacked.files[member])
        promo = _renamed(promo, {m.id: rows[m.hash].id for m in promo.media.values()})
        return promos.adopt(unit.session, team_id, user_id, promo, "Opened from a bundle"), ""
    known: dict[str, Media | None] = {}

    def find(url: str) -> Media | None:
        if url not in known:
            known[url] = _linked(runtime, unit, team_id, unpacked, url)
        return known[url]

    found = read_foreign(unpacked.text, find, new_key, new_key("p"))
    row = promos.adopt(unit.session, team_id, user_id, found.promo, "Opened from a timeline")
    lost = len(found.missing)
    notice = f"{lost} linked file{'s' * (lost != 1)} could not be found; filler holds their place." if lost else ""
    return row, notice


def _linked(runtime: Runtime, unit: Unit, team_id: str, unpacked: Unpacked, url: str) -> Media | None:
    """The media a link means: a file in the bundle, else one of that name on the team's Shelf."""
    path = file_of(unpacked, url)
    name = PurePosixPath(unquote(urlsplit(url).path)).name or "Linked file"
    if path is None:
        query = select(MediaFile).where(
            MediaFile.team_id == team_id, MediaFile.name == name, MediaFile.state == "ready",
            MediaFile.removed_at.is_(None),
        )  # fmt: skip
        row = unit.session.scalar(query.limit(1))
        return Media.model_validate(row.facts) if row is not None else None
    facts = probe(path, name)
    source, size = _received(runtime, path)
    row = shelf.add(unit, team_id, name, source, size)
    if row.facts:
        return Media.model_validate(row.facts)
    return Media(
        id=row.id, kind=facts.kind, name=row.name, hash=source, suffix=row.suffix, length=facts.length,
        width=facts.width, height=facts.height, rate=facts.rate, sounding=facts.sounding, alpha=facts.alpha,
    )  # fmt: skip


def _received(runtime: Runtime, path: Path) -> tuple[str, int]:
    with path.open("rb") as file:
        return shelf.receive(runtime.blobs, Path(runtime.settings.cache) / "uploads", file)


def _put_on_shelf(runtime: Runtime, unit: Unit, team_id: str, name: str, source: str, path: Path) -> MediaFile:
    found, size = _received(runtime, path)
    if found != source:
        raise Missing("changed", f"{name} was changed while it was read.", "Try once more.")
    return shelf.add(unit, team_id, name, source, size)


def _renamed(promo: Promo, ids: dict[str, str]) -> Promo:
    """The promo with its media under this team's identifiers, and as a promo of its own."""

    def item_media(content: object) -> object:
        media = getattr(content, "media", None)
        return content.changed(media=ids[media]) if media else content  # type: ignore[attr-defined]

    scenes = tuple(
        s.changed(clips=tuple(c.changed(media=ids[c.media]) if c.media else c for c in s.clips)) for s in promo.scenes
    )
    tracks = {
        side: tuple(
            t.changed(items=tuple(i.changed(content=item_media(i.content)) for i in t.items))
            for t in getattr(promo, side)
        )
        for side in ("layers", "sounds")
    }
    media = {ids[key]: m.changed(id=ids[key]) for key, m in promo.media.items()}
    return promo.changed(id=new_key("p"), scenes=scenes, media=media, **tracks)
