"""What of a cropped picture stays in view: its subject's path, corrected by hand.

```
AimView   the view follows its subject     at 2 s to the left   →  it follows the same path, through that point at 2 s
          a focus that stands still        at 2 s to the left   →  it stands still there
```
What was found becomes points of the focus, in the clip's own time, the first time that it is corrected; a little before
and behind the place it stays as it was found. Refused: what is not a picture of the main track.
"""

from __future__ import annotations

from typing import Literal

from glowreel.core.commands.base import Command, Context, Outcome, called
from glowreel.core.commands.change import map_parts
from glowreel.core.commands.roles import FormatId, Target
from glowreel.core.commands.setting import assigned, format_of, moment_of, place_for
from glowreel.core.content.pictures import framing_of
from glowreel.core.document import Part, Promo
from glowreel.core.errors import Refusal
from glowreel.core.formats import Format
from glowreel.core.properties import PROPERTIES, Curve, Point
from glowreel.core.setting import APart, with_value
from glowreel.core.source import Spot
from glowreel.core.time import Ticks, ticks
from glowreel.core.timeline import timeline

EVERY = ticks(0.5)
"""How far apart moments of a path are looked at when it becomes points."""
MOST = 120
NEAR = ticks(1.2)
"""How long before and behind a place that is corrected the way is as it was found."""
SAME = 0.004
"""How far a point may be from the straight way between its neighbours and be left out, in shares of the picture."""


def _shot(promo: Promo, part: Part, moment: int) -> int:
    """At which time of the source the shot begins that is on show at a moment of the part's own time."""
    media, source = promo.media[part.media or ""], part.source
    if media.subject is None or source is None or media.still:
        return 0
    shot = media.subject.shot_at(min(max(0, source.shown(moment)), max(0, media.length - 1)))
    return shot.at if shot is not None else 0


def _cut_between(promo: Promo, part: Part, before: int, behind: int) -> int:
    """The first moment of the shot that is on show at the later one of two moments between which one cut lies."""
    old = _shot(promo, part, before)
    while behind - before > 1:
        middle = (before + behind) // 2
        if _shot(promo, part, middle) == old:
            before = middle
        else:
            behind = middle
    return behind


def path_of(promo: Promo, part: Part, format: Format) -> tuple[tuple[int, float, float], ...]:
    """The way of a picture's focus in a format: moments of the part's own time, across and down; one for what stands
    still. At a cut inside of it there is a point on either side, a tick apart."""
    count = min(MOST, max(2, part.length // EVERY + 1))
    moments = [part.into + round(part.length * n / (count - 1)) for n in range(count)]
    cuts = {_cut_between(promo, part, *pair) for pair in zip(moments, moments[1:], strict=False)
            if _shot(promo, part, pair[0]) != _shot(promo, part, pair[1])}  # fmt: skip
    fixed = {moments[0], moments[-1], *cuts, *(cut - 1 for cut in cuts)}
    found = [(at, *framing_of(promo, part, format, at).focus) for at in sorted({*moments, *fixed})]
    kept = [found[0]]
    for now, later in zip(found[1:], [*found[2:], found[-1]], strict=True):
        before = kept[-1]
        share = (now[0] - before[0]) / max(1, later[0] - before[0])
        straight = (before[side] + share * (later[side] - before[side]) for side in (1, 2))
        away = max(abs(now[side] - value) for side, value in zip((1, 2), straight, strict=True))
        if away > SAME or now[0] in fixed:
            kept.append(now)
    still = all(abs(one[side] - found[0][side]) <= SAME for one in found for side in (1, 2))
    return tuple(kept[:1] if still else kept)


class AimView(Command):
    """Lets the view of a picture have its middle at a point of it at a time of the promo, and follow its subject as
    before at other times. What stands still stands still there."""

    do: Literal["aim-view"] = "aim-view"
    item: Target
    format: FormatId
    at: Ticks
    focus: Spot
    only: bool = False

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        part, format = timeline(promo).find_part(self.item), format_of(promo, self.format)
        if "framed" not in part.content.traits or part.media is None:
            raise Refusal("no-picture", "That is no picture of the main track.", "Select footage or a photo there.")
        moment, row = moment_of(promo, part, self.at), PROPERTIES["focus"]
        where = place_for(part, row, "focus", format.id, self.only)
        path = () if part.says("focus", format.id) else path_of(promo, part, format)
        assert moment is not None
        # What is corrected is one shot: what is before or behind a cut stays as it was found.
        shot = [at for at, *_ in path if _shot(promo, part, at) == _shot(promo, part, moment)]
        first, last = min(shot, default=part.into), max(shot, default=part.into + part.length)
        ends = (max(first, moment - NEAR), min(last, moment + NEAR))
        kept = {at: (x, y) for at, x, y in path if not ends[0] < at < ends[1]}
        kept |= {at: framing_of(promo, part, format, at).focus for at in ends if at != moment}

        def aimed(one: APart) -> APart:
            if len(path) > 1:
                points = (Point(at=at, value=(round(x, 4), round(y, 4))) for at, (x, y) in sorted(kept.items()))
                one = with_value(one, "focus", Curve(points=tuple(points)), where)
            return assigned(one, row, "focus", tuple(self.focus), where, moment)

        return Outcome(map_parts(promo, {part.id}, aimed), f"Aimed the view of {called(promo, part)}", (part.id,))
