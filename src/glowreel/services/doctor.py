"""Looking an installation over: what every part answers, and whether what rows name is there, whole and readable."""

from __future__ import annotations

import hashlib
import shutil
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import redis
from sqlalchemy import func, select, text

from glowreel.core.errors import GlowReelError, Refusal
from glowreel.engine.makers import MAKERS
from glowreel.services.blob_keys import derived, original
from glowreel.services.brands import book_of
from glowreel.services.derivation import blob
from glowreel.services.exports import file_blob
from glowreel.services.leases import over
from glowreel.services.retention import batched
from glowreel.services.setup import Runtime
from glowreel.store.documents import json_of, unpack
from glowreel.store.models import (
    Batch,
    BrandRow,
    Delivery,
    Derived,
    ExportFile,
    ExportPiece,
    Letter,
    MediaFile,
    Opening,
    Post,
    PromoRow,
    Revision,
    Spoken,
    WatchPage,
)

WORK: dict[Any, tuple[str, str]] = {
    MediaFile: ("running", "files being looked at"),
    Opening: ("running", "timelines being opened"),
    Derived: ("running", "things being made of files"),
    Spoken: ("running", "texts being spoken"),
    ExportPiece: ("running", "pieces of films"),
    ExportFile: ("joining", "films being put together"),
    Batch: ("running", "tables being made"),
    Post: ("sending", "posts"),
    Delivery: ("running", "films on their way to a folder"),
    Letter: ("running", "letters"),
}
"""Kinds of work that somebody has in hand, by the state in which they do, and how they are called."""


@dataclass(frozen=True)
class Finding:
    """One thing that was looked at: whether it is well, and a sentence."""

    well: bool
    sentence: str


def examine(runtime: Runtime, *, deep: bool = False) -> Iterator[Finding]:
    """Looks an installation over, one finding after another. `deep` reads every file and every step as well."""
    try:
        with runtime.database.unit() as unit:
            unit.session.execute(text("SELECT 1"))
        runtime.database.check_version()
        yield Finding(True, "The database answers and is of this version.")
    except GlowReelError as error:
        yield Finding(False, str(error))
        return
    except Exception as error:
        yield Finding(False, f"The database cannot be reached: {str(error).splitlines()[0]}")
        return
    yield _queue(runtime)
    yield _pool(runtime)
    yield _disk(runtime)
    yield from _work(runtime)
    yield from _files(runtime, deep)
    yield from _documents(runtime, deep)


def _queue(runtime: Runtime) -> Finding:
    try:
        redis.Redis.from_url(runtime.settings.redis, socket_timeout=3).ping()
        return Finding(True, "The queue answers.")
    except (redis.RedisError, OSError) as error:
        return Finding(False, f"The queue cannot be reached: {error}")


def _pool(runtime: Runtime) -> Finding:
    try:
        runtime.limited.reach()
        return Finding(True, "The limited processes answer.")
    except GlowReelError as error:
        return Finding(False, f"The limited processes cannot be reached: {error}")


def _disk(runtime: Runtime) -> Finding:
    free = shutil.disk_usage(runtime.settings.cache).free
    enough = free > runtime.settings.reserve_mb * 1024**2
    return Finding(enough, f"{free / 1e9:.1f} GB of the disk are free.")


def _work(runtime: Runtime) -> Iterator[Finding]:
    """Work that nobody has a lease on, though it is said to be running."""
    lost = []
    with runtime.database.unit() as unit:
        for kind, (state, name) in WORK.items():
            query = select(func.count()).where(kind.state == state, kind.lease_until.is_not(None), over(kind))
            if count := unit.session.scalar(query):
                lost.append(Finding(False, f"{count} {name} have lost their worker."))
    yield from lost or [Finding(True, "No work is stuck.")]


def _files(runtime: Runtime, deep: bool) -> Iterator[Finding]:
    """Every file that a row names is there, whole, and has what previews need."""
    missing, changed, unmade = 0, 0, 0
    with runtime.database.unit() as unit:
        rows = unit.session.scalars(select(MediaFile).where(MediaFile.removed_at.is_(None)))
        for row in rows:
            key = original(row.hash)
            if not runtime.blobs.has(key):
                missing += 1
                continue
            if runtime.blobs.size(key) != row.size or (deep and _digest(runtime.blobs.local(key)) != row.hash):
                changed += 1
            needed = "samples" if row.facts and row.facts["kind"] == "sound" else "proxy"
            unmade += row.state == "ready" and not runtime.blobs.has(derived(row.hash, needed))
        films = unit.session.execute(select(ExportFile.id, ExportFile.form).where(ExportFile.state == "done"))
        missing += sum(not runtime.blobs.has(file_blob(key, form)) for key, form in films)
        pictures = unit.session.scalars(select(WatchPage.picture).where(WatchPage.picture != ""))
        missing += sum(not runtime.blobs.has(key) for key in pictures)
        for made in unit.session.scalars(select(Derived).where(Derived.state == "ready")):
            names = MAKERS[made.maker].files if made.maker in MAKERS else ()
            unmade += not all(runtime.blobs.has(blob(made, name)) for name in names)
    yield Finding(not missing, f"{missing} files are missing from the store." if missing else "Every file is there.")
    yield Finding(not changed, f"{changed} files are not what they were." if changed else "Every file has its size.")
    yield Finding(
        not unmade, f"{unmade} files lack what is made of them." if unmade else "Every file has what is made of it."
    )


def _digest(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def _documents(runtime: Runtime, deep: bool) -> Iterator[Finding]:
    """Every promo, template and brand can be read; with `deep`, every step of every promo."""
    broken, closed = 0, 0
    with runtime.database.unit() as unit:
        query = select(Revision.id)
        if not deep:
            query = query.join(PromoRow, PromoRow.head_id == Revision.id)
        ids = unit.session.scalars(query).all()
        for some in batched(ids, 50):
            for key in some:
                try:
                    unpack(json_of(unit.session, key))
                except Refusal:
                    broken += 1
        for row in unit.session.scalars(select(BrandRow)):
            try:
                book_of(row)
            except (Refusal, ValueError):
                closed += 1
    yield Finding(not broken, f"{broken} promos cannot be read." if broken else "Every promo can be read.")
    yield Finding(not closed, f"{closed} brands cannot be read." if closed else "Every brand can be read.")
