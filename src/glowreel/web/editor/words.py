"""What the page needs to let words be edited on the stage: their text and manner as they are set, roles filled in."""

from __future__ import annotations

from typing import Any

from flask import url_for

from glowreel.core.document import Item, Promo
from glowreel.core.errors import Refusal
from glowreel.core.formats import CANON, Format
from glowreel.core.recipe.picture import words_op
from glowreel.core.roles import COLOUR_ROLES, FONT_ROLES
from glowreel.core.timeline import timeline
from glowreel.engine.type.faces import face
from glowreel.engine.typesetting import measure

PLAIN = ("text", "runs", "case", "align", "line", "spacing", "weight", "italic", "outline", "box_of")


def laid_out(promo: Promo, format: Format, item: Item, time: int) -> dict[str, Any]:
    """Words as they are at a time of the promo; lengths in fractions of the frame's short side."""
    span = timeline(promo).item_span(item)
    moment = item.into + min(max(0, time - span.start), max(0, span.length - 1))
    op = words_op(promo, format, item, measure, moment) if "words" in item.content.traits else None
    if op is None:
        raise Refusal("no-words", "These are no words.", "Select some words first.")
    read = {name: item.read(name, format.id, moment) for name in PLAIN}
    words = op.words
    return {
        **read,
        "font": words.font, "colour": words.colour, "box": words.box, "box_opacity": words.box_opacity,
        "pad": words.pad, "round": words.round, "outline_colour": words.outline_colour, "shadow": words.shadow,
        "arc": words.arc, "size": op.size / CANON, "wrap": op.wrap / CANON,
        "turn": item.read("turn", format.id, moment), "suits": item.read("suits", format.id, moment),
        "lies": [round(edge / CANON, 5) for edge in (op.box.x, op.box.y, op.box.width, op.box.height)],
        "colours": [(role, promo.brand.colour(role)) for role in COLOUR_ROLES],
        "fonts": {role: promo.brand.font(role) for role in FONT_ROLES}
        | {family: promo.brand.font(family) for family in promo.brand.families},
        "own": {promo.brand.font(family): own_faces(promo, family) for family in promo.brand.families},
    }  # fmt: skip


def own_faces(promo: Promo, family: str) -> dict[str, Any]:
    """A family of the brand's own as the page knows families: its faces with their addresses, and how far its letters
    reach above and below the line."""
    faces = [one for one in promo.brand.faces if one.family == family]
    return {
        "rise": face(promo.brand.font(family), 400, False).rise,
        "faces": [
            [one.weight, one.italic, url_for("preview.own_font", promo_id=promo.id, source=one.hash)] for one in faces
        ],
    }
