"""The Shelf: taking files in and making what is needed from them."""

from __future__ import annotations

import hashlib
import logging
import secrets
import time
from collections.abc import Callable, Sequence
from datetime import datetime, timedelta
from pathlib import Path, PurePosixPath
from typing import BinaryIO

from sqlalchemy import func, or_, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, aliased

from glowreel.core.errors import BadMedia, Fault, GlowReelError, NoRoom, Refusal
from glowreel.engine.limits import MAX_BYTES
from glowreel.engine.office import SUFFIXES as SLIDES
from glowreel.engine.pages import is_document
from glowreel.limited.client import Died, Interrupted
from glowreel.services import storage, transcripts
from glowreel.services.access import Actor, allow, authorise, listed
from glowreel.services.blob_keys import derived, original
from glowreel.services.leases import LENGTH, MOST_LOST, Lease, Stopped, beating, long_since, over
from glowreel.services.live import announce_work
from glowreel.services.setup import Runtime
from glowreel.services.wishes import wishes
from glowreel.store.blobs import Blobs, room_wanted
from glowreel.store.database import Unit
from glowreel.store.models import MediaFile, new_key, now

log = logging.getLogger(__name__)

MAX_DEATHS = 2
MAKER = 2
"""Raised whenever more is made of a file than before: what was made by less is made anew."""
AGAIN = timedelta(seconds=10)
WAIT = 20.0
BATCH = 4
"""A message only says that there is something to do: a few are enough, however much waits."""


def clean_name(name: str) -> tuple[str, str]:
    """A file name without any path or control letters, and its suffix if that is a plain one."""
    base = PurePosixPath(name.replace("\\", "/")).name
    base = "".join(ch for ch in base if ch.isprintable()).strip()[:200] or "Unnamed file"
    suffix = PurePosixPath(base).suffix.lower()
    plain = suffix if 1 < len(suffix) <= 9 and suffix[1:].isascii() and suffix[1:].isalnum() else ""
    return base, plain


def receive(
    blobs: Blobs,
    cache: Path,
    stream: BinaryIO,
    limit: int = MAX_BYTES,
    expected: int | None = None,
    checksum: bytes | None = None,
) -> tuple[str, int]:
    """Streams an upload into the blob store under the hash of its bytes; answers with hash and size.

    Where it is known how much is to come, less than that is refused: a connection was cut, and half a file is none.
    So is what does not have the SHA-256 that was sent along.
    """
    cache.mkdir(parents=True, exist_ok=True)
    part = cache / f"upload-{secrets.token_hex(8)}"
    digest, size = hashlib.sha256(), 0
    try:
        with room_wanted(), part.open("wb") as file:
            while block := stream.read(1 << 20):
                size += len(block)
                if size > limit:
                    raise BadMedia("too-large", "The file is larger than 2 GB.", "Export a smaller copy first.")
                digest.update(block)
                file.write(block)
        if expected is not None and size != expected:
            raise BadMedia("cut-off", "The file did not come in whole.", "Check the connection and send it again.")
        if checksum is not None and digest.digest() != checksum:
            raise BadMedia("changed", "The file came in changed: it is not what was sent.", "Send it again.")
        key = original(digest.hexdigest())
        if size and not blobs.has(key):
            blobs.take(key, part)
    finally:
        part.unlink(missing_ok=True)
    return digest.hexdigest(), size


def add(unit: Unit, actor: Actor, name: str, source: str, size: int) -> MediaFile:
    """Puts a received file on the team's Shelf and has it looked at. The same bytes are not put there twice."""
    allow(actor, "add")
    name, suffix = clean_name(name)
    if not size:
        raise BadMedia("empty", f"{name} is empty.", "Choose it again from where it was made.")
    private = actor.kind == "person" and wishes(unit.session, actor)["private_first"]
    fresh = {
        "id": new_key("m"), "team_id": actor.team_id, "user_id": actor.user_id, "name": name, "hash": source,
        "suffix": suffix, "size": size, "private": private,
    }  # fmt: skip
    # Two uploads of the same bytes may end at the same moment: the database keeps one of them.
    unit.session.execute(
        insert(MediaFile)
        .values(**fresh, sent_at=now())
        .on_conflict_do_nothing(index_elements=["team_id", "hash"], index_where=MediaFile.removed_at.is_(None))
    )
    same = (MediaFile.team_id == actor.team_id, MediaFile.hash == source, MediaFile.removed_at.is_(None))
    row = unit.session.scalars(select(MediaFile).where(*same).execution_options(populate_existing=True)).one()
    if not private or row.user_id != actor.user_id:
        row.private = False  # Somebody else has it as well: it is no secret of the one who brought it in.
    if row.id == fresh["id"] or _tried_again(unit.session, row):
        unit.later("glowreel.ingest", row.id)
        announce_work(unit.session, actor)
    return row


def lent(unit: Unit, actor: Actor, row: MediaFile, name: str = "") -> MediaFile:
    """The same bytes on another team's Shelf. What was found of them is known there too, and not looked for again."""
    made = add(unit, actor, name or row.name, row.hash, row.size)
    if not made.usable and row.usable and row.facts is not None:
        made.facts = {**row.facts, "id": made.id, "name": made.name}
        made.strip, made.state, made.progress, made.made, made.error = row.strip, "ready", 1.0, row.made, ""
    return made


def try_again(unit: Unit, row: MediaFile) -> None:
    """Has a file looked at once more that could not be read."""
    if _tried_again(unit.session, row):
        unit.later("glowreel.ingest", row.id)


def _tried_again(session: Session, row: MediaFile) -> bool:
    """Queues a file that failed once more; false for any other."""
    values = {"state": "queued", "error": "", "progress": 0.0, "attempts": 0, "sent_at": now()}
    query = update(MediaFile).where(MediaFile.id == row.id, MediaFile.state == "failed").values(**values)
    again = session.execute(query.returning(MediaFile.id)).first() is not None
    session.refresh(row)
    return again


def sweep(unit: Unit) -> None:
    """Sends again what was forgotten: files that wait longer than usual, and those whose worker died."""
    long_ago = long_since(MediaFile.sent_at, AGAIN)
    stuck = select(MediaFile).where(
        MediaFile.removed_at.is_(None),
        or_(
            (MediaFile.state == "queued") & long_ago,
            (MediaFile.state == "running") & over(MediaFile),
        ),
    )
    for row in unit.session.scalars(stuck.order_by(MediaFile.created_at).limit(BATCH)):
        row.sent_at = now()
        unit.later("glowreel.ingest", row.id)


def list_media(session: Session, actor: Actor, find: str = "", kind: str = "") -> list[MediaFile]:
    """The team's files, newest first; `find` matches names, `kind` is one of those of media."""
    query = select(MediaFile).where(listed(MediaFile, actor), MediaFile.removed_at.is_(None))
    if find.strip():
        named = MediaFile.name.icontains(find.strip(), autoescape=True)
        query = query.where(or_(named, transcripts.said_like(find, actor)))
    if kind in ("footage", "photo", "sound", "look"):
        query = query.where(MediaFile.facts["kind"].astext == kind)
    # Fonts lie in brands.
    query = query.where(func.coalesce(MediaFile.facts["kind"].astext, "") != "font")
    return list(session.scalars(query.order_by(MediaFile.created_at.desc(), MediaFile.id).limit(400)))


def posters(session: Session, blobs: Blobs, actor: Actor, ids: Sequence[str]) -> list[bytes]:
    """The small pictures of some files of the team, as JPEG, in the order given; those that are gone are left out."""
    query = select(MediaFile.id, MediaFile.hash).where(MediaFile.id.in_(ids), MediaFile.team_id == actor.team_id)
    hashes = dict(iter(session.execute(query)))
    paths = [blobs.local(derived(hashes[key], "poster.jpg")) for key in ids if key in hashes]
    return [path.read_bytes() for path in paths if path.is_file()]


def remove(session: Session, media_id: str, actor: Actor) -> MediaFile:
    """Takes a file off the Shelf. Promos that use it keep it."""
    row = authorise(session, MediaFile, media_id, actor, "remove")
    row.removed_at = now()
    if row.state in ("queued", "running"):
        row.state = "stopped"  # Whoever works on it sees that the row is not theirs any more.
    return row


def claim(session: Session, media_id: str | None = None, imports: int = 1) -> MediaFile | None:
    """Takes the work on a file for this worker: on the one named if it is still to be done, else on the one whose turn
    it is. Teams with the least going on come first, and while others may come, no team has every worker."""
    busy = aliased(MediaFile)
    running = (busy.state == "running") & ~over(busy) & busy.removed_at.is_(None)
    going = select(func.count()).where(busy.team_id == MediaFile.team_id, running).scalar_subquery()
    free = or_(MediaFile.state == "queued", (MediaFile.state == "running") & over(MediaFile))
    query = select(MediaFile.id).where(free, MediaFile.removed_at.is_(None))
    if media_id is not None:
        query = query.where(MediaFile.id == media_id)
    else:
        query = query.where(going < max(1, imports - 1)).order_by(going, MediaFile.created_at, MediaFile.id)
    found = session.scalar(query.limit(1).with_for_update(skip_locked=True, of=MediaFile))
    if found is None:
        return None
    row = session.get_one(MediaFile, found, populate_existing=True)
    row.state, row.lease_until, row.attempts = "running", now() + LENGTH, row.attempts + 1
    session.flush()
    return row


def take_in_next(runtime: Runtime) -> None:
    """Looks at files whose turn it is until none is left for this worker, or one had to be put back: then it is tried
    again when the sweeper calls, and not over and over meanwhile."""
    while (row := _claimed(runtime)) is not None and _take_in(runtime, row):
        pass


def take_in(runtime: Runtime, media_id: str) -> None:
    """Looks at one file now, unless it is done, not wanted, or another worker is at it."""
    row = _claimed(runtime, media_id)
    if row is not None:
        _take_in(runtime, row)


def looked_at(runtime: Runtime, media_id: str, within: float = WAIT) -> bool:
    """Looks at a small file now, or waits for whoever is at it, so many seconds; answers whether it can be used."""
    take_in(runtime, media_id)
    until = time.monotonic() + within
    while True:
        with runtime.database.unit() as unit:
            state = unit.session.scalar(select(MediaFile.state).where(MediaFile.id == media_id))
        if state not in ("queued", "running") or time.monotonic() > until:
            return state == "ready"
        time.sleep(0.1)


def _claimed(runtime: Runtime, media_id: str | None = None) -> MediaFile | None:
    with runtime.database.unit() as unit:
        row = claim(unit.session, media_id, runtime.settings.imports)
        if row is not None:
            unit.session.expunge(row)
        return row


def _take_in(runtime: Runtime, row: MediaFile) -> bool:
    """Makes poster, strip, sound copy and stand-in of a file, in a limited process. The row tells how it goes and ends.

    False where the file was put back to be tried again. Safe to do again at any time.
    """
    lease = Lease(runtime, MediaFile, row.id, row.attempts, ("running",))
    values: dict[str, object]
    if row.attempts > MOST_LOST:
        values = {"state": "failed", "error": f"{row.name} could not be read: it stopped the program that tried."}
        _finish(runtime, lease, Actor.program(row.team_id), values)
        return True
    try:
        with beating(lease):
            values = _work_on(runtime, row)(runtime, lease, row)
    except Stopped:
        return True
    except (Died, Interrupted, NoRoom) as error:
        values = _another_try(row, error)
    except Refusal as refusal:
        values = {"state": "failed", "error": str(refusal)[:400]}
    except Fault:
        log.exception("taking in %s (%s) failed", row.id, row.hash)
        values = {"state": "failed", "error": f"{row.name} could not be read: something broke on our side."}
    _finish(runtime, lease, Actor.program(row.team_id), values)
    return values["state"] != "queued"


def _another_try(row: MediaFile, error: GlowReelError) -> dict[str, object]:
    """What becomes of a file whose work ended without an answer: it is tried again a little later.

    A file that stops its process twice is set aside. A full disk, or a server that is being started again, is not the
    file's fault and does not count.
    """
    if isinstance(error, Died):
        if row.attempts >= MAX_DEATHS:
            return {"state": "failed", "error": str(error)[:400]}
        return {"state": "queued", "sent_at": None}
    waiting = str(error) if isinstance(error, NoRoom) else ""
    return {"state": "queued", "sent_at": now(), "error": waiting, "attempts": max(0, row.attempts - 1)}


def _made(runtime: Runtime, lease: Lease, row: MediaFile) -> dict[str, object]:
    """What a file's row says once everything is made of it."""
    blobs = runtime.blobs
    arguments = {
        "path": str(blobs.local(original(row.hash)).resolve()), "name": row.name, "id": row.id,
        "hash": row.hash, "suffix": row.suffix,
    }  # fmt: skip
    tell = _seldom(lambda share: lease.renew(progress=round(share, 3)))
    with runtime.workspace() as folder:
        made = runtime.limited.run("take-in", arguments, folder, row.name, progress=tell, check=lease.check)
        for name in made["made"]:
            blobs.take(derived(row.hash, name), folder / name)
    ready = {"state": "ready", "progress": 1.0, "error": "", "made": MAKER}
    facts = {**made["facts"], "machine": True} if (row.origin or {}).get("machine") else made["facts"]
    return {**ready, "facts": facts, "strip": made["strip"]}


def _work_on(runtime: Runtime, row: MediaFile) -> Callable[[Runtime, Lease, MediaFile], dict[str, object]]:
    """What is made of a file, by what it is."""
    if is_document(runtime.blobs.local(original(row.hash))):
        return _pages
    return _slides if row.suffix in SLIDES else _made


def _pages(runtime: Runtime, lease: Lease, row: MediaFile) -> dict[str, object]:
    """Puts every page of a document on the Shelf as a picture, in a folder of its name, the first page first; the
    document itself goes."""
    arguments = {"path": str(runtime.blobs.local(original(row.hash)).resolve()), "name": row.name}
    tell = _seldom(lambda share: lease.renew(progress=round(share, 3)))
    with runtime.workspace() as folder:
        drawn = runtime.limited.run("pages", arguments, folder, row.name, progress=tell, check=lease.check)
        put_apart(
            runtime,
            Actor.program(row.team_id, row.user_id),
            row.name,
            [folder / name for name in drawn["pages"]],
            row.created_at,
        )
    return {"state": "ready", "progress": 1.0, "error": "", "removed_at": now()}


def _slides(runtime: Runtime, lease: Lease, row: MediaFile) -> dict[str, object]:
    """Puts the slides of a talk on the Shelf as they look, like the pages of a document; where nothing on this machine
    draws them, the pictures in them, and a sentence."""
    path = str(runtime.blobs.local(original(row.hash)).resolve())
    tell = _seldom(lambda share: lease.renew(progress=round(share, 3)))
    arguments = {"path": path, "name": row.name, "drawn": True}
    with runtime.workspace() as folder:
        read = runtime.limited.run("slides", arguments, folder, row.name, progress=tell, check=lease.check)
        named = read["pages"] or list(dict.fromkeys(one for slide in read["slides"] for one in slide["pictures"]))
        put_apart(
            runtime,
            Actor.program(row.team_id, row.user_id),
            row.name,
            [folder / name for name in named],
            row.created_at,
        )
    if read["pages"]:
        return {"state": "ready", "progress": 1.0, "error": "", "removed_at": now()}
    came = f"{len(named)} picture{'' if len(named) == 1 else 's'} of {row.name} came in"
    error = f"{came}; its pages need LibreOffice here, or save it as PDF. “From a script” makes scenes of it."
    return {"state": "failed", "error": error}


def put_apart(
    runtime: Runtime, actor: Actor, name: str, files: Sequence[Path], since: datetime | None = None
) -> list[str]:
    """Puts what was made of a file on the Shelf as files of their own, in a folder of its name, in their order; their
    keys. Raises `Refusal` where the team has no room for more."""
    title, began = PurePosixPath(name).stem[:80], since or now()
    made = []
    for number, path in enumerate(files, 1):
        with runtime.database.unit() as unit:
            storage.check_room(runtime, unit.session, actor, path.stat().st_size)
        with path.open("rb") as stream:
            source, size = receive(runtime.blobs, Path(runtime.settings.cache) / "uploads", stream)
        with runtime.database.unit() as unit:
            page = add(unit, actor, f"{title} {number:03}{path.suffix}", source, size)
            # What came last is shown first: the pages stand in their order.
            page.folder, page.created_at = title, began - timedelta(milliseconds=number)
            made.append(page.id)
    return made


def _seldom(progress: Callable[[float], None]) -> Callable[[float], None]:
    last = [now()]

    def tell(share: float) -> None:
        if now() - last[0] > timedelta(seconds=0.4):
            last[0] = now()
            progress(share)

    return tell


def _finish(runtime: Runtime, lease: Lease, actor: Actor, values: dict[str, object]) -> None:
    if lease.finish(**values):
        with runtime.database.unit() as unit:
            announce_work(unit.session, actor)
            file = unit.session.get(MediaFile, lease.key)
            if file is not None and file.state == "ready" and wishes(unit.session, actor)["write_down"]:
                transcripts.on_import(unit, file, actor)


def make_anew(session: Session) -> int:
    """Has everything looked at again that an earlier program made less of than this one needs."""
    query = update(MediaFile).where(MediaFile.state == "ready", MediaFile.made < MAKER, MediaFile.removed_at.is_(None))
    anew = session.execute(query.values(state="queued", attempts=0, sent_at=None).returning(MediaFile.id))
    return len(anew.all())
