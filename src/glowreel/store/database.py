"""Connecting, migrating, and one unit of work for each request or task."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Connection, Engine, create_engine, text
from sqlalchemy.orm import Session, sessionmaker

from glowreel.core.errors import Refusal

log = logging.getLogger(__name__)

Send = Callable[[str, tuple[Any, ...]], None]
"""Puts a task of that name with those arguments on the queue."""

_MIGRATION_LOCK = 704_210


class Unit:
    """One transaction. Services change things through `session`; what must happen afterwards is named with `later`
    and sent only once the change is committed, so that no worker ever looks for a row that is not there yet."""

    def __init__(self, session: Session) -> None:
        self.session = session
        self._later: list[tuple[str, tuple[Any, ...]]] = []
        self._after: list[Callable[[], None]] = []

    def after(self, work: Callable[[], None]) -> None:
        """Something that is done once the change is committed, such as removing files that no row names any more."""
        self._after.append(work)

    def later(self, task: str, *args: Any) -> None:
        self._later.append((task, args))

    def forget(self) -> None:
        """Drops what was named with `later`: the caller does it itself."""
        self._later = []

    def commit(self, send: Send) -> None:
        self.session.commit()
        for work in self._after:
            work()
        waiting, self._later = self._later, []
        for task, args in waiting:
            try:
                send(task, args)
            except Exception:
                # What was saved is saved: its row says what is to be done, and the sweeper sends it later.
                log.warning("%s could not be queued; it is sent again later", task, exc_info=True)


class Database:
    def __init__(self, url: str, send: Send) -> None:
        self.engine: Engine = create_engine(url, pool_size=8, max_overflow=8, pool_pre_ping=True)
        self._sessions = sessionmaker(self.engine, expire_on_commit=False)
        self.send = send

    @contextmanager
    def unit(self) -> Iterator[Unit]:
        """A unit of work: committed at the end, rolled back on any error."""
        with self._sessions() as session:
            unit = Unit(session)
            try:
                yield unit
                unit.commit(self.send)
            except BaseException:
                session.rollback()
                raise

    def _config(self) -> Config:
        config = Config()
        config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
        return config

    def migrate(self) -> None:
        """Brings the tables up to date; safe to call from several processes at once. Refuses a newer database."""
        config = self._config()
        with self.engine.begin() as connection:
            connection.execute(text(f"SELECT pg_advisory_xact_lock({_MIGRATION_LOCK})"))
            self.check_version(connection)
            config.attributes["connection"] = connection
            command.upgrade(config, "head")

    def check_same_version(self) -> None:
        """Raises `Refusal` where the database is not exactly as this program makes it."""
        with self.engine.connect() as connection:
            self.check_version(connection)
            found = MigrationContext.configure(connection).get_current_revision()
        if found != ScriptDirectory.from_config(self._config()).get_current_head():
            raise Refusal("older", "The database is of an older Glow Reel.", "Start the installation anew first.")

    def check_version(self, connection: Connection | None = None) -> None:
        """Raises `Refusal` where the database was made by a program newer than this one."""
        if connection is None:
            with self.engine.connect() as opened:
                self.check_version(opened)
            return
        known = {script.revision for script in ScriptDirectory.from_config(self._config()).walk_revisions()}
        found = MigrationContext.configure(connection).get_current_revision()
        if found is not None and found not in known:
            raise Refusal("newer", "The database was made by a newer Glow Reel.", "Update this one to use it.")
