"""Letters to people: written in the commit that they tell of, sent afterwards, and tried again where the mail server is
away. One that names what it is about (`key`) is written once."""

from __future__ import annotations

from datetime import timedelta
from email.message import EmailMessage
from email.policy import SMTP
from email.utils import format_datetime

from sqlalchemy import func, or_, select
from sqlalchemy.dialects.postgresql import insert

from glowreel.core.errors import Refusal
from glowreel.outside.mail.port import post
from glowreel.services.access import Owned
from glowreel.services.leases import LENGTH, Lease, over
from glowreel.services.setup import Runtime
from glowreel.store.database import Unit
from glowreel.store.models import Letter, new_key, now

SENDER = "Glow Reel <no-reply@glowreel.example>"
AGAIN = timedelta(seconds=30)
MOST_TRIES = 20
LONGEST = 20_000
BATCH = 100


def write(unit: Unit, to: str, subject: str, text: str, about: Owned | None = None, key: str | None = None) -> str:
    """A letter that is sent once this unit is committed; answers with its identifier, which is nothing where one of
    that `key` was written before. `about` is what of a team it tells of, if of anything."""
    values = {
        "id": new_key("lt"), "team_id": about.team_id if about is not None else None,
        "to": to[:254], "subject": " ".join(subject.split())[:200],
        "text": text[:LONGEST], "key": key, "sent_at": now(), "created_at": now(), "state": "queued", "error": "",
        "attempts": 0,
    }  # fmt: skip
    query = insert(Letter).values(**values).on_conflict_do_nothing(index_elements=["key"]).returning(Letter.id)
    made = unit.session.execute(query).scalar() or ""
    if made:
        unit.later("glowreel.letter", made)
    return made


def carry(runtime: Runtime, letter_id: str) -> None:
    """Sends one letter, unless it was sent or somebody else is at it. A worker that dies between sending and saying so
    has it sent again with the same `Message-ID`, by which a mail server knows it."""
    with runtime.database.unit() as unit:
        free = or_(Letter.state == "queued", (Letter.state == "running") & over(Letter))
        row = unit.session.scalar(select(Letter).where(Letter.id == letter_id, free).with_for_update(skip_locked=True))
        if row is None:
            return
        row.state, row.lease_until, row.attempts = "running", now() + LENGTH, row.attempts + 1
        unit.session.flush()
        unit.session.expunge(row)
    lease = Lease(runtime, Letter, row.id, row.attempts, ("running",))
    try:
        post(runtime.settings.smtp, runtime.settings.letters).send(_letter(row))
    except Refusal as refusal:
        spent = row.attempts >= MOST_TRIES or refusal.code == "no-letter-box"
        lease.finish(state="failed" if spent else "queued", error=str(refusal)[:400], sent_at=now())
        return
    lease.finish(state="sent", error="", sent_at=now())


def _letter(row: Letter) -> EmailMessage:
    letter = EmailMessage(policy=SMTP)
    letter["From"], letter["To"], letter["Subject"] = SENDER, row.to, row.subject
    letter["Date"], letter["Message-ID"] = format_datetime(row.created_at), f"<{row.id}@glowreel.example>"
    letter.set_content(row.text)
    return letter


def sweep(unit: Unit) -> None:
    """Sends again what was forgotten, and what a mail server did not take: later each time, for two hours or so."""
    waits = Letter.sent_at < now() - AGAIN * func.greatest(Letter.attempts, 1)
    dead = (Letter.state == "running") & over(Letter)
    query = select(Letter).where(((Letter.state == "queued") & waits) | dead).order_by(Letter.created_at).limit(BATCH)
    for row in unit.session.scalars(query):
        row.sent_at = now()
        unit.later("glowreel.letter", row.id)
