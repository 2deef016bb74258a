"""The Shelf: taking files in and making what is needed from them."""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path, PurePosixPath
from typing import BinaryIO

from sqlalchemy import or_, select, update
from sqlalchemy.orm import Session

from glowreel.core.errors import BadMedia, Refusal
from glowreel.core.media import Media
from glowreel.engine import ingest
from glowreel.engine.limits import MAX_BYTES
from glowreel.engine.photo import load_photo
from glowreel.engine.probe import Facts, probe
from glowreel.engine.still import encode
from glowreel.services.access import own
from glowreel.services.places import derived, original
from glowreel.services.setup import Parts
from glowreel.store.blobs import Blobs
from glowreel.store.database import Unit
from glowreel.store.models import MediaFile, new_key, now

LEASE = timedelta(seconds=45)
MAX_ATTEMPTS = 3
PREVIEW_PHOTO_SIDE = 1440


def clean_name(name: str) -> tuple[str, str]:
    """A file name without any path or control letters, and its suffix if that is a plain one."""
    base = PurePosixPath(name.replace("\\", "/")).name
    base = "".join(ch for ch in base if ch.isprintable()).strip()[:200] or "Unnamed file"
    suffix = PurePosixPath(base).suffix.lower()
    plain = suffix if 1 < len(suffix) <= 9 and suffix[1:].isascii() and suffix[1:].isalnum() else ""
    return base, plain


def receive(blobs: Blobs, cache: Path, stream: BinaryIO, limit: int = MAX_BYTES) -> tuple[str, int]:
    """Streams an upload into the blob store under the hash of its bytes; answers with hash and size."""
    cache.mkdir(parents=True, exist_ok=True)
    part = cache / f"upload-{secrets.token_hex(8)}"
    digest, size = hashlib.sha256(), 0
    try:
        with part.open("wb") as file:
            while block := stream.read(1 << 20):
                size += len(block)
                if size > limit:
                    raise BadMedia("too-large", "The file is larger than 2 GB.", "Export a smaller copy first.")
                digest.update(block)
                file.write(block)
        key = original(digest.hexdigest())
        if size and not blobs.has(key):
            blobs.take(key, part)
    finally:
        part.unlink(missing_ok=True)
    return digest.hexdigest(), size


def add(unit: Unit, team_id: str, name: str, source: str, size: int) -> MediaFile:
    """Puts a received file on the team's Shelf and has it looked at. The same bytes are not put there twice."""
    name, suffix = clean_name(name)
    if not size:
        raise BadMedia("empty", f"{name} is empty.", "Choose it again from where it was made.")
    query = select(MediaFile).where(
        MediaFile.team_id == team_id, MediaFile.hash == source, MediaFile.removed_at.is_(None)
    )
    row = unit.session.scalar(query.limit(1))
    if row is not None and row.state != "failed":
        return row
    if row is None:
        row = MediaFile(id=new_key("m"), team_id=team_id, name=name, hash=source, suffix=suffix, size=size)
        unit.session.add(row)
    row.state, row.error, row.progress, row.attempts = "queued", "", 0.0, 0
    unit.session.flush()
    unit.later("glowreel.ingest", row.id)
    return row


def list_media(session: Session, team_id: str, find: str = "", kind: str = "") -> list[MediaFile]:
    """The team's files, newest first; `find` matches names, `kind` is footage, photo or sound."""
    query = select(MediaFile).where(MediaFile.team_id == team_id, MediaFile.removed_at.is_(None))
    if find.strip():
        query = query.where(MediaFile.name.icontains(find.strip(), autoescape=True))
    if kind in ("footage", "photo", "sound"):
        query = query.where(MediaFile.facts["kind"].astext == kind)
    return list(session.scalars(query.order_by(MediaFile.created_at.desc(), MediaFile.id).limit(400)))


def remove(session: Session, media_id: str, team_id: str) -> MediaFile:
    """Takes a file off the Shelf. Promos that use it keep it."""
    row = own(session, MediaFile, media_id, team_id)
    row.removed_at = now()
    return row


def claim(session: Session, media_id: str) -> MediaFile | None:
    """Takes the work on a file for this worker, unless it is done or another one is at it."""
    free = or_(MediaFile.state == "queued", (MediaFile.state == "running") & (MediaFile.lease_until < now()))
    claimed = session.execute(
        update(MediaFile)
        .where(MediaFile.id == media_id, free)
        .values(state="running", lease_until=now() + LEASE, attempts=MediaFile.attempts + 1)
        .returning(MediaFile.id)
    ).first()
    return session.get(MediaFile, media_id, populate_existing=True) if claimed else None


def take_in(parts: Parts, media_id: str) -> None:
    """Looks at a file and makes its poster, strip, sound copy and stand-in. Its row tells how it goes and ends.

    Safe to call again at any time: what is there already is not made again.
    """
    with parts.database.unit() as unit:
        row = claim(unit.session, media_id)
        if row is None:
            return
        source, name = row.hash, row.name
        given_up = row.attempts > MAX_ATTEMPTS
    if given_up:
        _finish(parts, media_id, error=f"{name} could not be read: it stopped the program that tried.")
        return

    def progress(share: float) -> None:
        with parts.database.unit() as unit:
            values = {"progress": round(share, 3), "lease_until": now() + LEASE}
            unit.session.execute(update(MediaFile).where(MediaFile.id == media_id).values(**values))

    try:
        facts, strip = _make_all(parts.blobs, source, name, _seldom(progress))
    except Refusal as refusal:
        _finish(parts, media_id, error=str(refusal))
    except MemoryError:
        _finish(parts, media_id, error=f"{name} needs more memory than one file may take.")
    else:
        _finish(parts, media_id, facts=facts, strip=strip)


def _seldom(progress: Callable[[float], None]) -> Callable[[float], None]:
    last = [now()]

    def tell(share: float) -> None:
        if now() - last[0] > timedelta(seconds=0.4):
            last[0] = now()
            progress(share)

    return tell


def _finish(
    parts: Parts, media_id: str, facts: Facts | None = None, strip: ingest.Strip | None = None, error: str = ""
) -> None:
    with parts.database.unit() as unit:
        row = unit.session.get(MediaFile, media_id, with_for_update=True)
        if row is None:
            return
        row.lease_until = None
        if facts is None:
            row.state, row.error = "failed", error[:400]
            return
        media = Media(
            id=row.id,
            kind=facts.kind,
            name=row.name,
            hash=row.hash,
            suffix=row.suffix,
            length=facts.length,
            width=facts.width,
            height=facts.height,
            rate=facts.rate,
            sounding=facts.sounding,
            alpha=facts.alpha,
        )
        row.facts = media.model_dump(mode="json")
        row.strip = {"tiles": strip.tiles, "step": strip.step} if strip else None
        row.state, row.progress, row.error = "ready", 1.0, ""


def _make_all(
    blobs: Blobs, source: str, name: str, progress: Callable[[float], None]
) -> tuple[Facts, ingest.Strip | None]:
    """Everything made from one file. Raises `BadMedia`."""
    path = blobs.local(original(source))
    facts = probe(path, name)
    if facts.kind != "sound":
        blobs.write(derived(source, "poster.jpg"), lambda out: ingest.make_poster(path, facts, out))
    if facts.sounding:
        if not blobs.has(derived(source, "samples")):
            blobs.write(derived(source, "samples"), lambda out: ingest.make_samples(path, out))
        samples = blobs.local(derived(source, "samples"))
        blobs.write(derived(source, "peaks"), lambda out: ingest.make_peaks(samples, out))
        if facts.kind == "sound":
            # What a container says about its length is often a guess; the samples are the truth.
            facts = ingest.with_length(facts, samples)
    strip = None
    if facts.kind == "photo":
        blobs.write(derived(source, "proxy"), lambda out: _preview_photo(path, out))
    elif facts.kind == "footage" and not facts.animated:
        facts, strip = _make_stand_in(blobs, path, source, facts, progress)
    return facts, strip


def _make_stand_in(
    blobs: Blobs, path: Path, source: str, facts: Facts, progress: Callable[[float], None]
) -> tuple[Facts, ingest.Strip]:
    made: list[tuple[Facts, ingest.Strip]] = []

    def both(strip_out: Path) -> None:
        def proxy(out: Path) -> None:
            made.append(ingest.make_proxy(path, facts, out, strip_out, progress))

        blobs.write(derived(source, "proxy"), proxy)

    blobs.write(derived(source, "strip.jpg"), both)
    return made[0]


def _preview_photo(path: Path, out: Path) -> None:
    """A photo for previews: small, and kept without loss, so that only its size differs from the export's."""
    pixels = load_photo(path, PREVIEW_PHOTO_SIDE)
    out.write_bytes(encode(pixels, ".png"))
