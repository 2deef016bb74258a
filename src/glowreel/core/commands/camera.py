"""Moving over a picture of the main track, and coming nearer.

```
PanZoom   photo, all of it            →  from its whole to its right half, over its length
FrameClip a picture dragged on the stage →  its focus and zoom, so that it lies there
PunchIn   |----A----|   at 3 s        →  |--A--|--A nearer--|     a second one goes back to how it was before
```
What is seen is said as a focus and a zoom; both become points at the first and the last frame. Refused: what is not a
picture of the main track, a punch at an end.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome, called
from glowreel.core.commands.change import map_parts, replace_clip
from glowreel.core.commands.roles import FormatId, Target
from glowreel.core.commands.selection import Chosen, still_there
from glowreel.core.commands.setting import CROPS, assigned, format_of, moment_of, place_for
from glowreel.core.commands.split import split_clip
from glowreel.core.content.pictures import framing_of
from glowreel.core.document import Clip, Part, Promo
from glowreel.core.errors import Refusal
from glowreel.core.formats import CANON
from glowreel.core.layout import Box, refocused
from glowreel.core.properties import PROPERTIES, Curve, Point
from glowreel.core.setting import APart, row_of, with_value
from glowreel.core.time import Ticks
from glowreel.core.timeline import timeline
from glowreel.core.value import Fraction01, Value

Near = Field(ge=0.1, le=8, allow_inf_nan=False)


class Shot(Value):
    """What of a picture is seen: the point nearest to the middle, and how much larger than it must be."""

    focus: tuple[Fraction01, Fraction01] = (0.5, 0.5)
    zoom: float = Near


PRESETS: dict[str, tuple[str, Shot, Shot]] = {
    "push-in": ("comes slowly nearer", Shot(zoom=1.0), Shot(zoom=1.25)),
    "pull-out": ("goes slowly away", Shot(zoom=1.25), Shot(zoom=1.0)),
    "drift-left": ("moves over it to the left", Shot(zoom=1.2, focus=(0.62, 0.5)), Shot(zoom=1.2, focus=(0.38, 0.5))),
    "drift-right": ("moves over it to the right", Shot(zoom=1.2, focus=(0.38, 0.5)), Shot(zoom=1.2, focus=(0.62, 0.5))),
    "drift-up": ("moves over it upwards", Shot(zoom=1.2, focus=(0.5, 0.62)), Shot(zoom=1.2, focus=(0.5, 0.38))),
    "drift-down": ("moves over it downwards", Shot(zoom=1.2, focus=(0.5, 0.38)), Shot(zoom=1.2, focus=(0.5, 0.62))),
    "corner-to-corner": ("from the top left to the bottom right", Shot(zoom=1.5, focus=(0.3, 0.3)),
                         Shot(zoom=1.5, focus=(0.7, 0.7))),
}  # fmt: skip
"""Ways of moving over a picture: what each does, and its first and last shot."""


GENTLE = 1.12
"""How much nearer a gentle movement comes, or begins."""


def gently(clips: Iterable[Clip]) -> list[Clip]:
    """The clips; photos among them move gently, by turns nearer and away."""
    made, count = [], 0
    for clip in clips:
        if clip.content.name == "photo":
            first, last = (1.0, GENTLE) if count % 2 == 0 else (GENTLE, 1.0)
            ends = (Point(at=clip.into, value=first, ease="both"), Point(at=clip.into + clip.length, value=last))
            clip, count = clip.having(zoom=Curve(points=ends)), count + 1
        made.append(clip)
    return made


def _framed(promo: Promo, items: Chosen) -> set[str]:
    index = timeline(promo)
    found = {key for key in still_there(promo, items) if row_of(index.find_part(key), "zoom") is not None}
    if not found:
        raise Refusal("no-picture", "Only footage and photos of the main track can do that.", "Select one of them.")
    return found


class PanZoom(Command):
    """Moves over pictures from a first to a last shot, evenly over their length; without either, no more.

    A longer clip moves more slowly. What it was before, in the property's own points, is gone.
    """

    do: Literal["pan-zoom"] = "pan-zoom"
    items: Chosen
    preset: str | None = Field(default=None, max_length=40)
    first: Shot | None = None
    last: Shot | None = None
    ease: str = Field(default="both", max_length=40)
    format: FormatId | None = None
    only: bool = False

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        found = _framed(promo, self.items)
        if self.format is not None:
            format_of(promo, self.format)
        first, last = self.first, self.last
        if self.preset is not None:
            if self.preset not in PRESETS:
                raise Refusal("no-preset", f"There is no way of moving called “{self.preset}”.",
                              f"There are {', '.join(PRESETS)}.")  # fmt: skip
            _, first, last = PRESETS[self.preset]

        def change(part: APart) -> APart:
            for name in ("zoom", "focus"):
                where = place_for(part, PROPERTIES[name], name, self.format, self.only)
                part = with_value(part, name, self._value(part, name, first, last), where)
            return part

        who = called(promo, timeline(promo).find_part(min(found))) if len(found) == 1 else f"{len(found)} pictures"
        words = f"Moves over {who}" if first or last else f"{who} stands still"
        return Outcome(map_parts(promo, found, change), words, self.items)

    def _value(self, part: Part, name: str, first: Shot | None, last: Shot | None) -> object:
        row = PROPERTIES[name]
        values = [row.check(getattr(shot, name)) for shot in (first or last, last or first) if shot is not None]
        if not values:
            return row.default
        if values[0] == values[1]:
            return values[0]
        ends = (part.into, part.into + part.length)
        points = (Point(at=at, value=value, ease=self.ease) for at, value in zip(ends, values, strict=True))
        return Curve(points=tuple(points))


class FrameClip(Command):
    """Puts the picture of a clip where a gesture left it: the box into which all of it is drawn, in fractions of the
    frame's short side, in one format, and how far it is turned. Where it changes over time, it lies there `at` a
    time."""

    do: Literal["frame-clip"] = "frame-clip"
    item: Target
    format: FormatId
    x: float = Field(ge=-64, le=64, allow_inf_nan=False)
    y: float = Field(ge=-64, le=64, allow_inf_nan=False)
    width: float = Field(gt=0, le=64, allow_inf_nan=False)
    height: float = Field(gt=0, le=64, allow_inf_nan=False)
    turn: float | None = Field(default=None, ge=-3600, le=3600, allow_inf_nan=False)
    only: bool = False
    at: Ticks | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        clip, format = timeline(promo).find_clip(self.item), format_of(promo, self.format)
        _framed(promo, (clip.id,))
        media = promo.media[clip.media or ""]
        moment = moment_of(promo, clip, self.at)
        left, top, right, bottom = (clip.read(name, format.id, moment) for name in CROPS)
        size = media.width * (1 - left - right), media.height * (1 - top - bottom)
        old = framing_of(promo, clip, format, moment)
        box = Box(*(value * CANON for value in (self.x, self.y, self.width, self.height)))
        made = refocused(box, old, format, *size)
        values: dict[str, object] = {"focus": made.focus, "zoom": made.zoom}
        if self.turn is not None:
            values["turn"] = self.turn

        def change(part: APart) -> APart:
            for name, value in values.items():
                row = PROPERTIES[name]
                where = place_for(part, row, name, format.id, self.only)
                if part.read(name, format.id, moment) != value:
                    part = assigned(part, row, name, value, where, moment)
            return part

        where = f" in {format.name}" if self.only else ""
        return Outcome(map_parts(promo, {clip.id}, change), f"Framed {called(promo, clip)}{where}", (clip.id,))


class PunchIn(Command):
    """Cuts a picture in two and shows the second part nearer, for variety in a single shot. Where it is shown nearer
    already, the second part goes back to how it was before."""

    do: Literal["punch-in"] = "punch-in"
    clip: Target
    at: Ticks
    toward: tuple[Fraction01, Fraction01] | None = None
    by: float = Field(default=1.3, gt=1, le=4, allow_inf_nan=False)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        clip = timeline(promo).find_clip(self.clip)
        _framed(promo, (clip.id,))
        before = _before_the_punch(promo, clip)
        made, key = split_clip(promo, clip.id, self.at, context)
        if before is not None:
            names = {"zoom", "focus"}
            back = {name: value for name, value in before.values.items() if name in names}

            def change(second: Clip) -> Clip:
                own = {name: value for name, value in second.values.items() if name not in names}
                return second.changed(values=own | back)

            return Outcome(replace_clip(made, key, change), f"Went back in {called(promo, clip)}", (key,))
        into = clip.into + promo.rate.snap(self.at) - timeline(promo).clip_span[clip.id].start
        zoom = min(PROPERTIES["zoom"].high, clip.read("zoom", "", into) * self.by)
        toward: dict[str, object] = {"focus": tuple(self.toward or clip.read("focus", "", into))}
        if self.toward is None and not clip.says("focus") and promo.media[clip.media or ""].subject is not None:
            toward = {}  # Its subject stays in view, nearer as well.
        nearer = replace_clip(made, key, lambda second: second.having(zoom=zoom, **toward))
        return Outcome(nearer, f"Came nearer in {called(promo, clip)}", (key,))


def _before_the_punch(promo: Promo, clip: Clip) -> Clip | None:
    """The clip before, where this one goes on from it and is shown nearer."""
    spot = promo.clips.index(clip)
    before = promo.clips[spot - 1] if spot else None
    if before is None or before.source != clip.source or before.into + before.length != clip.into:
        return None
    nearer = clip.read("zoom", "", clip.into) > before.read("zoom", "", clip.into)
    return before if nearer else None
