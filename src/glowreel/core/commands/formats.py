"""The formats that a promo is published in, and the channels that it is for.

```
AddFormat      wide, square  + tall       →  wide, square, tall       a shipped shape, or one of your own
CopyFormat     wide, tall  tall again     →  wide, tall, tall 2       with all that was changed for it
MoveFormat     wide, tall    tall first   →  tall, wide
SetFormat      tall          5:6, “Card”  →  card                     its shape, name, channel and safe area
RemoveFormat   wide, square  - wide       →  square                   what was changed for it is kept
CopyChanges    wide → tall   of a title   →  the title differs in tall as it does in wide
ToRule         tall                       →  nothing differs in tall any more
SetChannels    Marquee, Passerby          →  their shapes are there, with the areas that they leave free
```
Refused: a shipped format that is there already, the last format, more than twelve, shapes that are too long.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, ValidationError

from glowreel.core.channels import OWN, OwnChannel, formats_for
from glowreel.core.commands.base import Command, Context, Outcome
from glowreel.core.commands.change import map_parts
from glowreel.core.commands.roles import FormatId, Target
from glowreel.core.document import Part, Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.formats import MOST_FORMATS, SHIPPED, Format, named_shape, read_shape, shipped
from glowreel.core.timeline import timeline

Shape = Annotated[str, Field(max_length=24)]
Name = Annotated[str, Field(max_length=40)]


def _found(promo: Promo, format_id: str) -> Format:
    for format in promo.formats:
        if format.id == format_id:
            return format
    raise Missing("gone", "That format is no longer in the promo.")


def _room(promo: Promo, more: int = 1) -> None:
    if len(promo.formats) + more > MOST_FORMATS:
        raise Refusal("too-many", f"A promo has at most {MOST_FORMATS} formats.", "Remove one first.")


def _free_name(promo: Promo, name: str) -> str:
    names = {format.name for format in promo.formats}
    return next(tried for n in range(1, 99) if (tried := name if n == 1 else f"{name[:36]} {n}") not in names)


def _shaped(format: Format, shape: str) -> Format:
    """The format in another shape, as it was typed; refused in a sentence."""
    wide, high = read_shape(shape)
    try:
        return Format.model_validate({**format.model_dump(), "wide": wide, "high": high})
    except ValidationError as error:
        said = error.errors(include_url=False, include_context=False)[0]["msg"].removeprefix("Value error, ")
        raise Refusal("bad-shape", f"{said[0].upper()}{said[1:]}.", "Type another one, such as 4:5.") from error


def _for_channel(promo: Promo, format: Format, channel: str) -> Format:
    if not channel:
        return format.changed(channel="", safe=SHIPPED[format.id].safe if format.id in SHIPPED else Format.usual_safe())
    known = promo.known_channels
    if channel not in known:
        raise Refusal("no-channel", "There is no such channel.", f"There are {', '.join(known)}.")
    return format.changed(channel=channel, safe=known[channel].safe(format.wide, format.high))


def _put(promo: Promo, format: Format) -> Promo:
    return promo.changed(formats=tuple(format if old.id == format.id else old for old in promo.formats))


class AddFormat(Command):
    """Publishes the promo in one more format: a shipped one, or one of a `shape` of its own (`5:6`, `1200 × 628`)."""

    do: Literal["add-format"] = "add-format"
    format: FormatId | None = None
    shape: Shape = ""
    name: Name = ""
    channel: Name = ""

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        _room(promo)
        if self.format is not None:
            new = shipped(self.format)
            if any(f.id == new.id for f in promo.formats):
                raise Refusal("have-format", f"The promo is made in {new.name} already.", "Duplicate that one instead.")
        else:
            wide, high = read_shape(self.shape)
            plain = Format(id=context.new_id("f"), name="Own", wide=1, high=1)
            name = " ".join(self.name.split()) or named_shape(wide, high)
            new = _shaped(plain, self.shape).changed(name=_free_name(promo, name))
        if self.channel:
            new = _for_channel(promo, new, self.channel)
        return Outcome(promo.changed(formats=(*promo.formats, new)), f"Added the format {new.name}")


class CopyFormat(Command):
    """A format once more, right behind it, with all that was changed for it: such as a tall one for another channel."""

    do: Literal["copy-format"] = "copy-format"
    format: FormatId
    channel: Name = ""

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        _room(promo)
        old = _found(promo, self.format)
        known = promo.known_channels
        name = known[self.channel].name if self.channel in known else old.name
        new = old.changed(id=context.new_id("f"), name=_free_name(promo, name))
        if self.channel:
            new = _for_channel(promo, new, self.channel)
        formats = [one for each in promo.formats for one in ((each, new) if each.id == old.id else (each,))]
        made = _changes_copied(promo.changed(formats=tuple(formats)), old.id, new.id, None)
        return Outcome(made, f"Made {new.name} like {old.name}")


class SetFormat(Command):
    """Gives a format another name, shape, channel or safe area; what is not said stays."""

    do: Literal["set-format"] = "set-format"
    format: FormatId
    name: Name | None = None
    shape: Shape | None = None
    channel: Name | None = None
    safe: tuple[float, float, float, float] | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        old = new = _found(promo, self.format)
        if self.name is not None:
            name = " ".join(self.name.split())
            if not name:
                raise Refusal("no-name", "A format needs a name.", "Type at least one letter.")
            new = new.changed(name=name if name == old.name else _free_name(promo, name))
        if self.shape is not None:
            new = _shaped(new, self.shape)
            new = _for_channel(promo, new, new.channel) if new.channel else new
        if self.channel is not None:
            new = _for_channel(promo, new, self.channel)
        if self.safe is not None:
            left, top, right, low = (min(0.45, max(0.0, inset)) for inset in self.safe)
            new = new.changed(safe=(left, top, right, low))
        return Outcome(_put(promo, new), f"Changed the format {new.name}")


class MoveFormat(Command):
    """Puts a format elsewhere on the wall: before another one, or last."""

    do: Literal["move-format"] = "move-format"
    format: FormatId
    before: FormatId | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        moved = _found(promo, self.format)
        rest = [format for format in promo.formats if format.id != moved.id]
        place = len(rest)
        if self.before is not None and self.before != moved.id:
            place = rest.index(_found(promo, self.before))
        elif self.before == moved.id:
            place = promo.formats.index(moved)
        return Outcome(promo.changed(formats=(*rest[:place], moved, *rest[place:])), f"Moved the format {moved.name}")


class RemoveFormat(Command):
    """Stops publishing in a format; places made for it are kept, should it come back."""

    do: Literal["remove-format"] = "remove-format"
    format: FormatId

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        gone = _found(promo, self.format)
        rest = tuple(f for f in promo.formats if f.id != self.format)
        if not rest:
            raise Refusal("last-format", "A promo needs at least one format.", "Add another before removing this one.")
        return Outcome(promo.changed(formats=rest), f"Removed the format {gone.name}")


def _changes_copied(
    promo: Promo, before: str, behind: str, items: frozenset[str] | None, names: frozenset[str] = frozenset()
) -> Promo:
    """The promo with what parts have for one format in another one too: of some of them, or of all; some properties, or
    all."""

    def copied(part: Part) -> Part:
        taken = part.values_in.get(before, {})
        taken = {name: value for name, value in taken.items() if name in names} if names else taken
        own = {**part.values_in.get(behind, {}), **taken}
        return part.changed(values_in={**part.values_in, behind: own}) if own else part

    keys = {part.id for part in (*promo.clips, *promo.items) if before in part.values_in}
    return map_parts(promo, keys & items if items is not None else keys, copied)


class CopyChanges(Command):
    """Lets parts differ in one format as they do in another one; all of them, where none are named; in all their
    properties, or in those named."""

    do: Literal["copy-changes"] = "copy-changes"
    format: FormatId
    to: FormatId
    items: tuple[Target, ...] = Field(default=(), max_length=500)
    names: tuple[Name, ...] = Field(default=(), max_length=100)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        before, behind = _found(promo, self.format), _found(promo, self.to)
        for key in self.items:
            timeline(promo).find_part(key)
        made = _changes_copied(promo, before.id, behind.id, frozenset(self.items) or None, frozenset(self.names))
        return Outcome(made, f"Copied changes from {before.name} to {behind.name}", self.items)


class ToRule(Command):
    """Lets parts be in a format as the rule has them again; all of them, where none are named."""

    do: Literal["to-rule"] = "to-rule"
    format: FormatId
    items: tuple[Target, ...] = Field(default=(), max_length=500)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        format = _found(promo, self.format)
        for key in self.items:
            timeline(promo).find_part(key)

        def ruled(part: Part) -> Part:
            rest = {key: values for key, values in part.values_in.items() if key != format.id}
            return part.changed(values_in=rest)

        differ = {part.id for part in (*promo.clips, *promo.items) if format.id in part.values_in}
        made = map_parts(promo, differ & set(self.items) if self.items else differ, ruled)
        return Outcome(made, f"Sent {format.name} back to the rule", self.items)


class SetChannels(Command):
    """Says which channels the promo is for: their shapes are added, with the areas that they leave free. `own`
    describes one that is not among the shipped ones."""

    do: Literal["set-channels"] = "set-channels"
    channels: tuple[Name, ...] = Field(max_length=12)
    own: OwnChannel | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        keys = tuple(dict.fromkeys(self.channels))
        promo = promo if self.own is None else promo.changed(own_channel=self.own)
        known = promo.known_channels
        for key in keys:
            if key not in known:
                raise Refusal("no-channel", "There is no such channel.", f"There are {', '.join(known)}.")
        # Another description of the promo's own channel holds for the formats that are for it already.
        formats = [_for_channel(promo, f, OWN) if self.own and f.channel == OWN else f for f in promo.formats]
        for wanted in formats_for(keys, formats, known):
            same = next((f for f in formats if (f.wide, f.high, f.channel) == (wanted.wide, wanted.high, "")), None)
            if same is not None:
                formats[formats.index(same)] = same.changed(channel=wanted.channel, safe=wanted.safe)
                continue
            _room(promo.changed(formats=tuple(formats)))
            name = _free_name(promo.changed(formats=tuple(formats)), wanted.name)
            taken = {format.id for format in formats}
            formats.append(wanted.changed(id=wanted.id if wanted.id not in taken else context.new_id("f"), name=name))
        # What is for a channel that is not chosen any more stays, as a format for any.
        formats = [f if f.channel in ("", *keys) else _for_channel(promo, f, "") for f in formats]
        said = " and ".join(known[key].name for key in keys) or "any channel"
        return Outcome(promo.changed(formats=tuple(formats), channels=keys), f"Made it for {said}")
