"""What is worked out about values that never change, kept as long as they are used.

Clips and layers are immutable and shared by revisions: what is known of one holds in every revision that has it, and an
edit works out anew only what it changed.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from threading import Lock
from typing import Any, Generic, TypeVar

Found = TypeVar("Found")


class Remembered(Generic[Found]):
    """Results by the identity of what they are about, and by whatever else they depend on."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._found: OrderedDict[tuple[Any, ...], tuple[tuple[object, ...], Found]] = OrderedDict()
        self._lock = Lock()

    def of(self, things: tuple[object, ...], more: tuple[Any, ...], work: Callable[[], Found]) -> Found:
        """The result for these things, which are held so that no other takes their identity; worked out once."""
        key = (*(id(thing) for thing in things), *more)
        with self._lock:
            known = self._found.get(key)
            if known is not None:
                self._found.move_to_end(key)
        if known is not None and all(a is b for a, b in zip(known[0], things, strict=True)):
            return known[1]
        found = work()
        with self._lock:
            self._found[key] = (things, found)
            if len(self._found) > self._most:
                self._found.popitem(last=False)
        return found
