"""One budget of memory for everything a process keeps in case it is needed again.

Caches of one budget share it: what was used longest ago goes first, whichever cache it is in. What is in use is held by
its user and merely leaves the cache. Safe for several threads.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Hashable
from threading import RLock
from typing import Generic, TypeVar

Value = TypeVar("Value")
MEGABYTE = 1024**2


class Budget:
    """At most `limit` bytes over all its caches."""

    def __init__(self, limit: int) -> None:
        self.limit = limit
        self.used = 0
        self._lock = RLock()
        self._entries: OrderedDict[tuple[int, Hashable], tuple[Cache[object], int]] = OrderedDict()

    def _touch(self, cache: Cache[object], key: Hashable) -> None:
        self._entries.move_to_end((id(cache), key))

    def _add(self, cache: Cache[object], key: Hashable, size: int) -> None:
        place = (id(cache), key)
        old = self._entries.pop(place, None)
        self.used += size - (old[1] if old else 0)
        self._entries[place] = (cache, size)
        # The newest stays, however large: it is about to be used.
        while self.used > self.limit and len(self._entries) > 1:
            (_, oldest), (owner, _) = next(iter(self._entries.items()))
            owner.drop(oldest)

    def _remove(self, cache: Cache[object], key: Hashable) -> None:
        entry = self._entries.pop((id(cache), key), None)
        if entry is not None:
            self.used -= entry[1]


class Cache(Generic[Value]):
    """Values by key, each with its size in bytes, within a budget."""

    def __init__(self, budget: Budget) -> None:
        self._budget = budget
        self._values: dict[Hashable, Value] = {}

    def get(self, key: Hashable) -> Value | None:
        with self._budget._lock:
            value = self._values.get(key)
            if value is not None:
                self._budget._touch(self, key)  # type: ignore[arg-type]
            return value

    def put(self, key: Hashable, value: Value, size: int) -> Value:
        """Keeps a value, or tells that its size has changed."""
        with self._budget._lock:
            self._values[key] = value
            self._budget._add(self, key, size)  # type: ignore[arg-type]
        return value

    def drop(self, key: Hashable) -> None:
        with self._budget._lock:
            self._values.pop(key, None)
            self._budget._remove(self, key)  # type: ignore[arg-type]

    def clear(self) -> None:
        with self._budget._lock:
            for key in list(self._values):
                self.drop(key)

    def __len__(self) -> int:
        return len(self._values)


process = Budget(512 * MEGABYTE)
"""This process's own. Set `limit` to change it (GLOWREEL_MEMORY_MB)."""
