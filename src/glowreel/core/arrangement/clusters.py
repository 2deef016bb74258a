"""Which layers of a promo are laid out together: those that are on show together."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

from glowreel.core.arrangement.laid import full, seen_span, whole
from glowreel.core.document import Item, Promo
from glowreel.core.properties import PROPERTIES
from glowreel.core.timeline import ByIdentity, Span

TOGETHER = 0.5
"""Layers that share this much of the shorter one's time are laid out together."""


@dataclass(frozen=True)
class Cluster:
    """Layers that are on show together, in the order of their tracks; and those that last the whole promo, beside
    which they lie."""

    items: tuple[Item, ...]
    others: tuple[Item, ...]


@dataclass(frozen=True)
class Clusters:
    """The cluster of each layer that can be placed."""

    of: Mapping[str, Cluster]


def clusters(promo: Promo) -> Clusters:
    """Which layers are laid out together, kept while the promo is in use."""
    return _made(ByIdentity(promo))


@lru_cache(maxsize=64)
def _made(held: ByIdentity) -> Clusters:
    promo = held.promo
    placed = PROPERTIES["by_rule"].of
    layers = [item for track in promo.layers if not track.hidden for item in track.items
              if placed & item.content.traits and not full(promo, item)]  # fmt: skip
    lasting = [item for item in layers if whole(item)]
    passing = [(seen_span(promo, item), n, item) for n, item in enumerate(layers) if not whole(item)]
    found = {item.id: Cluster((item,), tuple(one for one in lasting if one is not item)) for item in lasting}
    others = tuple(lasting)
    for group in _joined(sorted((one for one in passing if one[0].length > 0), key=lambda one: one[0].start)):
        cluster = Cluster(tuple(item for _, item in sorted(group, key=lambda one: one[0])), others)
        found.update((item.id, cluster) for item in cluster.items)
    return Clusters(found)


def _joined(layers: list[tuple[Span, int, Item]]) -> list[list[tuple[int, Item]]]:
    """Layers in the order of their starts, joined where two share enough of their time (union of sets)."""
    home = list(range(len(layers)))

    def root(n: int) -> int:
        while home[n] != n:
            home[n] = home[home[n]]
            n = home[n]
        return n

    showing: list[int] = []
    for n, (span, _, _) in enumerate(layers):
        showing = [old for old in showing if layers[old][0].end > span.start]
        for old in showing:
            other = layers[old][0]
            if min(span.end, other.end) - span.start >= TOGETHER * min(span.length, other.length):
                home[root(n)] = root(old)
        showing.append(n)
    groups: dict[int, list[tuple[int, Item]]] = {}
    for n, (_, place, item) in enumerate(layers):
        groups.setdefault(root(n), []).append((place, item))
    return list(groups.values())
