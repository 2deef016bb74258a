"""When somebody speaks in a promo, and how music gives way to that.

```
voice   ....|says something|..|more|............|again|....
music   ───╲                        ╱──────────╲       ╱───
           early                slow
```
Pauses shorter than the hold are bridged. The music is down when the voice begins, and rises when it has ended; both
straight in decibels. Where two dips follow so closely that it could not rise and fall in full, it does both in the
time that there is.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass

from glowreel.core.document import Part, Promo
from glowreel.core.media import SPEECH_TICKS, Media
from glowreel.core.remembered import Remembered
from glowreel.core.timeline import timeline

Spans = tuple[tuple[int, int], ...]
RAMP = 8
"""So many straight pieces make a change that is straight in decibels."""
LOOK = SPEECH_TICKS * 2
"""At another speed it is looked every fiftieth of a second who speaks."""
HEARD_FROM = -40.0
"""A voice more quiet than this (dB) makes no music give way."""


@dataclass(frozen=True, slots=True)
class Dip:
    """By how many decibels music gives way, how long before a voice it begins to, how long after one it takes to rise,
    and which pauses it does not rise in; ticks."""

    amount: float
    early: int
    slow: int
    hold: int


def spoken(promo: Promo, *, clips: bool = True) -> Spans:
    """When somebody is heard to speak, in ticks of the promo, in order and apart from one another; without `clips`, on
    sound tracks only."""
    index = timeline(promo)
    alone = any(track.solo for track in promo.sounds)
    found: list[tuple[int, int]] = []
    for clip in promo.clips if clips and not alone else ():
        for part in clip.inner or (clip,):
            found += _of(promo, part, index.clip_span[clip.id].start, index.clip_span[clip.id].length)
    for track in promo.sounds:
        if not track.muted and (track.solo or not alone):
            for item in track.items:
                span = index.heard_span(item)
                found += _of(promo, item, span.start, span.length)
    return merged(found, 0)


_spoken: Remembered[Spans] = Remembered(4000)


def _of(promo: Promo, part: Part, start: int, length: int) -> list[tuple[int, int]]:
    media = promo.media.get(part.media or "")
    if media is None or not media.speech or part.read("muted") or part.read("bus") != "voice":
        return []
    gain = part.set_to("gain")
    if isinstance(gain, float | int) and gain < HEARD_FROM:
        return []
    local = _spoken.of((part, media), (length,), lambda: _spoken_in(part, media, length))
    return [(start + first, start + last) for first, last in local]


def _spoken_in(part: Part, media: Media, length: int) -> Spans:
    """When somebody speaks in a part, in ticks after its start."""
    source = part.source
    if source is None or source.held:
        return ()
    spans = [(a * SPEECH_TICKS, b * SPEECH_TICKS) for a, b in media.speech or ()]
    if source.speed is None:
        offset = source.at + part.into
        cut = ((max(0, a - offset), min(length, b - offset)) for a, b in spans)
        return tuple((a, b) for a, b in cut if a < b)
    found = []
    for moment in range(0, length, LOOK):
        at = source.exact(part.into + moment)
        if any(a <= at < b for a, b in spans):
            found.append((moment, min(length, moment + LOOK)))
    return merged(found, 0)


def spoken_edges(promo: Promo, part: Part) -> tuple[int, ...]:
    """When speech begins and ends in a part, in ticks of the promo, in order: what gestures snap to."""
    span = timeline(promo).span_of(part)
    return tuple(at for said in _of(promo, part, span.start, span.length) for at in said)


def merged(spans: Iterable[tuple[int, int]], hold: int) -> Spans:
    """Spans in order; those that overlap, or are no further apart than the hold, as one."""
    found: list[tuple[int, int]] = []
    for start, end in sorted(spans):
        if found and start - found[-1][1] <= hold:
            found[-1] = found[-1][0], max(found[-1][1], end)
        else:
            found.append((start, end))
    return tuple(found)


def dips(spans: Spans, dip: Dip) -> tuple[tuple[int, float], ...]:
    """The line of what is left, in decibels: knots (ticks of the promo, dB) between which it runs straight; empty
    where nothing gives way."""
    held = merged(spans, max(1, dip.hold))
    if not held or not dip.amount:
        return ()
    knots: list[tuple[int, float]] = [(held[0][0] - dip.early, 0.0)]
    for place, (start, end) in enumerate(held):
        knots += [(start, -dip.amount), (end, -dip.amount)]
        if place + 1 == len(held):
            knots.append((end + dip.slow, 0.0))
            break
        room = held[place + 1][0] - end
        share = min(1.0, room / max(1, dip.early + dip.slow))
        up, down = max(1, int(dip.slow * share)), max(1, int(dip.early * share))
        knots += [(end + up, 0.0), (held[place + 1][0] - down, 0.0)]
    return tuple(knots)


def steps(knots: Sequence[tuple[int, float]], factor: Callable[[float], float]) -> tuple[tuple[int, float], ...]:
    """The same line in factors, where changes are made of straight pieces."""
    found: dict[int, float] = {}
    for (at, level), (until, last) in zip(knots, knots[1:], strict=False):
        for step in range(RAMP if level != last else 1):
            found[at + (until - at) * step // RAMP] = factor(level + (last - level) * step / RAMP)
    found[knots[-1][0]] = factor(knots[-1][1])
    return tuple(sorted(found.items()))
