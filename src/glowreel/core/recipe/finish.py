"""What is done to a part after it is drawn: its colour and effects, what it is seen through, and what goes along its
edge.

```
drawn ── colour ── effects ── masks ── border, shadow, glow, reflection ── turned, blended, laid over
```
Most parts say nothing of it and stay as they are drawn.
"""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Any

from glowreel.core.content.pictures import filling, source_frame
from glowreel.core.content.seen import Seen
from glowreel.core.effects import EFFECTS
from glowreel.core.formats import CANON
from glowreel.core.layout import Box
from glowreel.core.looks import LOOKS
from glowreel.core.properties import PROPERTIES
from glowreel.core.recipe.model import Applied, Composite, DrawPicture, Mask, Op
from glowreel.core.shapes import SHAPES
from glowreel.core.time import ticks

if TYPE_CHECKING:
    from glowreel.core.document import Effect

GRADING = (
    "exposure", "contrast", "highlights", "shades", "whites", "blacks", "saturation", "vibrance", "warmth", "tint",
    "fade",
)  # fmt: skip
"""What changes tone and colour of each pixel by itself; done in one step, with the look and the curve of all."""
CURVES = ("curve_red", "curve_green", "curve_blue")
_COLOUR = frozenset(row.name for row in PROPERTIES.values() if row.group == "colour")
_CUT = frozenset({"cutout"})
_MASK = frozenset({"mask", "corner"})
_EDGE = frozenset({"border", "drop", "glow", "reflection"})
_TINT = frozenset({"one_colour"})
_ALL = _COLOUR | _CUT | _MASK | _EDGE | _TINT
FEATHER = 0.1 * CANON
"""The widest feather, as the deviation of its Gaussian."""


def said(seen: Seen) -> frozenset[str]:
    """The names of what a part says of itself in its format, besides what the table says."""
    own = seen.part.values_in.get(seen.format.id)
    return frozenset(seen.part.values) | frozenset(own or ())


def finished(seen: Seen, ops: tuple[Op, ...], box: Box) -> tuple[Op, ...]:
    """The operations with everything done to them that the part says; `box` is where they lie."""
    names = said(seen) & _ALL
    applied = [*_keyed(seen, names), *_colour(seen, names & _COLOUR), *_tint(seen, names)]
    for effect in seen.part.effects:
        done = _applied(seen, effect)
        if EFFECTS[effect.kind].earlier:
            ops = _with_echoes(seen, ops, done)
        else:
            applied.append(done)
    masks = _masks(seen, box) if names & _MASK else ()
    if applied or masks:
        ops = (Composite(ops, effects=tuple(applied), masks=masks, region=box),)
    edges = _edges(seen) if names & _EDGE else ()
    return (Composite(ops, effects=edges, region=box),) if edges else ops


def adjusted(seen: Seen, ops: list[Op]) -> list[Op]:
    """What lies behind an adjustment, with all of that done to it; where it is seen only in part, or through a shape,
    over what it was."""
    names, box = said(seen) & _ALL, Box(0, 0, *seen.format.canon)
    kinds = [effect for effect in seen.part.effects if not EFFECTS[effect.kind].earlier]
    applied = (*_colour(seen, names & _COLOUR), *(_applied(seen, effect) for effect in kinds))
    opacity = round(seen("opacity"), 6)
    if not applied or not ops or opacity <= 0:
        return ops
    masks = _masks(seen, box) if names & _MASK else ()
    done = Composite(tuple(ops), opacity, effects=applied, masks=masks, region=box)
    return [done] if opacity >= 1 and not masks else [*ops, done]


def _applied(seen: Seen, effect: Effect) -> Applied:
    """An effect with its parameters as they are at the moment, roles filled in."""
    kind = EFFECTS[effect.kind]
    values = tuple(
        (row.name, seen.brand.colour(value) if row.kind == "colour" else value)
        for row in kind.parameters
        for value in (effect.read(row.name, seen.moment),)
    )
    return Applied(effect.kind, (*values, ("at", seen.moment)) if kind.timed else values)


def _with_echoes(seen: Seen, ops: tuple[Op, ...], applied: Applied) -> tuple[Op, ...]:
    """What it was a moment before and before that, fading, behind what it is."""
    values, trail = dict(applied.values), []
    for n in range(values["count"], 0, -1):
        moment = seen.moment - ticks(values["apart"]) * n
        earlier = seen.part.content.draws(replace(seen, moment=moment)) if moment >= seen.part.into else None
        if earlier is not None:
            trail.append(Composite(earlier.ops, opacity=round(values["amount"] * 0.7 ** (n - 1), 6)))
    # Where it fills the frame, what was before is seen only through what is.
    over = 1 - values["amount"] / 2 if _opaque(ops) else 1.0
    return (*trail, Composite(ops, opacity=round(over, 6))) if trail else ops


def _opaque(ops: tuple[Op, ...]) -> bool:
    return len(ops) == 1 and isinstance(ops[0], DrawPicture) and ops[0].opaque


def _keyed(seen: Seen, names: frozenset[str]) -> tuple[Applied, ...]:
    """A colour taken out of it, before anything else."""
    if "cutout" not in names or seen("cutout") != "colour":
        return ()
    values = (
        ("colour", seen.colour("key_colour")), ("tolerance", seen("key_tolerance")), ("soft", seen("key_soft")),
        ("spill", seen("key_spill")),
    )  # fmt: skip
    grow = (("grow", round(seen("cut_grow"), 6)),) if seen("cut_grow") else ()
    return (Applied("key", (*values, *grow)),)


def _tint(seen: Seen, names: frozenset[str]) -> tuple[Applied, ...]:
    """All of a picture in one colour, where that is wanted; stickers are drawn so from the beginning."""
    if "one_colour" not in names or "tinted" not in seen.part.content.traits or not seen.colour("one_colour"):
        return ()
    return (Applied("one-colour", (("colour", seen.colour("one_colour")),)),)


def _colour(seen: Seen, names: frozenset[str]) -> tuple[Applied, ...]:
    """Its own tone and colour, then its look, then what makes it crisp or soft."""
    if not names:
        return ()
    applied: list[Applied] = []
    own: list[tuple[str, Any]] = [(name, value) for name in GRADING if name in names and (value := seen(name))]
    curve = seen("curve_all")
    if curve:
        own.append(("curve", curve))
    if own:
        applied.append(Applied("grade", tuple(own)))
    channels = tuple((name, seen(name)) for name in CURVES if name in names and seen(name))
    if channels:
        applied.append(Applied("channels", channels))
    applied += _look(seen("filter"), seen("filter_strength")) or _table(seen)
    for name in ("clarity", "sharpen", "soften", "grain", "vignette"):
        if name in names and seen(name):
            more = (("at", seen.moment),) if name == "grain" else ()
            applied.append(Applied(name, (("amount", seen(name)), *more)))
    if "wash" in names and seen("wash"):
        applied.append(Applied("wash", (("amount", seen("wash")), ("side", seen("wash_from")))))
    return tuple(applied)


def _table(seen: Seen) -> tuple[Applied, ...]:
    """A look from a file; none where no file was chosen yet."""
    source = seen.part.fills.get("filter") if seen("filter") == "file" else None
    media = seen.promo.media.get(source.media) if source is not None else None
    if media is None or media.kind != "look" or seen("filter_strength") <= 0:
        return ()
    return (Applied("cube", (("source", media.hash), ("amount", round(seen("filter_strength"), 6)))),)


def _look(name: str, strength: float) -> tuple[Applied, ...]:
    """A look at a strength: the same settings as those of a picture, and its tints."""
    look = LOOKS.get(name)
    if look is None or strength <= 0:
        return ()
    values: list[tuple[str, Any]] = [(key, round(value * strength, 6)) for key, value in look.settings.items()]
    for key, tint in (("dark", look.dark), ("light", look.light)):
        if any(tint):
            values.append((key, (round(tint[0] * strength, 6), round(tint[1] * strength, 6))))
    return (Applied("grade", tuple(values)),)


def _masks(seen: Seen, box: Box) -> tuple[Mask, ...]:
    """The shape it is seen through, and its own round corners."""
    masks: list[Mask] = []
    shorter = min(box.width, box.height)
    if seen("corner"):
        masks.append(Mask(box, radius=round(seen("corner") * shorter / 2, 6)))
    shape = seen("mask")
    if shape != "none":
        wide, high = (size * shorter for size in seen("mask_size"))
        across, down = (part * shorter for part in seen("mask_place"))
        middle = box.x + box.width / 2 + across, box.y + box.height / 2 + down
        lies = Box(*(round(v, 6) for v in (middle[0] - wide / 2, middle[1] - high / 2, wide, high)))
        more: dict[str, Any] = {
            "turn": seen("mask_turn"), "feather": round(seen("mask_feather") * FEATHER, 6),
            "inverted": seen("mask_inverted"),
        }  # fmt: skip
        if shape == "picture":
            picture = filled_picture(seen, "mask", lies)
            # A picture that has not been chosen yet masks nothing.
            if picture is not None:
                masks.append(Mask(lies, picture=picture, by=seen("mask_by"), **more))
        elif shape == "rectangle":
            masks.append(Mask(lies, radius=round(seen("mask_corner") * min(wide, high) / 2, 6), **more))
        else:
            path = seen("mask_path") if shape == "path" else SHAPES[shape].outline(
                seen("mask_points"), seen("mask_depth")
            )  # fmt: skip
            masks.append(Mask(lies, path=path, **more))
    return tuple(masks)


def filled_picture(seen: Seen, name: str, rect: Box) -> DrawPicture | None:
    """A picture that a part holds besides its own, covering a rectangle; None where it is not chosen."""
    source = seen.part.fills.get(name)
    media = seen.promo.media.get(source.media) if source is not None else None
    if source is None or media is None or not media.pictured:
        return None
    box = filling(media, source, rect, seen.moment)
    return DrawPicture(media.hash, media.still, source_frame(media, source, seen.moment), box, not media.alpha)


def _edges(seen: Seen) -> tuple[Applied, ...]:
    """What goes along its edge; the border first, so that shadow, glow and reflection have it too."""
    applied = []
    values: tuple[tuple[str, Any], ...]
    if seen("border"):
        values = (("width", round(seen("border") * CANON, 6)), ("colour", seen.colour("border_colour")))
        applied.append(Applied("border", values))
    if seen("reflection"):
        applied.append(Applied("reflection", (("amount", seen("reflection")),)))
    if seen("glow"):
        values = (("amount", seen("glow")), ("soft", round(seen("glow_size") * CANON / 2, 6)),
                  ("colour", seen.colour("glow_colour")))  # fmt: skip
        applied.append(Applied("glow", values))
    if seen("drop"):
        values = (
            ("amount", seen("drop")), ("soft", round(seen("drop_soft") * CANON, 6)),
            ("away", round(seen("drop_away") * CANON, 6)), ("angle", seen("drop_angle")),
            ("colour", seen.colour("drop_colour")),
        )  # fmt: skip
        applied.append(Applied("drop", values))
    return tuple(applied)
