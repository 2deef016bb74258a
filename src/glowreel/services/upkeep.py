"""Keeping an installation safe: a copy of everything, and bringing it back."""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import tarfile
from collections.abc import Callable, Iterator
from contextlib import suppress
from datetime import datetime
from pathlib import Path

from sqlalchemy import delete, make_url, select, text, update
from sqlalchemy.orm import Session

from glowreel.core.errors import Missing, Refusal
from glowreel.services.blob_keys import original
from glowreel.services.exports import OPEN, file_blob
from glowreel.services.setup import Runtime
from glowreel.store.models import Derived, ExportFile, ExportPiece, MediaFile, WatchPage, take_up

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
    """Keys of the files that cannot be made again: originals, finished films, and the pictures before them."""
    with runtime.database.unit() as unit:
        yield from map(original, unit.session.scalars(select(MediaFile.hash).distinct()))
        done = select(ExportFile.id, ExportFile.form).where(ExportFile.state == "done")
        yield from (file_blob(key, form) for key, form in unit.session.execute(done))
        yield from unit.session.scalars(select(WatchPage.picture).where(WatchPage.picture != ""))


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
        _made_anew(unit.session)
        take_up(unit.session, every=True)
    return count


def _made_anew(session: Session) -> None:
    """Has everything made again that a copy leaves out: files are looked at, what was made of them is made of them,
    and films that were not finished are planned."""
    fresh = {"state": "queued", "attempts": 0, "lease_until": None, "sent_at": None}
    for kind in (MediaFile, Derived):
        session.execute(update(kind).where(kind.state.in_(("ready", "running"))).values(**fresh))
    films = select(ExportFile.id).where(ExportFile.state != "done")
    session.execute(delete(ExportPiece).where(ExportPiece.file_id.in_(films)))
    planned = {"state": "planning", "attempts": 0, "lease_until": None, "planned": 0.0}
    session.execute(update(ExportFile).where(ExportFile.state.in_(OPEN)).values(**planned))


def _check(archive: tarfile.TarFile) -> None:
    try:
        index = archive.extractfile(INDEX)
        form = json.loads(index.read(10_000))["form"] if index is not None else None
    except (KeyError, ValueError, TypeError, tarfile.TarError) as error:
        raise Refusal("no-backup", "That is not a backup of Glow Reel.") from error
    if form != FORM:
        raise Refusal("newer", "That backup was made by a newer Glow Reel.", "Update this one to use it.")
