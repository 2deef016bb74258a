"""Promos over real files."""

from __future__ import annotations

from glowreel.core.commands import Command, Context, InsertClips, apply
from glowreel.core.document import Promo
from glowreel.core.formats import FIRST_CHOICE, SHIPPED
from glowreel.core.media import Media
from glowreel.core.time import Rate
from tests.core.build import numbered


def promo_of(
    *media: Media, rate: Rate | None = None, commands: tuple[Command, ...] = (), shelf: tuple[Media, ...] = ()
) -> Promo:
    """A promo with these on the main track, and then these commands carried out; `shelf` is there besides."""
    context = Context(numbered(), {m.id: m for m in (*media, *shelf)})
    formats = tuple(SHIPPED[f] for f in FIRST_CHOICE)
    promo = Promo(id="p", name="Test", formats=formats, rate=rate or Rate(num=30, den=1))
    pictures = tuple(m.id for m in media if m.kind != "sound")
    steps = ((InsertClips(media=pictures),) if pictures else ()) + commands
    for command in steps:
        promo = apply(promo, command, context).promo
    return promo
