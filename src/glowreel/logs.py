"""What processes write of their work: one line of JSON each, with the request that it goes back to.

A request has an identifier from the press that began it; what it puts on the queue carries it on to the worker.
"""

from __future__ import annotations

import json
import logging
import re
import secrets
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from datetime import UTC, datetime
from typing import Any

_request: ContextVar[str] = ContextVar("request", default="")
GIVEN = re.compile(r"[\w-]{8,64}", re.ASCII)
log = logging.getLogger("glowreel.work")


def request_id() -> str:
    """The request that is being answered, or that led to this work; nothing where none did."""
    return _request.get()


def new_request(given: str = "") -> str:
    """An identifier for a request: the one that was given with it, if that is one, else a fresh one."""
    return given if GIVEN.fullmatch(given) else secrets.token_hex(8)


@contextmanager
def within(request: str) -> Iterator[None]:
    """Everything in here belongs to a request."""
    before = _request.set(request)
    try:
        yield
    finally:
        _request.reset(before)


class Lines(logging.Formatter):
    """A record as a line of JSON: when, how serious, from where, in which request, and what."""

    def format(self, record: logging.LogRecord) -> str:
        line: dict[str, Any] = {
            "at": datetime.fromtimestamp(record.created, UTC).isoformat(timespec="milliseconds"),
            "level": record.levelname.lower(),
            "from": record.name,
            "request": request_id(),
            "says": record.getMessage(),
            **getattr(record, "more", {}),
        }
        if record.exc_info:
            line["trace"] = self.formatException(record.exc_info)
        return json.dumps({key: value for key, value in line.items() if value != ""}, ensure_ascii=False, default=str)


def begin() -> None:
    """Has this process write its log as lines of JSON to the error stream, where its supervisor keeps them."""
    root = logging.getLogger()
    if any(isinstance(handler.formatter, Lines) for handler in root.handlers):
        return
    # A worker puts a stream of its own in the place of the usual one, which would lead back here.
    handler = logging.StreamHandler(sys.__stderr__ or sys.stderr)
    handler.setFormatter(Lines())
    root.handlers = [handler]
    root.setLevel(logging.WARNING)
    log.setLevel(logging.INFO)


def tell(says: str, **more: Any) -> None:
    """Writes a line about work that was done, with what belongs to it."""
    log.info(says, extra={"more": more})
