"""Which file and which clip an error of the engine is about, in the words of the promo."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from glowreel.core.document import Promo
from glowreel.core.errors import BadMedia, Unreadable
from glowreel.core.time import clock
from glowreel.core.timeline import timeline


def named(promo: Promo, error: Unreadable) -> BadMedia:
    """The error as a sentence that names the file, and where it is used first."""
    media = next((m for m in promo.media.values() if m.hash == error.source), None)
    if media is None:
        return error
    index = timeline(promo)
    starts = [
        index.clip_span[clip.id].start for clip in promo.clips if any(s.media == media.id for s in clip.materials)
    ]
    starts += [index.item_span(item).start for item in promo.items if any(s.media == media.id for s in item.materials)]
    where = f", used at {clock(min(starts))}," if starts else ""
    return BadMedia("unreadable", f"{media.name}{where} {error.reason}.", "Bring it in again, or replace it.")


@contextmanager
def naming(promo: Promo) -> Iterator[None]:
    """Errors of the engine in here come out as sentences that name the file."""
    try:
        yield
    except Unreadable as error:
        raise named(promo, error) from error
