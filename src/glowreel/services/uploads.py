"""Files that come in piece by piece: what has arrived stays, whatever ends in between.

```
begin ── append ── append ── … ── whole: hashed, in the store, on the Shelf
             └── a connection, a tab, a server ends: the next piece goes on where the file stands
```
How much has come is the size of the file in the cache and nothing else, so that no crash can make the two differ.
"""

from __future__ import annotations

import fcntl
import hashlib
import hmac
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta
from pathlib import Path
from typing import Any, BinaryIO

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from glowreel.core.errors import BadMedia, Missing, Refusal
from glowreel.engine.limits import MAX_BYTES
from glowreel.services import shelf, storage
from glowreel.services.access import Actor, allow
from glowreel.services.blob_keys import original
from glowreel.services.live import announce_arrival, announce_work
from glowreel.services.setup import Runtime
from glowreel.store.blobs import room_wanted
from glowreel.store.database import Unit
from glowreel.store.models import MediaFile, Upload, UploadLink, new_key, now

LASTS = timedelta(days=7)
"""How long what was cut off can be gone on with."""
LINKS_FOR = timedelta(days=30)
"""How long a link for files is remembered after its end."""
MOST_OPEN = 500
BLOCK = 1 << 20
QUIET = timedelta(seconds=20)
"""An upload from which nothing came for so long is cut off."""


class Elsewhere(Refusal):
    """The piece does not begin where the file ends."""

    status = 409


class Busy(Refusal):
    """Another piece of the same file is just coming in."""

    status = 423


class Damaged(Refusal):
    """A piece is not what was sent."""

    status = 460


def begin(
    runtime: Runtime, unit: Unit, actor: Actor, name: str, size: int | None, *, link_id: str | None = None,
    promo_id: str | None = None,
) -> Upload:  # fmt: skip
    """Makes room for a file of so many bytes, None where that is not known yet: for a recording, which is as long as it
    becomes. Raises `Refusal` where it is too large, empty, or over the quota."""
    allow(actor, "add")
    name, _ = shelf.clean_name(name)
    if size == 0:
        raise BadMedia("empty", f"{name} is empty.", "Choose it again from where it was made.")
    if size is not None and size > MAX_BYTES:
        raise BadMedia("too-large", f"{name} is larger than 2 GB.", "Export a smaller copy first.")
    storage.check_room(runtime, unit.session, actor, size or 0)
    row = added(unit.session, actor, name=name, size=size or 0, link_id=link_id, promo_id=promo_id)
    part_of(runtime, row.id).touch()
    return row


def added(session: Session, actor: Actor, **values: Any) -> Upload:
    """A row for a file that is on its way, unless too many are."""
    waiting = select(func.count()).where(Upload.team_id == actor.team_id, Upload.media_id.is_(None))
    if (session.scalar(waiting) or 0) >= MOST_OPEN:
        raise Refusal("many", f"{MOST_OPEN} uploads are open already.", "Wait for some, or end them in the activity.")
    row = Upload(id=new_key("u"), team_id=actor.team_id, user_id=actor.user_id, until=now() + LASTS, **values)
    session.add(row)
    session.flush()
    return row


def part_of(runtime: Runtime, upload_id: str) -> Path:
    """Where the part of a file lies that has come."""
    return _folder(runtime) / f"{upload_id}.part"


def _folder(runtime: Runtime) -> Path:
    folder = Path(runtime.settings.cache) / "incoming"
    folder.mkdir(parents=True, exist_ok=True)
    return folder


def find(session: Session, actor: Actor, upload_id: str, link_id: str | None = None, *, lock: bool = False) -> Upload:
    """An upload of whoever began it, or `Missing`: of the team's people, or of the link by which it comes."""
    row = session.get(Upload, upload_id, with_for_update=lock)
    if row is None or row.team_id != actor.team_id or row.link_id != link_id or row.until < now():
        raise Missing("no-upload", "There is no such upload any more.", "Choose the file again.")
    allow(actor, "add")
    return row


def arrived(runtime: Runtime, row: Upload) -> int:
    """How many bytes of a file have come."""
    if row.media_id is not None:
        return row.size
    part = part_of(runtime, row.id)
    come = part.stat().st_size if part.is_file() else 0
    return min(row.size, come) if row.size else come


def ends(runtime: Runtime, actor: Actor, upload_id: str, size: int | None = None) -> None:
    """Says how large a recording is that has ended: as much as came of it, where nothing else is said."""
    with runtime.database.unit() as unit:
        row = find(unit.session, actor, upload_id, lock=True)
        if row.size or row.url or row.media_id is not None:
            return
        row.size = size or arrived(runtime, row)
        if not row.size:
            raise BadMedia("empty", "Nothing was recorded.", "Record it again.")


def quiet(runtime: Runtime, row: Upload) -> bool:
    """Whether nothing has come for a while."""
    part = part_of(runtime, row.id)
    return not part.is_file() or part.stat().st_mtime < (now() - QUIET).timestamp()


def append(runtime: Runtime, row: Upload, offset: int, stream: BinaryIO, check: tuple[str, bytes] | None = None) -> int:
    """Writes a piece at the end of what has come; answers with how much that is now. Where the connection ends early,
    what came stays. `check` is an algorithm and the digest that the piece must have, or it is dropped."""
    if row.media_id is not None:
        return row.size
    if not row.size:
        # A recording says how large it is when it has ended: room is looked for as it grows.
        with runtime.database.unit() as unit:
            storage.check_room(runtime, unit.session, Actor.program(row.team_id, row.user_id), offset)
    with room_wanted(), _alone(part_of(runtime, row.id)) as file:
        end = file.seek(0, 2)
        if end != offset:
            raise Elsewhere("offset", f"{end} bytes have come, the piece begins at {offset}.")
        digest = hashlib.new(check[0]) if check is not None else None
        try:
            most = row.size or MAX_BYTES
            while end < most and (block := stream.read(min(BLOCK, most - end))):
                file.write(block)
                end += len(block)
                if digest is not None:
                    digest.update(block)
        finally:
            file.flush()
        if digest is not None and check is not None and not hmac.compare_digest(digest.digest(), check[1]):
            file.truncate(offset)
            raise Damaged("changed", "A piece came in changed: it is not what was sent.", "Send it again.")
        return end


@contextmanager
def _alone(part: Path) -> Iterator[BinaryIO]:
    with part.open("ab") as file:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError as error:
            raise Busy("busy", "Another piece of that file is just coming in.") from error
        yield file


def finished(runtime: Runtime, actor: Actor, upload_id: str, link_id: str | None = None) -> Upload:
    """The upload, once every byte of it has come on the Shelf as well. Safe to ask for again: a server that ended
    between the last byte and this finds the file where it was."""
    with runtime.database.unit() as unit:
        row = find(unit.session, actor, upload_id, link_id, lock=True)
        if row.media_id is not None or not row.size or arrived(runtime, row) < row.size:
            unit.session.expunge(row)
            return row
        part = part_of(runtime, row.id)
        with part.open("rb") as file:
            source = hashlib.file_digest(file, "sha256").hexdigest()
        key = original(source)
        if not runtime.blobs.has(key):
            runtime.blobs.take(key, part)
        before = select(MediaFile.id).where(
            MediaFile.team_id == actor.team_id, MediaFile.hash == source, MediaFile.removed_at.is_(None)
        )
        row.known = unit.session.scalar(before) is not None
        media = shelf.add(unit, actor, row.name, source, row.size)
        if row.origin is not None and media.origin is None:
            media.origin = row.origin
        row.media_id = media.id
        row.seen_at = now()
        announce_work(unit.session, actor)
        if row.promo_id and (row.link_id or row.url):
            announce_arrival(unit.session, row.promo_id, row.media_id, row.name)
        unit.session.flush()
        unit.session.expunge(row)
    part.unlink(missing_ok=True)
    return row


def end(runtime: Runtime, session: Session, row: Upload) -> None:
    """Ends an upload; what has come of it goes."""
    session.delete(row)
    session.flush()
    part_of(runtime, row.id).unlink(missing_ok=True)


def open_ones(session: Session, actor: Actor) -> list[Upload]:
    """What is on its way in to a team, oldest first."""
    mine = (Upload.team_id == actor.team_id, Upload.media_id.is_(None), Upload.until > now())
    return list(session.scalars(select(Upload).where(*mine).order_by(Upload.created_at).limit(50)))


def collect(runtime: Runtime) -> int:
    """Removes what nobody went on with, the rows of what arrived long ago, and parts that no row names."""
    with runtime.database.unit() as unit:
        arrived_long_ago = Upload.media_id.is_not(None) & (Upload.seen_at < now() - LASTS)
        old = select(Upload).where((Upload.until < now()) | arrived_long_ago)
        rows = list(unit.session.scalars(old.limit(1000)))
        for row in rows:
            end(runtime, unit.session, row)
        unit.session.execute(delete(UploadLink).where(UploadLink.until < now() - LINKS_FOR))
        named = set(unit.session.scalars(select(Upload.id)))
    before = (now() - timedelta(days=1)).timestamp()
    for part in _folder(runtime).glob("*.part"):
        if part.stem not in named and part.stat().st_mtime < before:
            part.unlink(missing_ok=True)
    return len(rows)
