"""A lease on a piece of work: renewed beside the work, and proof of whose it is when it ends.

A worker that claims a row counts its attempts up. What it writes afterwards names that attempt: where another worker
has taken over meanwhile, nothing is written, and the one that lost it stops.
"""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta
from typing import Any

from sqlalchemy import ColumnElement, or_, update
from sqlalchemy.exc import OperationalError

from glowreel.core.errors import GlowReelError
from glowreel.services.setup import Runtime
from glowreel.store.models import (
    Batch,
    Delivery,
    Derived,
    ExportFile,
    ExportPiece,
    HookCall,
    Letter,
    MediaFile,
    Opening,
    Post,
    Spoken,
    now,
)

LENGTH = timedelta(seconds=20)
EVERY = 4.0
MOST_LOST = 10
"""So many workers may be lost over one piece of work before it is set aside. What strangers sent is worked on in
limited processes: that a worker is gone is hardly its fault, and what ends those is counted by itself."""

Row = (
    type[MediaFile] | type[ExportFile] | type[ExportPiece] | type[Opening] | type[Derived] | type[Spoken]
    | type[Letter] | type[Post] | type[Delivery] | type[Batch] | type[HookCall]
)  # fmt: skip


def over(kind: Any) -> ColumnElement[bool]:
    """Whether the lease of a row has run out. One that ends later than any could is of before a clock was set back."""
    return or_(kind.lease_until < now(), kind.lease_until > now() + 2 * LENGTH)


def unheld(kind: Any) -> ColumnElement[bool]:
    """Whether nobody has a row."""
    return or_(kind.lease_until.is_(None), over(kind))


def long_since(sent_at: Any, again: timedelta) -> ColumnElement[bool]:
    """Whether something was not sent to the queue for so long, or never. What was sent later than now was sent before
    a clock was set back."""
    return or_(sent_at.is_(None), sent_at < now() - again, sent_at > now() + again)


class Stopped(GlowReelError):
    """The work is not wanted any more, or another worker has it."""


class Lease:
    """One row in the hands of this worker."""

    def __init__(self, runtime: Runtime, kind: Row, key: Any, attempt: int, states: tuple[str, ...]) -> None:
        self._runtime = runtime
        self.key = key
        self._kind, self._key, self._attempt, self._states = kind, key, attempt, states
        self._lost = threading.Event()
        self._ended = threading.Event()

    def renew(self, **values: Any) -> None:
        """Keeps the row and writes values to it; raises `Stopped` where it is not this worker's any more."""
        if not self._written(lease_until=now() + LENGTH, **values):
            self._lost.set()
            raise Stopped("the work was stopped or taken over")

    def check(self) -> None:
        """Raises `Stopped` where the row has been lost meanwhile; costs nothing."""
        if self._lost.is_set():
            raise Stopped("the work was stopped or taken over")

    def give_up(self) -> None:
        """Leaves the row to whoever has it now."""
        self._ended.set()

    def finish(self, **values: Any) -> bool:
        """Writes how the work ended, if the row is still this worker's; says whether it was."""
        self._ended.set()
        return self._written(lease_until=None, **values)

    def _written(self, **values: Any) -> bool:
        kind = self._kind
        query = update(kind).where(kind.id == self._key, kind.attempts == self._attempt, kind.state.in_(self._states))
        with self._runtime.database.unit() as unit:
            return bool(unit.session.execute(query.values(**values).returning(kind.id)).first())

    def _beat(self) -> None:
        while not self._ended.wait(EVERY):
            try:
                self.renew()
            except Stopped:
                return
            except OperationalError:
                continue  # The database is away: the lease may run out, and then somebody else may have the work.


@contextmanager
def beating(lease: Lease) -> Iterator[Lease]:
    """Renews a lease beside the work, whatever the work is busy with."""
    thread = threading.Thread(target=lease._beat, name="lease", daemon=True)
    thread.start()
    try:
        yield lease
    finally:
        lease._ended.set()
        thread.join()
