"""Whether what is said and how it looks is the brand's, where the promo has one."""

from __future__ import annotations

import re
from collections.abc import Iterator

from glowreel.core.checks.finding import Check, Cure, Finding, Sight
from glowreel.core.commands.base import called
from glowreel.core.document import Item, Promo
from glowreel.core.fonts import FONTS
from glowreel.core.matching import distance
from glowreel.core.properties import Curve
from glowreel.core.properties.kinds import HEX
from glowreel.core.roles import COLOUR_ROLES, FONT_ROLES
from glowreel.core.setting import row_of

NEAR = 0.02
"""How different a colour may look from one of the brand's, in OKLab, and still be that one."""
PLAIN = frozenset({"#000000", "#FFFFFF"})
"""Black and white go with every brand."""
COLOURS = ("colour", "box", "ink", "one_colour")
"""The properties whose colours are looked at."""


def _set_up(promo: Promo) -> bool:
    return promo.brand.origin is not None


def never_said(sight: Sight) -> Iterator[Finding]:
    words = [word for word in sight.promo.brand.never if word.strip()]
    if not words:
        return
    pattern = re.compile(r"(?<!\w)(" + "|".join(re.escape(word) for word in words) + r")(?!\w)", re.IGNORECASE)
    for item, span in sight.layers:
        for name, said in _said(item):
            found = pattern.search(said)
            if found is None:
                continue
            rest = re.sub(r"[ \t]{2,}", " ", pattern.sub("", said)).strip()
            cure = Cure(f"Take “{found[0]}” out", {"do": "set", "items": [item.id], "values": {name: rest}})
            words_of = f"{called(sight.promo, item)} says “{found[0]}”, which {sight.promo.brand.name} never says."
            yield Finding("never", item.id, words_of, span.start, cures=(cure,) if rest else ())
            break


def _said(item: Item) -> Iterator[tuple[str, str]]:
    """What a layer says, by the property that says it."""
    if row_of(item, "text") is not None:
        yield "text", str(item.read("text"))
    for name, value in item.values.items():
        if name.startswith("field.") and not HEX.fullmatch(value):
            yield name, value


def off_colour(sight: Sight) -> Iterator[Finding]:
    promo = sight.promo
    if not _set_up(promo):
        return
    brand = [promo.brand.colour(role) for role in COLOUR_ROLES]
    own = {*brand, *promo.brand.others, *PLAIN}
    for item, span in sight.layers:
        for name in COLOURS:
            value = item.set_to(name) if row_of(item, name) is not None else ""
            if isinstance(value, Curve) or not HEX.fullmatch(str(value)):
                continue
            if min(distance(value, other) for other in own) <= NEAR:
                continue
            nearest = min(COLOUR_ROLES, key=lambda role: distance(value, promo.brand.colour(role)))
            cure = Cure(
                f"Take the brand’s {nearest}", {"do": "set", "items": [item.id], "values": {name: nearest}}
            )  # fmt: skip
            said = f"{called(promo, item)} has the colour {value}, which is none of {promo.brand.name}."
            yield Finding("brand-colour", item.id, said, span.start, cures=(cure,))
            break


def off_font(sight: Sight) -> Iterator[Finding]:
    promo = sight.promo
    if not _set_up(promo):
        return
    own = {*(promo.brand.family(role) for role in FONT_ROLES), *promo.brand.families}
    for item, span in sight.layers:
        family = item.read("font") if row_of(item, "font") is not None else ""
        if family not in FONTS or family in own:
            continue
        role = "heading" if item.read("size") > 0.08 else "body"
        cure = Cure(f"Take the brand’s {role}", {"do": "set", "items": [item.id], "values": {"font": role}})
        said = f"{called(promo, item)} is set in {family}, which is no font of {promo.brand.name}."
        yield Finding("brand-font", item.id, said, span.start, cures=(cure,))


CHECKS = (
    Check("never", "Words of the brand", "nothing is said that the brand never says", never_said),
    Check("brand-colour", "Colours of the brand", "words and shapes have colours of the brand", off_colour),
    Check("brand-font", "Fonts of the brand", "words are set in fonts of the brand", off_font),
)
