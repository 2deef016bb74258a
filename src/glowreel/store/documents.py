"""Promo documents as bytes, and parsed ones kept ready.

A revision is kept whole, or as what is different from a whole one before it (its base). The difference is what is left
when the document is compressed with the base at hand: a step on a promo of 500 items takes about a thousand bytes.
"""

from __future__ import annotations

import logging
import zlib

import zstandard
from pydantic_core import from_json
from sqlalchemy import select
from sqlalchemy.orm import Session, aliased

from glowreel.core.document import Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.reading import read_document
from glowreel.engine.memory import Cache, process
from glowreel.store.models import Revision

log = logging.getLogger(__name__)

PART_BYTES = 6000
"""What a parsed clip, layer or sound takes in memory, roughly; measured on a promo of 500 items."""
WORD_BYTES = 260
"""What a word of a transcript takes, roughly."""
MAX_BYTES = 256 * 1024**2
"""How large a document may become when it is unpacked."""
MAX_DIFFERENCE = 6000
"""A difference of more bytes than that is not worth keeping: the revision is kept whole, and is the next one's base."""
ZSTANDARD = b"\x28\xb5\x2f\xfd"
_WINDOW = 27
_cached: Cache[Promo] = Cache(process)
_texts: Cache[bytes] = Cache(process)


def _dictionary(base: bytes) -> zstandard.ZstdCompressionDict:
    return zstandard.ZstdCompressionDict(base, dict_type=zstandard.DICT_TYPE_RAWCONTENT)


def _packed(text: bytes, base: bytes) -> bytes:
    level = zstandard.ZstdCompressionParameters.from_level(3, window_log=_WINDOW, enable_ldm=True)
    known = _dictionary(base) if base else None
    return zstandard.ZstdCompressor(compression_params=level, dict_data=known).compress(text)


def text_of(data: bytes, base: bytes = b"") -> bytes:
    """The JSON of a stored document; `base` is that of its base, where it has one."""
    if data[:4] != ZSTANDARD:
        return zlib.decompress(data)  # As documents were kept before there were differences.
    known = _dictionary(base) if base else None
    reader = zstandard.ZstdDecompressor(max_window_size=2**_WINDOW, dict_data=known)
    return reader.decompress(data, max_output_size=MAX_BYTES)


def pack(promo: Promo) -> bytes:
    """A document whole."""
    return _packed(promo.model_dump_json().encode(), b"")


def keep(session: Session, revision: Revision, promo: Promo, before: int | None) -> Revision:
    """Stores a revision with its document: as what is different from the base of the one before, or whole."""
    text = promo.model_dump_json().encode()
    base_id, base = _base_of(session, before) if before is not None else (None, b"")
    data = _packed(text, base)
    if base and len(data) > MAX_DIFFERENCE:
        whole = _packed(text, b"")
        if len(data) > len(whole) // 2:
            base_id, data = None, whole
    revision.document, revision.base_id = data, base_id
    session.add(revision)
    session.flush()
    if base_id is None:
        _texts.put(revision.id, text, len(text))
    cache(revision.id, promo)
    return revision


def _base_of(session: Session, revision_id: int) -> tuple[int | None, bytes]:
    """The base for a revision after this one: this one's, or itself where it is whole."""
    base_id = session.scalar(select(Revision.base_id).where(Revision.id == revision_id)) or revision_id
    text = _texts.get(base_id)
    if text is None:
        data = session.scalar(select(Revision.document).where(Revision.id == base_id))
        try:
            text = text_of(data) if data is not None else b""
        except (zlib.error, zstandard.ZstdError):
            return None, b""  # A damaged one is no base: the next is kept whole.
        _texts.put(base_id, text, len(text))
    return (base_id, text) if text else (None, b"")


def json_of(session: Session, revision_id: int) -> bytes:
    """The JSON of a revision, in one query. Raises `Missing`, or `Refusal` for a damaged one."""
    base = aliased(Revision)
    query = select(Revision.document, base.document).outerjoin(base, base.id == Revision.base_id)
    found = session.execute(query.where(Revision.id == revision_id)).one_or_none()
    if found is None:
        raise Missing("no-revision", "That version is not in this promo’s history.", "Reload the page.")
    data, under = found
    try:
        return text_of(data, text_of(under) if under is not None else b"")
    except (zlib.error, zstandard.ZstdError) as error:
        raise _unreadable(error) from error


def document(session: Session, revision_id: int) -> Promo:
    """The document of a revision; parsed once in each process, as revisions never change. One that cannot be read is
    told to whoever asks for it, and stays as it is."""
    known = _cached.get(revision_id)
    if known is not None:
        return known
    return cache(revision_id, unpack(json_of(session, revision_id)))


def unpack(found: bytes) -> Promo:
    """A document from its stored JSON. Raises `Refusal` for one that cannot be read."""
    try:
        return read_document(from_json(found))
    except (Refusal, ValueError) as error:
        raise _unreadable(error) from error


def _unreadable(error: Exception) -> Refusal:
    log.error("a stored promo document cannot be read: %s", error)
    return Refusal(
        "unreadable", "This promo is stored in a form that cannot be read.", "Its history has earlier versions."
    )  # fmt: skip


def find_cached(revision_id: int) -> Promo | None:
    return _cached.get(revision_id)


def cache(revision_id: int, promo: Promo) -> Promo:
    """Keeps a parsed document, within the memory that the process has for such things."""
    words = sum(len(one.words) for one in promo.transcripts)
    size = PART_BYTES * (len(promo.clips) + len(promo.items) + 4) + WORD_BYTES * words
    return _cached.put(revision_id, promo, size)
