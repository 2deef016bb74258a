"""Windows that wait for word of a change, and the one connection that hears it from PostgreSQL.

A topic is `promo:<id>`, `viewers:<id>` (of a promo at screenings) or `team:<id>`. Whoever subscribes is first told how
things are now, so that nothing between asking and waiting is missed; after a break of the database's connection every
window is told anew.
"""

from __future__ import annotations

import asyncio
import json
import logging
from collections import Counter, defaultdict
from collections.abc import AsyncIterator
from contextlib import suppress

import psycopg

from glowreel.services.live import CHANNEL, HEADS

HEARTBEAT = 15.0
MAX_WINDOWS = 4000
MAX_PER_PERSON = 80
FULL = "Too many windows are open. Close some, then reload this one."
PAUSES = (0.2, 0.5, 1.0, 2.0, 5.0)
log = logging.getLogger(__name__)

Window = asyncio.Queue[str]


class Hub:
    """All windows of this process."""

    def __init__(self, url: str) -> None:
        self._url = url.replace("postgresql+psycopg://", "postgresql://")
        self._windows: dict[str, set[Window]] = defaultdict(set)
        self._people: Counter[str] = Counter()
        self._reader: psycopg.AsyncConnection[tuple[str, int]] | None = None
        self._reading = asyncio.Lock()
        self.listening = asyncio.Event()

    async def listen(self) -> None:
        """Hears and passes on, for ever; connects again with growing pauses."""
        tries = 0
        while True:
            with suppress(psycopg.Error):
                async with await psycopg.AsyncConnection.connect(self._url, autocommit=True) as connection:
                    await connection.execute(f"LISTEN {CHANNEL}")
                    tries = 0
                    await self._catch_up()
                    self.listening.set()
                    async for notice in connection.notifies():
                        self._pass_on(notice.payload)
            self.listening.clear()
            log.warning("the database cannot be heard; trying again")
            await asyncio.sleep(PAUSES[min(tries, len(PAUSES) - 1)])
            tries += 1

    def _pass_on(self, payload: str) -> None:
        for window in self._windows.get(json.loads(payload)["topic"], ()):
            # A window that does not read meanwhile reads the newest state when it does.
            with suppress(asyncio.QueueFull):
                window.put_nowait(payload)

    async def _catch_up(self) -> None:
        """Tells every window how things are: some notices may have been missed."""
        for topic, windows in list(self._windows.items()):
            state = await self.state(topic)
            for window in list(windows):
                with suppress(asyncio.QueueFull):
                    window.put_nowait(state)

    async def state(self, topic: str) -> str:
        """How a topic is now, in the words of a notice: for a promo, the revision on show."""
        kind, _, key = topic.partition(":")
        value: dict[str, object] = {"topic": topic, "sentence": ""}
        if kind in ("promo", "viewers"):
            value["rev"] = (await self._head(key)) or 0
        return json.dumps(value)

    async def _head(self, promo_id: str) -> int | None:
        async with self._reading:
            for attempt in (1, 2):
                try:
                    if self._reader is None or self._reader.closed:
                        self._reader = await psycopg.AsyncConnection.connect(self._url, autocommit=True)
                    cursor = await self._reader.execute(HEADS, ([promo_id],))
                    row = await cursor.fetchone()
                    return row[1] if row else None
                except psycopg.Error:
                    self._reader = None
                    if attempt == 2:
                        return None
        return None

    async def close(self) -> None:
        """Lets go of the connection that reads."""
        if self._reader is not None:
            await self._reader.close()

    async def events(self, topic: str, person: str) -> AsyncIterator[str]:
        """One window's stream (server-sent events), beginning with how things are; ends when the window goes away."""
        if self._people[person] >= MAX_PER_PERSON or self._people.total() >= MAX_WINDOWS:
            yield f"retry: 60000\nevent: refused\ndata: {FULL}\n\n"
            return
        window: Window = asyncio.Queue(maxsize=100)
        self._windows[topic].add(window)
        self._people[person] += 1
        try:
            yield f"retry: 1500\ndata: {await self.state(topic)}\n\n"
            while True:
                try:
                    yield f"data: {await asyncio.wait_for(window.get(), HEARTBEAT)}\n\n"
                except TimeoutError:
                    yield ": still here\n\n"
        finally:
            self._windows[topic].discard(window)
            if not self._windows[topic]:
                del self._windows[topic]
            self._people[person] -= 1
            if self._people[person] <= 0:
                del self._people[person]
