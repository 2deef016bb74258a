"""From a promo, a format and a time to the recipe of a frame."""

from __future__ import annotations

from collections.abc import Collection
from typing import Protocol

from glowreel.core.document import Clip, Item, Picture, Promo
from glowreel.core.errors import Missing
from glowreel.core.formats import CANON, Format
from glowreel.core.layout import Box, framed, picture_size, placed, wrap_width
from glowreel.core.media import Media
from glowreel.core.recipe.model import DrawPicture, DrawWords, Fill, FrameRecipe, Op
from glowreel.core.recipe.transitions import RISE, moved, transition_ops
from glowreel.core.speed import Speed, source_shown
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.core.timeline import Cut, Span, timeline
from glowreel.core.words import Words


class Measure(Protocol):
    """Measures laid-out words: width and height in canonical units. The engine's; pure and repeatable."""

    def __call__(self, words: Words, size: float, wrap: float) -> tuple[float, float]: ...


ON_TIME = 2 * TICKS_PER_SECOND // 1000
"""How much later than asked for a source frame may begin and still be the one on show."""


def find_format(promo: Promo, format_id: str) -> Format:
    """The promo's format of that name."""
    for format in promo.formats:
        if format.id == format_id:
            return format
    raise Missing("no-format", "That format is no longer in the promo.", "Choose another one.")


def frame_recipe(
    promo: Promo, format: Format, time: int, measure: Measure, at_rest: Collection[str] = ()
) -> FrameRecipe:
    """The frame on show at `time` ticks (0 ≤ time), back to front.

    Layers named in `at_rest` are shown as they are between coming and going: whoever works on one must see it.
    """
    index = timeline(promo)
    ops: list[Op] = [Fill(promo.background), *_main_ops(promo, format, time)]
    for track in reversed(promo.layers):
        for item in () if track.hidden else track.items:
            span = index.item_span(item)
            if time in span and time < max(index.length, 1):
                if item.id in at_rest:
                    op: Op | None = item_op(promo, format, item, measure, (item.opacity, 0.0, time - span.start))
                else:
                    op = _layer_op(promo, format, item, measure, span, time)
                ops += [op] if op is not None else []
    width, height = format.canon
    return FrameRecipe(width, height, tuple(_without_hidden(ops, width, height, promo)))


def _main_ops(promo: Promo, format: Format, time: int) -> list[Op]:
    """What the main track shows: a clip, or two passing into each other, or the first or last coming and going."""
    index = timeline(promo)
    cut = next((c for c in index.cuts if time in c.span), None)
    if cut is not None:
        return _cut_ops(promo, format, cut, time)
    clip = index.clip_at(time)
    if clip is None:
        return []
    ops = _clip_ops(promo, format, clip, time - index.clip_span[clip.id].start)
    for edge, span, coming in ((promo.opens, index.opening, True), (promo.closes, index.closing, False)):
        if edge is not None and span is not None and time in span:
            progress = _progress(promo, span, time)
            if edge.kind.startswith("dip-"):
                veil = "#000000" if edge.kind == "dip-black" else "#FFFFFF"
                ops = [*ops, Fill(veil, round(1 - progress if coming else progress, 6))]
            else:
                ground: list[Op] = [Fill(promo.background)]
                # The picture lies on the background, so that letterbox bars come and go with it.
                shown: list[Op] = [Fill(promo.background), *ops]
                pair = (ground, shown) if coming else (shown, ground)
                ops = transition_ops(edge.kind, *pair, progress, format.canon)
    return ops


def _progress(promo: Promo, span: Span, time: int) -> float:
    """How far through a stretch a frame is, taken at the middle of the frame, so that it is symmetrical."""
    return min(1.0, max(0.0, (time - span.start + promo.rate.frame / 2) / span.length))


def _source_time(media: Media, at: int, speed: Speed | None) -> int:
    """The start of the source frame on show, held at either end of the media; 0 for photos.

    A frame that comes up to 2 ms late counts as on time, so that 29.97 frames a second in a promo of 30 run on and drop
    one now and then, instead of showing the first one twice. Backwards, frames end where they begin otherwise.
    """
    if media.still:
        return 0
    last = max(0, media.length - 1)
    at = min(max(0, at), last)
    if media.rate is None:
        return at
    late = 0 if speed is not None and speed.backwards else ON_TIME
    return media.rate.frame_start(media.rate.frame_floor(min(at + late, last)))


def _clip_ops(promo: Promo, format: Format, clip: Clip, into: int) -> list[Op]:
    """A main-track clip, `into` ticks after its start; outside it the handles show, or the edge holds."""
    if clip.media is None:
        return [Fill(clip.colour)]
    media = promo.media[clip.media]
    framing = clip.framing_in.get(format.id, clip.framing)
    box = framed(framing, format, media.width, media.height)
    at = _source_time(media, source_shown(clip.source_in, clip.speed, into), clip.speed)
    return [DrawPicture(media.hash, media.still, at, box, not media.alpha)]


def _cut_ops(promo: Promo, format: Format, cut: Cut, time: int) -> list[Op]:
    """Both sides of a transition, each on the background, so that letterbox bars move and fade like the picture."""
    index = timeline(promo)
    ground = Fill(promo.background)
    before = _clip_ops(promo, format, cut.before, time - index.clip_span[cut.before.id].start)
    behind = _clip_ops(promo, format, cut.behind, time - index.clip_span[cut.behind.id].start)
    progress = _progress(promo, cut.span, time)
    return transition_ops(cut.transition.kind, [ground, *before], [ground, *behind], progress, format.canon)


def _layer_op(promo: Promo, format: Format, item: Item, measure: Measure, span: Span, time: int) -> Op | None:
    """A layer as it is at a time: at rest, arriving, or leaving."""
    since, left = time - span.start, span.end - time
    arrive = min(item.arrive_length, span.length) if item.arrives != "none" else 0
    leave = min(item.leave_length, span.length - arrive) if item.leaves != "none" else 0
    opacity, shift = item.opacity, 0.0
    coming = 1 - (1 - since / arrive) ** 3 if arrive and since < arrive else 1.0
    going = 1 - (1 - left / leave) ** 3 if leave and left < leave else 1.0
    for motion, there, way in ((item.arrives, coming, 1), (item.leaves, going, -1)):
        if motion in ("fade", "rise"):
            opacity *= there
            shift += way * RISE * (1 - there) if motion == "rise" else 0.0
    op: Op | None = item_op(promo, format, item, measure, (round(opacity, 6), round(shift, 6), since))
    if isinstance(op, DrawPicture | DrawWords):
        for motion, there, leaving in ((item.arrives, coming, False), (item.leaves, going, True)):
            if there < 1 and isinstance(op, DrawPicture | DrawWords):
                op = moved(op, motion, there, format.canon, leaving=leaving)
    return op


def item_box(promo: Promo, format: Format, item: Item, measure: Measure) -> Box | None:
    """Where a layer lies in a format at rest; None for sounds. Canonical units."""
    op = item_op(promo, format, item, measure, (1.0, 0.0, 0))
    return op.box if op is not None else None


def item_op(
    promo: Promo, format: Format, item: Item, measure: Measure, at_time: tuple[float, float, int]
) -> DrawPicture | DrawWords | None:
    """The drawing operation of one layer at an opacity, a shift down in fractions of the short side, and a time since
    its start; None for sounds."""
    opacity, shift, since = at_time
    place = item.place_in.get(format.id, item.place)
    if isinstance(item.content, Words):
        size, wrap = place.size * CANON, wrap_width(place, format)
        width, height = measure(item.content, size, wrap)
        box = placed(place, format, width, height)
        box = Box(box.x, box.y + shift * CANON, width, height)
        return DrawWords(item.content, size, wrap, box, opacity, place.turn)
    if not isinstance(item.content, Picture):
        return None
    media = promo.media[item.content.media]
    width, height = picture_size(place, media.width, media.height)
    box = placed(place, format, width, height)
    box = Box(box.x, box.y + shift * CANON, width, height)
    speed = item.content.speed
    at = _source_time(media, source_shown(item.content.source_in, speed, since), speed)
    return DrawPicture(media.hash, media.still, at, box, not media.alpha, opacity, place.turn)


def _without_hidden(ops: list[Op], width: float, height: float, promo: Promo) -> list[Op]:
    """Drops what a later opaque, frame-filling operation hides. See-through pictures hide nothing."""
    for spot in range(len(ops) - 1, 0, -1):
        op = ops[spot]
        if isinstance(op, Fill) and op.opacity >= 1:
            return ops[spot:]
        if isinstance(op, DrawPicture) and op.opaque and op.opacity >= 1 and not op.turn:
            box = op.box
            covers = box.x <= 1e-6 and box.y <= 1e-6
            if covers and box.x + box.width >= width - 1e-6 and box.y + box.height >= height - 1e-6:
                return ops[spot:]
    return ops
