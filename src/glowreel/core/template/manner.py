"""Templates made by rule in a brand's manner, from its palette, shapes and pace, each by a seed that brings it back.

A seed chooses a family of scenes and their order, how the roles of colour change places, how round corners are, how
things move, and how headings are written. The scenes are those of the family; their designs are rewritten, so that two
seeds look unlike one another while the colours and fonts stay the brand's own.
"""

from __future__ import annotations

import random
from collections.abc import Mapping
from typing import Any

from glowreel.core.brand import Brand
from glowreel.core.colour import contrast_of
from glowreel.core.design import Design
from glowreel.core.roles import COLOUR_ROLES, ON
from glowreel.core.template.facts import Facts
from glowreel.core.template.pattern import Pattern, PatternLayer, PatternScene

PREFIX = "manner-"
MOST_SEED = 2**31
TRANSITIONS = ("crossfade", "push-left", "push-up", "wipe-left", "wipe-up", "slide-up", "blur", "iris", "zoom")
MOTIONS = {
    "gentle": {"wipe-left": "fade", "wipe-right": "fade", "slide-left": "rise", "slide-right": "rise", "pop": "fade"},
    "quick": {"fade": "slide-up", "rise": "slide-up", "wipe-up": "slide-up", "unfold": "slide-right"},
    "springy": {"fade": "pop", "rise": "pop", "unfold": "pop", "slide-left": "pop", "slide-right": "pop"},
    "drawn": {"fade": "wipe-right", "rise": "wipe-right", "pop": "iris", "slide-up": "wipe-up"},
    "as drawn": {},
}
"""How what comes is exchanged, by manner of moving."""
PIECES = ("rise", "fade", "slide", "blur", "pop", "swipe", "drop")
RADII = (0.0, 0.02, 0.05, 0.09)
PLANS = (
    ("opening", "point", "close"), ("opening", "offer", "close"), ("opening", "point", "quote", "close"),
    ("opening", "list", "close"), ("opening", "pair", "offer", "close"), ("quote", "opening", "close"),
    ("opening", "point", "point", "offer", "close"),
)  # fmt: skip
SCHEMES: tuple[dict[str, str], ...] = (
    {}, {"accent": "second", "second": "accent"}, {"ground": "accent", "accent": "ground"},
    {"paper": "ground", "ground": "paper"}, {"ground": "second", "second": "ground"},
    {"paper": "accent", "accent": "paper"},
)  # fmt: skip
"""How roles of colour change places."""
READABLE = 4.0
"""What words have to stand out by from the ground that a scheme gives them."""
SAYS: dict[str, dict[str, str]] = {
    "opening": {"kicker": "This week", "title": "Say it in four words"},
    "point": {"kicker": "1", "title": "One good reason", "body": "Say in one sentence why it matters."},
    "offer": {"title": "What it is", "price": "€ 49", "note": "until Sunday"},
    "quote": {"quote": "What somebody said about you.", "name": "Name, where from"},
    "list": {"title": "In short", "line1": "The first thing", "line2": "The second", "line3": "The third", "line4": ""},
    "pair": {"title": "Two of them", "first": "This one", "second": "Or that one"},
    "close": {"title": "What to do now", "link": "your.example"},
}
LASTS = {"opening": 3.0, "point": 3.2, "offer": 3.2, "quote": 3.8, "list": 4.2, "pair": 3.4, "close": 2.8}


def made(seed: int, brand: Brand, designs: Mapping[str, Design], pictures: tuple[str, ...], songs: tuple[str, ...]
         ) -> tuple[Pattern, dict[str, Design]]:  # fmt: skip
    """The template of a seed, and the designs that it uses. The same seed and brand give the same one always.

    `designs` holds the scenes of the families, `pictures` and `songs` the names of samples. Raises `ValueError` for a
    seed that is none.
    """
    if not 0 <= seed < MOST_SEED:
        raise ValueError("a seed is a whole number from 0 on")
    chance = random.Random(seed)
    families = sorted({key.removesuffix("-close") for key, one in designs.items()
                       if one.group == "scene" and key.endswith("-close")})  # fmt: skip
    family, plan = chance.choice(families), chance.choice(PLANS)
    scheme, motion = _scheme(chance, brand), MOTIONS[chance.choice(sorted(MOTIONS))]
    manner: dict[str, Any] = {
        "scheme": scheme, "motion": motion, "pieces": chance.choice(PIECES), "radius": chance.choice(RADII),
        "case": chance.choice(("typed", "typed", "upper")), "weight": chance.choice((500, 700, 800, 900)),
    }  # fmt: skip
    pace, leaves = chance.uniform(0.85, 1.15), chance.choice(TRANSITIONS)
    used: dict[str, Design] = {}
    scenes = []
    for n, layout in enumerate(plan):
        key = f"{family}-{layout}"
        own = used.setdefault(f"{key}-{seed}", _rewritten(designs[key], f"{key}-{seed}", manner))
        last = n == len(plan) - 1
        scenes.append(_scene(own, layout, n, pace, None if last else leaves, pictures, chance))
    facts = Facts(meaning="made by rule in your brand’s manner", category="story", family=family, author="Glow Reel")
    name = f"{family.capitalize()} no. {seed}"
    return Pattern(id=f"{PREFIX}{seed}", name=name, facts=facts, music=chance.choice(songs), scenes=tuple(scenes)), used


def _scene(design: Design, layout: str, place: int, pace: float, leaves: str | None, pictures: tuple[str, ...],
           chance: random.Random) -> PatternScene:  # fmt: skip
    says = {name: said for name, said in SAYS[layout].items() if name in design.fields}
    places = [name for name, field in design.fields.items() if field.kind == "picture" and name != "logo"]
    shown = chance.sample(pictures, max(1, len(places)))
    layer = PatternLayer(
        design=design.id, says=says, shows=dict(zip(places, shown, strict=False)),
        free=tuple(name for name in ("kicker", "note", "name", "line3", "line4", "logo") if name in design.fields),
    )  # fmt: skip
    behind = {"picture": shown[0]} if design.id.startswith("horizon-") and layout != "pair" else {}
    return PatternScene(
        name=f"{layout.capitalize()} {place + 1}", lasts=round(LASTS[layout] * pace, 1), layers=(layer,), leaves=leaves,
        **behind,
    )  # fmt: skip


def _scheme(chance: random.Random, brand: Brand) -> dict[str, str]:
    """One of the schemes in which the brand's words can still be read."""

    def reads(scheme: Mapping[str, str]) -> bool:
        grounds = (brand.colour(scheme.get(role, role)) for role in ("ground", "paper", "accent", "second"))
        return all(
            max(contrast_of(brand.colour("ink"), ground), contrast_of(brand.colour("dark"), ground)) >= READABLE
            for ground in grounds
        )

    return chance.choice([scheme for scheme in SCHEMES if reads(scheme)] or [{}])


def _rewritten(design: Design, key: str, manner: Mapping[str, Any]) -> Design:
    """A design of a family as a manner has it."""
    data = design.model_dump(mode="json")
    arrange = {shape: _box(box, manner) for shape, box in data["arrange"].items()}
    fields = {
        name: {**field, "sample": manner["scheme"].get(field["sample"], field["sample"])}
        if field["kind"] == "colour" else field
        for name, field in data["fields"].items()
    }  # fmt: skip
    return Design.model_validate({**data, "id": key[:40], "arrange": arrange, "fields": fields})


def _box(box: dict[str, Any], manner: Mapping[str, Any]) -> dict[str, Any]:
    made = dict(box)
    for name in ("colour", "second", "outline_colour", "cast_colour", "under_colour", "box"):
        made[name] = _role(made[name], manner["scheme"])
    if made["comes"] is not None:
        way = made["comes"]["way"]
        made["comes"] = {**made["comes"], "way": manner["motion"].get(way, way)}
    if made["kind"] == "words" and made["field"] == "title":
        made["case"] = manner["case"] if made["case"] == "typed" else made["case"]
        made["weight"] = manner["weight"]
    if made["pieces"] is not None and made["pieces"]["way"] != "count":
        made["pieces"] = {**made["pieces"], "way": manner["pieces"]}
    if _may_be_round(made):
        made["radius"] = manner["radius"]
    made["boxes"] = [_box(inner, manner) for inner in made["boxes"]]
    return made


def _may_be_round(box: Mapping[str, Any]) -> bool:
    """Whether its corners follow the manner: those of cards and pictures, not of grounds, lines, pills and circles."""
    extent = (box["width"], box["height"])
    thin = any(isinstance(side, float | int) and side < 0.06 for side in extent)
    plain = box["kind"] in ("plate", "picture") and not box["round"] and not box["whole"]
    return plain and not thin and "fill" not in extent and "hug" not in extent and box["radius"] < 0.4


def _role(colour: str, scheme: Mapping[str, str]) -> str:
    """A role, or what reads best on one, in another place; any other colour as it is."""
    if colour.startswith(ON):
        role = colour.removeprefix(ON)
        return f"{ON}{scheme.get(role, role)}"
    return scheme.get(colour, colour) if colour in COLOUR_ROLES else colour
