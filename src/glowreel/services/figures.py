"""What is counted of the work of all machines, in the Redis that they share: how often something was done and how long
it took. What is lost with that Redis begins at nothing again, as counters do.
"""

from __future__ import annotations

import threading
import time
from collections import Counter, defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import redis

from glowreel.services.setup import Runtime

KEY = "glowreel:figures"
WITHIN = (0.01, 0.025, 0.05, 0.1, 0.2, 0.5, 1.0, 2.5, 5.0, 15.0, 60.0, 300.0)
"""Seconds up to which durations are counted."""
FLUSH_SECONDS = 1.0
MOST_KINDS = 4000
"""So many figures are kept at the most: a fault that makes up names does not fill the memory."""


class Figures:
    """The counts of this process, handed over now and then."""

    def __init__(self, runtime: Runtime) -> None:
        self._redis = redis.Redis.from_url(runtime.settings.redis, socket_timeout=1, socket_connect_timeout=1)
        self._lock = threading.Lock()
        self._counts: Counter[str] = Counter()
        self._seconds: defaultdict[str, float] = defaultdict(float)
        self._flushed = time.monotonic()

    def took(self, what: str, name: str, ended: str, seconds: float) -> None:
        """Counts a request or a task by its name, how it ended and how long it took."""
        base = f"{what}|{name}|{ended}"
        bucket = next((limit for limit in WITHIN if seconds <= limit), "more")
        with self._lock:
            self._counts[f"{base}|{bucket}"] += 1
            self._seconds[f"{base}|sum"] += seconds
            due = time.monotonic() - self._flushed > FLUSH_SECONDS
        if due:
            self.flush()

    def flush(self) -> None:
        """Hands the counts over; keeps them where that cannot be done now."""
        with self._lock:
            counts, seconds = self._counts, self._seconds
            self._counts, self._seconds = Counter(), defaultdict(float)
            self._flushed = time.monotonic()
        try:
            with self._redis.pipeline(transaction=False) as pipe:
                for key, count in counts.items():
                    pipe.hincrby(KEY, key, count)
                for key, sum_of in seconds.items():
                    pipe.hincrbyfloat(KEY, key, sum_of)
                pipe.hlen(KEY)
                if pipe.execute()[-1] > MOST_KINDS:
                    self._redis.delete(KEY)
        except redis.RedisError:
            with self._lock:
                self._counts.update(counts)
                for key, more in seconds.items():
                    self._seconds[key] += more


@dataclass(frozen=True)
class Spent:
    """How often something ended in a manner: within which seconds how often, and how long in all."""

    what: str
    name: str
    ended: str
    counts: tuple[int, ...]
    seconds: float

    @property
    def count(self) -> int:
        return sum(self.counts)


def spent(runtime: Runtime) -> list[Spent]:
    """All that was counted, of all machines. `counts` follow `WITHIN`; the last are those that took longer."""
    connection = redis.Redis.from_url(runtime.settings.redis, socket_timeout=2, decode_responses=True)
    try:
        found: dict[str, str] = connection.hgetall(KEY)  # type: ignore[assignment]
    except redis.RedisError:
        return []
    return list(_gathered(found))


def _gathered(found: dict[str, str]) -> Iterator[Spent]:
    columns: Sequence[str] = [*map(str, WITHIN), "more"]
    for base in sorted({key.rpartition("|")[0] for key in found}):
        what, _, rest = base.partition("|")
        name, _, ended = rest.rpartition("|")
        counts = tuple(int(found.get(f"{base}|{column}", 0)) for column in columns)
        yield Spent(what, name, ended, counts, float(found.get(f"{base}|sum", 0.0)))
