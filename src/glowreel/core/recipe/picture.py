"""From a promo, a format and a time to the recipe of a frame."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass, replace
from functools import partial
from typing import Any

from glowreel.core.arrangement import see
from glowreel.core.captions.drawing import caption_ops
from glowreel.core.content import Drawn, Seen
from glowreel.core.document import Clip, Item, Part, Promo, Track
from glowreel.core.easing import eased
from glowreel.core.errors import Missing
from glowreel.core.formats import CANON, Format
from glowreel.core.layout import Box, Measure
from glowreel.core.recipe.finish import adjusted, finished, said
from glowreel.core.recipe.ground import ground_ops
from glowreel.core.recipe.model import Composite, DrawGradient, DrawPicture, DrawWords, Fill, FrameRecipe, Op
from glowreel.core.recipe.motions import RISE, moved, stayed
from glowreel.core.recipe.sound import heard_around
from glowreel.core.recipe.transitions import layer_transition, transition_ops
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.core.timeline import Cut, Span, timeline

FAINT = 0.7
"""How much is seen of what somebody works on, where its coming or going hides it."""


def find_format(promo: Promo, format_id: str) -> Format:
    """The promo's format of that name."""
    for format in promo.formats:
        if format.id == format_id:
            return format
    raise Missing("no-format", "That format is no longer in the promo.", "Choose another one.")


def frame_recipe(
    promo: Promo, format: Format, time: int, measure: Measure, at_rest: Collection[str] = (), without: str = ""
) -> FrameRecipe:
    """The frame on show at `time` ticks (0 ≤ time), back to front.

    Layers named in `at_rest` are shown as they are between coming and going: whoever works on one must see it; faintly
    where that hides them. One is left out, `without`, that is shown by somebody else.
    """
    index = timeline(promo)
    ops: list[Op] = [_ground(promo), *_main_ops(promo, format, time, measure)]
    for track in reversed(promo.layers):
        if track.hidden or time >= max(index.length, 1):
            continue
        over = next((i for i in track.items if "adjusts" in i.content.traits and time in index.item_span(i)), None)
        if over is not None:
            seen = Seen(promo, over, format, over.into + time - index.item_span(over).start, measure)
            ops = adjusted(seen, ops) if seen("shown") else ops
        else:
            shown = any(item.id == without and time in index.item_span(item) for item in track.items)
            ops += [] if shown else _track_ops(promo, format, track, measure, time, at_rest)
    ops += caption_ops(promo, format, time, measure) if promo.captions else []
    width, height = format.canon
    return FrameRecipe(width, height, tuple(without_hidden(ops, width, height)))


def _track_ops(
    promo: Promo, format: Format, track: Track, measure: Measure, time: int, at_rest: Collection[str]
) -> list[Op]:
    """What a track of layers shows: one of them, or two passing into each other."""
    index = timeline(promo)
    for item in track.items:
        cut = index.layer_cut_at.get(item.id)
        if cut is not None and time in cut.span:
            return _passing_layers(promo, format, cut, measure, time)
        span = index.item_span(item)
        if time in span:
            cut = index.layer_cut_at.get(item.id)
            joined = (item.id in index.passed_into, cut is not None)
            # What the layer before passes into is drawn with it.
            if joined[0] and any(time in cut.span for cut in index.layer_cuts if cut.behind.id == item.id):
                continue
            return _layer_ops(promo, format, item, measure, (span, time), resting=item.id in at_rest, joined=joined)
    return []


def _passing_layers(promo: Promo, format: Format, cut: Cut, measure: Measure, time: int) -> list[Op]:
    """Two layers of a track, one giving way to the other, in the box that holds both."""
    index = timeline(promo)
    sides, boxes = [], []
    for part in (cut.before, cut.behind):
        assert isinstance(part, Item)
        span = index.item_span(part)
        sides.append(_layer_ops(promo, format, part, measure, (span, time), resting=False, joined=(True, True)))
        box = part_box(promo, format, part, measure, part.into + time - span.start)
        boxes += [box] if box is not None else []
    if not boxes:
        return []
    left, top = min(box.x for box in boxes), min(box.y for box in boxes)
    right, low = max(box.x + box.width for box in boxes), max(box.y + box.height for box in boxes)
    both = Box(left, top, right - left, low - top)
    return [layer_transition(cut.transition.kind, sides[0], sides[1], _progress(promo, cut.span, time), both)]


def _main_ops(promo: Promo, format: Format, time: int, measure: Measure) -> list[Op]:
    """What the main track shows: a clip, or two passing into each other, or the first or last coming and going."""
    index = timeline(promo)
    cut = next((c for c in index.cuts if time in c.span), None)
    if cut is not None:
        return _cut_ops(promo, format, cut, time, measure)
    clip = index.clip_at(time)
    if clip is None:
        return []
    ops = _clip_ops(promo, format, clip, time - index.clip_span[clip.id].start, measure)
    for edge, span, coming in ((promo.opens, index.opening, True), (promo.closes, index.closing, False)):
        if edge is not None and span is not None and time in span:
            progress = _progress(promo, span, time)
            if edge.kind.startswith("dip-"):
                veil = "#000000" if edge.kind == "dip-black" else "#FFFFFF"
                ops = [*ops, Fill(veil, round(1 - progress if coming else progress, 6))]
            else:
                ground: list[Op] = [_ground(promo)]
                # The picture lies on the background, so that letterbox bars come and go with it.
                shown: list[Op] = [_ground(promo), *ops]
                pair = (ground, shown) if coming else (shown, ground)
                ops = transition_ops(edge.kind, *pair, progress, format.canon)
    return ops


def _ground(promo: Promo) -> Fill:
    """What everything lies on; nothing where the promo is made to be seen through."""
    return Fill(promo.background) if promo.background else Fill("#000000", 0.0)


def _progress(promo: Promo, span: Span, time: int) -> float:
    """How far through a stretch a frame is, taken at the middle of the frame, so that it is symmetrical."""
    return min(1.0, max(0.0, (time - span.start + promo.rate.frame / 2) / span.length))


def _drawn(seen: Seen) -> Drawn | None:
    """What a part draws, with everything that is done to it; nothing where it is hidden or only heard."""
    if not seen("shown"):
        return None
    drawn = seen.part.content.draws(seen)
    if drawn is None or not (seen.part.effects or said(seen)):
        return drawn
    return replace(drawn, ops=finished(seen, drawn.ops, drawn.box))


def _clip_ops(promo: Promo, format: Format, clip: Clip, since: int, measure: Measure) -> list[Op]:
    """A main-track clip, `since` ticks after its start; outside it the handles show, or the edge holds."""
    seen = Seen(promo, clip, format, clip.into + since, measure)
    drawn = _drawn(seen)
    ground = ground_ops(seen)
    if drawn is None:
        return ground
    width, height = format.canon
    opacity = round(seen("opacity"), 6) if "opacity" in said(seen) else 1.0
    ops = list(drawn.ops)
    if drawn.turn or opacity < 1:
        # What fills the frame is turned about the middle of the frame.
        ops = [Composite(drawn.ops, opacity=opacity, turn=drawn.turn, about=(width / 2, height / 2))]
    return without_hidden([*ground, *ops], width, height)


def _cut_ops(promo: Promo, format: Format, cut: Cut, time: int, measure: Measure) -> list[Op]:
    """Both sides of a transition, each on the background, so that letterbox bars move and fade like the picture."""
    index = timeline(promo)
    ground = _ground(promo)
    assert isinstance(cut.before, Clip)
    assert isinstance(cut.behind, Clip)
    before = _clip_ops(promo, format, cut.before, time - index.clip_span[cut.before.id].start, measure)
    behind = _clip_ops(promo, format, cut.behind, time - index.clip_span[cut.behind.id].start, measure)
    progress = _progress(promo, cut.span, time)
    return transition_ops(cut.transition.kind, [ground, *before], [ground, *behind], progress, format.canon)


@dataclass(frozen=True)
class _End:
    """One end of a layer: by which motion it comes or goes, how much of it is there, and how strongly it moves."""

    motion: str
    there: float
    strength: float
    sign: int


def shown_span(item: Item, format: Format, lies: Span) -> Span:
    """When a layer is on show in a format: for as long as it lies on its track, or for a shorter stretch of it."""
    start = min(lies.end, lies.start + item.read("comes_late", format.id))
    return Span(start, max(start, lies.end - item.read("goes_early", format.id)))


def _ends(item: Item, span: Span, time: int, joined: tuple[bool, bool]) -> tuple[_End, _End] | None:
    """Both ends at a time; None while it waits to come, or is gone already. By an end at which it is joined to its
    neighbour by a transition it neither comes nor goes."""
    ends, room = [], span.length
    for name, way, sign in (("arrives", "arrive", 1), ("leaves", "leave", -1)):
        motion = "none" if joined[sign < 0] else item.read(name)
        if motion == "none":
            ends.append(_End(motion, 1.0, 1.0, sign))
            continue
        delay = item.read("arrive_delay") if sign > 0 else 0
        since = time - span.start - delay if sign > 0 else span.end - time
        if since < 0:
            return None
        length = min(item.read(f"{way}_length"), max(0, room - delay))
        room -= length + delay
        share = eased(item.read(f"{way}_ease"), since / length) if since < length else 1.0
        ends.append(_End(motion, share, item.read(f"{way}_strength"), sign))
    return ends[0], ends[1]


def _layer_ops(
    promo: Promo,
    format: Format,
    item: Item,
    measure: Measure,
    when: tuple[Span, int],
    *,
    resting: bool,
    joined: tuple[bool, bool] = (False, False),
) -> list[Op]:
    """A layer as it is at a time: at rest, arriving, or leaving; joined at its ends to its neighbours, or not."""
    lies, time = when
    span = shown_span(item, format, lies)
    # What comes later begins then; footage runs on meanwhile, so that it stays in step with its sound.
    begins = lies.start if item.source is not None else span.start
    since = time - begins if begins == lies.start else max(0, time - begins)
    seen = see(
        promo, item, format, item.into + since, measure, resting, span.length, begins,
        partial(heard_around, promo, time),
    )  # fmt: skip
    drawn = _drawn(seen)
    still = _End("none", 1.0, 1.0, 1)
    # By a transition a layer is seen beyond its ends, but for those at which it is on show for a shorter stretch.
    early, late = lies.start < span.start and time < span.start, span.end < lies.end and time >= span.end
    ends = None if early or late else _ends(item, span, time, joined)
    faint = FAINT if resting and (ends is None or min(end.there for end in ends) < 0.5) else 1.0
    ends = (still, still) if resting else ends
    if drawn is None or ends is None:
        return []
    opacity, shift = seen("opacity") * faint, 0.0
    for end in ends:
        if end.motion in ("fade", "rise") and end.there != 1:
            opacity *= max(0.0, min(1.0, end.there))
            shift += end.sign * RISE * end.strength * (1 - end.there) if end.motion == "rise" else 0.0
    opacity, shift = round(opacity, 6), round(shift, 6) * CANON
    names = said(seen)
    op, box = _one(drawn, opacity, shift, seen("blend") if "blend" in names else "normal")
    if "stays" in names and not resting:
        op = stayed(
            op,
            box,
            seen("stays"),
            seen.moment / TICKS_PER_SECOND,
            rate=seen("stay_rate"),
            strength=seen("stay_strength"),
        )
    for end in ends:
        on_its_way = moved(
            op, box, end.motion, end.there, format.canon, leaving=end.sign < 0, strength=end.strength
        )  # fmt: skip
        if on_its_way is not op:
            return [on_its_way]
    return [op]


def _one(drawn: Drawn, opacity: float, shift: float, blend: str = "normal") -> tuple[Op, Box]:
    """What is drawn as one operation, at an opacity, pushed down. A single picture or words need no group for that."""
    box = Box(drawn.box.x, drawn.box.y + shift, drawn.box.width, drawn.box.height)
    op, *others = drawn.ops or (Composite(()),)
    if not others and isinstance(op, DrawPicture | DrawWords) and blend == "normal":
        lies = Box(op.box.x, op.box.y + shift, op.box.width, op.box.height)
        return replace(op, opacity=opacity, box=lies, turn=drawn.turn), box
    middle = (drawn.box.x + drawn.box.width / 2, drawn.box.y + drawn.box.height / 2) if drawn.turn else (0.0, 0.0)
    laid: dict[str, Any] = {"opacity": opacity, "dy": shift, "turn": drawn.turn, "about": middle, "blend": blend}
    if (
        not others
        and isinstance(op, Composite)
        and op == Composite(op.ops, effects=op.effects, masks=op.masks, region=op.region)
    ):
        return replace(op, **laid), box
    return Composite(drawn.ops, **laid), box


def part_box(promo: Promo, format: Format, part: Part, measure: Measure, moment: int | None = None) -> Box | None:
    """Where a layer lies in a format at a moment of its own time, by default where it begins; None for what is only
    heard. Canonical units."""
    seen = see(promo, part, format, part.into if moment is None else moment, measure, resting=True)
    drawn = part.content.draws(seen)
    return drawn.box if drawn is not None else None


def words_op(promo: Promo, format: Format, part: Part, measure: Measure, moment: int) -> DrawWords | None:
    """The words of a part at rest, as they are laid out at a moment of its own time; None where it has none."""
    drawn = part.content.draws(see(promo, part, format, moment, measure, resting=True))
    waiting: list[Op] = list(drawn.ops) if drawn is not None else []
    while waiting:
        op = waiting.pop(0)
        if isinstance(op, DrawWords):
            return op
        waiting += op.ops if isinstance(op, Composite) else ()
    return None


def resting_op(promo: Promo, format: Format, item: Item, measure: Measure, moment: int) -> Op | None:
    """One layer by itself as it is at a moment of its own time, neither coming nor going; None for sounds."""
    seen = see(promo, item, format, moment, measure, resting=True)
    drawn = item.content.draws(seen)
    if drawn is None:
        return None
    return _one(replace(drawn, ops=finished(seen, drawn.ops, drawn.box)), seen("opacity"), 0.0)[0]


def without_hidden(ops: list[Op], width: float, height: float) -> list[Op]:
    """Drops what a later opaque, frame-filling operation hides. See-through pictures hide nothing."""
    for spot in range(len(ops) - 1, 0, -1):
        if _covers(ops[spot], width, height):
            return ops[spot:]
    return ops


def _covers(op: Op, width: float, height: float) -> bool:
    """Whether an operation hides everything behind it."""
    if op.opacity < 1:
        return False
    if isinstance(op, Fill):
        return True
    if isinstance(op, DrawGradient):
        return op.box is None and min(op.opacities) >= 1
    if isinstance(op, DrawPicture):
        box = op.box
        covers = op.opaque and not op.turn and box.x <= 1e-6 and box.y <= 1e-6
        return covers and box.x + box.width >= width - 1e-6 and box.y + box.height >= height - 1e-6
    if isinstance(op, Composite):
        # In what is mixed by itself, a later part may take away what an earlier one covers.
        still = not (op.dx or op.dy or op.turn or op.masks or op.window or op.apart) and op.blend == "normal"
        still = still and op.scale == op.wide == op.high == 1
        return still and any(_covers(inner, width, height) for inner in op.ops)
    return False
