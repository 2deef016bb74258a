"""The promo itself: its name and the formats it is published in."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Edit
from glowreel.core.document import Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.formats import shipped
from glowreel.core.value import Id


class Rename(Command):
    """Gives the promo another name; spaces are tidied."""

    do: Literal["rename"] = "rename"
    name: str = Field(max_length=120)

    def edit(self, promo: Promo, context: Context) -> Edit:
        name = " ".join(self.name.split())
        if not name:
            raise Refusal("no-name", "A promo needs a name.", "Type at least one letter.")
        return Edit(promo.changed(name=name), f"Renamed the promo to “{name}”")


class AddFormat(Command):
    """Publishes the promo in one more shipped format."""

    do: Literal["add-format"] = "add-format"
    format: Id

    def edit(self, promo: Promo, context: Context) -> Edit:
        new = shipped(self.format)
        if any(f.id == new.id for f in promo.formats):
            raise Refusal("have-format", f"The promo is made in {new.name} already.")
        return Edit(promo.changed(formats=(*promo.formats, new)), f"Added the format {new.name}")


class RemoveFormat(Command):
    """Stops publishing in a format; places made for it are kept, should it come back."""

    do: Literal["remove-format"] = "remove-format"
    format: Id

    def edit(self, promo: Promo, context: Context) -> Edit:
        rest = tuple(f for f in promo.formats if f.id != self.format)
        if len(rest) == len(promo.formats):
            raise Missing("gone", "That format is no longer in the promo.")
        if not rest:
            raise Refusal("last-format", "A promo needs at least one format.", "Add another before removing this one.")
        return Edit(promo.changed(formats=rest), "Removed a format")
