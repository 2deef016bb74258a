"""What the editor's templates show, computed once for each answer. Nothing is decided here."""

from __future__ import annotations

import hashlib
from collections import OrderedDict
from functools import cached_property
from threading import Lock
from typing import Any

import orjson
from markupsafe import Markup

from glowreel.core.document import Clip, Item, Note, Picture, Promo, Sound, Track
from glowreel.core.formats import CANON, SHIPPED, Format
from glowreel.core.layout import Box
from glowreel.core.recipe.picture import item_box
from glowreel.core.time import TICKS_PER_SECOND, seconds
from glowreel.core.timeline import Cut, timeline
from glowreel.engine.typesetting import measure
from glowreel.services.promos import Opened
from glowreel.web.editor.details import SWATCHES, Details, Group, promo_controls
from glowreel.web.editor.rows import Row, clip_row, item_row, timeline_rows

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


KIND_NAMES = {
    "footage": "Footage",
    "photo": "Photo",
    "filler": "Filler",
    "words": "Words",
    "picture": "Picture layer",
    "sound": "Sound",
}


class View:
    def __init__(
        self,
        opened: Opened,
        strips: dict[str, dict[str, Any]],
        selected: tuple[str, ...],
        format_id: str,
        notice: str = "",
        sentence: str = "",
    ) -> None:
        self.opened = opened
        self.promo: Promo = opened.promo
        self.index = timeline(opened.promo)
        self.strips = strips
        self.selected = tuple(
            i for i in selected if i in self.index.clip or i in self.index.item or i in self.index.note
        )
        self.notice = notice
        self.sentence = sentence
        self.icons = ICONS
        self.kind_names = KIND_NAMES
        self.swatches = SWATCHES
        self.format: Format = next((f for f in self.promo.formats if f.id == format_id), self.promo.formats[0])
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

    @cached_property
    def one(self) -> Clip | Item | None:
        """The one thing selected, if it is one."""
        if len(self.selected) != 1:
            return None
        return self.index.clip.get(self.selected[0]) or self.index.item.get(self.selected[0])

    @cached_property
    def one_row(self) -> Row | None:
        """The row of the one thing selected."""
        one = self.one
        if one is None:
            return None
        row = clip_row(self.index, one, {}) if isinstance(one, Clip) else item_row(self.index, one)
        return {"source": 0, "gain": 0, "fadeIn": 0, "fadeOut": 0, "muted": False, "tied": "", "length": 0, **row}

    @cached_property
    def part(self) -> Clip | Picture | Sound | None:
        """What runs in the one thing selected, where something does."""
        of = self.one if isinstance(self.one, Clip) else self.one.content if self.one else None
        media = self.promo.media.get(getattr(of, "media", None) or "")
        return of if isinstance(of, Clip | Picture | Sound) and media is not None and media.length else None

    @cached_property
    def details(self) -> Details | None:
        """The controls of the one thing selected."""
        return Details(self.promo, self.format, self.one) if self.one is not None else None

    @cached_property
    def promo_group(self) -> Group:
        return promo_controls(self.promo)

    @staticmethod
    def held_words(cut: Cut) -> str:
        """What a transition has no footage for, in a sentence."""
        sides = (("this clip", cut.held_before), ("the next", cut.held_behind))
        parts = [f"{seconds(held):.2f} s of {which}" for which, held in sides if held]
        return f"Held for want of footage: {', '.join(parts)}."

    @cached_property
    def note(self) -> Note | None:
        """The note selected, if it is the only thing."""
        return self.index.note.get(self.selected[0]) if len(self.selected) == 1 else None

    @cached_property
    def curve(self) -> list[tuple[float, int]]:
        """The points of the selected part's speed curve: share of its length and thousandths. Ends included."""
        one, part = self.one_row, self.part
        if one is None or part is None or part.speed is None:
            return []
        speed, length = part.speed, round(one["length"] * TICKS_PER_SECOND)
        inside = [(p.at - speed.into, p.speed) for p in speed.points if 0 < p.at - speed.into < length]
        ends = [(at, round(speed.at(speed.into + at) * 1000)) for at in (0, length)]
        return [(at / length, rate) for at, rate in (ends[0], *inside, ends[1])]

    @cached_property
    def heads(self) -> list[tuple[Track, str, str]]:
        """Tracks with the words on their heads: (track, kind, name)."""
        found = [(t, "layer", "Words" if t.items[0].content.kind == "words" else "Picture") for t in self.promo.layers]
        found += [(t, "sound", "Sound") for t in self.promo.sounds]
        return [(t, kind, t.name or name) for t, kind, name in found]

    @cached_property
    def heads_key(self) -> str:
        """Changes when the rows of the timeline do: what is on them is painted by the page's scripts."""
        facts: list[object] = [bool(self.promo.clips)]
        facts += [(t.id, t.locked, t.hidden, t.muted, t.solo, t.gain, name) for t, _, name in self.heads]
        return hashlib.blake2b(repr(facts).encode(), digest_size=8).hexdigest()

    def state(self) -> Markup:
        """JSON for the page's scripts: what can be drawn and clicked, at this revision. Times in seconds."""
        promo = self.promo
        front = [item.id for track in promo.layers if not track.hidden for item in track.items]
        value = {
            "rev": self.opened.revision,
            "name": promo.name,
            "length": self.length,
            "frames": self.index.frame_count if self.index.length else 0,
            "rate": [promo.rate.num, promo.rate.den],
            "formats": [{"id": f.id, "name": f.name, "wide": f.wide, "high": f.high, "safe": f.safe}
                        for f in promo.formats],
            "front": front,
            "boxes": {format.id: self._boxes(format) for format in promo.formats},
            "select": self.selected,
            "sentence": self.sentence,
            "notice": self.notice,
            **timeline_rows(promo, self.strips),
        }  # fmt: skip
        # Inside a script element only the end of that element must not appear.
        return Markup(json_text(value).replace("<", "\\u003c"))

    def _boxes(self, format: Format) -> dict[str, dict[str, Any]]:
        """Where each layer lies in a format, in fractions of the frame's short side."""
        found: dict[str, dict[str, Any]] = {}
        for track in self.promo.layers:
            for item in track.items:
                place = item.place_in.get(format.id, item.place)
                more = {"size": place.size, "wrap": place.wrap, "turn": place.turn, "own": format.id in item.place_in}
                found[item.id] = {**_box(self.promo, format, item), **more}
        return found


_known: OrderedDict[tuple[int, str], tuple[Item, dict[str, float]]] = OrderedDict()
_lock = Lock()
MAX_KNOWN = 20_000


def _box(promo: Promo, format: Format, item: Item) -> dict[str, float]:
    """Where an item lies. Items never change, so that what is known of one holds in every revision that has it."""
    key = (id(item), format.id)
    with _lock:
        known = _known.get(key)
    if known is not None and known[0] is item:
        return known[1]
    box_there = item_box(promo, format, item, measure)
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
