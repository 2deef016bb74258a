"""Bringing an edited promo back under the rules that no single command should have to remember.

```
tie to a clip that is gone      → tied to the clip that took its place, or free
tie beyond its clip's end       → to the clip's last frame
two items meeting on a track    → the touched one moves to the nearest track with room, or a new one
empty track, orphan transition  → gone
media and designs nothing uses  → forgotten
slot of a part that is gone     → gone
transcript of unused media      → forgotten
check dismissed of one          → forgotten
no clips any more               → no opening and no ending
```
Never refused, never changes the main track.
"""

from __future__ import annotations

from collections.abc import Set

from glowreel.core.anchors import mended
from glowreel.core.document import Item, Promo, Track
from glowreel.core.room import Room
from glowreel.core.timeline import Span, Timeline, timeline
from glowreel.core.value import NewId


def normalise(promo: Promo, before: Promo, touched: Set[str], new_id: NewId) -> Promo:
    """`promo` with every rule restored; `before` tells where things were, `touched` which items just moved."""
    promo = mended(promo, before)
    index = timeline(promo)
    layers = _apart(promo.layers, index, touched, new_id, upwards=True)
    sounds = _apart(promo.sounds, index, touched, new_id, upwards=False)
    last = promo.clips[-1].id if promo.clips else ""
    joined = _joined(layers, index) if any(t.after not in index.clip for t in promo.transitions) else set()
    transitions = tuple(
        t for t in promo.transitions if (t.after in index.clip and t.after != last) or t.after in joined
    )
    used = promo.kept_media()
    media = promo.media if used == set(promo.media) else {k: v for k, v in promo.media.items() if k in used}
    changes: dict[str, object] = {"layers": layers, "sounds": sounds, "transitions": transitions, "media": media}
    if any(one.media not in media for one in promo.transcripts):
        changes["transcripts"] = tuple(one for one in promo.transcripts if one.media in media)
    if promo.slots:
        changes["slots"] = tuple(s for s in promo.slots if s.part in index.clip or s.part in index.item)
    if promo.dismissed:
        gone = [key for key in promo.dismissed if key.split(":")[1] not in index.clip.keys() | index.item.keys()]
        changes["dismissed"] = {key: why for key, why in promo.dismissed.items() if key not in gone}
    designs = promo.used_designs()
    if designs != set(promo.designs):
        changes["designs"] = {key: design for key, design in promo.designs.items() if key in designs}
    if not promo.clips:
        changes |= {"opens": None, "closes": None}
    return promo.changed(**changes)


def _joined(layers: tuple[Track, ...], index: Timeline) -> set[str]:
    """The layers that another follows on their track without a gap."""
    return {before.id for track in layers for before, _ in index.joined(track)}


def _apart(
    tracks: tuple[Track, ...], index: Timeline, touched: Set[str], new_id: NewId, *, upwards: bool
) -> tuple[Track, ...]:
    """Tracks on which no two items meet. Items keep their track unless they must give way."""
    order = list(tracks)
    room: list[Room] = []
    kept: list[list[Item]] = []
    moved: list[tuple[int, Item, Span]] = []
    for row, track in enumerate(order):
        taken: list[Span] = []
        late: list[tuple[Item, Span]] = []
        kept.append([])
        ranked = [(item.id in touched, index.item_span(item), item) for item in track.items]
        last = 0
        for touched_one, span, item in sorted(ranked, key=lambda r: (r[0], r[1].start, r[2].id)):
            if touched_one:
                late.append((item, span))
            elif span.start < last:
                # Those that did not move come in order of time, so that only the one before can be in the way.
                moved.append((row, item, span))
            else:
                taken.append(span)
                kept[row].append(item)
                last = max(last, span.end)
        room.append(Room(taken))
        for item, span in late:
            if room[row].free(span):
                room[row].take(span)
                kept[row].append(item)
            else:
                moved.append((row, item, span))
    for row, item, span in moved:
        ways = range(row - 1, -1, -1) if upwards else range(row + 1, len(order))
        home = next((r for r in ways if not order[r].locked and room[r].free(span)), None)
        if home is None:
            home = 0 if upwards else len(order)
            order.insert(home, Track(id=new_id("t")))
            room.insert(home, Room())
            kept.insert(home, [])
            if upwards:
                moved[:] = [(r + 1, i, s) for r, i, s in moved]
        room[home].take(span)
        kept[home].append(item)
    result = []
    for track, items in zip(order, kept, strict=True):
        items.sort(key=lambda item: (index.item_span(item).start, item.id))
        if items:
            result.append(track if tuple(items) == track.items else track.changed(items=tuple(items)))
    return tuple(result)
