"""Pictures made from words by a maker outside: some are offered, what is wanted comes on the Shelf, marked as made by a
machine."""

from __future__ import annotations

import re

import orjson
from sqlalchemy.orm import Session

from glowreel.core.errors import Refusal
from glowreel.core.roles import COLOUR_ROLES
from glowreel.outside.fetching import Fetched
from glowreel.outside.maker.port import SHAPES, STYLES, Maker, Proposals, Wish
from glowreel.services import brands, by_link, promos
from glowreel.services.access import Actor, allow
from glowreel.services.setup import Runtime
from glowreel.services.sources import Origin
from glowreel.store.database import Unit
from glowreel.store.models import Upload

MOST_COLOURS = 6


def check(wish: Wish) -> Wish:
    """The wish, if something can be made of it. Raises `Refusal` with a sentence."""
    if not wish.words.strip():
        raise Refusal("no-words", "Nothing is asked for.", "Say what the picture is to show.")
    if wish.style not in STYLES or wish.shape not in SHAPES:
        raise Refusal("no-style", "There is no such manner or shape.", "Choose one of those offered.")
    return wish


def propose(runtime: Runtime, actor: Actor, wish: Wish) -> Proposals:
    """Some pictures for a wish, by their seeds."""
    allow(actor, "add")
    return Maker(runtime.settings.maker).propose(check(wish))


def small(runtime: Runtime, wish: Wish) -> Fetched:
    return Maker(runtime.settings.maker).small(check(wish))


def take(unit: Unit, actor: Actor, wish: Wish, promo_id: str | None = None) -> Upload:
    """Has the picture of a wish brought on to the Shelf."""
    check(wish)
    said = re.sub(r"[^\w\s-]", "", wish.words).strip()[:60] or "Picture"
    told = orjson.dumps(wish.model_dump()).decode()
    origin = Origin(source="maker", id=told[:400], title=f"{said}, seed {wish.seed}", machine=True)
    return by_link.begin(unit, actor, f"maker:{told}", f"{said} {wish.seed}.png", promo_id, origin)


def colours(session: Session, actor: Actor, promo_id: str = "") -> tuple[str, ...]:
    """The colours of a promo's brand, or of the team's own, in order."""
    brand = promos.open_promo(session, promo_id, actor).promo.brand if promo_id else brands.usual(session, actor)
    if brand is None:
        return ()
    return tuple(dict.fromkeys(brand.colour(role) for role in COLOUR_ROLES))[:MOST_COLOURS]
