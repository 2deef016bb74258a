"""A moment of a promo that is found again after later edits: by the clip that is on show there, and by what of it.

What is kept is the clip, its material, and the time of that which is shown. Later it is where a clip shows that again:
the same clip first, else one with the same material, as there is after a split or a copy. Where no clip shows it any
more, the place is gone, and the moment is at what is nearest to it.
"""

from __future__ import annotations

from dataclasses import dataclass

from glowreel.core.document import Clip, Promo
from glowreel.core.time import Ticks
from glowreel.core.timeline import timeline
from glowreel.core.value import Id, Value

STEPS = 500
"""So many places of a clip whose speed changes are looked at."""


class Moment(Value):
    """What was on show at a time: `clip` with `media`, `own` of its own time, `shown` of its material's. `at` was the
    time of the promo. All in ticks."""

    at: Ticks
    clip: Id | None = None
    media: Id | None = None
    own: Ticks = 0
    shown: int | None = None


@dataclass(frozen=True)
class Found:
    """Where a moment is now, in ticks, and whether what was on show then still is."""

    at: int
    there: bool


def moment_at(promo: Promo, at: int) -> Moment:
    """The moment at a time, which is held inside the promo."""
    index = timeline(promo)
    at = max(0, min(at, index.length - 1))
    clip = index.clip_at(at)
    if clip is None:
        return Moment(at=max(0, at))
    own = clip.into + at - index.clip_span[clip.id].start
    shown = clip.source.shown(own) if clip.source is not None else None
    return Moment(at=at, clip=clip.id, media=clip.media, own=own, shown=shown)


def find_moment(promo: Promo, moment: Moment) -> Found:
    """Where a moment is in a promo as it is now."""
    index = timeline(promo)
    same = [one for one in promo.clips if one.id == moment.clip or (moment.media and one.media == moment.media)]
    starts = {one.id: index.clip_span[one.id].start for one in same}
    same.sort(key=lambda one: (one.id != moment.clip, abs(starts[one.id] - moment.at)))
    for clip in same:
        own = _own(clip, moment)
        if own is not None and clip.into <= own < clip.into + clip.length:
            return Found(starts[clip.id] + own - clip.into, True)
    if same:
        clip = same[0]
        own = _own(clip, moment)
        before = own is not None and own < clip.into
        return Found(starts[clip.id] if before else starts[clip.id] + clip.length - 1, False)
    return Found(max(0, min(moment.at, index.length - 1)), False)


def _own(clip: Clip, moment: Moment) -> int | None:
    """The clip's own time at which it shows that, which may lie outside it; nothing where it never gets there."""
    source = clip.source
    if source is None or moment.shown is None or source.held:
        return moment.own
    if source.speed is None:
        return moment.shown - source.at
    wanted, step = moment.shown, max(1, clip.length // STEPS)
    best = min(range(clip.into, clip.into + clip.length, step), key=lambda own: abs(source.shown(own) - wanted))
    near = max(abs(source.shown(best + step) - source.shown(best)), abs(source.shown(best) - source.shown(best - step)))
    return best if abs(source.shown(best) - wanted) <= max(near, step) else None
