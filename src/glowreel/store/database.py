"""Connecting, migrating, and one unit of work for each request or task."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine, text
from sqlalchemy.orm import Session, sessionmaker

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

    def later(self, task: str, *args: Any) -> None:
        self._later.append((task, args))

    def forget(self) -> None:
        """Drops what was named with `later`: the caller does it itself."""
        self._later = []

    def commit(self, send: Send) -> None:
        self.session.commit()
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

    def migrate(self) -> None:
        """Brings the tables up to date; safe to call from several processes at once."""
        config = Config()
        config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
        with self.engine.begin() as connection:
            connection.execute(text(f"SELECT pg_advisory_xact_lock({_MIGRATION_LOCK})"))
            config.attributes["connection"] = connection
            command.upgrade(config, "head")
