"""The one place where rights are decided: who may do what with which thing.

```
actor   a person of a team in a role · a link to one thing · a token of a team · the program itself
verb    see · make · fill · add · edit · remove · export · publish · comment · lead
thing   whatever belongs to a team: a promo, a file, an export …
```
What belongs to another team, or to one person alone, is not there: nobody else learns that it exists. What a role does
not allow is refused in a sentence.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, Protocol, TypeVar

from sqlalchemy import ColumnElement
from sqlalchemy.orm import Session

from glowreel.core.errors import Missing, Refusal
from glowreel.store.models import BrandRow, Export, ExportFile, MediaFile, Opening, Post, PromoRow

Verb = Literal["see", "make", "fill", "add", "edit", "remove", "export", "publish", "comment", "lead"]
VERBS: dict[Verb, str] = {
    "see": "see this", "make": "start promos", "fill": "fill templates", "add": "add files",
    "edit": "change this", "remove": "remove this",
    "export": "export this", "publish": "publish this", "comment": "write notes on this",
    "lead": "say who is in the team",
}  # fmt: skip
"""What can be done with things, as a refusal says it."""

EVERYTHING = frozenset(VERBS)
NAMED = ("person", "token")
"""Those who ask in somebody's name: what is private to another is not there for them."""
EVERYBODYS = "t-samples"
"""The team of what comes with the program, such as the samples in templates: seen by everybody, changed by nobody."""
ROLES: dict[str, tuple[str, frozenset[Verb]]] = {
    "owner": ("the team is theirs", EVERYTHING),
    "editor": ("cuts promos", EVERYTHING - {"lead"}),
    "contributor": (
        "fills templates, adds files and exports what they filled",
        frozenset({"see", "fill", "add", "export", "comment"}),
    ),
    "reviewer": ("looks and says what they think", frozenset({"see", "comment"})),
}
"""What each role is, and what it may do with the things of its team."""


class Owned(Protocol):
    """What belongs to a team."""

    @property
    def team_id(self) -> str: ...


@dataclass(frozen=True)
class Actor:
    """Who asks. A link is for the things it names alone; a token for the verbs it was made for."""

    kind: Literal["person", "link", "token", "program"]
    team_id: str
    role: str = "owner"
    user_id: str | None = None
    things: frozenset[str] = frozenset()
    verbs: frozenset[Verb] | None = None

    @classmethod
    def person(cls, user_id: str, team_id: str, role: str = "owner") -> Actor:
        return cls("person", team_id, role, user_id)

    @classmethod
    def link(cls, thing: str, team_id: str, *verbs: Verb) -> Actor:
        return cls("link", team_id, "reviewer", None, frozenset({thing}), frozenset(verbs or ("see",)))

    @classmethod
    def sender(cls, link_id: str, team_id: str) -> Actor:
        """Whoever brings files in by a link, and may do nothing else."""
        return cls("link", team_id, "contributor", None, frozenset({link_id}), frozenset({"add"}))

    @classmethod
    def token(cls, team_id: str, *verbs: Verb) -> Actor:
        return cls("token", team_id, "editor", None, frozenset(), frozenset(verbs))

    @classmethod
    def program(cls, team_id: str, user_id: str | None = None) -> Actor:
        """The program, working for a team on what a person of it began."""
        return cls("program", team_id, "owner", user_id)

    def may(self, verb: Verb) -> bool:
        """Whether it may do that with things of its team at all."""
        return verb in ROLES[self.role][1] and (self.verbs is None or verb in self.verbs)


def allow(actor: Actor, verb: Verb, thing: Owned | None = None) -> None:
    """Nothing where the actor may do that with the thing, or with things of its team. Raises `Missing` where it is not
    theirs to know of, and `Refusal` where they may see it but not do that."""
    if thing is not None and thing.team_id == EVERYBODYS and verb == "see" and not actor.things:
        return
    if thing is not None:
        one_of = not actor.things or getattr(thing, "id", "") in actor.things
        only = getattr(thing, "only_for", None)
        alone = actor.kind in NAMED and only is not None and only != actor.user_id
        if thing.team_id != actor.team_id or alone or not one_of or not actor.may("see"):
            raise Missing("not-yours", "There is no such thing here.", "Check the address.")
    if not actor.may(verb):
        raise Refusal("no-right", f"You may not {VERBS[verb]}.", "Ask somebody who owns the team.")


Listed = type[PromoRow] | type[MediaFile] | type[BrandRow]


def listed(kind: Listed, actor: Actor) -> ColumnElement[bool]:
    """What of a kind an actor finds in lists: what is the team's, and what is private to them."""
    theirs = kind.team_id == actor.team_id
    return theirs if actor.kind not in NAMED else theirs & (~kind.private | (kind.user_id == actor.user_id))


Row = TypeVar("Row", PromoRow, MediaFile, Export, Opening, BrandRow, Post)

_SENTENCES: dict[type, str] = {
    PromoRow: "There is no such promo on your Desk.",
    MediaFile: "There is no such file on your Shelf.",
    Export: "There is no such export.",
    Opening: "There is no such file being opened.",
    BrandRow: "There is no such brand in your book.",
    Post: "There is no such post.",
}


def authorise(
    session: Session, kind: type[Row], key: str, actor: Actor, verb: Verb, *, lock: bool = False, removed: bool = False
) -> Row:
    """The row, if the actor may do that with it; `Missing` where it is not theirs. With `lock`, no one else changes it
    until the unit ends; with `removed`, it may have been taken off the Desk or the Shelf."""
    row = session.get(kind, key, with_for_update=lock, populate_existing=lock)
    gone = row is not None and getattr(row, "removed_at", None) is not None
    if row is None or (gone and not removed):
        raise _not_there(kind)
    try:
        allow(actor, verb, row)
    except Missing as missing:
        raise _not_there(kind) from missing
    return row


def _not_there(kind: type) -> Missing:
    return Missing("not-yours", _SENTENCES[kind], "Check the address, or sign in with the right account.")


def authorise_file(session: Session, file_id: str, actor: Actor, verb: Verb) -> ExportFile:
    """One file of a team's export, or `Missing`."""
    file = session.get(ExportFile, file_id)
    if file is None or file.export.removed_at is not None:
        raise _not_there(Export)
    try:
        allow(actor, verb, file.export)
    except Missing as missing:
        raise _not_there(Export) from missing
    return file
