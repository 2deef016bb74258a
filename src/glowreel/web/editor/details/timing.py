"""Details of what is not a property: where a part lies in time, how fast it runs, its sound apart, and the promo."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

from glowreel.core.commands.transitions import spoken
from glowreel.core.document import Clip, Item, Part, Promo, Whole
from glowreel.core.properties import PROPERTIES
from glowreel.core.speed import Speed
from glowreel.core.time import RATES, seconds
from glowreel.core.timeline import timeline
from glowreel.core.vocabulary import TRANSITIONS
from glowreel.web.editor.details.control import Control, Group, lasting, plain_control


def timing(promo: Promo, part: Part) -> list[Control]:
    """When it begins, how long it lasts, what it holds to, and how fast it runs."""
    own = _clip(promo, part) if isinstance(part, Clip) else _item(promo, part) if isinstance(part, Item) else ()
    return [*own, *_speed(promo, part)]


def lasting_alike(promo: Promo, parts: Sequence[Part]) -> Iterable[Control]:
    """How long each of several lasts, where they have a length of their own."""
    index = timeline(promo)
    free = [
        part for part in parts if isinstance(part, Clip | Item) and not isinstance(getattr(part, "anchor", None), Whole)
    ]
    if len(free) == len(parts):
        lengths = {part.length if isinstance(part, Clip) else index.item_span(part).length for part in free}
        command = {"do": "trim-to", "items": [part.id for part in free]}
        yield lasting("m-length", "Each lasts", min(lengths), command, "length", sent="grid", mixed=len(lengths) > 1,
                      low=0.1, find="length duration")  # fmt: skip


def own_sound(promo: Promo, part: Part) -> Iterable[Control]:
    """Taking the sound of footage off it, and putting it back."""
    media = promo.media.get(part.media or "")
    if not isinstance(part, Clip) or media is None or not media.sounding:
        return
    detached = any(item.of == part.id for item in promo.items)
    what = ("attach-sound", "Attach its sound again") if detached else ("detach-sound", "Detach its sound")
    yield Control("c-detach", "", "press", what[1], {"do": what[0], "clip": part.id})


def _clip(promo: Promo, clip: Clip) -> Iterable[Control]:
    trim = {"do": "trim", "item": clip.id, "edge": "end"}
    media = timeline(promo).material(clip)
    hint = f"Of {seconds(media.length):.2f} s" if media is not None else ""
    yield lasting("c-length", "Lasts", clip.length, trim, "length", sent="grid", hint=hint, find="length duration")
    if clip.id != promo.clips[-1].id:
        yield from _cut(promo, clip)
    if timeline(promo).scene_of[clip.id].clips[0].id != clip.id:
        yield Control("c-scene", "", "press", "Start a scene here", {"do": "break-scene", "clip": clip.id})


def _cut(promo: Promo, clip: Clip) -> Iterable[Control]:
    cut = next((t for t in promo.transitions if t.after == clip.id), None)
    kinds = ((None, "hard"), *((kind, spoken(kind)) for kind in list(TRANSITIONS)))
    command: dict[str, Any] = {"do": "set-transition", "after": clip.id}
    if cut is not None:
        command |= {"kind": cut.kind, "length": cut.length}
    kind = cut.kind if cut else None
    yield Control("c-cut", "Cut after", "choice", kind, command, "kind", choices=kinds, find="transition")
    if cut is not None:
        yield lasting("c-cut-length", "over", cut.length, command, "length", low=0.05, high=30, default=0.8)


def _item(promo: Promo, item: Item) -> Iterable[Control]:
    span = timeline(promo).item_span(item)
    sent: Any = "ticks" if item.content.fine else "grid"
    whole = item.anchor.to == "whole"
    move, trim = {"do": "move-item", "item": item.id}, {"do": "trim", "item": item.id, "edge": "end"}
    yield lasting("i-start", "Starts", span.start, move, "at", sent=sent, disabled=whole, find="begins")
    yield lasting("i-length", "Lasts", span.length, trim, "length", sent=sent, find="length duration")
    anchors = (("clip", "Clip"), ("time", "Time"), ("whole", "Whole"))
    tie = {"do": "tie-item", "item": item.id}
    hint = "Clip: moves with the clip under its start. Time: stays at its time. Whole: first frame to last."
    yield Control("i-holds", "Holds to", "switches", item.anchor.to, tie, "to", choices=anchors, hint=hint)


def _speed(promo: Promo, part: Part) -> Iterable[Control]:
    media = timeline(promo).material(part)
    if media is None or part.source is None:
        return
    speed: Speed | None = part.source.speed
    command = {"do": "set-speed", "item": part.id}
    rate = speed.constant if speed else 1000
    yield Control(
        "s-rate", "Speed", "number", rate / 1000 if rate is not None else "curve", command, "speed", unit="×",
        sent="number", scale=1000, low=0.1, high=16, step=0.1, digits=2, default=1, slider="log",
        find="fast slow",
    )  # fmt: skip
    yield Control("s-back", "Backwards", "flag", bool(speed and speed.backwards), command, "backwards")
    if speed is not None and media.sounding:
        pitches = (("kept", "Kept"), ("follows", "Follows"))
        yield Control("s-pitch", "Pitch", "switches", speed.pitch, command, "pitch", choices=pitches)
    curve = {"do": "set-curve", "item": part.id}
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
    return Group("promo", "The promo", (rate, *_ground(promo)))


def _ground(promo: Promo) -> Iterable[Control]:
    """What lies behind pictures that do not cover the frame, where neither their clip nor their scene says so."""
    choice = promo.values.get("ground", "inherit")
    for row in PROPERTIES.values():
        idle = row.choices_beside and choice not in row.choices_beside
        if row.group != "ground" or idle or (row.beside and choice == "inherit"):
            continue
        command = {"do": "set-ground", "values": {row.name: None}}
        value = promo.values.get(row.name, row.default)
        choices = row.choices
        if row.name == "ground":
            choices = tuple((name, "the background" if name == "inherit" else words) for name, words in row.choices
                            if name != "picture")  # fmt: skip
        yield plain_control(row, f"g-{row.name}", value, command, f"values/{row.name}", choices)
