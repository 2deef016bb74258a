"""Whether the promo as a whole is well made: as long as channels like, never silent, its words not all in one place."""

from __future__ import annotations

from collections.abc import Iterator

from glowreel.core.channels import band_of, chosen
from glowreel.core.checks.finding import Check, Cure, Finding, Sight
from glowreel.core.commands.base import called
from glowreel.core.document import Item, Promo
from glowreel.core.recipe.sound import all_voices
from glowreel.core.setting import row_of
from glowreel.core.time import SAMPLE_RATE, TICKS_PER_SAMPLE, TICKS_PER_SECOND, clock, ticks
from glowreel.core.timeline import Span, timeline

LEAST_CLIP = ticks(1)
"""A clip is not trimmed to less than this."""
SILENT = 1.2
"""Seconds for which nothing may be heard where something is heard before and behind."""
ALIKE = 0.04
"""How far apart two places are the same, of the short side."""
IN_A_ROW = 3
"""In so many scenes one after another words may not stand in the same place."""


def length(sight: Sight) -> Iterator[Finding]:
    index, (low, high) = timeline(sight.promo), band_of(sight.promo.channels, sight.promo.known_channels)
    lasts = index.length / TICKS_PER_SECOND
    if not sight.promo.clips or low <= lasts <= high:
        return
    last = sight.promo.clips[-1]
    cures = []
    rest = sight.promo.rate.snap(last.length - (index.length - ticks(high)))
    if lasts > high and rest >= LEAST_CLIP:
        command = {"do": "trim", "item": last.id, "edge": "end", "length": rest}
        cures.append(Cure(f"Trim the last clip to end at {high:.0f} s", command))
    at = min(index.length - 1, ticks(high)) if lasts > high else index.length - 1
    liking = (
        " and ".join(channel.name for channel in chosen(sight.promo.channels, sight.promo.known_channels))
        or "Most channels"
    )
    like = "likes" if len(sight.promo.channels) == 1 else "like"
    said = f"The promo lasts {lasts:.1f} s. {liking} {like} {low:.0f} to {high:.0f} s."
    yield Finding("length", last.id, said, max(0, at), cures=tuple(cures))


def silences(promo: Promo) -> list[Span]:
    """The stretches of a promo in which nothing is heard; none where nothing is heard at all. Ticks."""
    heard = sorted((voice.at, voice.at + voice.length) for voice in all_voices(promo))
    end, now, found = timeline(promo).length // TICKS_PER_SAMPLE, 0, []
    for first, last in heard:
        if first > now:
            found.append(Span(now * TICKS_PER_SAMPLE, first * TICKS_PER_SAMPLE))
        now = max(now, last)
    if heard and now < end:
        found.append(Span(now * TICKS_PER_SAMPLE, end * TICKS_PER_SAMPLE))
    return found


def silence(sight: Sight) -> Iterator[Finding]:
    index = timeline(sight.promo)
    for span in silences(sight.promo):
        clip = index.clip_at(span.start)
        if span.length < SILENT * SAMPLE_RATE * TICKS_PER_SAMPLE or clip is None:
            continue
        cures = []
        music = [item for track in sight.promo.sounds for item in track.items if item.read("bus") == "music"]
        for item in music:
            lies = index.heard_span(item)
            media = sight.promo.media.get(item.media or "")
            more = media is not None and item.source is not None and lies.end == span.start
            if more and media is not None and item.source is not None:
                longest = item.source.longest(item.into, media.length, lies.length + span.length)
                if longest > lies.length + ticks(0.1):
                    command = {"do": "trim", "item": item.id, "edge": "end", "length": longest}
                    cures.append(Cure("Let the music go on", command))
        said = f"Nothing is heard from {clock(span.start)} to {clock(span.end)}."
        yield Finding("silence", clip.id, said, span.start, cures=tuple(cures[:1]))


def _words_of_scenes(sight: Sight) -> list[list[Item]]:
    """The words that come in each scene; those that last for the whole promo belong to none."""
    index = timeline(sight.promo)
    format = sight.promo.formats[0]
    found: list[list[Item]] = []
    for scene in sight.promo.scenes:
        span = index.scene_span[scene.id]
        own = [item for item, when in sight.layers if when.start in span and item.anchor.to != "whole"]
        found.append([item for item in own if row_of(item, "place") is not None and sight.words(item, format)])
    return found


def _middle(sight: Sight, item: Item) -> tuple[float, float]:
    drawn = sight.drawn(item, sight.promo.formats[0])
    assert drawn is not None
    wide, high = sight.promo.formats[0].canon
    short = min(wide, high)
    return (drawn.box.x + drawn.box.width / 2) / short, (drawn.box.y + drawn.box.height / 2) / short


def same_place(sight: Sight) -> Iterator[Finding]:
    row: list[list[Item]] = []
    runs: list[list[list[Item]]] = []
    for items in _words_of_scenes(sight):
        places = [_middle(sight, item) for item in (*(row[-1] if row else ()), *items)]
        alike = all(max(abs(a - b) for a, b in zip(place, places[0], strict=True)) <= ALIKE for place in places)
        if items and alike:
            row.append(items)
        else:
            runs.append(row)
            own = [_middle(sight, item) for item in items]
            one = all(max(abs(a - b) for a, b in zip(place, own[0], strict=True)) <= ALIKE for place in own)
            row = [items] if items and one else []
    runs.append(row)
    index = timeline(sight.promo)
    for run in runs:
        if len(run) < IN_A_ROW:
            continue
        first = run[0][0]
        high = _middle(sight, first)[1] > 0.5 * sight.promo.formats[0].canon[1] / min(sight.promo.formats[0].canon)
        every = [item.id for scene in run[1::2] for item in scene]
        command = {
            "do": "pin-items", "items": every, "format": sight.promo.formats[0].id, "spot": [0.5, 0.0 if high else 1.0],
        }  # fmt: skip
        yield Finding(
            "place", first.id,
            f"{called(sight.promo, first)} and the words of the next {len(run) - 1} scenes stand in the same place.",
            index.item_span(first).start, cures=(Cure("Vary it", command),),
        )  # fmt: skip


CHECKS = (
    Check("length", "As long as it should be", "the promo is as long as most channels like", length),
    Check("silence", "Never silent", "something is heard throughout, where anything is", silence),
    Check("place", "Not always in one place", "words of scenes in a row stand in different places", same_place),
)
