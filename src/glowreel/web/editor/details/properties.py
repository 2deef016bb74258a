"""Details of properties: their controls are made from their rows (see `core.properties`), for one thing or several."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from flask import url_for

from glowreel.core.arrangement import ruled
from glowreel.core.commands.camera import PRESETS
from glowreel.core.commands.styles import style_values
from glowreel.core.content.pictures import framing_of
from glowreel.core.document import Clip, Effect, Item, Part, Promo
from glowreel.core.effects import EFFECTS
from glowreel.core.formats import Format
from glowreel.core.properties import EASINGS, GROUPS, PROPERTIES, SHUT, Curve, Property
from glowreel.core.roles import FONT_ROLES
from glowreel.core.setting import is_own, row_of, set_to
from glowreel.core.text_styles import STYLED, STYLES
from glowreel.core.time import seconds
from glowreel.core.timeline import timeline
from glowreel.engine.typesetting import measure
from glowreel.web.editor.details.collage import collage_controls
from glowreel.web.editor.details.control import Control, Group, Over, control_of, lasting
from glowreel.web.editor.details.hearing import beats, clearer, running_on
from glowreel.web.editor.details.slots import slot_controls
from glowreel.web.editor.details.timing import lasting_alike, own_sound, timing

HEARD_GROUPS = frozenset({"sound", "voice", "equaliser", "dips"})
"""Of what has a sound."""
EASES = (*((name, words) for name, (words, _) in EASINGS.items()), ("0.4 0 0.2 1", "by a curve of your own"))


@dataclass(frozen=True)
class Details:
    """The groups of the things selected, in one format, at a time of the promo in ticks. A cell of a collage is
    `within` that."""

    promo: Promo
    format: Format
    parts: tuple[Part, ...]
    at: int = 0
    within: Part | None = None

    @property
    def _keys(self) -> list[str]:
        """The identifiers to which commands go: of a cell, that of its collage."""
        return [self.within.id] if self.within is not None else [part.id for part in self.parts]

    def _name(self, row: Property) -> str:
        """What a property is called in commands."""
        return f"{self.parts[0].id}.{row.name}" if self.within is not None else row.name

    @property
    def scoped(self) -> bool:
        """Whether anything can be set for one format alone."""
        return len(self.promo.formats) > 1 and any(row.per_format for row in self._rows())

    def groups(self) -> list[Group]:
        """Every group that has something in it."""
        found: dict[str, list[Control]] = {key: [] for key in GROUPS}
        for row in self._rows():
            if row.group and row.kind != "text" and not self._pointless(row):
                found[self._group(row)] += self._controls(row)
        found["framing"] += self._camera()
        if len(self.parts) == 1:
            found["sound"] += [*own_sound(self.promo, self.parts[0]), *running_on(self.promo, self.parts[0])]
            found["beats"] += beats(self.promo, self.parts[0])
            if self._sounding(self.parts[0]) and self.within is None:
                found["voice"] = [*clearer(self.parts[0]), *found["voice"]]
            found["time"] += timing(self.promo, self.parts[0])
            found["what"] += self._fields(self.parts[0])
            found["framing"] += self._still(self.parts[0])
            found["colour"] += self._balance(self.parts[0])
            found["what"] += self._style(self.parts[0])
            found["place"] += self._calm(self.parts[0])
            found["slots"] += [] if self.within is not None else slot_controls(self.promo, self.parts[0])
            if isinstance(self.parts[0], Clip) and self.parts[0].cells:
                found["cells"] = [*collage_controls(self.promo, self.format, self.parts[0]), *found["cells"]]
            for name, group in (("mask", "mask"), ("ground", "ground"), ("filter", "colour"), ("letters_of", "what")):
                found[group] += self._beside(self.parts[0], name)
        else:
            found["time"] += lasting_alike(self.promo, self.parts)
        if len(self.parts) > 1 and all("placed" in part.content.traits for part in self.parts):
            stagger = {"do": "stagger", "items": [part.id for part in self.parts], "by": 0}
            found["motion"].append(lasting("p-stagger", "One after another", self._apart(), stagger, "by",
                                           high=10, find="stagger delay cascade"))  # fmt: skip
        kind = self.parts[0].content
        alike = all(part.content is kind for part in self.parts) and "words" not in kind.traits
        titles = GROUPS | ({"what": "Fields" if "design" in kind.traits else kind.label} if alike else {})
        groups = [
            Group(key, titles[key], tuple(controls), key not in SHUT or self._any_set(key) or self._wanted(key))
            for key, controls in found.items()
            if controls
        ]
        own = self.parts[0].effects if len(self.parts) == 1 else ()
        return [*groups, *(self._effect(effect, n, len(own)) for n, effect in enumerate(own)), *self._more_effects()]

    def _more_effects(self) -> Iterable[Group]:
        """Where effects are put on, for whatever is seen."""
        if not all("seen" in part.content.traits for part in self.parts):
            return
        command = {"do": "add-effect", "items": [part.id for part in self.parts], "effect": ""}
        choices = tuple((kind.name, kind.label) for kind in EFFECTS.values())
        control = Control("p-add-effect", "Put on", "gallery", "", command, "effect", choices=choices,
                          find=" ".join(EFFECTS), plays="here")  # fmt: skip
        yield Group("effects", "Effects", (control,), any(part.effects for part in self.parts))

    def _balance(self, part: Part) -> Iterable[Control]:
        """Light and colour by what is seen in the picture."""
        if part.source is None or "pictured" not in part.content.traits:
            return
        command = {"do": "balance", "items": [part.id], "format": self.format.id}
        yield Control("p-balance", "By what is seen", "press", "Balance it", command, find="automatic auto white")
        others = [clip for clip in self.promo.clips if clip.source is not None and clip.id != part.id]
        if others:
            choices = tuple((clip.id, clip.name or "Filler") for clip in others)
            yield Control("p-match", "Match it with", "choice", "", {**command, "like": ""}, "like", choices=choices,
                          placeholder="a clip …", find="match colour same shot")  # fmt: skip

    def _calm(self, part: Part) -> Iterable[Control]:
        """Putting something where it does not fight the picture."""
        if "placed" in part.content.traits and part.content.traits & {"words", "design", "stuck"}:
            command = {"do": "place-calm", "items": [part.id]}
            yield Control("p-calm", "", "press", "Put it where the picture is calm", command, find="calmest quiet free")

    def _style(self, part: Part) -> Iterable[Control]:
        """Letting a text style look as these words do."""
        if row_of(part, "style") is None or not part.read("style"):
            return
        style = part.read("style")
        if {name: part.values[name] for name in STYLED if name in part.values} != style_values(self.promo, style):
            label = STYLES[style].label.lower()
            command = {"do": "keep-style", "item": part.id}
            yield Control("p-keep-style", "", "press", f"Let every {label} look so", command, find="style all update")

    def _apart(self) -> int:
        """How much later each comes than the one before, in ticks."""
        waits = sorted(part.read("arrive_delay") for part in self.parts)
        return int(waits[1] - waits[0])

    def _camera(self) -> Iterable[Control]:
        """Moving over the pictures of clips."""
        if not all("framed" in part.content.traits for part in self.parts):
            return
        ids = [part.id for part in self.parts]
        command = {"do": "pan-zoom", "items": ids, "format": self.format.id, "preset": ""}
        choices = tuple((name, words) for name, (words, _, _) in PRESETS.items())
        yield Control("p-camera", "Movement", "chips", "", command, "preset", choices=choices,
                      find="pan zoom drift push move", plays="whole")  # fmt: skip

    def _still(self, part: Part) -> Iterable[Control]:
        """Letting the picture of a clip stand still again."""
        if "framed" in part.content.traits and any(
            isinstance(part.set_to(name, self.format.id), Curve) for name in ("zoom", "focus")
        ):
            still = {"do": "pan-zoom", "items": [part.id], "format": self.format.id}
            yield Control("p-camera-off", "", "press", "Let it stand still", still)

    def _beside(self, part: Part, name: str) -> Iterable[Control]:
        """The picture that a mask or a ground is made of; and the ground of a clip for its whole scene or the promo."""
        row = row_of(part, name)
        if row is None:
            return
        choice = part.read(name, self.format.id)
        if name == "by_rule" and isinstance(part, Item) and ruled(self.promo, self.format, measure).of(part):
            stay = {"do": "set", "items": [part.id], "format": self.format.id, "only": True, "values": {name: False}}
            yield Control(
                "p-ruled", "", "press", f"Laid out by rule here: leave it as pinned in {self.format.name}", stay
            )
        framed = "framed" in part.content.traits
        if name == "ground" and framed and choice != "inherit" and part.read("fit", self.format.id) == "fill":
            whole = {"do": "set", "items": [part.id], "format": self.format.id, "values": {"fit": "letterbox"}}
            yield Control("p-ground-fit", "", "press", "Show all of it, with that around it", whole)
        if name == "ground" and choice != "picture":
            behind = {"do": "put-behind", "item": part.id}
            yield Control("p-behind", "Put behind", "material", "a file …", behind, "media", find="cut out person")
        if choice == ("file" if name == "filter" else "picture"):
            fill = part.fills.get(name)
            media = self.promo.media.get(fill.media) if fill is not None else None
            command = {"do": "fill-picture", "item": part.id, "name": name}
            yield Control(
                f"p-{name}-picture",
                "Its file" if name == "filter" else "Picture",
                "material",
                media.name if media else "empty",
                command,
                "media",
            )
        if name == "ground" and choice not in ("inherit", "picture"):
            values = {key: part.read(key) for key, other in PROPERTIES.items() if other.group == "ground"}
            scene = timeline(self.promo).scene_of[part.id].id
            for key, words, more in (
                ("scene", "Same for the scene", {"scene": scene}),
                ("promo", "… for the promo", {}),
            ):
                same: dict[str, Any] = {"do": "set-ground", "values": values, **more}
                yield Control(f"p-ground-{key}", "", "press", words, same)

    def _group(self, row: Property) -> str:
        """Where it stands. Pictures that fill the frame have no place of their own: what would say it is their
        framing."""
        placed = any("placed" in part.content.traits for part in self.parts)
        return "framing" if row.group == "place" and not placed else row.group

    def _any_set(self, group: str) -> bool:
        """Whether any of them says something of a group."""
        said = {name for part in self.parts for values in (part.values, *part.values_in.values()) for name in values}
        return any(PROPERTIES[name].group == group for name in said if name in PROPERTIES)

    def _wanted(self, group: str) -> bool:
        """Whether it is the group of slots, and something of them is to be filled; or what lies behind a picture that
        is shown whole."""
        if group == "ground":
            return any("framed" in part.content.traits and part.read("fit", self.format.id) == "letterbox"
                       for part in self.parts)  # fmt: skip
        ids = {part.id for part in self.parts}
        return group == "slots" and any(slot.part in ids for slot in self.promo.slots)

    def _fields(self, part: Part) -> Iterable[Control]:
        """The fields of a design."""
        design = self.promo.designs.get(part.design or "")
        if design is None:
            return
        for name, field in design.fields.items():
            row = field.row(name)
            if row is not None:
                said = set_to(part, row.name, self.format.id)
                yield self._control(row, row.name, field.sample if said is None else said, True)
                continue
            fill = part.fills.get(name)
            media = self.promo.media.get(fill.media) if fill is not None else None
            command = {"do": "fill-picture", "item": part.id, "name": name}
            shown = media.name if media is not None else "empty"
            yield Control(f"p-field-{name}", field.label, "material", shown, command, "media")
        command = {"do": "take-apart", "item": part.id}
        yield Control("p-apart", "", "press", "Take it apart", command, find="loose layers ungroup")

    def _rows(self) -> list[Property]:
        """The properties that all of them have."""
        traits = [part.traits for part in self.parts]
        rows = [row for row in PROPERTIES.values() if all(row.of & own for own in traits)]
        rows = [row for row in rows if not row.runs or all(self._runs(part) for part in self.parts)]
        return [
            row for row in rows if row.group not in HEARD_GROUPS or all(self._sounding(part) for part in self.parts)
        ]

    def _runs(self, part: Part) -> bool:
        return timeline(self.promo).material(part) is not None

    def _sounding(self, part: Part) -> bool:
        media = self.promo.media.get(part.media or "")
        return media is not None and media.sounding

    def _pointless(self, row: Property) -> bool:
        """Whether it has no meaning for any of them, as the property beside which it stands is not set."""
        if not row.beside:
            return False
        main = PROPERTIES[row.beside]

        def idle(part: Part) -> bool:
            value = part.set_to(main.name, self.format.id)
            if row.choices_beside:
                return value not in row.choices_beside
            return bool(value == main.default_for(part.kind))

        return all(idle(part) for part in self.parts)

    def _moment(self, part: Part) -> int:
        outer = self.within or part
        span = timeline(self.promo).span_of(outer)
        return outer.into + min(max(0, self.at - span.start), span.length)

    def _controls(self, row: Property) -> Iterable[Control]:
        values = [self._value_of(row, part) for part in self.parts]
        same = all(value == values[0] for value in values)
        if row.kind != "spot" or row.control:
            yield self._control(row, self._name(row), values[0], same)
            return
        for axis in range(2):
            yield self._control(row, f"{self._name(row)}.{axis}", values[0][axis], same, axis)

    def _value_of(self, row: Property, part: Part) -> Any:
        """What a property is at the playhead. A focus that follows a subject is where that is."""
        if row.name == "focus" and self.within is None and not part.says("focus", self.format.id):
            return framing_of(self.promo, part, self.format, self._moment(part)).focus
        return row.at(set_to(part, row.name, self.format.id), self._moment(part))

    def _control(self, row: Property, name: str, value: Any, same: bool, axis: int | None = None) -> Control:
        items, full = self._keys, name if axis is None else self._name(row)
        command: dict[str, Any] = {"do": "set", "items": items, "format": self.format.id, "only": False}
        command["values"] = {full: [None, None] if axis is not None else None}
        param = f"values/{name}" if axis is None else f"values/{full}/{axis}"
        if row.control == "nine" and self.within is None:
            command = {"do": "pin-items", "items": items, "format": self.format.id, "only": False}
            param = "spot"
        elif row.name == "style" and self.within is None:
            command, param = {"do": "style-words", "items": items, "style": ""}, "style"
        own = any(is_own(part, row.name, self.format.id) for part in self.parts)
        names = [full, "place"] if full == "pin" else [full]
        follow = {"do": "reset", "items": items, "names": names, "format": self.format.id} if own else None
        default = row.default_for(self.parts[0].kind)
        more = {"icons": self._shown_fonts()} if row.kind == "font" else {}
        return control_of(
            row, f"p-{name.replace('.', '-')}", value, command, param, axis=axis, follow=follow, mixed=not same,
            default=default, over=self._over(row, axis), choices=self._choices(row),
            scoped=row.per_format and len(self.promo.formats) > 1, **more,
        )  # fmt: skip

    def _choices(self, row: Property) -> tuple[tuple[Any, str], ...]:
        if row.stills and any(self._runs(part) for part in self.parts):
            return tuple(choice for choice in row.choices if choice[0] not in row.stills)
        if row.kind == "font":
            own = tuple((family, family) for family in self.promo.brand.families)
            return (*row.choices[: len(FONT_ROLES)], *own, *row.choices[len(FONT_ROLES) :])
        if row.choices_of is None:
            return row.choices
        return row.choices_of(lambda name: self.parts[0].read(name, self.format.id))

    def _shown_fonts(self) -> dict[str, str]:
        """What a role, or a family of the brand's own, is shown in: a family that is shipped, or the address of its
        name in its letters."""
        brand = self.promo.brand
        names = {role: brand.family(role) for role in FONT_ROLES} | {family: family for family in brand.families}
        own = {
            family: url_for("preview.own_family", promo_id=self.promo.id, name=family, v=brand.version)
            for family in brand.families
        }
        return {value: own.get(family, family) for value, family in names.items()}

    def _over(self, row: Property, axis: int | None = None) -> Over | None:
        """How it changes over time, for one thing; a pair has it once."""
        if not row.over_time or len(self.parts) > 1 or axis:
            return None
        return over_of(self.promo, self.within or self.parts[0], self._name(row), self.format.id, self.at)

    def _effect(self, effect: Effect, place: int, count: int) -> Group:
        part = self.parts[0]
        controls = []
        for row in EFFECTS[effect.kind].parameters:
            name = f"{effect.id}.{row.name}"
            command = {"do": "set", "items": [part.id], "values": {name: None}}
            value = effect.read(row.name, self._moment(part))
            over = over_of(self.promo, part, name, self.format.id, self.at) if row.over_time else None
            controls.append(control_of(row, f"p-{name.replace('.', '-')}", value, command, f"values/{name}",
                                       default=row.default, over=over, choices=row.choices))  # fmt: skip
        of = {"item": part.id, "effect": effect.id}
        if place:
            controls.append(Control(f"p-{effect.id}-up", "", "press", "Earlier", {"do": "move-effect", **of, "by": -1}))
        if place + 1 < count:
            controls.append(Control(f"p-{effect.id}-down", "", "press", "Later", {"do": "move-effect", **of, "by": 1}))
        controls.append(Control(f"p-{effect.id}-off", "", "press", "Take it off", {"do": "remove-effect", **of}))
        return Group(f"effect-{effect.kind}", EFFECTS[effect.kind].label, tuple(controls))


def over_of(promo: Promo, part: Part, name: str, format_id: str, at: int) -> Over:
    """How a property of a part changes over time, as the page needs it."""
    value = set_to(part, name, format_id)
    command = {"item": part.id, "format": format_id}
    if not isinstance(value, Curve):
        return Over(name, eases=EASES, command=command)
    begin = timeline(promo).span_of(part).start - part.into
    half = promo.rate.frame // 2
    here = next((point for point in value.points if abs(begin + point.at - at) <= half), None)
    times = tuple(round(seconds(begin + point.at), 6) for point in value.points)
    return Over(name, times, here is not None, here.ease if here else "straight", EASES, command)
