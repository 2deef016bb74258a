"""Notes at moments of a promo, left at screenings or in the editor, with answers; and what was decided of it."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import timedelta

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from glowreel.core.document import Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.moments import Found, Moment, find_moment, moment_at
from glowreel.core.time import TICKS_PER_SECOND, clock
from glowreel.core.timeline import timeline
from glowreel.services import hooks, letters, promos
from glowreel.services.access import Actor, authorise
from glowreel.services.live import announce_notes
from glowreel.store.database import Unit
from glowreel.store.models import Member, PromoRow, Screening, ScreeningNote, User, Verdict, new_key, now

LONGEST = 2000
MOST = 1000
MOST_STROKES, MOST_POINTS = 30, 400
SETTLES = timedelta(minutes=2)
"""A letter tells of notes once nobody has written for so long, so that it tells of several at once."""
MENTION = re.compile(r"@(\w[\w.\-]*)")


@dataclass(frozen=True)
class Written:
    """Who writes: `user_id` where it is somebody of the team."""

    who: str
    user_id: str | None = None


@dataclass(frozen=True)
class Shown:
    """A note where it is now, with the answers to it."""

    row: ScreeningNote
    found: Found
    answers: tuple[ScreeningNote, ...]

    @property
    def seconds(self) -> float:
        return self.found.at / TICKS_PER_SECOND


def clean_name(name: str) -> str:
    """How somebody calls themselves. Raises `Refusal` for nothing."""
    said = " ".join("".join(ch if ch.isprintable() else " " for ch in name).split())[:80]
    if not said:
        raise Refusal("name", "Say who you are first.")
    return said


def write(
    session: Session, promo: PromoRow, by: Written, text: str, *, revision: int, format_id: str, at: int,
    lasts: int = 0, strokes: object = (), screening: Screening | None = None,
) -> ScreeningNote:  # fmt: skip
    """A note at a time of a revision. Raises `Refusal` for what cannot be kept."""
    document = promos.document(session, promo, revision)
    length = timeline(document).length
    if format_id not in {one.id for one in document.formats}:
        raise Refusal("no-format", "The promo is not in that format any more.", "Reload the page.")
    moment = moment_at(document, at)
    row = _made(session, promo, by, text, revision, format_id, moment, screening)
    row.lasts = max(0, min(lasts, length - moment.at))
    row.strokes = clean_strokes(strokes)
    session.flush()
    return row


def answer(session: Session, promo: PromoRow, by: Written, note_id: str, text: str) -> ScreeningNote:
    """An answer to a note of that promo; to an answer, it answers what that does."""
    asked = note(session, promo, note_id)
    if asked.parent_id is not None:
        asked = note(session, promo, asked.parent_id)
    screening = session.get(Screening, asked.screening_id) if asked.screening_id else None
    moment = Moment.model_validate(asked.moment)
    row = _made(session, promo, by, text, asked.revision_id, asked.format_id, moment, screening)
    row.parent_id = asked.id
    session.flush()
    return row


def _made(
    session: Session, promo: PromoRow, by: Written, text: str, revision: int, format_id: str, moment: Moment,
    screening: Screening | None,
) -> ScreeningNote:  # fmt: skip
    said = text.strip()
    if not said:
        raise Refusal("empty", "Write something first.")
    if len(said) > LONGEST:
        raise Refusal("too-long", f"A note has at most {LONGEST} letters.")
    if (session.scalar(select(func.count()).where(ScreeningNote.promo_id == promo.id)) or 0) >= MOST:
        raise Refusal("many", f"A promo has at most {MOST} notes.", "Take some away first.")
    row = ScreeningNote(
        id=new_key("sn"), team_id=promo.team_id, promo_id=promo.id, user_id=by.user_id, who=clean_name(by.who),
        screening_id=screening.id if screening is not None else None, revision_id=revision, format_id=format_id,
        moment=moment.model_dump(mode="json"), text=said,
    )  # fmt: skip
    session.add(row)
    announce_notes(session, promo)
    return row


def clean_strokes(given: object) -> list[list[list[float]]]:
    """What was drawn: lines of points, in shares of the frame's width and height. Raises `Refusal`."""
    refused = Refusal("strokes", "What was drawn cannot be read.", "Draw it once more.")
    if not isinstance(given, list | tuple) or len(given) > MOST_STROKES:
        raise refused
    kept = []
    for line in given:
        if not isinstance(line, list | tuple) or len(line) > MOST_POINTS:
            raise refused
        points = []
        for point in line:
            if not isinstance(point, list | tuple) or len(point) != 2:
                raise refused
            if not all(isinstance(one, int | float) and -0.1 <= one <= 1.1 for one in point):
                raise refused
            points.append([round(float(one), 4) for one in point])
        kept.append(points)
    return kept


def note(session: Session, promo: PromoRow, note_id: str) -> ScreeningNote:
    """A note of a promo, or `Missing`."""
    row = session.get(ScreeningNote, note_id)
    if row is None or row.promo_id != promo.id:
        raise Missing("no-note", "That note is gone.", "Reload the page.")
    return row


def set_done(session: Session, promo: PromoRow, by: Written, note_id: str, *, done: bool) -> ScreeningNote:
    """Says that a note is dealt with, or not."""
    row = note(session, promo, note_id)
    row.done_at, row.done_by = (now(), by.who[:80]) if done else (None, "")
    announce_notes(session, promo)
    return row


def remove(session: Session, promo: PromoRow, by: Written, note_id: str, *, any_of_them: bool) -> None:
    """Takes a note away, with its answers: whoever wrote it, or whoever edits the promo."""
    row = note(session, promo, note_id)
    own = by.user_id is not None and row.user_id == by.user_id
    if not own and not any_of_them:
        raise Refusal("not-yours", f"{row.who} wrote this.", "Ask them to take it away.")
    session.delete(row)
    session.flush()
    announce_notes(session, promo)


def of_promo(
    session: Session, promo: PromoRow, document: Promo | None = None, screening: str | None = None
) -> list[Shown]:
    """The notes of a promo, or of one screening alone, in the order of time, where they are in a document (as it is now
    by default)."""
    document = document or promos.document(session, promo)
    query = select(ScreeningNote).where(ScreeningNote.promo_id == promo.id).order_by(ScreeningNote.created_at)
    if screening is not None:
        query = query.where(ScreeningNote.screening_id == screening)
    rows = list(session.scalars(query.limit(MOST + 100)))
    answers: dict[str, list[ScreeningNote]] = {}
    for row in rows:
        if row.parent_id:
            answers.setdefault(row.parent_id, []).append(row)
    shown = [
        Shown(row, find_moment(document, Moment.model_validate(row.moment)), tuple(answers.get(row.id, ())))
        for row in rows if row.parent_id is None
    ]  # fmt: skip
    return sorted(shown, key=lambda one: (one.found.at, one.row.created_at))


def told(notes: list[Shown], name: str) -> str:
    """All open notes as a text, to be sent on."""
    lines = [f"Notes on “{name}”"]
    for one in notes:
        if one.row.done_at is None:
            gone = "" if one.found.there else " (the place was cut out)"
            lines.append(f"{clock(one.found.at)}{gone}  {one.row.who}: {one.row.text}")
            lines += [f"    {reply.who}: {reply.text}" for reply in one.answers]
    return "\n".join(lines) + "\n"


def decide(
    session: Session, promo: PromoRow, by: Written, revision: int, *, approved: bool, text: str = "",
    screening: Screening | None = None,
) -> Verdict:  # fmt: skip
    """Approves a promo as it was at a revision, or asks for changes."""
    promos.document(session, promo, revision)
    row = Verdict(
        id=new_key("ve"), team_id=promo.team_id, promo_id=promo.id, user_id=by.user_id, who=clean_name(by.who),
        screening_id=screening.id if screening is not None else None, revision_id=revision, approved=approved,
        keeps=bool(screening is not None and screening.keeps), text=text.strip()[:LONGEST],
    )  # fmt: skip
    session.add(row)
    session.flush()
    announce_notes(session, promo)
    return row


@dataclass(frozen=True)
class Standing:
    """How a promo stands: the last verdict, and whether it still holds for what is on show."""

    verdict: Verdict
    holds: bool


def standing(session: Session, promo: PromoRow) -> Standing | None:
    """The last verdict of a promo, if there is one. An approval holds as long as that very version is on show, unless
    it was to stay."""
    query = select(Verdict).where(Verdict.promo_id == promo.id).order_by(Verdict.created_at.desc()).limit(1)
    last = session.scalar(query)
    if last is None:
        return None
    return Standing(last, last.keeps or last.revision_id == promo.head_id or not last.approved)


def own_promo(session: Session, actor: Actor, promo_id: str) -> PromoRow:
    """A promo that the actor may write notes on."""
    return authorise(session, PromoRow, promo_id, actor, "comment")


def tell(unit: Unit) -> int:
    """Writes letters about notes and verdicts that nobody was told of: one for each promo, to whoever began it or its
    screening, and to whoever is mentioned. Answers with how many."""
    session, count = unit.session, 0
    waiting = select(ScreeningNote.promo_id).where(ScreeningNote.told_at.is_(None)).group_by(ScreeningNote.promo_id)
    settled = waiting.having(func.max(ScreeningNote.created_at) < now() - SETTLES)
    decided = select(Verdict.promo_id).where(Verdict.told_at.is_(None)).distinct()
    for promo_id in {*session.scalars(settled.limit(50)), *session.scalars(decided.limit(50))}:
        promo = session.get(PromoRow, promo_id, with_for_update={"skip_locked": True})
        if promo is not None:
            count += _tell_of(unit, promo)
    return count


def _tell_of(unit: Unit, promo: PromoRow) -> int:
    session = unit.session
    home = session.scalar(select(Screening.home).where(Screening.promo_id == promo.id, Screening.home != "").limit(1))
    link = f"{home}/promos/{promo.id}" if home else ""
    fresh = select(ScreeningNote).where(ScreeningNote.promo_id == promo.id, ScreeningNote.told_at.is_(None))
    notes = list(session.scalars(fresh.order_by(ScreeningNote.created_at)))
    unsaid = select(Verdict).where(Verdict.promo_id == promo.id, Verdict.told_at.is_(None))
    verdicts = list(session.scalars(unsaid.order_by(Verdict.created_at)))
    said = {True: "approved it", False: "asks for changes"}
    lines = [f"{one.who} {said[one.approved]}. {one.text}".strip() for one in verdicts]
    lines += [f"{clock(Moment.model_validate(one.moment).at)}  {one.who}: {one.text}" for one in notes]
    rows: list[ScreeningNote | Verdict] = [*notes, *verdicts]
    if rows:
        hooks.tell(unit, promo, "note", {"promo": promo.id, "name": promo.name, "said": lines[:50]})
    for row in rows:
        row.told_at = now()
    writers = {one.user_id for one in rows}
    count = 0
    for person in _told(session, promo, notes):
        if writers == {person.id}:
            continue  # They wrote all of it themselves.
        about = f"{len(notes)} new note{'s' if len(notes) != 1 else ''} on {promo.name}" if notes else promo.name
        letters.write(unit, person.email, about, "\n".join([*lines, "", link]), about=promo)
        count += 1
    return count


def _told(session: Session, promo: PromoRow, notes: list[ScreeningNote]) -> list[User]:
    """Who is told: whoever began the promo or showed it, and who is called by name in a note."""
    shown = select(Screening.user_id).where(Screening.promo_id == promo.id, Screening.ended_at.is_(None))
    called = {word.lower().rstrip(".-") for one in notes for word in MENTION.findall(one.text)}
    team = select(User).join(Member, Member.user_id == User.id).where(Member.team_id == promo.team_id)
    keys = {promo.user_id, *session.scalars(shown)}
    return [
        user for user in session.scalars(team.limit(500))
        if user.id in keys or user.name.split()[0].lower() in called
    ]  # fmt: skip
