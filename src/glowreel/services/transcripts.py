"""What is said in a team's files: written down on demand, remembered as it was corrected, found again by its words."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from sqlalchemy import ColumnElement, or_, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from glowreel.core.derived import Facts
from glowreel.core.document import Promo
from glowreel.core.speech.heard import transcript_of, voiced_parts
from glowreel.core.speech.transcript import Transcript, joined
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.outside.models import MODELS
from glowreel.services import derivation
from glowreel.services.access import Actor
from glowreel.services.setup import Runtime
from glowreel.store.database import Unit
from glowreel.store.models import Derived, MediaFile, Written, now

MAKER = "transcript"
SPEAKS_FROM = 0.03
"""Of what share of a file somebody must be heard to speak, so that it is offered to write that down."""


@dataclass(frozen=True)
class Voice:
    """A file in which somebody speaks in a promo, and how far it is with writing that down: `there` in the promo,
    `ready` to be put there, `fetching` the model for it or `making` it (with the share that is done), `failed` (with a
    sentence), or `none`."""

    media: str
    name: str
    state: str
    share: float = 0.0
    error: str = ""
    derived: int = 0
    language: str = ""


def ask(unit: Unit, media_id: str, actor: Actor, language: str = "", model: str = "", careful: bool = False) -> Derived:
    """Has it written down what is said in a file, where it has not been; what failed is tried again."""
    chosen: dict[str, Any] = {"language": language, "model": model, "careful": careful}
    settings = {name: value for name, value in chosen.items() if value}
    row = derivation.want(unit, media_id, actor, MAKER, settings)
    row.sent_at = now()
    derivation.retry(unit, row.id, actor)
    return row


def facts_for(session: Session, actor: Actor, source: str) -> Facts | None:
    """What is said in a file, by its hash: as the team corrected it, else as it was heard last. As the maker tells."""
    theirs = select(Written).where(Written.team_id == actor.team_id, Written.hash == source)
    for row in session.scalars(theirs.order_by(Written.updated_at.desc())):
        if row.transcript.get("spoken", True):
            return {"language": row.language, "words": row.transcript["words"]}
    return session.scalar(_heard(source).where(Derived.state == "ready").with_only_columns(Derived.facts))


def _heard(source: str) -> Any:
    wanted = (Derived.hash == source, Derived.maker == MAKER)
    return select(Derived).where(*wanted).order_by(Derived.used_at.desc()).limit(1)


def voices(session: Session, runtime: Runtime, promo: Promo, actor: Actor) -> list[Voice]:
    """The files in which somebody speaks in a promo, each once, in the order in which they are heard."""
    found: dict[str, Voice] = {}
    for part, _, _ in sorted(voiced_parts(promo), key=lambda one: one[1]):
        media = promo.media[part.media or ""]
        if media.id in found:
            continue
        there = transcript_of(promo, media.id)
        spoken = sum(b - a for a, b in media.speech or ()) / 100
        speaks = part.read("bus") == "voice" and spoken > SPEAKS_FROM * media.length / TICKS_PER_SECOND
        if there is not None:
            found[media.id] = Voice(media.id, media.name, "there", 1.0, language=there.language)
        elif speaks or media.heard == "voice":
            found[media.id] = _standing(session, runtime, media.id, media.name, media.hash, actor)
    return list(found.values())


def _standing(session: Session, runtime: Runtime, key: str, name: str, source: str, actor: Actor) -> Voice:
    if facts_for(session, actor, source) is not None:
        return Voice(key, name, "ready", 1.0)
    row = session.scalars(_heard(source)).first()
    if row is None:
        return Voice(key, name, "none")
    if row.state in ("failed", "stopped"):
        return Voice(key, name, "failed", error=row.error or "It was stopped.", derived=row.id)
    model = derivation.model_of(row, runtime.settings.speech_model)
    standing = runtime.models.standing(model) if model else None
    if standing is not None and not standing.ready:
        return Voice(key, name, "fetching", standing.share or 0.0, derived=row.id)
    return Voice(key, name, "making", row.progress, derived=row.id)


def remember(session: Session, actor: Actor, before: Promo, after: Promo) -> None:
    """Keeps what was corrected of what is said, for the next promo in which the same file is heard."""
    if before.transcripts is after.transcripts:
        return
    old = {(one.media, one.language): one for one in before.transcripts}
    for one in after.transcripts:
        was = old.get((one.media, one.language))
        media = after.media.get(one.media)
        if media is None or was is None or was.words is one.words or was.words == one.words:
            continue
        _keep(session, actor, media.hash, one)


def _keep(session: Session, actor: Actor, source: str, made: Transcript) -> None:
    data: Mapping[str, Any] = made.model_dump(mode="json", include={"spoken", "made", "words"})
    values = {"transcript": dict(data), "text": joined(made.words), "updated_at": now()}
    add = insert(Written).values(team_id=actor.team_id, hash=source, language=made.language, **values)
    keys = ["team_id", "hash", "language"]
    session.execute(add.on_conflict_do_update(index_elements=keys, set_=values))


def keep_spoken(session: Session, actor: Actor, source: str, language: str, rows: list[list[Any]]) -> None:
    """Keeps the words of a file that a voice of the program spoke."""
    data = {"spoken": True, "made": "voice", "words": rows}
    values = {"transcript": data, "text": " ".join(str(row[0]) for row in rows), "updated_at": now()}
    add = insert(Written).values(team_id=actor.team_id, hash=source, language=language, **values)
    session.execute(add.on_conflict_do_update(index_elements=["team_id", "hash", "language"], set_=values))


def said_like(words: str, actor: Actor) -> ColumnElement[bool]:
    """Which files of a team something is said in."""
    pattern = " ".join(words.split())
    corrected = select(Written.hash).where(
        Written.team_id == actor.team_id, Written.text.icontains(pattern, autoescape=True)
    )
    told = Derived.facts["text"].astext.icontains(pattern, autoescape=True)
    heard = select(Derived.hash).where(Derived.maker == MAKER, Derived.state == "ready", told)
    return or_(MediaFile.hash.in_(corrected), MediaFile.hash.in_(heard))


def on_import(unit: Unit, media: MediaFile, actor: Actor) -> None:
    """Has it written down what is said in a new file, where somebody is heard to speak."""
    facts = media.facts or {}
    if facts.get("heard") == "voice" or (facts.get("kind") == "footage" and facts.get("speech")):
        derivation.want(unit, media.id, actor, MAKER)


def models(runtime: Runtime) -> Iterable[tuple[str, str, bool]]:
    """The models with which it can be written down: name, label, and whether it is there."""
    for name, model in MODELS.items():
        if model.marks != "model.bin":
            continue
        yield name, model.label, runtime.models.ready(name)
    for name in runtime.models.own():
        yield name, name, True
