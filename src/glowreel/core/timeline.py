"""Reading a promo by time: where clips, scenes and items lie."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property, lru_cache

from glowreel.core.document import Clip, Free, Item, Note, Part, Promo, Scene, Tied, Track, Transition, Whole
from glowreel.core.errors import Missing
from glowreel.core.media import Media


@dataclass(frozen=True)
class Span:
    """Half-open run of ticks."""

    start: int
    end: int

    @property
    def length(self) -> int:
        return self.end - self.start

    def __contains__(self, time: int) -> bool:
        return self.start <= time < self.end

    def meets(self, other: Span) -> bool:
        return self.start < other.end and other.start < self.end


@dataclass(frozen=True)
class Cut:
    """A transition with what the parts beside it allow: `span` straddles the cut. `held_before` and `held_behind` are
    the ticks for which the part before, or behind, has no picture left and holds its last, or first, one."""

    transition: Transition
    before: Part
    behind: Part
    span: Span
    at: int
    held_before: int = 0
    held_behind: int = 0


class Timeline:
    """A promo indexed by time and by identifier. Built once for each revision."""

    def __init__(self, promo: Promo) -> None:
        self.promo = promo
        self.clip_span: dict[str, Span] = {}
        self.clip: dict[str, Clip] = {}
        self.scene_of: dict[str, Scene] = {}
        self.scene_span: dict[str, Span] = {}
        now = 0
        for scene in promo.scenes:
            scene_start = now
            for clip in scene.clips:
                self.clip[clip.id] = clip
                self.scene_of[clip.id] = scene
                self.clip_span[clip.id] = Span(now, now + clip.length)
                now += clip.length
            self.scene_span[scene.id] = Span(scene_start, now)
        self._starts = [self.clip_span[clip.id].start for clip in promo.clips]
        self.main_length = now
        self.item: dict[str, Item] = {item.id: item for item in promo.items}
        self.track_of: dict[str, Track] = {i.id: t for t in (*promo.layers, *promo.sounds) for i in t.items}
        ends = [self._own_span(item).end for item in promo.items]
        self.length = now or max(ends, default=0)

    @property
    def frame_count(self) -> int:
        """Frames in the promo: as many as cover its length; one where it is empty."""
        return max(1, self.promo.rate.frame_ceil(self.length))

    def start_of(self, anchor: Tied | Free) -> int:
        """The time to which an anchor leads."""
        if isinstance(anchor, Free):
            return anchor.at
        under = self.clip_span.get(anchor.clip)
        return (under.start if under else 0) + anchor.offset

    def _own_span(self, item: Item) -> Span:
        if isinstance(item.anchor, Whole):
            return Span(0, self.main_length or item.length)
        start = self.start_of(item.anchor)
        return Span(start, start + item.length)

    def note_at(self, note: Note) -> int:
        """The time of a note, held inside the promo."""
        return min(self.start_of(note.anchor), self.length)

    def item_span(self, item: Item) -> Span:
        """Where an item lies; a whole one follows the promo, but no longer than its own sound or footage lasts."""
        span = self._own_span(item)
        if item.anchor.to == "whole":
            media = self.promo.media.get(item.media or "")
            end = self.length
            if media is not None and media.length and item.source is not None:
                end = item.source.longest(item.into, media.length, end)
            if not item.content.fine:
                rate = self.promo.rate
                end = max(rate.frame, rate.frame_start(rate.frame_floor(end)))
            return Span(0, max(end, 1))
        return span

    def new_span(self, item: Item) -> Span:
        """Where an item that is not in the promo yet would lie in it."""
        return self.item_span(item) if self.length or item.anchor.to != "whole" else self._own_span(item)

    def heard_span(self, item: Item) -> Span:
        """The part of an item inside the promo, where its fades are measured."""
        span = self.item_span(item)
        return Span(span.start, max(span.start, min(span.end, self.length)))

    def clip_at(self, time: int) -> Clip | None:
        """The main-track clip on show at `time`, without regard to transitions."""
        if not 0 <= time < self.main_length:
            return None
        return self.promo.clips[bisect_right(self._starts, time) - 1]

    def tie_under(self, time: int) -> Tied | Free:
        """The anchor an item starting at `time` gets by default: the clip under it, or the time itself."""
        clip = self.clip_at(time)
        if clip is None:
            return Free(at=time)
        return Tied(clip=clip.id, offset=time - self.clip_span[clip.id].start)

    def find_clip(self, clip_id: str) -> Clip:
        if clip_id not in self.clip:
            raise Missing("gone", "That clip is no longer in the promo.", "Reload to see where things are now.")
        return self.clip[clip_id]

    def find_item(self, item_id: str) -> Item:
        if item_id not in self.item:
            raise Missing("gone", "That item is no longer in the promo.", "Reload to see where things are now.")
        return self.item[item_id]

    def find_part(self, key: str) -> Part:
        """A clip or an item."""
        found = self.clip.get(key) or self.item.get(key)
        if found is None:
            raise Missing("gone", "That is no longer in the promo.", "Reload to see where things are now.")
        return found

    def span_of(self, part: Part) -> Span:
        """Where a clip or an item lies."""
        return self.item_span(part) if isinstance(part, Item) else self.clip_span[part.id]

    def material(self, part: Part) -> Media | None:
        """The file of a part that runs; None for what looks the same throughout."""
        media = self.promo.media.get(part.media or "")
        return media if media is not None and media.length else None

    @cached_property
    def beside(self) -> dict[str, tuple[Clip | None, Clip | None]]:
        """The clips before and behind each one on the main track."""
        clips = self.promo.clips
        return {
            clip.id: (clips[n - 1] if n else None, clips[n + 1] if n + 1 < len(clips) else None)
            for n, clip in enumerate(clips)
        }

    def cut_after(self, clip_id: str) -> Cut | None:
        return self._cut_at.get(clip_id)

    @cached_property
    def _cut_at(self) -> dict[str, Cut]:
        return {cut.before.id: cut for cut in self.cuts}

    @cached_property
    def cuts(self) -> list[Cut]:
        """Transitions of the main track that have a cut to sit on."""
        return self._passing(zip(self.promo.clips, self.promo.clips[1:], strict=False))

    @cached_property
    def layer_cuts(self) -> list[Cut]:
        """Transitions between layers that follow one another on a track without a gap."""
        if all(transition.after in self.clip for transition in self.promo.transitions):
            return []
        return self._passing(pair for track in self.promo.layers for pair in self.joined(track))

    @cached_property
    def layer_cut_at(self) -> dict[str, Cut]:
        """The same by the layer before them."""
        return {cut.before.id: cut for cut in self.layer_cuts}

    @cached_property
    def passed_into(self) -> set[str]:
        """The layers that come by a transition."""
        return {cut.behind.id for cut in self.layer_cuts}

    def joined(self, track: Track) -> list[tuple[Item, Item]]:
        """The items of a track that follow one another without a gap, two by two."""
        ordered = sorted(track.items, key=lambda item: self.item_span(item).start)
        return [
            (before, behind)
            for before, behind in zip(ordered, ordered[1:], strict=False)
            if self.item_span(before).end == self.item_span(behind).start
        ]

    def neighbour(self, item: Item) -> Item | None:
        """The layer that follows one on its track without a gap."""
        track = self.track_of[item.id]
        return next((behind for before, behind in self.joined(track) if before.id == item.id), None)

    def _passing(self, neighbours: Iterable[tuple[Part, Part]]) -> list[Cut]:
        """The transitions between neighbours, shortened so that two of them never meet inside a part."""
        by_part = {t.after: t for t in self.promo.transitions}
        found = []
        for before, behind in neighbours if by_part else ():
            transition = by_part.get(before.id)
            if transition is None:
                continue
            frame, at = self.promo.rate.frame, self.span_of(behind).start
            lengths = (transition.length, self.span_of(before).length, self.span_of(behind).length)
            half = min(lengths) // 2 // frame * frame
            if half:
                held = (half - self.handle(before, after=True, most=half), half - self.handle(behind, most=half))
                found.append(Cut(transition, before, behind, Span(at - half, at + half), at, *held))
        return found

    def handle(self, clip: Part, *, most: int, after: bool = False) -> int:
        """How much of a part's media lies unused before it, or after it; at most `most`. Stills have all of it."""
        media, source = self.promo.media.get(clip.media or ""), clip.source
        if media is None or source is None or not media.length:
            return most
        if not after:
            return source.earliest(clip.into, media.length, most)
        return min(most, max(0, source.longest(clip.into, media.length, clip.length + most) - clip.length))

    @cached_property
    def opening(self) -> Span | None:
        """The stretch at the start in which the picture comes; over before the first clip's transition begins."""
        edge, clips = self.promo.opens, self.promo.clips
        if edge is None or not clips:
            return None
        cut = self.cut_after(clips[0].id)
        return Span(0, min(edge.length, cut.span.start if cut else clips[0].length))

    @cached_property
    def closing(self) -> Span | None:
        """The stretch at the end in which the picture goes."""
        edge, clips = self.promo.closes, self.promo.clips
        if edge is None or not clips:
            return None
        cut = self.cut_after(clips[-2].id) if len(clips) > 1 else None
        start = cut.span.end if cut else self.clip_span[clips[-1].id].start
        start = max(start, self.opening.end if self.opening else 0)
        return Span(max(start, self.main_length - edge.length), self.main_length)

    @cached_property
    def note(self) -> dict[str, Note]:
        return {note.id: note for note in self.promo.notes}


class ByIdentity:
    """Wraps a promo so that it is cached by identity: hashing a whole document would cost more than indexing it."""

    __slots__ = ("promo",)

    def __init__(self, promo: Promo) -> None:
        self.promo = promo

    def __hash__(self) -> int:
        return id(self.promo)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, ByIdentity) and other.promo is self.promo


@lru_cache(maxsize=64)
def _indexed(held: ByIdentity) -> Timeline:
    return Timeline(held.promo)


def timeline(promo: Promo) -> Timeline:
    """The promo's index, kept while the promo is in use."""
    return _indexed(ByIdentity(promo))
