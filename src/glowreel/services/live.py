"""Word of changes: a notification is sent in the transaction that changes something and arrives with its commit.

PostgreSQL carries it to the server of event streams (`glowreel.live`), which passes it on to every open window.
"""

from __future__ import annotations

import json
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, ValidationError
from sqlalchemy import text
from sqlalchemy.orm import Session

from glowreel.core.errors import Refusal
from glowreel.services.access import Owned
from glowreel.store.models import PromoRow

CHANNEL = "glowreel_changes"
HEADS = "SELECT id, head_id FROM promos WHERE id = ANY(%s)"
"""The revisions on show of some promos, in psycopg's own form."""


def _viewers(promo_id: str) -> str:
    """The topic of those who watch a promo at screenings: they learn that there is something new, and not what."""
    return f"viewers:{promo_id}"


def announce_notes(session: Session, promo: PromoRow) -> None:
    """Says that a promo's notes, or what was decided of it, are others now: in its windows, at its screenings and on
    its team's Desk."""
    for topic in (f"promo:{promo.id}", _viewers(promo.id)):
        _notify(session, {"topic": topic, "notes": True, "sentence": ""})
    announce_work(session, promo)


def announce_alone(session: Session, promo_id: str) -> None:
    """Says to the windows of a promo that who cuts it alone is another one now."""
    _notify(session, {"topic": f"promo:{promo_id}", "alone": True, "sentence": ""})


class Presence(BaseModel):
    """Where somebody's window is in a promo: the frame at its playhead and what is selected in it. `hello` asks the
    others to say so too, `gone` takes leave."""

    model_config = ConfigDict(extra="forbid")
    id: str = Field(pattern=r"^[0-9a-f-]{8,12}$")
    frame: int = Field(ge=0, le=2**40)
    selected: tuple[Annotated[str, Field(max_length=60)], ...] = Field(max_length=20)
    hello: bool = False
    gone: bool = False


def announce_presence(session: Session, promo_id: str, who: str, told: str) -> None:
    """Says to the windows of a promo where one of them is. Raises `Refusal` for what says nothing of the kind."""
    try:
        presence = Presence.model_validate_json(told)
    except ValidationError as error:
        raise Refusal("no-place", "Where that window is cannot be read.") from error
    here = {**presence.model_dump(), "who": who[:80]}
    _notify(session, {"topic": f"promo:{promo_id}", "here": here, "sentence": ""})


def announce(session: Session, promo_id: str, revision: int, sentence: str) -> None:
    """Says, with the commit of this session, that a promo is at a revision now."""
    _notify(session, {"topic": f"promo:{promo_id}", "rev": revision, "sentence": sentence[:200]})
    _notify(session, {"topic": _viewers(promo_id), "rev": revision, "sentence": ""})


def announce_work(session: Session, thing: Owned) -> None:
    """Says that something a team waits for began, ended or failed: an import, an export."""
    _notify(session, {"topic": f"team:{thing.team_id}", "sentence": ""})


def announce_arrival(session: Session, promo_id: str, media_id: str, name: str) -> None:
    """Says to the open windows of a promo that a file for it came in from elsewhere, such as a telephone."""
    _notify(session, {"topic": f"promo:{promo_id}", "arrived": media_id, "sentence": name[:200]})


def _notify(session: Session, payload: dict[str, object]) -> None:
    session.execute(text("SELECT pg_notify(:channel, :payload)"), {"channel": CHANNEL, "payload": json.dumps(payload)})
