"""What lies behind a picture that does not cover the frame: what its clip says, or its scene, or the promo."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from glowreel.core.content import Seen
from glowreel.core.content.pictures import shown_whole
from glowreel.core.formats import CANON
from glowreel.core.layout import Box, cropped
from glowreel.core.patterns import PATTERNS
from glowreel.core.properties import PROPERTIES
from glowreel.core.recipe.finish import filled_picture
from glowreel.core.recipe.model import Composite, DrawGradient, DrawPattern, DrawPicture, Fill, Op

WIDEST = 0.1 * CANON
"""The deviation of the widest blur."""
SMALLEST, LARGEST = 0.04 * CANON, 0.5 * CANON
"""How wide a tile of a pattern is at least and at most."""
BY_RULE = {"ground": "blurred"}
"""What lies behind a picture that is shown whole by rule, if nobody said otherwise."""
Read = Callable[[str], Any]


def ground_ops(seen: Seen) -> list[Op]:
    """The operations of a clip's ground; none where only the promo's background lies behind it."""
    read = _reader(seen)
    if read is None:
        return []
    return GROUNDS[read("ground")](seen, read)


def _reader(seen: Seen) -> Read | None:
    """Reads the properties of the ground from whoever says what it is."""
    if "ground" not in PROPERTIES or not PROPERTIES["ground"].of & seen.part.content.traits:
        return None
    if seen("ground") != "inherit":
        return lambda name: seen.colour(name) if PROPERTIES[name].kind == "colour" else seen(name)
    for values in (seen.promo.scene_values(seen.part.id), seen.promo.values):
        if values.get("ground", "inherit") != "inherit":
            return lambda name, values=values: _constant(seen, values, name)  # type: ignore[misc]
    if "framed" in seen.part.content.traits and shown_whole(seen):
        return lambda name: _constant(seen, BY_RULE, name)
    return None


def _constant(seen: Seen, values: dict[str, Any], name: str) -> Any:
    row = PROPERTIES[name]
    value = values.get(name, row.default)
    return seen.brand.colour(value) if row.kind == "colour" else value


def _colour(seen: Seen, read: Read) -> list[Op]:
    return [Fill(read("ground_colour"))]


def _gradient(seen: Seen, read: Read) -> list[Op]:
    return [DrawGradient((read("ground_colour"), read("ground_second")), read("ground_angle"))]


def _blurred(seen: Seen, read: Read) -> list[Op]:
    """An enlarged copy of its own picture, that covers the frame, blurred and dimmed."""
    drawn = seen.part.content.draws(seen)
    own = _first_picture(drawn.ops) if drawn is not None else None
    if own is None:
        return []
    frame = Box(0, 0, *seen.format.canon)
    copy = replace(own, box=cropped(frame, round(own.box.width), round(own.box.height)), turn=0.0, opacity=1.0)
    soft = Composite((copy,), blur=round(read("ground_blur") * WIDEST, 6), framed=True)
    return [soft, *_dimmed(read)]


def _first_picture(ops: tuple[Op, ...]) -> DrawPicture | None:
    """The picture that is drawn first: of a collage, that of its first cell with one."""
    for op in ops:
        found = op if isinstance(op, DrawPicture) else _first_picture(op.ops) if isinstance(op, Composite) else None
        if found is not None:
            return found
    return None


def _dimmed(read: Read) -> list[Op]:
    return [Fill("#000000", read("ground_dim"))] if read("ground_dim") else []


def _pattern(seen: Seen, read: Read) -> list[Op]:
    pattern = PATTERNS[read("ground_pattern")]
    tile = round(SMALLEST * (LARGEST / SMALLEST) ** read("ground_scale"), 4)
    drawn = DrawPattern(
        pattern.path, pattern.width, pattern.ratio, tile, read("ground_angle") - 90.0, read("ground_second")
    )
    return [Fill(read("ground_colour")), drawn]


def _picture(seen: Seen, read: Read) -> list[Op]:
    found = filled_picture(seen, "ground", Box(0, 0, *seen.format.canon))
    return [Fill(read("ground_colour")), *((found,) if found is not None else ()), *_dimmed(read)]


GROUNDS: dict[str, Callable[[Seen, Read], list[Op]]] = {
    "colour": _colour, "gradient": _gradient, "blurred": _blurred, "pattern": _pattern, "picture": _picture,
}  # fmt: skip
"""What each choice of a ground draws."""
