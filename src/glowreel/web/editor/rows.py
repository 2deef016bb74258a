"""What the page's scripts paint on the timeline, as plain data. Times are in seconds; fields at their default are left
out, because a long promo has many hundred rows in every answer to an edit."""

from __future__ import annotations

from collections import OrderedDict
from contextlib import suppress
from typing import Any

from glowreel.core.commands.trim import MAX_STILL, roll_room
from glowreel.core.document import Clip, Item, Promo, Sound, Track
from glowreel.core.media import Media
from glowreel.core.speed import Speed, earliest, longest, source_exact
from glowreel.core.time import MAX_TICKS, TICKS_PER_SECOND, seconds
from glowreel.core.timeline import Timeline, timeline
from glowreel.core.words import Words

STILL = seconds(MAX_STILL)
"""How far the end of a still can be dragged."""
MAP_POINTS = 16

Row = dict[str, Any]


def _seconds(value: float) -> float:
    return round(value / TICKS_PER_SECOND, 7)


def clip_row(index: Timeline, clip: Clip, strips: dict[str, dict[str, Any]]) -> Row:
    """A main-track clip."""
    span = index.clip_span[clip.id]
    media = index.promo.media.get(clip.media or "")
    row: Row = {
        "id": clip.id, "kind": clip.kind, "label": clip.name or "Filler", "start": _seconds(span.start),
        "length": _seconds(span.length), "source": _seconds(clip.source_in), "group": clip.group,
        "muted": clip.muted and media is not None and media.sounding, "gain": clip.gain,
    }  # fmt: skip
    return _tidy(row | _material(media, clip.source_in, clip.speed, span.length, strips.get(clip.media or "")))


def main_rows(index: Timeline, strips: dict[str, dict[str, Any]]) -> list[Row]:
    """The main track's clips, each with how far the cut after it can be moved."""
    clips = index.promo.clips
    rows = [clip_row(index, clip, strips) for clip in clips]
    for row, before, behind in zip(rows, clips, clips[1:], strict=False):
        row["roll"] = _roll(index.promo, before, behind)
    return rows


_rolls: OrderedDict[tuple[int, ...], tuple[Clip, Clip, list[float]]] = OrderedDict()
MAX_ROLLS = 5000


def _roll(promo: Promo, before: Clip, behind: Clip) -> list[float]:
    """How far a cut can be moved, in seconds. Clips never change, so that what is known of two holds in every revision
    of that rate in which they are neighbours."""
    key = (id(before), id(behind), promo.rate.num, promo.rate.den)
    known = _rolls.get(key)
    if known is None or known[0] is not before or known[1] is not behind:
        known = (before, behind, [_seconds(by) for by in roll_room(promo, before, behind)])
        _rolls[key] = known
        if len(_rolls) > MAX_ROLLS:
            with suppress(KeyError):
                _rolls.popitem(last=False)
    return known[2]


def item_row(index: Timeline, item: Item) -> Row:
    """A layer or a sound."""
    span = index.item_span(item)
    content = item.content
    media = index.promo.media.get(item.media or "")
    row: Row = {
        "id": item.id, "kind": content.kind, "label": label(item, media), "start": _seconds(span.start),
        "length": _seconds(span.length), "tied": item.anchor.to, "to": getattr(item.anchor, "clip", None),
        "group": item.group, "muted": item.muted,
    }  # fmt: skip
    if item.arrives != "none":
        row["arrive"] = _seconds(item.arrive_length)
    if item.leaves != "none":
        row["leave"] = _seconds(item.leave_length)
    if isinstance(content, Words):
        return _tidy(row | {"after": STILL, "before": _seconds(span.start)})
    row["source"] = _seconds(content.source_in)
    if isinstance(content, Sound):
        row |= {"gain": content.gain, "fadeIn": _seconds(content.fade_in), "fadeOut": _seconds(content.fade_out)}
    return _tidy(row | _material(media, content.source_in, content.speed, span.length, None))


def label(item: Item, media: Media | None) -> str:
    """What an item is called on the timeline."""
    if isinstance(item.content, Words):
        return item.content.text.replace("\n", " ")[:80] or "Empty words"
    return media.name if media else ""


def _material(
    media: Media | None, source_in: int, speed: Speed | None, length: int, strip: dict[str, Any] | None
) -> Row:
    """How far the ends can be dragged, and what is needed to paint film strips and waveforms."""
    if media is None or not media.length:
        return {"media": media.id if media else None, "after": STILL, "before": STILL}
    longer = longest(source_in, speed, media.length, length + MAX_TICKS) - length
    row: Row = {
        "media": media.id, "after": max(0.0, _seconds(min(longer, MAX_TICKS))), "sounding": media.sounding,
        "before": _seconds(earliest(source_in, speed, media.length, MAX_TICKS)), "of": _seconds(media.length),
    }  # fmt: skip
    if strip:
        row |= {"tiles": strip["tiles"], "step": _seconds(strip["step"])}
    if speed is not None:
        row["fast"] = speed_label(speed)
        moments = [length * n // MAP_POINTS for n in range(MAP_POINTS + 1)] if speed.constant is None else [0, length]
        row["map"] = [[_seconds(m), _seconds(float(source_exact(source_in, speed, m)))] for m in moments]
    return row


def speed_label(speed: Speed) -> str:
    """A speed in a few letters: `2×`, `−0.5×`, `hold`, `curve`."""
    rate = speed.constant
    if rate == 0:
        return "hold"
    sign = "−" if speed.backwards else ""
    return f"{sign}curve" if rate is None else f"{sign}{rate / 1000:g}×"


def _tidy(row: Row) -> Row:
    return {key: value for key, value in row.items() if value not in (None, False, 0, "") or key in ("start", "tied")}


def track_row(index: Timeline, track: Track, kind: str) -> Row:
    """A track with its items; names and switches are in the page's own heads."""
    items = sorted((item_row(index, item) for item in track.items), key=lambda row: row["start"])
    return {"id": track.id, "kind": kind, "locked": track.locked, "hidden": track.hidden, "rows": items}


def timeline_rows(promo: Promo, strips: dict[str, dict[str, Any]]) -> dict[str, Any]:
    """Everything on the timeline."""
    index = timeline(promo)
    spans = index.scene_span
    return {
        "main": main_rows(index, strips),
        "tracks": [track_row(index, t, "layer") for t in promo.layers]
        + [track_row(index, t, "sound") for t in promo.sounds],
        "cuts": [
            {
                "after": cut.before.id, "at": _seconds(cut.at), "kind": cut.transition.kind,
                "length": _seconds(cut.span.length), "heldBefore": _seconds(cut.held_before),
                "heldBehind": _seconds(cut.held_behind),
            }
            for cut in index.cuts
        ],
        "scenes": [
            {"id": s.id, "name": s.name, "start": _seconds(spans[s.id].start), "length": _seconds(spans[s.id].length),
             "clips": len(s.clips)}
            for s in promo.scenes
        ],
        "notes": [{"id": n.id, "at": _seconds(index.note_at(n)), "text": n.text} for n in promo.notes],
        "opens": index.opening and promo.opens and [promo.opens.kind, _seconds(index.opening.length)],
        "closes": index.closing and promo.closes and [promo.closes.kind, _seconds(index.closing.length)],
    }  # fmt: skip
