"""Promos: making, opening, editing, going back and forth."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass, replace
from datetime import timedelta
from typing import Any

from sqlalchemy import literal, select, union_all
from sqlalchemy.orm import Session, defer

from glowreel.core.brand import Brand
from glowreel.core.commands import Command, Context, Outcome, SetChannels, apply
from glowreel.core.commands.base import Finding
from glowreel.core.commands.roles import named
from glowreel.core.derived import Facts
from glowreel.core.document import Part, Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.formats import FIRST_CHOICE, shipped
from glowreel.core.fragment import Fragment, take
from glowreel.core.history import Chain
from glowreel.core.matching import hue_of
from glowreel.core.media import Media
from glowreel.core.timeline import timeline
from glowreel.designs import shipped as shipped_designs
from glowreel.engine.typesetting import measure
from glowreel.services import alone, audit, transcripts
from glowreel.services.access import EVERYBODYS, Actor, allow, authorise, listed
from glowreel.services.derivation import facts_of
from glowreel.services.live import announce
from glowreel.services.looking import Eyes
from glowreel.services.wishes import wishes
from glowreel.store import documents
from glowreel.store.models import Export, MediaFile, PromoRow, Revision, new_key, now


@dataclass(frozen=True)
class Before:
    """What was on show before a step: its revision and the promo then."""

    revision: int
    promo: Promo


@dataclass(frozen=True)
class Opened:
    """A promo at a revision, with what can be undone and redone in words; and what was on show before, after a step."""

    row: PromoRow
    promo: Promo
    revision: int
    undo: str | None
    redo: str | None
    saved_at: str
    before: Before | None = None


def create(
    session: Session, actor: Actor, name: str, formats: tuple[str, ...], brand: Brand | None = None,
    channels: tuple[str, ...] = (),
) -> PromoRow:  # fmt: skip
    """A new, empty promo in these formats, with a brand, for channels, whose shapes are added."""
    name = " ".join(name.split())[:120] or "Untitled promo"
    if not formats:
        raise Refusal("no-format", "Choose at least one format.")
    chosen = tuple(shipped(f) for f in dict.fromkeys(formats or FIRST_CHOICE))
    key = new_key("p")
    made = Promo(id=key, name=name, formats=chosen, brand=brand or Brand(), loudness="channels")
    made = made.changed(media=team_media(session, actor, set(made.brand.files)))
    if channels:
        made = apply(made, SetChannels(channels=channels), Context(new_key)).promo
    return adopt(session, actor, made, "Started the promo")


def _finding(session: Session, actor: Actor) -> Finding:
    """What makers found of the files of a promo."""

    def found(promo: Promo, part: Part, maker: str) -> Facts | None:
        media = promo.media.get(part.media or "")
        if maker == transcripts.MAKER and media is not None:
            return transcripts.facts_for(session, actor, media.hash)
        return facts_of(session, media.hash, maker) if media is not None else None

    return found


def adopt(session: Session, actor: Actor, promo: Promo, sentence: str, kind: str = "promo") -> PromoRow:
    """Puts a finished document on a team's Desk as a new promo, or among its templates. Its media must be on the team's
    Shelf already, or be samples."""
    allow(actor, "fill" if promo.origin is not None else "make")
    row = PromoRow(id=promo.id, team_id=actor.team_id, user_id=actor.user_id, name=promo.name, kind=kind)
    row.private = actor.kind == "person" and wishes(session, actor)["private_first"]
    session.add(row)
    session.flush()
    first = Revision(promo_id=row.id, parent_id=None, user_id=actor.user_id, sentence=sentence)
    revision = documents.keep(session, first, promo, None)
    row.head_id = row.tip_id = revision.id
    row.summary = summary_of(promo)
    return row


def put_instead(session: Session, row: PromoRow, actor: Actor, promo: Promo, sentence: str) -> None:
    """Puts a finished document in the place of what a promo is now, as its next step, which can be undone."""
    made = Revision(promo_id=row.id, parent_id=row.head_id, user_id=actor.user_id, sentence=sentence[:400])
    revision = documents.keep(session, made, promo, row.head_id)
    row.tip_id = revision.id
    show(session, row, revision.id, promo, sentence)


def summary_of(promo: Promo) -> dict[str, object]:
    """What the Desk, and whoever looks for a scene, shows of a promo without opening it."""
    index = timeline(promo)
    formats = [{"id": f.id, "name": f.name, "wide": f.wide, "high": f.high} for f in promo.formats]
    scenes = []
    for scene in promo.scenes:
        span = index.scene_span[scene.id]
        frame = promo.rate.frame_floor(span.start + span.length // 3)
        scenes.append({"id": scene.id, "name": scene.name, "length": span.length, "frame": frame})
    told: dict[str, object] = {
        "length": index.length, "formats": formats, "scenes": len(promo.scenes), "scene_list": scenes,
        "media": sorted(promo.media),
    }  # fmt: skip
    if promo.facts is not None:
        told["facts"] = promo.facts.model_dump(mode="json")
        told["hues"] = sorted(hues_of(promo.brand))
    if promo.origin is not None:
        told["origin"] = promo.origin.model_dump(mode="json", exclude={"scenes"})
    return told


def hues_of(brand: Brand) -> frozenset[str]:
    """What the hues are called that a brand is seen in first."""
    return frozenset(hue_of(brand.colour(role)) for role in ("ground", "accent", "second")) - {""}


def scenes_of_others(session: Session, promo_id: str, actor: Actor) -> list[tuple[PromoRow, list[dict[str, Any]]]]:
    """The team's other promos, last changed first, with what is known of their scenes; none is opened for it."""
    authorise(session, PromoRow, promo_id, actor, "see")
    rows = [row for row in list_promos(session, actor) if row.id != promo_id][:40]
    for row in rows:
        if "scene_list" not in row.summary:  # Kept before summaries told of scenes: looked at once, then known.
            row.summary = summary_of(document(session, row))
    return [(row, row.summary["scene_list"]) for row in rows]


def document(session: Session, row: PromoRow, revision_id: int | None = None) -> Promo:
    """The document of a promo's revision, the newest one by default."""
    wanted = revision_id or row.head_id
    promo = documents.find_cached(wanted)
    if promo is not None and promo.id == row.id:
        return promo
    if session.scalar(select(Revision.promo_id).where(Revision.id == wanted)) != row.id:
        raise Missing("no-revision", "That version is not in this promo’s history.", "Reload the page.")
    return documents.document(session, wanted)


def open_promo(session: Session, promo_id: str, actor: Actor) -> Opened:
    return opened(session, authorise(session, PromoRow, promo_id, actor, "see"))


def opened(session: Session, row: PromoRow) -> Opened:
    """The promo as it is on show. While somebody types, the newest revision gives way to the next one, and may be gone
    before all of it was read: then it is read again."""
    for _ in range(READ_AGAIN):
        with suppress(Missing):
            return _opened(session, row)
        session.refresh(row)
    return _opened(session, row)


READ_AGAIN = 5


def _opened(session: Session, row: PromoRow) -> Opened:
    promo = document(session, row)
    sentence = dict(
        session.execute(select(Revision.id, Revision.sentence).where(Revision.id.in_({row.head_id, row.tip_id}))).all()
    )
    chain = _chain(session, row)
    head = session.execute(
        select(Revision.created_at, Revision.parent_id).where(Revision.id == row.head_id)
    ).one_or_none()
    if head is None or row.head_id not in sentence:
        raise Missing("no-revision", "That version is not in this promo’s history.", "Reload the page.")
    redo = chain.redone() if row.tip_id != row.head_id else None
    redo_sentence = None
    if redo is not None:
        redo_sentence = session.scalar(select(Revision.sentence).where(Revision.id == int(redo.head)))
    undo = sentence[row.head_id] if head.parent_id is not None else None
    return Opened(row, promo, row.head_id, undo, redo_sentence, head.created_at.isoformat())


def _chain(session: Session, row: PromoRow) -> Chain:
    """The part of the history that undo and redo may need: from the tip down to just below the head. One query."""
    line = select(Revision.id, Revision.parent_id).where(Revision.id == row.tip_id).cte("line", recursive=True)
    below = select(Revision.id, Revision.parent_id).where(Revision.id == line.c.parent_id, line.c.id != row.head_id)
    query = union_all(
        select(line.union_all(below)),
        select(Revision.id, Revision.parent_id).where(Revision.id == row.head_id),
    )
    parents = {str(key): None if parent is None else str(parent) for key, parent in session.execute(query)}
    return Chain(parents, str(row.head_id), str(row.tip_id))


def team_media(session: Session, actor: Actor, ids: set[str]) -> dict[str, Media]:
    """Facts of the team's media that can be used, among these identifiers, and of samples."""
    if not ids:
        return {}
    theirs = MediaFile.team_id.in_((actor.team_id, EVERYBODYS))
    rows = session.scalars(select(MediaFile).where(MediaFile.id.in_(ids), theirs, MediaFile.usable))
    return {row.id: Media.model_validate(row.facts) for row in rows}


def named_media(command: Command) -> set[str]:
    """The media that a command puts in."""
    return set(named(command, "media")) | command.brings()


def edit(
    session: Session,
    promo_id: str,
    actor: Actor,
    command: Command,
    seen: int | None = None,
    press: str | None = None,
    eyes: Eyes | None = None,
) -> tuple[Opened, Outcome]:
    """Carries out a command on the newest document and keeps the outcome as a revision.

    `seen` is the revision the person was looking at: where what the command names was changed since, by someone else,
    it is carried out all the same and a notice says so. `press` names the gesture: one that was carried out already,
    and is sent again because its answer was lost, does nothing more. A command that changes nothing makes no step.
    Raises `Refusal` and leaves everything as it was.
    """
    row = authorise(session, PromoRow, promo_id, actor, command.right, lock=True)
    alone.may_cut(session, row, actor)
    promo = document(session, row)
    before = Before(row.head_id, promo)
    done = _already(session, row, press)
    if done is not None:
        return opened(session, row), Outcome(promo, done)
    media = team_media(session, actor, named_media(command))
    context = Context(
        new_id=lambda prefix: new_key(prefix),
        media=media,
        designs=shipped_designs(),
        measure=measure,
        found=_finding(session, actor),
    )
    if media:
        wanted = wishes(session, actor)
        context = replace(context, photos_move=wanted["photos_move"], footage_quiet=wanted["footage_quiet"])
    if eyes is not None:
        context = replace(context, balance=eyes.balance, calm=eyes.calm)
    outcome = apply(promo, command, context)
    if seen is not None and seen != row.head_id:
        outcome = _with_warning(session, row, promo, command, seen, outcome)
    if outcome.promo != promo:
        transcripts.remember(session, actor, promo, outcome.promo)
        going_on = seen == row.head_id
        parent, same = _step_before(session, row, actor.user_id, command) if going_on else (row.head_id, None)
        made = Revision(
            promo_id=row.id, parent_id=parent, user_id=actor.user_id, sentence=outcome.sentence[:400], press=press,
            typing=command.typing(),
        )  # fmt: skip
        revision = documents.keep(session, made, outcome.promo, row.head_id)
        if same is not None:
            _forget(session, same)
        row.tip_id = revision.id
        show(session, row, revision.id, outcome.promo, outcome.sentence)
    return replace(opened(session, row), before=before), outcome


TYPING = timedelta(seconds=10)
"""Typing into the same words goes on as long as the next letters come within that time."""


def _step_before(session: Session, row: PromoRow, user_id: str | None, command: Command) -> tuple[int, Revision | None]:
    """The parent of the next step; and the step whose place it takes, where it goes on with what was being typed."""
    what = command.typing()
    if what is None or row.tip_id != row.head_id:
        return row.head_id, None
    head = session.get_one(Revision, row.head_id, options=[defer(Revision.document)])
    goes_on = head.typing == what and head.user_id == user_id and head.name is None
    if not goes_on or head.parent_id is None or now() - head.created_at > TYPING:
        return row.head_id, None
    return head.parent_id, head


def _forget(session: Session, revision: Revision) -> None:
    """Removes a step that went on in the next one, unless something was made from it or others are kept as differences
    from it."""
    exported = select(Export.id).where(Export.revision_id == revision.id)
    based = select(Revision.id).where(Revision.base_id == revision.id)
    branched = select(Revision.id).where(Revision.parent_id == revision.id)
    if session.scalar(union_all(exported.with_only_columns(literal(1)), based.with_only_columns(literal(1)),
                                branched.with_only_columns(literal(1))).limit(1)) is None:  # fmt: skip
        session.delete(revision)
        session.flush()


def _already(session: Session, row: PromoRow, press: str | None) -> str | None:
    """What a press did, if it was carried out before. The promo's row is locked meanwhile."""
    if press is None:
        return None
    return session.scalar(select(Revision.sentence).where(Revision.promo_id == row.id, Revision.press == press))


def _with_warning(
    session: Session, row: PromoRow, promo: Promo, command: Command, seen: int, outcome: Outcome
) -> Outcome:
    """The outcome, saying so where what the command names is not what the person saw."""
    revision = session.get(Revision, seen)
    if revision is None or revision.promo_id != row.id:
        return outcome
    old, new = timeline(document(session, row, seen)), timeline(promo)
    for key in sorted(named(command, "target")):
        before, now = (index.clip.get(key) or index.item.get(key) for index in (old, new))
        if before is not None and now is not None and before != now:
            notice = "It had been changed in another window meanwhile. Both steps are in the history."
            return replace(outcome, notice=f"{outcome.notice} {notice}".strip())
    return outcome


def show(session: Session, row: PromoRow, revision_id: int, promo: Promo, sentence: str) -> None:
    """Puts a revision on show, and lets every window know."""
    row.head_id, row.name, row.summary, row.updated_at = revision_id, promo.name, summary_of(promo), now()
    session.flush()
    announce(session, row.id, revision_id, sentence)


def step(session: Session, promo_id: str, actor: Actor, *, back: bool, again_from: int | None = None) -> Opened:
    """Undo or redo: shows the neighbouring revision. A refusal where there is none.

    `again_from` is given where the same press is sent once more because its answer was lost: it is the revision that
    was on show then, and where another one is by now, the step has been taken.
    """
    row = authorise(session, PromoRow, promo_id, actor, "fill", lock=True)
    if again_from is not None and row.head_id != again_from:
        return opened(session, row)
    alone.may_cut(session, row, actor)
    chain = _chain(session, row)
    moved = chain.undone() if back else chain.redone()
    if moved is None:
        raise Refusal("no-step", "There is nothing to undo." if back else "There is nothing to redo.")
    if not actor.may("edit"):
        # Whoever only fills takes back what they did themselves, and nothing else.
        taken = session.get_one(Revision, row.head_id if back else int(moved.head))
        if taken.user_id != actor.user_id or taken.parent_id is None:
            raise Refusal("not-yours", "What came before was not done by you.", "Ask somebody who edits promos.")
    promo = document(session, row, int(moved.head))
    before = Before(row.head_id, document(session, row))
    show(session, row, int(moved.head), promo, "Undid a step" if back else "Redid a step")
    return replace(opened(session, row), before=before)


def fragment(session: Session, promo_id: str, actor: Actor, items: set[str], scene: str | None) -> Fragment:
    """A piece of a promo by itself, for pasting in this promo or another one of the team."""
    return take(document(session, authorise(session, PromoRow, promo_id, actor, "see")), items, scene)


def list_promos(session: Session, actor: Actor, kind: str = "promo") -> list[PromoRow]:
    """The team's promos, or its templates, last changed first."""
    query = select(PromoRow).where(listed(PromoRow, actor), PromoRow.kind == kind, PromoRow.removed_at.is_(None))
    return list(session.scalars(query.order_by(PromoRow.updated_at.desc()).limit(200)))


def remove(session: Session, promo_id: str, actor: Actor) -> PromoRow:
    """Takes a promo off the Desk. Nothing is erased: `restore` brings it back."""
    row = authorise(session, PromoRow, promo_id, actor, "remove", lock=True)
    row.removed_at = now()
    audit.note(session, actor, "promo-removed", f"“{row.name}”")
    return row


def restore(session: Session, promo_id: str, actor: Actor) -> PromoRow:
    row = authorise(session, PromoRow, promo_id, actor, "remove", lock=True, removed=True)
    row.removed_at = None
    return row


def strips(session: Session, actor: Actor, promo: Promo) -> dict[str, dict[str, Any]]:
    """Film strips of the footage on a promo's main track, by media."""
    ids = {clip.media for clip in promo.clips if timeline(promo).material(clip) is not None}
    if not ids:
        return {}
    theirs = MediaFile.team_id.in_((actor.team_id, EVERYBODYS))
    query = select(MediaFile.id, MediaFile.strip).where(MediaFile.id.in_(ids), theirs)
    return {key: strip for key, strip in session.execute(query) if strip}


def duplicate(session: Session, promo_id: str, actor: Actor, only: str = "") -> PromoRow:
    """A copy of a promo as it is now, as a new one; in one of its formats alone, where one is named."""
    row = authorise(session, PromoRow, promo_id, actor, "see")
    promo = document(session, row)
    formats = tuple(format for format in promo.formats if format.id == only) or promo.formats
    added = f" ({formats[0].name})" if only and len(formats) == 1 else " (copy)"
    promo = promo.changed(id=new_key("p"), name=f"{row.name[:90]}{added}", formats=formats)
    return adopt(session, actor, promo, f"Copied from “{row.name}”", row.kind)
