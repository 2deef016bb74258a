"""Templates: those that come with the program and the team's own; promos made from them and brought up to date.

The key of a template is the name of a shipped pattern, or the identifier of a team's own. A team's own is a promo with
slots whose row says so: it is edited, undone and kept like any other.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from functools import lru_cache
from itertools import count
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from glowreel.core.brand import Brand
from glowreel.core.commands import Context, FillSlot, SwitchBrand, apply
from glowreel.core.commands.base import Outcome
from glowreel.core.commands.remove import without_parts
from glowreel.core.commands.template import Renew
from glowreel.core.document import Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.formats import FIRST_CHOICE, shipped
from glowreel.core.fragment import Fragment, take
from glowreel.core.media import Media
from glowreel.core.template import CATEGORIES, Facts, Origin
from glowreel.core.template.build import Kit, build, own_brand
from glowreel.core.template.manner import MOST_SEED, PREFIX
from glowreel.core.template.manner import made as made_by_rule
from glowreel.core.time import ticks
from glowreel.core.timeline import timeline
from glowreel.designs import shipped as designs
from glowreel.services import promos, samples
from glowreel.services.access import Actor, allow, authorise
from glowreel.store.models import PromoRow, new_key, now
from glowreel.templates import patterns

LOGO_FILES = ("logo", "mark", "green")
"""What the names of samples have in them that are no pictures to fill a frame."""
HERO = frozenset({"offer", "product", "event", "episode", "team"})
MOST_HERO = 4
"""The categories, and how many pictures at most, of templates that are offered for a single picture."""
SHIPPED_VERSION = 1
"""Raised when shipped templates change, so that promos made from earlier ones can be brought up to date."""


@dataclass(frozen=True)
class Card:
    """A template as the gallery shows it. `row` is there for a team's own; `used_at` is when the team last used it."""

    key: str
    name: str
    facts: Facts
    length: int
    scenes: int
    formats: tuple[str, ...]
    hues: frozenset[str]
    head: int = 0
    row: PromoRow | None = None
    used_at: datetime | None = None


def cards(session: Session, actor: Actor) -> list[Card]:
    """Every template: the team's own and those used last first, then the others in the order of what they are for."""
    used = _used(session, actor)
    own = [_own(row, used.get(row.id)) for row in promos.list_promos(session, actor, "template") if not row.retired_at]
    others = [replace(_shipped(key), used_at=used.get(key)) for key in patterns()]
    order = list(CATEGORIES)

    def place(card: Card) -> tuple[object, ...]:
        last = -card.used_at.timestamp() if card.used_at is not None else 0.0
        return (last, card.row is None, order.index(card.facts.category), card.name)

    return sorted([*own, *others], key=place)


def _used(session: Session, actor: Actor) -> dict[str, datetime]:
    """When the team last made a promo from each template."""
    key = PromoRow.summary["origin"]["template"].astext
    query = select(key, func.max(PromoRow.created_at)).where(PromoRow.team_id == actor.team_id, key.is_not(None))
    return {str(name): last for name, last in session.execute(query.group_by(key))}


def _own(row: PromoRow, used: datetime | None) -> Card:
    told = row.summary
    facts = Facts.model_validate(told.get("facts") or {})
    formats = tuple(format["id"] for format in told["formats"])
    hues = frozenset(told.get("hues", ()))
    return Card(row.id, row.name, facts, told["length"], told["scenes"], formats, hues, row.head_id, row, used)


@lru_cache(maxsize=256)
def _shipped(key: str) -> Card:
    pattern = patterns()[key]
    length = sum(ticks(scene.lasts) for scene in pattern.scenes)
    hues = promos.hues_of(own_brand(pattern))
    return Card(
        key, pattern.name, pattern.facts, length, len(pattern.scenes), FIRST_CHOICE, hues, SHIPPED_VERSION
    )  # fmt: skip


@lru_cache(maxsize=128)
def _built(key: str, known: tuple[tuple[str, Media], ...]) -> Promo:
    numbers = count()
    kit = Kit(dict(known), designs(), lambda prefix: f"{prefix}-{key}-{next(numbers)}"[:64])
    pattern = patterns()[key]
    return build(pattern, tuple(shipped(f) for f in FIRST_CHOICE), own_brand(pattern), kit)


def _of_manner(session: Session, key: str, actor: Actor, brand: Brand | None) -> tuple[Card, Promo]:
    """A template made by rule from a seed, in a brand."""
    seed = key.removeprefix(PREFIX)
    if not (seed.isascii() and seed.isdigit() and len(seed) <= 10 and int(seed) < MOST_SEED):
        raise Missing("no-template", "There is no such template.", "Choose one from the gallery.")
    known = samples.by_name(session)
    shown = tuple(sorted(name for name, media in known.items() if media.pictured
                         and not any(part in name for part in LOGO_FILES)))  # fmt: skip
    songs = tuple(sorted(name for name, media in known.items() if media.kind == "sound"))
    pattern, own = made_by_rule(int(seed), brand or Brand(), designs(), shown, songs)
    numbers = count()
    kit = Kit(known, {**designs(), **own}, lambda prefix: f"{prefix}-{key}-{next(numbers)}"[:64])
    promo = build(pattern, tuple(shipped(f) for f in FIRST_CHOICE), brand or own_brand(pattern), kit)
    hues = promos.hues_of(promo.brand)
    card = Card(
        key, pattern.name, pattern.facts, timeline(promo).length, len(pattern.scenes), FIRST_CHOICE, hues,
        SHIPPED_VERSION,
    )  # fmt: skip
    return card, promo


def find(session: Session, key: str, actor: Actor, brand: Brand | None = None) -> tuple[Card, Promo]:
    """A template by its key, as its designer has it; `Missing` where there is none, or it is another team's. One that
    is made by rule is made for a brand."""
    if key.startswith(PREFIX):
        allow(actor, "see")
        return _of_manner(session, key, actor, brand)
    if key in patterns():
        allow(actor, "see")
        known = samples.by_name(session)
        needed = tuple((name, known[name]) for name in sorted(patterns()[key].samples) if name in known)
        return _shipped(key), _built(key, needed)
    row = authorise(session, PromoRow, key, actor, "see")
    _is_template(row)
    promo = promos.document(session, row)
    return _own(row, None), promo if promo.facts is not None else promo.changed(facts=Facts())


def _is_template(row: PromoRow) -> None:
    if row.kind != "template":
        raise Missing("no-template", "That is a promo, no template.", "Save it as a template first.")


def scenes(session: Session, actor: Actor, words: str = "") -> list[tuple[Card, list[tuple[str, str, int]]]]:
    """The scenes of every template whose name or purpose has these words: identifier, name and length in ticks."""
    found = []
    for card in cards(session, actor):
        said = f"{card.name} {card.facts.meaning} {CATEGORIES[card.facts.category]} {card.facts.family}".lower()
        if all(word in said for word in words.lower().split()):
            _, promo = find(session, card.key, actor)
            spans = timeline(promo).scene_span
            found.append((card, [(scene.id, scene.name, spans[scene.id].length) for scene in promo.scenes]))
    return found


def branded(session: Session, actor: Actor, promo: Promo, brand: Brand | None) -> Promo:
    """A template in a brand, with the logos that it has; as it is where there is no brand."""
    if brand is None:
        return promo
    context = Context(new_key, promos.team_media(session, actor, set(brand.files)))
    return SwitchBrand(brand=brand).carry_out(promo, context).promo


def fits_hero(card: Card, promo: Promo) -> bool:
    """Whether a template is one for a single picture: it shows few, and no person's words beside one."""
    return 1 <= sum(slot.kind == "picture" for slot in promo.slots) <= MOST_HERO and card.facts.category in HERO


def hero_of(session: Session, actor: Actor, media_id: str) -> Media:
    """A picture of the team that is tried on templates; `Missing` where it is not there."""
    found = promos.team_media(session, actor, {media_id}).get(media_id)
    if found is None or not found.pictured:
        raise Missing("no-media", "That picture is not on the Shelf any more.", "Bring it in again.")
    return found


def with_hero(promo: Promo, media: Media, cut: bool) -> Promo:
    """A template with one picture in every place for one, cut out or whole."""
    context = Context(lambda prefix: f"{prefix}-hero", {media.id: media})
    for slot in promo.slots:
        if slot.kind == "picture":
            try:
                promo = apply(promo, FillSlot(slot=slot.id, media=media.id, cut=cut), context).promo
            except Refusal:
                continue  # Footage that is too short for one place may fill the others.
    return promo


def start(
    session: Session, actor: Actor, key: str, *, name: str = "", formats: Sequence[str] = (),
    brand: Brand | None = None, scenes: Collection[str] | None = None, hero: str = "", cut: bool = False,
) -> PromoRow:  # fmt: skip
    """A new promo from a template: in these formats (its own by default), in a brand, with these of its scenes, and
    with one picture of the team in every place for one (`hero`), cut out or whole."""
    allow(actor, "fill")
    card, template = find(session, key, actor, brand)
    if card.row is not None and card.row.retired_at is not None:
        raise Refusal("retired", f"“{card.name}” is retired.", "Bring it back first, or choose another one.")
    made = branded(session, actor, template, brand)
    if formats:
        kept = {format.id: format for format in template.formats}
        made = made.changed(formats=tuple(kept.get(f) or shipped(f) for f in dict.fromkeys(formats)))
    made = _with_scenes(made, scenes)
    if hero:
        made = with_hero(made, hero_of(session, actor, hero), cut)
    origin = origin_of(card, template)
    title = " ".join(name.split())[:120] or card.name
    made = made.changed(id=new_key("p"), name=title, origin=origin)
    return promos.adopt(session, actor, made, f"Started from the template “{card.name}”")


def origin_of(card: Card, template: Promo) -> Origin:
    """Where a promo comes from that is made of a template."""
    scenes = {scene.id: scene.id for scene in template.scenes}
    return Origin(template=card.key, version=card.head, name=card.name, scenes=scenes)


def _with_scenes(promo: Promo, scenes: Collection[str] | None) -> Promo:
    """The promo with only these of its scenes."""
    gone = [clip.id for scene in promo.scenes if scenes and scene.id not in scenes for clip in scene.clips]
    if not gone:
        return promo
    if len(gone) == len(promo.clips):
        raise Refusal("no-scene", "Choose at least one scene.")
    if promo.facts is not None and promo.facts.rule == "exact":
        raise Refusal("exact", "This template has an exact length: all of its scenes belong to it.", "Take all of it.")
    return without_parts(promo, gone).promo


def save(
    session: Session, actor: Actor, promo_id: str, name: str, facts: Facts, scenes: Collection[str] | None = None
) -> PromoRow:
    """Keeps a promo as it is, or some of its scenes, as a template of the team. What was filled in becomes the
    sample."""
    allow(actor, "make")
    row = authorise(session, PromoRow, promo_id, actor, "see")
    promo = promos.document(session, row)
    if not promo.scenes:
        raise Refusal("empty", "There is nothing in this promo yet.", "Put something on the main track first.")
    plain = promo.changed(facts=None, origin=None)
    made = _with_scenes(plain, scenes)
    if facts.rule == "exact":
        facts = facts.changed(length=timeline(made).length)
    slots = tuple(slot.changed(filled=False) for slot in made.slots)
    title = " ".join(name.split())[:120] or row.name
    made = made.changed(id=new_key("p"), name=title, facts=facts, slots=slots)
    return promos.adopt(session, actor, made, f"Saved from “{row.name}” as a template", "template")


def copied(session: Session, actor: Actor, card: Card, promo: Promo) -> PromoRow:
    """A copy of a template as one of the team's own, which can be changed."""
    allow(actor, "make")
    name = card.name if card.row is None else f"{card.name[:110]} (copy)"
    made = promo.changed(id=new_key("p"), name=name, origin=None)
    return promos.adopt(session, actor, made, f"Copied from the template “{card.name}”", "template")


def piece(session: Session, actor: Actor, key: str, scene: str) -> Fragment:
    """A scene of a template by itself, for pasting into a promo."""
    _, promo = find(session, key, actor)
    return take(promo, set(), scene)


def retire(session: Session, key: str, actor: Actor, *, back: bool = False) -> PromoRow:
    """Takes a team's template out of the gallery, or brings it back. Promos made from it keep what they have."""
    row = authorise(session, PromoRow, key, actor, "remove", lock=True)
    _is_template(row)
    row.retired_at = None if back else now()
    return row


def retired(session: Session, actor: Actor) -> list[PromoRow]:
    return [row for row in promos.list_promos(session, actor, "template") if row.retired_at is not None]


def version_of(session: Session, origin: dict[str, Any]) -> int:
    """The newest state of the template that a promo came from; that which it has, where the template is gone."""
    if origin["template"] in patterns() or origin["template"].startswith(PREFIX):
        return SHIPPED_VERSION
    row = session.get(PromoRow, origin["template"])
    return row.head_id if row is not None and row.removed_at is None else int(origin["version"])


def behind(session: Session, rows: Iterable[PromoRow]) -> set[str]:
    """The promos among these whose template has a newer state."""
    told = [(row.id, row.summary.get("origin")) for row in rows]
    return {key for key, origin in told if origin and version_of(session, origin) > origin["version"]}


def renew(session: Session, promo_id: str, actor: Actor) -> tuple[promos.Opened, Outcome]:
    """Brings a promo to the newest state of its template, filled as it is."""
    promo = promos.open_promo(session, promo_id, actor).promo
    if promo.origin is None:
        raise Refusal("no-template", "This promo was not made from a template.")
    card, template = find(session, promo.origin.template, actor, promo.brand)
    return promos.edit(session, promo_id, actor, Renew(template=template, version=card.head))
