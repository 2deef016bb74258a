"""A script as a template: a scene for each line, in a family of designs, its key phrase large."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from glowreel.core.design import Design
from glowreel.core.script.lines import LINK, PRICE, ScriptLine
from glowreel.core.template.facts import Facts
from glowreel.core.template.pattern import Pattern, PatternLayer, PatternScene

LAYOUTS: dict[str, tuple[str, ...]] = {
    "hook": ("opening",), "point": ("point", "opening"), "proof": ("quote", "point"), "offer": ("offer", "point"),
    "call": ("close",),
}  # fmt: skip
"""Which scenes of a family suit what a line is for, the best first."""
LEAST, AFTER = 1.8, 0.45
"""Seconds that a scene is on show at least, and how long after its line has been said."""
READ_A_SECOND = 15.0
"""Letters that are read in a second, where nobody speaks."""
LEAVES = ("push-left", "crossfade", "wipe-left", "push-up")
GROUNDS = ("ground", "accent", "paper", "second")


def seconds_of(line: ScriptLine, spoken: float = 0.0) -> float:
    """How long the scene of a line is on show: as long as it is said, or takes to be read."""
    lasts = spoken or max(line.seconds if not spoken else 0.0, len(line.text) / READ_A_SECOND)
    return round(max(LEAST, lasts + AFTER), 2)


def planned(
    lines: Sequence[ScriptLine], family: str, designs: Mapping[str, Design], shown: Sequence[str],
    spoken: Sequence[float] = (), link: str = "",
) -> Pattern:  # fmt: skip
    """The pattern of a script: for each line the name of the picture that is `shown` (empty for none), and how long it
    takes to be spoken, where that is known."""
    scenes = []
    for place, line in enumerate(lines):
        design = _design(family, line.role, designs)
        picture = shown[place] if place < len(shown) else ""
        says = {name: said for name, said in _says(line, place, link).items() if name in design.fields}
        places = [name for name, field in design.fields.items() if field.kind == "picture" and name != "logo"]
        layer = PatternLayer(
            design=design.id, says=says, shows={places[0]: picture} if places and picture else {},
            free=tuple(name for name in ("kicker", "note", "name", "body", "link", "logo") if name in design.fields),
        )  # fmt: skip
        # A family that has no place for a picture lies over it.
        behind = picture if picture and not places else ""
        last = place == len(lines) - 1
        scenes.append(PatternScene(
            name=f"{line.role.capitalize()} {place + 1}", picture=behind, ground=GROUNDS[place % 2 * 2],
            lasts=seconds_of(line, spoken[place] if place < len(spoken) else 0.0), layers=(layer,),
            leaves=None if last else LEAVES[place % len(LEAVES)], over=0.4,
        ))  # fmt: skip
    facts = Facts(meaning="made from a script", category="story", family=family, author="Glow Reel")
    return Pattern(id="from-script", name="From a script", facts=facts, scenes=tuple(scenes))


def _design(family: str, role: str, designs: Mapping[str, Design]) -> Design:
    for layout in (*LAYOUTS[role], "opening"):
        if f"{family}-{layout}" in designs:
            return designs[f"{family}-{layout}"]
    raise KeyError(family)


def _says(line: ScriptLine, place: int, link: str) -> dict[str, str]:
    price, address = PRICE.search(line.text), LINK.search(line.text)
    return {
        "kicker": "", "title": line.key[:60], "body": line.text[:100] if line.key != line.text.rstrip(".") else "",
        "quote": line.text.strip("“”\"")[:110], "name": "", "price": price.group(0) if price else "", "note": "",
        "link": address.group(0) if address else link[:50],
    }  # fmt: skip


def families(designs: Mapping[str, Design]) -> list[str]:
    """The families in which a script can be set."""
    ends = (
        key.removesuffix("-close") for key, one in designs.items() if one.group == "scene" and key.endswith("-close")
    )
    return sorted(family for family in ends if f"{family}-opening" in designs)
