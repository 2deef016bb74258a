"""Word of changes: a notification is sent in the transaction that changes something and arrives with its commit.

PostgreSQL carries it to the server of event streams (`glowreel.live`), which passes it on to every open window.
"""

from __future__ import annotations

import json

from sqlalchemy import text
from sqlalchemy.orm import Session

from glowreel.services.access import Owned

CHANNEL = "glowreel_changes"
HEADS = "SELECT id, head_id FROM promos WHERE id = ANY(%s)"
"""The revisions on show of some promos, in psycopg's own form."""


def announce(session: Session, promo_id: str, revision: int, sentence: str) -> None:
    """Says, with the commit of this session, that a promo is at a revision now."""
    _notify(session, {"topic": f"promo:{promo_id}", "rev": revision, "sentence": sentence[:200]})


def announce_work(session: Session, thing: Owned) -> None:
    """Says that something a team waits for began, ended or failed: an import, an export."""
    _notify(session, {"topic": f"team:{thing.team_id}", "sentence": ""})


def announce_arrival(session: Session, promo_id: str, media_id: str, name: str) -> None:
    """Says to the open windows of a promo that a file for it came in from elsewhere, such as a telephone."""
    _notify(session, {"topic": f"promo:{promo_id}", "arrived": media_id, "sentence": name[:200]})


def _notify(session: Session, payload: dict[str, object]) -> None:
    session.execute(text("SELECT pg_notify(:channel, :payload)"), {"channel": CHANNEL, "payload": json.dumps(payload)})
