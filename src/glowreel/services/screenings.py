"""Screenings: links by which a promo is watched as it is now, without an account and without a render."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import timedelta
from urllib.parse import urlencode

from argon2 import PasswordHasher
from argon2.exceptions import VerificationError
from sqlalchemy import ColumnElement, select, update
from sqlalchemy.orm import Session

from glowreel.core.document import Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.services import audit, letters, promos
from glowreel.services.access import Actor, authorise
from glowreel.services.accounts import clean_address
from glowreel.services.invitations import ADDRESS
from glowreel.services.setup import Runtime
from glowreel.store.database import Unit
from glowreel.store.keys import digest, fits, key_of
from glowreel.store.models import PromoRow, Revision, Screening, User, new_key, now

LASTS = {1: "a day", 7: "a week", 30: "a month", 0: "until it is ended"}
"""For how many days one may last, and how that is said."""
USUAL = 7
MOST = 20
MOST_VIEWERS = 50
MOST_VERSIONS = 50
SHORTEST, LONGEST = 4, 200
_hasher = PasswordHasher()


@dataclass(frozen=True)
class Wanted:
    """How a screening is to be: see `Screening`. `password` is as it was typed, nothing for none."""

    formats: tuple[str, ...] = ()
    days: int = USUAL
    password: str = ""
    viewers: str = ""
    downloads: bool = False
    home: str = ""
    keeps: bool = False


@dataclass(frozen=True)
class Version:
    """A state of the promo that can be watched: the newest, or one that was named."""

    revision: int
    name: str


def key(runtime: Runtime, row: Screening) -> str:
    """The key in the address of a screening."""
    return key_of(runtime.settings.secret, "screening", row.id, row.turn)


def begin(runtime: Runtime, session: Session, actor: Actor, promo_id: str, wanted: Wanted) -> Screening:
    """A new screening of a promo. Raises `Refusal` for what cannot be."""
    row = authorise(session, PromoRow, promo_id, actor, "export")
    if actor.user_id is None:
        raise Refusal("no-person", "Only somebody of the team shows promos.")
    if len([one for one in standing(session, actor, promo_id) if one.ended_at is None]) >= MOST:
        raise Refusal("many", f"{MOST} screenings of this promo are open already.", "End one of them first.")
    made = Screening(id=new_key("sc"), team_id=row.team_id, promo_id=row.id, user_id=actor.user_id, turn=0, digest="")
    made.digest = digest(key(runtime, made))
    _set(session, row, made, wanted)
    session.add(made)
    audit.note(session, actor, "screening", f"“{row.name}”")
    session.flush()
    return made


def change(session: Session, actor: Actor, screening_id: str, wanted: Wanted) -> Screening:
    """Has a screening be otherwise from now on. Without a password typed, the one there is stays."""
    made = find(session, actor, screening_id, "export")
    _set(session, made.promo, made, wanted)
    return made


def _set(session: Session, row: PromoRow, made: Screening, wanted: Wanted) -> None:
    known = {format.id for format in promos.document(session, row).formats}
    if wanted.days not in LASTS:
        raise Refusal("no-choice", "Choose how long it lasts from the list.")
    if wanted.password and not SHORTEST <= len(wanted.password) <= LONGEST:
        raise Refusal("password", f"A password for a screening has {SHORTEST} to {LONGEST} characters.")
    people = list(dict.fromkeys(clean_address(one) for one in wanted.viewers.replace(",", " ").split()))
    strange = next((one for one in people if not ADDRESS.fullmatch(one)), None)
    if strange is not None:
        raise Refusal("email", f"“{strange[:80]}” is not an e-mail address.")
    if len(people) > MOST_VIEWERS:
        raise Refusal("many", f"At most {MOST_VIEWERS} people are named.", "Let whoever has the link watch.")
    made.formats = [one for one in wanted.formats if one in known]
    made.until = now() + timedelta(days=wanted.days) if wanted.days else None
    made.password = _hasher.hash(wanted.password) if wanted.password else made.password or ""
    made.viewers, made.downloads, made.keeps = people, wanted.downloads, wanted.keeps
    made.home = wanted.home[:200]


def find(session: Session, actor: Actor, screening_id: str, verb: str = "see") -> Screening:
    """A screening of a promo that the actor may see, or `Missing`."""
    made = session.get(Screening, screening_id)
    if made is None:
        raise Missing("not-yours", "There is no such screening.")
    try:
        authorise(session, PromoRow, made.promo_id, actor, "export" if verb == "export" else "see")
    except Missing as missing:
        raise Missing("not-yours", "There is no such screening.") from missing
    return made


def standing(session: Session, actor: Actor, promo_id: str) -> list[Screening]:
    """The screenings of a promo that can still be watched, newest first."""
    authorise(session, PromoRow, promo_id, actor, "see")
    query = select(Screening).where(Screening.promo_id == promo_id, Screening.ended_at.is_(None), _lasts())
    return list(session.scalars(query.order_by(Screening.created_at.desc()).limit(MOST)))


def _lasts() -> ColumnElement[bool]:
    return Screening.until.is_(None) | (Screening.until > now())


def end(session: Session, actor: Actor, screening_id: str) -> Screening:
    """Ends a screening at once: its link opens nothing any more."""
    made = find(session, actor, screening_id, "export")
    made.ended_at = made.ended_at or now()
    audit.note(session, actor, "screening-ended", f"“{made.promo.name}”")
    return made


def another_link(runtime: Runtime, session: Session, actor: Actor, screening_id: str) -> Screening:
    """Gives a screening another link; the old one opens nothing any more."""
    made = find(session, actor, screening_id, "export")
    made.turn += 1
    made.digest = digest(key(runtime, made))
    return made


def opened(session: Session, given: str) -> Screening:
    """What a link opens, or `Missing` where it has ended."""
    made = session.scalar(select(Screening).where(Screening.digest == digest(given)))
    over = made is not None and (made.ended_at is not None or (made.until is not None and made.until < now()))
    if made is None or over or made.promo.removed_at is not None:
        raise Missing("screening-over", "This screening is over.", "Ask whoever sent the link for a new one.")
    return made


def let_in(made: Screening, password: str) -> None:
    """Nothing where that is the password, or none is needed. Raises `Refusal`."""
    if not made.password:
        return
    try:
        _hasher.verify(made.password, password[:LONGEST])
    except VerificationError as error:
        raise Refusal("password", "That is not the password.", "Ask whoever sent the link.") from error


def send_way_in(runtime: Runtime, unit: Unit, made: Screening, address: str, link: str) -> None:
    """Sends a named viewer the link that says who they are; does nothing for anybody else, and tells nobody which."""
    address = clean_address(address)
    if address not in made.viewers:
        return
    who = unit.session.get_one(User, made.user_id).name
    own = key_of(runtime.settings.secret, f"viewer:{made.id}:{made.turn}", address)
    text = (
        f"{who} shows you “{made.promo.name}”. This link is yours:\n\n{link}?{urlencode({'as': address, 'way': own})}\n"
    )
    letters.write(unit, address, f"{who} shows you {made.promo.name}", text, about=made)


def named_viewer(runtime: Runtime, made: Screening, address: str, way: str) -> str:
    """The address of a named viewer who comes by their own link. Raises `Refusal` for any other."""
    address = clean_address(address)
    own = key_of(runtime.settings.secret, f"viewer:{made.id}:{made.turn}", address)
    if address not in made.viewers or not fits(way, digest(own)):
        raise Refusal("not-named", "That link is not for you.", "Ask for one with your own address.")
    return address


def count_view(session: Session, made: Screening) -> None:
    """Counts somebody who watches."""
    counted = update(Screening).where(Screening.id == made.id).values(views=Screening.views + 1, seen_at=now())
    session.execute(counted)


def versions(session: Session, made: Screening) -> list[Version]:
    """What can be watched: the newest first, then what was named, latest first."""
    named = select(Revision.id, Revision.name).where(Revision.promo_id == made.promo_id, Revision.name.is_not(None))
    rows = session.execute(named.order_by(Revision.id.desc()).limit(MOST_VERSIONS))
    older = [Version(key, name or "") for key, name in rows if key != made.promo.head_id]
    return [Version(made.promo.head_id, "Newest"), *older]


def shown(session: Session, made: Screening, revision: int | None) -> Promo:
    """The promo at one of the versions on offer. Raises `Missing` for any other: a link opens no history."""
    if revision and revision not in {one.revision for one in versions(session, made)}:
        # Edited meanwhile: what was the newest a moment ago may be looked at until the page knows.
        recent = session.get(Revision, revision)
        fresh = recent is not None and recent.promo_id == made.promo_id and recent.created_at > now() - RECENT
        if not fresh:
            raise Missing("no-version", "That version is not shown here.", "Reload the page.")
    return promos.document(session, made.promo, revision)


RECENT = timedelta(minutes=10)


def formats_of(made: Screening, promo: Promo) -> list[str]:
    """The formats that are shown, in the order of the promo."""
    return [one.id for one in promo.formats if not made.formats or one.id in made.formats]


def links(runtime: Runtime, rows: Sequence[Screening]) -> Mapping[str, str]:
    """The key of each."""
    return {row.id: key(runtime, row) for row in rows}
