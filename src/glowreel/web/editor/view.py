"""What the editor's templates show, computed once for each answer. Nothing is decided here."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from functools import cached_property
from typing import Any

import orjson
from markupsafe import Markup

from glowreel.core.arrangement import ruled, see
from glowreel.core.channels import OwnChannel, band_of, chosen
from glowreel.core.commands.setting import CROPS, moment_of
from glowreel.core.commands.views import path_of
from glowreel.core.content.pictures import framing_of
from glowreel.core.content.values import rows_of
from glowreel.core.document import Clip, Item, Note, Part, Promo, Track
from glowreel.core.formats import SHIPPED, USES, Format
from glowreel.core.properties import PROPERTIES, Curve
from glowreel.core.recipe.needs import needs_of
from glowreel.core.recipe.picture import part_box
from glowreel.core.remembered import Remembered
from glowreel.core.setting import curves, is_own
from glowreel.core.time import TICKS_PER_SECOND, seconds
from glowreel.core.timeline import Cut, timeline
from glowreel.engine.typesetting import measure
from glowreel.services.promos import Opened
from glowreel.web.editor.cells import fractions, laid_cells
from glowreel.web.editor.changes import boxes_changed, changes
from glowreel.web.editor.details import CellDetails, Details, Group, promo_controls
from glowreel.web.editor.offered import brand_swatches, covers_of
from glowreel.web.editor.rows import Row, clip_row, item_row, timeline_rows

GAUGE_END = 45.0


ICONS = {
    "footage": "film",
    "photo": "image",
    "filler": "square",
    "collage": "grid-1x2",
    "words": "type",
    "design": "layout-text-window",
    "shape": "star",
    "sticker": "emoji-smile",
    "adjustment": "sliders",
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
        sentence: str = "",
        at: int = 0,
        before: Promo | None = None,
        cell: str = "",
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
        self.at = at
        self.before = before
        self.cell = cell
        self.icons = ICONS
        self.channels, self.uses = self.promo.known_channels, USES
        self.own_channel = self.promo.own_channel or OwnChannel()
        self.swatches = brand_swatches(self.promo.brand)
        self.format: Format = next((f for f in self.promo.formats if f.id == format_id), self.promo.formats[0])
        self.missing_formats = [f for f in SHIPPED.values() if all(f.id != own.id for own in self.promo.formats)]

    @cached_property
    def parts(self) -> tuple[Part, ...]:
        """The clips and items selected."""
        return tuple(self.index.find_part(key) for key in self.selected if key not in self.index.note)

    @property
    def length(self) -> float:
        return self.index.length / TICKS_PER_SECOND

    @cached_property
    def gauge(self) -> dict[str, Any]:
        """The length against the band that most channels like. Shares of the gauge, 0 to 100."""
        low, high = band_of(self.promo.channels, self.channels)
        state = "short" if self.length < low else "long" if self.length > high else "good"
        sentence = {
            "short": f"{low - self.length:.1f} s under {low:.0f}–{high:.0f} s",
            "long": f"{self.length - high:.1f} s over {low:.0f}–{high:.0f} s",
            "good": f"within {low:.0f}–{high:.0f} s",
        }[state]
        end = max(GAUGE_END, 1.5 * high)
        names = " and ".join(channel.name for channel in chosen(self.promo.channels, self.channels)) or "Most channels"
        return {"state": state, "sentence": sentence, "at": min(1.0, self.length / end) * 100, "low": low / end * 100,
                "wide": (high - low) / end * 100, "of": f"{names}: {low:.0f}–{high:.0f} s"}  # fmt: skip

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
        row = item_row(self.index, one) if isinstance(one, Item) else clip_row(self.index, one, {})
        return {"source": 0, "gain": 0, "fadeIn": 0, "fadeOut": 0, "muted": False, "tied": "", "length": 0, **row}

    @cached_property
    def part(self) -> Part | None:
        """The one thing selected, where its material runs."""
        return self.one if self.one is not None and self.index.material(self.one) is not None else None

    @cached_property
    def details(self) -> Details | None:
        """The controls of what is selected."""
        return Details(self.promo, self.format, self.parts, self.at) if self.parts else None

    @cached_property
    def groups(self) -> list[Group]:
        """The controls of what is selected by their headings, those of the cell that is chosen first."""
        own, clip = self.details.groups() if self.details is not None else [], self.one
        cells = clip.inner if isinstance(clip, Clip) else ()
        chosen = next((cell for cell in cells if cell.id == self.cell), None)
        if chosen is None:
            return own
        return [*CellDetails(self.promo, self.format, (chosen,), self.at, clip).groups(), *own]

    @cached_property
    def cells(self) -> dict[str, Any]:
        """Where the cells of the collage selected lie in this format at the playhead, for the stage; else nothing."""
        clip = self.one
        if not isinstance(clip, Clip) or not clip.cells:
            return {}
        moment = moment_of(self.promo, clip, self.at)
        assert moment is not None
        return laid_cells(self.promo, self.format, clip, moment)

    @cached_property
    def matched(self) -> bool:
        """Whether there are pictures that colours behind it could match."""
        rows = rows_of(self.one.kind) if self.one is not None else {}
        return "ground" in rows and self.one is not None and bool(self.one.materials)

    @cached_property
    def framed(self) -> str:
        """Where the picture of the clip selected lies in this format at the playhead, as JSON for the stage; else
        nothing."""
        clip = self.one
        if clip is None or "framed" not in clip.content.traits:
            return ""
        moment = moment_of(self.promo, clip, self.at)
        assert moment is not None
        box = part_box(self.promo, self.format, clip, measure, moment)
        if box is None:
            return ""
        read = {name: clip.read(name, self.format.id, moment) for name in ("turn", "corner", "zoom")}
        crop = [clip.read(name, self.format.id, moment) for name in CROPS]
        return json_text({"id": clip.id, "format": self.format.id, **fractions(box), **read, "crop": crop})

    @cached_property
    def path(self) -> str:
        """The way of the view over the picture of the clip selected, as JSON for the stage: times of the promo in
        seconds, across and down; nothing where none of it is cropped, or it stands still in the middle."""
        clip = self.one
        if clip is None or "framed" not in clip.content.traits or clip.media is None:
            return ""
        start = self.index.span_of(clip).start
        points = path_of(self.promo, clip, self.format)
        return json_text([[(start + at - clip.into) / TICKS_PER_SECOND, x, y] for at, x, y in points])

    @cached_property
    def shots(self) -> str:
        """What the first and the last frame of the clip selected show of its picture, as JSON for the stage; else
        nothing."""
        clip = self.one
        if not isinstance(clip, Clip) or "framed" not in clip.content.traits or clip.media is None:
            return ""
        media, key = self.promo.media[clip.media], self.format.id
        left, top, right, bottom = (clip.read(name, key) for name in CROPS)
        ends = (clip.into, clip.into + clip.length)
        first, last = ({name: clip.read(name, key, at) for name in ("focus", "zoom")} for at in ends)
        zoom = clip.set_to("zoom", key)
        ease = zoom.points[0].ease if isinstance(zoom, Curve) else "both"
        return json_text({
            "id": clip.id, "fit": framing_of(self.promo, clip, self.format).fit,
            "wide": media.width * (1 - left - right), "high": media.height * (1 - top - bottom),
            "ease": ease, "first": first, "last": last,
        })  # fmt: skip

    @cached_property
    def mask(self) -> str:
        """Where the shape lies through which the one thing selected is seen, as JSON for the stage; else nothing."""
        part = self.one
        if part is None or "mask" not in rows_of(part.kind) or part.read("mask", self.format.id) == "none":
            return ""
        moment = moment_of(self.promo, part, self.at)
        read = {name: part.read(f"mask_{name}", self.format.id, moment) for name in ("place", "size", "turn")}
        return json_text({"id": part.id, **read})

    @cached_property
    def needing(self) -> bool:
        """Whether the one thing selected needs something that has to be made of its file."""
        return self.one is not None and next(needs_of(self.promo, self.one), None) is not None

    @cached_property
    def own_words(self) -> str | None:
        """What the words selected say in this format."""
        if self.one is None or "text" not in rows_of(self.one.kind):
            return None
        return str(self.one.read("text", self.format.id))

    @cached_property
    def own_text(self) -> bool:
        """Whether they say something else in this format than in the others."""
        return self.one is not None and is_own(self.one, "text", self.format.id)

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
        part = self.part
        if part is None or part.source is None or part.source.speed is None:
            return []
        speed, into, length = part.source.speed, part.into, self.index.span_of(part).length
        inside = [(p.at - into, p.speed) for p in speed.points if 0 < p.at - into < length]
        ends = [(at, round(speed.at(into + at) * 1000)) for at in (0, length)]
        return [(at / length, rate) for at, rate in (ends[0], *inside, ends[1])]

    @cached_property
    def heads(self) -> list[tuple[Track, str, str]]:
        """Tracks with the words on their heads: (track, kind, name)."""
        return heads_of(self.promo)

    @cached_property
    def heads_key(self) -> str:
        """Changes when the rows of the timeline do: what is on them is painted by the page's scripts."""
        return _heads_key(self.promo)

    @cached_property
    def heads_same(self) -> bool:
        """Whether the page has the rows of the timeline already."""
        return self.before is not None and _heads_key(self.before) == self.heads_key

    @cached_property
    def formats_same(self) -> bool:
        """Whether the page has these formats already."""
        before = self.before
        return before is not None and (before.formats, before.channels) == (self.promo.formats, self.promo.channels)

    def state(self) -> Markup:
        """JSON for the page's scripts: what can be drawn and clicked, at this revision, or what changed of it since the
        one that the page has. Times in seconds."""
        value, boxes = state_of(self.promo, self.strips), boxes_of(self.promo, self.format)
        if self.before is not None and self.opened.before is not None:
            value = changes(self.opened.before.revision, state_of(self.before, self.strips), value)
            boxes = boxes_changed(boxes_of(self.before, self.format), boxes)
        value = {
            **value, "boxes": {self.format.id: boxes}, "rev": self.opened.revision, "select": self.selected,
            "sentence": self.sentence, "notice": self.notice,
        }  # fmt: skip
        # Inside a script element only the end of that element must not appear.
        return Markup(json_text(value).replace("<", "\\u003c"))


def heads_of(promo: Promo) -> list[tuple[Track, str, str]]:
    found = [(t, "layer", _called_by(t.items[0])) for t in promo.layers]
    found += [(t, "sound", t.items[0].read("bus").capitalize() if t.items else "Sound") for t in promo.sounds]
    return [(t, kind, t.name or name) for t, kind, name in found]


def _called_by(item: Item) -> str:
    """What a track without a name is called by its first item."""
    if item.content.traits & {"adjusts", "shaped", "stuck"}:
        return item.content.label
    return "Picture" if item.materials else "Words"


def _heads_key(promo: Promo) -> str:
    facts: list[object] = [bool(promo.clips)]
    facts += [(t.id, t.locked, t.hidden, t.muted, t.solo, t.gain, name) for t, _, name in heads_of(promo)]
    return hashlib.blake2b(repr(facts).encode(), digest_size=8).hexdigest()


_states: Remembered[dict[str, Any]] = Remembered(12)


def state_of(promo: Promo, strips: dict[str, dict[str, Any]]) -> dict[str, Any]:
    """What the page's scripts know of a promo. The state before a step is mostly the one that the last answer told."""
    told = tuple(sorted((key, strip["tiles"]) for key, strip in strips.items()))
    return _states.of((promo,), told, lambda: _state_anew(promo, strips))


def _state_anew(promo: Promo, strips: dict[str, dict[str, Any]]) -> dict[str, Any]:
    index = timeline(promo)
    return {
        "name": promo.name,
        "length": index.length / TICKS_PER_SECOND,
        "frames": index.frame_count if index.length else 0,
        "rate": [promo.rate.num, promo.rate.den],
        "formats": [
            {
                "id": f.id,
                "name": f.name,
                "wide": f.wide,
                "high": f.high,
                "safe": list(f.safe),
                "channel": f.channel,
                "covers": covers_of(promo, f),
            }
            for f in promo.formats
        ],
        "channels": list(promo.channels),
        "own_channel": promo.own_channel.name if promo.own_channel is not None else "",
        "front": [item.id for track in promo.layers if not track.hidden for item in track.items],
        **timeline_rows(promo, strips),
    }


def boxes_of(promo: Promo, format: Format) -> dict[str, dict[str, Any]]:
    """Where each layer lies in a format, in fractions of the frame's short side. Only those of the format that somebody
    works in travel with every answer."""
    rules = ruled(promo, format, measure)
    return {item.id: _box(promo, format, item, rules.of(item)) for track in promo.layers for item in track.items}


_lying: Remembered[dict[str, Any]] = Remembered(20_000)
STEPS = 8
"""The way of something that moves is told to the page at so many places between two points."""
GEOMETRY = {"place", "size", "turn", "stretch", "corner", *CROPS}


def _box(promo: Promo, format: Format, item: Item, by_rule: Mapping[str, Any]) -> dict[str, Any]:
    """Where an item lies, and its way where it moves."""
    # Where the rule laid it out, it lies as that says, and that depends on what is beside it.
    things = (item, promo.brand, promo.designs.get(item.design or ""), by_rule)
    return _lying.of(things, (format.id,), lambda: _box_anew(promo, format, item))


def _box_anew(promo: Promo, format: Format, item: Item) -> dict[str, Any]:
    found = _lies(promo, format, item, item.into)
    moments = {point.at for name, _, curve in curves(item) if name in GEOMETRY for point in curve.points}
    if len(moments) > 1:
        found["way"] = [
            {"at": round((moment - item.into) / TICKS_PER_SECOND, 4), **_lies(promo, format, item, moment)}
            for moment in _between(sorted(moments))
        ]
    return found


def _between(moments: list[int]) -> list[int]:
    """Moments, with a few more between each two."""
    pairs = zip(moments, moments[1:], strict=False)
    return [a + (b - a) * step // STEPS for a, b in pairs for step in range(STEPS)] + moments[-1:]


def _lies(promo: Promo, format: Format, item: Item, moment: int) -> dict[str, Any]:
    """Where an item lies at a moment of its own time, in fractions of the frame's short side."""
    there = part_box(promo, format, item, measure, moment)
    if there is None:
        return {}
    rows, seen = rows_of(item.kind), see(promo, item, format, moment, measure)
    read: dict[str, Any] = {name: seen(name) for name in ("size", "turn", "wrap") if name in rows}
    more = {name: seen(name) for name in ("stretch", "corner") if name in rows}
    read |= {name: value for name, value in more.items() if value != PROPERTIES[name].default}
    crop = [seen(name) for name in CROPS if name in rows]
    if any(crop):
        read["crop"] = crop
    return {**fractions(there), "wrap": 1.0, **read, "own": format.id in item.values_in}


def json_text(value: object) -> str:
    return orjson.dumps(value).decode()
