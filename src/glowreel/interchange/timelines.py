"""Between promos and OpenTimelineIO timelines.

Going out, the main track, layers and sounds become tracks that other programs can cut, and the whole document goes
along in the metadata, so that coming back is without loss. Coming from elsewhere, the first picture track becomes the
main track with its cuts, gaps (as filler) and transitions, other picture tracks become layers, sound tracks sounds.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import opentimelineio as otio

from glowreel.core.document import Clip, Free, Item, Picture, Promo, Scene, Sound, Track, Transition
from glowreel.core.errors import Refusal
from glowreel.core.formats import FIRST_CHOICE, SHIPPED
from glowreel.core.media import Media
from glowreel.core.normalise import normalise
from glowreel.core.speed import FASTEST, SLOWEST, UNIT, Speed, SpeedPoint, constant, longest, source_range
from glowreel.core.time import TICKS_PER_SECOND, Rate, ticks
from glowreel.core.timeline import timeline
from glowreel.core.value import NewId

KEY = "glowreel"
MAX_ITEMS = 2000


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
        main.append(_gap(clip.length, rate) if clip.media is None else _clip(promo, clip.media, clip.name, clip, rate))
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
        if isinstance(item.content, Picture | Sound):
            name = promo.media[item.content.media].name
            made.append(_clip(promo, item.content.media, name, item.content, rate, span.length))
        else:
            made.append(_gap(span.length, rate))
        now = span.end
    return made


def _time(value: int, rate: float) -> Any:
    return otio.opentime.RationalTime(value * rate / TICKS_PER_SECOND, rate)


def _gap(length: int, rate: float) -> Any:
    return otio.schema.Gap(source_range=otio.opentime.TimeRange(_time(0, rate), _time(length, rate)))


def _clip(promo: Promo, media_id: str, name: str, part: Any, rate: float, length: int | None = None) -> Any:
    media = promo.media[media_id]
    lasts = length or part.length
    first, _ = source_range(part.source_in, part.speed, lasts)
    span = otio.opentime.TimeRange(_time(first, rate), _time(lasts, rate))
    reference = otio.schema.ExternalReference(target_url=f"media/{media_name(media)}")
    if media.length:
        reference.available_range = otio.opentime.TimeRange(_time(0, rate), _time(media.length, rate))
    made = otio.schema.Clip(name=name, media_reference=reference, source_range=span)
    if part.speed is not None and part.speed.constant is not None:
        # A curve has no name in that format; it comes back with the whole document.
        factor = part.speed.constant / 1000 * (-1 if part.speed.backwards else 1)
        made.effects.append(otio.schema.FreezeFrame() if not factor else otio.schema.LinearTimeWarp(time_scalar=factor))
    return made


@dataclass
class Found:
    """What became of a timeline from elsewhere, and which linked media could not be found."""

    promo: Promo
    missing: list[str] = field(default_factory=list)


FindMedia = Callable[[str], Media | None]
"""From a link in a timeline to the facts of that file, or None."""


def parse(text: str) -> Any:
    """An OpenTimelineIO timeline from its JSON, or a refusal."""
    try:
        result = otio.adapters.read_from_string(text, "otio_json")
    except Exception as error:  # The library raises many kinds, some of its own and some of C++.
        raise Refusal("not-otio", "That is not an OpenTimelineIO file.", "Export it as .otio or .otioz.") from error
    if isinstance(result, otio.schema.SerializableCollection):
        result = next((part for part in result if isinstance(part, otio.schema.Timeline)), None)
    if not isinstance(result, otio.schema.Timeline):
        raise Refusal("not-otio", "There is no timeline in that file.", "Export a timeline, not a single clip.")
    return result


def own_document(source: Any) -> dict[str, Any] | None:
    """The promo that travelled in a timeline's metadata, as plain data."""
    held = source.metadata.get(KEY)
    if held is None or "promo" not in held:
        return None
    return dict(_plain(held["promo"]))


def _plain(value: Any) -> Any:
    """The library's own containers as plain dictionaries and lists."""
    if hasattr(value, "items"):
        return {str(k): _plain(v) for k, v in value.items()}
    if isinstance(value, str | bytes) or not hasattr(value, "__iter__"):
        return value
    return [_plain(v) for v in value]


def from_elsewhere(source: Any, find: FindMedia, new_id: NewId, promo_id: str) -> Found:
    """A promo with the cuts, gaps, transitions and linked media of a timeline made in another program."""
    reader = _Reader(source, find, new_id)
    pictures = [t for t in source.tracks if t.kind == otio.schema.TrackKind.Video]
    sounds = [t for t in source.tracks if t.kind == otio.schema.TrackKind.Audio]
    if not pictures and not sounds:
        raise Refusal("empty", "There is no track in that timeline.")
    clips, transitions = reader.main_track(pictures[0]) if pictures else ([], [])
    layers = [reader.items(track, sound=False) for track in pictures[1:]]
    laid = [reader.items(track, sound=True) for track in sounds]
    promo = Promo(
        id=promo_id,
        name=(source.name or "Opened timeline")[:120],
        rate=reader.rate,
        formats=tuple(SHIPPED[f] for f in FIRST_CHOICE),
        scenes=(Scene(id=new_id("s"), name="Scene 1", clips=tuple(clips)),) if clips else (),
        layers=tuple(Track(id=new_id("t"), items=tuple(items)) for items in reversed(layers) if items),
        sounds=tuple(Track(id=new_id("t"), items=tuple(items)) for items in laid if items),
        transitions=tuple(transitions),
        media=reader.media,
    )
    return Found(normalise(promo, promo, frozenset(), new_id), sorted(reader.missing))


def _speed_of(part: Any) -> Speed | None:
    """The speed that a part's effects give it, within what can be run here."""
    for effect in getattr(part, "effects", ()):
        if isinstance(effect, otio.schema.LinearTimeWarp):
            rate = round(abs(effect.time_scalar) * UNIT)
            if not rate:
                return Speed(points=(SpeedPoint(speed=0),))
            return constant(min(max(rate, SLOWEST), FASTEST), backwards=effect.time_scalar < 0)
    return None


class _Reader:
    def __init__(self, source: Any, find: FindMedia, new_id: NewId) -> None:
        self.find, self.new_id = find, new_id
        self.media: dict[str, Media] = {}
        self.missing: set[str] = set()
        self.count = 0
        self.rate = self._rate_of(source)

    @staticmethod
    def _rate_of(source: Any) -> Rate:
        """The frame rate of the first clip, as an exact one where it is near it."""
        for part in source.find_clips():
            value = part.source_range.duration.rate if part.source_range else 0
            for num, den in ((24000, 1001), (24, 1), (25, 1), (30000, 1001), (30, 1), (50, 1), (60000, 1001), (60, 1)):
                if abs(value - num / den) < 0.005:
                    return Rate(num=num, den=den)
        return Rate(num=30, den=1)

    def _ticks(self, value: Any) -> int:
        seconds = value.to_seconds()
        if not 0 <= seconds < 6 * 3600:
            raise Refusal("too-long", "That timeline has a time outside six hours.")
        return self.rate.snap(ticks(seconds))

    def _link(self, part: Any) -> Media | None:
        url = getattr(part.media_reference, "target_url", None)
        media = self.find(url) if url else None
        if media is None:
            self.missing.add(part.name or url or "a clip without a name")
            return None
        self.media[media.id] = media
        return media

    def _range(self, part: Any, media: Media | None) -> tuple[int, int, Speed | None]:
        """Where in its media a part begins, how long it is, and how fast it runs. Links may count from a timecode."""
        span = part.trimmed_range()
        start = span.start_time
        available = getattr(getattr(part, "media_reference", None), "available_range", None)
        if available is not None:
            start = start - available.start_time
        begin = max(0, self._ticks(start)) if start.to_seconds() > 0 else 0
        length = max(self.rate.frame, self._ticks(span.duration))
        if media is None or not media.length:
            return begin, length, None
        speed = _speed_of(part)
        if speed is not None and speed.backwards:
            begin += length * (speed.constant or 0) // UNIT
        begin = min(begin, max(0, media.length - self.rate.frame))
        most = self.rate.frame_start(self.rate.frame_floor(longest(begin, speed, media.length, length)))
        if most < self.rate.frame:
            return min(begin, max(0, media.length - self.rate.frame)), self.rate.frame, None
        return begin, min(length, most), speed

    def _counted(self) -> None:
        self.count += 1
        if self.count > MAX_ITEMS:
            raise Refusal("too-many", f"That timeline has more than {MAX_ITEMS} parts.")

    def main_track(self, track: Any) -> tuple[list[Clip], list[Transition]]:
        clips: list[Clip] = []
        transitions: list[Transition] = []
        for part in track:
            self._counted()
            if isinstance(part, otio.schema.Transition):
                length = self._ticks(part.in_offset) + self._ticks(part.out_offset)
                if clips and length:
                    transitions.append(Transition(id=self.new_id("x"), after=clips[-1].id, length=length))
                continue
            media = self._link(part) if isinstance(part, otio.schema.Clip) else None
            if media is not None and media.kind == "sound":
                media = None
            begin, length, speed = self._range(part, media)
            kind = "filler" if media is None else "photo" if media.still else "footage"
            name = (part.name or (media.name if media else "Filler"))[:255]
            own = {"media": media.id, "source_in": 0 if media.still else begin, "speed": speed} if media else {}
            clips.append(Clip(id=self.new_id("c"), kind=kind, name=name, length=length, **own))
        return clips, transitions

    def items(self, track: Any, *, sound: bool) -> list[Item]:
        found: list[Item] = []
        now = 0
        for part in track:
            self._counted()
            if isinstance(part, otio.schema.Transition):
                continue
            media = self._link(part) if isinstance(part, otio.schema.Clip) else None
            begin, length, speed = self._range(part, media)
            if media is not None and (media.sounding if sound else media.kind != "sound"):
                kind = Sound if sound else Picture
                content = kind(media=media.id, source_in=begin, speed=speed)
                found.append(Item(id=self.new_id("i"), anchor=Free(at=now), length=length, content=content))
            now += length
        return found
