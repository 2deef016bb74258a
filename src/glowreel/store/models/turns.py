"""Links behind which several films are shown in turn, and how each is watched there."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import ForeignKey, Integer, String
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from glowreel.store.models.base import Base, now


class Turn(Base):
    """A link whose visitors see the films named in `files` in turn: the next one is that of the number `visits`.
    `digest` is of the key in its address. It ends when it is ended."""

    __tablename__ = "turns"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"), index=True)
    promo_id: Mapped[str] = mapped_column(ForeignKey("promos.id", ondelete="CASCADE"), index=True)
    user_id: Mapped[str] = mapped_column(ForeignKey("users.id"))
    digest: Mapped[str] = mapped_column(String(64), unique=True)
    name: Mapped[str] = mapped_column(String(120))
    files: Mapped[list[str]] = mapped_column(JSONB)
    visits: Mapped[int] = mapped_column(Integer, default=0)
    ended_at: Mapped[datetime | None] = mapped_column(default=None)
    created_at: Mapped[datetime] = mapped_column(default=now)


class TurnCount(Base):
    """How often something happened with one film of a turn, and nothing of who it was: a `play`, a `press` of the call
    to action, a part of the film `seen` (of `services.watch_pages.PARTS`)."""

    __tablename__ = "turn_counts"
    turn_id: Mapped[str] = mapped_column(ForeignKey("turns.id", ondelete="CASCADE"), primary_key=True)
    file_id: Mapped[str] = mapped_column(String(40), primary_key=True)
    what: Mapped[str] = mapped_column(String(8), primary_key=True)
    count: Mapped[int] = mapped_column(Integer, default=0)
