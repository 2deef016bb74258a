"""Keeping an installation safe: a copy of everything, bringing it back, and looking it over."""

from __future__ import annotations

import hashlib
import json
import os
import shutil
import subprocess
import tarfile
from collections.abc import Callable, Iterator
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

import redis
from sqlalchemy import func, make_url, select, text

from glowreel.core.errors import GlowReelError, Missing, Refusal
from glowreel.services.blob_keys import derived, original
from glowreel.services.exports import file_blob
from glowreel.services.retention import batched
from glowreel.services.setup import Runtime
from glowreel.store.documents import json_of, unpack
from glowreel.store.models import ExportFile, MediaFile, Opening, PromoRow, Revision, now

FORM = 1
DATABASE, INDEX, FILES = "database.dump", "glowreel-backup.json", "files"
PROGRAMS = "/usr/lib/postgresql"


def _program(name: str) -> str:
    """A program of PostgreSQL's, of the newest version there is."""
    found = sorted(Path(PROGRAMS).glob(f"*/bin/{name}"), key=lambda path: int(path.parts[-3]))
    path = str(found[-1]) if found else shutil.which(name)
    if path is None:
        raise Refusal("no-program", f"{name} of PostgreSQL is not installed here.")
    return path


def _run(runtime: Runtime, program: str, *arguments: str) -> None:
    """Runs a program of PostgreSQL's on our database. The password goes by the environment, where nobody sees it."""
    url = make_url(runtime.settings.database)
    where = {"PGHOST": url.host, "PGPORT": url.port, "PGUSER": url.username, "PGPASSWORD": url.password}
    environment = {**os.environ, **{key: str(value) for key, value in where.items() if value}}
    command = [_program(program), *arguments, "-d", str(url.database)]
    done = subprocess.run(command, env=environment, capture_output=True, text=True)
    if done.returncode:
        raise Refusal("database", f"{program} failed: {done.stderr.strip()[-400:]}")


def backup(runtime: Runtime, out: Path, say: Callable[[str], None] = lambda line: None) -> int:
    """Writes everything into one tar file: the database first, then every file that it names. Work may go on meanwhile.

    Files never change once they are there, so that a copy that begins with the database is whole. What can be made
    again (stand-ins, pieces) is left out. Answers with the number of files.
    """
    part = out.with_name(out.name + ".part")
    dump = out.with_name(out.name + ".dump")
    try:
        _run(runtime, "pg_dump", "--format=custom", "--no-owner", f"--file={dump}")
        with tarfile.open(part, "w") as archive:
            head = out.with_name(out.name + ".json")
            head.write_text(json.dumps({"form": FORM, "made": datetime.now().isoformat()}))
            archive.add(head, INDEX)
            head.unlink()
            archive.add(dump, DATABASE)
            count = 0
            for key in _kept(runtime):
                with suppress(Missing):
                    archive.add(runtime.blobs.local(key), f"{FILES}/{key}")
                    count += 1
                    say(key)
        part.replace(out)
        return count
    finally:
        part.unlink(missing_ok=True)
        dump.unlink(missing_ok=True)


def _kept(runtime: Runtime) -> Iterator[str]:
    """Keys of the files that cannot be made again: originals and finished films."""
    with runtime.database.unit() as unit:
        yield from map(original, unit.session.scalars(select(MediaFile.hash).distinct()))
        done = select(ExportFile.id, ExportFile.form).where(ExportFile.state == "done")
        yield from (file_blob(key, form) for key, form in unit.session.execute(done))


def restore(runtime: Runtime, source: Path, say: Callable[[str], None] = lambda line: None) -> int:
    """Brings a copy back into an empty installation; answers with the number of files. Raises `Refusal`.

    Everything that can be made again is: files are looked at anew, and exports made anew where they were not finished.
    """
    with runtime.database.engine.connect() as connection:
        tables = "SELECT count(*) FROM information_schema.tables WHERE table_schema = 'public'"
        if connection.execute(text(tables)).scalar():
            raise Refusal("not-empty", "The database is not empty.", "Restore into a new one.")
    with runtime.workspace() as folder, tarfile.open(source) as archive:
        _check(archive)
        archive.extract(DATABASE, folder, filter="data")
        _run(runtime, "pg_restore", "--no-owner", "--exit-on-error", "--single-transaction", str(folder / DATABASE))
        count = 0
        for member in archive:
            if not member.isfile() or not member.name.startswith(FILES + "/"):
                continue
            archive.extract(member, folder, filter="data")
            runtime.blobs.take(member.name.removeprefix(FILES + "/"), folder / member.name)
            count += 1
            say(member.name)
    runtime.database.migrate()
    with runtime.database.unit() as unit:
        for row in unit.session.scalars(select(MediaFile).where(MediaFile.state.in_(("ready", "running")))):
            row.state, row.attempts, row.lease_until, row.sent_at = "queued", 0, None, None
    return count


def _check(archive: tarfile.TarFile) -> None:
    try:
        index = archive.extractfile(INDEX)
        form = json.loads(index.read(10_000))["form"] if index is not None else None
    except (KeyError, ValueError, TypeError, tarfile.TarError) as error:
        raise Refusal("no-backup", "That is not a backup of Glow Reel.") from error
    if form != FORM:
        raise Refusal("newer", "That backup was made by a newer Glow Reel.", "Update this one to use it.")


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
    with runtime.database.unit() as unit:
        for kind, name in ((MediaFile, "files being looked at"), (Opening, "timelines being opened")):
            lost = select(func.count()).where(kind.state == "running", kind.lease_until < now())
            count = unit.session.scalar(lost) or 0
            yield Finding(not count, f"{count} {name} have lost their worker." if count else f"No {name} are stuck.")


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
    yield Finding(not missing, f"{missing} files are missing from the store." if missing else "Every file is there.")
    yield Finding(not changed, f"{changed} files are not what they were." if changed else "Every file has its size.")
    yield Finding(not unmade, f"{unmade} files lack their stand-in." if unmade else "Every file has its stand-in.")


def _digest(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def _documents(runtime: Runtime, deep: bool) -> Iterator[Finding]:
    """Every promo can be read; with `deep`, every step of it."""
    broken = 0
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
    yield Finding(not broken, f"{broken} promos cannot be read." if broken else "Every promo can be read.")
