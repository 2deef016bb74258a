"""The port to a catalogue of ready-made material."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import BinaryIO

from glowreel.core.errors import Refusal
from glowreel.outside.fetching import PICTURE_BYTES, Fetched
from glowreel.outside.service import Service
from glowreel.outside.stock.entries import Entry, Found, Query

NAME = "The stock catalogue"
SMALL = {"poster.jpg": ("image/",), "loop.webp": ("image/",), "sound.m4a": ("audio/",)}
"""The small files of an entry: a picture of it, the same moving, and what it sounds like."""
LOOK_EVERY = 0.5
MADE_WITHIN = 600.0
GONE = "The catalogue does not have that any more."


class Stock:
    """A catalogue at an address."""

    def __init__(self, address: str) -> None:
        self._service = Service(address, NAME)

    def search(self, query: Query) -> Found:
        return self._service.told(Found, "/entries", query.model_dump())

    def entry(self, key: str) -> Entry:
        """One entry, or `Refusal` where the catalogue does not have it."""
        return self._service.told(Entry, f"/entries/{key}", missing=GONE)

    def small(self, key: str, name: str) -> Fetched:
        """One of the `SMALL` files of an entry."""
        return self._service.file(f"/entries/{key}/{name}", SMALL[name], PICTURE_BYTES)

    def licence(self, key: str, buyer: str) -> str:
        """Takes the licence of an entry that is paid for; the same buyer gets the same one again."""
        return str(self._service.ask(f"/entries/{key}/licence", body={"buyer": buyer}, missing=GONE)["licence"])

    def save(self, key: str, licence: str, file: BinaryIO, most: int, tell: Callable[[int], None]) -> None:
        """Has an entry made, waits for that, and writes it to a file."""
        params = {"licence": licence}
        end = time.monotonic() + MADE_WITHIN
        while not self._service.ask(f"/entries/{key}/made", params, missing=GONE)["ready"]:
            if time.monotonic() > end:
                raise Refusal("slow", f"{NAME} takes too long.", "Try again later.")
            tell(0)
            time.sleep(LOOK_EVERY)
        self._service.save(f"/entries/{key}/file", file, most, tell, params)
