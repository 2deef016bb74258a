"""Promos as OpenTimelineIO timelines.

The main track, layers and sounds become tracks that other programs can cut, and the whole document goes along in the
metadata, so that coming back is without loss.
"""

from __future__ import annotations

from typing import Any

import opentimelineio as otio

from glowreel.core.document import Part, Promo, Track
from glowreel.core.media import Media
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.core.timeline import timeline
from glowreel.interchange.plain import KEY


def media_name(media: Media) -> str:
    return f"{media.hash}{media.suffix}"


def to_otio(promo: Promo) -> Any:
    """The promo as a timeline; media are linked as `media/<hash><suffix>`."""
    rate = float(promo.rate.fraction)
    result = otio.schema.Timeline(name=promo.name)
    result.metadata[KEY] = {"promo": promo.model_dump(mode="json")}
    index = timeline(promo)
    main = otio.schema.Track(name="Main", kind=otio.schema.TrackKind.Video)
    for clip in promo.clips:
        plain = clip.media is None
        main.append(_gap(clip.length, rate) if plain else _clip(promo, clip, clip.name, rate, clip.length))
        cut = index.cut_after(clip.id)
        if cut is not None:
            half = _time(cut.span.length // 2, rate)
            kind = otio.schema.TransitionTypes.SMPTE_Dissolve
            main.append(otio.schema.Transition(transition_type=kind, in_offset=half, out_offset=half))
    result.tracks.append(main)
    for source, kind in ((reversed(promo.layers), "Video"), (promo.sounds, "Audio")):
        for track in source:
            result.tracks.append(_track(promo, track, kind, rate))
    return result


def _track(promo: Promo, track: Track, kind: str, rate: float) -> Any:
    made = otio.schema.Track(name=track.name or kind, kind=kind)
    index, now = timeline(promo), 0
    for item in track.items:
        span = index.item_span(item)
        if span.start > now:
            made.append(_gap(span.start - now, rate))
        if item.media is not None:
            made.append(_clip(promo, item, promo.media[item.media].name, rate, span.length))
        else:
            made.append(_gap(span.length, rate))
        now = span.end
    return made


def _time(value: int, rate: float) -> Any:
    return otio.opentime.RationalTime(value * rate / TICKS_PER_SECOND, rate)


def _gap(length: int, rate: float) -> Any:
    return otio.schema.Gap(source_range=otio.opentime.TimeRange(_time(0, rate), _time(length, rate)))


def _clip(promo: Promo, part: Part, name: str, rate: float, lasts: int) -> Any:
    source = part.source
    assert source is not None
    media = promo.media[source.media]
    # A photo looks the same from anywhere: it is said from its beginning.
    first = source.range(part.into, lasts)[0] if media.length else 0
    span = otio.opentime.TimeRange(_time(first, rate), _time(lasts, rate))
    reference = otio.schema.ExternalReference(target_url=f"media/{media_name(media)}")
    if media.length:
        reference.available_range = otio.opentime.TimeRange(_time(0, rate), _time(media.length, rate))
    made = otio.schema.Clip(name=name, media_reference=reference, source_range=span)
    speed = source.speed
    if speed is not None and speed.constant is not None:
        # A curve has no name in that format; it comes back with the whole document.
        factor = speed.constant / 1000 * (-1 if speed.backwards else 1)
        made.effects.append(otio.schema.FreezeFrame() if not factor else otio.schema.LinearTimeWarp(time_scalar=factor))
    return made
