"""Timelines made in other programs, as promos.

```
first picture track      → the main track, with its cuts and transitions; gaps are black
other picture tracks     → layers that fill the frame
sound tracks             → sounds
timelines in timelines   → laid out flat, their sound too
switched-off parts       → kept, but not seen or heard
fades at either end      → the promo's opening and ending; on a layer, how it comes and goes
markers                  → notes
```
What cannot be kept is told in words.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from pathlib import PurePosixPath
from typing import Any
from urllib.parse import unquote, urlsplit

import opentimelineio as otio

from glowreel.core.document import Clip, Edge, Free, Item, Note, Promo, Scene, Track, Transition
from glowreel.core.errors import Refusal
from glowreel.core.formats import CANON, FIRST_CHOICE, SHIPPED, Format
from glowreel.core.media import Media
from glowreel.core.normalise import normalise
from glowreel.core.source import Source
from glowreel.core.speed import FASTEST, SLOWEST, UNIT, Speed, SpeedPoint, constant
from glowreel.core.time import TICKS_PER_SECOND, Rate, ticks
from glowreel.core.value import NewId

MAX_PARTS = 2000
MAX_NESTING = 16
MAX_NOTES = 500
UNSAID = 2 * TICKS_PER_SECOND
"""How long a part lasts that does not say so, with media that does not either."""

FindMedia = Callable[[str], Media | None]
"""From a link in a timeline to the facts of that file, or None."""


@dataclass
class Found:
    """What became of a timeline, and sentences about what could not be kept."""

    promo: Promo
    notices: list[str] = field(default_factory=list)


@dataclass(frozen=True)
class Laid:
    """A part of a track where it lies: a clip, or None for nothing. `before` and `after` are lengths of transitions."""

    start: int
    length: int
    clip: Any = None
    before: int = 0
    after: int = 0


def parse(text: str) -> Any:
    """An OpenTimelineIO timeline from text that was looked at, or a refusal."""
    try:
        result = otio.adapters.read_from_string(text, "otio_json")
    except Exception as error:  # The library raises many kinds, some of its own and some of C++.
        raise Refusal("not-otio", "That is not an OpenTimelineIO file.", "Export it as .otio or .otioz.") from error
    if isinstance(result, otio.schema.SerializableCollection):
        result = next((part for part in result if isinstance(part, otio.schema.Timeline)), None)
    if not isinstance(result, otio.schema.Timeline):
        raise Refusal("not-otio", "There is no timeline in that file.", "Export a timeline, not a single clip.")
    return result


def from_elsewhere(text: str, find: FindMedia, new_id: NewId, promo_id: str) -> Found:
    """A promo with all that can be kept of a timeline. Raises `Refusal`."""
    source = parse(text)
    try:
        return _Reader(source, find, new_id).promo(promo_id)
    except otio.exceptions.OTIOError as error:
        raise Refusal("broken", "That timeline contradicts itself and cannot be laid out.") from error


def _url(part: Any) -> str:
    """Where the media of a part lies; nothing where that is not said."""
    return getattr(getattr(part, "media_reference", None), "target_url", None) or ""


def link_name(url: str) -> str:
    """The name of the file that a link ends in."""
    return PurePosixPath(unquote(urlsplit(url).path).replace("\\", "/")).name


def _speed_of(part: Any) -> Speed | None:
    """The speed that a part's effects give it, within what can be run here."""
    for effect in getattr(part, "effects", ()):
        if isinstance(effect, otio.schema.LinearTimeWarp):
            rate = round(abs(effect.time_scalar) * UNIT)
            if not rate:
                return Speed(points=(SpeedPoint(speed=0),))
            return constant(min(max(rate, SLOWEST), FASTEST), backwards=effect.time_scalar < 0)
    return None


def filling(media: Media, format: Format) -> float:
    """The size of a picture that covers the whole of a frame."""
    wide, high = format.canon
    shape = (media.width or 16) / (media.height or 9)
    width = max(wide, high * shape)
    return min(8.0, max(width, width / shape) / CANON)


class _Reader:
    def __init__(self, source: Any, find: FindMedia, new_id: NewId) -> None:
        self.source, self.find, self.new_id = source, find, new_id
        self.media: dict[str, Media] = {}
        self.missing: list[str] = []
        self.off: list[str] = []
        self.effects: list[str] = []
        self.nested = 0
        self.count = 0
        self.rate = self._rate()
        self.formats = tuple(SHIPPED[key] for key in FIRST_CHOICE)
        self.inner_sounds: list[tuple[int, Any]] = []
        self.notes: list[Note] = []

    def promo(self, promo_id: str) -> Found:
        pictures = [t for t in self.source.tracks if self._kind(t) == otio.schema.TrackKind.Video]
        sounds = [t for t in self.source.tracks if self._kind(t) == otio.schema.TrackKind.Audio]
        if not pictures and not sounds:
            raise Refusal("empty", "There is no track in that timeline.")
        for marker in self.source.tracks.markers:
            self._note(marker, self._ticks(marker.marked_range.start_time))
        clips, transitions, opens, closes = self._main_track(pictures[0]) if pictures else ([], [], None, None)
        layers = [self._items(self._laid(track), sound=False) for track in pictures[1:]]
        laid = [self._items(self._laid(track), sound=True) for track in sounds]
        laid += [self._items(self._laid(track, at), sound=True) for at, track in self.inner_sounds]
        promo = Promo(
            id=promo_id,
            name=" ".join((self.source.name or "").split())[:120] or "Opened timeline",
            rate=self.rate,
            rate_chosen=True,
            formats=self.formats,
            scenes=(Scene(id=self.new_id("s"), name="Scene 1", clips=tuple(clips)),) if clips else (),
            layers=tuple(Track(id=self.new_id("t"), items=tuple(items)) for items in reversed(layers) if items),
            sounds=tuple(Track(id=self.new_id("t"), items=tuple(items)) for items in laid if items),
            transitions=tuple(transitions),
            opens=opens,
            closes=closes,
            notes=tuple(self.notes),
            media=self.media,
        )
        return Found(normalise(promo, promo, frozenset(), self.new_id), self._notices())

    def _notices(self) -> list[str]:
        """What a person should know, in sentences."""
        notices = []
        for names, one, several in (
            (self.missing, "is missing; filler holds its place", "are missing; filler holds their place"),
            (self.off, "was switched off and is not seen or heard", "were switched off and are not seen or heard"),
            (self.effects, "has effects that could not be kept", "have effects that could not be kept"),
        ):
            unique = list(dict.fromkeys(name[:80] for name in names))
            if unique:
                more = f" and {len(unique) - 8} more" if len(unique) > 8 else ""
                listed = ", ".join(f"“{name}”" for name in unique[:8])
                notices.append(f"{listed}{more} {one if len(unique) == 1 else several}.")
        if self.nested:
            plural = "s were" if self.nested > 1 else " was"
            notices.append(f"{self.nested} timeline{plural} inside this one and laid out flat.")
        return notices

    @staticmethod
    def _kind(track: Any) -> Any:
        return getattr(track, "kind", otio.schema.TrackKind.Video)

    def _rate(self) -> Rate:
        """The frame rate of the first clip, as an exact one where it is near it."""
        for part in self.source.find_clips():
            value = part.source_range.duration.rate if part.source_range else 0
            for num, den in ((24000, 1001), (24, 1), (25, 1), (30000, 1001), (30, 1), (50, 1), (60000, 1001), (60, 1)):
                if abs(value - num / den) < 0.005:
                    return Rate(num=num, den=den)
        return Rate(num=30, den=1)

    def _ticks(self, value: Any) -> int:
        seconds = value.to_seconds()
        if not abs(seconds) < 6 * 3600:  # Not a number is refused as well.
            raise Refusal("too-long", "That timeline has a time outside six hours.")
        return self.rate.snap(ticks(seconds)) if seconds > 0 else 0

    def _counted(self) -> None:
        self.count += 1
        if self.count > MAX_PARTS:
            raise Refusal("too-many", f"That timeline has more than {MAX_PARTS} parts.")

    def _note(self, marker: Any, at: int) -> None:
        text = " ".join(part for part in (marker.name, getattr(marker, "comment", "")) if part)[:500]
        if len(self.notes) < MAX_NOTES:
            self.notes.append(Note(id=self.new_id("n"), anchor=Free(at=max(0, at)), text=text))

    def _laid(self, track: Any, at: int = 0) -> list[Laid]:
        """The parts of a track in order, with those of timelines inside it, and where each of them lies."""
        for marker in getattr(track, "markers", ()):
            self._note(marker, at + self._ticks(marker.marked_range.start_time))
        found: list[Laid] = []
        waiting = 0
        for part in self._flat(track, at, 0):
            if isinstance(part, otio.schema.Transition):
                waiting = self._ticks(part.in_offset) + self._ticks(part.out_offset)
                if found:
                    last = found[-1]
                    found[-1] = Laid(last.start, last.length, last.clip, last.before, waiting)
                continue
            clip = part if isinstance(part, otio.schema.Clip) else None
            start = found[-1].start + found[-1].length if found else at
            found.append(Laid(start, self._length(part), clip, waiting))
            waiting = 0
            for marker in getattr(part, "markers", ()):
                inside = marker.marked_range.start_time - part.trimmed_range().start_time
                self._note(marker, start + self._ticks(inside))
        return found

    def _flat(self, track: Any, at: int, depth: int) -> Iterator[Any]:
        now = at
        for part in track:
            self._counted()
            if isinstance(part, otio.schema.Stack | otio.schema.Track):
                if depth >= MAX_NESTING:
                    raise Refusal("too-deep", "That timeline has timelines inside one another, too deep to read.")
                self.nested += depth == 0
                inner = self._inner(part, now)
                yield from self._flat(inner, now, depth + 1)
            else:
                yield part
            if not isinstance(part, otio.schema.Transition):
                now += self._length(part)

    def _inner(self, part: Any, at: int) -> Any:
        """A timeline inside another as one track, as long as it is there; its sounds are kept for later."""
        span = part.trimmed_range()
        tracks = [part] if isinstance(part, otio.schema.Track) else [self._as_track(child) for child in part]
        pictures = [t for t in tracks if self._kind(t) != otio.schema.TrackKind.Audio]
        for track in tracks:
            if self._kind(track) == otio.schema.TrackKind.Audio:
                self.inner_sounds.append((at, otio.algorithms.track_trimmed_to_range(track.clone(), span)))
        if not pictures:
            empty = otio.schema.Track()
            empty.append(otio.schema.Gap(source_range=span))
            return empty
        flat = otio.algorithms.flatten_stack([t.clone() for t in pictures])
        return otio.algorithms.track_trimmed_to_range(flat, span)

    @staticmethod
    def _as_track(child: Any) -> Any:
        if isinstance(child, otio.schema.Track):
            return child
        track = otio.schema.Track()
        track.append(child.clone())
        return track

    def _length(self, part: Any) -> int:
        """How long a part lasts; where it does not say so, as long as its media."""
        try:
            return max(self.rate.frame, self._ticks(part.trimmed_range().duration))
        except (otio.exceptions.OTIOError, ValueError):
            media = self._known(part)
            return self.rate.snap(media.length) if media is not None and media.length else self.rate.snap(UNSAID)

    def _known(self, part: Any) -> Media | None:
        url = _url(part)
        return self.find(url) if url else None

    def _link(self, part: Any) -> Media | None:
        """The media of a part; what is missing or strange about it is remembered."""
        name = part.name or "a clip without a name"
        if any(not isinstance(effect, otio.schema.LinearTimeWarp) for effect in part.effects):
            self.effects.append(name)
        media = self._known(part)
        if media is None:
            self.missing.append(name)
            return None
        self.media[media.id] = media
        return media

    def _range(self, part: Any, media: Media, length: int) -> tuple[Source, int]:
        """Where in its media a part begins and how fast it runs, and its length. Links may count from a timecode."""
        if not media.length:
            return Source(media=media.id), length
        begin = 0
        available = getattr(part.media_reference, "available_range", None)
        if part.source_range is not None:
            start = part.source_range.start_time
            begin = self._ticks(start - available.start_time if available is not None else start)
            if begin >= media.length:
                # A list that does not say where a file begins counts its tape from a whole hour.
                begin %= 3600 * TICKS_PER_SECOND
        speed = _speed_of(part)
        if speed is not None and speed.backwards:
            begin += length * (speed.constant or 0) // UNIT
        begin = min(begin, max(0, media.length - self.rate.frame))
        source = Source(media=media.id, at=begin, speed=speed)
        most = self.rate.frame_start(self.rate.frame_floor(source.longest(0, media.length, length)))
        if most < self.rate.frame:
            return Source(media=media.id, at=begin), self.rate.frame
        return source, min(length, most)

    def _main_track(self, track: Any) -> tuple[list[Clip], list[Transition], Edge | None, Edge | None]:
        laid = self._laid(track)
        clips: list[Clip] = []
        transitions: list[Transition] = []
        for n, part in enumerate(laid):
            clips += self._clips(part)
            if part.after and n + 1 < len(laid):
                transitions.append(Transition(id=self.new_id("x"), after=clips[-1].id, length=part.after))
        opens = Edge(length=min(laid[0].before, laid[0].length)) if laid and laid[0].before else None
        closes = Edge(length=min(laid[-1].after, laid[-1].length)) if laid and laid[-1].after else None
        return clips, transitions, opens, closes

    def _clips(self, part: Laid) -> list[Clip]:
        """A part of the main track: its clip, and black where its media ends before it does."""
        media = self._link(part.clip) if part.clip is not None else None
        name = ((part.clip.name if part.clip is not None else "") or (media.name if media else "Gap"))[:255]
        seen = media is not None and media.kind != "sound"
        if part.clip is not None and not part.clip.enabled:
            self.off.append(name)
            seen = False
        if media is None or not seen:
            if part.clip is None or media is not None:
                return [self._filler(name, part.length, "#000000")]
            # Called as the file is: it is found again by that, once it comes in.
            return [self._filler(link_name(_url(part.clip))[:255] or name, part.length, "#D9CFC0")]
        source, length = self._range(part.clip, media, part.length)
        kind = "photo" if media.still else "footage"
        made = [Clip(id=self.new_id("c"), kind=kind, name=name, length=length, source=source)]
        if length < part.length:
            made.append(self._filler("Gap", part.length - length, "#000000"))
        return made

    def _filler(self, name: str, length: int, colour: str) -> Clip:
        return Clip(id=self.new_id("c"), kind="filler", name=name, length=length, values={"fill": colour})

    def _items(self, laid: list[Laid], *, sound: bool) -> list[Item]:
        found: list[Item] = []
        for part in laid:
            media = self._link(part.clip) if part.clip is not None else None
            if media is None or not (media.sounding if sound else media.kind != "sound"):
                continue
            source, length = self._range(part.clip, media, part.length)
            if not part.clip.enabled:
                self.off.append(part.clip.name or media.name)
            found.append(self._item(part, length, source, {} if sound else self._over_the_frame(media), sound=sound))
        return found

    def _over_the_frame(self, media: Media) -> dict[str, dict[str, Any]]:
        """How a layer fills the frame: for all formats, and for those that need another size."""
        first, *others = self.formats
        ways = {format.id: {"size": filling(media, format)} for format in others}
        return {"values": {"size": filling(media, first)}, "values_in": ways}

    def _item(self, part: Laid, length: int, source: Source, look: dict[str, Any], *, sound: bool) -> Item:
        values = dict(look.get("values", {}))
        before, after = min(part.before, length), min(part.after, length)
        if sound:
            values |= {"fade_in": before, "fade_out": after, "muted": not part.clip.enabled}
        else:
            values |= {"arrives": "fade", "arrive_length": before} if before else {}
            values |= {"leaves": "fade", "leave_length": after} if after else {}
            values |= {"shown": part.clip.enabled}
        return Item(
            id=self.new_id("i"), kind="sound" if sound else "picture", anchor=Free(at=part.start), length=length,
            source=source, values=values, values_in=look.get("values_in", {}),
        )  # fmt: skip
