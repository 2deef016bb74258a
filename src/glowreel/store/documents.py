"""Promo documents as bytes, and parsed ones kept ready."""

from __future__ import annotations

import logging
import zlib

from pydantic_core import from_json

from glowreel.core.document import Promo
from glowreel.core.errors import Refusal
from glowreel.core.reading import read_document
from glowreel.engine.memory import Cache, process

log = logging.getLogger(__name__)

PART_BYTES = 6000
"""What a parsed clip, layer or sound takes in memory, roughly; measured on a promo of 500 items."""
_cached: Cache[Promo] = Cache(process)


def pack(promo: Promo) -> bytes:
    return zlib.compress(promo.model_dump_json().encode(), 1)


def unpack(data: bytes) -> Promo:
    """A stored document. One that cannot be read is told to whoever asks for it, and stays as it is."""
    try:
        return read_document(from_json(zlib.decompress(data)))
    except (Refusal, ValueError, zlib.error) as error:
        log.error("a stored promo document cannot be read: %s", error)
        raise Refusal(
            "unreadable", "This promo is stored in a form that cannot be read.", "Its history has earlier versions."
        ) from error


def cached(revision_id: int, data: bytes) -> Promo:
    """The parsed document of a revision. Revisions never change, so it is parsed once in each process."""
    return _cached.get(revision_id) or cache(revision_id, unpack(data))


def find_cached(revision_id: int) -> Promo | None:
    return _cached.get(revision_id)


def cache(revision_id: int, promo: Promo) -> Promo:
    """Keeps a parsed document, within the memory that the process has for such things."""
    return _cached.put(revision_id, promo, PART_BYTES * (len(promo.clips) + len(promo.items) + 4))
