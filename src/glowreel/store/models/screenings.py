"""Screenings: links to a live edit, the notes that are left there, and what was decided."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import BigInteger, ForeignKey, Integer, String, Text
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column, relationship

from glowreel.store.models.base import Base, now
from glowreel.store.models.promos import PromoRow


class Screening(Base):
    """A link by which a promo is watched as it is now. `digest` is of the key in its address, which is another one in
    each `turn`. It shows the `formats` named, all where none is; to the `viewers` named by their addresses, to anybody
    where none is; after a `password` (its hash), if there is one. What is approved stays so through later edits where
    it `keeps`. `home` is where the program was when it was made, for letters about it. It ends at `until`, if that is
    said, or when it is ended."""

    __tablename__ = "screenings"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"), index=True)
    promo_id: Mapped[str] = mapped_column(ForeignKey("promos.id", ondelete="CASCADE"), index=True)
    user_id: Mapped[str] = mapped_column(ForeignKey("users.id"))
    digest: Mapped[str] = mapped_column(String(64), unique=True)
    turn: Mapped[int] = mapped_column(Integer, default=0)
    formats: Mapped[list[str]] = mapped_column(JSONB, default=list)
    viewers: Mapped[list[str]] = mapped_column(JSONB, default=list)
    password: Mapped[str] = mapped_column(String(200), default="")
    home: Mapped[str] = mapped_column(String(200), default="")
    downloads: Mapped[bool] = mapped_column(default=False)
    keeps: Mapped[bool] = mapped_column(default=False)
    views: Mapped[int] = mapped_column(Integer, default=0)
    seen_at: Mapped[datetime | None] = mapped_column(default=None)
    until: Mapped[datetime | None] = mapped_column(default=None)
    ended_at: Mapped[datetime | None] = mapped_column(default=None)
    created_at: Mapped[datetime] = mapped_column(default=now)
    promo: Mapped[PromoRow] = relationship()


class ScreeningNote(Base):
    """What somebody wrote at a screening: at a `moment` (the core's `Moment`) for `lasts` ticks, in a format, seeing a
    revision; with `strokes` drawn on the frame. `parent_id` is what it answers. `who` is how they call themselves.
    `told_at` is when its letter was written."""

    __tablename__ = "screening_notes"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"))
    promo_id: Mapped[str] = mapped_column(ForeignKey("promos.id", ondelete="CASCADE"), index=True)
    screening_id: Mapped[str | None] = mapped_column(ForeignKey("screenings.id", ondelete="CASCADE"), default=None)
    parent_id: Mapped[str | None] = mapped_column(ForeignKey("screening_notes.id", ondelete="CASCADE"), default=None)
    user_id: Mapped[str | None] = mapped_column(ForeignKey("users.id"), default=None)
    who: Mapped[str] = mapped_column(String(80))
    revision_id: Mapped[int] = mapped_column(BigInteger)
    format_id: Mapped[str] = mapped_column(String(64))
    moment: Mapped[dict[str, Any]] = mapped_column()
    lasts: Mapped[int] = mapped_column(BigInteger, default=0)
    strokes: Mapped[list[Any]] = mapped_column(JSONB, default=list)
    text: Mapped[str] = mapped_column(Text)
    done_at: Mapped[datetime | None] = mapped_column(default=None)
    done_by: Mapped[str] = mapped_column(String(80), default="")
    told_at: Mapped[datetime | None] = mapped_column(default=None)
    created_at: Mapped[datetime] = mapped_column(default=now)


class Verdict(Base):
    """What somebody decided of a promo as it was at a revision: approved, or changes wanted. It stays so through later
    edits where it `keeps`."""

    __tablename__ = "verdicts"
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    team_id: Mapped[str] = mapped_column(ForeignKey("teams.id"))
    promo_id: Mapped[str] = mapped_column(ForeignKey("promos.id", ondelete="CASCADE"), index=True)
    screening_id: Mapped[str | None] = mapped_column(ForeignKey("screenings.id", ondelete="SET NULL"), default=None)
    user_id: Mapped[str | None] = mapped_column(ForeignKey("users.id"), default=None)
    who: Mapped[str] = mapped_column(String(80))
    revision_id: Mapped[int] = mapped_column(BigInteger)
    approved: Mapped[bool] = mapped_column()
    keeps: Mapped[bool] = mapped_column(default=False)
    text: Mapped[str] = mapped_column(Text, default="")
    told_at: Mapped[datetime | None] = mapped_column(default=None)
    created_at: Mapped[datetime] = mapped_column(default=now)
