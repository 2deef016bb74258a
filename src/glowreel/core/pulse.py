"""Where the beats of a piece lie in a promo, however the piece is laid in: trimmed, at another speed, or made to
fit."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from glowreel.core.document import Item, Promo
from glowreel.core.fitting import fit
from glowreel.core.time import TICKS_PER_SAMPLE, sample_floor
from glowreel.core.timeline import timeline


@dataclass(frozen=True, slots=True)
class Pulse:
    """Beats, first beats of bars, and the strongest moments: ticks of the promo, in order."""

    beats: tuple[int, ...]
    bars: tuple[int, ...]
    strong: tuple[int, ...]


def pulse_of(promo: Promo, item: Item, facts: Mapping[str, Any] | None) -> Pulse:
    """The pulse of a sound as it is heard, by what `engine.beats` found of its file."""
    media, source = promo.media.get(item.media or ""), item.source
    if facts is None or media is None or source is None or source.held:
        return Pulse((), (), ())
    span = timeline(promo).heard_span(item)
    if source.runs == "fitted":
        moments = _fitted(facts, sample_floor(span.length), sample_floor(media.length))
    else:
        moments = _running(item, span.length)

    def placed(samples: Sequence[int]) -> tuple[int, ...]:
        found = (at for sample in samples for at in moments(sample * TICKS_PER_SAMPLE))
        return tuple(sorted(span.start + at for at in found if 0 <= at < span.length))

    return Pulse(placed(facts["beats"]), placed(facts["bars"]), placed(facts["strong"]))


Moments = Callable[[int], Sequence[int]]
"""When, in ticks after the start of an item, a time of its material (ticks) is heard: never, once, or several times."""


def _fitted(facts: Mapping[str, Any], wanted: int, total: int) -> Moments:
    found = fit(facts, wanted, total)

    def moments(at: int) -> list[int]:
        sample, begun, heard = at / TICKS_PER_SAMPLE, 0.0, []
        for first, last in found.stretches:
            if first <= sample < last:
                heard.append(round((begun + sample - first) / found.rate * TICKS_PER_SAMPLE))
            begun += last - first
        return heard

    return moments


STEPS = 2000
"""What does not run by itself is looked at so many times."""


def _running(item: Item, length: int) -> Moments:
    source = item.source
    assert source is not None
    if source.speed is None:
        offset = source.at + item.into
        return lambda at: [at - offset]
    times = [length * step // STEPS for step in range(STEPS + 1)]
    places = [float(source.exact(item.into + at)) for at in times]
    backwards = source.speed.backwards
    ordered = [-place for place in places] if backwards else places

    def moments(at: int) -> list[int]:
        wanted = -at if backwards else at
        step = bisect_left(ordered, wanted)
        if not 0 < step < len(ordered):
            return []
        low, high = ordered[step - 1], ordered[step]
        share = (wanted - low) / (high - low) if high > low else 0.0
        return [round(times[step - 1] + (times[step] - times[step - 1]) * share)]

    return moments
