"""What the editor's templates show, computed once for each answer. Nothing is decided here."""

from __future__ import annotations

from collections import OrderedDict
from functools import cached_property
from threading import Lock
from typing import Any

import orjson
from markupsafe import Markup

from glowreel.core.document import Clip, Item, Promo, Scene, Track
from glowreel.core.formats import CANON, SHIPPED, Format
from glowreel.core.layout import Box
from glowreel.core.recipe.picture import item_box
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.core.timeline import timeline
from glowreel.core.words import FONTS, Words
from glowreel.engine.type import measure
from glowreel.services.promos import Opened
from glowreel.web.editor.boxes import Row, box, cut_button

BAND = (15.0, 30.0)
"""Seconds between which most channels like a promo to be."""
GAUGE_END = 45.0


ICONS = {
    "footage": "film",
    "photo": "image",
    "filler": "square",
    "words": "type",
    "picture": "image",
    "sound": "music-note",
}


class View:
    def __init__(
        self,
        opened: Opened,
        strips: dict[str, dict[str, Any]],
        selected: tuple[str, ...],
        format_id: str,
        notice: str = "",
        words: str = "",
    ) -> None:
        self.opened = opened
        self.promo: Promo = opened.promo
        self.index = timeline(opened.promo)
        self.strips = strips
        self.selected = tuple(i for i in selected if i in self.index.clip or i in self.index.item)
        self._chosen = frozenset(self.selected)
        self.notice = notice
        self.words = words
        self.fonts = FONTS
        self.shape: Format = next((f for f in self.promo.formats if f.id == format_id), self.promo.formats[0])
        self.missing_formats = [f for f in SHIPPED.values() if all(f.id != own.id for own in self.promo.formats)]

    @property
    def length(self) -> float:
        return self.index.length / TICKS_PER_SECOND

    @cached_property
    def gauge(self) -> dict[str, Any]:
        """The length against the band that most channels like. Shares of the gauge, 0 to 100."""
        low, high = BAND
        state = "short" if self.length < low else "long" if self.length > high else "good"
        sentence = {
            "short": f"{low - self.length:.1f} s under {low:.0f}–{high:.0f} s",
            "long": f"{self.length - high:.1f} s over {low:.0f}–{high:.0f} s",
            "good": f"within {low:.0f}–{high:.0f} s",
        }[state]
        at = min(1.0, self.length / GAUGE_END)
        return {"state": state, "sentence": sentence, "at": at * 100, "low": low / GAUGE_END * 100,
                "wide": (high - low) / GAUGE_END * 100}  # fmt: skip

    @property
    def scenes(self) -> list[tuple[Scene, float, float]]:
        spans = self.index.scene_span
        return [
            (s, spans[s.id].start / TICKS_PER_SECOND, spans[s.id].length / TICKS_PER_SECOND) for s in self.promo.scenes
        ]

    def clip_boxes(self) -> Markup:
        """The main track's boxes."""
        return Markup("".join(box(self.clip_row(clip), "", clip.id in self._chosen) for clip in self.promo.clips))

    def track_boxes(self, track: Track) -> Markup:
        """The boxes of a track of layers or sounds."""
        return Markup("".join(box(self.item_row(item), track.id, item.id in self._chosen) for item in track.items))

    def clip_row(self, clip: Clip) -> Row:
        span = self.index.clip_span[clip.id]
        media = self.promo.media.get(clip.media or "")
        limit = 600.0
        if media is not None and media.length:
            limit = (media.length - clip.source_in) / TICKS_PER_SECOND
        return Row(
            id=clip.id, kind=clip.kind, label=clip.name or "Filler", start=span.start / TICKS_PER_SECOND,
            length=span.length / TICKS_PER_SECOND, limit=limit, icon=ICONS[clip.kind], media=media,
            source_in=clip.source_in / TICKS_PER_SECOND, strip=self.strips.get(clip.media or ""), muted=clip.muted,
            gain=clip.gain,
        )  # fmt: skip

    def item_row(self, item: Item) -> Row:
        span = self.index.item_span(item)
        media = self.promo.media.get(item.media or "")
        source_in, limit = 0, 600.0
        fades = (0, 0)
        gain = 0.0
        if not isinstance(item.content, Words):
            source_in = item.content.source_in
            if media is not None and media.length:
                limit = (media.length - source_in) / TICKS_PER_SECOND
        if item.content.kind == "sound":
            fades, gain = (item.content.fade_in, item.content.fade_out), item.content.gain
        label = (
            item.content.text.replace("\n", " ") if isinstance(item.content, Words) else (media.name if media else "")
        )
        return Row(
            id=item.id, kind=item.content.kind, label=label, start=span.start / TICKS_PER_SECOND,
            length=span.length / TICKS_PER_SECOND, limit=limit, icon=ICONS[item.content.kind], media=media,
            source_in=source_in / TICKS_PER_SECOND, strip=None, tied=item.anchor.to, gain=gain,
            fade_in=fades[0] / TICKS_PER_SECOND, fade_out=fades[1] / TICKS_PER_SECOND,
        )  # fmt: skip

    def cut_buttons(self) -> Markup:
        """A handle on every cut of the main track."""
        ends = ((clip.id, self.index.clip_span[clip.id].end / TICKS_PER_SECOND) for clip in self.promo.clips[:-1])
        return Markup("".join(cut_button(before, at, self.index.cut_after(before)) for before, at in ends))

    @cached_property
    def one(self) -> Clip | Item | None:
        """The one thing selected, if it is one."""
        if len(self.selected) != 1:
            return None
        return self.index.clip.get(self.selected[0]) or self.index.item.get(self.selected[0])

    @property
    def one_row(self) -> Row | None:
        one = self.one
        return None if one is None else self.clip_row(one) if isinstance(one, Clip) else self.item_row(one)

    def state(self) -> str:
        """JSON for the page's scripts: what can be drawn and clicked, at this revision. Times in seconds."""
        promo, index = self.promo, self.index
        front = [item for track in promo.layers for item in track.items]
        return json_text(
            {
                "rev": self.opened.revision,
                "name": promo.name,
                "length": self.length,
                "rate": [promo.rate.num, promo.rate.den],
                "formats": [{"id": f.id, "name": f.name, "wide": f.wide, "high": f.high, "safe": f.safe}
                            for f in promo.formats],
                "layers": [{"id": i.id, "kind": i.content.kind, "start": index.item_span(i).start / TICKS_PER_SECOND,
                            "end": index.item_span(i).end / TICKS_PER_SECOND} for i in front],
                "scenes": [[start, start + length] for _, start, length in self.scenes],
                "boxes": {shape.id: self._boxes(shape) for shape in promo.formats},
                "select": self.selected,
                "words": self.words,
                "notice": self.notice,
            }
        )  # fmt: skip

    def _boxes(self, shape: Format) -> dict[str, dict[str, Any]]:
        """Where each layer lies in a format, in fractions of the frame's short side."""
        found: dict[str, dict[str, Any]] = {}
        for track in self.promo.layers:
            for item in track.items:
                place = item.place_in.get(shape.id, item.place)
                more = {"size": place.size, "wrap": place.wrap, "turn": place.turn, "own": shape.id in item.place_in}
                found[item.id] = {**_box(self.promo, shape, item), **more}
        return found


_known: OrderedDict[tuple[int, str], tuple[Item, dict[str, float]]] = OrderedDict()
_lock = Lock()
MAX_KNOWN = 20_000


def _box(promo: Promo, shape: Format, item: Item) -> dict[str, float]:
    """Where an item lies. Items never change, so that what is known of one holds in every revision that has it."""
    key = (id(item), shape.id)
    with _lock:
        known = _known.get(key)
    if known is not None and known[0] is item:
        return known[1]
    box_there = item_box(promo, shape, item, measure)
    fractions = _fractions(box_there) if box_there else {}
    with _lock:
        _known[key] = (item, fractions)
        if len(_known) > MAX_KNOWN:
            _known.popitem(last=False)
    return fractions


def _fractions(box: Box) -> dict[str, float]:
    return {
        "x": round(box.x / CANON, 5),
        "y": round(box.y / CANON, 5),
        "w": round(box.width / CANON, 5),
        "h": round(box.height / CANON, 5),
    }


def json_text(value: object) -> str:
    return orjson.dumps(value).decode()
