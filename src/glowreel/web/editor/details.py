"""What the Details face shows, as a table: groups of controls, each with its unit, limits, default and command.

The page knows kinds of controls and nothing of what they mean: it puts the value into the command at `param` and sends
it. A new control is a row here.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Literal, get_args

import orjson

from glowreel.core.commands.transitions import spoken
from glowreel.core.document import Clip, Item, Motion, Promo, Sound, TransitionKind
from glowreel.core.formats import Format
from glowreel.core.media import Media
from glowreel.core.place import Framing, Place
from glowreel.core.speed import Speed
from glowreel.core.time import RATES, seconds
from glowreel.core.timeline import Timeline, timeline
from glowreel.core.words import FONTS, Words

Kind = Literal["number", "choice", "switches", "flag", "colour", "nine", "press"]
SWATCHES = ("#FFFFFF", "#C8430B", "#F6B73C", "#2F6F87", "#2C2A4A")


@dataclass(frozen=True)
class Control:
    """One line of Details.

    `value` is as shown; `sent` says what becomes of it on the way: a number times `scale`, ticks of a second, ticks on
    the frame grid. `default` is what a double press on the label brings back. `scoped` ones obey the choice between
    all formats and this one.
    """

    id: str
    label: str
    kind: Kind
    value: Any
    command: dict[str, Any]
    param: str = ""
    unit: str = ""
    sent: Literal["plain", "number", "ticks", "grid"] = "plain"
    scale: float = 1.0
    low: float = 0.0
    high: float = 1.0
    step: float = 1.0
    digits: int = 0
    default: Any = None
    slider: Literal["", "straight", "log"] = ""
    choices: tuple[tuple[Any, str], ...] = ()
    icons: dict[Any, str] = field(default_factory=dict)
    hint: str = ""
    find: str = ""
    scoped: Literal["", "place", "framing"] = ""
    disabled: bool = False
    own: bool = False
    placeholder: str = ""

    @property
    def shown(self) -> str:
        """The value as it stands in its field."""
        return f"{self.value:.{self.digits}f}" if isinstance(self.value, float | int) else str(self.value)

    @property
    def data(self) -> str:
        """JSON for the page: what it needs to send a value."""
        names = ("command", "param", "sent", "scale", "low", "high", "step", "digits", "default", "scoped", "unit")
        return orjson.dumps({name: getattr(self, name) for name in names}).decode()


@dataclass(frozen=True)
class Group:
    """Controls under one heading; `open` until somebody shuts it."""

    id: str
    title: str
    controls: tuple[Control, ...]
    open: bool = True


def percent(id: str, label: str, value: float, command: dict[str, Any], param: str, **more: Any) -> Control:
    """A share, shown in hundredths and sent as a fraction."""
    given = {"unit": "%", "sent": "number", "scale": 0.01, "low": 0, "high": 100, "slider": "straight", **more}
    return Control(id, label, "number", round(value * 100, 1), command, param, digits=given.pop("digits", 0), **given)


def decibels(id: str, label: str, value: float, command: dict[str, Any]) -> Control:
    limits: dict[str, Any] = {"low": -60, "high": 12, "step": 0.5, "digits": 1, "default": 0}
    return Control(
        id, label, "number", value, command, "gain", unit="dB", sent="number", slider="straight",
        find="volume loud quiet", **limits,
    )  # fmt: skip


def lasting(id: str, label: str, ticks: int, command: dict[str, Any], param: str, **more: Any) -> Control:
    """A time or a length, in seconds."""
    given = {"unit": "s", "sent": "ticks", "low": 0, "high": 21_600, "step": 0.1, "digits": 2, **more}
    return Control(id, label, "number", seconds(ticks), command, param, **given)


class Details:
    """The groups of the one thing that is selected, in one format."""

    def __init__(self, promo: Promo, format: Format, one: Clip | Item) -> None:
        self.promo = promo
        self.index: Timeline = timeline(promo)
        self.format = format
        self.one = one

    @cached_property
    def media(self) -> Media | None:
        return self.promo.media.get(self.one.media or "")

    @property
    def is_clip(self) -> bool:
        return isinstance(self.one, Clip)

    @cached_property
    def length(self) -> int:
        if isinstance(self.one, Clip):
            return self.one.length
        return self.index.item_span(self.one).length

    @cached_property
    def scoped(self) -> bool:
        """Whether changes of place can be for one format alone."""
        sound = isinstance(self.one, Item) and isinstance(self.one.content, Sound)
        return len(self.promo.formats) > 1 and not sound and not (self.is_clip and self.one.media is None)

    @cached_property
    def own(self) -> bool:
        """Whether this format has a place or framing of its own."""
        ways = self.one.framing_in if isinstance(self.one, Clip) else self.one.place_in
        return self.format.id in ways

    def groups(self) -> list[Group]:
        """Every group that has something in it."""
        if isinstance(self.one, Clip):
            rows = [
                ("place", "Framing", self._framing(self.one)),
                ("sound", "Sound", self._clip_sound(self.one)),
                ("time", "Time", [*self._clip_time(self.one), *self._speed(self.one.speed)]),
            ]
        else:
            content = self.one.content
            speed = None if isinstance(content, Words) else content.speed
            rows = [
                ("what", "Letters", self._letters(content) if isinstance(content, Words) else []),
                ("place", "Place", self._place(self.one)),
                ("look", "Look", self._look(self.one)),
                ("motion", "Coming and going", self._motion(self.one)),
                ("sound", "Sound", self._sound(self.one)),
                ("time", "Time", [*self._item_time(self.one), *self._speed(speed)]),
            ]
        groups = [Group(key, title, tuple(controls)) for key, title, controls in rows]
        return [group for group in groups if group.controls]

    # ---- what it is ----

    def _letters(self, words: Words) -> Iterable[Control]:
        style = {"do": "style-words", "item": self.one.id}
        families = tuple((family, family) for family in FONTS)
        weights = tuple((weight, str(weight)) for weight in FONTS[words.font])
        yield Control("w-font", "Font", "choice", words.font, style, "font", choices=families, find="typeface family")
        yield Control("w-weight", "Weight", "choice", words.weight, style, "weight", choices=weights, find="bold")
        yield Control("w-colour", "Colour", "colour", words.colour, style, "colour", default="#FFFFFF")
        sides = (("left", "Left"), ("centre", "Centre"), ("right", "Right"))
        icons = {"left": "text-left", "centre": "text-center", "right": "text-right"}
        yield Control("w-align", "Align", "switches", words.align, style, "align", choices=sides, icons=icons)

    # ---- place ----

    def _place(self, item: Item) -> Iterable[Control]:
        if isinstance(item.content, Sound):
            return
        place: Place = item.place_in.get(self.format.id, item.place)
        command = {"do": "adjust-place", "item": item.id, "format": self.format.id}
        most = 60.0 if isinstance(item.content, Words) else 300.0
        more: dict[str, Any] = {"scoped": "place", "own": self.own}
        yield Control("i-place", "Pinned", "nine", place.frame, command, "spot", find="position corner", **more)
        yield percent(
            "i-size", "Size", place.size, command, "size", low=1, high=most, step=0.5, digits=1,
            default=13 if isinstance(item.content, Words) else 40, find="large small scale", **more,
        )  # fmt: skip
        for name, label in (("dx", "Across"), ("dy", "Down")):
            yield percent(
                f"i-{name}", label, getattr(place, name), command, name, low=-200, high=200, step=0.5, digits=1,
                default=0, slider="", hint="From where it is pinned, in hundredths of the frame’s short side",
                find="position x y", **more,
            )  # fmt: skip
        yield Control(
            "i-turn", "Turn", "number", place.turn, command, "turn", unit="°", sent="number", low=-360, high=360,
            step=1, digits=0, default=0, find="rotate angle", **more,
        )  # fmt: skip
        if isinstance(item.content, Words):
            yield percent(
                "i-wrap", "Line width", place.wrap, command, "wrap", low=5, high=300, step=1, default=92, slider="",
                find="wrap break", **more,
            )  # fmt: skip
        if self.own:
            reset = {"do": "reset-place", "item": item.id, "format": self.format.id}
            yield Control("i-follow", "", "press", f"{self.format.name} follows the others again", reset)

    def _framing(self, clip: Clip) -> Iterable[Control]:
        if clip.media is None:
            return
        framing: Framing = clip.framing_in.get(self.format.id, clip.framing)
        only = self.format.id if self.own else None
        command = {"do": "frame-clip", "clip": clip.id, "framing": framing.model_dump(mode="json"), "only": only}
        more: dict[str, Any] = {"scoped": "framing", "own": self.own}
        fits = (("fill", "Fills it"), ("letterbox", "Letterbox"))
        yield Control("c-fit", "Fit", "switches", framing.fit, command, "framing.fit", choices=fits, **more)
        for n, (id, label) in enumerate((("c-x", "Focus across"), ("c-y", "Focus down"))):
            yield percent(
                id, label, framing.focus[n], command, f"framing.focus.{n}", default=50, find="crop position",
                hint="The part of the picture that stays in view when it is cropped", **more,
            )  # fmt: skip
        yield percent(
            "c-zoom", "Zoom", framing.zoom, command, "framing.zoom", low=100, high=800, step=5, default=100,
            find="enlarge", **more,
        )  # fmt: skip
        if self.own:
            reset = {"do": "reset-place", "item": clip.id, "format": self.format.id}
            yield Control("c-follow", "", "press", f"{self.format.name} follows the others again", reset)

    # ---- look ----

    def _look(self, item: Item) -> Iterable[Control]:
        if isinstance(item.content, Sound):
            return
        motion = {"do": "set-motion", "item": item.id}
        yield percent("i-opacity", "Opacity", item.opacity, motion, "opacity", step=5, default=100, find="see-through")
        if isinstance(item.content, Words):
            style = {"do": "style-words", "item": item.id}
            words = item.content
            yield percent("w-shadow", "Shadow", words.shadow, style, "shadow", step=5, default=0)
            yield Control("w-box", "Box", "colour", words.box or "", style, "box", default="", find="background")

    # ---- motion ----

    def _motion(self, item: Item) -> Iterable[Control]:
        if isinstance(item.content, Sound):
            return
        command = {"do": "set-motion", "item": item.id}
        kinds = tuple((kind, "at once" if kind == "none" else spoken(kind)) for kind in get_args(Motion))
        for side, length, label in (("arrives", "arrive_length", "Comes"), ("leaves", "leave_length", "Goes")):
            kind = getattr(item, side)
            yield Control(f"i-{side}", label, "choice", kind, command, side, choices=kinds, find="animation in out")
            if kind != "none":
                yield lasting(f"i-{side}-length", "over", getattr(item, length), command, length, high=30, default=0.5)

    # ---- sound ----

    def _sound(self, item: Item) -> Iterable[Control]:
        if not isinstance(item.content, Sound):
            return
        gain = {"do": "set-gain", "item": item.id}
        fades = {"do": "set-fades", "item": item.id}
        yield decibels("i-gain", "Gain", item.content.gain, gain)
        yield Control("i-muted", "Muted", "flag", item.muted, gain, "muted", find="silent")
        yield lasting("i-in", "Fade in", item.content.fade_in, fades, "fade_in", high=120, default=0)
        yield lasting("i-out", "Fade out", item.content.fade_out, fades, "fade_out", high=120, default=0)

    def _clip_sound(self, clip: Clip) -> Iterable[Control]:
        if self.media is None or not self.media.sounding:
            return
        command = {"do": "set-gain", "item": clip.id}
        yield decibels("c-gain", "Gain", clip.gain, command)
        yield Control("c-muted", "Muted", "flag", clip.muted, command, "muted", find="silent")
        detached = any(isinstance(i.content, Sound) and i.content.of == clip.id for i in self.promo.items)
        what = ("attach-sound", "Attach its sound again") if detached else ("detach-sound", "Detach its sound")
        yield Control("c-detach", "", "press", what[1], {"do": what[0], "clip": clip.id})

    # ---- time ----

    def _clip_time(self, clip: Clip) -> Iterable[Control]:
        trim = {"do": "trim", "item": clip.id, "edge": "end"}
        hint = f"Of {seconds(self.media.length):.2f} s" if self.media is not None and self.media.length else ""
        yield lasting("c-length", "Lasts", clip.length, trim, "length", sent="grid", hint=hint, find="length duration")
        if clip.id != self.promo.clips[-1].id:
            yield from self._cut(clip)
        if self.index.scene_of[clip.id].clips[0].id != clip.id:
            yield Control("c-scene", "", "press", "Start a scene here", {"do": "break-scene", "clip": clip.id})

    def _cut(self, clip: Clip) -> Iterable[Control]:
        cut = next((t for t in self.promo.transitions if t.after == clip.id), None)
        kinds = ((None, "hard"), *((kind, spoken(kind)) for kind in get_args(TransitionKind)))
        command: dict[str, Any] = {"do": "set-transition", "after": clip.id}
        if cut is not None:
            command |= {"kind": cut.kind, "length": cut.length}
        kind = cut.kind if cut else None
        yield Control("c-cut", "Cut after", "choice", kind, command, "kind", choices=kinds, find="transition")
        if cut is not None:
            yield lasting("c-cut-length", "over", cut.length, command, "length", low=0.05, high=30, default=0.8)

    def _item_time(self, item: Item) -> Iterable[Control]:
        span = self.index.item_span(item)
        sent: Any = "ticks" if isinstance(item.content, Sound) else "grid"
        whole = item.anchor.to == "whole"
        move, trim = {"do": "move-item", "item": item.id}, {"do": "trim", "item": item.id, "edge": "end"}
        yield lasting("i-start", "Starts", span.start, move, "at", sent=sent, disabled=whole, find="begins")
        yield lasting("i-length", "Lasts", span.length, trim, "length", sent=sent, find="length duration")
        anchors = (("clip", "Clip"), ("time", "Time"), ("whole", "Whole"))
        tie = {"do": "tie-item", "item": item.id}
        hint = "Clip: moves with the clip under its start. Time: stays at its time. Whole: first frame to last."
        yield Control("i-holds", "Holds to", "switches", item.anchor.to, tie, "to", choices=anchors, hint=hint)

    def _speed(self, speed: Speed | None) -> Iterable[Control]:
        if self.media is None or not self.media.length:
            return
        command = {"do": "set-speed", "item": self.one.id}
        rate = speed.constant if speed else 1000
        yield Control(
            "s-rate", "Speed", "number", rate / 1000 if rate is not None else "curve", command, "speed", unit="×",
            sent="number", scale=1000, low=0.1, high=16, step=0.1, digits=2, default=1, slider="log",
            find="fast slow",
        )  # fmt: skip
        yield Control("s-back", "Backwards", "flag", bool(speed and speed.backwards), command, "backwards")
        if speed is not None and self.media.sounding:
            pitches = (("kept", "Kept"), ("follows", "Follows"))
            yield Control("s-pitch", "Pitch", "switches", speed.pitch, command, "pitch", choices=pitches)
        curve = {"do": "set-curve", "item": self.one.id}
        ways: tuple[tuple[str, str], ...] = (("steady", "steady"), ("ease-in", "starts slowly"))
        ways += (("ease-out", "ends slowly"), ("ease-both", "slow at both ends"))
        ways += (("rush", "rushes in the middle"), ("linger", "lingers in the middle"))
        yield Control(
            "s-preset", "Curve", "choice", None, curve, "preset", choices=ways, find="ramp",
            placeholder="its own" if rate is None else "none",
        )  # fmt: skip


def promo_controls(promo: Promo) -> Group:
    """What is shown of the promo itself while nothing is selected."""
    rates = tuple((rate.model_dump(), f"{rate} frames a second") for rate in RATES)
    hint = "The rate of the first footage, unless you choose another"
    rate = Control(
        "p-rate", "Frame rate", "choice", promo.rate.model_dump(), {"do": "set-rate"}, "rate", choices=rates, hint=hint,
        find="fps",
    )  # fmt: skip
    return Group("promo", "The promo", (rate,))
