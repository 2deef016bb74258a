"""The library of music and effects: found by mood, force, tempo, length and words; put on a team's Shelf when used."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from sqlalchemy.orm import Session

from glowreel.core.errors import Missing, Refusal
from glowreel.library import Piece, alike, pieces
from glowreel.services import shelf
from glowreel.services.access import Actor, allow
from glowreel.services.setup import Runtime
from glowreel.store.models import User

MOST_FAVOURITES = 500
LENGTHS: dict[str, Callable[[float], bool]] = {
    "short": lambda length: length < 12,
    "middle": lambda length: 12 <= length < 46,
    "long": lambda length: length >= 46,
}


@dataclass(frozen=True)
class Wanted:
    """What is looked for; empty fields are for anything. `like` is a piece that others are to be like, with a `turn`:
    `calmer` or `stronger`."""

    sort: str = ""
    mood: str = ""
    force: str = ""
    tempo: str = ""
    length: str = ""
    words: str = ""
    like: str = ""
    turn: str = ""
    favourites: bool = False


def find(wanted: Wanted, favourites: frozenset[str] = frozenset()) -> list[Piece]:
    """The pieces that are wanted: in the library's order, or those first that are most like another."""
    source = alike(piece(wanted.like), wanted.turn) if wanted.like else list(pieces().values())
    words = wanted.words.lower().split()

    def fits(one: Piece) -> bool:
        told = f"{one.name} {one.mood} {one.words} {one.sort} {one.key} {one.tempo}".lower()
        return (
            (not wanted.sort or one.sort == wanted.sort)
            and (not wanted.mood or one.mood == wanted.mood)
            and (not wanted.force or one.force == wanted.force)
            and (not wanted.tempo or one.tempo == wanted.tempo)
            and (wanted.length not in LENGTHS or LENGTHS[wanted.length](one.length))
            and (not wanted.favourites or one.id in favourites)
            and all(word in told for word in words)
        )

    return [one for one in source if fits(one)]


def piece(key: str) -> Piece:
    """One piece of the library, or `Missing`."""
    found = pieces().get(key)
    if found is None:
        raise Missing("no-piece", "There is no such piece in the library.")
    return found


def take(runtime: Runtime, actor: Actor, key: str) -> str:
    """Puts a piece on the team's Shelf, unless it is there, and answers with the identifier of its file. It is looked
    at here and now: whoever pressed it wants to hear it."""
    allow(actor, "add")
    wanted = piece(key)
    with wanted.path.open("rb") as file:
        source, size = shelf.receive(runtime.blobs, Path(runtime.settings.cache) / "uploads", file)
    with runtime.database.unit() as unit:
        row = shelf.add(unit, actor, f"{wanted.name}.ogg", source, size)
        media_id, ready = row.id, row.usable
    if not ready and not shelf.looked_at(runtime, media_id):
        raise Refusal("not-ready", f"{wanted.name} is still being made ready.", "Try again in a moment.")
    return media_id


def favourites_of(session: Session, actor: Actor) -> frozenset[str]:
    """What somebody marked to find it again."""
    user = session.get(User, actor.user_id) if actor.user_id else None
    return frozenset(user.favourites or ()) if user is not None else frozenset()


def mark(session: Session, actor: Actor, key: str) -> bool:
    """Marks a piece as a favourite, or takes the mark away; answers whether it is one now."""
    return set_mark(session, actor, piece(key).id)


def set_mark(session: Session, actor: Actor, key: str) -> bool:
    """Marks anything as a favourite of whoever asks, or takes the mark away; answers whether it is one now."""
    user = session.get_one(User, actor.user_id)
    marked = list(user.favourites or ())
    if key in marked:
        marked.remove(key)
    else:
        marked = [*marked, key][-MOST_FAVOURITES:]
    user.favourites = marked
    return key in marked
