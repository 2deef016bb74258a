"""How fast a part runs.

```
SetSpeed   |------A------|  2×       →  |--A---|            the same material in half the time; the track closes up
SetCurve   |------A------|  points   →  |---A~~~|           as long as the material lasts along the curve
Freeze     |------A------|  at t     →  |--A--|▪▪▪▪|--A--|  the frame at t is held, then it goes on
```
Ties stay on the picture they were on. Sound follows, with its pitch kept unless asked otherwise.
"""

from __future__ import annotations

from fractions import Fraction
from typing import Literal

from pydantic import Field

from glowreel.core.anchors import after_retiming
from glowreel.core.commands.base import Command, Context, Outcome, in_seconds
from glowreel.core.commands.change import map_parts, rebuild_scenes
from glowreel.core.commands.clips import position_before
from glowreel.core.commands.parts import Running, running
from glowreel.core.commands.roles import Target
from glowreel.core.commands.split import cut_main
from glowreel.core.commands.trim import MAX_STILL
from glowreel.core.document import Clip, Promo
from glowreel.core.errors import Refusal
from glowreel.core.setting import rebased, stilled
from glowreel.core.source import Source
from glowreel.core.speed import (
    FASTEST,
    MAX_POINTS,
    SLOWEST,
    UNIT,
    Preset,
    Speed,
    SpeedPoint,
    constant,
    preset,
)
from glowreel.core.time import TICKS_PER_SAMPLE, Length, Ticks, ticks
from glowreel.core.timeline import timeline


class SetSpeed(Command):
    """Makes a clip, layer or sound run at one speed, in thousandths (100 to 16 000), forwards or backwards.

    The same material is shown in another length. Fields left out stay as they are. A curve becomes straight.
    """

    do: Literal["set-speed"] = "set-speed"
    item: Target
    speed: int | None = Field(default=None, ge=SLOWEST, le=FASTEST)
    backwards: bool | None = None
    pitch: Literal["kept", "follows"] | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        part = running(promo, self.item)
        old, (first, last) = part.speed, part.used
        pitch = self.pitch or (old.pitch if old else "kept")
        backwards = self.backwards if self.backwards is not None else bool(old and old.backwards)
        if self.speed is None and old is not None and old.constant is None:
            # Only the direction or the pitch changes: the curve stays.
            points = _turned(part) if backwards != old.backwards else _from_start(part)
            curve = Speed(points=points, backwards=backwards, pitch=pitch)
            start = last if backwards else first
            return self._done(promo, start, curve, part.length)
        rate = self.speed or (old.constant if old and old.constant else UNIT)
        made = constant(rate, backwards=backwards, pitch=pitch)
        if last == first:
            last = min(part.media.length, first + part.length)
        wanted = (last - first) * UNIT // rate
        return self._done(promo, last if backwards else first, made, wanted)

    def _done(self, promo: Promo, at: int, speed: Speed | None, wanted: int) -> Outcome:
        made = _retimed(promo, self.item, at, speed, wanted)
        part = running(made, self.item)
        rate = speed.constant if speed else UNIT
        backwards = " backwards" if speed is not None and speed.backwards else ""
        fast = f"{rate / UNIT:g}×" if rate is not None else "its curve"
        sentence = f"{part.name} runs at {fast}{backwards}: {in_seconds(part.length)}"
        return Outcome(made, sentence, (self.item,), frozenset({self.item}))


class SetCurve(Command):
    """Gives a clip, layer or sound a speed curve: a ready-made one, or points as (share of its length, thousandths).

    It starts on the same frame and lasts until the same material is used up, if there is enough of it along the curve.
    """

    do: Literal["set-curve"] = "set-curve"
    item: Target
    preset: Preset | None = None
    points: tuple[tuple[float, int], ...] = Field(default=(), max_length=MAX_POINTS)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        part = running(promo, self.item)
        old, (first, last) = part.speed, part.used
        backwards, pitch = bool(old and old.backwards), old.pitch if old else "kept"
        if self.preset is None and not self.points:
            raise Refusal("no-curve", "A curve needs at least one point.", "Choose a ready-made one to start with.")
        if any(not 0 <= share <= 1 or not SLOWEST <= speed <= FASTEST for share, speed in self.points):
            raise Refusal("bad-curve", "Speeds go from 0.1× to 16×, along the length of the clip.")
        ready_made = self.preset and preset(self.preset, UNIT)
        shares = [(Fraction(p.at, UNIT), p.speed) for p in ready_made] if ready_made else [
            (Fraction(share).limit_denominator(10_000), speed) for share, speed in sorted(self.points)
        ]  # fmt: skip
        # The points are shares of the length that comes out: the mean speed along them says how long that is.
        flat = Speed(points=tuple(SpeedPoint(at=round(share * 1_000_000), speed=speed) for share, speed in shares))
        mean = flat.area(1_000_000) / 1_000_000
        wanted = int((last - first) / mean)
        points = tuple(SpeedPoint(at=round(share * wanted), speed=speed) for share, speed in shares)
        speed: Speed | None = Speed(points=points, backwards=backwards, pitch=pitch)
        if self.preset == "steady":
            speed = constant(UNIT, backwards=backwards, pitch=pitch)
        made = _retimed(promo, self.item, last if backwards else first, speed, wanted)
        return Outcome(made, f"Gave {part.name} a speed curve", (self.item,), frozenset({self.item}))


class Freeze(Command):
    """Holds the frame of a main-track clip at a time for a length; then it goes on from there."""

    do: Literal["freeze"] = "freeze"
    at: Ticks
    length: Length = ticks(2)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        index, rate = timeline(promo), promo.rate
        at = rate.frame_start(rate.frame_floor(self.at))
        clip = index.clip_at(at)
        if clip is None or clip.source is None or index.material(clip) is None:
            raise Refusal("still", "There is no footage here to hold.", "Move the playhead over footage.")
        moment = clip.into + at - index.clip_span[clip.id].start
        source = Source(
            media=clip.source.media, at=int(clip.source.exact(moment)), speed=Speed(points=(SpeedPoint(speed=0),))
        )
        made = cut_main(promo, at, context)
        behind = timeline(made).clip_at(at)
        held = stilled(clip, moment).changed(
            id=context.new_id("c"), source=source, length=max(rate.frame, rate.snap(self.length)), group=None
        )  # fmt: skip
        position = position_before(made, behind.id if behind else None)
        made = _put_in(made, held, position)
        return Outcome(made, f"Held a frame of {clip.name} for {in_seconds(held.length)}", (held.id,))


def _put_in(promo: Promo, clip: Clip, position: int) -> Promo:
    """Puts a clip in, in the scene of the clip that it comes before."""
    behind = promo.clips[position]
    runs = [(s, [part for c in s.clips for part in ((clip, c) if c.id == behind.id else (c,))]) for s in promo.scenes]
    return rebuild_scenes(promo, runs)


def _turned(part: Running) -> tuple[SpeedPoint, ...]:
    """The points of a part's curve seen from its end."""
    assert part.speed is not None
    end = part.part.into + part.length
    return tuple(p.changed(at=end - p.at) for p in reversed(part.speed.points))


def _from_start(part: Running) -> tuple[SpeedPoint, ...]:
    """The points of a part's curve from where it begins."""
    assert part.speed is not None
    return tuple(p.changed(at=p.at - part.part.into) for p in part.speed.points)


def _retimed(promo: Promo, item_id: str, at: int, speed: Speed | None, wanted: int) -> Promo:
    """The promo with a part run differently: from `at` of its material, its own time beginning with it; as long as
    wanted, as whole frames (samples) allow. What changes over time does so at the same shares of its length."""
    index = timeline(promo)
    part = running(promo, item_id)
    media = part.media
    grid = TICKS_PER_SAMPLE if part.part.content.fine else promo.rate.frame
    source = Source(media=media.id, at=at, speed=speed)
    most = source.longest(0, media.length, max(grid, min(wanted, MAX_STILL * 2)))
    length = max(grid, most // grid * grid)
    first, last = source.range(0, length)
    if last - first > media.length:
        raise Refusal("too-fast", f"{media.name} is too short to run that fast.", "Choose a lower speed.")
    # One frame at a high speed may need more than was left after it.
    at += -first if first < 0 else min(0, media.length - last)
    changes = {"source": source.changed(at=at), "length": length}
    promo = map_parts(promo, {item_id}, lambda old: rebased(old, length).changed(**changes))
    if item_id not in index.clip:
        return promo
    old = index.clip[item_id]
    return after_retiming(promo, item_id, old.length, length)
