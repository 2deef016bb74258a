"""What the page's scripts paint on the timeline, as plain data. Times are in seconds; fields at their default are left
out, because a long promo has many hundred rows in every answer to an edit."""

from __future__ import annotations

from typing import Any

from glowreel.core.commands.collage import blank
from glowreel.core.commands.trim import MAX_STILL, roll_room
from glowreel.core.content.values import rows_of
from glowreel.core.document import Clip, Item, Part, Promo, Track
from glowreel.core.media import Media
from glowreel.core.properties import Curve
from glowreel.core.remembered import Remembered
from glowreel.core.setting import curves, row_of
from glowreel.core.speed import Speed
from glowreel.core.time import MAX_TICKS, TICKS_PER_SECOND, seconds
from glowreel.core.timeline import Timeline, timeline

STILL = seconds(MAX_STILL)
"""How far the end of a still can be dragged."""
MAP_POINTS = 16

Row = dict[str, Any]


def _seconds(value: float) -> float:
    return round(value / TICKS_PER_SECOND, 7)


def clip_row(index: Timeline, clip: Clip, strips: dict[str, dict[str, Any]]) -> Row:
    """A main-track clip."""
    media, strip = index.promo.media.get(clip.media or ""), strips.get(clip.media or "")
    key = (strip["tiles"], strip["step"]) if strip else ()
    row = _rows.of((clip, media), key, lambda: _clip_itself(index, clip, strip))
    return {**row, "start": _seconds(index.clip_span[clip.id].start)}


def _clip_itself(index: Timeline, clip: Clip, strip: dict[str, Any] | None) -> Row:
    """What a clip's row says wherever it lies."""
    media = index.promo.media.get(clip.media or "")
    row: Row = {
        "id": clip.id, "kind": clip.kind, "label": clip.name or "Filler", "start": 0,
        "length": _seconds(clip.length), "source": _seconds(clip.begins), "group": clip.group,
        "curves": curve_rows(index, clip), "hidden": not clip.read("shown"), **line_row(clip, media),
        "own": sorted(clip.values_in),
    }  # fmt: skip
    if clip.cells:
        row["empty"] = [cell.id for cell in clip.cells if blank(cell)]
    if "heard" in clip.content.traits and media is not None and media.sounding:
        row |= {"muted": clip.read("muted"), "gain": clip.read("gain")}
    return _tidy(row | _material(index, clip, clip.length, strip))


def main_rows(index: Timeline, strips: dict[str, dict[str, Any]]) -> list[Row]:
    """The main track's clips, each with how far the cut after it can be moved."""
    clips = index.promo.clips
    rows = [clip_row(index, clip, strips) for clip in clips]
    for row, before, behind in zip(rows, clips, clips[1:], strict=False):
        row["roll"] = _roll(index.promo, before, behind)
    return rows


_rolls: Remembered[list[float]] = Remembered(5000)
_rows: Remembered[Row] = Remembered(20_000)


def _roll(promo: Promo, before: Clip, behind: Clip) -> list[float]:
    """How far a cut can be moved, in seconds."""
    rate = promo.rate
    return _rolls.of(
        (before, behind), (rate.num, rate.den), lambda: [_seconds(by) for by in roll_room(promo, before, behind)]
    )  # fmt: skip


def item_row(index: Timeline, item: Item) -> Row:
    """A layer or a sound."""
    span = index.item_span(item)
    things = (item, *(index.promo.media.get(source.media) for source in item.materials))
    row = _rows.of(things, (span.length,), lambda: _item_itself(index, item, span.length))
    return {**row, "start": _seconds(span.start)}


def _item_itself(index: Timeline, item: Item, length: int) -> Row:
    """What an item's row says wherever it lies, for as long as it lasts."""
    row: Row = {
        "id": item.id, "kind": item.kind, "label": label(index.promo, item), "start": 0,
        "length": _seconds(length), "tied": item.anchor.to, "to": getattr(item.anchor, "clip", None),
        "group": item.group, "source": _seconds(item.begins), "curves": curve_rows(index, item),
        "own": sorted(item.values_in), **line_row(item, index.promo.media.get(item.media or "")),
    }  # fmt: skip
    if "heard" in item.content.traits:
        row |= {"muted": item.read("muted"), "gain": item.read("gain")}
        row |= {"fadeIn": _seconds(item.read("fade_in")), "fadeOut": _seconds(item.read("fade_out"))}
        curves = {"curveIn": item.read("fade_in_curve"), "curveOut": item.read("fade_out_curve")}
        row |= {name: curve for name, curve in curves.items() if curve != "straight"} | {"heard": item.read("bus")}
        row["runs"] = item.source.runs if item.source is not None and item.source.runs != "once" else ""
    else:
        row |= {"hidden": not item.read("shown")}
        for way, motion in (("arrive", "arrives"), ("leave", "leaves")):
            if item.read(motion) != "none":
                row[way] = _seconds(item.read(f"{way}_length"))
        row["wait"] = _seconds(item.read("arrive_delay")) if "arrive" in row else 0
    if item.source is None:
        return _tidy(row | {"after": STILL, "before": STILL})
    return _tidy(row | _material(index, item, length, None))


def label(promo: Promo, item: Item) -> str:
    """What an item is called on the timeline."""
    if "text" in rows_of(item.kind):
        return str(item.read("text")).replace("\n", " ")[:80] or "Empty words"
    called = item.content.called(item, promo.media.get(item.media or ""))
    return called.strip("“”")


def line_row(part: Part, media: Media | None) -> dict[str, Any]:
    """The line drawn on a part, where it is not as usual: how loud what is heard is, how much is seen of all else. A
    constant, or points: seconds from where the part begins, values, and how they go on."""
    heard = "heard" in part.content.traits and media is not None and media.sounding
    if "opacity" not in rows_of(part.kind) and not heard:
        return {}
    value = part.set_to("gain" if heard else "opacity")
    if isinstance(value, Curve):
        return {"line": [[_seconds(point.at - part.into), point.value, point.ease] for point in value.points]}
    return {} if heard or value == 1 else {"opacity": value}


def curve_rows(index: Timeline, part: Part) -> list[dict[str, Any]]:
    """Everything of a part that changes over time: its name and its points, as seconds from where the part begins."""
    found = []
    for name, format_id, curve in curves(part):
        row = row_of(part, name)
        points = [[_seconds(point.at - part.into), point.ease] for point in curve.points]
        found.append({"name": name, "label": row.label if row else name, "format": format_id, "points": points})
    return found


def _material(index: Timeline, part: Part, length: int, strip: dict[str, Any] | None) -> Row:
    """How far the ends can be dragged, and what is needed to paint film strips and waveforms."""
    media, source = index.promo.media.get(part.media or ""), part.source
    if media is None or source is None or not media.length:
        return {"media": media.id if media else None, "after": STILL, "before": STILL}
    longer = source.longest(part.into, media.length, length + MAX_TICKS) - length
    row: Row = {
        "media": media.id, "after": max(0.0, _seconds(min(longer, MAX_TICKS))), "sounding": media.sounding,
        "before": _seconds(source.earliest(part.into, media.length, MAX_TICKS)), "of": _seconds(media.length),
    }  # fmt: skip
    if strip:
        row |= {"tiles": strip["tiles"], "step": _seconds(strip["step"])}
    if source.speed is not None:
        row["fast"] = speed_label(source.speed)
        steps = MAP_POINTS if source.speed.constant is None else 1
        moments = [length * n // steps for n in range(steps + 1)]
        row["map"] = [[_seconds(m), _seconds(float(source.exact(part.into + m)))] for m in moments]
    return row


def speed_label(speed: Speed) -> str:
    """A speed in a few letters: `2×`, `−0.5×`, `hold`, `curve`."""
    rate = speed.constant
    if rate == 0:
        return "hold"
    sign = "−" if speed.backwards else ""
    return f"{sign}curve" if rate is None else f"{sign}{rate / 1000:g}×"


def _tidy(row: Row) -> Row:
    return {
        key: value for key, value in row.items() if value not in (None, False, 0, "", []) or key in ("start", "tied")
    }


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
            for cut in (*index.cuts, *index.layer_cuts)
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
