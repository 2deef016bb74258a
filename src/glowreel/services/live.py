"""Telling every window of a promo that it changed, as soon as the change is committed.

PostgreSQL carries the word: a notification is sent in the transaction that changes the promo and arrives with its
commit, in every process. One thread in each process listens and passes it on to the windows it serves.
"""

from __future__ import annotations

import json
import logging
import queue
import threading
import time
from collections import defaultdict
from collections.abc import Iterator
from contextlib import suppress
from typing import Any

import psycopg
from sqlalchemy import text
from sqlalchemy.orm import Session

CHANNEL = "glowreel_promo"
HEARTBEAT = 15.0
MAX_WINDOWS = 200
log = logging.getLogger(__name__)


def announce(session: Session, promo_id: str, revision: int, words: str, who: str | None) -> None:
    """Says, with the commit of this session, that a promo is at a revision now."""
    payload = json.dumps({"promo": promo_id, "rev": revision, "words": words[:200], "who": who})
    session.execute(text("SELECT pg_notify(:channel, :payload)"), {"channel": CHANNEL, "payload": payload})


class Hub:
    """This process's windows. Made when the first one opens; its thread ends with the process."""

    def __init__(self, url: str) -> None:
        self._url = url.replace("postgresql+psycopg://", "postgresql://")
        self._windows: dict[str, set[queue.Queue[str]]] = defaultdict(set)
        self._lock = threading.Lock()
        self._listening = threading.Event()
        threading.Thread(target=self._listen, name="live", daemon=True).start()

    def _listen(self) -> None:
        while True:
            try:
                with psycopg.connect(self._url, autocommit=True) as connection:
                    connection.execute(f"LISTEN {CHANNEL}")
                    self._listening.set()
                    for notice in connection.notifies():
                        self._pass_on(notice.payload)
            except psycopg.Error:
                log.warning("the database cannot be heard; trying again")
                time.sleep(1)

    def _pass_on(self, payload: str) -> None:
        promo = json.loads(payload)["promo"]
        with self._lock:
            for window in self._windows.get(promo, ()):
                # A window that does not read meanwhile reads the newest state when it does.
                with suppress(queue.Full):
                    window.put_nowait(payload)

    def events(self, promo_id: str, first: dict[str, Any]) -> Iterator[str]:
        """The events of one window as a stream, beginning with the state now; ends when the window goes away."""
        window: queue.Queue[str] = queue.Queue(maxsize=100)
        self._listening.wait(5)
        with self._lock:
            if sum(map(len, self._windows.values())) >= MAX_WINDOWS:
                return
            self._windows[promo_id].add(window)
        try:
            yield f"retry: 1500\ndata: {json.dumps(first)}\n\n"
            while True:
                try:
                    yield f"data: {window.get(timeout=HEARTBEAT)}\n\n"
                except queue.Empty:
                    yield ": still here\n\n"
        finally:
            with self._lock:
                self._windows[promo_id].discard(window)
                if not self._windows[promo_id]:
                    del self._windows[promo_id]
