"""Promo documents as bytes, and parsed ones kept ready."""

from __future__ import annotations

import zlib
from collections import OrderedDict
from threading import Lock
from typing import Any

from pydantic import ValidationError
from pydantic_core import from_json

from glowreel.core.document import VERSION, Promo
from glowreel.core.errors import Fault, Refusal

_kept: OrderedDict[int, Promo] = OrderedDict()
_lock = Lock()
MAX_KEPT = 16


def pack(promo: Promo) -> bytes:
    return zlib.compress(promo.model_dump_json().encode(), 1)


def upgrade(data: dict[str, Any]) -> dict[str, Any]:
    """A document of any earlier version as one of this version. A newer one is refused in a sentence."""
    version = data.get("version")
    if not isinstance(version, int) or version < 1:
        raise Refusal("no-version", "This is not a promo document: it does not say its version.")
    if version > VERSION:
        raise Refusal("newer", "This promo was made with a newer Glow Reel.", "Update this one to open it.")
    # Version 2 only added fields and kinds: an older document is one of this version that does not use them.
    return {**data, "version": VERSION}


def unpack(data: bytes) -> Promo:
    try:
        return Promo.model_validate(upgrade(from_json(zlib.decompress(data))))
    except (ValidationError, ValueError, zlib.error) as error:
        raise Fault("a stored promo document cannot be read") from error


def kept(revision_id: int, data: bytes) -> Promo:
    """The parsed document of a revision. Revisions never change, so it is parsed once in each process."""
    with _lock:
        if revision_id in _kept:
            _kept.move_to_end(revision_id)
            return _kept[revision_id]
    promo = unpack(data)
    keep(revision_id, promo)
    return promo


def find_kept(revision_id: int) -> Promo | None:
    with _lock:
        return _kept.get(revision_id)


def keep(revision_id: int, promo: Promo) -> None:
    with _lock:
        _kept[revision_id] = promo
        _kept.move_to_end(revision_id)
        while len(_kept) > MAX_KEPT:
            _kept.popitem(last=False)
