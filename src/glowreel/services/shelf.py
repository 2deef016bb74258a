"""The Shelf: taking files in and making what is needed from them."""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path, PurePosixPath
from typing import BinaryIO

from sqlalchemy import or_, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from glowreel.core.errors import BadMedia, Refusal
from glowreel.core.media import Media
from glowreel.engine import ingest
from glowreel.engine.limits import MAX_BYTES
from glowreel.engine.photo import load_photo
from glowreel.engine.probe import Facts, probe
from glowreel.engine.still import encode
from glowreel.services.access import authorise
from glowreel.services.blob_keys import derived, original
from glowreel.services.leases import LENGTH, Lease, Stopped, beating
from glowreel.services.live import announce_work
from glowreel.services.setup import Runtime
from glowreel.store.blobs import Blobs
from glowreel.store.database import Unit
from glowreel.store.models import MediaFile, new_key, now

MAX_ATTEMPTS = 3
AGAIN = timedelta(seconds=30)
BATCH = 20
PREVIEW_PHOTO_SIDE = 1440


def clean_name(name: str) -> tuple[str, str]:
    """A file name without any path or control letters, and its suffix if that is a plain one."""
    base = PurePosixPath(name.replace("\\", "/")).name
    base = "".join(ch for ch in base if ch.isprintable()).strip()[:200] or "Unnamed file"
    suffix = PurePosixPath(base).suffix.lower()
    plain = suffix if 1 < len(suffix) <= 9 and suffix[1:].isascii() and suffix[1:].isalnum() else ""
    return base, plain


def receive(
    blobs: Blobs, cache: Path, stream: BinaryIO, limit: int = MAX_BYTES, expected: int | None = None
) -> tuple[str, int]:
    """Streams an upload into the blob store under the hash of its bytes; answers with hash and size.

    Where it is known how much is to come, less than that is refused: a connection was cut, and half a file is none.
    """
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
        if expected is not None and size != expected:
            raise BadMedia("cut-off", "The file did not come in whole.", "Check the connection and send it again.")
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
    fresh = {"id": new_key("m"), "team_id": team_id, "name": name, "hash": source, "suffix": suffix, "size": size}
    # Two uploads of the same bytes may end at the same moment: the database keeps one of them.
    unit.session.execute(
        insert(MediaFile)
        .values(**fresh, sent_at=now())
        .on_conflict_do_nothing(index_elements=["team_id", "hash"], index_where=MediaFile.removed_at.is_(None))
    )
    same = (MediaFile.team_id == team_id, MediaFile.hash == source, MediaFile.removed_at.is_(None))
    row = unit.session.scalars(select(MediaFile).where(*same).execution_options(populate_existing=True)).one()
    if row.id == fresh["id"] or _tried_again(unit.session, row):
        unit.later("glowreel.ingest", row.id)
        announce_work(unit.session, team_id)
    return row


def _tried_again(session: Session, row: MediaFile) -> bool:
    """Queues a file that failed once more; false for any other."""
    values = {"state": "queued", "error": "", "progress": 0.0, "attempts": 0, "sent_at": now()}
    query = update(MediaFile).where(MediaFile.id == row.id, MediaFile.state == "failed").values(**values)
    again = session.execute(query.returning(MediaFile.id)).first() is not None
    session.refresh(row)
    return again


def sweep(unit: Unit) -> None:
    """Sends again what was forgotten: files that wait longer than usual, and those whose worker died."""
    long_ago = or_(MediaFile.sent_at.is_(None), MediaFile.sent_at < now() - AGAIN)
    stuck = select(MediaFile).where(
        MediaFile.removed_at.is_(None),
        or_(
            (MediaFile.state == "queued") & long_ago,
            (MediaFile.state == "running") & (MediaFile.lease_until < now()),
        ),
    )
    for row in unit.session.scalars(stuck.order_by(MediaFile.created_at).limit(BATCH)):
        row.sent_at = now()
        unit.later("glowreel.ingest", row.id)


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
    row = authorise(session, MediaFile, media_id, team_id)
    row.removed_at = now()
    return row


def claim(session: Session, media_id: str) -> MediaFile | None:
    """Takes the work on a file for this worker, unless it is done, not wanted, or another one is at it."""
    free = or_(MediaFile.state == "queued", (MediaFile.state == "running") & (MediaFile.lease_until < now()))
    claimed = session.execute(
        update(MediaFile)
        .where(MediaFile.id == media_id, free, MediaFile.removed_at.is_(None))
        .values(state="running", lease_until=now() + LENGTH, attempts=MediaFile.attempts + 1)
        .returning(MediaFile.id)
    ).first()
    return session.get(MediaFile, media_id, populate_existing=True) if claimed else None


def take_in(runtime: Runtime, media_id: str) -> None:
    """Looks at a file and makes its poster, strip, sound copy and stand-in. Its row tells how it goes and ends.

    Safe to call again at any time: what is there already is not made again.
    """
    with runtime.database.unit() as unit:
        row = claim(unit.session, media_id)
        if row is None:
            return
        unit.session.expunge(row)
    lease = Lease(runtime, MediaFile, media_id, row.attempts, ("running",))
    if row.attempts > MAX_ATTEMPTS:
        error = f"{row.name} could not be read: it stopped the program that tried."
        _finish(runtime, lease, row.team_id, {"state": "failed", "error": error})
        return
    try:
        with beating(lease):
            tell = _seldom(lambda share: lease.renew(progress=round(share, 3)))
            facts, strip = _make_all(runtime.blobs, row.hash, row.name, tell)
        values = _as_found(row, facts, strip)
    except Stopped:
        return
    except Refusal as refusal:
        values = {"state": "failed", "error": str(refusal)[:400]}
    except MemoryError:
        values = {"state": "failed", "error": f"{row.name} needs more memory than one file may take."}
    _finish(runtime, lease, row.team_id, values)


def _seldom(progress: Callable[[float], None]) -> Callable[[float], None]:
    last = [now()]

    def tell(share: float) -> None:
        if now() - last[0] > timedelta(seconds=0.4):
            last[0] = now()
            progress(share)

    return tell


def _as_found(row: MediaFile, facts: Facts, strip: ingest.Strip | None) -> dict[str, object]:
    """What a file's row says once it is ready."""
    measured = ("kind", "length", "width", "height", "rate", "sounding", "alpha")
    known = {field: getattr(facts, field) for field in measured}
    media = Media(id=row.id, name=row.name, hash=row.hash, suffix=row.suffix, **known)
    strip_facts = {"tiles": strip.tiles, "step": strip.step} if strip else None
    ready = {"state": "ready", "progress": 1.0, "error": ""}
    return {**ready, "facts": media.model_dump(mode="json"), "strip": strip_facts}


def _finish(runtime: Runtime, lease: Lease, team_id: str, values: dict[str, object]) -> None:
    if lease.finish(**values):
        with runtime.database.unit() as unit:
            announce_work(unit.session, team_id)


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
            blobs.write(derived(source, "samples"), lambda out: ingest.make_samples(path, out, progress))
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
