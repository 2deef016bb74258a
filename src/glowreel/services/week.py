"""What a team has in hand this week: its promos by how far they are, what goes out on which day, notes to answer."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from glowreel.services.access import Actor, listed
from glowreel.store.models import Post, PromoRow, Screening, ScreeningNote, Verdict, now

STAGES: dict[str, tuple[str, str]] = {
    "draft": ("In the making", "scissors"),
    "review": ("Waiting for a word", "chat-left-text"),
    "approved": ("Approved", "check2-circle"),
    "planned": ("Planned", "clock"),
    "out": ("Out this week", "broadcast"),
}
"""How far a promo is, in the order in which they go: how it is said, and its icon."""
LATELY = timedelta(days=14)
"""A promo that nobody has touched for so long is in hand only where something waits for it."""
MOST, MOST_NOTES = 200, 12


@dataclass(frozen=True)
class ToAnswer:
    """An open note, and the promo it is about."""

    note: ScreeningNote
    promo: PromoRow


def stages(session: Session, actor: Actor, since: datetime) -> dict[str, list[PromoRow]]:
    """The promos in hand by how far each is, what was changed last first. What went out since that moment is out, even
    where it is changed again."""
    rows = session.scalars(
        select(PromoRow)
        .where(listed(PromoRow, actor), PromoRow.kind == "promo", PromoRow.removed_at.is_(None))
        .order_by(PromoRow.updated_at.desc()).limit(MOST)
    ).all()  # fmt: skip
    ids = [row.id for row in rows]
    out = set(session.scalars(select(Post.promo_id).where(Post.promo_id.in_(ids), Post.live_at >= since)))
    planned = set(session.scalars(select(Post.promo_id).where(
        Post.promo_id.in_(ids), Post.state.in_(("planned", "sending", "processing"))
    )))  # fmt: skip
    shown = set(session.scalars(select(Screening.promo_id).where(
        Screening.promo_id.in_(ids), Screening.ended_at.is_(None),
        Screening.until.is_(None) | (Screening.until > now()),
    )))  # fmt: skip
    latest = {
        verdict.promo_id: verdict
        for verdict in session.scalars(
            select(Verdict).where(Verdict.promo_id.in_(ids)).order_by(Verdict.created_at)
        )
    }  # fmt: skip
    found: dict[str, list[PromoRow]] = {stage: [] for stage in STAGES}
    for row in rows:
        verdict = latest.get(row.id)
        holds = verdict is not None and (verdict.keeps or verdict.revision_id == row.head_id)
        if row.id in planned:
            stage = "planned"
        elif row.id in out:
            stage = "out"
        elif holds and verdict is not None and verdict.approved:
            stage = "approved"
        elif row.id in shown and not (holds and verdict is not None):
            stage = "review"
        elif row.updated_at > now() - LATELY:
            stage = "draft"
        else:
            continue
        found[stage].append(row)
    return found


def to_answer(session: Session, actor: Actor) -> tuple[list[ToAnswer], int]:
    """Open notes on promos of the team that somebody else wrote, the newest first; and how many there are in all."""
    mine = (
        listed(PromoRow, actor), PromoRow.removed_at.is_(None), ScreeningNote.parent_id.is_(None),
        ScreeningNote.done_at.is_(None),
        ScreeningNote.user_id.is_(None) | (ScreeningNote.user_id != (actor.user_id or "")),
    )  # fmt: skip
    joined = select(ScreeningNote, PromoRow).join(PromoRow, PromoRow.id == ScreeningNote.promo_id).where(*mine)
    rows = session.execute(joined.order_by(ScreeningNote.created_at.desc()).limit(MOST_NOTES)).all()
    count = select(func.count()).select_from(ScreeningNote).join(PromoRow, PromoRow.id == ScreeningNote.promo_id)
    return [ToAnswer(note, promo) for note, promo in rows], session.scalar(count.where(*mine)) or 0
