"""Brands of a team: made, changed and undone, given to promos, brought up to date in them."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from contextlib import suppress
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from glowreel.core.brand import Book, Brand, Face, upgraded
from glowreel.core.commands import SwitchBrand
from glowreel.core.document import Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.media import Media
from glowreel.services import promos, templates
from glowreel.services.access import Actor, allow, authorise, listed
from glowreel.store.models import BrandRow, PromoRow, new_key, now

FACTS = {"name", "origin", "version"}
"""What a brand's row says of itself beside its book."""
MOST, STEPS = 40, 30
"""Brands of a team, and steps of one that can be undone."""


def list_brands(session: Session, actor: Actor) -> list[BrandRow]:
    """The team's brands: the usual one first, then by name."""
    query = select(BrandRow).where(listed(BrandRow, actor), BrandRow.removed_at.is_(None))
    return list(session.scalars(query.order_by(BrandRow.usual.desc(), func.lower(BrandRow.name), BrandRow.id)))


def find(session: Session, brand_id: str, actor: Actor) -> BrandRow:
    return authorise(session, BrandRow, brand_id, actor, "see")


def book_of(row: BrandRow) -> Book:
    """All that the team's book holds of a brand."""
    return Book.model_validate({**upgraded(row.book), "name": row.name, "origin": row.id, "version": row.version})


def snapshot(row: BrandRow) -> Brand:
    """A brand as a promo holds it."""
    return Brand.model_validate(book_of(row).model_dump(include=set(Brand.model_fields)))


def usual(session: Session, actor: Actor) -> Brand | None:
    """The brand that new promos have; None where the team has none."""
    rows = list_brands(session, actor)
    return snapshot(rows[0]) if rows and rows[0].usual else None


def add(session: Session, actor: Actor, name: str, book: Mapping[str, Any] | None = None) -> BrandRow:
    """A new brand; the first one of a team is the usual one."""
    allow(actor, "make")
    rows = list_brands(session, actor)
    if len(rows) >= MOST:
        raise Refusal("too-many", f"A team has at most {MOST} brands.", "Remove one first.")
    row = BrandRow(
        id=new_key("b"), team_id=actor.team_id, user_id=actor.user_id,
        name=" ".join(name.split())[:80] or "New brand", book=dict(book or {}),
        past=[], version=1, usual=not rows,
    )  # fmt: skip
    session.add(row)
    session.flush()
    return row


def change(session: Session, brand_id: str, actor: Actor, **changes: Any) -> BrandRow:
    """Changes what a brand is called (`name`) or holds; what was before can be brought back. Raises `Refusal` with a
    sentence for what cannot be."""
    row = authorise(session, BrandRow, brand_id, actor, "edit", lock=True)
    before = {"name": row.name, "book": row.book}
    name = " ".join(str(changes.pop("name", row.name)).split())[:80] or row.name
    try:
        checked = Book.model_validate({**upgraded(row.book), **changes, "name": name})
    except ValidationError as error:
        said = error.errors(include_url=False, include_context=False)[0]["msg"].removeprefix("Value error, ")
        raise Refusal("bad-value", f"That cannot be: {said}.", "Enter another value.") from error
    _allowed(session, actor, checked, upgraded(row.book))
    book = checked.model_dump(mode="json", exclude=FACTS)
    if (name, book) != (row.name, Book.model_validate(upgraded(row.book)).model_dump(mode="json", exclude=FACTS)):
        row.past = [*row.past, before][-STEPS:]
        row.name, row.book, row.version = name, book, row.version + 1
    return row


def _allowed(session: Session, actor: Actor, book: Book, before: Mapping[str, Any]) -> None:
    """Refuses what comes into a brand and is not the team's, or is of the wrong kind. What was there stays, even where
    its file is off the Shelf by now."""
    held = {*(before.get("logos") or {}).values(), *(before.get("material") or ()),
            *(face["media"] for face in before.get("faces") or ())}  # fmt: skip
    known = promos.team_media(session, actor, {*book.files, *book.material} - held)
    for key in {*book.files, *book.material} - held:
        if key not in known:
            raise Missing("no-media", "That file is not on the Shelf any more.", "Add it again, then try once more.")
    for key in set(book.logos.values()) & known.keys():
        if not known[key].still:
            raise Refusal("no-picture", f"{known[key].name} is no picture that stands still.", "Choose a picture.")
    for face in book.faces:
        if face.media in known and face != face_of(known[face.media]):
            raise Refusal("no-font", f"{known[face.media].name} is no font.", "Bring in a TTF, OTF, WOFF or WOFF2.")


def face_of(media: Media) -> Face:
    """A file of letters as a brand holds it. Raises `Refusal` for any other file."""
    if media.kind != "font":
        raise Refusal("no-font", f"{media.name} is no font.", "Bring in a TTF, OTF, WOFF or WOFF2.")
    return Face(media=media.id, hash=media.hash, family=media.family, weight=media.weight, italic=media.italic)


def add_face(session: Session, brand_id: str, actor: Actor, media_id: str) -> BrandRow:
    """Takes a file of letters into a brand; one of the same family, weight and manner takes the place of that."""
    media = promos.team_media(session, actor, {media_id})
    if media_id not in media:
        raise Missing("no-media", "That file is not on the Shelf any more.", "Add it again, then try once more.")
    made, old = face_of(media[media_id]), book_of(find(session, brand_id, actor)).faces
    kept = [face for face in old if (face.family, face.weight, face.italic) != (made.family, made.weight, made.italic)]
    return change(session, brand_id, actor, faces=[*kept, made])


def undo(session: Session, brand_id: str, actor: Actor) -> BrandRow:
    """The brand as it was before its last change: a new state of it."""
    row = authorise(session, BrandRow, brand_id, actor, "edit", lock=True)
    if not row.past:
        raise Refusal("nothing", "There is nothing to undo.")
    *rest, last = row.past
    row.name, row.book, row.past, row.version = last["name"], last["book"], rest, row.version + 1
    return row


def duplicate(session: Session, brand_id: str, actor: Actor) -> BrandRow:
    row = find(session, brand_id, actor)
    return add(session, actor, f"{row.name[:70]} (copy)", row.book)


def make_usual(session: Session, brand_id: str, actor: Actor) -> BrandRow:
    """Lets new promos have this brand."""
    row = authorise(session, BrandRow, brand_id, actor, "edit", lock=True)
    for other in list_brands(session, actor):
        other.usual = other.id == row.id
    return row


def remove(session: Session, brand_id: str, actor: Actor) -> BrandRow:
    """Takes a brand out of the book; promos keep what they have of it. `restore` brings it back."""
    row = authorise(session, BrandRow, brand_id, actor, "remove", lock=True)
    row.removed_at, row.usual = now(), False
    return row


def restore(session: Session, brand_id: str, actor: Actor) -> BrandRow:
    row = authorise(session, BrandRow, brand_id, actor, "remove", lock=True, removed=True)
    row.removed_at = None
    return row


@dataclass(frozen=True)
class Use:
    """A promo or template that has a brand, and whether it holds an earlier state of it."""

    row: PromoRow
    promo: Promo
    behind: bool


def uses(session: Session, brand_id: str, actor: Actor) -> list[Use]:
    """The promos and templates that have a brand, those that are behind first."""
    brand = find(session, brand_id, actor)
    rows = [row for kind in ("promo", "template") for row in promos.list_promos(session, actor, kind)]
    found = [(row, promos.document(session, row)) for row in rows]
    mine = [Use(row, promo, promo.brand.version < brand.version) for row, promo in found
            if promo.brand.origin == brand.id]  # fmt: skip
    return sorted(mine, key=lambda use: not use.behind)


def _mine(session: Session, actor: Actor, brand_id: str | None) -> BrandRow | None:
    """The team's brand that a promo's came from, as long as it is in the book."""
    row = session.get(BrandRow, brand_id) if brand_id else None
    return row if row is not None and row.team_id == actor.team_id and row.removed_at is None else None


def material_of(session: Session, actor: Actor, brand: Brand) -> list[str]:
    """The files of a promo's brand, by identifier: its material in order, then its logos."""
    row = _mine(session, actor, brand.origin)
    material = book_of(row).material if row is not None else ()
    return list(dict.fromkeys((*material, *brand.logos.values())))


def scenes_of_brand(
    session: Session, actor: Actor, brand_id: str | None
) -> list[tuple[str, templates.Card, int, str, str]]:
    """The scenes that a brand opens and ends with."""
    row = _mine(session, actor, brand_id)
    if row is None:
        return []
    book, found = book_of(row), []
    for place, named in (("opening", book.opening), ("ending", book.ending)):
        key, _, number = named.rpartition("/")
        with suppress(Missing):
            card, promo = templates.find(session, key, actor)
            if number.isdecimal() and int(number) < len(promo.scenes):
                scene = promo.scenes[int(number)]
                found.append((place, card, int(number), scene.id, scene.name))
    return found


def give(session: Session, promo_id: str, brand_id: str, actor: Actor) -> tuple[promos.Opened, Any]:
    """Gives a promo a brand as it is now, as a step of its own."""
    brand = snapshot(find(session, brand_id, actor))
    return promos.edit(session, promo_id, actor, SwitchBrand(brand=brand))


def bring_up_to_date(session: Session, brand_id: str, actor: Actor, promo_ids: Iterable[str]) -> list[str]:
    """Brings promos that have a brand to its newest state; answers with those that were changed."""
    wanted, done = set(promo_ids), []
    for use in uses(session, brand_id, actor):
        if use.behind and use.row.id in wanted:
            give(session, use.row.id, brand_id, actor)
            done.append(use.row.id)
    return done


def take_back(session: Session, brand_id: str, actor: Actor, promo_ids: Iterable[str]) -> int:
    """Undoes bringing promos up to date, in those where nothing was done since; answers in how many."""
    brand, count = find(session, brand_id, actor), 0
    for key in dict.fromkeys(promo_ids):
        opened = promos.open_promo(session, key, actor)
        if opened.undo == f"Brought {brand.name} up to date":
            promos.step(session, key, actor, back=True)
            count += 1
    return count
