"""A promo cut into runs of frames that are encoded each by itself.

They end where something begins or ends, so that a change of one thing touches the runs that it is seen in and no other.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from glowreel.core.document import Promo
from glowreel.core.time import Rate
from glowreel.core.timeline import timeline

MOST_SECONDS = 8.0
LEAST_SECONDS = 2.5
"""A piece is no shorter, where the promo is not: each begins with a key frame and a start of its own."""


@dataclass(frozen=True)
class Piece:
    """A run of frames that is encoded by itself: `first` and `count` in frames of the promo."""

    first: int
    count: int


def pieces(promo: Promo, *, at_edits: bool = True) -> list[Piece]:
    """The promo in runs of at most about eight seconds, which end at edits unless that is not wanted."""
    total = timeline(promo).frame_count
    least, most = (max(1, round(promo.rate.fraction * length)) for length in (LEAST_SECONDS, MOST_SECONDS))
    edges = [0]
    for edge in sorted(set(_edits(promo, promo.rate))) if at_edits else ():
        if edge - edges[-1] >= least and total - edge >= least:
            edges.append(edge)
    edges.append(total)
    return [
        piece for start, end in zip(edges, edges[1:], strict=False) if end > start for piece in _even(start, end, most)
    ]


def _edits(promo: Promo, rate: Rate) -> Iterator[int]:
    """The frames at which something comes or goes."""
    index = timeline(promo)
    spans = [index.span_of(part) for part in (*promo.clips, *(item for track in promo.layers for item in track.items))]
    spans += [cut.span for cut in (*index.cuts, *index.layer_cuts)]
    spans += [span for span in (index.opening, index.closing) if span is not None]
    for span in spans:
        yield rate.frame_ceil(span.start)
        yield rate.frame_ceil(span.end)


def _even(start: int, end: int, most: int) -> list[Piece]:
    """A stretch in equal runs, none longer than about `most` frames."""
    count = max(1, -(-(end - start) // (most + most // 8)))
    edges = [start + (end - start) * number // count for number in range(count + 1)]
    return [Piece(first, last - first) for first, last in zip(edges, edges[1:], strict=False)]
